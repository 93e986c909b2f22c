"""Rails that the result of a deed tells: “24.2 V and 12.1 V stand with PS-ON tied”, “12.2 V at
CN1-5, light comes”. They are readings of the board as the deed left it."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.job_file.log.outcomes import outcome
from loose_rail.app.job_file.log.points import place_of
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.boards.probes import Probe, probes_of
from loose_rail.diagnosis.evidence.customer_words import DEAD
from loose_rail.diagnosis.inference.judged import judged
from loose_rail.judgement.judge import Verdict
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.keys import is_ripple
from loose_rail.vocabulary.meter_mode import MeterMode

NEAR_SHARE = 0.08
"""A value this near to a rail's own volts is that rail's, where no point is named [E]."""
_VOLTS = re.compile(r"(?<![\d.,])(\d+(?:[.,]\d+)?) ?v\b(?: (?:at|on) (?:the )?([\w./+-]+))?", re.I)
_BARE = re.compile(
    r"(?<![\w.,/-])(\d+[.,]\d{1,2})(?![\d\w%°/]|[.,]\d| ?(?:m?a|amps?|w|watts?|k|m|h|hours?|s|"
    r"seconds?|"
    r"min|minutes?|days?|times|ohms?|Ω|hz|%|°|x|uf|nf|pf|degrees?|inch)\b)()",
    re.IGNORECASE,
)
"""“24.1 and 12.2 come”: volts without their unit, with a digit behind the point."""
_BEFORE = re.compile(r"([A-Za-z0-9][\w./+-]*) (?:is |at |now |reads |stands at )*$")
_LABEL_GONE = re.compile(
    r"(?: rail)?(?: (?:is|are|was|still|stays|reads|shows|remains))* (?:nothing|zero|0\b|none|"
    r"dead|gone|"
    r"missing|absent|not there|does not come|stays away)",
    re.IGNORECASE,
)
"""“12V still nothing”: the volts are the rail's name, and nothing is what it reads."""
_UP_TO = re.compile(
    r"\b(?P<rail>[A-Za-z0-9][\w./+-]*) (?:(?:comes|gets|goes|only|rises|climbs) )*up to "
    r"(?P<volts>\d+(?:[.,]\d+)?) ?v\b[^.;]{0,16}\b(?:shuts|stops|dies|trips|off|collapses|falls)",
    re.IGNORECASE,
)
"""“VA up to 19 V and shuts down”: the rail that is named tries, and gets no further."""
_ELSEWHERE = re.compile(r"to \d|socket|far end|main board|drops|falls|then|up to|tied|from", re.I)


def _volts_in(result: str) -> list[re.Match[str]]:
    """Where a result tells volts: with their unit, or bare where none has it."""
    return list(_VOLTS.finditer(result)) or list(_BARE.finditer(result))


def read_in_result(
    teller: Teller, result: str, number: int, shown_in: BoardState | None = None
) -> int:
    """Tell every rail whose volts a result names; how many there were. They were read as the board
    is now, or in another state that the result shows."""
    state = shown_in or teller.situation.known
    clauses = [] if shown_in or not _of_the_standby(teller) else by_cable(result)
    if clauses:
        return sum(
            read_in_result(teller, told, number, one) or _same_rail(teller, told, number, one)
            for told, one in clauses
        )
    if state is None or state.power is Power.UNPLUGGED:
        return 0
    state = teller.nearest(state)
    count = _tries(teller, result, state, number)
    for match in _volts_in(result):
        around = result[max(0, match.start() - 8) : match.end() + 8]
        if _ELSEWHERE.search(around):
            continue
        probe = _probe(teller, result, match)
        gone = _LABEL_GONE.match(result[match.end() :])
        seen = human_value("0 V" if gone else f"{match[1]} V", "dc volts", "")
        if probe is None or seen is None or f"{probe.id}@{state.key}" not in teller.keys:
            continue
        teller.read(probe.id, state, seen.observation, number)
        count += 1
    return count


