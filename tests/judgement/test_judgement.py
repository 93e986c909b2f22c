"""Judging readings, steadiness of series, safety preconditions, transitions, levels of proof."""

import math
import unittest
from dataclasses import replace
from typing import Any

import numpy as np
from hypothesis import given, strategies as st

from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.probes import Probe, probes_of
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.judgement.judge import Expectation, Verdict, absurd, expected_reading, judge
from loose_rail.judgement.limits import limits
from loose_rail.judgement.proof import LEVELS, level_of
from loose_rail.judgement.safety import (
    SafetyFacts,
    probe_refusals,
    reference_refusals,
    state_refusals,
    to_measure,
)
from loose_rail.judgement.spread import scaled, student4, student4_below, unscaled
from loose_rail.judgement.steadiness import summarise
from loose_rail.judgement.transitions import instructions, minutes_between
from loose_rail.kernel.entry import read_entry
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.shared import board, table

LAMP = BoardState(Power.STANDBY, False, 60)
LAMP_CABLE = BoardState(Power.STANDBY, True, 60)
DIRECT = BoardState(Power.STANDBY, True, 0)
FORCED = BoardState(Power.FORCED, False, 60)


def probe(probe_id: str) -> Probe:
    return next(item for item in probes_of(board()) if item.id == probe_id)


def verdict(probe_id: str, typed: str, state: BoardState = UNPLUGGED) -> Verdict:
    column = table().index(f"{probe_id}@{state.key}")
    item = table().candidates[column].probe
    sound = expected_reading(board(), item, float(table().low[0, column]))
    return judge(item, read_entry(typed, item.unit).observation, sound).verdict


