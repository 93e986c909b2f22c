"""Clues with reasons, customers' words, history, learning, slips, branches, stopping, soaking."""

import math
import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.boards.conditions import esr_over_temperature, life_hours, under
from loose_rail.boards.load import shipped_board
from loose_rail.boards.typical import part_esr_ohms, part_farads
from loose_rail.diagnosis.evidence.customer_words import proposal_words, proposals
from loose_rail.diagnosis.evidence.history import history_facts
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.soak import clean_share, hours_to_catch
from loose_rail.diagnosis.evidence.soft_evidence import (
    LAMP_PATTERNS,
    MOST_RATIO_OF_FAMILY,
    Clue,
    cleared_clue,
    disconnected_clue,
    finding_clue,
    finding_key,
    findings,
    history_clue,
    joint_log,
    lamp_clue,
    replaced_clue,
    symptom_clue,
)
from loose_rail.diagnosis.evidence.symptoms import Symptom, kinds
from loose_rail.diagnosis.explain.levels import LAMPS, POWER_BOARD, board_shares, section_shares
from loose_rail.diagnosis.explain.measurement_errors import slips_of
from loose_rail.diagnosis.explain.reasons import contrast, reasons_for, would_clear
from loose_rail.diagnosis.inference.finding import Standing, finding_of
from loose_rail.diagnosis.inference.posterior import (
    bad_probabilities,
    log_prior,
    posterior,
    suspects_of,
)
from loose_rail.diagnosis.inference.shop_history import (
    ClosedJob,
    counts_of,
    learned_clue,
)
from loose_rail.diagnosis.inference.short_excluded import SEEN_DRAWING, short_excluded
from loose_rail.diagnosis.planning.assessment import Purpose
from loose_rail.diagnosis.planning.intermittent import looks_to_catch, soak_plan
from loose_rail.diagnosis.planning.look_ahead import Branch, Moment, look_ahead
from loose_rail.diagnosis.planning.stopping import ShopCosts, stop_advice
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.kernel.entry import read_entry
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from tests.shared import board, engine, table, the

LAMP = BoardState(Power.STANDBY, False, 60)
LAMP_CABLE = BoardState(Power.STANDBY, True, 60)
ON = BoardState(Power.ON, True, 0)
DRAINED = SafetyFacts(UNPLUGGED, 1.4, False)


def read(*readings: tuple[str, BoardState, str]) -> list[Evidence]:
    found = []
    for number, (probe, state, text) in enumerate(readings, start=1):
        key = f"{probe}@{state.key}"
        unit = table().candidates[table().index(key)].probe.unit
        found.append(Evidence(number, key, read_entry(text, unit).observation))
    return found


def share_of(suspect: str, *clues: Clue, evidence: tuple[Evidence, ...] = ()) -> float:
    probabilities = posterior(table(), evidence, [], clues)
    return sum(s.probability for s in suspects_of(table(), probabilities) if s.key == suspect)


