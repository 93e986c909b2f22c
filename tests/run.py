"""Runs every test module in a process of its own, as many at a time as there are cores, with one
shared cache of predictions, and closes with a plain count."""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

TOP = Path(__file__).parent
SLOW = (
    "test_random_courses",
    "test_before_probes",
    "test_closed_loop",
    "test_cases",
    "test_other_boards",
)
"""Begun first, so that none of them runs alone at the end; the first works out the predictions of
every board, and the last of them needs those too."""
RAN = re.compile(r"^Ran (\d+) tests? in", re.MULTILINE)
SKIPPED = re.compile(r"\(.*?skipped=(\d+)")
FAILED = re.compile(r"(failures|errors|unexpected successes)=(\d+)")


def modules() -> list[str]:
    """Every test module by its dotted name, the slow ones first."""
    found = [path.relative_to(TOP.parent).with_suffix("") for path in TOP.rglob("test_*.py")]
    rank = {name: number for number, name in enumerate(SLOW)}
    found.sort(key=lambda path: (rank.get(path.name, len(SLOW)), str(path)))
    return [".".join(path.parts) for path in found]


def run(module: str, environment: dict[str, str]) -> tuple[str, int, str, float]:
    """Run one module; its name, exit code, output and seconds."""
    start = time.monotonic()
    done = subprocess.run(
        [sys.executable, "-m", "unittest", module],
        cwd=TOP.parent,
        env=environment,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        errors="replace",
        check=False,
    )
    return module, done.returncode, done.stdout, time.monotonic() - start


def main() -> int:
    """Run them all; exit code 0 where every module ran at least one test and none failed."""
    ran = failed = skipped = 0
    broken: list[str] = []
    with tempfile.TemporaryDirectory(prefix="loose-rail-tests-") as folder:
        environment = {
            "QT_QPA_PLATFORM": "offscreen",
            "OPENBLAS_NUM_THREADS": "1",
            "LOOSE_RAIL_REPEATABLE": "1",
            **os.environ,
            "XDG_CACHE_HOME": f"{folder}/cache",
            "XDG_DATA_HOME": f"{folder}/data",
        }
        with ThreadPoolExecutor(max(1, os.cpu_count() or 1)) as pool:
            for module, code, output, seconds in pool.map(
                lambda one: run(one, environment), modules()
            ):
                last = "".join(output.rpartition("\nRan ")[1:])
                count = sum(int(number) for number in RAN.findall(last))
                ran += count
                skipped += sum(int(number) for number in SKIPPED.findall(last))
                failed += sum(int(number) for _, number in FAILED.findall(last))
                print(f"{module}: {count} tests, {seconds:.0f} s", flush=True)
                if code or not count:
                    broken.append(module)
                    print(output, flush=True)
    for module in broken:
        print(f"FAILED: {module}")
    print(f"{ran - failed - skipped} passed, {failed} failed, {skipped} skipped")
    return 1 if broken or not ran else 0


if __name__ == "__main__":
    sys.exit(main())
