#!/usr/bin/env python3
"""Every figure that was ever wanted, in one table.

run DIR         measure all of them with the build of now, group by group; JSON into DIR; what a run that broke off
                had measured there stays
table DIR ...   a table of one or more such runs; what missed goes to the error output, and fails

A group is a process of its own: what one leaves in memory does not slow another down. Of what the window's thread does
three runs are made, since a single one says more about the other guests of the machine, and their median is told.

A group begins when the machine is quiet: when other guests take less than 5 % of a second in which all cores are busy,
or after five minutes. Where they took more than 10 % while it ran it is measured again, three times at most; the one
that they took least of counts, whatever its figures. The last row of the table tells what they took."""
import json
import multiprocessing
import os
import pathlib
import statistics
import subprocess
import sys
import time

ROOT = pathlib.Path(__file__).resolve().parent.parent
BENCH = ROOT / "build" / os.environ.get("KETTLE_PRESET", "release") / "bench" / "pale-kettle-bench"

GROUPS = {
    "preview": "slider-to|camera-to|explore",
    "steps-1": "steps-10000",
    "steps-2": "steps-10000",
    "steps-3": "steps-10000",
    "patterns": "noise|lookup-|atlas|occlusion",
    "layers": "layers|vary-|library-|contact|farm",
    "picture": "picture-seven",
    "lookups": "lookups-360|hundred-steps|ten-display-steps",
    "reference": "^reference",
    "export": "export-seven",
    "large": "export-8192",
    "open-1": "open-seven",
    "open-2": "open-seven",
    "open-3": "open-seven",
    "window-1": "^window$",
    "window-2": "^window$",
    "window-3": "^window$",
    "tiles": "udim-64",
}

QUIET, NOT_QUIET, LONGEST_WAIT, MOST_ATTEMPTS = 5, 10, 300, 3  # percent, percent, seconds
TAKEN = "taken-by-other-guests.json"

MS, S, GB, TIMES, PERCENT = (1, "ms"), (1e-3, "s"), (1 / 1024, "GB"), (1, "×"), (1, "%")
WHOLE = (1, "s")  # whole processes tell seconds

