"""What was put on a rail or into a short: a dummy load, a knock, an injected current; and what came
of it."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.boards_behind import loads_named
from loose_rail.app.job_file.log.entries import Did
from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.job_file.log.on_a_tester import tried_on_a_tester
from loose_rail.app.job_file.log.outcomes import outcome
from loose_rail.app.job_file.log.points import place_of
from loose_rail.app.job_file.log.said_kind import on_the_said_rail
from loose_rail.app.job_file.log.situation import brought
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.unlisted import tapped_unlisted, unlisted_part
from loose_rail.boards.profile import Rail
from loose_rail.diagnosis.evidence.deed_clues import held_clue
from loose_rail.diagnosis.evidence.soft_evidence import cleared_clue, located_clue
from loose_rail.diagnosis.evidence.tapped import tapped_clue
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import ticking
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.meter_mode import MeterMode

LOCATES = re.compile(r"\b(warm\w*|hot\w*|heats?|smok\w*|lowest|dries|melts)\b")


NOTHING_FOUND = re.compile(r"\b(no|not|nothing|none|never|neither|nowhere|cold)\b|n't\b")


_INTO_A_BOARD = re.compile(
    r"board'?s (?!plug|connector|cable|socket)|"
    r"\b(into|of|on) the \w+ ?board\b(?!'?s? (plug|connector|cable|socket))",
    re.IGNORECASE,
)


def _located(teller: Teller, deed: Did) -> bool:
    """Current fed into a short, and the part that got warm or where the millivolts are lowest.
    Whether that was told."""
    clauses = re.split(r"[,;.]|\bbut\b|\bwhile\b", deed.result)
    found = [one for one in clauses if LOCATES.search(one.lower())]
    if not found:
        return False
    plain = [one for one in found if not NOTHING_FOUND.search(one.lower())]
    into = _INTO_A_BOARD.search(deed.what)
    far = next(iter(loads_named(teller.board, deed.what)), "") if into else ""
    place = _THERE.sub("", plain[0]) if plain else ""
    parts = (teller.parts(place) or teller.parts(plain[0])) if plain and not far else []
    parts = on_the_said_rail(teller.board, deed.what, parts)
    if plain and far:  # what gets hot is on that board, whatever it is called
        teller.aside(cleared_clue(teller.table, far, good=False), deed.number)
        teller.understand(f"{teller.name(far)}: the current goes there, {plain[0].strip()}")
        return True
    if not plain:  # what does not get warm clears no part for sure
        teller.understand(f"injected {deed.what}: {deed.result}")
        return True
    if not parts and unlisted_part(teller, place):
        teller.understand(f"“{plain[0].strip()}” → there; this model does not have that part")
        return True
    if not parts:
        teller.leave(f"injected {deed.what}: {deed.result}", "which part got warm, or is lowest?")
        return True
    words = f"current fed in at {deed.what}: {deed.result}"
    each = [located_clue(teller.table, part, words) for part in parts]
    teller.aside(teller.spread(each, plain[0].strip()), deed.number)
    some = "" if len(parts) == 1 else f", one of {len(parts)} parts,"
    teller.understand(f"{teller.name(parts[0])}{some} is where the current goes")
    return True


_THERE = re.compile(r"^.*?\b(?:on|at|under|beside|round|over)\b|\b(?:gets?|is|becomes?|goes)\b.*$")
_DROPS = re.compile(
    r"((?:\d+(?:[.,]\d+)? ?v(?:sb)?|[A-Z][\w+-]*)\b) (?:rail )?(?:drops?|goes|cuts|falls|dips)\b",
    re.I,
)


def _dropped(teller: Teller, deed: Did) -> None:
    """A rail that drops out with each tap: it comes and goes."""
    found, state = _DROPS.search(deed.result), teller.situation.known
    if found is None or state is None or state.power is Power.UNPLUGGED:
        return
    place = place_of(teller.board, teller.parts, found[1], "", MeterMode.DC_VOLTS)
    rail = None if place.probe is None else teller.board.rail_of(place.probe.rail)
    state = teller.nearest(state)
    if place.probe is None or rail is None or f"{place.probe.id}@{state.key}" not in teller.keys:
        return
    teller.read(place.probe.id, state, ticking(0.0, rail.volts, "V", None), deed.number)


_WHAT_LOADS = re.compile(
    r"^(a |an |the )?(\d+(?:[.,]\d+)? ?(?:ohms?|Ω|r|k|w|a)\b|dummy|resistor|lamp|bulb|electronic)"
    r"[^,;]*?\b(?:from|between|across|on|at|onto|over|to)\b (?:the )?",
    re.IGNORECASE,
)
_TO_GROUND = re.compile(
    r" (?:to|and|against) (?:the )?(?:cold )?(?:gnd|ground|minus|chassis|return)\b.*", re.IGNORECASE
)
_LOAD = re.compile(r"\b(with|by|through|over)\b.*", re.IGNORECASE)


_TOUCHED = re.compile(
    r"\b(tapp?|knock|flex|wiggl|bend|bent|push|press|squeez|twist|lean|mov)(e|ed|ing|s)?\b"
    r"( (at|on|the|round|near|against|in))*",
    re.IGNORECASE,
)
_BY_WHAT = re.compile(r"\b(with|by) (a|an|the|my)\b.*", re.IGNORECASE)
_ANSWERS = re.compile(
    r"\bdrops?\b|\b(while|as long as|when|whenever|if) (it is |i |you |being )?"
    r"(push|press|held|hold|touch|bent|lean)\w*",
    re.IGNORECASE,
)
"""It does something just while it is touched."""


_AS_IT_WAS = re.compile(
    r"\b(no|not|nothing|none|never|still|same|unchanged|as before|like before|stays?|remains?|"
    r"keeps?)\b|n't\b",
    re.IGNORECASE,
)


def _left_as_it_was(result: str) -> bool:
    """Whether a tap changed nothing: a set that fails just as before does not answer to it."""
    plain = outcome(result) is False and not _ANSWERS.search(result)
    return plain and _AS_IT_WAS.search(result) is not None


def put_on(teller: Teller, deed: Did) -> None:
    """A dummy load, a tap, an injected supply: told, and what the rail did then."""
    if tried_on_a_tester(teller, deed.what, deed.result, deed.number):
        return
    forces = re.search(
        r"\b(tied|forced|jumper\w*|bridged|linked)\b|\bto (the )?\+?\w*vsb|1 ?k\b", deed.what, re.I
    )
    if forces or re.search(r"plugged|cable (on|off)|board off|standby", deed.what.lower()):
        teller.bring(brought(teller.board, teller.situation, deed.what))
    tapped = _TOUCHED.search(deed.what)
    if tapped and _left_as_it_was(deed.result):
        teller.understand(f"“{deed.what}”: {deed.result}; it does not answer to that")
        return
    if tapped and (outcome(deed.result) is not None or _ANSWERS.search(deed.result)):
        _dropped(teller, deed)
        parts = teller.parts(_BY_WHAT.sub("", _TOUCHED.sub(" ", deed.what)))
        if parts:
            teller.aside(
                tapped_clue(teller.table, parts, f"{deed.what}: {deed.result}"), deed.number
            )
        else:
            touched = _BY_WHAT.sub("", _TOUCHED.sub(" ", deed.what))
            tapped_unlisted(teller, touched, deed.result, deed.number)
        if "tapping_helps" not in teller.symptoms:
            teller.symptoms.add("tapping_helps")
            teller.record(ev.SymptomNoted("tapping_helps", deed.result))
        teller.understand(f"“{deed.what}”: {deed.result}")
        return
    if deed.deed == "injected" and _located(teller, deed):
        return
    volts = re.search(r"(\d+(?:\.\d+)?) ?v\b", deed.result, re.IGNORECASE)
    volts = volts or (_BARE_VOLTS.search(deed.result) if deed.deed == "loaded" else None)
    at = _TO_GROUND.sub("", _LOAD.sub("", _WHAT_LOADS.sub("", deed.what)).split(",")[0]).strip()
    place = place_of(teller.board, teller.parts, at, "", MeterMode.DC_VOLTS)
    asleep = teller.situation.state is not None and teller.situation.state.power is Power.STANDBY
    rail = None if place.probe is None else teller.board.rail_of(place.probe.rail)
    if deed.deed == "loaded" and volts and asleep and rail is not None and rail.id != "standby":
        teller.bring(brought(teller.board, teller.situation, "forced, cable off"))
    if volts and place.probe is not None and teller.situation.known is not None:
        state = teller.nearest(teller.situation.known)
        value = human_value(f"{volts[1]} V", "dc volts", deed.result)
        if value is not None and f"{place.probe.id}@{state.key}" in teller.keys:
            teller.read(place.probe.id, state, value.observation, deed.number)
        if deed.deed == "loaded":
            held(teller, rail, float(volts[1]), f"{deed.what}: {deed.result}", deed.number)
    teller.understand(f"{deed.deed} {deed.what}: {deed.result}")


_BARE_VOLTS = re.compile(
    r"(?<![\w.])(\d{1,3}(?:\.\d+)?)(?![\w.]| ?(?:ohms?|Ω|a|amps?|w|watts?|k|s|seconds?|"
    r"min\w*|h|hours?|%|times)\b)",
    re.IGNORECASE,
)
"""“12.0, holds”: what a loaded rail read, without its unit."""
HELD_SHARE = 0.06
"""A regulated rail that gives way by less than this under a load holds [E]."""


_SAGS = re.compile(r"\b(sags?|sinks?|drops?|falls?|then|dips?|trips?|pumps?|ticks?)\b")


def held(teller: Teller, rail: Rail | None, volts: float, words: str, number: int) -> None:
    """A rail that stands at its volts under a dummy load: that supply is nearly cleared. `number`
    is the entry's, `words` what is told of it."""
    if rail is None or not rail.volts or _SAGS.search(words.lower()):
        return
    if abs(volts / rail.volts - 1.0) < HELD_SHARE:
        teller.aside(held_clue(teller.table, rail.id, words), number)
