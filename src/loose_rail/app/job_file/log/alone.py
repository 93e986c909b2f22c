"""A part measured by itself, out of the board: what its kind shows when it is sound."""

from __future__ import annotations

import re
from collections.abc import Sequence

from loose_rail.app.job_file.log.teller import Teller
from loose_rail.kernel.observation import Form, Observation

SHORT_ALONE_OHMS = 10.0
LEAKY_ALONE_OHMS = 5e3


def alone_good(teller: Teller, parts: Sequence[str], seen: Observation, words: str) -> bool | None:
    """Whether a reading of a part by itself is that of a sound one; None where that is open."""
    if not parts:
        return None
    part = teller.board.component(parts[0])
    kind = part.kind
    marked = re.search(r"marked (\w+)|printed (\w+)", words.lower())
    if kind in ("resistor", "fusible_resistor"):
        if seen.form is Form.OPEN:
            return False
        value = teller.marked(marked[1] or marked[2]) if marked else None
        if value is None:
            return None
        return 0.9 < (seen.centre + 0.2) / (value + 0.2) < 1.1
    if seen.unit == "V":
        if seen.form is Form.OPEN:
            return None if re.search(r"revers|backward", words) else False
        return seen.centre > 0.1
    if seen.form is Form.OPEN:
        return None
    shorted = seen.form is Form.SHORT or seen.centre < SHORT_ALONE_OHMS
    if kind in ("fuse", "transformer", "inductor", "connector"):
        return None
    if shorted:
        return False
    backward = re.search(r"revers|backward", words)
    if backward and kind == "diode":
        return seen.centre > LEAKY_ALONE_OHMS
    return None
