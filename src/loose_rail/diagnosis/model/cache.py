"""Prediction tables kept in the cache directory, addressed by what they were computed from.

The key is a digest of the profile, the limits and the source of the models: a
changed board, limit or model never meets an old table. A damaged file is rebuilt; the cache can be
deleted at any time.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import time
import zipfile
from collections.abc import Iterator
from functools import cache
from importlib import resources
from pathlib import Path
from typing import IO

import msgspec
import numpy as np

from loose_rail.boards.own.names import renamed
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.model.candidates import candidates_of, live_states
from loose_rail.diagnosis.model.hypotheses import hypotheses_of
from loose_rail.diagnosis.model.predictions import Progress, as_noticed, predict
from loose_rail.diagnosis.model.table import PredictionTable

WAIT_SECONDS = 0.1
"""Between two looks whether the other process is done [E]."""
MODEL_PACKAGES = (
    "boards",
    "boards.kinds",
    "boards.own",
    "circuit",
    "kernel",
    "netlist",
    "powered",
    "powered.stages",
    "vocabulary",
)
MODEL_MODULES = {
    "diagnosis.model": ("candidates", "cold_predictions", "hypotheses", "predictions", "table"),
    "judgement": ("limits", "spread"),
}
"""What a table is made by: whole packages, and single modules of others."""
WORDS_ONLY = {"boards": ("parts_named", "part_phrases")}
"""Modules of these that find parts by what people call them: a table has nothing of it."""


def table_for(board: Board, directory: Path, progress: Progress | None = None) -> PredictionTable:
    """The prediction table of a board, from the cache or worked out and kept there."""
    path = directory / f"{cache_key(board)[:32]}.npz"
    found = _read(board, path)
    if found is not None:
        return found
    with _alone(path, progress):
        found = _read(board, path)  # another window may have worked it out meanwhile
        if found is not None:
            return found
        table = predict(board, progress)
        with contextlib.suppress(OSError):  # a cache that can't be written costs time, nothing else
            _write(table, path)
    return table


@contextlib.contextmanager
def _alone(path: Path, progress: Progress | None) -> Iterator[None]:
    """Only one process works a table out, the others wait for it; where no lock can be had, each
    works on its own. The lock goes with its process, however that ends."""
    with contextlib.ExitStack() as held:
        with contextlib.suppress(OSError):
            path.parent.mkdir(parents=True, exist_ok=True)
            file = held.enter_context(path.with_suffix(".lock").open("w"))
            while not _locked(file):
                if progress is not None:
                    progress(0.0, "another window is working them out")
                time.sleep(WAIT_SECONDS)
        yield


def _locked(file: IO[str]) -> bool:
    """Whether the lock was had. Raises OSError where this file system has none."""
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    return True


def cache_key(board: Board) -> str:
    """Digest of everything that a table depends on; what its parts are called is not among it, so
    that a designator that becomes known costs nothing."""
    digest = hashlib.sha256(models_digest())
    digest.update(msgspec.json.encode(_nameless(board)))
    for package, name in (
        ("loose_rail.boards", "data/co_failures.json"),
        ("loose_rail.judgement", "data/limits.json"),
    ):
        digest.update(resources.files(package).joinpath(name).read_bytes())
    return digest.hexdigest()


def _nameless(board: Board) -> Board:
    """The board without what nothing is reckoned from: names of parts, words, numbers of pins."""
    replace = msgspec.structs.replace
    bare = renamed(board, {part.ref: f"#{k}" for k, part in enumerate(board.components)})
    return replace(
        bare,
        id="",
        title="",
        maker="",
        aliases=[],
        earlier_names={},
        norms={},
        components=[p if p.kind == "load" else replace(p, duty="") for p in bare.components],
        nets=[replace(net, where="") for net in bare.nets],
        live_points=[replace(point, title="") for point in bare.live_points],
    )


@cache
def models_digest() -> bytes:
    """Digest of the sources of everything that works out a table."""
    digest = hashlib.sha256()
    for package in (*MODEL_PACKAGES, *MODEL_MODULES):
        folder = resources.files(f"loose_rail.{package}")
        wanted = MODEL_MODULES.get(package)
        for item in sorted(folder.iterdir(), key=lambda one: one.name):
            stem, _, ending = item.name.rpartition(".")
            if stem in WORDS_ONLY.get(package, ()):
                continue
            if ending == "py" and (wanted is None or stem in wanted):
                digest.update(item.name.encode())
                digest.update(item.read_bytes())
    return digest.digest()


def _read(board: Board, path: Path) -> PredictionTable | None:
    try:
        with np.load(path, allow_pickle=False) as data:
            arrays = {name: data[name] for name in data.files}
    except (OSError, ValueError, EOFError, zipfile.BadZipFile):
        return None
    rows, candidates = hypotheses_of(board), candidates_of(board)
    if arrays.get("late", np.empty(0)).shape != (len(rows), len(candidates)):
        return None
    keys = [state.key for state in live_states(board)]
    table = PredictionTable(
        board=board,
        rows=rows,
        candidates=candidates,
        low=arrays["low"],
        high=arrays["high"],
        hertz=arrays["hertz"],
        peak=arrays["peak"],
        late=arrays["late"],
        ticking_hertz=dict(zip(keys, arrays["ticking"], strict=True)),
        lamp_glow=dict(zip(keys, arrays["glow"], strict=True)),
        primary_short=arrays["shorts"],
    )
    return as_noticed(table)


def _write(table: PredictionTable, path: Path) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    keys = [state.key for state in live_states(table.board)]
    partial = path.with_name(f"{path.stem}.{os.getpid()}.partial.npz")
    np.savez_compressed(
        partial,
        low=table.low,
        high=table.high,
        hertz=table.hertz,
        peak=table.peak,
        late=table.late,
        ticking=np.array([table.ticking_hertz[key] for key in keys]),
        glow=np.array([table.lamp_glow[key] for key in keys]),
        shorts=table.primary_short,
    )
    partial.replace(path)
