"""Runs every test module in a process of its own, as many at a time as there are cores, with one
shared cache of predictions, and closes with a plain count."""

from __future__ import annotations

import importlib
import os
import re
import sys
import tempfile
import time
import traceback
import unittest
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import IO

import platformdirs

TOP = Path(__file__).parent
SLOW = (
    "test_random_courses",
    "test_before_probes",
    "test_cases_told",
    "test_own_boards",
    "test_telling",
    "test_repairs",
    "test_closed_loop",
    "test_cases",
    "test_other_boards",
)
"""Begun first, so that none of them runs alone at the end; the first works out the predictions of
every board of the book, and others need those too."""
LOADED_ONCE = ("hypothesis", "PyQt6.QtWidgets", "loose_rail.cli.window", "loose_rail.bootstrap")
"""Heavy imports that nearly every module makes; none of them starts a thread or an application."""
DEMO_BOARD = "PB-4310-2"
RAN = re.compile(r"^Ran (\d+) tests? in", re.MULTILINE)
SKIPPED = re.compile(r"\(.*?skipped=(\d+)")
FAILED = re.compile(r"(failures|errors|unexpected successes)=(\d+)")


def modules() -> list[str]:
    """Every test module by its dotted name, the slow ones first."""
    found = [path.relative_to(TOP.parent).with_suffix("") for path in TOP.rglob("test_*.py")]
    rank = {name: number for number, name in enumerate(SLOW)}
    found.sort(key=lambda path: (rank.get(path.name, len(SLOW)), str(path)))
    return [".".join(path.parts) for path in found]


@dataclass(frozen=True)
class Begun:
    """A module that runs in a child process of its own, writing to a file."""

    module: str
    output: IO[str]
    start: float


def warm() -> None:
    """The engine of the demo board, which most modules ask for: made here as soon as one of them
    has worked out its predictions, and handed on with every fork."""
    from loose_rail.boards.load import shipped_board
    from loose_rail.bootstrap import engine_for
    from loose_rail.diagnosis.model.cache import cache_key

    demo = shipped_board(DEMO_BOARD)
    kept = platformdirs.user_cache_path("loose-rail") / f"{cache_key(demo)[:32]}.npz"
    if kept.exists():
        engine_for(demo)


def begin(module: str) -> tuple[int, Begun]:
    """Fork: what every module needs is loaded once, and nothing of one reaches another."""
    output = tempfile.TemporaryFile("w+", errors="replace")  # noqa: SIM115 - read when it has ended
    begun = Begun(module, output, time.monotonic())
    pid = os.fork()
    if pid:
        return pid, begun
    code = 2
    try:
        os.dup2(output.fileno(), 1)
        os.dup2(output.fileno(), 2)
        outcome = unittest.main(module=None, argv=["unittest", module], exit=False).result
        code = 0 if outcome.wasSuccessful() else 1
    finally:
        if sys.exc_info()[0]:  # told by the parent with the rest
            traceback.print_exc()
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(code)


def results(waiting: list[str]) -> Iterator[tuple[Begun, int]]:
    """Every module as it ends, with its exit code; as many at a time as there are cores."""
    running: dict[int, Begun] = {}
    waiting = waiting[::-1]
    while waiting or running:
        while waiting and len(running) < max(1, os.cpu_count() or 1):
            warm()
            pid, begun = begin(waiting.pop())
            running[pid] = begun
        pid, status = os.wait()
        if pid in running:
            yield running.pop(pid), os.waitstatus_to_exitcode(status)


def main() -> int:
    """Run them all; exit code 0 where every module ran at least one test and none failed."""
    ran = failed = skipped = 0
    broken: list[str] = []
    with tempfile.TemporaryDirectory(prefix="loose-rail-tests-") as folder:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
        os.environ.setdefault("LOOSE_RAIL_REPEATABLE", "1")
        os.environ.update(XDG_CACHE_HOME=f"{folder}/cache", XDG_DATA_HOME=f"{folder}/data")
        os.chdir(TOP.parent)
        sys.path.insert(0, str(TOP.parent))
        for name in LOADED_ONCE:
            importlib.import_module(name)
        for begun, code in results(modules()):
            with begun.output:
                begun.output.seek(0)
                output = begun.output.read()
            last = "".join(output.rpartition("\nRan ")[1:])
            count = sum(int(number) for number in RAN.findall(last))
            ran += count
            skipped += sum(int(number) for number in SKIPPED.findall(last))
            failed += sum(int(number) for _, number in FAILED.findall(last))
            seconds = time.monotonic() - begun.start
            print(f"{begun.module}: {count} tests, {seconds:.0f} s", flush=True)
            if code or not count:
                broken.append(begun.module)
                print(output, flush=True)
    for module in broken:
        print(f"FAILED: {module}")
    print(f"{ran - failed - skipped} passed, {failed} failed, {skipped} skipped")
    return 1 if broken or not ran else 0


if __name__ == "__main__":
    sys.exit(main())
