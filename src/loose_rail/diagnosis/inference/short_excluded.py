"""Whether a short on the primary side is excluded: what full power asks for first.

A bulk that was read behind the lamp proves nothing: with one bridge diode shorted it stands near
its peak there. What clears is the lamp itself, seen dark, the dead board (the bulk's ohms and every
diode of the bridge), or a rail that was read right with nothing in line: a shorted primary would
have opened the fuse. A lamp that was seen to draw forbids full mains whatever was read.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.profile import Board, Side
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict, expected_reading, judge
from loose_rail.judgement.limits import limit
from loose_rail.vocabulary.board_state import UNPLUGGED
from loose_rail.vocabulary.roles import BoardRole

Floats = NDArray[np.float64]

SEEN_DARK = ("dark", "flash_dark")
"""What a lamp in line does where nothing behind it is shorted."""
BRIGHT = "bright"
SEEN_DRAWING = ("glows", "pulses", BRIGHT)
"""What forbids full mains: something behind the lamp draws what it should not."""


COMES_UP_SHARE = 0.6
"""Of its sound volts: a rail that gets there is made from a bulk that holds [E]."""
STANDING_VOLTS = 1.0
"""A rail above it is made by its converter; below, a sound board may read so too in standby [E]."""


def short_excluded(
    table: PredictionTable,
    probabilities: Floats,
    evidence: Sequence[Evidence],
    lamps: Sequence[str] = (),
) -> bool:
    """Proved by the lamp, the dead board or a rail at full mains, and the posterior leaves no room
    for a short.

    `lamps` are the patterns that were seen on the board as it is now, in any of its states: one
    that draws forbids, also where another state stays dark. `evidence` are the readings of the
    board as it is now.
    """
    if any(lamp in SEEN_DRAWING for lamp in lamps):
        return False
    proved = any(lamp in SEEN_DARK for lamp in lamps) or reads_no_short(table, evidence)
    proved = proved or ran_on_mains(table, evidence)
    share = float(probabilities[table.primary_short].sum())
    return proved and share < limit("short_excluded_probability")


def bright_unexplained(
    table: PredictionTable, evidence: Sequence[Evidence], lamps: Sequence[str]
) -> bool:
    """Whether the lamp in line was full bright and the dead board was not read free of shorts:
    then no power at all, not through the lamp either.

    Source: electrical reference section 10 (full bright: a short behind the lamp) [P].
    """
    return BRIGHT in lamps and not reads_no_short(table, evidence)


def proof_keys(board: Board) -> tuple[str, ...]:
    """Candidates that together show a dead board's primary free of shorts: the bulk's ohms, then
    each diode of the bridge."""
    probes = [f"{board.roles[BoardRole.BULK][0]}.ohms"]
    for ref in board.roles.get(BoardRole.BRIDGE, []):
        kind = board.component(ref).kind
        names = ("d1", "d2", "d3", "d4") if kind == "bridge" else ("fwd", "rev")
        probes += [f"{ref}.{name}" for name in names]
    return tuple(f"{probe}@{UNPLUGGED.key}" for probe in probes)


def reads_no_short(table: PredictionTable, evidence: Sequence[Evidence]) -> bool:
    """The bulk's ohms and every diode of the bridge were read, and the last of each is no short."""
    last = {item.candidate: item for item in evidence}
    bulk, *diodes = proof_keys(table.board)
    if bulk not in last or not last[bulk].observation.low > limit("bulk_sound_ohms"):
        return False
    return all(key in last and _reads_good(table, last[key]) for key in diodes)


def ran_on_mains(table: PredictionTable, evidence: Sequence[Evidence]) -> bool:
    """Whether a rail came up to most of its volts with nothing in line with the mains, if only to
    pulse or to be pulled down again: a converter makes no rail out of a shorted bulk, and the fuse
    would be open. And nothing that was read since, at a rail without a limiter or on the dead hot
    side, is wrong: what died on the mains is cleared by no reading from before."""
    ran = False
    for item in evidence:
        candidate = table.candidates[table.index(item.candidate)]
        probe, state = candidate.probe, candidate.state
        on_mains = state.plugged and not state.lamp_watts and bool(probe.rail)
        if on_mains and _comes_up(table, item):
            ran = True
        elif on_mains and _reads_good(table, item):
            ran = ran or item.observation.low > STANDING_VOLTS
        elif on_mains or (not probe.live and probe.side is Side.HOT):
            ran = ran and _reads_good(table, item)
    return ran


def _comes_up(table: PredictionTable, item: Evidence) -> bool:
    column = column_of(table, table.index(item.candidate))
    sound = float(np.nan_to_num(column.high[0]))
    return bool(sound > STANDING_VOLTS and item.observation.high >= COMES_UP_SHARE * sound)


def _reads_good(table: PredictionTable, item: Evidence) -> bool:
    column = column_of(table, table.index(item.candidate))
    sound = expected_reading(table.board, column.probe, float(column.low[0]))
    return judge(column.probe, item.observation, sound).verdict is Verdict.AGREES
