"""The board as it was at one moment of a told job: power, cables, what is forced, out or unplugged.

A state is said in a few words and holds until the next; what a phrase leaves out stays as it was.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from loose_rail.app.job_file.log.connections import connections
from loose_rail.app.job_file.log.situation_words import (
    ALL_ENABLES,
    ALL_OFF,
    ALL_ON,
    ASKED,
    ASLEEP,
    CHECKED,
    DEAD,
    DUMMY_LOAD,
    FAILING,
    FORCED,
    HELD,
    LAMP,
    LOADS_PLUGGED,
    MAINS_AWAY,
    MAINS_THERE,
    NO_LAMP,
    NOT_FORCED,
    ON,
    PLUG_OUT,
    SHORTHAND,
    SHOWS,
    STANDBY,
)
from loose_rail.boards.profile import Board
from loose_rail.kernel.negation import plain_match
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power

LAMP_WATTS = 60


@dataclass(frozen=True, slots=True)
class Situation:
    """Where the board is: `state` None until one is said. `without` are loads that are unplugged,
    `forced` whether a signal is tied from outside, `cabled` whether that is done with the main
    board plugged, `out` parts that are removed or lifted, `warm` whether the set is said to be hot,
    `failing` whether the fault is said to be there just now, `loaded` whether a dummy load is on,
    `tied` the signal beside the start that is held from outside with the set on.
    """

    state: BoardState | None = None
    without: frozenset[str] = frozenset()
    forced: bool = False
    out: frozenset[str] = frozenset()
    warm: bool = False
    cabled: bool = False
    failing: bool = False
    loaded: bool = False
    tied: str = ""

    @property
    def known(self) -> BoardState | None:
        """The state with the load that is unplugged: the model knows one at a time."""
        if self.state is None or self.state.power is not Power.ON or not self.without:
            return self.state
        return replace(self.state, without=min(self.without))


def brought(
    board: Board, before: Situation, text: str, *, starts: bool = False
) -> Situation | None:
    """The situation after a phrase; None where the phrase says nothing about power or cables.
    `starts`: the set is known to come on, so one that is complete, and no more is said, is on."""
    as_before = re.match(r"(the )?same\b|as before\b", text, re.IGNORECASE)
    found = before if as_before and before.state else _brought(board, before, text, starts)
    if found is None:
        return None
    failing, loaded = bool(FAILING.search(text)), bool(DUMMY_LOAD.search(text))
    return replace(found, failing=failing, loaded=loaded)


def _brought(board: Board, before: Situation, text: str, starts: bool) -> Situation | None:
    words = text.lower().replace("’", "'")
    for short, long in SHORTHAND:
        words = short.sub(long, words)
    said = connections(board, words)
    power = _power(words, said.rest)
    off = said.off
    cable = said.main if said.main is not None else _cable(said.rest)
    behind_lamp = plain_match(LAMP.pattern, NO_LAMP.sub(" ", words)) and not board.adapter_fed
    lamp = LAMP_WATTS if behind_lamp else 0
    warm = bool(re.search(r"\bhot\b|\bwarm\b", words)) and not re.search(r"\bcold\b", words)
    silent = power is None and cable is None and not off and not lamp
    if silent and not re.search(r"\bhot\b|\bwarm\b|\bcold\b|panel open|tester", words):
        return None
    last = before.state or BoardState(Power.STANDBY, True, 0)
    if power is Power.UNPLUGGED:
        return replace(before, state=UNPLUGGED, without=off, forced=False, warm=warm)
    if power is None:
        if last.power is Power.UNPLUGGED and not lamp and not (cable is not None and not off):
            return replace(before, without=before.without | off, warm=warm)
        power = Power.STANDBY if last.power is Power.UNPLUGGED else last.power
        if before.state is None and starts and cable and not lamp and not off:
            power = Power.ON
        lamp = lamp or (0 if NO_LAMP.search(words) else last.lamp_watts)
    forced = power is Power.FORCED
    if forced and off and ALL_ENABLES.search(words) and board.stage("sustain") is not None:
        # with its enables tied too the supply gives what it does in the set, without those boards
        state = BoardState(Power.ON, True, 0)
        return Situation(state, off, True, before.out, warm, cabled=True)
    if power is Power.STANDBY and last.power is Power.ON and FAILING.search(words):
        power = Power.ON  # nobody has switched it off: it failed
    bare = cable is False or bool(DUMMY_LOAD.search(words))
    if power in (Power.ON, Power.STANDBY) and bare and HELD.search(NOT_FORCED.sub(" ", words)):
        power, forced = Power.FORCED, True
    attached = cable if cable is not None else not forced
    if power is Power.ON and not attached:
        power = Power.STANDBY  # without the main board nobody asks
    if forced:
        state = BoardState(Power.FORCED, False, lamp)
    else:
        state = BoardState(power, attached, 0 if power is Power.ON else lamp)
    return Situation(state, off, forced, before.out, warm, forced and attached)


def _power(words: str, rest: str) -> Power | None:
    """What a phrase says of power; `rest` is the phrase without what it says of cables."""
    if FORCED.search(NOT_FORCED.sub(" ", words)):
        return Power.FORCED
    rest = ALL_ON.sub(" ", ALL_OFF.sub(" ", ASLEEP.sub(" standby ", rest)))
    rest = re.sub(
        r"set off(?! the mains)|lamp [\w ]*\blit\b|^(all |switched )?off$", " standby ", rest
    )
    rest = LOADS_PLUGGED.sub(" ", rest)
    if PLUG_OUT.search(words) or CHECKED.search(words):
        return Power.UNPLUGGED
    if MAINS_AWAY.search(rest):
        return Power.UNPLUGGED
    if DEAD.search(rest) and not re.search(r"\bunplugged\b.*\bplugged in\b", rest):
        return Power.UNPLUGGED
    if ASKED.search(rest):
        return Power.ON
    if STANDBY.search(rest) or MAINS_THERE.search(rest):
        return Power.STANDBY
    if SHOWS.search(rest):
        return Power.ON
    if ON.search(rest):
        return Power.ON
    return None


def _cable(words: str) -> bool | None:
    """Whether the main cable is on: None where it is not said."""
    if ALL_OFF.search(words):
        return False
    return True if ALL_ON.search(words) else None


_HOW_IT_STANDS = re.compile(
    r",? ?\b(?:with )?(?:its |the |main |all |other |address |drive |both |no |[xyzw] )*"
    r"(?:cables?|plugs?|boards?|ribbons?|loads?)(?: is| are)? "
    r"(?:on|off|pulled|unplugged|out|connected|disconnected|fitted)\b|"
    r"^(?:the )?(?:power|supply|psu) board(?:'s)?, ?|"
    r" ?\bat the (?:(?:power )?supply(?! (?:pin|capacitor|resistor|rail|side|of)\b)|power board|"
    r"psu)(?: end| side)?\b|,? \b(?:as )?(?:it )?(?:coming |that comes |comes |given |"
    r"sent )?from (?:the )?main(?: ?board)?\b",
    re.IGNORECASE,
)
"""What is told of cables and boards beside a place: it says how the board stands, not where."""


def place_alone(at: str) -> str:
    """A place without what is told beside it of how the board stands."""
    return _HOW_IT_STANDS.sub(" ", at).strip() or at
