#!/usr/bin/env python3
"""clang-tidy, as many files at a time as there are cores: over core/ and batch/, over the files that are named, or with
--all over app/ too, whose headers take it a quarter of a minute a file. Reads the build's compile_commands.json and
leaves out what only the other compiler knows: its precompiled headers and warnings."""
import json
import os
import pathlib
import re
import shutil
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor

ROOT = pathlib.Path(__file__).resolve().parent.parent
BUILD = ROOT / "build" / "release"
LINT = ROOT / "build" / "lint"


def prepared():
    """Writes commands that clang understands; returns the files to look at."""
    LINT.mkdir(parents=True, exist_ok=True)
    commands, files = [], []
    for entry in json.loads((BUILD / "compile_commands.json").read_text()):
        place = pathlib.Path(entry["file"])
        if not place.is_relative_to(ROOT) or place.relative_to(ROOT).parts[0] not in ("core", "app", "batch"):
            continue
        command = re.sub(r"-Winvalid-pch|-Wno-restrict|-Wno-useless-cast|^\S*ccache ", "", entry["command"])

        def plain(match):
            header = pathlib.Path(match[1])
            copy = LINT / (header.parent.name + "_" + header.name)
            shutil.copyfile(header, copy)
            return f"-include {copy}"

        command = re.sub(r"-include (\S+cmake_pch\.hxx)", plain, command)
        command = re.sub(r'-DHWY_DISABLED_TARGETS=\S+', "-DHWY_COMPILE_ONLY_STATIC", command)
        commands.append({**entry, "command": command})
        files.append(str(place))
    (LINT / "compile_commands.json").write_text(json.dumps(commands))
    return sorted(set(files))


def looked_at(file):
    done = subprocess.run(["clang-tidy", "-p", str(LINT), "--quiet", file], capture_output=True, text=True)
    return done.returncode, done.stdout


def main():
    named = [str(pathlib.Path(f).resolve()) for f in sys.argv[1:] if f != "--all"]
    files = prepared()
    if named:
        files = [f for f in files if f in named]
    elif "--all" not in sys.argv:
        files = [f for f in files if not f.startswith(str(ROOT / "app"))]
    failed = 0
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        for code, words in pool.map(looked_at, files):
            failed += code != 0
            if words.strip():
                print(words.strip(), flush=True)
    print(f"clang-tidy: {failed} of {len(files)} files have findings." if failed else f"clang-tidy: {len(files)} files are clean.")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
