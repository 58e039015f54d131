#!/usr/bin/env python3
"""Counts comparisons of a value with a string literal, which should be comparisons with a declared constant
or with a value of an enumeration: a slip in a literal compiles.

literals.py            prints the count, and every place if there are more than are allowed
literals.py --list     prints every place
"""

import re
import subprocess
import sys

MOST = 30
WRAPPED = r'(?:QLatin1String|QStringLiteral|std::string|std::string_view)\("(?:[^"\\]|\\.)+"\)'
LITERAL = rf'(?:{WRAPPED}|u?"(?:[^"\\]|\\.)+")'
COMPARISON = re.compile(rf'(?:[=!]=\s*{LITERAL})|(?:(?<![\w(]){LITERAL}\s*[=!]=)')


def places():
    files = subprocess.run(["git", "ls-files", "core/*.cpp", "core/*.h", "app/*.cpp", "app/*.h", "batch/*.cpp", "batch/*.h"],
                           capture_output=True, text=True, check=True).stdout.split()
    for name in files:
        with open(name, encoding="utf-8") as file:
            for number, line in enumerate(file, 1):
                code = line.split("//")[0]
                for _ in COMPARISON.finditer(code):
                    yield f"{name}:{number}: {line.strip()}"


def main():
    found = list(places())
    if "--list" in sys.argv or len(found) > MOST:
        print("\n".join(found))
    print(f"{len(found)} comparisons with a string literal; {MOST} are allowed.")
    return 0 if len(found) <= MOST else 1


if __name__ == "__main__":
    sys.exit(main())
