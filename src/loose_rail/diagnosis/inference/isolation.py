"""Which side of the cable a fault lies on is known only from what the other side can't do.

A rail that is wrong under its load may be the supply's fault or the load's, whatever the numbers
say: other boards fail in more ways than the rows about them know. Until something is read that no
other board can cause (a part, the hot side, anything with the main cable off or the start forced),
or seen or done at a part, the power board keeps a doubt; so does another board until the supply was
found sound without it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.profile import Side
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.roles import MAIN_SIGNAL

Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

MOST_UNISOLATED = 0.88
"""What a board may hold at most before the pair with the cable on and off, or its equal, is read
[E]: one set in eight that looks like its supply is not."""
ISOLATES_TIMES = 5.0
"""Likelihood ratio, power board to other boards, of what no other board can cause [E]."""
FLOATS_UP_BY = 0.06
"""A rail that moves and gets so far above a sound one's volts has lost its regulation [P]."""
SOUND = 0
"""The first row is the sound board."""
MOST_LOG, LEAST_LIKELIHOOD = 500.0, 1e-300
"""What an exponent takes, and what stands for never."""
OF_WORDS = ("symptom:", "history:", "runs")
"""Clues that tell no side of the cable: what the customer says, and that the set runs."""


def with_doubt(
    table: PredictionTable,
    chances: Floats,
    evidence: Sequence[Evidence],
    logs: Floats,
    clues: Sequence[Clue],
) -> Floats:
    """The chances `(n_rows,)`, either side's at most MOST_UNISOLATED where nothing isolates it.

    `logs` `(n_evidence, n_rows)` are the log-likelihoods of the readings. What is taken goes to the
    other side by what is usual and by what was said.
    """
    other, power = table.on_other_boards, table.on_this_board
    if not other.any() or not power.any():
        return chances
    told = _Told.of(table, evidence, logs, clues)
    if float(chances[power].sum()) > MOST_UNISOLATED:
        here = chances * power / chances[power].sum()
        there = told.usual(other, told.together)
        gain = _mean_log(here, told.apart) - _mean_log(there, told.apart)
        return _shared(chances, power, told.usual(other), gain + told.of_deeds(here, there))
    boards = other & ~table.on_lamps  # strips and tubes do nothing that is not foreseen
    if float(chances[boards].sum()) > MOST_UNISOLATED:
        there = told.usual(power, told.together)
        here = chances * boards / chances[boards].sum()
        gain = _mean_log(here, told.apart) - _mean_log(there, told.apart)
        rest = power.copy()
        rest[SOUND] = True
        return _shared(chances, boards, told.usual(rest), gain + told.of_deeds(here, there))
    return chances


def _shared(chances: Floats, side: Mask, others: Floats, gain: float) -> Floats:
    """The chances with one side held back, the less the better it is isolated."""
    held = float(chances[side].sum())
    most = 1.0 - (1.0 - MOST_UNISOLATED) * float(np.exp(-max(gain, 0.0)))
    if gain >= np.log(ISOLATES_TIMES) or held <= most:
        return chances
    kept = np.where(side, chances * (most / held), chances)
    return np.asarray(kept + (held - most) * others)


@dataclass(frozen=True)
class _Told:
    """Log-likelihoods `(n_rows,)` of the readings in which no other board has a hand, of all
    others, of the words with the prior, and the clues of what was seen and done."""

    apart: Floats
    together: Floats
    words: Floats
    deeds: tuple[Clue, ...]

    @staticmethod
    def of(
        table: PredictionTable, evidence: Sequence[Evidence], logs: Floats, clues: Sequence[Clue]
    ) -> _Told:
        apart, together = np.zeros(len(table.rows)), np.zeros(len(table.rows))
        numbers = [table.index(item.candidate) for item in evidence]
        # that it asks clears none of its loads: something within has to be read besides
        within = any(_isolates(table.candidates[number]) for number in numbers)
        for item, number, log in zip(evidence, numbers, logs, strict=True):
            isolates = _isolates(table.candidates[number]) or _too_high(table, number, item)
            isolates = isolates or (within and _asks(table, number, item))
            apart, together = (apart + log, together) if isolates else (apart, together + log)
        said = sum((one.log for one in clues if one.key.startswith("symptom:")), table.log_prior)
        deeds = tuple(clue for clue in clues if _tells_a_side(clue))
        return _Told(apart, together, np.asarray(said), deeds)

    def usual(self, side: Mask, read: Floats | float = 0.0) -> Floats:
        """What is usual on one side after the words, and after some readings; sums to 1."""
        log = self.words + read
        weights = np.exp(log - log[side].max()) * side
        return np.asarray(weights / weights.sum())

    def of_deeds(self, here: Floats, there: Floats) -> float:
        """How much more likely what was seen and done is on one side than on the other."""
        return sum(_mean_log(here, one.log) - _mean_log(there, one.log) for one in self.deeds)


def _tells_a_side(clue: Clue) -> bool:
    """Whether a clue was seen or done, at one place: what is said is neither, and warm air goes
    everywhere."""
    warmed = clue.key.startswith("thermal:") and clue.key.endswith(":warmed")
    return not warmed and not clue.key.startswith(OF_WORDS)


def _mean_log(weights: Floats, log: Floats) -> float:
    """Logarithm of the mean of likelihoods over rows."""
    return float(np.log(weights @ np.exp(np.minimum(log, MOST_LOG)) + LEAST_LIKELIHOOD))


def _asks(table: PredictionTable, number: int, item: Evidence) -> bool:
    """Whether a reading shows the main board asking as it should: that is its part. One that does
    not ask may be latched, or its button board dead."""
    candidate = table.candidates[number]
    signals = {MAIN_SIGNAL, *(one.id for one in table.board.signals)}
    if candidate.probe.observable not in signals or candidate.state.power is not Power.ON:
        return False
    return column_of(table, number).judged(item.observation).verdict is Verdict.AGREES


def _too_high(table: PredictionTable, number: int, item: Evidence) -> bool:
    """Whether a rail stands above what a sound one shows: no load lifts it."""
    candidate, column = table.candidates[number], column_of(table, number)
    rail = candidate.probe.live and candidate.probe.rail
    seen = item.observation
    above = seen.form is Form.VALUE and seen.low > float(column.high[0])
    if seen.form in (Form.RANGE, Form.RISING):
        above = seen.high > (1.0 + FLOATS_UP_BY) * float(column.high[0])
    wrong = column.judged(item.observation).verdict is Verdict.DISAGREES
    return bool(rail) and above and wrong


def _isolates(candidate: Candidate) -> bool:
    """Whether no other board has a hand in a reading, or one that may have had is off."""
    probe, state = candidate.probe, candidate.state
    if not probe.live:
        return bool(probe.part)
    if state.without and probe.rail:
        return True  # the other half of the pair, for that board
    return not state.main_cable or probe.side is Side.HOT or state.power is Power.FORCED
