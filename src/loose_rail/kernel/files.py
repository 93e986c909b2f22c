"""One way to write a small file: whole or not at all, on the disk, for its owner alone."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path

PRIVATE_FILE, PRIVATE_FOLDER = 0o600, 0o700
"""A shop holds customers' names: nobody but its owner reads it."""


def write_durably(path: Path, data: bytes) -> None:
    """Write a file in one move: a reader sees the old one or the new one, and a power cut leaves
    one of them. Raises OSError; then the old file stands and nothing is left beside it."""
    waiting = path.with_name(f".{path.name}.{os.getpid()}.partial")
    try:
        handle = os.open(waiting, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, PRIVATE_FILE)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        waiting.replace(path)
    except OSError:
        with contextlib.suppress(OSError):
            waiting.unlink()
        raise
    sync_folder(path.parent)


def sync_folder(folder: Path) -> None:
    """Bring the names in a folder to the disk. Raises OSError."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def make_private(folder: Path) -> None:
    """Make a folder, and what is missing above it, for its owner alone; one that exists stays as it
    is. Raises OSError."""
    missing = [one for one in (folder, *folder.parents) if not one.exists()]
    for one in reversed(missing):
        one.mkdir(mode=PRIVATE_FOLDER, exist_ok=True)
