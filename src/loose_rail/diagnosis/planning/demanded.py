"""Readings that are asked for whatever they tell: two that can't both be right once more, and what
must be right before a supply is called good."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.contradictions import contradictions
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.odd_parts import odd_parts
from loose_rail.diagnosis.inference.posterior import bad_probabilities
from loose_rail.diagnosis.inference.repeats import says_the_same
from loose_rail.diagnosis.inference.supply_good import (
    SupplyGood,
    in_use,
    rail_reservoirs,
    told_by_ripple,
)
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.planner import MOST_TIMES, Offer, Planner, reachable
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.over_voltage import divider_probes, key_of
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.judgement.spread import scaled, sigma
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.keys import ripple_of, stage_of
from loose_rail.vocabulary.roles import BoardRole

Floats = NDArray[np.float64]

HUM = ripple_of(str(BoardRole.BULK))
"""The point of the AC volts on the bulk."""
FORESEEN = 0.5
"""A part that is as likely bad was expected to read so [E]."""


UNSETTLED = 0.03
"""From this chance on, of either side, it is worth a plug to know which side it is [E]."""
ALIVE_SHARE = 0.05
"""Of what a sound board shows: below it a rail is dead, and its own parts are read first [E]."""
LEADS = 0.25
"""From this chance on a dead rail may be another board's doing: one plug pulled tells [E]."""
LIKELY = 0.7
"""From this chance on a part is measured itself before other readings narrow it further [E]."""
READ_BY_ITSELF = 0.5
"""From this chance on a board on a plug of its own is read by itself: a minute with an ohmmeter
[E]."""
RUNS_SHARE = 0.6
"""A state in which a sound board's rail stands at so much of what it has in use has it running."""


@dataclass(frozen=True)
class Moment:
    """A job at one moment: probabilities of the rows `(n_rows,)`, what safety knows, how often each
    candidate was read, and probes that can't be reached."""

    probabilities: Floats
    facts: SafetyFacts
    taken: Mapping[str, int]
    skipped: Sequence[str]

    def offer(self, planner: Planner, number: int, most: int = MOST_TIMES) -> Offer | None:
        """A candidate with its figures, None where it can't be had or was read `most` times."""
        candidate = planner.table.candidates[number]
        if self.taken.get(candidate.key, 0) >= most or candidate.probe.id in self.skipped:
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


AT_ODDS_SIGMAS = 3.0
"""Two readings of one point further apart contradict each other."""


def at_odds(table: PredictionTable, same: Sequence[Evidence]) -> bool:
    """Whether two readings at one place contradict each other, and no third has been taken."""
    if len(same) != 2:
        return False
    probe = table.candidates[table.index(same[0].candidate)].probe
    first, second = (item.observation for item in same)
    if first.form is not second.form:
        return True
    if not np.isfinite(first.centre + second.centre):
        return False
    gap = scaled(first.centre, probe.mode) - scaled(second.centre, probe.mode)
    return bool(abs(gap) > AT_ODDS_SIGMAS * sigma(table.board, probe, first.centre))


def third(planner: Planner, evidence: Sequence[Evidence], moment: Moment) -> Offer | None:
    """The reading that was taken twice and said two things: a third decides. None where there is
    none such. What a live point does may have changed in between; only of one that stood and was
    gone a third is asked for."""
    table = planner.table
    same: dict[str, list[Evidence]] = {}
    for item in evidence:
        same.setdefault(item.candidate, []).append(item)
    for candidate, taken in same.items():
        number = table.index(candidate)
        if not at_odds(table, taken):
            continue
        if table.candidates[number].probe.live and not _there_and_gone(table, number, taken):
            continue
        if says_the_same(taken[0].observation, taken[1].observation):
            continue
        offer = moment.offer(planner, number, MOST_TIMES + 1)
        if offer is not None:
            return offer
    return None


GONE_SHARE, THERE_SHARE = 0.1, 0.9
"""Of its sound volts: a point is gone below the first, and stands above the second [E]."""


def _there_and_gone(table: PredictionTable, number: int, taken: Sequence[Evidence]) -> bool:
    """Whether a live point stood at its sound volts in one of two readings and was gone in the
    other: one of them was a slip, or it comes and goes."""
    sound = abs(float(np.nan_to_num(table.low[0, number])))
    levels = sorted(abs(one.observation.centre) for one in taken)
    values = all(one.observation.form is Form.VALUE for one in taken)
    return values and levels[0] < GONE_SHARE * sound and levels[1] > THERE_SHARE * sound > 0.0


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


