"""What may be wrong: single faults, chains of co-failures, nothing, or something outside the model.

A row is one hypothesis; rows of one suspect (severities, consequences) are shown as one.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from heapq import heappop, heappush

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.co_failures import co_failures_of
from loose_rail.boards.faults import Fault, faults_of, find_faults
from loose_rail.boards.profile import Board, Component

NOTHING = "nothing"
OUTSIDE = "outside"
PRIOR_NOTHING = 0.02
PRIOR_OUTSIDE = 0.02
"""Shares of jobs where the board is sound, or has a fault that is not in the model [E]."""
LEAST_CHAIN = 0.03
MOST_CHAINS, MOST_OPEN = 6, 12
LEAST_ALONE = 0.02
"""Combinations below this chance, and beyond so many, are left out: readings find them anyway. The
cause by itself always stays."""


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """Simultaneous faults with a prior probability. The first fault is the cause."""

    suspect: str
    title: str
    faults: tuple[Fault, ...]
    prior: float

    @property
    def key(self) -> str:
        """Stable key of the row."""
        return "+".join(fault.key for fault in self.faults) or self.suspect

    @property
    def share(self) -> float:
        """Share of the time that the fault is there: 1 but for a contact that comes and goes."""
        return min((fault.share for fault in self.faults), default=1.0)

    @property
    def part(self) -> str:
        """Designator of the causing part, empty for the two rows without one."""
        return self.faults[0].ref if self.faults else ""


def hypotheses_of(board: Board) -> tuple[Hypothesis, ...]:
    """Every row, with priors that sum to 1. The first row is the healthy board."""
    links = co_failures_of(board)
    by_cause: dict[tuple[str, str], list[_Effect]] = {}
    for link in links:
        found = by_cause.setdefault((link.cause, link.cause_mode), [])
        found.append((find_faults(board, link.effect, link.effect_mode), link.probability))
    rows = [row for part in board.components for row in _rows_of_part(part, by_cause)]
    total = sum(row.prior for row in rows)
    share = (1.0 - PRIOR_NOTHING - PRIOR_OUTSIDE) / total
    return (
        Hypothesis(NOTHING, "Nothing wrong with this board", (), PRIOR_NOTHING),
        *(Hypothesis(r.suspect, r.title, r.faults, r.prior * share) for r in rows),
        Hypothesis(OUTSIDE, "Something outside the model", (), PRIOR_OUTSIDE),
    )


def while_present_rows(rows: Sequence[Hypothesis]) -> NDArray[np.intp]:
    """For every row the row that it is like while its fault is there, `(n_rows,)`: itself, but for
    contacts that come and go."""
    number_of = {row.key: number for number, row in enumerate(rows)}
    found = np.arange(len(rows))
    for number, row in enumerate(rows):
        if row.share < 1.0:
            keys = [f"{f.ref}:{f.of}:0" if f.comes_and_goes else f.key for f in row.faults]
            found[number] = number_of["+".join(keys)]
    return found


_Effect = tuple[list[Fault], float]
"""What a fault may bring along, one for each severity, and its probability."""
_Effects = Mapping[tuple[str, str], Sequence[_Effect]]


def _rows_of_part(part: Component, effects: _Effects) -> Iterator[Hypothesis]:
    for fault in faults_of(part):
        title = f"{fault.ref} {fault.title}"
        chains = _chains(fault, effects)
        total = sum(chains.values())
        for faults, probability in chains.items():
            yield Hypothesis(fault.suspect, title, faults, fault.rate * probability / total)


def _chains(first: Fault, effects: _Effects) -> dict[tuple[Fault, ...], float]:
    """What may have failed along with a fault, and with it in turn; rare combinations are left out.

    Keys are the faults with the cause first, values the probability given the cause.
    """
    done: dict[tuple[Fault, ...], float] = {}
    waiting: list[tuple[float, int, tuple[Fault, ...], int]] = [(-1.0, 0, (first,), 0)]
    number = 0
    while waiting and len(done) < MOST_OPEN:
        chance_, _, faults, asked = heappop(waiting)  # the likeliest first
        probability = -chance_
        if asked == len(faults):
            done[faults] = done.get(faults, 0.0) + probability
            continue
        here = faults[asked]
        refs = {fault.ref for fault in faults}
        outcomes: list[tuple[tuple[Fault, ...], float]] = [(faults, probability)]
        for options, share in effects.get((here.ref, here.mode), ()):
            effect = options[min(here.severity, len(options) - 1)]
            if effect.ref in refs:
                continue
            split = [
                option for had, chance in outcomes for option in _split(had, effect, chance, share)
            ]
            outcomes = _likeliest(split)
        for had, chance in outcomes:
            number += 1
            heappush(waiting, (-chance, number, had, asked + 1))
    alone = max(done.pop((first,), 0.0), LEAST_ALONE)
    return {(first,): alone, **_varied(done)}


def _varied(chains: dict[tuple[Fault, ...], float]) -> dict[tuple[Fault, ...], float]:
    """The likeliest chains, and among the first few one with and one without every part that may go
    along: what is read at a part is then explained by some chain, whichever it was."""
    ordered = sorted(chains, key=lambda faults: -chains[faults])
    chosen = ordered[: MOST_CHAINS // 2]
    others = {fault.ref for faults in ordered for fault in faults[1:]}
    for wanted in (False, True):
        for ref in sorted(others, key=lambda r: -sum(chains[c] for c in ordered if _has(c, r))):
            if len(chosen) >= MOST_CHAINS - 1:
                break
            if all(_has(one, ref) is not wanted for one in chosen):
                more = next(
                    (c for c in ordered if _has(c, ref) is wanted and c not in chosen), None
                )
                chosen += [more] if more else []
    chosen += [one for one in ordered if one not in chosen][: MOST_CHAINS - 1 - len(chosen)]
    share = sum(chains.values()) / sum(chains[one] for one in chosen) if chosen else 1.0
    return {one: share * chains[one] for one in chosen}


def _has(faults: tuple[Fault, ...], ref: str) -> bool:
    return any(fault.ref == ref for fault in faults)


def _likeliest(
    outcomes: list[tuple[tuple[Fault, ...], float]],
) -> list[tuple[tuple[Fault, ...], float]]:
    """Those that are not rare against the likeliest: with many links every single outcome is, and
    dropping all of them would leave the cause by itself with the whole chance."""
    ordered = sorted(outcomes, key=lambda one: -one[1])[:MOST_OPEN]
    return [one for one in ordered if one[1] >= LEAST_CHAIN * ordered[0][1]]


def _split(
    had: tuple[Fault, ...], effect: Fault, chance: float, probability: float
) -> list[tuple[tuple[Fault, ...], float]]:
    """Without and with a consequence; a part that has failed already does not fail again."""
    if any(fault.ref == effect.ref for fault in had):
        return [(had, chance)]
    return [(had, chance * (1.0 - probability)), ((*had, effect), chance * probability)]
