"""What is said twice, and what is good or worn by itself: no verdict against a part's own reading,
a third reading where two don't agree, cans of one age."""

import math
import unittest

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.typical import part_esr_ohms
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.dried_together import dried_together
from loose_rail.diagnosis.inference.finding import Standing, direct_confirmations
from loose_rail.diagnosis.inference.good_by_itself import TWICE, good_by_itself
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.odd_parts import WORN_ALONG, odd_parts
from loose_rail.diagnosis.inference.posterior import posterior
from loose_rail.diagnosis.inference.repeats import counting, says_the_same
from loose_rail.diagnosis.planning.assessment import Assessment, Purpose
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.kernel.entry import read_entry
from loose_rail.kernel.observation import ticking, value
from loose_rail.vocabulary.board_state import UNPLUGGED
from tests.diagnosis.inference.test_isolation import read
from tests.shared import board, engine, table, the
from tests.whole_jobs.test_jobs_on_boards import engine as shipped_engine

DEAD = f"@{UNPLUGGED.key}"
FACTS = SafetyFacts(UNPLUGGED, 1.0, True)
FRESH = {ref: part_esr_ohms(board().component(ref)) for ref in ("C21", "C22", "C27", "C31")}


def esr(ref: str, times: float) -> tuple[str, str]:
    return f"{ref}.esr@unplugged", f"{FRESH[ref] * times:.4f}"


class Third(unittest.TestCase):
    @settings(max_examples=12, deadline=None)
    @given(st.sampled_from(("C21", "C22", "C27")), st.floats(7.0, 60.0), st.booleans())
    def test_two_readings_of_a_dead_board_that_differ_ask_for_a_third(
        self, ref: str, times: float, first_bad: bool
    ) -> None:
        """Whichever came first; with the third it is what two of three say."""
        both = [esr(ref, times), esr(ref, 1.0)]
        told = both if first_bad else both[::-1]
        step = the(engine().assess(read(*told), (), FACTS).next_step)
        self.assertEqual(
            (step.purpose, step.offer.candidate.key), (Purpose.THIRD, f"{ref}.esr@unplugged")
        )
        bad = {one.part for one in odd_parts(table(), read(*told, esr(ref, times)))}
        good = {one.part for one in odd_parts(table(), read(*told, esr(ref, 1.0)))}
        self.assertEqual((bad, good), ({ref}, set()))
        after = engine().assess(read(*told, esr(ref, 1.0)), (), FACTS).next_step
        self.assertIsNot(after and after.purpose, Purpose.THIRD)

    def test_two_that_agree_or_a_live_rail_that_changed_ask_for_none(self) -> None:
        live = "live.5vs@standby/bare/lamp60"
        for told in ([esr("C21", 9.0)] * 2, [(live, "5.0"), (live, "1.2")]):
            step = engine().assess(read(*told), (), FACTS).next_step
            self.assertIsNot(step and step.purpose, Purpose.THIRD)

    @given(st.floats(0.5, 20), st.floats(0.0, 0.5), st.floats(-0.18, 0.18), st.floats(-0.05, 0.05))
    def test_pulses_read_again_are_no_second_witness(
        self, high: float, foot: float, off: float, low_off: float
    ) -> None:
        first = ticking(foot * high, high, "V", 1.0)
        low = max(0.0, (foot + low_off) * high)
        again = ticking(low, max(high * (1 + off), low), "V", 1.1)
        self.assertTrue(says_the_same(first, again))
        self.assertFalse(says_the_same(first, ticking(0.0, 2.2 * high, "V", 1.0)))


