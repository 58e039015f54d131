#!/usr/bin/env python3
"""Counts the public functions of core/ that say what they do: by a comment (///) of their own, or of the group of
lines without a gap that they stand in. Prints those that do not; fails below 95 of 100."""
import pathlib
import re
import sys

WANTED = 0.95
ROOT = pathlib.Path(__file__).resolve().parent.parent


def is_function(code):
    head = code.split("{")[0]
    if "(" not in head or "operator" in head or "~" in head:
        return False
    if re.search(r"=\s*(default|delete)", code) or head.startswith(("using ", "friend ", "static_assert", "return ")):
        return False
    before = head.split("(")[0]
    return "=" not in before and "<" not in before.split()[-1]  # no variable, no std::function member


def functions(path):
    """(line number, code, documented) of each public function."""
    scopes = []  # of the braces around: what may be seen from outside
    documented = in_group = False
    code, first = "", 0
    for number, line in enumerate(path.read_text().splitlines(), 1):
        text = line.strip()
        if not code:
            if not text:
                documented = in_group = False
            if text.startswith("///"):
                documented = in_group = True
            if not text or text.startswith(("//", "#")):
                continue
            first = number
        documented = documented or "///<" in text
        code = (code + " " + re.sub(r"\s*//.*", "", text)).strip()
        opened = code.count("{") - code.count("}")
        label = re.fullmatch(r"(public|private|protected):", code)
        if label:
            scopes[-1] = label[1] == "public"
        elif re.fullmatch(r"(template <.*> )?(class|struct|namespace|extern|enum)\b[^;(]*\{", code):
            scopes.append(not re.search(r"(^|> )class ", code))
        elif opened < 0:
            scopes.pop()
        elif opened > 0 or not code.endswith((";", "}", ">")):
            continue  # goes on in the next line
        elif code.endswith(">"):
            continue
        elif all(scopes) and is_function(code):
            yield first, code, documented or in_group
        code, documented = "", False


def main():
    everything = []
    for path in sorted((ROOT / "core").glob("*/*.h")):
        if not path.name.endswith("-inl.h"):
            everything += [(path.relative_to(ROOT), *f) for f in functions(path)]
    silent = [f for f in everything if not f[3]]
    for path, line, code, _ in silent:
        print(f"{path}:{line}: says nothing of itself: {code[:90]}")
    share = 1 - len(silent) / len(everything)
    print(f"{share:.1%} of {len(everything)} public functions are documented; wanted {WANTED:.0%}.")
    return 0 if share >= WANTED else 1


if __name__ == "__main__":
    sys.exit(main())
