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
        along = [f for f in find_faults(board, link.effect, link.effect_mode) if f.rate > 0.0]
        found.append((along, link.probability))
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
            rate = fault.rate if len(faults) > 1 else fault.rate_alone
            if rate > 0.0:
                yield Hypothesis(fault.suspect, title, faults, rate * probability / total)


def _chains(first: Fault, effects: _Effects) -> dict[tuple[Fault, ...], float]:
    """What may have failed along with a fault, and with it in turn.

    Keys are the faults with the cause first, values relative chances. There is the cause by itself;
    what usually goes along; this set with, or without, each single part that may have gone along or
    not; and each part with all that it then usually takes: so what is read at a part is explained
    by some chain.
    """
    likely, links = _consequences(first, effects)
    if not likely:
        return {(first,): 1.0}
    usual = _grown(frozenset(), first.ref, links)
    by_itself = {ref: _chance(ref, usual, first.ref, links) for ref in likely}
    most_open = sorted(likely, key=lambda ref: abs(by_itself[ref] - 0.5))[:2]
    sets = [usual, usual ^ set(most_open), *(usual ^ {ref} for ref in likely)]
    sets += [_grown(_way(ref, first.ref, links), first.ref, links) for ref in likely]
    reached = {_reached(one, first.ref, links) for one in sets}
    chances = {one: _chance_of(one, first.ref, links) for one in reached if one}
    place = {ref: k for k, ref in enumerate(likely)}  # never by name: a part may be renamed
    order = sorted(chances, key=lambda one: (-chances[one], sorted(place[ref] for ref in one)))
    largest = [one for one in order[: MOST_CHAINS - 1] if chances[one] > 0.0]
    alone = max(
        _chance_of(frozenset(), first.ref, links), LEAST_ALONE * sum(chances[o] for o in largest)
    )
    return {
        (first,): alone,
        **{
            (first, *(likely[ref] for ref in likely if ref in one)): chances[one] for one in largest
        },
    }


_Links = Mapping[str, Mapping[str, float]]
"""For every part that may go along: what takes it along, and how likely."""


def _reached(refs: frozenset[str], first: str, links: _Links) -> frozenset[str]:
    """Those of some parts that have their cause among them: nothing goes along by itself."""
    reached = {first}
    grows = True
    while grows:
        more = {ref for ref in refs if ref not in reached and links[ref].keys() & reached}
        reached |= more
        grows = bool(more)
    return frozenset(reached - {first})


def _grown(refs: frozenset[str], first: str, links: _Links) -> frozenset[str]:
    """Some parts with all that more likely than not went along with them, in turn."""
    for ref in links:  # the nearest first
        if ref not in refs and _chance(ref, refs, first, links) >= 0.5:
            refs |= {ref}
    return refs


def _way(ref: str, first: str, links: _Links) -> frozenset[str]:
    """A part and what leads to it from the first, by the likeliest link each."""
    way: set[str] = set()
    while ref != first and ref not in way:
        way.add(ref)
        ref = max(links[ref], key=lambda cause: links[ref][cause])
    return frozenset(way)


def _consequences(
    first: Fault, effects: _Effects
) -> tuple[dict[str, Fault], dict[str, dict[str, float]]]:
    """Every part that may go along, directly or in turn, with its fault, the nearest first; and
    what takes it along: only what is nearer, so that none takes itself along."""
    found: dict[str, Fault] = {}
    links: dict[str, dict[str, float]] = {}
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
                found[effect.ref] = effect
                links[effect.ref] = {here.ref: share}
                waiting.append((effect, chance))
            elif known.mode == effect.mode and here.ref not in links[effect.ref]:
                order = [first.ref, *found]
                if order.index(here.ref) < order.index(effect.ref):
                    links[effect.ref][here.ref] = share
    return found, links


def _chance(ref: str, along: frozenset[str], first: str, links: _Links) -> float:
    """Of a part to go along where some others did (links are taken for independent: noisy-or,
    textbook)."""
    spared = 1.0
    for cause, share in links[ref].items():
        spared *= 1.0 - share if cause == first or cause in along else 1.0
    return 1.0 - spared


def _chance_of(refs: frozenset[str], first: str, links: _Links) -> float:
    """Of exactly these parts to have gone along."""
    chance = 1.0
    for ref in links:
        share = _chance(ref, refs, first, links)
        chance *= share if ref in refs else 1.0 - share
    return chance
