"""A value against what is printed on the part: farads that are left, ohms that are marked."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.teller import Teller
from loose_rail.kernel.number_words import NUMBER_WORDS
from loose_rail.kernel.observation import Form, Observation

KEEPS_SHARE, LOST_SHARE = 0.8, 0.7
"""Of what is printed on it: electrolytics leave the works with 80 to 120 %, and below 70 % they are
worn (electrical reference section 6) [P]."""
_SAYS = (
    r"(?:marked|print(?:ed|s)?|says?|label\w*|rated|should be|nominal|bands?|code|supposed to be)"
)
_PRINTED = re.compile(
    rf"{_SAYS}:? (\d+(?:[.,]\d+)?) ?([µunp]?)f?\b|^(\d+(?:[.,]\d+)?) ?([µunp])f?(?: |,|/|$)|"
    r"[µun]f (?:left )?(?:of|instead of|for|from) (\d+(?:[.,]\d+)?) ?([µunp]?)f?\b|"
    r"(\d+(?:[.,]\d+)?) ?([µun])f?\b[^,;.]{0,14}\b(?:printed|marked|stamped|nominal|on (?:it|the "
    r"(?:can|sleeve|label)))\b",
    re.IGNORECASE,
)
_FARADS_IN_PLACE = re.compile(r"\b(\d+(?:[.,]\d+)?) ?([µunp])f\b", re.IGNORECASE)


def print_told(note: str, at: str) -> str:
    """The words that tell what is printed on a capacitor: the note, or farads in the name of the
    place (“5 V reservoir 1000 uF 10 V”), which are never what was read."""
    named = _FARADS_IN_PLACE.search(at)
    if _PRINTED.search(note) or named is None:
        return note
    return f"{note} printed {named[0]}".strip()


_TOLD_OHMS = re.compile(
    rf"{_SAYS}(?: (?:says?|is|be|as))?:? (\d[\dRrKkMm.,]*) ?((?:[kKM](?![\w]))?)|"
    r"(\d[\dRrKkMm.,]*) ?((?:[kKM](?![\w]))?) ?(?:ohms?|Ω)? ?(?:is )?(?:printed|marked|on it)"
    r"(?!:? \d)|"
    r"instead of (?:its )?(\d[\dRrKkMm.,]*) ?((?:[kKM](?![\w]))?)"
)
_SIDE_BY_SIDE = re.compile(
    r"\b(two|three|four|five|six|[2-6])(?: pieces)?(?: of| x|×) (\d[\dRrKkMm.,]*) ?([kKM])?"
    r"(?: ?ohms?| ?Ω)?,? (?:side by side|in parallel|parallel)\b",
    re.IGNORECASE,
)
"""“Three of 2.2 ohm side by side”: together a third of it."""


def told_ohms(words: str) -> float | None:
    """What is said to be printed on a resistor, ohms; None where nothing is."""
    together = _SIDE_BY_SIDE.search(words)
    if together is not None:
        count = float(NUMBER_WORDS.get(together[1].lower(), together[1]))
        one = Teller.marked(f"{together[2]}{together[3] or ''}")
        return None if one is None else one / count
    found = _TOLD_OHMS.search(words)
    if found is None:
        return None
    number = (found[1] or found[3] or found[5]).strip(".,")
    letter = found[2] or found[4] or found[6] or ""
    if not letter and re.search(r"ohm|Ω", words[found.start() :]) and number.isdecimal():
        return float(number)
    return Teller.marked(f"{number}{letter}")


def good_in_place(seen: Observation, words: str) -> bool | None:
    """Whether a capacitor of a composed board is good by a reading in place, against what is said
    to be printed on it: what lies beside it only adds farads."""
    return False if seen.unit == "F" and kept_farads(seen, words) is False else None


def kept_farads(seen: Observation, words: str) -> bool | None:
    """A capacitor against what is printed on it; a bare number is microfarads."""
    printed = _PRINTED.search(words)
    if printed is None or seen.form is not Form.VALUE:
        return None
    letter = (printed[2] or printed[4] or printed[6] or printed[8] or "").lower()
    scale = {"n": 1e-9, "p": 1e-12}.get(letter, 1e-6)
    number = (printed[1] or printed[3] or printed[5] or printed[7]).replace(",", ".")
    share = seen.centre / (float(number) * scale)
    if share < LOST_SHARE:
        return False
    return True if share > KEEPS_SHARE else None


_OF_ITS_PRINT = re.compile(
    r"[µunp]f? (?:left )?(?:of|instead of|out of|where|against) (\d+(?:[.,]\d+)?) ?([µunp]?)f?\b",
    re.IGNORECASE,
)


def kept_in_place(seen: Observation, text: str, note: str) -> bool | None:
    """Whether a capacitor that was read where it stands keeps what is printed on it, “22 uF of 150
    uF”; what lies beside it only adds, so that less is less. None where no print is told."""
    told = _OF_ITS_PRINT.search(text)
    if told is None or seen.form is not Form.VALUE:
        beside = re.sub(r"^\s*\d+(?:[.,]\d+)? ?[µunp]?f?\b", "", text, flags=re.IGNORECASE)
        return kept_farads(seen, note if _PRINTED.search(note) else beside)
    scale = {"n": 1e-9, "p": 1e-12}.get(told[2].lower(), 1e-6)
    share = seen.centre / (float(told[1].replace(",", ".")) * scale)
    if share < LOST_SHARE:
        return False
    return True if share > KEEPS_SHARE else None