def other_half(planner: Planner, evidence: Sequence[Evidence], moment: Moment) -> Offer | None:
    """The same rail with the main cable off, or with the board unplugged that has a plug of its
    own on it, where it was read wrong with all on and neither side is settled; None where such a
    half was read, or can't be had. A rail that is dead is one only where another board leads: else
    its own parts come first."""
    table = planner.table
    elsewhere = float(moment.probabilities[table.on_other_boards].sum())
    if not UNSETTLED < elsewhere < 1.0 - UNSETTLED:
        return None
    least = 0.0 if elsewhere > LEADS else ALIVE_SHARE
    wrong: dict[str, float] = {}
    halves: set[str] = set()
    for item in evidence:
        number = table.index(item.candidate)
        probe, state = table.candidates[number].probe, table.candidates[number].state
        if not probe.live or not probe.rail or not in_use(table, number):
            continue
        if not state.main_cable or state.without:
            halves.add(probe.id)
            continue
        column = column_of(table, number)
        sound = float(column.high[0])
        right = column.judged(item.observation).verdict is Verdict.AGREES
        if not right and item.observation.high >= least * sound:
            wrong[probe.id] = sound
        else:
            wrong.pop(probe.id, None)
    wrong = {name: volts for name, volts in wrong.items() if name not in halves}
    fed = {(load.rail, load.part) for load in table.board.loads}
    offers = [
        moment.offer(planner, number)
        for number, candidate in enumerate(table.candidates)
        if candidate.probe.id in wrong
        and (
            not candidate.state.main_cable
            or (stage_of(candidate.probe.observable), candidate.state.without) in fed
        )
        and float(table.low[0, number]) > RUNS_SHARE * wrong[candidate.probe.id]
    ]
    had = [offer for offer in offers if offer is not None]
    return min(had, key=lambda offer: (offer.minutes, offer.column), default=None)


def board_by_itself(planner: Planner, moment: Moment) -> Offer | None:
    """The ohms of the supply pin of the likeliest board, by itself, where a board leads as one that
    takes too much, or several on plugs of their own do together; None where none do, or it was
    read."""
    table, main = planner.table, planner.table.board.roles.get(BoardRole.MAIN_LOAD, [])
    pins: dict[str, list[int]] = {}
    for number, one in enumerate(table.candidates):
        if one.probe.unplugged and not one.probe.mode.of_lamps:
            pins.setdefault(one.probe.part, []).append(number)
    held = {ref: moment.probabilities * _loads(table, ref) for ref in pins}
    shares = {ref: float(one.sum()) for ref, one in held.items()}
    part = max(shares, key=lambda ref: (shares[ref], ref), default="")
    together = sum(share for ref, share in shares.items() if ref not in main)
    if not part or (shares[part] if part in main else together) < READ_BY_ITSELF:
        return None
    if any(table.candidates[number].key in moment.taken for number in pins[part]):
        return None
    likely = int(np.argmax(held[part]))
    return moment.offer(planner, min(pins[part], key=lambda k: float(table.low[likely, k])))