class OnePlace(unittest.TestCase):
    """Electrically one point, and what a majority says there."""

    @settings(max_examples=15, deadline=None)
    @given(st.floats(2e3, 9e5), st.sampled_from(("CX1.ohms", "RX1.ohms", "RV1.ohms")))
    def test_another_part_across_the_same_two_nets_is_no_second_witness(
        self, ohms: float, other: str
    ) -> None:
        first = (f"RV1.ohms{DEAD}", f"{ohms:.4g}")
        second = (f"{other}{DEAD}", f"{1.03 * ohms:.4g}")
        twice = posterior(table(), read(first, first), ())
        np.testing.assert_allclose(posterior(table(), read(first, second), ()), twice)

    @settings(max_examples=15, deadline=None)
    @given(st.sampled_from(("R23.ohms", "R22.ohms.out", "C21.esr")), st.floats(6.0, 1e3))
    def test_what_two_outvote_is_a_slip(self, probe: str, times: float) -> None:
        """In whichever order: the suspects are those of the two alone, and it confirms nothing."""
        key = f"{probe}{DEAD}"
        sound = float(table().low[0, table().index(key)])
        right, slip = (key, f"{sound:.4g}"), (key, f"{sound * times:.4g}")
        wanted = posterior(table(), read(right, right), ())
        for told in ((slip, right, right), (right, slip, right), (right, right, slip)):
            evidence = read(*told)
            np.testing.assert_allclose(posterior(table(), evidence, ()), wanted)
            part = probe.partition(".")[0]
            self.assertEqual(direct_confirmations(table(), part, evidence), ())

    def test_where_all_differ_none_is_a_slip(self) -> None:
        three = read(*[esr("C21", times) for times in (6.0, 12.0, 25.0)])
        self.assertEqual(counting(table(), three), [True] * 3)
        rail = read(*[("live.5vs@standby/bare/lamp60", volts) for volts in ("5.0", "5.0", "1.2")])
        self.assertEqual(counting(table(), rail), [True] * 3)

    @settings(max_examples=15, deadline=None)
    @given(st.floats(-0.3, 0.3), st.booleans())
    def test_a_junction_reads_by_the_range_and_is_no_fault_outside(
        self, off: float, other_range: bool
    ) -> None:
        """One arm of the bridge short: the ohms across its mains side on this range or the next,
        at three parts. It stays the bridge."""
        row = next(k for k, r in enumerate(table().rows) if r.key == "BD1:short:1")
        worked = float(table().low[row, table().index(f"BD1.ac{DEAD}")])
        ohms = worked * math.exp(off + (2.05 if other_range else 0.0))
        arm = (f"BD1.d2{DEAD}", "0.01")
        across = [(f"{p}{DEAD}", f"{ohms:.4g}") for p in ("BD1.ac", "RV1.ohms", "CX1.ohms")]
        found = posterior(table(), read(arm, arm, *across), ())
        bridge = np.array([r.part == "BD1" for r in table().rows])
        self.assertGreater(float(found[bridge].sum()), 0.8)
        self.assertLess(float(found[np.isnan(table().low[:, 0])].sum()), 0.1)


class ByItself(unittest.TestCase):
    TICKS = (("live.5vs@standby/bare/lamp60", "0.25..0.5@2Hz"), ("R23.ohms@unplugged", "8.3k"))

    def test_a_part_that_is_good_with_a_leg_out_is_not_named(self) -> None:
        """Whatever the rails say: once it is read again, twice it is off the list."""
        for ref, good in (("R23", "9.95k"), ("R22", "10.05k")):
            lifted = (f"{ref}.ohms.out@unplugged", good)
            rows = np.array([row.part == ref for row in table().rows])
            once, twice = read(*self.TICKS, lifted), read(*self.TICKS, lifted, lifted)
            before = posterior(table(), read(*self.TICKS), ())
            held = float(before[rows].sum())
            after = posterior(table(), twice, ())
            self.assertLess(float(after[rows].sum()), 1e-2 * held, ref)
            said = good_by_itself(table(), ref, once, before)
            self.assertEqual(set(said.values()), {1}, ref)
            self.assertEqual(set(good_by_itself(table(), ref, twice, after).values()), {TWICE})
            finding = engine().assess(twice, (), FACTS).finding
            self.assertFalse(
                finding and finding.part == ref and finding.standing is not Standing.UNDECIDED
            )


