#!/usr/bin/env python3
"""Mutation testing: slips that operators make from the syntax tree, chosen by a seed, all in one build, one on at a time.

mutants.py WORK TESTED [--count N] [--seed S] [--seconds B] [--minutes M] [--package NAME]
  WORK    a folder for the mutated copy, its build and report.txt
  TESTED  a build of the tests with shared libraries, of the same state of the code: its programs run the copy's libraries
  M       minutes after which no more mutants are begun: what was tried until then is still a fair sample
  B       seconds of tests that a mutant is given at most, beginning with those of its own package and the quickest

A first run of all tests records which test functions reach which mutant, so that a mutant is tried by those alone.
Writes docs/quality.md when it tries all packages."""
import argparse
import collections
import hashlib
import json
import os
import pathlib
import pickle
import random
import re
import subprocess
import sys
import threading
import time
from concurrent.futures import ProcessPoolExecutor, ThreadPoolExecutor

import clang.cindex

ROOT = pathlib.Path(__file__).resolve().parent.parent.parent
for library in sorted(pathlib.Path("/usr/lib").glob("llvm-*/lib/libclang-*.so.1")):
    clang.cindex.Config.set_library_file(str(library))
    break
import operators  # noqa: E402  (needs the library)

SPARE = 1.8  # candidates for each mutant that is tried: not all compile
AT_LEAST = 4  # of each package


def run(command, **more):
    return subprocess.run(command, capture_output=True, text=True, **more)


# --- which mutants ------------------------------------------------------------------------------------------------------

def packages():
    """Source files by package, each with its number of lines."""
    found = collections.defaultdict(list)
    for name in run(["git", "ls-files", "core/*.cpp", "app/*.cpp", "batch/*.cpp"], cwd=ROOT, check=True).stdout.split():
        parts = name.split("/")
        package = "/".join(parts[:2]) if len(parts) > 2 else parts[0]
        if package != "app":  # the program's entry, which no test links
            found[package].append((name, len((ROOT / name).read_text().splitlines())))
    return found


def quotas(found, count):
    """How many mutants each package gets: by its lines, but at least a few."""
    lines = {package: sum(n for _, n in files) for package, files in found.items()}
    left, whole = count - AT_LEAST * len(lines), sum(lines.values())
    return {package: AT_LEAST + round(left * n / whole) for package, n in lines.items()}


def offered(file, kept):
    """A file's mutants; what was found in the same text before is kept, since reading headers is most of the work."""
    global commands
    text = (ROOT / file).read_bytes() + pathlib.Path(operators.__file__).read_bytes()
    place = kept / hashlib.sha256(file.encode() + text).hexdigest()
    if place.exists():
        return file, pickle.loads(place.read_bytes())
    if "commands" not in globals():
        commands = operators.Commands()
    found = operators.mutants_of(commands, str(ROOT / file))
    place.write_bytes(pickle.dumps(found))
    return file, found


def chosen(count, seed, only, kept):
    """The quota of each package, and more candidates than that, in the order in which they are tried. None overlaps another."""
    chance = random.Random(seed)
    found = packages()
    wanted = {p: n for p, n in quotas(found, count).items() if not only or p == only}
    files = {}
    for package, number in wanted.items():
        weighted = [(chance.random() ** (1 / lines), name) for name, lines in found[package]]
        files[package] = [name for _, name in sorted(weighted, reverse=True)[:number]]
    operators.Commands()  # configured once, before there are several processes
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        names = [f for names in files.values() for f in names]
        mutants = dict(pool.map(offered, names, [kept] * len(names)))
    result = {}
    for package, number in wanted.items():
        taken, tries = [], 0
        while len(taken) < number * SPARE and tries < number * 50:
            tries += 1
            of_file = mutants[chance.choice(files[package])]
            kinds = sorted({m.operator for m in of_file})
            if not kinds:
                continue
            operator = chance.choice(kinds)
            mutant = chance.choice([m for m in of_file if m.operator == operator])
            if not any(m.file == mutant.file and m.begin < mutant.end and mutant.begin < m.end for m in taken):
                taken.append(mutant)
        result[package] = taken
    return wanted, result


def key_of(mutant):
    text = f"{mutant.file} {mutant.begin} {mutant.end} {mutant.text}"
    return hashlib.sha256(text.encode()).hexdigest()


# --- the copy that holds them all ---------------------------------------------------------------------------------------