def _loads(table: PredictionTable, part: str) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` in which a board takes too much, gathered once for a table."""
    key = f"loads:{part}"
    if key not in table.by_rows:
        table.by_rows[key] = np.array(
            [any(f.ref == part and f.shorts_its_supply for f in row.faults) for row in table.rows]
        )
    found: NDArray[np.bool_] = table.by_rows[key]
    return found


def at_the_likely(planner: Planner, evidence: Sequence[Evidence], moment: Moment) -> Offer | None:
    """The first dead reading at a part that is likely bad and was not read itself: what looks bad
    is measured before anything else. Where its own reading was taken once and says so, that one
    again. None where there is none such."""
    table = planner.table
    read = {table.candidates[table.index(key)].probe.part for key in moment.taken}
    bad = bad_probabilities(table, moment.probabilities)
    part = max(bad, key=lambda ref: (bad[ref], ref), default="")
    if not part or bad[part] < LIKELY:
        return None
    for one in odd_parts(table, evidence):
        if one.part == part and one.times == 1:
            return moment.offer(planner, table.index(one.candidate))
    if part in read:
        return None
    own = [
        number
        for number, candidate in enumerate(table.candidates)
        if candidate.probe.part == part
        and (candidate.probe.in_place or candidate.probe.mode.of_lamps)
    ]
    told = planner.information(moment.probabilities)
    offers = [offer for offer in (moment.offer(planner, k) for k in own) if offer is not None]
    return max(offers, key=lambda offer: (told[offer.column], -offer.column), default=None)


def before_good(
    planner: Planner, supply: SupplyGood, evidence: Sequence[Evidence], moment: Moment
) -> Offer | None:
    """The cheapest reading of a rail that nobody read in use, or else of the AC volts of the bulk
    in use and the ESR at a rail's reservoir, before a supply is called good; None where all were
    read, or none can be had. Half a bridge leaves every rail right and hums: where the bulk does,
    every arm is read. A reservoir that a ceramic beside it hides from the ESR meter is seen by the
    AC volts of its rail."""
    table = planner.table
    read = {table.candidates[table.index(key)].probe.id for key in moment.taken}
    wanted = {f"{ref}.esr" for ref in rail_reservoirs(table.board)}
    ripples = told_by_ripple(table)
    if _hums(table, evidence):
        arms = set(table.board.roles.get(BoardRole.BRIDGE, []))
        cold = (c.probe for c in table.candidates if not (c.probe.live or c.probe.lifted))
        wanted |= {probe.id for probe in cold if probe.part in arms}
    rails: list[Offer] = []
    others: list[Offer] = []
    for number, candidate in enumerate(table.candidates):
        probe = candidate.probe
        rail = probe.rail in supply.unread and in_use(table, number)
        hum = probe.observable == HUM and candidate.state.power is Power.ON
        hum |= number in ripples
        if not rail and (probe.id in read or not (hum or probe.id in wanted)):
            continue
        offer = moment.offer(planner, number)
        if offer is not None:
            (rails if rail else others).append(offer)
    return min(rails or others, key=lambda offer: (offer.minutes, offer.column), default=None)


def _hums(table: PredictionTable, evidence: Sequence[Evidence]) -> bool:
    """Whether the bulk was last read with more AC volts than it should have in use."""
    for item in reversed(evidence):
        number = table.index(item.candidate)
        candidate = table.candidates[number]
        if candidate.probe.observable == HUM and candidate.state.power is Power.ON:
            column = column_of(table, number)
            high = item.observation.centre > float(column.high[0])
            return high and column.judged(item.observation).verdict is not Verdict.AGREES
    return False


IN_PLACE_TIMES = 1.5
"""How much more by the minute a part in place must tell before a divider's leg is lifted [E]."""


def sets_the_voltage(planner: Planner, moment: Moment) -> Offer | None:
    """The next part to read after an over-voltage: what sets that voltage. A reference or a coupler
    that tells far more by the minute in place goes before a leg is lifted."""
    found, table = moment.facts.over_volts, planner.table
    if found is None:
        return None

    def unread(key: str, probe: str) -> bool:
        return key not in moment.taken and probe not in moment.skipped

    probes = tuple(candidate.probe for candidate in table.candidates)
    own = divider_probes(table.board, found, probes)
    left = [table.index(key_of(probe)) for probe in own if unread(key_of(probe), probe.id)]
    if not left:
        return None
    parts = {probes[column].part for column in left}
    free = [
        column
        for column, candidate in enumerate(table.candidates)
        if candidate.probe.part in parts
        and not (candidate.probe.live or candidate.probe.lifted)
        and unread(candidate.key, candidate.probe.id)
    ]
    rate = planner.information(moment.probabilities) / planner.costs.minutes(
        moment.facts, moment.taken
    )
    best = max(free, key=lambda column: float(rate[column]), default=left[0])
    chosen = best if rate[best] > IN_PLACE_TIMES * rate[left[0]] else left[0]
    return planner.offer(chosen, moment.probabilities, moment.facts, moment.taken)


LEAST_TOLD_NATS = 0.01
LOOP_SHARE = 0.3
"""While the parts of the loop hold less of the suspicion, a high reading may be something else."""


def loop_of_a_high_rail(planner: Planner, moment: Moment) -> Offer | None:
    """The dead reading that tells most by the minute of the loop that let a rail run high: it is
    not powered once more to see more of it. None where no rail did, or the loop was read."""
    parts = moment.facts.high_rail_parts
    if not moment.facts.high_rail or not parts:
        return None
    table = planner.table
    own = np.array([row.part in parts for row in table.rows])
    if float(moment.probabilities[own].sum()) < LOOP_SHARE:
        return None
    told = planner.information(moment.probabilities)
    rate = told / planner.costs.minutes(moment.facts, moment.taken)
    free = [
        column
        for column, candidate in enumerate(table.candidates)
        if candidate.probe.part in parts
        and not candidate.probe.live
        and candidate.key not in moment.taken
        and candidate.probe.id not in moment.skipped
        and told[column] > LEAST_TOLD_NATS
    ]
    best = max(free, key=lambda column: float(rate[column]), default=None)
    if best is None:
        return None
    return planner.offer(best, moment.probabilities, moment.facts, moment.taken)