_CABLE_SAID = re.compile(
    r"\b(?:main )?(?:cable|board|plug)s? (?:is )?(?P<way>on|off|out|in|unplugged|connected)\b|"
    r"\b(?P<with>with|without) (?:the )?main (?:board|cable)\b",
    re.IGNORECASE,
)


def _of_the_standby(teller: Teller) -> bool:
    """Whether the rail that was read last stands without being asked for."""
    rails = [one for r in teller.job.live_readings if (one := teller.rail_read(r.probe))]
    return bool(rails) and rails[-1] == teller.board.standby_rail


def _same_rail(teller: Teller, told: str, number: int, state: BoardState) -> int:
    """The volts of the rail that was read last, where they are near to none: how many."""
    probes = [r.probe for r in teller.job.live_readings if teller.rail_read(r.probe)]
    seen = human_value(told, "dc volts", "")
    key = f"{probes[-1]}@{teller.nearest(state).key}" if probes else ""
    if seen is None or key not in teller.keys:
        return 0
    teller.read(probes[-1], teller.nearest(state), seen.observation, number)
    return 1


def by_cable(result: str) -> list[tuple[str, BoardState]]:
    """The clauses of a result that each tell volts with the main cable on or off, and the state of
    each: “cable off 5.08 V; cable on 3.6 V”. None where it tells no such pair."""
    pieces = re.split(r";|, (?=(?:main )?cable|with)", result)
    found = []
    for piece in pieces:
        said = _CABLE_SAID.search(piece)
        if said is None or not _volts_in(piece):
            continue
        away = (said["way"] or "").lower() in ("off", "out", "unplugged")
        off = away or (said["with"] or "").lower() == "without"
        found.append(
            (_CABLE_SAID.sub(" ", piece).strip(" ,:"), BoardState(Power.STANDBY, not off, 0))
        )
    return found if len({state for _, state in found}) > 1 else []


def _tries(teller: Teller, result: str, state: BoardState, number: int) -> int:
    tried = _UP_TO.search(result)
    if tried is None:
        return 0
    place = place_of(teller.board, teller.parts, tried["rail"], "", MeterMode.DC_VOLTS)
    seen = human_value(f"0 to {tried['volts']} V", "dc volts", "")
    if place.probe is None or seen is None or f"{place.probe.id}@{state.key}" not in teller.keys:
        return 0
    teller.read(place.probe.id, state, seen.observation, number)
    return 1


RIGHT_SHARE = 0.06
"""A rail this near to its own volts is right again [E]."""
WRONG_SHARE = 0.15
"""A rail that is named and this far from its own volts is wrong still [E]."""
_TAKEN_BACK = re.compile(
    r"\b(then|but|still|again|until|after|later|though|same|as (ever|before|always))\b|no longer",
    re.IGNORECASE,
)
_BY_NAME = re.compile(
    r"\b([a-z0-9][\w./+-]*) (?:(?:is|now|still|stays|stands|holds|reads|remains|sits|only|just) )*"
    r"(?:at )?(\d+(?:[.,]\d+)?) ?v\b(?! (?:then|to))",
    re.IGNORECASE,
)


def came_of(teller: Teller, result: str) -> bool | None:
    """What came of a deed by the words of its result, held against the rails that it names: where
    words and volts say different things it is not plain."""
    words = outcome(result)
    if words is False and not _TAKEN_BACK.search(result) and right_again(teller, result, False):
        return None
    if words is True and wrong_by_name(teller, result):
        return None
    if words is None and _AT_A_PIN.search(result) and right_again(teller, result, False):
        return True  # “12.0 V at CN2-1”, where it was low
    if words is None and _AT_A_PIN.search(result) and as_wrong_as_before(teller, result):
        return False  # “7.3 V”, where 7.4 V was too much
    return words