class CluesWithReasons(unittest.TestCase):
    def test_each_kind_moves_what_it_speaks_about(self) -> None:
        """Named clue, named suspect, up or down, against no clue at all."""
        lamp = LAMP.key
        for clue, suspect, up in (
            (finding_clue(table(), "C21", "domed"), "C21:dried", True),
            (finding_clue(table(), "C21", "domed"), "Q1:short", False),
            (finding_clue(table(), "F1", "blackened"), "Q1:short", True),
            (finding_clue(table(), "", "nothing_seen"), "outside", True),
            (history_clue(table(), "surge_mains"), "RV1:short", True),
            (history_clue(table(), "surge_signal"), "MB:never_asserts", True),
            (history_clue(table(), "gradual"), "C21:dried", True),
            (history_clue(table(), "young"), "C21:dried", False),
            (history_clue(table(), "outlet_dead"), "nothing", True),
            (lamp_clue(table(), lamp, "bright"), "BD1:short", True),
            (lamp_clue(table(), lamp, "flash_dark"), "BD1:short", False),
            (replaced_clue(table(), "C21", helped=True), "C21:dried", True),
            (replaced_clue(table(), "C21", helped=False), "C21:dried", False),
            (cleared_clue(table(), "Q1", good=True), "Q1:short", False),
            (cleared_clue(table(), "Q1", good=False), "Q1:short", True),
            (disconnected_clue(table(), "MB", helped=True), "MB:drags", True),
            (disconnected_clue(table(), "MB", helped=False), "MB:drags", False),
            (symptom_clue(table(), Symptom("ticks", 1.0)), "C21:dried", True),
            (symptom_clue(table(), Symptom("comes_and_goes")), "CN2:intermittent", True),
        ):
            before, after = share_of(suspect), share_of(suspect, clue)
            self.assertEqual(after > before, up, f"{clue.words}: {suspect} {before} → {after}")
            self.assertTrue(clue.words and clue.reason)

    def test_every_word_of_the_vocabularies_is_usable_and_has_a_reason(self) -> None:
        clues = [symptom_clue(table(), Symptom(kind)) for kind in kinds()]
        clues += [history_clue(table(), fact) for fact in history_facts()]
        clues += [finding_clue(table(), "C21", seen) for seen in findings()]
        clues += [lamp_clue(table(), LAMP.key, pattern) for pattern in LAMP_PATTERNS]
        for clue in clues:
            self.assertEqual(clue.log.shape, (len(table().rows),))
            self.assertTrue(np.isfinite(clue.log).all(), clue.key)
            self.assertTrue(clue.words and clue.reason, clue.key)

    @settings(max_examples=30)
    @given(st.lists(st.sampled_from(sorted(kinds())), min_size=1, max_size=6, unique=True))
    def test_one_family_never_outweighs_its_cap(self, chosen: list[str]) -> None:
        """Whatever is said about the indicator light, it stays one piece of evidence; and the
        order of clues never matters."""
        clues = [symptom_clue(table(), Symptom(kind)) for kind in chosen]
        families = {clue.family for clue in clues}
        joint = joint_log(clues, len(table().rows))
        most = len(families) * math.log(MOST_RATIO_OF_FAMILY)
        self.assertLessEqual(joint.max() - joint.min(), most + 1e-9)
        np.testing.assert_allclose(joint, joint_log(clues[::-1], len(table().rows)))

    def test_a_part_measured_by_itself_beats_any_words(self) -> None:
        words = [finding_clue(table(), "Q1", "cracked"), symptom_clue(table(), Symptom("bang"))]
        self.assertLess(share_of("Q1:short", *words, cleared_clue(table(), "Q1", True)), 0.02)

    def test_unknown_words_are_refused(self) -> None:
        with self.assertRaises(KeyError):
            finding_clue(table(), "C99", "domed")
        with self.assertRaises(KeyError):
            history_clue(table(), "moon")
        with self.assertRaises(KeyError):
            lamp_clue(table(), LAMP.key, "purple")
        self.assertEqual(finding_key("looks strange"), "")
        self.assertEqual(finding_key("the top is bulging"), "domed")
        self.assertEqual(finding_key("Nothing Seen"), "nothing_seen")


class CustomersWords(unittest.TestCase):
    CASES = (
        ("Completely dead, no light", {"dead_silent"}),
        ("red light on but won't turn on", {"indicator_steady", "never_starts"}),
        ("ticks about once a second, light off", {"ticks", "indicator_none"}),
        ("you can see a picture with a torch", {"picture_by_torch"}),
        ("there was a storm and the breaker tripped", {"surge_mains"}),
        ("takes ages to start, getting worse over months", {"starts_slowly", "gradual"}),
        ("works when warm, 11 years old", {"needs_warmth", "old"}),
        ("starts, then goes off again", {"starts_then_stops"}),
        ("no click", {"clicks_none"}),
        ("it was dropped when we moved house", {"dropped"}),
    )

    def test_what_is_said_is_what_is_proposed(self) -> None:
        for text, wanted in self.CASES:
            kinds_found = {proposal.kind for proposal in proposals(text)}
            self.assertLessEqual(wanted, kinds_found, text)
            self.assertLessEqual(len(kinds_found - wanted), 1, (text, kinds_found))

    def test_the_mapping_is_shown_with_the_words_it_rests_on(self) -> None:
        for text, _ in self.CASES:
            for proposal in proposals(text):
                self.assertIn(proposal.phrase, text.lower())
                self.assertIn(f"“{proposal.phrase}” → ", proposal_words(proposal))
        found = {p.kind: p for p in proposals("ticks every 2 seconds")}
        self.assertAlmostEqual(found["ticks"].hertz or 0.0, 0.5, places=2)

    def test_negations_are_not_their_opposite(self) -> None:
        said = {p.kind for p in proposals("no light and it does not tick")}
        self.assertNotIn("indicator_steady", said)
        self.assertEqual(proposals("the remote is missing"), [])

    @given(st.text(max_size=80))
    def test_any_text_is_read(self, text: str) -> None:
        for proposal in proposals(text):
            self.assertIn(proposal.kind, {*kinds(), *history_facts()})


