"""Bayes against brute force, the plan, robustness against slips, verdicts and their proof."""

import math
import subprocess
import sys
import tempfile
import unittest
from itertools import permutations
from pathlib import Path
from unittest import mock

import numpy as np
from hypothesis import example, given, settings, strategies as st

from loose_rail.boards.load import shipped_board
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.symptoms import (
    TICKS,
    Symptom,
    symptom_likelihood,
)
from loose_rail.diagnosis.explain.reasons import reading_weights
from loose_rail.diagnosis.inference.doubt import NOT_ABOVE_SHARE, TOO_HIGH_SHARE
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.diagnosis.inference.likelihood import SLIPS_ABOVE, SLIPS_UP_TO, Column
from loose_rail.diagnosis.inference.posterior import (
    OF_ANOTHER_MAKE,
    agreement_of_degrees,
    bad_probabilities,
    log_prior,
    posterior,
    suspects_of,
)
from loose_rail.diagnosis.inference.predicted import Make
from loose_rail.diagnosis.model import cache
from loose_rail.diagnosis.model.cache import cache_key, table_for
from loose_rail.diagnosis.model.hypotheses import MOST_CHAINS, OUTSIDE, hypotheses_of
from loose_rail.diagnosis.planning.assessment import Purpose
from loose_rail.diagnosis.planning.planner import LEAST_INFORMATION_NATS
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.judgement.spread import scaled
from loose_rail.kernel.entry import read_entry
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from tests.shared import board, engine, table, the

LAMP = BoardState(Power.STANDBY, False, 60)
LAMP_CABLE = BoardState(Power.STANDBY, True, 60)
DRAINED = SafetyFacts(UNPLUGGED, 1.4, False)
COMPLAINT = [Symptom(TICKS, 1.0), Symptom("no_light")]

STORY = (
    ("live.5vs", LAMP_CABLE, "0..0.75@1"),
    ("live.5vs", LAMP, "3.1..4.5@1"),
    ("C21.esr", UNPLUGGED, "1.7"),
)


def evidence(*readings: tuple[str, BoardState, str]) -> list[Evidence]:
    found = []
    for number, (probe, state, text) in enumerate(readings, start=1):
        candidate = f"{probe}@{state.key}"
        unit = table().candidates[table().index(candidate)].probe.unit
        found.append(Evidence(number, candidate, read_entry(text, unit).observation))
    return found


def leader(*readings: tuple[str, BoardState, str]) -> tuple[str, float]:
    first = suspects_of(table(), posterior(table(), evidence(*readings), COMPLAINT))[0]
    return first.key, first.probability


class Hypotheses(unittest.TestCase):
    def test_priors_are_a_distribution_over_distinct_rows(self) -> None:
        rows = hypotheses_of(board())
        self.assertAlmostEqual(sum(row.prior for row in rows), 1.0, places=12)
        self.assertEqual(len({row.key for row in rows}), len(rows))
        self.assertTrue(all(row.prior > 0 for row in rows))

    def test_co_failures_share_out_the_prior_of_their_cause(self) -> None:
        rows = [row for row in hypotheses_of(board()) if row.suspect == "Q1:short"]
        self.assertEqual(len(rows), MOST_CHAINS)
        total = sum(row.prior for row in rows)
        with_fuse = sum(r.prior for r in rows if any(f.ref == "F1" for f in r.faults))
        self.assertAlmostEqual(with_fuse / total, 0.9, delta=0.1)

    def test_chains_and_batches_follow_from_the_table(self) -> None:
        """A clamp that opened takes the switch, which takes the fuse; reservoirs go together."""
        rows = hypotheses_of(shipped_board("PB-2408-1"))
        chains = [[f.suspect for f in row.faults] for row in rows]
        self.assertIn(["D202:open", "Q201:short", "F101:open"], [c[:3] for c in chains])
        dried = [c for c in chains if len(c) > 1 and all(x.endswith(":dried") for x in c)]
        self.assertTrue(any(len(c) == 3 for c in dried))

    @settings(max_examples=30)
    @example(127, 5.0)
    @given(st.integers(0, 10_000), st.floats(0.0, 30.0))
    def test_what_comes_and_goes_is_between_sound_and_broken(self, seed: int, volts: float) -> None:
        """Its likelihood is the mixture of the two, and one good reading never clears it."""
        live = [k for k, c in enumerate(table().candidates) if c.probe.live]
        column = Column(table(), live[seed % len(live)])
        likely = column.likelihood(read_entry(f"{volts:.3f}", "V").observation)
        for row in np.flatnonzero(table().shares < 1.0):
            ends = likely[0], likely[table().index_when_present[row]]
            self.assertGreaterEqual(likely[row], min(ends) * (1 - 1e-9))
            self.assertLessEqual(likely[row], max(ends) * (1 + 1e-9))
            absent = 1.0 - float(table().shares[row])
            self.assertGreaterEqual(likely[row], absent * likely[0] * (1 - 1e-9))