# name, at most (or, with "or more", at least), how what the bench says is told
WANTED = [
    ("reference-program-4096-threads-2", None, MS),
    ("program-to-fused-4096-threads-2", 1.25, TIMES),
    ("program-to-fused-540000-points-threads-1", 1.15, TIMES),
    ("program-to-fused-540000-points-threads-2", 1.15, TIMES),
    ("texturesystem-to-lookups-threads-2", "6 or more", TIMES),
    ("opencv-to-program-4096-threads-2", "2.5 or more", TIMES),
    ("libvips-to-program-4096-threads-2", "9 or more", TIMES),
    ("openimageio-to-program-4096-threads-2", "30 or more", TIMES),
    ("hundred-steps-to-one-step", 100, TIMES),
    ("hundred-steps-block-set-up-per-step", 2, (1, "µs")),
    ("ten-display-steps-to-ten-linear", 1.15, TIMES),
    ("window-slider-to-board-and-model", 50, MS),
    ("window-longest-event", 16, MS),
    ("window-longest-event-200-steps", 16, MS),
    ("window-longest-event-20-layers", 16, MS),
    ("window-open-demo-to-complete", 1.5, S),
    ("window-slider-to-board-20-layers", 60, MS),
    ("window-open-40-layers", 1.5, S),
    ("window-open-10000-objects", 2, S),
    ("slider-to-first-picture-900x600", 3, MS),
    ("slider-to-full-picture-900x600", 12, MS),
    ("camera-to-first-picture-900x600", 14, MS),
    ("slider-to-compare", 18, MS),
    ("camera-to-displaced-900x600", 400, MS),
    ("camera-to-antialiased-900x600", 600, MS),
    ("layers-4-on-6-mask-slider-to-full-picture-900x600", 25, MS),
    ("layers-20-on-8-mask-slider-to-full-picture-900x600", 80, MS),
    ("layers-20-on-8-board-pictures", 60, MS),
    ("vary-300-spread-slider-to-full-picture-900x600", 16, MS),
    ("slider-noise-to-full-picture-900x600", 20, MS),
    ("noise-fractal-4-octaves", 28, MS),  # 150 million points x octaves a second
    ("triplanar-to-straight", 3.4, TIMES),
    ("break-up-to-straight", 3.6, TIMES),
    ("scattered-to-straight", 6, TIMES),
    ("atlas-kettle-4096", 250, MS),
    ("occlusion-64-rays-540000", 700, MS),
    ("explore-12", 40, MS),
    ("explore-48", 160, MS),
    ("contact-sheet-4-by-3-640x400", 3, S),
    ("farm-plan-10000", 2, S),
    ("farm-status-1000", 1, (1e-3, "ms an item")),
    ("farm-efficiency-64-percent", "95 or more", PERCENT),
    ("library-1000-open", 300, MS),
    ("library-1000-find", 16, MS),
    ("export-seven-4096-png8", 4.0, WHOLE),
    ("export-seven-4096-png16", 6, WHOLE),
    ("export-seven-4096-tiff16", 6, WHOLE),
    ("export-seven-4096-exr-half", 8, WHOLE),
    ("export-seven-4096-jpeg", 2.5, WHOLE),
    *((f"export-seven-4096-{kind}-peak-memory", 1.2, GB) for kind in ("png8", "png16", "tiff16", "exr-half", "jpeg")),
    ("export-8192-scattered-peak-memory", 1.5, GB),
    ("export-8192-sides-peak-memory", 1.5, GB),
    ("picture-seven-4096-900x600", 2.5, WHOLE),
    ("picture-seven-4096-900x600-again", 0.8, WHOLE),
    ("open-seven-4096-first", 1.0, WHOLE),
    ("open-seven-4096-complete", 2.5, WHOLE),
    ("open-seven-4096-longest-event", 16, MS),
    ("open-seven-4096-again-first", 0.6, WHOLE),
    ("open-seven-4096-again-longest-event", 16, MS),
    ("udim-64-first", 3, WHOLE),
    ("udim-64-memory", 2, GB),
    ("udim-64-slider-to-first", 20, MS),
    ("udim-64-reopen-first", 1, WHOLE),
    ("udim-64-reopen-memory", 2, GB),
    ("udim-64-export-memory", 2, GB),
    ("steps-10000-open", 1, S),
    ("steps-10000-edit", 50, MS),
    ("steps-10000-open-longest-event", 16, MS),
    ("steps-10000-edit-longest-event", 16, MS),
    ("steps-10000-memory", 1, GB),
]


def ticks():
    """Of all cores, since the start: those that other guests of the machine took, and those that were wanted."""
    user, nice, system, _, _, interrupts, soft, stolen = map(int, pathlib.Path("/proc/stat").read_text().split()[1:9])
    return stolen, user + nice + system + interrupts + soft + stolen


def taken_since(before):
    """What other guests took since then, in percent of what was wanted."""
    stolen, wanted = (now - then for now, then in zip(ticks(), before))
    return 100 * stolen / wanted if wanted else 0


def work_for_a_second():
    end = time.monotonic() + 1
    while time.monotonic() < end:
        pass


def is_quiet():
    before = ticks()
    workers = [multiprocessing.Process(target=work_for_a_second) for _ in range(os.cpu_count())]
    for worker in workers:
        worker.start()
    for worker in workers:
        worker.join()
    return taken_since(before) < QUIET


def wait_until_quiet():
    end = time.monotonic() + LONGEST_WAIT
    while not is_quiet() and time.monotonic() < end:
        time.sleep(4)