class Explanations(unittest.TestCase):
    EVIDENCE = read(
        ("live.5vs", LAMP_CABLE, "0..0.75@1"),
        ("C21.esr", UNPLUGGED, "1.7"),
        ("R20.ohms", UNPLUGGED, "330"),
    )

    def test_reasons_add_up_to_bayes(self) -> None:
        """Log-odds of a suspect before and after one reading differ by that reading's weight."""
        one = [self.EVIDENCE[1]]
        prior, after = np.exp(log_prior(table())), posterior(table(), one, [])
        own = np.array([any(f.suspect == "C21:dried" for f in row.faults) for row in table().rows])
        moved = _logit(after[own].sum()) - _logit(prior[own].sum())
        (reason,) = reasons_for(table(), "C21:dried", one, [], {2: "ESR"})
        self.assertAlmostEqual(reason.log_odds, moved, places=9)
        self.assertEqual(reason.strength, "strongly for")

    def test_silent_readings_are_no_reasons(self) -> None:
        names = {item.number: f"reading {item.number}" for item in self.EVIDENCE}
        told = reasons_for(table(), "C21:dried", self.EVIDENCE, [], names)
        self.assertEqual({reason.words for reason in told}, {"reading 1", "reading 2"})
        sizes = [abs(reason.log_odds) for reason in told]
        self.assertEqual(sizes, sorted(sizes, reverse=True))

    def test_what_two_suspects_differ_in_is_read_differently(self) -> None:
        rows = {row.key: number for number, row in enumerate(table().rows)}
        every = range(len(table().candidates))
        apart = contrast(table(), rows["C21:dried:2"], rows["Q1:short:0"], every)
        assert apart is not None
        self.assertNotEqual(apart.first, apart.second)
        clear = would_clear(table(), rows["R12:open:0"], every)
        assert clear is not None
        column = table().index(clear.candidate.key)
        bad, good = (table().low[row, column] for row in (rows["R12:open:0"], 0))
        self.assertFalse(0.5 * good < bad < 2.0 * good, clear.candidate.key)
        self.assertIsNone(contrast(table(), 3, 3, every))

    def test_levels_are_the_same_probability_gathered(self) -> None:
        probabilities = posterior(table(), self.EVIDENCE, [])
        for shares in (
            board_shares(table(), probabilities),
            section_shares(table(), probabilities),
        ):
            self.assertAlmostEqual(sum(share.probability for share in shares), 1.0)
        self.assertEqual(board_shares(table(), probabilities)[0].name, POWER_BOARD)
        lamps = shipped_board("PB-2408-1")
        self.assertIn(LAMPS, {_level(lamps, part.ref) for part in lamps.components})