class Judging(unittest.TestCase):
    def test_readings_a_technician_would_agree_on(self) -> None:
        cases = [
            ("F1.ohms", "0.2", UNPLUGGED, Verdict.AGREES),
            ("F1.ohms", "short", UNPLUGGED, Verdict.AGREES),
            ("F1.ohms", "OL", UNPLUGGED, Verdict.DISAGREES),
            ("C21.esr", "0.03", UNPLUGGED, Verdict.AGREES),
            ("C21.esr", "0.08", UNPLUGGED, Verdict.AGREES),
            ("C21.esr", "1.9", UNPLUGGED, Verdict.DISAGREES),
            ("C21.ohms", "0.2", UNPLUGGED, Verdict.DISAGREES),
            ("C3.ohms", ">400k rising", UNPLUGGED, Verdict.AGREES),
            ("C3.ohms", "0.5", UNPLUGGED, Verdict.DISAGREES),
            ("D9.fwd", "0.19", UNPLUGGED, Verdict.AGREES),
            ("D9.fwd", "0.00", UNPLUGGED, Verdict.DISAGREES),
            ("D9.fwd", "OL", UNPLUGGED, Verdict.DISAGREES),
            ("R12.ohms", "1.02", UNPLUGGED, Verdict.AGREES),
            ("R12.ohms", "OL", UNPLUGGED, Verdict.DISAGREES),
            ("CY1.ohms", "OL", UNPLUGGED, Verdict.AGREES),
            ("CY1.ohms", "900", UNPLUGGED, Verdict.DISAGREES),
            ("live.5vs", "5.02", LAMP, Verdict.AGREES),
            ("live.5vs", "-5.02", LAMP, Verdict.AGREES),
            ("live.5vs", "4.1", LAMP, Verdict.DISAGREES),
            ("live.5vs", "5.61", LAMP, Verdict.DISAGREES),
            ("live.5vs", "0.6..3.9@1.1", LAMP, Verdict.DISAGREES),
            ("live.5vs", "4.2..5.1", LAMP, Verdict.DISAGREES),
            ("live.5vs", "0", LAMP, Verdict.DISAGREES),
            ("live.12v", "0.01", LAMP, Verdict.AGREES),
            ("live.bulk", "165", LAMP, Verdict.AGREES),
            ("live.bulk", "90", LAMP, Verdict.DISAGREES),
        ]
        for probe_id, typed, state, expected in cases:
            with self.subTest(f"{probe_id} {typed}"):
                self.assertIs(verdict(probe_id, typed, state), expected)

    def test_reasons_are_in_the_words_of_the_bench(self) -> None:
        item = probe("live.5vs")
        sound = expected_reading(board(), item, 4.99)
        said = [
            judge(item, read_entry(text, "V").observation, sound).reason
            for text in ("0.6..3.9@1.1", "0", "4.0", "5.0")
        ]
        self.assertEqual(said[0], "restarts 1.1 times a second")
        self.assertEqual(said[1], "nothing there")
        self.assertEqual(said[2], "low by 20 %")
        self.assertEqual(said[3], "there and still")

    @given(st.floats(0.5, 20))
    def test_verdicts_are_monotone_in_the_distance(self, volts: float) -> None:
        order = [Verdict.AGREES, Verdict.DOUBTFUL, Verdict.DISAGREES]
        item = probe("live.5vs")
        sound = expected_reading(board(), item, 4.99)
        near = judge(item, read_entry(f"{volts}", "V").observation, sound).verdict
        further = volts + (0.2 if volts > 4.99 else -0.2)
        far = judge(item, read_entry(f"{abs(further)}", "V").observation, sound).verdict
        if abs(volts - 4.99) > 0.21:
            self.assertGreaterEqual(order.index(far), order.index(near))

    def test_esr_is_good_to_twice_the_fresh_value_and_rejected_above_three_times(self) -> None:
        """Electrical reference section 6, less the ohms of the leads."""
        item, fresh, leads = probe("C21.esr"), 0.2, 0.02
        for times, verdict in (
            (0.3, Verdict.AGREES),
            (1.95, Verdict.AGREES),
            (2.1, Verdict.DOUBTFUL),
            (2.9, Verdict.DOUBTFUL),
            (3.1, Verdict.DISAGREES),
            (9.0, Verdict.DISAGREES),
        ):
            shown = times * (fresh + leads) - leads
            reading = read_entry(f"{shown:.4f}", "Ω").observation
            self.assertIs(judge(item, reading, Expectation(fresh, 0.45)).verdict, verdict, times)

    def test_only_a_fuse_is_called_whole_whatever_the_others_are_named(self) -> None:
        """A bead marked F2 is no fuse, and a fuse may be marked otherwise."""
        for name, whole in (("F1.ohms", True), ("L5.ohms", False)):
            item = replace(probe(name), part="F2" if name[0] == "L" else "X2")
            found = judge(item, read_entry("0.2", "Ω").observation, Expectation(0.2, 0.05))
            self.assertIs(found.verdict, Verdict.AGREES)
            self.assertEqual(found.reason == "fuse whole", whole, name)

    def test_absurd_values_are_asked_about(self) -> None:
        item = probe("live.5vs")
        self.assertIn("500 V", absurd(item, read_entry("500", "V").observation, 7.5))
        self.assertEqual(absurd(item, read_entry("6", "V").observation, 7.5), "")
        self.assertTrue(absurd(probe("C21.ohms"), read_entry("9e10", "Ω").observation, 1e6))

    def test_every_limit_has_a_reason_and_a_source(self) -> None:
        for name, item in limits().items():
            self.assertTrue(len(item.reason) > 10 and item.source, name)

    def test_scales_go_both_ways_and_student_is_a_distribution(self) -> None:
        for mode in MeterMode:
            for value in (0.02, 3.0, 4.7e3):
                self.assertAlmostEqual(float(unscaled(scaled(value, mode), mode)) / value, 1.0, 6)
        z = np.linspace(-60, 60, 200_001)
        self.assertAlmostEqual(float(np.trapezoid(student4(z), z)), 1.0, places=4)
        self.assertAlmostEqual(
            float(student4_below(np.array(1.0))),
            0.5 + float(np.trapezoid(student4(z[(z >= 0) & (z <= 1)]), z[(z >= 0) & (z <= 1)])),
            places=3,
        )