class Likelihoods(unittest.TestCase):
    def test_what_a_fault_does_to_other_rails_is_doubted(self) -> None:
        """Where a row's fault moves the powered board, another reading than predicted stays thrice
        as likely as on a good board, which is not moved."""
        seen = 0
        for number, candidate in enumerate(table().candidates):
            if not candidate.probe.live:
                continue
            column = Column(table(), number)
            alike = column.good & table().disturbed[:, number]
            alike &= np.abs(column.y - column.y[0]) < 0.2 * column.sigma[0]
            volts = 0.6 * float(column.high[0])
            if abs(scaled(volts, candidate.probe.mode) - column.y[0]) < 10 * column.sigma[0]:
                continue
            wrong = read_entry(f"{volts:.3g}", candidate.probe.unit).observation
            likely = column.likelihood(wrong)
            seen += int(alike.sum())
            self.assertTrue((likely[alike] > 3.0 * likely[0]).all(), candidate.key)
        self.assertGreater(seen, 20)

    def test_no_doubt_brings_a_rail_above_its_volts_but_lost_regulation(self) -> None:
        column = Column(table(), table().index(f"live.5vs@{LAMP.key}"))
        likely = column.likelihood(read_entry("7.6", "V").observation)
        number = {row.key: k for k, row in enumerate(table().rows)}
        self.assertLess(likely[number["C21:dried:0"]], 3.0 * likely[0])
        self.assertGreater(likely[number["U3:open:0"]], 10.0 * likely[0])

    @settings(max_examples=60)
    @given(st.integers(0, 10_000), st.floats(0.01, 3e4))
    def test_no_reading_is_ever_impossible(self, seed: int, number: float) -> None:
        column = Column(table(), seed % len(table().candidates))
        entry = read_entry(f"{number:.4f}", "V" if column.probe.unit == "V" else column.probe.unit)
        likely = column.likelihood(entry.observation)
        self.assertTrue((likely > 0).all() and np.isfinite(likely).all())

    def test_densities_integrate_to_one(self) -> None:
        """Over the probe's own scale, for rows with a steady prediction inside its range."""
        column = Column(table(), table().index(f"live.5vs@{LAMP.key}"))
        volts = np.linspace(0, column.range, 6001)
        total = np.zeros(len(table().rows))
        for value in volts:
            total += column.likelihood(read_entry(f"{value:.5f}", "V").observation)
        total *= volts[1] - volts[0]
        steady = column.steady & (column.y > 1.0) & (column.y < 7.0)
        steady &= steady[table().index_when_present]
        self.assertTrue(steady.sum() > 50)
        # no doubt brings a rail above its volts where its regulation is whole: that share is cut,
        # of slips, which lie mostly below a rail
        most = SLIPS_UP_TO * float(column.low[0])
        above = TOO_HIGH_SHARE * float(column.low[0])
        cut = SLIPS_ABOVE * (column.range - above) / (column.range - most)
        peaks = table().peak[:, [c.probe.id == "live.5vs" for c in table().candidates]].max(axis=1)
        whole = np.nan_to_num(peaks) < NOT_ABOVE_SHARE * float(column.low[0])
        lost = np.where(whole, (column.gross - limit("gross_error")) * cut, 0.0)
        np.testing.assert_allclose((total + lost)[steady], 1.0, atol=0.01)

    def test_the_right_row_likes_its_own_reading_best(self) -> None:
        for probe, text, best in (
            ("C21.esr", "1.9", "C21:dried"),
            ("Q1.ds", "0.1", "Q1:short"),
            ("F1.ohms", "OL", "F1:open"),
        ):
            column = Column(table(), table().index(f"{probe}@unplugged"))
            likely = column.likelihood(read_entry(text, "Ω").observation)
            top = likely.max()
            keys = {r.suspect for r, p in zip(table().rows, likely, strict=True) if p > 0.3 * top}
            self.assertIn(best, keys, probe)


