"""The sets of the benchmark: any degree of a fault, by numbers that are none of the program's."""

import unittest

import numpy as np
from benchmarks.simulated_sets import as_predicted, simulated_sets
from benchmarks.true_faults import (
    ESR_LOG,
    ESR_TIMES,
    FARADS_LEFT,
    HIGH_LEAK_OHMS,
    HOW_OFTEN,
    INNER_OHMS,
    LEAK_OHMS,
    SET_BY_LABEL,
    SHORT_OHMS,
    another_of_its_kind,
    draw_causes,
    of_any_degree,
)
from hypothesis import given, settings, strategies as st

from loose_rail.boards.faults import Fault, faults_of
from loose_rail.boards.kinds.kind import Effect
from loose_rail.kernel.quantities import component_value
from tests.shared import board, table

FAULTS = [fault for part in board().components for fault in faults_of(part)]


class TrueFaults(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(st.sampled_from(FAULTS), st.integers(0, 10_000))
    def test_every_degree_lies_where_the_benchmark_says(self, fault: Fault, seed: int) -> None:
        """And it is still the same part in the same mode."""
        true = of_any_degree(board(), fault, np.random.default_rng(seed))
        self.assertEqual((true.ref, true.mode, true.effect), (fault.ref, fault.mode, fault.effect))
        if fault.effect is Effect.BRIDGE:
            low = min(SHORT_OHMS[0], LEAK_OHMS[0], INNER_OHMS[0])
            self.assertTrue(low <= true.ohms <= HIGH_LEAK_OHMS[1], true)
        if fault.mode == "dried":
            self.assertTrue(FARADS_LEFT[1] <= true.value_scale <= FARADS_LEFT[0], true)
            wide = float(np.exp(6.0 * ESR_LOG))
            self.assertTrue(ESR_TIMES[0] / wide < true.esr_scale < ESR_TIMES[1] * wide, true)
        if fault.effect in (Effect.OPEN, Effect.DEAD, Effect.MUTE, Effect.ELSEWHERE):
            self.assertEqual(true, fault)

    def test_degrees_are_not_those_of_the_tables(self) -> None:
        rng = np.random.default_rng(1)
        short = next(f for f in FAULTS if f.key == "Q1:short:0")
        drawn = np.array([of_any_degree(board(), short, rng).ohms for _ in range(400)])
        self.assertLess(float(np.mean(np.abs(np.log(drawn / short.ohms)) < 0.2)), 0.15)
        self.assertGreater(float(drawn.max() / drawn.min()), 100.0)

    def test_causes_come_by_the_benchmark_s_own_rates(self) -> None:
        rows = draw_causes(table(), 3000, np.random.default_rng(2))
        of_part = [table().rows[row].faults[0] for row in rows]
        dried = np.mean([f.mode == "dried" for f in of_part])
        asks = np.mean([f.mode == "never_asserts" for f in of_part])
        wanted = HOW_OFTEN["electrolytic dried"] / HOW_OFTEN["load never_asserts"]
        self.assertAlmostEqual(float(dried / asks), wanted, delta=0.35 * wanted)

    @settings(max_examples=20, deadline=None)
    @given(st.integers(0, 10_000))
    def test_another_make_keeps_what_the_label_fixes(self, seed: int) -> None:
        other = another_of_its_kind(board(), 0.4, np.random.default_rng(seed))
        fixed = {
            ref
            for role, refs in board().roles.items()
            if role.rpartition(".")[2] in SET_BY_LABEL
            for ref in refs
        }
        moved = 0
        for own, there in zip(board().components, other.components, strict=True):
            if own.ref in fixed:
                self.assertEqual(own.value, there.value, own.ref)
            elif own.value and own.value != there.value:
                moved += 1
                ratio = component_value(there.value) / component_value(own.value)
                self.assertLess(abs(float(np.log(ratio))), 0.85)
        self.assertGreater(moved, 20)

    def test_a_set_reads_its_own_degree(self) -> None:
        """The hidden ohms stand in the readings: what the meter shows at the part is what was
        drawn, by the cold solver, and another degree reads otherwise."""
        short = next(f for f in FAULTS if f.key == "C27:short:0")
        rng = np.random.default_rng(5)
        column = table().index("C27.ohms.out@unplugged")
        shown = []
        for degree in (as_predicted, of_any_degree, of_any_degree):
            (one,) = simulated_sets(board(), [(short,)], rng, degree)
            shown.append(float(one.low[0, column]))
            self.assertAlmostEqual(shown[-1], one.faults[0].ohms, delta=0.02 + 0.02 * shown[-1])
        self.assertEqual(len({round(x, 4) for x in shown}), 3)
