"""What a bridge with failed diodes does with each half of the mains period.

With ac1 above ac2 the current goes through d1 and d4, with ac2 above ac1 through d2 and d3. A
shorted diode shorts the mains through its neighbour in the half in which it should block, and
charges the bulk in the other: a half-wave charger with a half-wave short, not a dead short.
Source: circuit theory (textbook).
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.boards.effective_parts import Health
from loose_rail.boards.kinds.bridge import ARMS
from loose_rail.boards.kinds.kind import Effect
from loose_rail.vocabulary.roles import BoardRole


@dataclass(frozen=True, slots=True)
class BridgeState:
    """Share of the half-cycles that charge the bulk, share that the bridge shorts, and whether it
    joins plus to minus."""

    charging: float = 1.0
    shorting: float = 0.0
    bulk_shorted: bool = False


def bridge_state(health: Health) -> BridgeState:
    """The state of a board's bridge; of one that is no bridge of four, nothing is known here."""
    shorted: set[int] = set()
    open_: set[int] = set()
    for fault in health.faults_in(BoardRole.BRIDGE):
        if fault.effect is Effect.BRIDGE:
            shorted |= {ARMS.index(pair) + 1 for pair in fault.pairs if pair in ARMS}
        elif fault.effect is Effect.OPEN:
            open_ |= {int(name[1:]) for name in fault.elements} or {1, 2, 3, 4}
    halves = [_half(shorted, open_, (1, 4), (2, 3)), _half(shorted, open_, (2, 3), (1, 4))]
    return BridgeState(
        charging=0.5 * sum(charges for charges, _ in halves),
        shorting=0.5 * sum(shorts for _, shorts in halves),
        bulk_shorted={1, 3} <= shorted or {2, 4} <= shorted,
    )


def _half(
    shorted: set[int], open_: set[int], way: tuple[int, int], other: tuple[int, int]
) -> tuple[bool, bool]:
    """Whether a half-cycle charges the bulk, and whether the bridge shorts it. `way` are the diodes
    that conduct in it, plus first; `other` those that block."""
    plus, minus = way
    blocks_plus, blocks_minus = other
    shorts = (blocks_plus in shorted and plus not in open_) or (
        blocks_minus in shorted and minus not in open_
    )
    return not shorts and not open_ & {plus, minus}, shorts