class Posterior(unittest.TestCase):
    def test_bayes_by_brute_force(self) -> None:
        weights = np.exp(log_prior(table()))
        for symptom in COMPLAINT:
            weights = weights * symptom_likelihood(table(), symptom)
        worlds = []
        for make, share in ((Make.LISTED, 1.0 - OF_ANOTHER_MAKE), (Make.OTHER, OF_ANOTHER_MAKE)):
            world = share * weights
            for item in evidence(*STORY):
                column = Column(table(), table().index(item.candidate))
                world = world * column.likelihood(item.observation, make)
            worlds.append(world * np.exp(agreement_of_degrees(table(), evidence(*STORY), make)))
        together = np.sum(worlds, axis=0)
        expected = together / together.sum()
        shown = posterior(table(), evidence(*STORY), COMPLAINT)
        np.testing.assert_allclose(shown, expected, rtol=1e-9, atol=1e-15)

    def test_order_of_readings_does_not_matter(self) -> None:
        shown = [posterior(table(), evidence(*order), COMPLAINT) for order in permutations(STORY)]
        for other in shown[1:]:
            np.testing.assert_allclose(other, shown[0], rtol=1e-9, atol=1e-15)

    def test_the_story_ends_at_the_dried_reservoir(self) -> None:
        key, _ = leader(*STORY)
        self.assertEqual(key, "C21:dried")
        probabilities = posterior(table(), evidence(*STORY), COMPLAINT)
        self.assertGreater(bad_probabilities(table(), probabilities)["C21"], 0.99)

    def test_the_pair_tells_the_boards_apart(self) -> None:
        on = ("live.5vs", LAMP_CABLE, "0..0.3@1.2")
        key, probability = leader(on, ("live.5vs", LAMP, "4.99"))
        self.assertEqual(key, "MB:drags")
        self.assertGreater(probability, 0.5)
        key, _ = leader(on, ("live.5vs", LAMP, "0..0.04@1.2"))
        self.assertNotEqual(key, "MB:drags")

    def test_one_slip_never_locks_the_verdict(self) -> None:
        """A misread ESR (a decimal lost) against two good readings, then read again."""
        slip = ("C21.esr", UNPLUGGED, "0.017")
        key, probability = leader(STORY[0], STORY[1], slip)
        share = dict(
            (s.key, s.probability)
            for s in suspects_of(
                table(), posterior(table(), evidence(STORY[0], STORY[1], slip), COMPLAINT)
            )
        )["C21:dried"]
        self.assertGreater(share, 0.02, f"leader {key} {probability}")
        key, _ = leader(STORY[0], STORY[1], slip, STORY[2], STORY[2])
        self.assertEqual(key, "C21:dried")

    def test_readings_that_fit_nothing_lead_outside_the_model(self) -> None:
        odd = [
            ("live.5vs", LAMP, "2.2"),
            ("live.5va", LAMP, "6.9"),
            ("C21.esr", UNPLUGGED, "0.04"),
            ("R22.ohms", UNPLUGGED, "33"),
            ("D9.fwd", UNPLUGGED, "0.61"),
        ]
        self.assertEqual(leader(*odd)[0], OUTSIDE)

    def test_with_no_reading_at_all_it_still_ranks(self) -> None:
        quiet = suspects_of(table(), posterior(table(), [], [Symptom("dead_silent")]))
        ticks = suspects_of(table(), posterior(table(), [], COMPLAINT))
        self.assertEqual(ticks[0].key, "C21:dried")
        self.assertNotEqual(quiet[0].key, ticks[0].key)
        with self.assertRaises(ValueError):
            symptom_likelihood(table(), Symptom("purple"))


