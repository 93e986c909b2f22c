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
_SAYS = r"(?:marked|printed?|says?|label\w*|rated|should be|nominal|bands?|code|supposed to be)"
_PRINTED = re.compile(
    rf"{_SAYS}:? (\d+(?:[.,]\d+)?) ?([µunp]?)f?\b|^(\d+(?:[.,]\d+)?) ?([µunp])f?(?: |,|/|$)",
    re.IGNORECASE,
)
_TOLD_OHMS = re.compile(
    rf"{_SAYS}(?: (?:says?|is|be|as))?:? (\d[\dRrKkMm.,]*) ?((?:[kKM](?![\w]))?)|"
    r"(\d[\dRrKkMm.,]*) ?((?:[kKM](?![\w]))?) ?(?:ohms?|Ω)? ?(?:is )?(?:printed|marked|on it)"
)
IN_PLACE_HIGH, IN_PLACE_NEAR = 1.3, 0.9
"""What lies beside a resistor only lowers its reading: above this share of what is printed it has
drifted or is open; near it nothing lies beside it, and it is good [P]."""
LEAKY_ALONE_OHMS = 5e3


def alone_good(teller: Teller, parts: Sequence[str], seen: Observation, words: str) -> bool | None:
    """Whether a reading of a part by itself is that of a sound one; None where that is open."""
    if not parts:
        return None
    part = teller.board.component(parts[0])
    kind = part.kind
    if kind in ("resistor", "fusible_resistor"):
        if seen.form is Form.OPEN:
            return False
        value = told_ohms(words)
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


def told_ohms(words: str) -> float | None:
    """What is said to be printed on a resistor, ohms; None where nothing is."""
    found = _TOLD_OHMS.search(words)
    if found is None:
        return None
    number, letter = (found[1] or found[3]).strip(".,"), found[2] or found[4] or ""
    if not letter and re.search(r"ohm|Ω", words[found.start() :]) and number.isdecimal():
        return float(number)
    return Teller.marked(f"{number}{letter}")


def good_in_place(teller: Teller, part: str, seen: Observation, words: str) -> bool | None:
    """Whether a part of a composed board is good by a reading in place, against what is said to be
    printed on it: what lies beside it only lowers ohms and only adds farads."""
    kind = teller.board.component(part).kind
    if seen.unit == "F":
        return False if kept_farads(seen, words) is False else None
    told = told_ohms(words) if kind in ("resistor", "fusible_resistor") else None
    if told is None or seen.unit != "Ω":
        return None
    if seen.form is Form.OPEN:
        return False
    if seen.form is not Form.VALUE:
        return None
    share = (seen.centre + 0.2) / (told + 0.2)
    if share > IN_PLACE_HIGH:
        return False
    return True if share > IN_PLACE_NEAR else None


def kept_farads(seen: Observation, words: str) -> bool | None:
    """A capacitor against what is printed on it; a bare number is microfarads."""
    printed = _PRINTED.search(words)
    if printed is None or seen.form is not Form.VALUE:
        return None
    scale = {"n": 1e-9, "p": 1e-12}.get((printed[2] or printed[4] or "").lower(), 1e-6)
    share = seen.centre / (float((printed[1] or printed[3]).replace(",", ".")) * scale)
    if share < LOST_SHARE:
        return False
    return True if share > KEEPS_SHARE else None