_AT_FIRST = re.compile(
    r"\bat first\b|\bbriefly\b|"
    r"\bfor (?:a|one|half a|a few) (?:short )?(?:moment|second|minute|blink)",
    re.IGNORECASE,
)
_AT_A_PIN = re.compile(
    r"^\s*\d+(?:[.,]\d+)? ?v(?: (?:at|on) [a-z]{1,4}\d*[- ]\d+)?"
    r"(?:,? (?:steady|still|and stays|again|now))?\s*$|"
    r"^\s*\d+[.,]\d{1,2}(?: (?:again|now|steady))?\s*$",
    re.IGNORECASE,
)
"""Nothing but the volts of a point."""


AS_BEFORE_SHARE = 0.1
"""A rail that moved by less, and was wrong, is as wrong as it was [E]."""


def as_wrong_as_before(teller: Teller, result: str) -> bool:
    """Whether the only volts that a result tells are those of the rail that was read wrong last."""
    volts = [float(match[1].replace(",", ".")) for match in _volts_in(result)]
    told = [judged(teller.table, reading) for reading in teller.job.live_readings]
    powered = [k for k, (probe, _) in enumerate(told) if probe.live and probe.rail]
    if len(volts) != 1 or not powered:
        return False
    was = teller.job.live_readings[powered[-1]].observation.centre
    wrong = told[powered[-1]][1].verdict is Verdict.DISAGREES
    return wrong and abs(volts[0] - was) < AS_BEFORE_SHARE * abs(was)


def wrong_by_name(teller: Teller, result: str) -> bool:
    """Whether every rail that a result names with its volts is far from them; what a string of LEDs
    needs is not known of a composed board."""
    off = []
    for match in _BY_NAME.finditer(result):
        place = place_of(teller.board, teller.parts, match[1], "", MeterMode.DC_VOLTS)
        rail = None if place.probe is None else teller.board.rail_of(place.probe.rail)
        stage = teller.board.stage(rail.id) if rail is not None else None
        of_lamps = stage is not None and stage.kind == "led" and teller.board.known_by == "own"
        if rail is not None and rail.volts and not of_lamps:
            off.append(abs(float(match[2].replace(",", ".")) / rail.volts - 1.0) > WRONG_SHARE)
    return bool(off) and all(off)


def right_again(teller: Teller, result: str, of_a_dead_set: bool = True) -> bool:
    """Whether a result tells the volts of a rail that was read wrong before, or of a dead set, and
    they are right: “5.02 V” after a new part says that it helped, “at first” takes it back."""
    if _AT_FIRST.search(result):
        return False
    for match in _volts_in(result):
        probe = _probe(teller, result, match)
        rail = None if probe is None else teller.board.rail_of(probe.rail)
        if rail is None or not rail.volts:
            continue
        near = abs(float(match[1].replace(",", ".")) / rail.volts - 1.0) < RIGHT_SHARE
        before = [r for r in teller.job.live_readings if teller.rail_read(r.probe) == rail.id]
        if near and before:
            _, judgement = judged(teller.table, before[-1])
            return judgement.verdict is Verdict.DISAGREES
        if near and of_a_dead_set and DEAD in teller.symptoms:
            return True
    return False


def _probe(teller: Teller, result: str, match: re.Match[str]) -> Probe | None:
    before = _BEFORE.search(result[: match.start()])
    for name in (match[2] or "", before[1] if before else ""):
        if not name:
            continue
        place = place_of(teller.board, teller.parts, name, "", MeterMode.DC_VOLTS)
        if place.probe is not None:
            return place.probe
    volts = float(match[1].replace(",", "."))
    near: list[tuple[float, Probe]] = []
    for probe in probes_of(teller.board):
        rail = teller.board.rail_of(probe.rail) if probe.live else None
        if rail is None or not rail.volts or is_ripple(probe.observable):
            continue
        off = abs(volts / rail.volts - 1.0)
        if off < NEAR_SHARE:
            near.append((off, probe))
    return min(near, key=lambda one: (round(one[0], 4), -len(one[1].id)))[1] if near else None