class Slips(unittest.TestCase):
    BASE = (
        ("live.5vs", LAMP_CABLE, "0..0.75@1"),
        ("C21.esr", UNPLUGGED, "1.7"),
        ("C21.esr", UNPLUGGED, "1.8"),
    )

    def test_a_slip_is_found_and_named(self) -> None:
        for extra, words in (
            (("R20.ohms", UNPLUGGED, "3.3k"), "decimal"),
            (("live.bulk", LAMP, "0"), "switched off"),
            (("R31.ohms", UNPLUGGED, "10"), ("decimal", "misread")),
            (("live.bulk", LAMP, "0.322"), "misread"),  # no meter shows 0.322 V for 322 V
        ):
            found = slips_of(table(), read(*self.BASE, extra))
            self.assertEqual([slip.number for slip in found], [4], extra)
            options = words if isinstance(words, tuple) else (words,)
            self.assertTrue(any(one in found[0].words for one in options), found[0].words)

    def test_a_right_looking_reading_that_stands_against_the_others(self) -> None:
        """A full bulk behind a fuse that was found open twice."""
        fuse = ("F1.ohms", UNPLUGGED, "OL")
        for bulk, wrong in (("165", [4]), ("0", [])):
            told = read(fuse, fuse, ("C21.esr", UNPLUGGED, "0.05"), ("live.bulk", LAMP, bulk))
            found = slips_of(table(), told)
            self.assertEqual([slip.number for slip in found], wrong)
            self.assertTrue(all("as a sound board reads" in slip.words for slip in found))

    def test_no_slip_where_all_agree_or_it_was_said_twice(self) -> None:
        self.assertEqual(slips_of(table(), read(*self.BASE)), [])
        twice = read(*self.BASE, ("R20.ohms", UNPLUGGED, "3.3k"), ("R20.ohms", UNPLUGGED, "3.3k"))
        self.assertEqual(slips_of(table(), twice), [])

    def test_one_false_reading_never_locks_the_verdict(self) -> None:
        """A single direct reading that alone makes the verdict is asked for again."""
        for probe, false, true in (("Q1.sd.out", "0", "0.5"),):
            part = probe.split(".")[0]
            evidence = read((probe, UNPLUGGED, false))
            found = engine().assess(evidence, [], DRAINED)
            assert found.next_step is not None and found.finding is not None
            self.assertEqual(found.finding.part, part)
            self.assertIs(found.next_step.purpose, Purpose.AGAIN)
            self.assertEqual(found.next_step.offer.candidate.probe.id, probe)
            after = engine().assess([*evidence, *read((probe, UNPLUGGED, true))], [], DRAINED)
            self.assertLess(bad_probabilities(table(), after.probabilities)[part], 0.5)

    def test_the_ohms_of_a_short_tell_no_part_from_one_across_the_same_nets(self) -> None:
        """Whatever a shorted suppressor reads, the capacitor beside it may be the one."""
        shares = []
        for ohms in ("0.05", "0.4", "1.5", "6"):
            chances = posterior(table(), read(("RV1.ohms", UNPLUGGED, ohms)), [])
            bad = bad_probabilities(table(), chances)
            shares.append(bad["RV1"] / bad["CX1"])
            self.assertLess(float(chances[-1]), 0.2, ohms)
        np.testing.assert_allclose(shares, shares[0], rtol=0.05)
        found = engine().assess(read(("RV1.ohms", UNPLUGGED, "0.4")), [], DRAINED)
        assert found.finding is not None
        self.assertIs(found.finding.standing, Standing.UNDECIDED)


