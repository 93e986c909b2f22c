"""One way to write a small file: whole or not at all, on the disk, for its owner alone; and one way
to read a file that somebody gave: its kind and size are looked at first."""

from __future__ import annotations

import contextlib
import os
import stat
from pathlib import Path

PRIVATE_FILE, PRIVATE_FOLDER = 0o600, 0o700
"""A shop holds customers' names: nobody but its owner reads it."""

LARGEST_SMALL_FILE = 1_000_000
"""Bytes of settings, window state and meter profiles: the largest of ours has 4 kB [E]."""
LARGEST_BOARD = 8_000_000
"""Bytes of a board profile, a netlist or a job file: the largest shipped board has 0.2 MB [E]."""
LARGEST_GIVEN_BOARD = 40_000_000
"""Bytes of a board of another shop, with its photographs in base64 [E]."""
LARGEST_HISTORY = 100_000_000
"""Bytes of what a board was before each of its changes: a thousand changes of 10 kB [E]."""
LARGEST_PHOTO = 60_000_000
"""Bytes of a photograph: a camera of 100 million pixels writes 40 MB of JPEG [E]."""
LARGEST_LOG = 200_000_000
"""Bytes of a meter's log: a sample each 0.1 s for a month has 100 MB [E]."""


class NoPlainFileError(OSError):
    """A pipe, a device or a folder: reading it may never end."""


class TooLargeError(OSError):
    """More bytes than a file of this kind can have."""


def read_bounded(path: Path, most: int) -> bytes:
    """The bytes of a plain file that has at most so many; nothing is read of any other. Raises
    OSError, with its words in `strerror`."""
    handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK)
    with os.fdopen(handle, "rb") as file:
        found = os.fstat(handle)
        if stat.S_ISDIR(found.st_mode):
            raise IsADirectoryError(0, "it is a folder", str(path))
        if not stat.S_ISREG(found.st_mode):
            raise NoPlainFileError(0, "it is no plain file", str(path))
        if found.st_size > most:
            large = f"it has {found.st_size / 1e6:,.0f} MB; at most {most / 1e6:,.0f} MB are read"
            raise TooLargeError(0, large, str(path))
        data = file.read(most + 1)
    if len(data) > most:
        raise TooLargeError(0, f"it grew over {most / 1e6:,.0f} MB while it was read", str(path))
    return data


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