class Planning(unittest.TestCase):
    def test_information_against_brute_force(self) -> None:
        """Expected information about the suspect, from the definition."""
        probabilities = posterior(table(), evidence(STORY[0]), COMPLAINT)
        planner = engine().planner
        shown = planner.information(probabilities)
        keys = [row.suspect for row in table().rows]
        for column in (table().index(f"C21.esr@{UNPLUGGED.key}"), 5, 40):
            outcomes = planner.chances[:, column, :]
            before = _entropy(_grouped(keys, probabilities))
            after = 0.0
            for k in range(outcomes.shape[1]):
                joint = probabilities * outcomes[:, k]
                mass = joint.sum()
                if mass > 0:
                    after += mass * _entropy(_grouped(keys, joint / mass))
            self.assertAlmostEqual(shown[column], before - after, delta=0.01 * before)

    def test_outcomes_are_chances(self) -> None:
        total = engine().planner.chances.sum(axis=2)
        np.testing.assert_allclose(total, 1.0, atol=1e-9)

    def test_nothing_unsafe_is_ever_offered(self) -> None:
        unknown = SafetyFacts(BoardState(Power.STANDBY, True, 60), None, False)
        for facts in (DRAINED, unknown):
            for offer in engine().assess([], COMPLAINT, facts).others:
                state = offer.candidate.state
                self.assertTrue(not state.plugged or state.lamp_watts, offer.candidate.key)
                if offer.candidate.probe.mode.needs_dead_board:
                    self.assertFalse(state.plugged)
        free = engine().assess([], [], SafetyFacts(UNPLUGGED, 1.4, True)).others
        self.assertTrue(
            any(o.candidate.state.plugged and not o.candidate.state.lamp_watts for o in free)
        )

    def test_a_point_out_of_reach_is_planned_around(self) -> None:
        first = engine().assess([], COMPLAINT, DRAINED).next_step
        second = (
            engine().assess([], COMPLAINT, DRAINED, [the(first).offer.candidate.probe.id]).next_step
        )
        self.assertNotEqual(
            the(first).offer.candidate.probe.id, the(second).offer.candidate.probe.id
        )

    def test_a_chosen_probe_comes_next_if_it_is_safe(self) -> None:
        key = "R22.ohms@unplugged"
        step = engine().assess([], COMPLAINT, DRAINED, (), key).next_step
        self.assertEqual((the(step).offer.candidate.key, the(step).purpose), (key, Purpose.CHOSEN))
        direct = f"live.5vs@{BoardState(Power.STANDBY, True, 0).key}"
        step = engine().assess([], COMPLAINT, DRAINED, (), direct).next_step
        self.assertNotEqual(the(step).purpose, Purpose.CHOSEN)

    def test_the_same_probe_is_not_asked_for_ever(self) -> None:
        readings: list[tuple[str, BoardState, str]] = []
        asked: list[str] = []
        informed = 0
        for _ in range(12):
            found = engine().assess(evidence(*readings), COMPLAINT, DRAINED)
            if found.next_step is None:
                break
            offer = found.next_step.offer
            if found.next_step.purpose is Purpose.INFORM:
                informed += 1
                self.assertGreater(offer.information, LEAST_INFORMATION_NATS)
            asked.append(offer.candidate.key)
            sound = float(table().low[0, offer.column])
            text = "OL" if math.isinf(sound) else f"{sound:.4g}"
            readings.append((offer.candidate.probe.id, offer.candidate.state, text))
        self.assertTrue(all(asked.count(key) <= 2 for key in asked))
        self.assertGreater(informed, 3)


