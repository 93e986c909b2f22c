"""A part measured by itself, out of the board: what its kind shows when it is sound."""

from __future__ import annotations

import re
from collections.abc import Sequence

from loose_rail.app.job_file.log.teller import Teller
from loose_rail.kernel.observation import Form, Observation

SHORT_ALONE_OHMS = 10.0
KEEPS_SHARE, LOST_SHARE = 0.8, 0.7
"""Of what is printed on it: electrolytics leave the works with 80 to 120 %, and below 70 % they are
worn (electrical reference section 6) [P]."""
_PRINTED = re.compile(
    r"(?:marked|printed|says|label\w*|rated|should be) (\d+(?:[.,]\d+)?) ?([µun]?)f?\b",
    re.IGNORECASE,
)
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
    if seen.unit == "F":
        return kept_farads(seen, words)
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


def kept_farads(seen: Observation, words: str) -> bool | None:
    """A capacitor against what is printed on it; a bare number is microfarads."""
    printed = _PRINTED.search(words)
    if printed is None or seen.form is not Form.VALUE:
        return None
    scale = 1e-9 if printed[2].lower() == "n" else 1e-6
    share = seen.centre / (float(printed[1].replace(",", ".")) * scale)
    if share < LOST_SHARE:
        return False
    return True if share > KEEPS_SHARE else None