class Steadiness(unittest.TestCase):
    """Electrical reference section 4."""

    def series(self, law: Any, seconds: float = 5.2, rate: float = 5.0) -> Any:
        t = np.arange(0, seconds, 1 / rate)
        return summarise(t.tolist(), [law(x) for x in t], "V")

    def test_steady_value(self) -> None:
        """V4.3: samples around 12.03 V with 15 mV of spread."""
        rng = np.random.default_rng(4)
        seen = self.series(lambda t: 12.03 + 0.0148 * rng.standard_normal())
        self.assertEqual(seen.form, Form.VALUE)
        self.assertAlmostEqual(seen.low, 12.03, delta=0.02)

    def test_slow_rise(self) -> None:
        """V4.4: 5·(1 − 0.6·e^(−t/0.8))."""
        self.assertEqual(
            self.series(lambda t: 5 * (1 - 0.6 * math.exp(-t / 0.8))).form, Form.RISING
        )
        self.assertEqual(self.series(lambda t: 5 - 0.3 * t).form, Form.FALLING)

    @given(st.floats(0.7, 1.8), st.floats(0, 1), st.integers(0, 99))
    def test_ticking_rate(self, hertz: float, phase: float, seed: int) -> None:
        rng = np.random.default_rng(seed)
        seen = self.series(
            lambda t: (
                3.0
                + 1.2 * math.sin(2 * math.pi * (hertz * t + phase))
                + 0.02 * rng.standard_normal()
            )
        )
        self.assertEqual(seen.form, Form.TICKING)
        self.assertAlmostEqual(seen.hertz / hertz, 1.0, delta=0.12)

    def test_irregular_movement_wanders_and_a_short_record_is_a_value(self) -> None:
        rng = np.random.default_rng(8)
        self.assertEqual(self.series(lambda t: 5 + rng.standard_normal()).form, Form.RANGE)
        self.assertEqual(summarise([0, 1], [4.0, 5.0], "V").form, Form.VALUE)
        self.assertEqual(summarise([0, 1, 2], [math.inf] * 3, "Ω").form, Form.OPEN)
        with self.assertRaises(ValueError):
            summarise([], [], "V")


class Safety(unittest.TestCase):
    def codes(self, probe_id: str, facts: SafetyFacts) -> list[str]:
        return [refusal.code for refusal in probe_refusals(board(), probe(probe_id), facts)]

    def test_a_dead_board_setting_needs_a_dead_board(self) -> None:
        for probe_id in ("C21.esr", "F1.ohms", "D9.fwd", "CX1.cap"):
            self.assertEqual(self.codes(probe_id, SafetyFacts(DIRECT, None, True)), ["plugged_in"])
            unknown = SafetyFacts(UNPLUGGED, None, True)
            self.assertEqual(self.codes(probe_id, unknown), ["bulk_not_measured"])
            charged = SafetyFacts(UNPLUGGED, -162.0, True)
            self.assertEqual(self.codes(probe_id, charged), ["bulk_charged"])
            self.assertEqual(self.codes(probe_id, SafetyFacts(UNPLUGGED, 9.9, True)), [])
            self.assertTrue(self.codes(probe_id, SafetyFacts(UNPLUGGED, 10.0, True)))

    @given(st.floats(-400, 400), st.sampled_from(["C21.esr", "Q1.ds", "C3.ohms", "U2.led"]))
    def test_no_bulk_voltage_from_ten_up_is_ever_allowed(self, volts: float, item: str) -> None:
        allowed = not self.codes(item, SafetyFacts(UNPLUGGED, volts, True))
        self.assertEqual(allowed, abs(volts) < 10)

    def test_chassis_is_refused_for_the_hot_side(self) -> None:
        bulk = probe("live.bulk")
        on_chassis = replace(bulk, minus=board().cold_ground, minus_words="chassis")
        refusal = reference_refusals(board(), on_chassis)[0]
        self.assertEqual(refusal.code, "wrong_reference")
        self.assertIn("bulk minus", refusal.instead)
        self.assertFalse(reference_refusals(board(), bulk))
        cold = replace(probe("live.5vs"), minus=board().hot_ground)
        self.assertTrue(reference_refusals(board(), cold))

    def test_power_without_a_limiter_needs_shorts_excluded(self) -> None:
        open_question = SafetyFacts(UNPLUGGED, 1.0, False)
        self.assertEqual(
            [r.code for r in state_refusals(board(), DIRECT, open_question)], ["no_limiter"]
        )
        self.assertEqual(state_refusals(board(), LAMP, open_question), [])
        self.assertEqual(state_refusals(board(), DIRECT, SafetyFacts(UNPLUGGED, 1.0, True)), [])

    def test_jumpers(self) -> None:
        plugged = SafetyFacts(LAMP, None, True)
        self.assertEqual(
            [r.code for r in state_refusals(board(), FORCED, plugged)], ["jumper_live"]
        )
        from msgspec.structs import replace as with_

        unknown = with_(board(), wake=with_(board().wake, sense="unknown"))
        codes = [r.code for r in state_refusals(unknown, FORCED, SafetyFacts(UNPLUGGED, 1, True))]
        self.assertEqual(codes, ["unknown_wake"])

    def test_live_readings_need_a_plugged_board(self) -> None:
        facts = SafetyFacts(UNPLUGGED, 1.0, True)
        self.assertEqual(self.codes("live.5vs", facts), ["unplugged"])


