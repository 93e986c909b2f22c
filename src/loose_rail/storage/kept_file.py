"""One way to read a file that the shop keeps of itself: a damaged one is kept under another name
and told, never silently replaced."""

from __future__ import annotations

from pathlib import Path
from typing import TypeVar

import msgspec

from loose_rail.kernel.errors import StoreError, StoreReadOnlyError
from loose_rail.kernel.files import make_private, read_bounded, write_durably

Kept = TypeVar("Kept", bound=msgspec.Struct)


def read_kept(path: Path, kind: type[Kept], most: int, what: str) -> Kept:
    """What stands in a file, a fresh one where there is none; `what` says what starts afresh.
    Raises StoreReadOnlyError where it can't be read, StoreError for a damaged one, which then lies
    beside it under another name."""
    try:
        return msgspec.json.decode(read_bounded(path, most), type=kind)
    except FileNotFoundError:
        return kind()
    except OSError as error:
        raise StoreReadOnlyError(
            f"{path} can't be read: {error.strerror}.",
            f"It is left as it is; {what} start afresh until it can be.",
        ) from error
    except (msgspec.MsgspecError, ValueError, RecursionError) as error:
        kept = _free_name(path)
        try:
            path.replace(kept)
        except OSError as moving:
            raise StoreReadOnlyError(f"{path} can't be moved: {moving}.") from moving
        raise StoreError(
            f"{path.name} can't be read: {error}.",
            f"It was kept as {kept.name}; {what} start afresh.",
        ) from error


def write_kept(path: Path, value: msgspec.Struct) -> None:
    """Keep it, in one move. Raises StoreReadOnlyError."""
    try:
        make_private(path.parent)
        write_durably(path, msgspec.json.format(msgspec.json.encode(value), indent=1))
    except OSError as error:
        raise StoreReadOnlyError(
            f"{path} can't be written: {error.strerror}.", "Check its folder."
        ) from error


def _free_name(path: Path) -> Path:
    """A name for a damaged file that none has yet: an earlier one is not overwritten."""
    number = 1
    while (kept := path.with_suffix(f".damaged-{number}.json")).exists():
        number += 1
    return kept
