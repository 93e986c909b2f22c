"""The file of the window's state, under the user's state directory."""

from __future__ import annotations

from pathlib import Path

import msgspec

from loose_rail.app.window_state import WindowState
from loose_rail.kernel.files import LARGEST_SMALL_FILE, make_private, read_bounded, write_durably


def read_window_state(path: Path) -> WindowState:
    """How the window stood; the start where that is not known or not readable (nothing of it is
    worth a question)."""
    try:
        return msgspec.json.decode(read_bounded(path, LARGEST_SMALL_FILE), type=WindowState)
    except (OSError, ValueError, msgspec.MsgspecError, RecursionError):
        return WindowState()


def write_window_state(path: Path, state: WindowState) -> None:
    """Keep it. Raises OSError."""
    make_private(path.parent)
    write_durably(path, msgspec.json.encode(state))
