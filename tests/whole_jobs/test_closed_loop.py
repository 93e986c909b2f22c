"""Whole diagnoses on simulated sets with parts of their own: verdicts, safety, honesty, order."""

import unittest
from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from typing import Any

import numpy as np
from benchmarks.simulated_sets import SimulatedSet, as_row, simulated_sets
from benchmarks.technician import (
    Outcome,
    Rule,
    at_random,
    by_checklist,
    by_information,
    by_plan,
    checklist,
    work_through,
)

from loose_rail.boards.faults import fault_from_key
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.explain.levels import board_level_of, board_shares
from loose_rail.diagnosis.inference.finding import Standing, sure_from
from loose_rail.diagnosis.inference.posterior import posterior
from loose_rail.diagnosis.inference.short_excluded import proof_keys
from loose_rail.diagnosis.model.hypotheses import OUTSIDE
from loose_rail.diagnosis.model.predictions import as_noticed, noticed
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.assessment import Assessment, Purpose
from loose_rail.diagnosis.planning.before_verdict import Closing
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.kernel.entry import read_entry
from loose_rail.vocabulary.board_state import UNPLUGGED, Power, state_of
from tests.material import some
from tests.shared import board, engine, table

FAULTS = (
    "C21:dried:1",
    "Q1:short:0",
    "C27:short:0",
    "D6:short:0",
    "R12:open:0",
    "MB:drags:0",
    "BD1:short:0",
    "F1:open:0",
)
SEED = 41


@cache
def sets() -> tuple[SimulatedSet, ...]:
    """One set for each fault, all parts drawn."""
    known = [(fault_from_key(board(), key),) for key in FAULTS if _exists(key)]
    return tuple(simulated_sets(board(), known, np.random.default_rng(SEED)))


def _exists(key: str) -> bool:
    return any(row.key == key for row in table().rows)


@cache
def went(number: int, rule: Rule = by_plan, gross: float = 0.0) -> Outcome:
    rng = np.random.default_rng((SEED, number))
    return work_through(engine(), sets()[number], [], rule, rng, gross)


class SimulatedSets(unittest.TestCase):
    def test_no_two_sets_read_alike_and_all_read_near_their_row(self) -> None:
        rows = [(fault_from_key(board(), "C21:dried:1"),)] * 3
        drawn = simulated_sets(board(), rows, np.random.default_rng(5))
        column = table().index("C27.esr@unplugged")
        values = {float(one.low[0, column]) for one in drawn}
        self.assertEqual(len(values), 3)
        own = next(k for k, row in enumerate(table().rows) if row.key == "C21:dried:1")
        for one in drawn:
            ratio = one.low[0, column] / table().low[own, column]
            self.assertTrue(0.4 < ratio < 2.5, ratio)

    def test_the_same_seed_draws_the_same_sets(self) -> None:
        rows = [(fault_from_key(board(), "Q1:short:0"),)]
        first, second = (
            simulated_sets(board(), rows, np.random.default_rng(9))[0] for _ in range(2)
        )
        np.testing.assert_array_equal(first.low, second.low)

    def test_a_set_is_a_row_of_its_own(self) -> None:
        """Its owner's view: a good board, and what this very set does."""
        by_key = {row.key: k for k, row in enumerate(table().rows)}
        dead = next(one for one in sets() if one.faults[0].key == "Q1:short:0")
        view = as_row(dead, table(), by_key["Q1:short:0"])
        self.assertEqual(len(view.rows), 2)
        self.assertTrue(noticed(view)[1])
        goes = next(k for k, row in enumerate(table().rows) if row.share < 1.0)
        drawn = simulated_sets(board(), [table().rows[goes].faults], np.random.default_rng(3))[0]
        self.assertEqual(len(as_row(drawn, table(), goes).rows), 3)

    def test_what_nobody_notices_rarely_comes_in(self) -> None:
        again = as_noticed(table())
        self.assertAlmostEqual(sum(row.prior for row in again.rows), 1.0)
        silent = ~noticed(table())
        quiet = [k for k in np.flatnonzero(silent) if table().rows[k].faults]
        self.assertTrue(quiet)
        for number in quiet[:10]:
            self.assertLess(again.rows[number].prior, table().rows[number].prior)


