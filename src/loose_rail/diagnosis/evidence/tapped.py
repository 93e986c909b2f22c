"""Tapping, pressing or flexing at one place of the board, and the fault answered.

A cracked joint answers most where it is, and some way round it, for a board passes the knock on.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from loose_rail.boards.kinds.kind import Effect
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.model.hypotheses import Hypothesis
from loose_rail.diagnosis.model.table import PredictionTable

AT_THE_PART, NEAR_IT, ELSEWHERE, NO_CONTACT = 0.6, 0.2, 0.05, 0.01
"""Chance that a contact answers to a knock at its part, in its section, and elsewhere on the board;
and that what is no contact seems to [E]."""


def tapped_clue(table: PredictionTable, parts: Sequence[str], words: str) -> Clue:
    """The fault came or went with a knock at these parts."""
    sections = {table.board.component(part).section for part in parts}

    def chance(row: Hypothesis) -> float:
        moves = [f for f in row.faults if f.effect is Effect.CONTACT or row.share < 1.0]
        if not moves:
            return NO_CONTACT
        if any(fault.ref in parts for fault in moves):
            return AT_THE_PART
        near = any(table.board.component(fault.ref).section in sections for fault in moves)
        return NEAR_IT if near else ELSEWHERE

    likely = np.array([chance(row) for row in table.rows])
    likely = np.where(np.isnan(table.low[:, 0]), ELSEWHERE, likely)
    key = f"tapped:{'+'.join(parts)}"
    reason = "a cracked joint answers most to a knock where it is"
    return Clue(key, key, words, reason, np.log(likely))