def measure(pattern, file):
    """Runs the bench into the file; what other guests took meanwhile, in percent."""
    wait_until_quiet()
    before = ticks()
    done = subprocess.run([BENCH, "--filter", pattern, "--json", file], capture_output=True,
                          env={**os.environ, "QT_QPA_PLATFORM": "offscreen"})
    if done.returncode != 0:
        sys.exit(f"{BENCH.name} --filter '{pattern}' failed ({done.returncode}): {done.stderr.decode().strip()}")
    return taken_since(before)


def run(folder):
    folder.mkdir(parents=True, exist_ok=True)
    taken = json.loads((folder / TAKEN).read_text()) if (folder / TAKEN).exists() else {}
    attempt = folder / "attempt"
    for name, pattern in GROUPS.items():
        for _ in range(MOST_ATTEMPTS):
            if taken.get(name, 100) <= NOT_QUIET:
                break
            took = measure(pattern, attempt)
            print(f"{name} is measured; other guests took {took:.1f} %", file=sys.stderr)
            if took < taken.get(name, 101):
                attempt.replace(folder / f"{name}.json")
                taken[name] = took
                (folder / TAKEN).write_text(json.dumps(taken, indent=2))
    attempt.unlink(missing_ok=True)


def measured(folder):
    """What the bench said, by name; of figures that several processes told their median."""
    said = {}
    for name in GROUPS:
        file = folder / f"{name}.json"
        if not file.exists():
            sys.exit(f"The run in {folder} is not whole: {file.name} is missing. Measure again: ./kettle figures run {folder}")
        for part in json.loads(file.read_text()).values():
            if isinstance(part, dict):
                for figure, value in part.items():
                    said.setdefault(figure, []).append(value)
    values = {figure: statistics.median(all_of_it) for figure, all_of_it in said.items()}
    if "lookup-scattered-196-stamps" in values:
        values["scattered-to-straight"] = values["lookup-scattered-196-stamps"] / values["lookup-straight"]
    return values


def told(value, unit):
    value *= unit[0]
    digits = 0 if value >= 20 else 1 if value >= 5 and unit[1] in ("ms", "%") else 3 if value < 0.1 else 2
    return f"{value:.{digits}f} {unit[1]}"


def holds(value, wanted, unit):
    if isinstance(wanted, str):
        return value * unit[0] >= float(wanted.split()[0])
    return wanted is None or value * unit[0] <= wanted


def table(folders):
    runs = [measured(f) for f in folders]
    print("| figure | wanted |" + "".join(f" run {i} |" for i in range(1, len(runs) + 1)))
    print("|---|---:|" + "---:|" * len(runs))
    missed = 0
    for name, wanted, unit in WANTED:
        cells = []
        for number, values in enumerate(runs, 1):
            if name not in values:
                sys.exit(f"{folders[number - 1]} has no figure {name}. Measure again: ./kettle figures run {folders[number - 1]}")
            cells.append(told(values[name], unit))
            if not holds(values[name], wanted, unit):
                missed += 1
                print(f"run {number} missed {name}: {cells[-1]}, wanted {wanted}", file=sys.stderr)
        aim = "" if wanted is None else f"{str(wanted).removesuffix(' or more')} {unit[1]}"
        if isinstance(wanted, str):
            aim += " or more"
        print(f"| `{name}` | {aim} | " + " | ".join(cells) + " |")
    taken = [json.loads((f / TAKEN).read_text()).values() for f in folders]
    print("| taken by other guests of the machine, of the groups the median and the most | | "
          + " | ".join(f"{statistics.median(t):.1f}, {max(t):.1f} %" for t in taken) + " |")
    return 1 if missed else 0


def main():
    if len(sys.argv) == 3 and sys.argv[1] == "run":
        return run(pathlib.Path(sys.argv[2]))
    if len(sys.argv) >= 3 and sys.argv[1] == "table":
        return table([pathlib.Path(a) for a in sys.argv[2:]])
    sys.exit(__doc__)


if __name__ == "__main__":
    sys.exit(main())
