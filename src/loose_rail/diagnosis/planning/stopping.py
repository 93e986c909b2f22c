"""When to stop testing: what it costs to act now, and what the best next reading would save.

Acting on the leading part costs, where it is wrong, the part, the rework, the trial and another
round of diagnosis. A reading is worth taking where the expected loss after it, with its own cost,
is less (value of sample information, textbook). Minutes cost what the shop says.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.planning.planner import Offer, Planner
from loose_rail.judgement.limits import limit

Floats = NDArray[np.float64]


TRIED_BY_ANOTHER = ("cord", "adapter")
TRIED, READ_ALONE = 0.98, 0.997
"""What nobody repairs: another one is tried, and from then on it is known by so much; a board that
hangs on a plug and loads it is read by itself before it is condemned, a minute's work [E]."""
SILENT = 0.96
"""The same of a board that draws nothing it should not and does not do its work: no reading of the
board by itself says more [E]."""


SURE_UNREAD = 0.97
"""From here a part is renewed though a reading at it is still on offer [E]."""
RIVAL = 0.15
"""Where another part may be bad as well by so much, the reading at the first is taken [E]."""
LIT_BY_ANOTHER = 0.995
"""Tubes and strips are condemned by a tester or another one held to the plug, not by the lamp
driver's behaviour alone [P]."""


@dataclass(frozen=True, slots=True)
class ShopCosts:
    """What a shop's time and parts cost; defaults are estimates [E], the shop has its own."""

    per_hour: float = 40.0
    part: float = 2.0
    board: float = 60.0
    rework_minutes: float = 12.0
    trial_minutes: float = 8.0

    @property
    def wrong_repair(self) -> float:
        """What one part replaced in vain costs."""
        return self.in_vain(self.part)

    def in_vain(self, price: float) -> float:
        """What something of a price costs that is fitted, tried, and was not it."""
        minutes = self.rework_minutes + self.trial_minutes
        return price + self.per_hour * minutes / 60.0


@dataclass(frozen=True, slots=True)
class StopAdvice:
    """The loss expected from repairing now, and from taking the next reading first.

    `sure` says that the evidence has a verdict on this part; without one nobody is told to repair,
    however cheap it would be.
    """

    part: str
    probability: float
    now: float
    after_reading: float
    sure: bool

    @property
    def repair_now(self) -> bool:
        """Whether repairing now is the cheaper way."""
        return self.sure and self.now <= self.after_reading


def _at_the_part(offer: Offer | None, part: str) -> bool:
    """Whether the next reading is at the part itself on the drained board: nobody renews a part
    that a minute's reading would have cleared; lifted it is told from what lies beside it."""
    return (
        offer is not None and offer.candidate.probe.part == part and not offer.candidate.probe.live
    )


def _on_its_own_plug(planner: Planner, part: str) -> bool:
    """Whether a part is a board that hangs on a plug of its own: the pair without that plug points
    to it, and a minute's reading of it by itself goes before condemning it."""
    table = planner.table
    return any(c.state.without == part for c in table.candidates) and any(
        c.probe.part == part and c.probe.unplugged and not c.probe.mode.of_lamps
        for c in table.candidates
    )


def stop_advice(
    planner: Planner,
    probabilities: Floats,
    offer: Offer | None,
    costs: ShopCosts,
    finding: Finding | None,
    alone: Collection[str] = (),
) -> StopAdvice | None:
    """Compare acting on the part of the finding, or else the likeliest bad part, with the best
    reading on offer; None without a part. A fuse alone is never acted on: something opened it.
    `alone` are parts that measured bad by themselves."""
    membership, parts = planner.part_rows()
    if not parts:
        return None
    bad = membership @ probabilities
    fuse = np.array([is_a(planner.table.board.component(ref), Trait.FUSE) for ref in parts])
    best = int(np.argmax(np.where(fuse, -1.0, bad)))
    sure = finding is not None and finding.standing is not Standing.UNDECIDED
    if finding is not None and sure:
        best = parts.index(finding.part)
        part = planner.table.board.component(finding.part)
        own_plug = finding.part not in alone and _on_its_own_plug(planner, finding.part)
        if finding.standing is not Standing.CONFIRMED or own_plug:
            tried = part.kind in TRIED_BY_ANOTHER or is_a(part, Trait.BOARD)
            likely = planner.table.rows[int(np.argmax(membership[best] * probabilities))]
            silent = is_a(part, Trait.BOARD) and not any(f.loads_a_rail for f in likely.faults)
            hangs = is_a(part, Trait.BOARD) and part.kind not in TRIED_BY_ANOTHER
            loose = READ_ALONE if hangs and finding.part not in alone else TRIED
            least = SILENT if silent else loose if tried else limit("verdict_probability")
            least = LIT_BY_ANOTHER if is_a(part, Trait.BACKLIGHT) else least
            chance = float(bad[best])
            rival = any(share >= RIVAL for _, share in finding.companions)
            unread = (rival or chance < SURE_UNREAD) and _at_the_part(offer, finding.part)
            sure = chance >= least and not unread
    # a board that another is bought for costs more than a part: it is read once more
    whole = is_a(planner.table.board.component(parts[best]), Trait.BOARD)
    wrong = costs.in_vain(costs.board) if whole else costs.wrong_repair
    now = (1.0 - float(bad[best])) * wrong
    if offer is None:
        return StopAdvice(parts[best], float(bad[best]), now, np.inf, sure)
    joint = (membership * probabilities) @ planner.chances[:, offer.column, :]
    told = float(joint.max(axis=0).sum())
    after = (1.0 - told) * wrong + costs.per_hour * offer.minutes / 60.0
    return StopAdvice(parts[best], float(bad[best]), now, after, sure)
