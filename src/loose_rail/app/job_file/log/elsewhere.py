"""What was read or seen on other boards, at the wall, or at strips on a tester.

It belongs to those boards and counts for them; it is never booked on this board's nearest point.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from loose_rail.app.job_file.log.situation import loads_named
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.meter_mode import MeterMode

SHORTED_BELOW_OHMS = 30.0
"""A supply pin of another board by itself: below this it loads its rail, above a good board does
not [P]."""
_WALL = re.compile(r"wall|outlet|socket in the wall|mains socket", re.IGNORECASE)
_INLET = re.compile(r"inlet of the set|end of the cord|cord\b|mains lead", re.IGNORECASE)
_STRIP = re.compile(r"\bstrips?\b|\bstrings?\b|\bled bars?\b|strip tester", re.IGNORECASE)
_OTHER = re.compile(
    r"(of|on|at) the (left |right |upper |lower )?(?P<board>[\w ]*board|t-?con)|board'?s socket|"
    r"(?P<own>main|timing|drive|address|buffer|inverter|led driver|y|z|x)[- ]board",
    re.IGNORECASE,
)
_OWN_INPUT = re.compile(r"^(the )?(dc )?input of the board$|^board input$", re.IGNORECASE)
_ARRIVES = re.compile(r"board end|before its fuse|at the timing board|far end", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Other:
    """Something elsewhere: the board's part here (empty where it is none of the model), whether it
    says good, bad or nothing, and what it is in words."""

    part: str
    good: bool | None
    words: str
    fact: str = ""


def other_reading(
    board: Board, at: str, note: str, seen: Observation, mode: MeterMode
) -> Other | None:
    """A reading that is none of this board's; None where it is."""
    if _WALL.search(at):
        dead = mode is not MeterMode.OHMS and abs(seen.centre) < 40.0
        return Other("", None, "the outlet", "outlet_dead" if dead else "")
    if _INLET.search(at) and mode in (MeterMode.AC_VOLTS, MeterMode.OHMS, MeterMode.CONTINUITY):
        broken = seen.form is Form.OPEN if mode is not MeterMode.AC_VOLTS else abs(seen.centre) < 40
        return Other("", None, "the cord", "cord_dead" if broken else "outlet_tried")
    if _STRIP.search(at) and not re.search(r"connector|plug|driver|output", at, re.IGNORECASE):
        strip = next((p.ref for p in board.components if is_a(p, Trait.BACKLIGHT)), "")
        bad = seen.form is Form.OPEN or bool(re.search(r"dark|out\b|not light", note, re.I))
        return Other(strip, False if bad else None, "a strip on the tester")
    if _OWN_INPUT.search(at):
        return None
    found = _OTHER.search(at) or (_OTHER.search(note) if "by itself" in note else None)
    if found is None:
        return None
    part = next(iter(loads_named(board, f"{at} {note}")), "")
    return _of_board(part, at, note, seen, mode)


def _of_board(part: str, at: str, note: str, seen: Observation, mode: MeterMode) -> Other:
    if mode in (MeterMode.OHMS, MeterMode.CONTINUITY):
        if re.search(r"fuse", at, re.IGNORECASE) and not re.search(r"behind|before", at, re.I):
            return Other(part, seen.form is not Form.OPEN and seen.low < 2.0, "its fuse")
        low = seen.form is Form.SHORT or abs(seen.centre) < SHORTED_BELOW_OHMS
        return Other(part, not low, "ohms of its supply, by itself")
    if re.search(r"behind (its|the|that) fuse", at, re.IGNORECASE):
        return Other(part, seen.centre > 0.5, "its supply behind its fuse")
    if _ARRIVES.search(at) or _ARRIVES.search(note):
        return Other(part, None, "its supply arrives")
    return Other(part, None, "read on another board")


def other_part(board: Board, text: str) -> str:
    """The board or lamps elsewhere that words mean, empty where they mean none."""
    if _STRIP.search(text) or re.search(r"led (connector|plug)|\btubes?\b|\blamps?\b", text, re.I):
        lit = [p.ref for p in board.components if is_a(p, Trait.BACKLIGHT)]
        far = [p.ref for p in board.components if p.kind == "load" and p.duty.startswith("lamps")]
        return next(iter([*lit, *far]), "")
    return next(iter(loads_named(board, text)), "")