class OneAge(unittest.TestCase):
    def test_each_of_a_pair_is_weighed_over_its_own_degrees(self) -> None:
        """The ESR of one says the same of every pair that it is in, however far the other went."""
        for ref in FRESH:
            pairs = the(dried_together(table(), ref))
            column = column_of(table(), table().index(f"{ref}.esr@unplugged"))
            for times in (1.0, 6.0, 12.0, 60.0):
                likely = column.likelihood(value(FRESH[ref] * times, "Ω"))[pairs.together]
                self.assertLess(float(np.ptp(likely)), 1e-9 + 0.02 * float(likely.max()))
                sound = float(column.likelihood(value(FRESH[ref] * times, "Ω"))[0])
                self.assertEqual(bool(likely[0] > sound), times >= 6.0, (ref, times))
            for number in pairs.together:
                row = table().rows[number]
                self.assertTrue(all(fault.effect is Effect.SCALE for fault in row.faults))
        self.assertIsNone(dried_together(table(), "R22"))

    @settings(max_examples=4, deadline=None)
    @given(st.floats(20.0, 300.0), st.sampled_from(("C27", "C31")))
    def test_every_can_of_its_age_is_read_before_the_verdict(self, times: float, bad: str) -> None:
        """Dried or open, whichever was found: one that was not read is asked for, and what was read
        worn is renewed with the first."""
        told = [*[esr("C21", times)] * 2, ("live.5vs@standby/bare/lamp60", "0.7..1.8@0.95Hz")]
        asked: set[str] = set()
        step = engine().assess(read(*told), (), FACTS).next_step
        while step is not None and step.purpose in (Purpose.COMPANION, Purpose.ODD):
            key, part = step.offer.candidate.key, step.offer.candidate.probe.part
            asked.add(part)
            sound = FRESH.get(part, float(table().low[0, table().index(key)]))
            told.append((key, f"{sound * (12.0 if part == bad else 1.0):.4f}"))
            step = engine().assess(read(*told), (), FACTS).next_step
        self.assertLessEqual({"C27", "C31"}, asked)
        finding = the(engine().assess(read(*told), (), FACTS).finding)
        self.assertEqual((finding.part, finding.standing), ("C21", Standing.CONFIRMED))
        companions = dict(finding.companions)
        self.assertGreater(companions[bad], 0.7)
        self.assertLess(companions.get("C27" if bad == "C31" else "C31", 0.0), WORN_ALONG)

    def test_a_worn_can_beside_a_dried_one_is_renewed_along(self) -> None:
        dried = (*[esr("C21", 30.0)] * 2, ("live.5vs@standby/bare/lamp60", "0.7..1.8@0.95Hz"))
        for times, along in ((1.2, False), (2.9, True)):
            found = engine().assess(read(*dried, esr("C31", times)), (), FACTS)
            finding = the(found.finding)
            self.assertEqual((finding.part, finding.standing), ("C21", Standing.CONFIRMED))
            listed = dict(finding.companions).get("C31", 0.0)
            self.assertEqual(listed >= WORN_ALONG, along, (times, listed))


class BeforeABoard(unittest.TestCase):
    """What is read before the main board is blamed."""

    DRAGGED = (
        ("live.standby_pin@standby/cable/direct", "0.9"),
        ("live.standby_pin@standby/bare/direct", "5.0"),
    )

    def test_a_short_at_its_own_pin_is_read_twice(self) -> None:
        of, key = shipped_engine("PB-5012-3"), "MB.supply@unplugged"

        def after(*texts: str) -> Assessment:
            told = (*self.DRAGGED, *((key, text) for text in texts))
            volts = [
                Evidence(k, name, read_entry(text, "Ω" if name == key else "V").observation)
                for k, (name, text) in enumerate(told, start=1)
            ]
            return of.assess(volts, (), FACTS)

        once, twice = after("0.8"), after("0.8", "0.9")
        step = the(once.next_step)
        self.assertEqual((step.purpose, step.offer.candidate.key), (Purpose.AGAIN, key))
        finding = the(twice.finding)
        self.assertEqual((finding.part, finding.standing), ("MB", Standing.CONFIRMED))
        self.assertNotEqual(twice.next_step and twice.next_step.offer.candidate.key, key)

    @settings(max_examples=20, deadline=None)
    @given(st.floats(0.12, 0.4), st.floats(0.5, 4.0))
    def test_a_dead_rail_that_beats_is_asked_for(self, high: float, hertz: float) -> None:
        """A main board that never asks leaves nothing to beat; without a rate it says nothing."""
        key = "live.12v@on/cable/direct"
        column = column_of(table(), table().index(key))
        mute = next(k for k, r in enumerate(table().rows) if r.key == "MB:never_asserts:0")
        bulk = next(k for k, r in enumerate(table().rows) if r.key == "C3:open:0")
        beats, moves = (column.likelihood(ticking(0.0, high, "V", rate)) for rate in (hertz, None))
        self.assertGreater(float(beats[bulk] / beats[mute]), 3.0 * float(moves[bulk] / moves[mute]))
        self.assertGreater(float(beats[bulk]), float(beats[mute]))


if __name__ == "__main__":
    unittest.main()
