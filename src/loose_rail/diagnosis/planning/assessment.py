"""What the evidence says at one moment: suspects, the finding, the offered probe, its purpose."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.evidence.unlisted_clues import named_part, title_of
from loose_rail.diagnosis.inference.finding import Finding
from loose_rail.diagnosis.inference.posterior import Suspect
from loose_rail.diagnosis.inference.supply_good import SupplyGood
from loose_rail.diagnosis.model.hypotheses import OUTSIDE
from loose_rail.diagnosis.planning.exchanged import exchanged
from loose_rail.diagnosis.planning.planner import Offer

Floats = NDArray[np.float64]


class Purpose(StrEnum):
    """Why a probe is offered."""

    INFORM = "inform"
    CONFIRM = "confirm"
    PAIR = "pair"
    CHOSEN = "chosen"
    UNLOCK = "unlock"
    COMPANION = "companion"
    AGAIN = "again"
    CONTRADICTS = "contradicts"
    """Two readings across the same two nets can't both be right."""
    THIRD = "third"
    """Two readings at one point of the dead board said two things: a third decides."""
    ODD = "odd"
    """A part read out of its limits, which nothing foresaw: once more."""
    RAIL = "rail"
    """Before a supply is called good: a rail that was not read in use."""
    OVER_VOLTAGE = "over_voltage"
    USUAL = "usual"
    """Before a best match stands: what ails most often."""
    FUSE = "fuse"
    PROOF = "proof"
    """After a repair: what shows that it works."""


@dataclass(frozen=True, slots=True)
class NextStep:
    """The offered probe, its purpose, and the probability that it will not read as a good board
    does."""

    offer: Offer
    purpose: Purpose
    odd: float


@dataclass(frozen=True, slots=True)
class Assessment:
    """What the evidence says now. `next_step` is None where nothing is left worth reading; `supply`
    says that the supply is good at this level; `at_work` that the set was seen at its work, most
    likely with nothing wrong, so that it is watched instead of read."""

    probabilities: Floats
    suspects: tuple[Suspect, ...]
    finding: Finding | None
    next_step: NextStep | None
    others: tuple[Offer, ...]
    supply: SupplyGood | None = None
    at_work: bool = False


def with_names(board: Board, found: Assessment, clues: Sequence[Clue]) -> Assessment:
    """The assessment in which the row outside the list is called by the part of no list that the
    clues speak for, where they do; what was exchanged and cured the set needs no more readings."""
    known = exchanged(board, found.finding, clues)
    if known is not None:
        found = replace(found, finding=known, next_step=None)
    name, how = named_part(clues)
    if not name:
        return found
    title = title_of(name, how)
    suspects = (replace(s, title=title) if s.key == OUTSIDE else s for s in found.suspects)
    return replace(found, suspects=tuple(suspects))
