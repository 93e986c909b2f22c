"""What may be wrong: single faults, chains of co-failures, nothing, or something outside the model.

A row is one hypothesis; rows of one suspect (severities, consequences) are shown as one.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

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
MOST_CHAINS = 8
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
    """What may have failed along with a fault, and with it in turn.

    Keys are the faults with the cause first, values relative chances. There is the cause by itself;
    all that more likely than not went along; and this set with, or without, each single part that
    may have gone along or not: so what is read at a part is explained by some chain.
    """
    likely, causes = _consequences(first, effects)
    if not likely:
        return {(first,): 1.0}
    mode = frozenset(ref for ref, (_, chance) in likely.items() if chance >= 0.5)
    most_open = sorted(likely, key=lambda ref: abs(likely[ref][1] - 0.5))[:2]
    sets = [mode, mode ^ set(most_open), *(mode ^ {ref} for ref in likely)]
    reached = {_reached(one, first.ref, causes) for one in sets}
    chances = {one: _chance_of(one, likely) for one in reached if one}
    place = {ref: k for k, ref in enumerate(likely)}  # never by name: a part may be renamed
    order = sorted(chances, key=lambda one: (-chances[one], sorted(place[ref] for ref in one)))
    largest = order[: MOST_CHAINS - 1]
    alone = max(_chance_of(frozenset(), likely), LEAST_ALONE * sum(chances.values()))
    return {
        (first,): alone,
        **{
            (first, *(likely[ref][0] for ref in likely if ref in one)): chances[one]
            for one in largest
        },
    }


def _reached(refs: frozenset[str], first: str, causes: Mapping[str, set[str]]) -> frozenset[str]:
    """Those of some parts that have their cause among them: nothing goes along by itself."""
    reached = {first}
    grows = True
    while grows:
        more = {ref for ref in refs if ref not in reached and causes[ref] & reached}
        reached |= more
        grows = bool(more)
    return frozenset(reached - {first})


def _consequences(
    first: Fault, effects: _Effects
) -> tuple[dict[str, tuple[Fault, float]], dict[str, set[str]]]:
    """Every part that may go along, directly or in turn, with its fault and its chance (links are
    taken for independent: noisy-or, textbook), the nearest first; and what each may go with."""
    found: dict[str, tuple[Fault, float]] = {}
    causes: dict[str, set[str]] = {}
    waiting = [(first, 1.0)]
    while waiting:
        here, reached = waiting.pop(0)
        for options, share in effects.get((here.ref, here.mode), ()):
            effect = options[min(here.severity, len(options) - 1)]
            chance = reached * share
            if effect.ref == first.ref or chance < LEAST_CHAIN:
                continue
            known = found.get(effect.ref)
            if known is None:
                found[effect.ref] = (effect, chance)
                causes[effect.ref] = {here.ref}
                waiting.append((effect, chance))
            elif known[0].mode == effect.mode:
                causes[effect.ref].add(here.ref)
                found[effect.ref] = (effect, 1.0 - (1.0 - known[1]) * (1.0 - chance))
    return found, causes


def _chance_of(refs: frozenset[str], likely: dict[str, tuple[Fault, float]]) -> float:
    chance = 1.0
    for ref, (_, share) in likely.items():
        chance *= share if ref in refs else 1.0 - share
    return chance