class Copy:
    def __init__(self, work, mutants):
        self.code, self.build = work / "code", work / "build"
        self.mutants = mutants
        self.code.mkdir(parents=True, exist_ok=True)
        self.refused = work / "not_compiling"  # of earlier runs: one line each
        known = set(self.refused.read_text().split()) if self.refused.exists() else set()
        for number in [n for n, m in mutants.items() if key_of(m) in known]:
            del mutants[number]
        names = run(["git", "ls-files", "-z", "-c", "-o", "--exclude-standard"], cwd=ROOT, check=True).stdout.split("\0")
        # Read once, so that the work on the code itself can go on meanwhile.
        self.files = {n: (ROOT / n).read_bytes() for n in names if n and (ROOT / n).is_file()}

    def write(self):
        """Writes the files with their mutants; where what is there is the same it keeps its time."""
        by_file = collections.defaultdict(list)
        for number, mutant in self.mutants.items():
            by_file[mutant.file].append((number, mutant))
        self.spans = collections.defaultdict(list)  # file -> (first line, last line, number) in the mutated text
        for name, data in self.files.items():
            if name in by_file:
                data = self.mutated(name, data, by_file[name])
            target = self.code / name
            target.parent.mkdir(parents=True, exist_ok=True)
            if not target.exists() or target.read_bytes() != data:
                target.write_bytes(data)

    def mutated(self, name, data, mutants):
        header = f'#include "{ROOT / "tests/mutants/fault.h"}"\n#line 1\n'.encode()
        parts, at = [], 0
        for number, mutant in sorted(mutants, key=lambda m: m[1].begin):
            switch = f"::kettle::mutants::on({number})"
            text = mutant.text.replace("%s", switch).replace("%%", "%").encode()
            parts += [data[at:mutant.begin], text]
            line = (b"".join(parts[:-1])).count(b"\n") + 1
            self.spans[name].append((line, line + text.count(b"\n"), number))
            at = mutant.end
        return header + b"".join(parts) + data[at:]

    def make(self):
        """Builds the libraries and the batch tool; leaves out the mutants that do not compile."""
        self.write()
        configured = run(["cmake", "-G", "Ninja", "-S", self.code, "-B", self.build, "-DCMAKE_BUILD_TYPE=Release",
                          "-DBUILD_SHARED_LIBS=ON", "-DKETTLE_TOGETHER=ON", "-DKETTLE_WERROR=OFF",
                          f"-DKETTLE_TEST_PROGRAMS={self.code}"])
        if configured.returncode != 0:
            sys.exit(configured.stderr)
        for _ in range(12):
            self.write()
            built = run(["cmake", "--build", self.build, "--target", "tested", "--", "-k", "0"])
            if built.returncode == 0:
                return
            wrong = self.not_compiling(built.stdout)
            if not wrong:
                sys.exit(built.stdout[-6000:])
            print(f"{len(wrong)} mutants do not compile.", flush=True)
            with self.refused.open("a") as refused:
                for number in wrong:
                    refused.write(key_of(self.mutants.pop(number)) + "\n")
        sys.exit("The mutated copy does not build.")

    def not_compiling(self, output):
        """The mutants at the lines that the compiler names; where it names another line, the nearest one of the file."""
        wrong = set()
        for name, line in set(re.findall(rf"{re.escape(str(self.code))}/(\S+?):(\d+):\d+: (?:error|fatal error)", output)):
            spans = [s for s in self.spans.get(name, []) if s[2] in self.mutants]
            if spans and not any(first <= int(line) <= last for first, last, _ in spans):
                wrong.add(min(spans, key=lambda s: min(abs(s[0] - int(line)), abs(s[1] - int(line))))[2])
        for name, line in set(re.findall(rf"{re.escape(str(self.code))}/(\S+?):(\d+):\d+: (?:error|fatal error|note|  required)", output)):
            for first, last, number in self.spans.get(name, []):
                if first <= int(line) <= last:
                    wrong.add(number)
        return wrong & set(self.mutants)


# --- the tests that try them ---------------------------------------------------------------------------------------------

