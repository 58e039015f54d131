#!/usr/bin/env python3
"""Puts the faults of list.txt into a copy of the code, one at a time, and looks whether a test finds each.

listed.py WORK [NAME ...]   WORK: a folder for the copy and its build; NAME: only faults whose name holds one of these.
Writes WORK/report.txt; fails if fewer than 95 of 100 are found."""
import os
import pathlib
import re
import shutil
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor, as_completed

ROOT = pathlib.Path(__file__).resolve().parent.parent.parent
WANTED = 0.95


class Fault:
    def __init__(self, name, file, before, after):
        self.name, self.file, self.before, self.after = name, file, before, after


def faults():
    text = (ROOT / "tests/mutants/list.txt").read_text()
    for part in text.split("\n## ")[1:]:
        head, rest = part.split("\n- ", 1)
        before, after = re.split(r"\n\+(?: |$)", rest.rstrip("\n"), maxsplit=1, flags=re.M)
        name, file = head.split("\n")
        yield Fault(name, file, before, after.rstrip("\n"))


def run(command, **more):
    return subprocess.run(command, capture_output=True, text=True, **more)


class Copy:
    """The code beside itself, its libraries shared, so that a fault costs one object and one link."""

    def __init__(self, work):
        self.code, self.build = work / "code", work / "build"
        self.code.mkdir(parents=True, exist_ok=True)
        files = run(["git", "ls-files", "-z", "-c", "-o", "--exclude-standard"], cwd=ROOT, check=True).stdout
        for name in filter(None, files.split("\0")):
            source, target = ROOT / name, self.code / name
            if not source.exists():
                continue
            target.parent.mkdir(parents=True, exist_ok=True)
            if not target.exists() or target.read_bytes() != source.read_bytes():
                shutil.copy2(source, target)
                os.utime(target)
        run(["cmake", "-G", "Ninja", "-S", self.code, "-B", self.build, "-DCMAKE_BUILD_TYPE=Release",
             "-DBUILD_SHARED_LIBS=ON", "-DKETTLE_QUICK=ON"], check=True)
        built = run(["cmake", "--build", self.build])
        if built.returncode != 0:
            sys.exit(built.stdout[-4000:])
        targets = run(["cmake", "--build", self.build, "--target", "help"], check=True).stdout
        self.libraries = sorted(set(re.findall(r"\b(libkettle_\w+\.so)\b", targets)))
        listed = run(["ctest", "--test-dir", self.build, "-N"], check=True).stdout
        self.tests = re.findall(r"Test +#\d+: (\S+)", listed)

    def make(self):
        return run(["cmake", "--build", self.build, "--target", *self.libraries])

    def ordered(self, file):
        """Tests of the fault's own folder first, then of its floor, then the rest."""
        floor, room = file.split("/")[:2]
        return sorted(self.tests, key=lambda t: (not t.startswith(f"{floor}_{room}_"), not t.startswith(floor)))

    def passes(self, test):
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
        program = self.build / "tests" / test
        try:
            return run([program], cwd=self.build / "tests", env=environment, timeout=240).returncode == 0
        except subprocess.TimeoutExpired:
            return False

    def failing(self, tests, all_of_them=False):
        """Tests that fail, as many at a time as there are cores; the first one alone unless all are wanted."""
        left, failed = list(tests), []
        with ThreadPoolExecutor(os.cpu_count()) as pool:
            running = {}
            while left or running:
                while left and len(running) < os.cpu_count():
                    test = left.pop(0)
                    running[pool.submit(self.passes, test)] = test
                done = next(as_completed(running))
                test = running.pop(done)
                if not done.result():
                    failed.append(test)
                    if not all_of_them:
                        break
        return failed


def tried(copy, fault):
    path = copy.code / fault.file
    whole = path.read_text()
    if whole.count(fault.before) != 1:
        return "stale: its text occurs %d times" % whole.count(fault.before)
    try:
        path.write_text(whole.replace(fault.before, fault.after))
        if copy.make().returncode != 0:
            return "stale: it does not build"
        failed = copy.failing(copy.ordered(fault.file))
        return f"found by {failed[0]}" if failed else "SURVIVES"
    finally:
        path.write_text(whole)


def main():
    work = pathlib.Path(sys.argv[1]).resolve()
    names = sys.argv[2:]
    copy = Copy(work)
    wrong = copy.failing(copy.tests, all_of_them=True) if not names else []
    if wrong:
        sys.exit("These tests fail without any fault: " + ", ".join(wrong))
    lines, found, count = [], 0, 0
    for fault in faults():
        if names and not any(n in fault.name for n in names):
            continue
        begin = time.monotonic()
        verdict = tried(copy, fault)
        count += 1
        found += verdict.startswith("found")
        lines.append(f"{fault.name}: {verdict}")
        print(f"{count:3} {time.monotonic() - begin:5.0f} s  {lines[-1]}", flush=True)
    summary = f"{found} of {count} faults are found ({found / max(count, 1):.0%}; wanted {WANTED:.0%})."
    (work / "report.txt").write_text("\n".join([*lines, summary, ""]))
    print(summary)
    return 0 if found >= WANTED * count else 1  # what survives is said in docs/mutants.md


if __name__ == "__main__":
    sys.exit(main())