class FollowingThePlan(unittest.TestCase):
    def test_each_fault_is_found_and_nothing_is_unsafe(self) -> None:
        for number, one in enumerate(sets()):
            result = went(number)
            finding = result.assessment.finding
            with self.subTest(one.faults[0].key):
                assert finding is not None
                self.assertEqual(result.unsafe, ())
                self.assertIn(one.faults[0].ref, {finding.part, *finding.twins})
                self.assertIsNot(finding.standing, Standing.UNDECIDED)
                level = board_shares(table(), result.assessment.probabilities)[0].name
                row = next(r for r in table().rows if r.faults[:1] == one.faults[:1])
                self.assertEqual(level, board_level_of(board(), row))

    def test_the_plan_takes_fewer_minutes_than_the_other_rules(self) -> None:
        minutes = {
            rule: sum(went(number, rule).minutes for number in range(some(4, len(sets()))))
            for rule in (by_plan, by_information, at_random, by_checklist)
        }
        self.assertLess(minutes[by_plan], 0.4 * minutes[by_checklist])
        self.assertLess(minutes[by_plan], 0.4 * minutes[at_random])
        self.assertLess(minutes[by_plan], 1.1 * minutes[by_information])

    def test_slips_cost_minutes_and_not_the_verdict(self) -> None:
        """A tenth of the readings wrong, three seeds each: at most two verdicts in 24 go wrong."""
        wrong = 0
        for number, one in enumerate(sets()):
            for seed in range(3):
                rng = np.random.default_rng((seed, number))
                result = work_through(engine(), one, [], by_plan, rng, gross_share=0.1)
                finding = result.assessment.finding
                named = {finding.part, *finding.twins} if finding else set()
                sure = finding is not None and finding.standing is Standing.CONFIRMED
                wrong += sure and one.faults[0].ref not in named
        self.assertLessEqual(wrong, 2)

    def test_the_checklist_has_every_candidate_once_cold_before_live(self) -> None:
        order = checklist(table())
        self.assertEqual(sorted(order.values()), list(range(len(table().candidates))))
        cold = [order[c.key] for c in table().candidates if not c.probe.live]
        live = [order[c.key] for c in table().candidates if c.probe.live]
        self.assertLess(max(cold), min(live))


class WithTheTruthLeftOut(unittest.TestCase):
    def test_a_fault_that_is_not_on_the_list_is_not_confirmed_elsewhere(self) -> None:
        """Best matches may be wrong and say so; at most two of eight are confirmed wrongly."""
        wrong = 0
        for one in sets():
            used = Engine(_without(one.faults[0].ref))
            rng = np.random.default_rng(SEED)
            result = work_through(used, one, [], by_plan, rng, 0.0)
            finding = result.assessment.finding
            wrong += finding is not None and finding.standing is Standing.CONFIRMED
        self.assertLessEqual(wrong, 2)


def _without(ref: str) -> PredictionTable:
    own = table()
    keep = np.array([not any(f.ref == ref for f in row.faults) for row in own.rows])
    rows = [row for row, kept in zip(own.rows, keep, strict=True) if kept]
    total = sum(row.prior for row in rows)
    return replace(
        own,
        rows=tuple(replace(row, prior=row.prior / total) for row in rows),
        low=own.low[keep],
        high=own.high[keep],
        hertz=own.hertz[keep],
        peak=own.peak[keep],
        ticking_hertz={key: values[keep] for key, values in own.ticking_hertz.items()},
        lamp_glow={key: values[keep] for key, values in own.lamp_glow.items()},
        primary_short=own.primary_short[keep],
    )