class Test:
    def __init__(self, name, program):
        self.name, self.program = name, program
        self.seconds, self.reached = 0.0, collections.defaultdict(set)  # mutant -> functions

    def functions(self, mutant):
        """Those to run, or none for all. Core tests are quick and run whole, since what a program builds once is recorded
        for its first function alone."""
        names = self.reached[mutant]
        if not self.name.startswith("app_") or names & {"-", "initTestCase", "init", "cleanup", "cleanupTestCase"}:
            return []
        return sorted(names)


class Tests:
    def __init__(self, tested, build, kept):
        """Keeps links to the programs in `kept`, so that a build may replace them meanwhile."""
        listed = json.loads(run(["ctest", "--test-dir", tested, "--show-only=json-v1"], check=True).stdout)["tests"]
        self.all = [Test(t["name"], t["command"][0]) for t in listed
                    if t.get("command") and "/tests/" in t["command"][0] and not re.search(r"_on_(baseline|sse4|avx2|avx3)$", t["name"])]
        kept.mkdir(exist_ok=True)
        for test in self.all:
            link = kept / test.name
            link.unlink(missing_ok=True)
            os.link(test.program, link)
            test.program = str(link)
        self.environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "KETTLE_BATCH": str(build / "batch/pale-kettle-batch"),
                            "LD_LIBRARY_PATH": f"{build / 'core'}:{build / 'app'}"}
        self.sound, self.whole = {}, set()
        self.lock = threading.Lock()

    def fails(self, test, functions, limit, **variables):
        """The first function that fails, "-" for a crash or a test that takes too long, or None."""
        process = subprocess.Popen([test.program, *functions], stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True,
                                   errors="replace", cwd=pathlib.Path(test.program).parent, start_new_session=True,
                                   env={**self.environment, **variables})
        watch = threading.Timer(limit, process.kill)
        watch.start()
        failed = None
        for line in process.stdout:
            found = re.match(r"(?:FAIL!|XPASS)\s*: \w+::(\w+)\(", line)
            if found:
                failed = found[1]
                process.kill()
                break
        code = process.wait()
        watch.cancel()
        process.stdout.close()
        return failed or ("-" if code != 0 else None)

    def record(self, work, mutants):
        """Runs all tests without a mutant; notes who reaches what."""
        def one(test):
            path = work / "reached" / test.name
            path.parent.mkdir(exist_ok=True)
            path.unlink(missing_ok=True)
            begin = time.monotonic()
            failed = self.fails(test, [], 900, KETTLE_REACHED=str(path))
            test.seconds = time.monotonic() - begin
            for line in path.read_text().splitlines() if path.exists() else []:
                number, function = line.split()
                test.reached[int(number)].add(function)
            return f"{test.name} ({failed})" if failed else None
        with ThreadPoolExecutor(os.cpu_count()) as pool:
            wrong = [w for w in pool.map(one, self.all) if w]
        for name in wrong:
            print("fails without a mutant, and is left out:", name, flush=True)
        self.all = [t for t in self.all if not any(w.startswith(t.name + " ") for w in wrong)]

    def cost(self, test, mutant):
        functions = test.functions(mutant)
        everything = {f for names in test.reached.values() for f in names} - {"-"}
        return test.seconds * (min(1, (len(functions) + 1) / max(1, len(everything))) if functions else 1)

    def holds(self, test, functions):
        """Whether these functions pass without a mutant, run as they were with it."""
        key = (test.name, *functions)
        with self.lock:
            if key in self.sound:
                return self.sound[key]
        passes = self.fails(test, functions, 400, KETTLE_MUTANT="-1") is None
        with self.lock:
            self.sound[key] = passes
        return passes

    def killed_by(self, number, mutant, budget):
        """(test::function that fails, None) or (None, what was tried)."""
        own = "_".join(mutant.file.split("/")[:2]) if mutant.file.count("/") > 1 else mutant.file.split("/")[0]
        reaching = [t for t in self.all if number in t.reached]
        if not reaching:
            return None, "no test reaches it"
        reaching.sort(key=lambda t: (not t.name.startswith(own + "_"), self.cost(t, number)))
        spent, tried = 0.0, 0
        for test in reaching:
            if spent > budget:
                break
            functions = [] if test.name in self.whole else test.functions(number)
            begin = time.monotonic()
            failed = self.fails(test, functions, 30 + 4 * test.seconds, KETTLE_MUTANT=str(number))
            spent += time.monotonic() - begin
            tried += 1
            if failed and self.holds(test, functions):
                return f"{test.name}::{failed}", None
            if failed:
                self.whole.add(test.name)  # its functions need one another
        return None, f"{tried} of {len(reaching)} programs that reach it were run"


