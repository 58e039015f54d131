"""Mutation operators over the syntax tree: what slips of a programmer a source file offers."""
import json
import pathlib
import re
import shlex
import sys

import clang.cindex as cindex

ROOT = pathlib.Path(__file__).resolve().parent.parent.parent
sys.path.insert(0, str(ROOT / "tools"))
import tidy  # noqa: E402  (the commands that clang understands)

Kind = cindex.CursorKind
LONGEST = 400  # bytes of an expression that is written twice
# Looked at, not tested: what is painted, and sizes in pixels.
PAINTED = re.compile(r"paint|sizeHint|draw")
LAID_OUT = re.compile(r"setContentsMargins|setSpacing|setFixed|setMinimum(Width|Height|Size)|setMaximum(Width|Height|Size)|addSpacing|setColumnStretch"
                      r"|setIndentation|setIconSize|setObjectName|setAccessible|setToolTip|setStyleSheet|setWindowTitle|setCursor|setFocusPolicy")

COMPARED = {"<": "<=", "<=": "<", ">": ">=", ">=": ">", "==": "!=", "!=": "=="}
SIGNED = {"+": "-", "-": "+"}
PAIRS = [("x", "y"), ("u", "v"), ("first", "second"), ("width", "height"), ("min", "max"), ("begin", "end"), ("front", "back"),
         ("left", "right"), ("top", "bottom"), ("low", "high"), ("black", "white"), ("from", "to"), ("r", "g"), ("g", "b"),
         ("row", "column"), ("under", "over"), ("before", "after"), ("tangent", "bitangent"), ("offsetU", "offsetV"),
         ("lower", "upper"), ("scale", "offset"), ("saturation", "value"), ("near", "far"), ("name", "id"), ("file", "name"),
         ("in", "out"), ("source", "target"), ("rows", "columns"), ("start", "stop"), ("set", "map"), ("base", "look")]
PARTNER = {a: b for a, b in PAIRS} | {b: a for a, b in PAIRS}
CLAMPS = {"clamp", "min", "max", "qBound", "qMin", "qMax"}
NEEDS_CONSTANTS = {Kind.ENUM_DECL, Kind.ENUM_CONSTANT_DECL, Kind.STATIC_ASSERT, Kind.CASE_STMT, Kind.TEMPLATE_REF, Kind.PARM_DECL,
                   Kind.FUNCTION_TEMPLATE}
FUNCTIONS = {Kind.FUNCTION_DECL, Kind.CXX_METHOD, Kind.CONSTRUCTOR, Kind.DESTRUCTOR, Kind.CONVERSION_FUNCTION, Kind.LAMBDA_EXPR}
WRAPPERS = {Kind.UNEXPOSED_EXPR, Kind.PAREN_EXPR}


class Mutant:
    """Bytes begin..end of a file become `text`, in which %s stands for the switch."""

    def __init__(self, file, operator, begin, end, text, line, function):
        self.file, self.operator, self.begin, self.end = file, operator, begin, end
        self.text, self.line, self.function = text, line, function


class Commands:
    """How clang compiles each file of core/, app/ and batch/."""

    def __init__(self):
        self.files = tidy.prepared(False, ("core", "app", "batch"))
        entries = json.loads((tidy.LINT / "compile_commands.json").read_text())
        self.by_file = {entry["file"]: entry["command"] for entry in entries}

    def of(self, file):
        words = shlex.split(self.by_file[file])[1:]
        at = words.index("-o")
        del words[at:at + 2]
        return [w for w in words if w not in ("-c", file)]