class Transitions(unittest.TestCase):
    def words(self, now: BoardState, to: BoardState) -> str:
        steps = instructions(board(), now, to)
        return " / ".join(step.text for step in steps)

    def test_from_powered_to_ohms_asks_for_the_bulk(self) -> None:
        facts = SafetyFacts(LAMP, None, False)
        steps = instructions(board(), LAMP, UNPLUGGED, to_measure(board(), "C21", facts))
        self.assertTrue(steps[0].text.startswith("Unplug"))
        self.assertEqual(steps[1].measure, "C3")
        empty = to_measure(board(), "C21", SafetyFacts(UNPLUGGED, 1.0, False))
        self.assertEqual(instructions(board(), UNPLUGGED, UNPLUGGED, empty), ())

    def test_every_board_is_told_in_its_own_words(self) -> None:
        texts = {}
        for board_id in shipped_ids():
            other = shipped_board(board_id)
            for state in live_states(other):
                steps = instructions(other, UNPLUGGED, state)
                texts[board_id, state.key] = " / ".join(s.text for s in steps)
                self.assertGreater(sum(step.minutes for step in steps), 0)
                if other.adapter_fed:
                    self.assertIn("adapter", texts[board_id, state.key])
                    self.assertNotIn("mains", texts[board_id, state.key])
                else:
                    lamp = "60 W series lamp" if state.lamp_watts else "directly on the mains"
                    self.assertIn(lamp, texts[board_id, state.key])
        low = texts["PB-3206-1", "forced/bare/lamp60"]
        self.assertIn("STB (CN7 pin 1) to GND (CN7 pin 3) through 100 Ω", low)
        high = texts["PB-5012-3", "forced/bare/lamp60"]
        self.assertIn("(CN8 pin 1) to 5VSB (CN8 pin 2) through 1 kΩ", high)

    def test_an_adapter_needs_no_lamp_before_it_and_the_mains_always_do(self) -> None:
        unknown = SafetyFacts(UNPLUGGED, 1.0, False)
        for board_id in shipped_ids():
            other = shipped_board(board_id)
            direct = BoardState(Power.STANDBY, True, 0)
            codes = [r.code for r in state_refusals(other, direct, unknown)]
            self.assertEqual(codes, [] if other.adapter_fed else ["no_limiter"])

    def test_cables_and_jumpers_are_changed_with_the_plug_out(self) -> None:
        words = self.words(LAMP_CABLE, LAMP)
        self.assertLess(words.index("Unplug"), words.index("cable off"))
        self.assertLess(words.index("cable off"), words.index("Plug in"))
        jumper = self.words(LAMP, FORCED)
        self.assertIn("START (CN2 pin 1) to 5VS (CN2 pin 2) through 1 kΩ", jumper)
        self.assertLess(jumper.index("Unplug"), jumper.index("jumper"))
        self.assertIn("off", self.words(FORCED, LAMP))

    def test_switching_on_keeps_the_plug_in(self) -> None:
        on = BoardState(Power.ON, True, 0)
        self.assertNotIn("Unplug", self.words(DIRECT, on))
        self.assertEqual(self.words(DIRECT, DIRECT), "")

    def test_minutes_grow_with_the_work(self) -> None:
        short = minutes_between(board(), UNPLUGGED, LAMP)
        long = minutes_between(board(), LAMP, FORCED)
        self.assertLess(short, long)


class Proof(unittest.TestCase):
    def test_levels_rise_and_always_say_what_is_open(self) -> None:
        on = BoardState(Power.ON, True, 0)
        self.assertEqual(level_of([]).rank, 0)
        self.assertEqual(level_of([LAMP]).rank, 1)
        self.assertEqual(level_of([LAMP, DIRECT]).rank, 4)
        self.assertEqual(level_of([on, LAMP]).rank, 5)
        self.assertTrue(all(level.leaves_open for level in LEVELS))