class BeforeTheVerdict(unittest.TestCase):
    def purposes(self, number: int) -> Sequence[Purpose]:
        """The purposes of the steps of a job, in order."""
        found: list[Purpose] = []

        class Watching(Engine):
            def weigh(self, *args: Any, **named: Any) -> Assessment:
                result = super().weigh(*args, **named)
                if result.next_step is not None:
                    found.append(result.next_step.purpose)
                return result

        used = Watching(table())
        work_through(used, sets()[number], [], by_plan, np.random.default_rng(SEED), 0.0)
        return found

    def test_a_board_verdict_waits_for_the_pair(self) -> None:
        number = next(k for k, s in enumerate(sets()) if s.faults[0].ref == "MB")
        result = went(number)
        keys = [item.candidate for item in _evidence(number)]
        states = {state_of(key.split("@")[1]) for key in keys if key.startswith("live.5v")}
        cables = {state.main_cable for state in states if state.power is Power.STANDBY}
        self.assertEqual(cables, {True, False})
        assert result.assessment.finding is not None
        self.assertGreaterEqual(result.assessment.finding.probability, sure_from(table(), "MB"))
        self.assertGreater(sure_from(table(), "MB"), sure_from(table(), "C21"))

    def test_companions_of_a_shorted_switch_are_read(self) -> None:
        number = next(k for k, s in enumerate(sets()) if s.faults[0].key == "Q1:short:0")
        purposes = self.purposes(number)
        self.assertIn(Purpose.COMPANION, purposes)
        read = {e.candidate.split(".")[0] for e in _evidence(number)}
        self.assertTrue({"F1", "R12"} & read, read)

    def test_full_power_never_before_its_proof(self) -> None:
        """Held against the lamp and the readings of each step, not against the rule's word: the
        lamp had been watched and stayed dark, or bulk and bridge had been read dead. Once it is
        proved, a supply that ticks behind the lamp under a load that drags it, the lamp dark, takes
        nothing back; a lamp that glows does."""
        unlimited = 0
        for number in range(len(sets())):
            readings, proved = _evidence(number), False
            for place, item in enumerate(readings):
                state = state_of(item.candidate.split("@")[1])
                if state.plugged and not state.lamp_watts:
                    unlimited += 1
                    before = readings[:place]
                    self.assertTrue(self.dark(number, before), item.candidate)
                    proved = proved or self.proved(number, before)
                    self.assertTrue(proved, item.candidate)
        self.assertGreater(unlimited, 0)

    def dark(self, number: int, before: list[Evidence]) -> bool:
        return all(sets()[number].lamp_glow[key][0] < 0.03 for key in _behind_the_lamp(before))

    def proved(self, number: int, before: list[Evidence]) -> bool:
        behind, ticking = _behind_the_lamp(before), sets()[number].ticking_hertz
        if any(ticking[key][0] > 0 for key in behind):
            return False
        keys = {item.candidate for item in before}
        return bool(behind) or set(proof_keys(table().board)) <= keys

    def test_two_readings_at_odds_ask_for_a_third(self) -> None:
        key = "R12.ohms@unplugged"
        twice = [
            Evidence(number, key, read_entry(text, "Ω").observation)
            for number, text in enumerate(("OL", "0.25"), start=1)
        ]
        probabilities = posterior(table(), twice, [])
        closing = Closing(
            engine().planner, probabilities, SafetyFacts(UNPLUGGED, 1.4, False), {key: 2}, []
        )
        self.assertEqual(closing.doubtful(["R12"], twice), table().index(key))
        agree = [twice[0], replace(twice[0], number=2)]
        sure = Closing(engine().planner, posterior(table(), agree, []), closing.facts, {key: 2}, [])
        self.assertIsNone(sure.doubtful(["R12"], agree))

    def test_the_row_outside_the_model_is_the_last(self) -> None:
        """Spread clues and warnings lean on it."""
        self.assertEqual(table().rows[-1].suspect, OUTSIDE)


def _behind_the_lamp(readings: list[Evidence]) -> set[str]:
    return {key for item in readings if "/lamp" in (key := item.candidate.split("@")[1])}


def _evidence(number: int) -> list[Evidence]:
    """The readings of a job, by working through it once more with an ear to the engine."""
    heard: list[Evidence] = []

    class Listening(Engine):
        def weigh(self, chances: Any, evidence: Any, *args: Any, **named: Any) -> Assessment:  # type: ignore[override]
            heard[:] = list(evidence)
            return super().weigh(chances, evidence, *args, **named)

    used = Listening(table())
    rng = np.random.default_rng((SEED, number))
    work_through(used, sets()[number], [], by_plan, rng, 0.0)
    return heard


if __name__ == "__main__":
    unittest.main()