class Verdicts(unittest.TestCase):
    def test_best_match_until_a_reading_at_the_part_confirms(self) -> None:
        readings = (*STORY[:2], ("U3.ka", UNPLUGGED, "2.27k"))
        before = engine().assess(evidence(*readings), COMPLAINT, DRAINED)
        self.assertEqual(the(before.finding).standing, Standing.BEST_MATCH)
        self.assertEqual(the(before.next_step).purpose, Purpose.CONFIRM)
        self.assertEqual(the(before.next_step).offer.candidate.probe.part, "C21")
        after = engine().assess(evidence(*STORY), COMPLAINT, DRAINED)
        self.assertEqual(the(after.finding).standing, Standing.CONFIRMED)
        self.assertEqual(the(after.finding).confirmed_by, (3,))
        self.assertEqual(the(after.next_step).purpose, Purpose.COMPANION)
        self.assertIn(
            the(after.next_step).offer.candidate.probe.part, dict(the(after.finding).companions)
        )
        reads = ("C22.esr", "0.04"), ("C31.esr", "0.06"), ("C9.esr", "0.6")
        clean = [(probe, UNPLUGGED, text) for probe, text in reads]
        done = engine().assess(evidence(*STORY, *clean), COMPLAINT, DRAINED)
        asked = done.next_step and done.next_step.offer.candidate.probe.id
        self.assertNotIn(asked, [probe for probe, _ in reads])
        self.assertGreater(the(done.finding).probability, 0.97)

    def test_no_verdict_without_the_isolation_pair(self) -> None:
        found = engine().assess(evidence(STORY[0], STORY[2]), COMPLAINT, DRAINED)
        self.assertEqual(the(found.finding).standing, Standing.CONFIRMED)
        self.assertEqual(the(found.next_step).purpose, Purpose.PAIR)
        self.assertFalse(the(found.next_step).offer.candidate.state.main_cable)
        skipped = engine().assess(evidence(STORY[0], STORY[2]), COMPLAINT, DRAINED, ["live.5vs"])
        self.assertTrue(
            skipped.next_step is None or skipped.next_step.offer.candidate.probe.id != "live.5vs"
        )

    def test_a_main_board_is_confirmed_by_its_pair_only(self) -> None:
        pair = evidence(
            ("live.5vs", LAMP_CABLE, "0..0.32@1.2"),
            ("live.5vs", LAMP, "4.99"),
            ("C21.ohms", UNPLUGGED, "17k"),
        )
        found = engine().assess(pair, COMPLAINT, DRAINED).finding
        self.assertEqual((the(found).part, the(found).confirmed_by), ("MB", (1, 2)))

    def test_weights_name_the_readings_that_speak(self) -> None:
        table = engine().table
        dried, drags = reading_weights(table, ["C21:dried", "MB:drags"], evidence(*STORY))
        self.assertGreater(dried[3], 2.0)
        self.assertLess(drags[2], 0.0)


class Cache(unittest.TestCase):
    def test_a_table_comes_back_as_it_was_and_damage_is_rebuilt_elsewhere(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / f"{board().id}-{cache_key(board())[:24]}.npz"
            cache._write(table(), path)
            again = table_for(board(), Path(folder))
            np.testing.assert_array_equal(again.low, table().low)
            np.testing.assert_array_equal(again.primary_short, table().primary_short)
            self.assertEqual(list(path.parent.glob("*.partial*")), [])
            path.write_bytes(b"not a table")
            self.assertIsNone(cache._read(board(), path))

    def test_another_board_has_another_key(self) -> None:
        from msgspec.structs import replace

        self.assertEqual(cache_key(replace(board(), title="other")), cache_key(board()))
        other = replace(board(), mains=replace(board().mains, volts=101.0))
        self.assertNotEqual(cache_key(other), cache_key(board()))

    def test_the_key_covers_every_module_that_a_table_is_made_by(self) -> None:
        """Told by what the modules import in a process of their own."""
        code = (
            "import sys, loose_rail.diagnosis.model.predictions\n"
            "print(*[m for m in sys.modules if m.startswith('loose_rail.')])"
        )
        told = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
        used = [name.removeprefix("loose_rail.") for name in told.stdout.split()]
        self.assertGreater(len(used), 40)
        packages = {name.rpartition(".")[0] for name in used}
        for name in (one for one in used if one not in packages):
            package, _, module = name.rpartition(".")
            whole = package in cache.MODEL_PACKAGES
            single = module in cache.MODEL_MODULES.get(package, ())
            self.assertTrue(whole or single, name)

    def test_another_model_has_another_key(self) -> None:
        before = cache_key(board())
        with mock.patch.object(cache, "models_digest", lambda: b"other models"):
            self.assertNotEqual(cache_key(board()), before)


def _grouped(keys: list[str], probabilities: np.ndarray) -> dict[str, float]:
    sums: dict[str, float] = {}
    for key, p in zip(keys, probabilities, strict=True):
        sums[key] = sums.get(key, 0.0) + float(p)
    return sums


def _entropy(sums: dict[str, float]) -> float:
    return -sum(p * math.log(p) for p in sums.values() if p > 0)