# --- the report ------------------------------------------------------------------------------------------------------------

def shown(mutant):
    text = mutant.text.replace("%s", "MUTANT").replace("%%", "%")
    return re.sub(r"\s+", " ", text)[:160]


QUALITY = """# What the tests notice

{share:.0%} of {count} mutants are killed ({date}). A mutant is a slip that an operator makes from the syntax tree: another sign, another comparison, one more or less,
arguments in another order, a condition turned round, a call lost, an early return, another constant, the other member of a pair, a clamp dropped, a
condition or a key dropped. They are chosen by a seed, from every package in proportion to its lines, before anyone looks at the tests of the place. All are compiled into one copy of
the libraries, and one is switched on at a time; it is tried by the tests that reach it, its own package's and the quickest first, for {seconds} s at most. Widths and
margins in pixels, and what is painted, are looked at and not mutated.

`./kettle mutants --count {asked} --seed {seed} --seconds {seconds}` does it again; `./kettle mutants --listed` tries the faults that were written by hand ([mutants.md](mutants.md)).

| package | mutants | killed | share |
|---|---:|---:|---:|
{rows}

| operator | mutants | killed | share |
|---|---:|---:|---:|
{operators}
"""


def table(results, key):
    groups = collections.defaultdict(list)
    for mutant, killer in results:
        groups[key(mutant)].append(killer is not None)
    return "\n".join(f"| {name} | {len(k)} | {sum(k)} | {sum(k) / len(k):.0%} |" for name, k in sorted(groups.items()))


def package_of(mutant):
    parts = mutant.file.split("/")
    return "/".join(parts[:2]) if len(parts) > 2 else parts[0]


def main():
    parser = argparse.ArgumentParser()
    parser.add_argument("work", type=pathlib.Path)
    parser.add_argument("tested", type=pathlib.Path)
    parser.add_argument("--count", type=int, default=300)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--seconds", type=float, default=90)
    parser.add_argument("--minutes", type=float, default=600)
    parser.add_argument("--package", default="")
    options = parser.parse_args()
    work = options.work.resolve()
    work.mkdir(parents=True, exist_ok=True)

    kept = work / "offered"
    kept.mkdir(exist_ok=True)
    wanted, by_package = chosen(options.count, options.seed, options.package, kept)
    numbered = dict(enumerate(m for mutants in by_package.values() for m in mutants))
    print(f"{len(numbered)} mutants are made in {len({m.file for m in numbered.values()})} files.", flush=True)
    copy = Copy(work, dict(numbered))
    copy.make()
    print(f"{len(copy.mutants)} compile.", flush=True)
    taken, left = [], dict(wanted)
    for number, mutant in copy.mutants.items():
        if left[package_of(mutant)] > 0:
            left[package_of(mutant)] -= 1
            taken.append(number)

    tests = Tests(options.tested.resolve(), copy.build, work / "programs")
    tests.record(work, copy.mutants)
    print(f"{len(tests.all)} test programs have run; {len(taken)} mutants are tried.", flush=True)
    results, report = [], (work / "report.txt").open("w")

    end = time.monotonic() + 60 * options.minutes

    def one(number):
        if time.monotonic() > end:
            return
        mutant = copy.mutants[number]
        killer, why = tests.killed_by(number, mutant, options.seconds)
        line = f"{'killed by ' + killer if killer else 'SURVIVES (' + why + ')'} · {mutant.file}:{mutant.line} {mutant.function} · {mutant.operator} · {shown(mutant)}"
        with tests.lock:
            results.append((mutant, killer))
            print(f"{len(results)} #{number} {line}", file=report, flush=True)
    random.Random(options.seed).shuffle(taken)  # so that a part of the run is a fair sample
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        list(pool.map(one, taken))

    share = sum(k is not None for _, k in results) / max(1, len(results))
    print(f"{share:.1%} of {len(results)} mutants are killed.")
    if not options.package:
        (ROOT / "docs/quality.md").write_text(QUALITY.format(
            share=share, count=len(results), asked=options.count, date=time.strftime("%Y-%m-%d"), seconds=round(options.seconds), seed=options.seed,
            rows=table(results, package_of), operators=table(results, lambda m: m.operator)))
    return 0


if __name__ == "__main__":
    sys.exit(main())