class PlansAndStops(unittest.TestCase):
    def test_branches_are_a_partition_and_lead_on(self) -> None:
        probabilities = posterior(table(), read(("live.5vs", LAMP_CABLE, "0..0.75@1")), [])
        offer = engine().planner.rank(probabilities, DRAINED, {}, [])[0]
        ways = look_ahead(engine().planner, probabilities, offer, Moment(DRAINED, {}, []), 2)
        self.assertEqual({way.good for way in ways}, {True, False})
        self.assertAlmostEqual(sum(way.probability for way in ways), 1.0, places=6)
        for way in ways:
            self._is_sound(way, depth=2)

    def _is_sound(self, way: Branch, depth: int) -> None:
        self.assertTrue(way.leaders)
        self.assertTrue(0.0 < way.probability <= 1.0 + 1e-9)
        self.assertTrue(depth > 0)
        for inner in way.ways:
            self._is_sound(inner, depth - 1)

    def test_a_cheap_sure_repair_stops_the_tests_and_a_dear_one_does_not(self) -> None:
        evidence = read(("live.5vs", LAMP_CABLE, "0..0.75@1"), ("C21.esr", UNPLUGGED, "1.7"))
        probabilities = posterior(table(), evidence, [])
        offer = engine().planner.rank(probabilities, DRAINED, {}, [])[0]
        cheap = ShopCosts(per_hour=60.0, part=0.2, rework_minutes=1.0, trial_minutes=0.5)
        dear = ShopCosts(per_hour=6.0, part=400.0, rework_minutes=120.0)
        found = finding_of(table(), probabilities, evidence)
        first = stop_advice(engine().planner, probabilities, offer, cheap, found)
        assert first is not None
        self.assertEqual(first.part, "C21")
        self.assertTrue(first.repair_now)
        wide = posterior(table(), [], [Symptom("no_light")])
        offer = engine().planner.rank(wide, DRAINED, {}, [])[0]
        second = stop_advice(engine().planner, wide, offer, dear, None)
        assert second is not None
        self.assertFalse(second.repair_now)
        for where in (offer, None):  # nothing is sure: nobody is told to repair, however cheap
            for costs in (cheap, dear):
                advice = stop_advice(
                    engine().planner, wide, where, costs, finding_of(table(), wide, [])
                )
                self.assertFalse(advice is None or advice.repair_now)

    @settings(max_examples=20)
    @given(st.floats(0.5, 400.0), st.floats(1.0, 200.0))
    def test_a_reading_never_raises_the_loss_but_by_its_minutes(
        self, part: float, per_hour: float
    ) -> None:
        """Value of information is never below zero."""
        costs = ShopCosts(per_hour=per_hour, part=part)
        wide = posterior(table(), [], [Symptom("no_light")])
        for offer in engine().planner.rank(wide, DRAINED, {}, [])[:6]:
            advice = stop_advice(engine().planner, wide, offer, costs, None)
            assert advice is not None
            paid = per_hour * offer.minutes / 60.0
            self.assertLessEqual(advice.after_reading, advice.now + paid + 1e-6)

    def test_full_power_waits_for_proof_that_nothing_is_shorted(self) -> None:
        """By the lamp seen dark, or by the dead bulk and every bridge diode; never by a bulk that
        reads well behind the lamp, and never against a lamp that draws."""
        through_lamp = ("live.bulk", LAMP, "165")
        bulk = ("C3.ohms", UNPLUGGED, "180k")
        bridge = tuple((f"BD1.d{k}", UNPLUGGED, "0.48") for k in (1, 2, 3, 4))
        shorted = (*bridge[:2], ("BD1.d3", UNPLUGGED, "0.00"), bridge[3])
        for readings, lamps, excluded in (
            ((), (), False),
            ((through_lamp,), (), False),
            ((bulk, through_lamp), (), False),
            ((bulk, *bridge[:3]), (), False),
            ((bulk, *bridge), (), True),
            ((bulk, *shorted), (), False),
            ((("C3.ohms", UNPLUGGED, "0.4"), *bridge), (), False),
            ((through_lamp,), ("flash_dark",), True),
            ((through_lamp,), ("bright",), False),
            ((bulk, *bridge), ("glows", "flash_dark"), False),
            *(((bulk, *bridge, through_lamp), (draws,), False) for draws in SEEN_DRAWING),
        ):
            evidence = read(*readings)
            probabilities = posterior(table(), evidence, [Symptom("ticks", 1.0)])
            found = short_excluded(table(), probabilities, evidence, lamps)
            self.assertEqual(found, excluded, (readings, lamps))


class ComingAndGoing(unittest.TestCase):
    @given(st.floats(0.0, 300.0), st.floats(0.0, 300.0))
    def test_waiting_only_ever_clears(self, first: float, second: float) -> None:
        short, long = sorted((first, second))
        self.assertGreaterEqual(clean_share(short), clean_share(long))

    def test_hours_and_looks(self) -> None:
        for share in (0.1, 0.5, 0.9):
            self.assertAlmostEqual(1.0 - clean_share(hours_to_catch(share)), share, places=6)
        for present in (0.1, 0.3, 0.7):
            looks = looks_to_catch(present)
            self.assertGreaterEqual(1 - (1 - present) ** looks, 0.95)
            self.assertLess(1 - (1 - present) ** (looks - 1), 0.95)

    @settings(max_examples=25, deadline=None)
    @given(st.integers(1, 400), st.floats(0.2, 1.0))
    def test_however_it_is_spread_there_is_something_to_watch(self, many: int, all_: float) -> None:
        goes = np.flatnonzero(table().shares < 1.0)[:many]
        probabilities = np.zeros(len(table().rows))
        probabilities[0], probabilities[goes] = 1.0 - all_, all_ / len(goes)
        plan = the(soak_plan(table(), probabilities))
        self.assertTrue(plan.parts and plan.watch)

    def test_a_soak_is_proposed_where_a_contact_is_suspected(self) -> None:
        sound = posterior(table(), read(("C21.esr", UNPLUGGED, "1.7")), [])
        self.assertIsNone(soak_plan(table(), sound))
        clues = [symptom_clue(table(), Symptom(k)) for k in ("comes_and_goes", "tapping_helps")]
        suspected = posterior(table(), read(("live.5vs", ON, "5.0")), [], clues)
        plan = soak_plan(table(), suspected)
        assert plan is not None
        self.assertTrue(plan.watch and plan.parts)
        self.assertIn("95 %", plan.words)


