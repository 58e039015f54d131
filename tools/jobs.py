"""Prints what an artist's jobs cost in hand actions, and writes docs/jobs.md from it.

Reads tests/app/jobs/jobs.txt, and from standard input what the tests of the jobs printed.
"""

import pathlib
import re
import sys

ROOT = pathlib.Path(__file__).resolve().parent.parent
HEAD = """# Jobs

What an artist comes to do, counted in hand actions: a click, a double click, a drag, a drop, a key chord, a typed entry with its Enter are one each,
looking is free. A job begins with the empty window, or with the demo as the program opens it; everything that it needs is part of it. What arrives at the
application is counted, whatever sent it, and nothing but input may change the work; each job is checked in numbers that are computed apart, a check
that fails before the first action. The tests are in `tests/app/jobs/`, the artist's files in `tests/app/jobs/files/`. This page is written by `./kettle jobs`.

| # | job | start | actions | wanted |
|---:|---|---|---:|---:|
"""
MIDDLE = """
## Not yet
| # | job | what is missing |
|---:|---|---|
"""


def main() -> int:
    counted = {}
    for line in sys.stdin:
        found = re.search(r"JOB (\d+)\|(\d+)", line)
        if found:
            counted[int(found[1])] = int(found[2])
    rows, missing = [], []
    for line in (ROOT / "tests/app/jobs/jobs.txt").read_text().splitlines():
        if not line or line.startswith("#"):
            continue
        number, job, start, wanted, what = line.split("|")
        actions = counted.get(int(number))
        shown = "-" if actions is None else str(actions)
        print(f"{number}|{job}|{shown}|{wanted}")
        rows.append(f"| {number} | {job} | {start} | {shown} | {wanted} |")
        if actions is None:
            missing.append(f"| {number} | {job} | {what or 'its test is not written yet'} |")
    (ROOT / "docs/jobs.md").write_text(HEAD + "\n".join(rows) + "\n" + MIDDLE + "\n".join(missing) + "\n")
    return 0


sys.exit(main())
