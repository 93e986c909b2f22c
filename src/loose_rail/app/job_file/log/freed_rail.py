"""Whether a short went with the part that was taken out, by what its rail reads now."""

from __future__ import annotations

import re

_OF_THE_RAIL = re.compile(
    r"\b(line|rail|node|net|pads?|to ground|to gnd|output|input|jack|socket|drain|bulk|primary|"
    r"supply|\d+(?:[.,]\d+)? ?V)\b[^,;]{0,24}?\b(still|now|is|reads|at|climbs|rises|charges|goes|"
    r"jumps|measures|shows|comes|stays|remains|)\b"
    r"[^,;\d]{0,12}?\b(\d+(?:[.,]\d+)?) ?(?:([km]?) ?(?:ohms?|Ω)|([km]))(?!\w)",
    re.IGNORECASE,
)
_NODES = r"(?:rail|line|output|bulk|node|input|jack|socket|pads?|\d+(?:[.,]\d+)? ?V)"
"""Places that a part stands across."""
_SHORT_STAYS = re.compile(
    rf"\b{_NODES}\b[^,;]{{0,14}}\b(still (a )?(short|shorted|low|beeps?)|as (short|"
    rf"low) as (before|ever))\b|"
    r"\bshort\b[^,;]{0,24}\b(stays|remains|still there|is still)\b|still (a )?short (on|at|across)|"
    r"still (a )?short(ed)?( (on|at) (the )?board)?$",
    re.IGNORECASE,
)
_SHORT_GOES = re.compile(
    r"\bshort\b[^,;]{0,32}\b(gone|away|disappears?|vanish\w*)\b|no longer short|"
    r"\b(climbs|charges|rises) freely\b|"
    rf"\b{_NODES}\b[^,;]{{0,14}}\b(is )?(free|clear|no short)\b",
    re.IGNORECASE,
)
_AS_IT_WAS = re.compile(
    r"\bstill\b|as before|no difference|unchanged|\bthe same\b|no change|remains|\bstays\b", re.I
)
_ACROSS = re.compile(
    r"\b(L (?:to|and) N|line to neutral|across the (?:mains|input)|rail|line|bulk|output|pads|"
    r"(?:bridge|board|far|load) side|(?:behind|after) the (?:main )?fuse)\b"
    r"[^,;]{0,24}?\b(OL|open|free|the same|as low|unchanged)\b",
    re.IGNORECASE,
)
AT_THE_PLACE = re.compile(
    r"(?:\b(still|now)\b[^,;\d]{0,12})?\b(\d+(?:[.,]\d+)?) ?(?:([km]?) ?(?:ohms?|Ω)|([km])) "
    r"(?:at|across|on|over|between|from) (?:the )?(?:bulk|rail|line|input|output|jack|socket|"
    r"primary|mains|pads?|main fuse|\d+(?:[.,]\d+)? ?V)\b",
    re.IGNORECASE,
)
FREE_OHMS = 100.0
"""A rail that reads above it with the part out is free of the short that was there [E]."""


def of_the_rail(result: str) -> bool | None:
    """Whether the short was in the part that was taken out, by what its rail reads now: still
    there (the part is good), gone (bad); None where that is not told."""
    if _SHORT_STAYS.search(result):
        return True
    if _SHORT_GOES.search(result):
        return False
    placed = AT_THE_PLACE.search(result)
    if placed is not None:
        return _free_means(placed[2], placed[3] or placed[4], result)
    found = _OF_THE_RAIL.search(result)
    if found is None:
        across = _ACROSS.search(result)
        return None if across is None else across[2].lower() not in ("ol", "open", "free")
    return _free_means(found[3], found[4] or found[5], result)


def _free_means(number: str, scale: str | None, words: str) -> bool | None:
    """What ohms of the place say of the part that was taken out: still low, it is good; free, it
    was bad; low without a “still”, nothing."""
    times = {"k": 1e3, "m": 1e6}.get((scale or "").lower(), 1.0)
    free = float(number.replace(",", ".")) * times > FREE_OHMS
    if _AS_IT_WAS.search(words):
        return None if free else True
    return not free if free else None