class Learning(unittest.TestCase):
    def jobs(self, number: int, suspect: str = "Q1:short", on: str = "") -> list[ClosedJob]:
        own = board()
        return [ClosedJob(on or own.id, own.topology, suspect, "standby.switch")] * number

    def test_shrinkage_is_the_textbook_one(self) -> None:
        """(20·prior + k)/(20 + n), as the electrical reference's example has it: 0.14 from 0.22."""
        prior = share_of("Q1:short")
        for n in (1, 4, 40):
            clue = learned_clue(table(), self.jobs(n))
            assert clue is not None
            self.assertAlmostEqual(
                share_of("Q1:short", clue), (20 * prior + n) / (20 + n), places=6
            )
        self.assertAlmostEqual((20 * 0.22 + 4) / (20 + 40), 0.14, places=2)

    def test_forgetting_is_leaving_out_and_the_same_jobs_teach_the_same(self) -> None:
        self.assertIsNone(learned_clue(table(), []))
        first, second = (learned_clue(table(), self.jobs(3)) for _ in range(2))
        assert first is not None and second is not None
        np.testing.assert_array_equal(first.log, second.log)

    def test_other_boards_of_the_topology_count_less(self) -> None:
        here = learned_clue(table(), self.jobs(5))
        there = learned_clue(table(), self.jobs(5, on="PB-0000-1"))
        assert here is not None and there is not None
        self.assertGreater(share_of("Q1:short", here), share_of("Q1:short", there))
        self.assertGreater(share_of("Q1:short", there), share_of("Q1:short"))

    def test_counts_have_denominators(self) -> None:
        jobs = [*self.jobs(3), *self.jobs(1, "C21:dried")]
        counts = counts_of(board(), jobs)
        first = counts[0]
        self.assertEqual((first.suspect, first.count, first.of_jobs), ("Q1:short", 3, 4))
        self.assertIn("3 of 4", counts[0].words)
        self.assertIn("few jobs", counts[0].words)


class Conditions(unittest.TestCase):
    @given(st.floats(-20, 85), st.floats(-20, 85))
    def test_esr_falls_with_temperature(self, first: float, second: float) -> None:
        cold, warm = sorted((first, second))
        self.assertGreaterEqual(esr_over_temperature(cold), esr_over_temperature(warm))

    def test_age_dries_and_ten_kelvin_halve_the_life(self) -> None:
        own = board()
        part = own.component("C21")
        lives = [life_hours(part, celsius) for celsius in (75.0, 85.0, 95.0)]
        self.assertAlmostEqual(lives[0] / lives[1], 2.0, places=6)
        self.assertAlmostEqual(lives[1] / lives[2], 2.0, places=6)
        worn = under(own, 20.0, lives[0], 75.0).component("C21")
        self.assertAlmostEqual(part_esr_ohms(worn) / part_esr_ohms(part), 2.0, places=4)
        self.assertAlmostEqual(part_farads(worn) / part_farads(part), 0.8, places=4)
        self.assertEqual(under(own, 20.0, 0.0, 70.0).component("R10"), own.component("R10"))


def _logit(probability: float) -> float:
    return math.log(probability / (1.0 - probability))


def _level(own: Any, ref: str) -> str:
    from loose_rail.boards.faults import faults_of
    from loose_rail.diagnosis.explain.levels import board_level_of
    from loose_rail.diagnosis.model.hypotheses import Hypothesis

    fault = faults_of(own.component(ref))[0]
    return board_level_of(own, Hypothesis(fault.suspect, "", (fault,), 1.0))


if __name__ == "__main__":
    unittest.main()
