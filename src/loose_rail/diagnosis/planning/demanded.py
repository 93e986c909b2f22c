"""Readings that are asked for whatever they tell: two that can't both be right once more, and what
must be right before a supply is called good."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.contradictions import contradictions
from loose_rail.diagnosis.inference.odd_parts import odd_parts
from loose_rail.diagnosis.inference.posterior import bad_probabilities
from loose_rail.diagnosis.inference.supply_good import SupplyGood, in_use, rail_reservoirs
from loose_rail.diagnosis.planning.planner import MOST_TIMES, Offer, Planner, reachable
from loose_rail.judgement.safety import SafetyFacts

Floats = NDArray[np.float64]

FORESEEN = 0.5
"""A part that is as likely bad was expected to read so [E]."""


@dataclass(frozen=True)
class Moment:
    """A job at one moment: probabilities of the rows `(n_rows,)`, what safety knows, how often each
    candidate was read, and probes that can't be reached."""

    probabilities: Floats
    facts: SafetyFacts
    taken: Mapping[str, int]
    skipped: Sequence[str]

    def offer(self, planner: Planner, number: int) -> Offer | None:
        """A candidate with its figures, None where it can't be had or was read twice."""
        candidate = planner.table.candidates[number]
        if self.taken.get(candidate.key, 0) >= MOST_TIMES or candidate.probe.id in self.skipped:
            return None
        if not planner.may(number) or not reachable(
            planner.table.board, candidate.state, self.facts
        ):
            return None
        return planner.offer(number, self.probabilities, self.facts, self.taken)


def read_again(planner: Planner, evidence: Sequence[Evidence], moment: Moment) -> Offer | None:
    """The one of two readings that can't both be right which was read less often, the later one
    where that is equal; None where there is no such pair, or each was read twice."""
    table, taken = planner.table, moment.taken
    for pair in contradictions(table, evidence):
        both = sorted((pair.low, pair.high), key=lambda x: (taken[x.candidate], -x.number))
        offer = moment.offer(planner, table.index(both[0].candidate))
        if offer is not None:
            return offer
    return None


def odd_again(planner: Planner, evidence: Sequence[Evidence], moment: Moment) -> Offer | None:
    """The reading at a part that found it out of its limits though nothing foresaw it, once more;
    None where there is none, or it was taken twice."""
    bad = bad_probabilities(planner.table, moment.probabilities)
    for one in odd_parts(planner.table, evidence):
        if one.times < MOST_TIMES and bad.get(one.part, 0.0) < FORESEEN:
            offer = moment.offer(planner, planner.table.index(one.candidate))
            if offer is not None:
                return offer
    return None


def before_good(planner: Planner, supply: SupplyGood, moment: Moment) -> Offer | None:
    """The cheapest reading of a rail that nobody read in use, or else of the ESR at a rail's
    reservoir, before a supply is called good; None where all were read, or none can be had."""
    table = planner.table
    reservoirs = {f"{ref}.esr" for ref in rail_reservoirs(table.board)}
    reservoirs -= {table.candidates[table.index(key)].probe.id for key in moment.taken}
    rails: list[Offer] = []
    others: list[Offer] = []
    for number, candidate in enumerate(table.candidates):
        rail = candidate.probe.rail in supply.unread and in_use(table, number)
        if not rail and candidate.probe.id not in reservoirs:
            continue
        offer = moment.offer(planner, number)
        if offer is not None:
            (rails if rail else others).append(offer)
    return min(rails or others, key=lambda offer: (offer.minutes, offer.column), default=None)
