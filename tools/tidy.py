#!/usr/bin/env python3
"""clang-tidy, as many files at a time as there are cores: over core/ and batch/, over the files that are named, or with
--all over app/ too. Reading headers is most of its work, so that it looks at a dozen files together, as KETTLE_TOGETHER
compiles them. Takes the commands of a build that is only configured, and leaves out what only the other compiler knows:
its precompiled headers and warnings."""
import json
import os
import pathlib
import re
import shutil
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor

ROOT = pathlib.Path(__file__).resolve().parent.parent
LINT = ROOT / "build" / "lint"


def configured(together):
    """Where the build stands that only has its commands written."""
    build = LINT / ("together" if together else "single")
    subprocess.run(["cmake", "--preset", "release", "-B", str(build), f"-DKETTLE_TOGETHER={'ON' if together else 'OFF'}"],
                   cwd=ROOT, check=True, stdout=subprocess.DEVNULL)
    return build


def prepared(together, rooms):
    """Writes commands that clang understands; returns the files to look at: those of the folders `rooms`."""
    build = configured(together)
    commands, files = [], []
    for entry in json.loads((build / "compile_commands.json").read_text()):
        place = pathlib.Path(entry["file"])
        home = build if place.is_relative_to(build) else ROOT
        if not place.is_relative_to(home) or place.relative_to(home).parts[0] not in rooms:
            continue
        command = re.sub(r"-Winvalid-pch|-Wno-restrict|-Wno-useless-cast|-Wshadow|-Wno-subobject-linkage|^\S*ccache ", "", entry["command"])

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
    files = prepared(not named, ("core", "app", "batch") if named or "--all" in sys.argv else ("core", "batch"))
    if named:
        files = [f for f in files if f in named]
    failed = 0
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        for code, words in pool.map(looked_at, files):
            failed += code != 0
            if words.strip():
                print(words.strip(), flush=True)
    print(f"clang-tidy: {failed} of {len(files)} units have findings." if failed else f"clang-tidy: {len(files)} units are clean.")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
