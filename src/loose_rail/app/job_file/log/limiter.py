"""The lamp in line with the mains: what it did, told as a deed or seen while it is there."""

from __future__ import annotations

import re
from dataclasses import replace

from loose_rail.app.job_file.lamp_in_line import lamp_pattern
from loose_rail.app.job_file.log.entries import Did, Seen
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.jobs import events as ev
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.roles import BoardRole

PLAIN = "standby/bare/lamp60"
"""Where a lamp is in line and nobody says which cables are on."""
_IN_LINE = re.compile(r"\b(in (the )?(line|series)|series|limit\w+|current|test)\b", re.IGNORECASE)
_LAMP = re.compile(
    r"^(the )?(?!inrush|surge|current limit)(\w+ )?(lamp|bulb|limiter)( in (the )?(line|series))?$",
    re.IGNORECASE,
)


def tell_limiter(teller: Teller, words: str, thing: str = "lamp") -> None:
    """What the lamp did, or a resistor as a lamp would, with the board behind it from here on."""
    pattern = lamp_pattern(words)
    lamps = [key for key in teller.table.lamp_glow if "lamp" in key]
    if not pattern or not lamps:
        teller.leave(
            f"lamp in line: {words}", "the lamp is bright, flashes, glows, pulses or is dark"
        )
        return
    known = teller.situation.known
    if known is None or not known.lamp_watts:
        known = BoardState(Power.STANDBY, False, 60)
        teller.situation = replace(teller.situation, state=known)
    key = next((one for one in (known.key, PLAIN) if one in lamps), lamps[0])
    teller.record(ev.ClueNoted("lamp", key, pattern))
    like = "" if thing == "lamp" else "as a lamp that is "
    teller.understand(f"{thing} in line: {like}{pattern.replace('_', ', then ')}")


_FOR_THE_FUSE = re.compile(
    r"\b(?:lamp|bulb|resistor)\b[^,;]*"
    r"\b(?:in (?:the |its )?(?:place|stead) of|instead of|for|across) "
    r"(?:the |its )?(?:\w+ )?fuse\b|"
    r"\bfuse\b[^,;+&]{0,10}\b(?:by|with|for) (?:a |an )?[^,;]*\b(?:lamp|bulb|resistor)\b",
    re.IGNORECASE,
)
_BULB = re.compile(r"\b(?:lamp|bulb)\b", re.IGNORECASE)
_RESISTOR = re.compile(r"\b(?:resistor|\d+ ?(?:ohm|Ω|r)s?)\b", re.IGNORECASE)
_HEAT = (
    (
        r"\b(?:not|never|hardly|barely)\b[^,;]{0,10}\b(?:hot|warm)\b|n't[^,;]{0,10}\b(?:hot|warm)\b",
        "dark",
    ),
    (r"\b(?:stays? |stone |quite )*(?:cold|cool)\b|\bno heat\b", "dark"),
    (r"\b(?:smok\w*|burns?|burnt|glow\w*|red|too hot|very hot|hot|scorch\w*)\b", "bright"),
    (r"\b(?:luke ?)?warm\b", "glows"),
)
"""What a resistor in line does for what a lamp would: it is hot where a lamp is bright [P]."""


def in_place_of_the_fuse(teller: Teller, deed: Did) -> bool:
    """A lamp or a resistor put where the fuse was: first power through it, however the deed is
    called. Whether it was that."""
    limits = deed.deed == "limiter" and _RESISTOR.search(deed.what) is not None
    if not limits and not _FOR_THE_FUSE.search(deed.what):
        return False
    words, thing = deed.result, "lamp"
    if _RESISTOR.search(deed.what) and not _BULB.search(deed.what):
        thing = "resistor"
        for pattern, said in _HEAT:
            words = re.sub(pattern, said, words, flags=re.IGNORECASE)
    if deed.deed == "limiter":
        first_power(teller, replace(deed, result=words), thing)
    else:
        tell_limiter(teller, words, thing)
    return True


def limiter_seen(teller: Teller, entry: Seen) -> bool:
    """Whether a sight is of the lamp in line: it is called so, or it is “the lamp” of a board that
    stands behind one. Else a lamp is one of the set."""
    if not _LAMP.match(entry.at.strip()):
        return False
    known = teller.situation.known
    behind = known is not None and known.lamp_watts > 0
    if not behind and not _IN_LINE.search(entry.at):
        return False
    tell_limiter(teller, entry.text)
    return True


_NEW = re.compile(r"\b(new|fresh|renewed)\b", re.IGNORECASE)
_WHAT_CAME_OUT = ("chip", "ic", "one", "part", "switch", "transistor", "fet", "diode", "capacitor")
"""“New chip”: the one that was taken out."""


def first_power(teller: Teller, deed: Did, thing: str = "lamp") -> None:
    """First power behind a lamp; “new bridge, 60 W lamp in line” tells what was fitted."""
    pieces = [one for one in re.split(r"\band\b|,|\+", deed.what) if _NEW.search(one)]
    bare = [_NEW.sub(" ", one).strip(" ,.").lower() for one in pieces]
    new = [ref for one in bare if one not in _WHAT_CAME_OUT for ref in teller.parts(one)]
    if any(one in _WHAT_CAME_OUT for one in bare):
        new += teller.situation.out or [ref for one in bare for ref in teller.parts(one)]
    new = list(dict.fromkeys(new))
    fuses = teller.board.roles.get(BoardRole.INPUT_FUSE, [])
    if set(new) - set(fuses):  # a fuse alone is no repair
        for part in new:
            teller.record(ev.PartFitted(part))
        teller.situation = replace(teller.situation, out=teller.situation.out - set(new))
        teller.understand(f"{', '.join(teller.name(ref) for ref in new)} renewed")
    tell_limiter(teller, deed.result, thing)
