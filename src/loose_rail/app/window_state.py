"""How the window stood when it was last closed: no work of anybody, lost without harm."""

from __future__ import annotations

import msgspec

WINDOW_SCHEMA = "loose-rail/window/1"


class WindowState(msgspec.Struct, frozen=True):
    """`geometry` is the toolkit's own description in base64; `theme` is daylight or night, empty
    where it follows the desktop; `folder` is where a file was last chosen."""

    geometry: str = ""
    theme: str = ""
    folder: str = ""
    schema: str = WINDOW_SCHEMA
