"""Which side of the cable a fault lies on is known only from what the other side can't do.

A rail that is wrong under its load may be the supply's fault or the load's, whatever the numbers
say: other boards fail in more ways than the rows about them know. Until something is read that no
other board can cause (a part, the hot side, anything with the main cable off), or seen or done at a
part, the power board keeps this much of a doubt.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.profile import Side
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.predictions import PredictionTable
from loose_rail.vocabulary.board_state import Power

Floats = NDArray[np.float64]

MOST_UNISOLATED = 0.88
"""What a board may hold at most before the pair with the cable on and off, or its equal, is read
[E]: one set in eight that looks like its supply is not."""
ISOLATES_TIMES = 5.0
"""Likelihood ratio, power board to other boards, of what no other board can cause [E]."""
OF_WORDS = ("symptom:", "history:", "learned")
"""Clues that tell no side of the cable: what the customer says, and what earlier sets had."""


def with_doubt(
    table: PredictionTable,
    chances: Floats,
    evidence: Sequence[Evidence],
    logs: Floats,
    clues: Sequence[Clue],
) -> Floats:
    """The chances `(n_rows,)`, the power board's at most MOST_UNISOLATED where nothing isolates it.

    `logs` `(n_evidence, n_rows)` are the log-likelihoods of the readings. What is taken goes to
    the other boards by what is usual and by what was said.
    """
    other, power = table.on_other_boards, table.on_this_board
    held = float(chances[power].sum())
    if held <= MOST_UNISOLATED or not other.any():
        return chances
    pieces = [
        log
        for item, log in zip(evidence, logs, strict=True)
        if _isolates(table.candidates[table.index(item.candidate)])
    ]
    pieces += [clue.log for clue in clues if not clue.key.startswith(OF_WORDS)]
    here = chances * power / held
    words = sum((clue.log for clue in clues if clue.key.startswith("symptom:")), table.log_prior)
    there = np.exp(words - words[other].max()) * other
    there = there / there.sum()
    gain = sum(
        float(np.log(here @ np.exp(log) + 1e-300) - np.log(there @ np.exp(log) + 1e-300))
        for log in pieces
    )
    if gain >= np.log(ISOLATES_TIMES):
        return chances
    kept = np.where(power, chances * (MOST_UNISOLATED / held), chances)
    return np.asarray(kept + (held - MOST_UNISOLATED) * there)


def _isolates(candidate: Candidate) -> bool:
    """Whether no other board has a hand in a reading."""
    probe, state = candidate.probe, candidate.state
    if not probe.live:
        return bool(probe.part)
    return not state.main_cable or probe.side is Side.HOT or state.power is Power.FORCED