class Reader:
    """Walks one file's tree and collects its mutants."""

    def __init__(self, commands, file):
        self.file = str(pathlib.Path(file).relative_to(ROOT))
        self.code = pathlib.Path(file).read_bytes()
        self.mutants = []
        options = cindex.TranslationUnit.PARSE_DETAILED_PROCESSING_RECORD
        unit = cindex.Index.create().parse(file, args=commands.of(file), options=options)
        self.macros = {c.extent.start.offset for c in unit.cursor.get_children()
                       if c.kind == Kind.MACRO_INSTANTIATION and self.here(c)}
        for child in unit.cursor.get_children():
            if self.here(child):
                self.walk(child, None)

    def here(self, cursor):
        place = cursor.location.file
        return place is not None and place.name.endswith(self.file)

    def text(self, cursor):
        return self.code[cursor.extent.start.offset:cursor.extent.end.offset].decode()

    def add(self, operator, cursor, text, function, span=None):
        begin, end = span or (cursor.extent.start.offset, cursor.extent.end.offset)
        if end - begin > LONGEST or any(begin <= m < end for m in self.macros):
            return
        self.mutants.append(Mutant(self.file, operator, begin, end, text.replace("%", "%%").replace("\0", "%s"),
                                   cursor.extent.start.line, function))

    def walk(self, cursor, function):
        """`function`: the one whose body is walked, None outside of all."""
        if cursor.kind in NEEDS_CONSTANTS or not self.here(cursor):
            return
        if cursor.kind in FUNCTIONS:
            head = self.text(cursor).split("{", 1)[0]
            if "constexpr" in head or "consteval" in head:
                return
            if cursor.kind != Kind.LAMBDA_EXPR:
                function = cursor
        if cursor.kind == Kind.VAR_DECL and "constexpr" in self.text(cursor).split("=", 1)[0]:
            return
        if function is not None:
            if self.file.startswith("app/") and (PAINTED.search(function.spelling) or
                                                 cursor.kind == Kind.CALL_EXPR and LAID_OUT.search(cursor.spelling)):
                return
            self.look(cursor, function.spelling)
        for child in cursor.get_children():
            # A constructor's list and default arguments are read with the rest; array sizes fail to compile and are left out.
            self.walk(child, function)

    def look(self, cursor, function):
        kind = cursor.kind
        if kind == Kind.BINARY_OPERATOR:
            self.binary(cursor, function)
        elif kind == Kind.UNARY_OPERATOR and self.text(cursor).startswith("-"):
            inner = self.text(cursor)[1:]
            self.add("sign", cursor, f"(\0 ? ({inner}) : (-{inner}))", function)
        elif kind == Kind.IF_STMT:
            self.condition(cursor, function)
        elif kind == Kind.CALL_EXPR:
            self.call(cursor, function)
        elif kind in (Kind.INTEGER_LITERAL, Kind.FLOATING_LITERAL, Kind.CXX_BOOL_LITERAL_EXPR):
            self.constant(cursor, function)
        elif kind in (Kind.MEMBER_REF_EXPR, Kind.DECL_REF_EXPR):
            self.member(cursor, function)
        elif kind == Kind.COMPOUND_STMT:
            self.statements(cursor, function)

    def binary(self, cursor, function):
        sides = list(cursor.get_children())
        if len(sides) != 2:
            return
        left, right = self.text(sides[0]), self.text(sides[1])
        between = self.code[sides[0].extent.end.offset:sides[1].extent.start.offset].decode().strip()
        if between in COMPARED:
            self.add("comparison", cursor, f"(\0 ? ({left} {COMPARED[between]} {right}) : ({left} {between} {right}))", function)
        elif between in SIGNED and cursor.type.get_canonical().kind not in (cindex.TypeKind.RECORD, cindex.TypeKind.POINTER):
            self.add("sign", cursor, f"(\0 ? ({left} {SIGNED[between]} ({right})) : ({left} {between} {right}))", function)
            if "." not in left + right and cursor.type.get_canonical().spelling in ("int", "unsigned long", "long", "unsigned int"):
                self.add("off by one", cursor, f"(({left} {between} {right}) + (\0 ? 1 : 0))", function)
        elif between in ("&&", "||"):
            self.add("dropped key", cursor, f"(\0 ? bool({left}) : ({left} {between} {right}))", function)
            self.add("dropped key", cursor, f"(\0 ? bool({right}) : ({left} {between} {right}))", function)

    def condition(self, cursor, function):
        children = list(cursor.get_children())
        if not children or children[0].kind in (Kind.DECL_STMT, Kind.VAR_DECL):
            return
        condition = self.text(children[0])
        head = self.code[cursor.extent.start.offset:children[0].extent.start.offset].decode()
        if "constexpr" in head or not re.fullmatch(r"if\s*\(\s*", head):
            return
        self.add("negated condition", children[0], f"(\0 != bool({condition}))", function)

    def call(self, cursor, function):
        arguments = [a for a in cursor.get_arguments() if a is not None and a.extent.end.offset > a.extent.start.offset]
        if any(not self.here(a) for a in arguments):
            return
        if cursor.spelling in CLAMPS and len(arguments) >= 2:
            kept = self.text(arguments[1 if cursor.spelling == "qBound" else 0])
            whole = self.text(cursor)
            self.add("dropped clamp", cursor, f"(\0 ? ({kept}) : ({whole}))", function)
        elif len(arguments) >= 2 and "operator" not in cursor.spelling:
            for a, b in zip(arguments, arguments[1:]):
                self.swapped(cursor, a, b, function)

    def swapped(self, cursor, a, b, function):
        one, other = self.text(a), self.text(b)
        same = a.type.get_canonical().spelling.replace("const ", "") == b.type.get_canonical().spelling.replace("const ", "")
        between = self.code[a.extent.end.offset:b.extent.start.offset].decode().strip()
        if not same or between != "," or one == other or "[" in (one + other)[:1] or "nullptr" in one + other:
            return
        self.add("argument order", cursor, f"(\0 ? ({other}) : ({one})), (\0 ? ({one}) : ({other}))", function,
                 (a.extent.start.offset, b.extent.end.offset))

    def constant(self, cursor, function):
        text = self.text(cursor)
        if text in ("true", "false"):
            self.add("constant", cursor, f"(\0 != {text})", function)
            return
        found = re.fullmatch(r"(\d+\.?\d*(?:e-?\d+)?|\.\d+)([fFuUlL]*)", text)
        if not found:
            return
        number, suffix = float(found[1]), found[2]
        if cursor.kind == Kind.INTEGER_LITERAL:
            self.add("off by one", cursor, f"(\0 ? {int(number) + 1}{suffix} : {text})", function)
            return
        other = {0.0: 0.5, 1.0: 0.75}.get(number, number * 1.5)
        self.add("constant", cursor, f"(\0 ? {other!r}{suffix} : {text})", function)

    def member(self, cursor, function):
        name = cursor.spelling
        plain = name[2:] if name.startswith("m_") else name
        other = PARTNER.get(plain)
        text = self.text(cursor)
        if other is None or not text.endswith(name):
            return
        changed = text[:-len(name)] + name[:len(name) - len(plain)] + other
        rest = self.code[cursor.extent.end.offset:cursor.extent.end.offset + 2]
        if rest[:1] == b"(":  # a member function without arguments is called with the value
            if rest != b"()":
                return
            self.add("wrong member", cursor, f"(\0 ? {changed}() : {text}())", function,
                     (cursor.extent.start.offset, cursor.extent.end.offset + 2))
        else:
            self.add("wrong member", cursor, f"(\0 ? {changed} : {text})", function)

    def statements(self, cursor, function):
        for child in cursor.get_children():
            inner = child
            while inner.kind in WRAPPERS:
                below = list(inner.get_children())
                if len(below) != 1:
                    break
                inner = below[0]
            after = self.code[child.extent.end.offset:child.extent.end.offset + 1]
            if inner.kind != Kind.CALL_EXPR or after != b";" or self.file.startswith("app/") and LAID_OUT.search(inner.spelling):
                continue
            text = self.text(child)
            self.add("lost call", child, f"if (!\0) {text}", function)
            self.add("early return", child, f"if (\0) return; {text}", function)


def mutants_of(commands, file):
    """All mutants that a file offers, without regard to which of them compile."""
    return Reader(commands, file).mutants
