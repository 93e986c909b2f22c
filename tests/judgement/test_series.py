"""The character of a stream of readings: reference section 4, its examples and all classes."""

import math
import unittest
from collections import Counter
from collections.abc import Callable

import numpy as np
from hypothesis import given, settings, strategies as st
from scipy.signal import lombscargle
from scipy.stats import kendalltau, norm, theilslopes

from loose_rail.boards.faults import fault_from_key
from loose_rail.boards.load import shipped_board
from loose_rail.judgement.series import (
    Character,
    examine,
    mann_kendall,
    rising_edges,
    strongest_sinusoid,
    theil_sen,
)
from loose_rail.practice.bench import SimulatedBench
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.material import some

Rng = np.random.Generator
Maker = Callable[[Rng, np.ndarray], np.ndarray]
METER_WINDOW = 0.15
NO_READING = (math.inf, math.nan)


def hiccup(rng: Rng, t: np.ndarray) -> np.ndarray:
    """A restarting rail, averaged by the meter's window: 0.7 to 2 times a second."""
    hertz, duty, phase = rng.uniform(0.7, 1.8), rng.uniform(0.3, 0.6), rng.uniform()
    fine = t[:, None] + np.linspace(-METER_WINDOW, 0, 16)
    return 5.0 * (((fine * hertz + phase) % 1) < duty).mean(axis=1)  # type: ignore[no-any-return]


def steps(rng: Rng, t: np.ndarray) -> np.ndarray:
    at = rng.uniform(0.3, 0.7) * t[-1]
    return np.where(t < at, 13.0, 13.0 - rng.uniform(2, 8))


def intermittent(rng: Rng, t: np.ndarray) -> np.ndarray:
    y = np.full(len(t), 12.0)
    y[rng.choice(len(t), len(t) // 9, replace=False)] = rng.uniform(0, 9)
    return y


MAKERS: dict[Character, tuple[Maker, float, float]] = {
    Character.STEADY: (lambda rng, t: np.full(len(t), 5.0), 5.0, 0.001),
    Character.NOISY: (lambda rng, t: 5.0 + 0.12 * rng.standard_normal(len(t)), 5.0, 0.0),
    Character.RISING: (lambda rng, t: 5 * (1 - 0.6 * np.exp(-t / rng.uniform(0.8, 4))), 5.0, 0.001),
    Character.SAGGING: (
        lambda rng, t: 190 * (0.6 + 0.4 * np.exp(-t / rng.uniform(1, 4))),
        190,
        0.001,
    ),
    Character.DRIFTING: (lambda rng, t: 12 * (1 + 0.025 * t / t[-1]), 12.0, 0.001),
    Character.TICKING: (hiccup, 5.0, 0.005),
    Character.STEPPING: (steps, 13.0, 0.002),
    Character.INTERMITTENT: (intermittent, 12.0, 0.002),
}


class Classes(unittest.TestCase):
    def test_every_class_is_told_at_several_rates(self) -> None:
        """Aim of the reference: 98 % or better on synthetic series; here each class has 90 %."""
        rng = np.random.default_rng(20261)
        for kind, (maker, nominal, noise) in MAKERS.items():
            seen: Counter[Character] = Counter()
            for rate, seconds in ((5.0, 12.0), (8.0, 11.0), (10.0, 15.0)):
                for _ in range(some(12, 40)):
                    t = np.arange(0, seconds, 1 / rate) + rng.uniform(0, 0.01)
                    y = maker(rng, t) + noise * nominal * rng.standard_normal(len(t))
                    seen[examine(t, y, nominal).character] += 1  # type: ignore[arg-type]
            self.assertGreaterEqual(seen[kind] / seen.total(), 0.9, f"{kind}: {dict(seen)}")

    def test_the_rate_of_a_hiccup_is_found_within_two_percent(self) -> None:
        rng = np.random.default_rng(7)
        errors = []
        for hertz in np.linspace(0.6, 2.0, 15):
            t = np.arange(0, 12, 0.2) + 0.02 * rng.uniform(size=60)
            fine = t[:, None] + np.linspace(-METER_WINDOW, 0, 16)
            y = 5.0 * (((fine * hertz) % 1) < 0.45).mean(axis=1)
            found = examine(t, y, 5.0)  # type: ignore[arg-type]
            self.assertIs(found.character, Character.TICKING, hertz)
            assert found.hertz is not None
            errors.append(abs(found.hertz / hertz - 1))
        self.assertLess(float(np.median(errors)), 0.02)
        self.assertLess(max(errors), 0.05)

    def test_uneven_restarts_are_a_hiccup_and_noise_is_none(self) -> None:
        """Each restart takes its own time, 8 % more or less: no sinusoid keeps its phase."""
        rng = np.random.default_rng(31)
        seen: Counter[str] = Counter()
        for _ in range(120):
            hertz = rng.uniform(0.7, 1.2)
            t = np.arange(0, 10, 0.2)
            starts = np.cumsum((1 + 0.08 * rng.standard_normal(40)) / hertz) - rng.uniform(3, 5)
            fine = t[:, None] + np.linspace(-METER_WINDOW, 0, 16)
            since = fine - starts[np.searchsorted(starts, fine) - 1]
            found = examine(t, (1 + 1.5 * np.exp(-2.2 * since * hertz)).mean(axis=1), 5.0)  # type: ignore[arg-type]
            seen["told"] += found.character is Character.TICKING
            seen["rate"] += found.hertz is not None and abs(found.hertz / hertz - 1) < 0.1
            noise = examine(t, 5 + 0.4 * rng.standard_normal(len(t)), 5.0)  # type: ignore[arg-type]
            seen["false"] += noise.hertz is not None
        self.assertGreaterEqual(seen["told"], 108, seen)
        self.assertGreaterEqual(seen["rate"], 102, seen)
        self.assertLessEqual(seen["false"], 4, seen)

    def test_the_simulated_bench_keeps_its_beat_where_its_trace_goes_round(self) -> None:
        board, now = shipped_board("PB-4310-2"), [0.0]
        bench = SimulatedBench(board, [fault_from_key(board, "C21:dried:1")], lambda: now[0])
        bench.put("standby/bare/lamp60")
        bench.probe("5VS", "GND", "standby.out")
        now[0] += 2.0
        seconds, values = [], []
        for _ in range(75):  # 15 s: round three times
            seconds.append(now[0])
            values.append(bench.read(MeterMode.DC_VOLTS))
            now[0] += 0.2
        found = examine(seconds, values, 5.0)
        self.assertIs(found.character, Character.TICKING)
        assert found.hertz is not None
        self.assertAlmostEqual(found.hertz, 0.98, delta=0.02)
        rises = np.diff(rising_edges(np.array(seconds), np.array(values), found.low, found.high))
        self.assertLess(np.abs(rises * found.hertz - 1).max(), 0.15)

    def test_worked_examples_of_the_reference(self) -> None:
        """V4.4: 5·(1 − 0.6·e^(−t/0.8)) at 5/s, 20 samples: b = 0.456 V/s, Z = 6.10, slow rise."""
        t = np.arange(20) / 5.0
        y = 5 * (1 - 0.6 * np.exp(-t / 0.8))
        self.assertAlmostEqual(theil_sen(t, y), 0.456, delta=0.02)
        self.assertAlmostEqual(mann_kendall(y), 6.10, delta=0.06)
        self.assertAlmostEqual(mann_kendall(np.arange(8.0)), 3.34, delta=0.01)  # V4.2
        t = np.arange(24) / 5.0
        y = 5 * (1 - 0.6 * np.exp(-t / 0.8))
        self.assertIs(examine(t, y, 5.0).character, Character.RISING)  # type: ignore[arg-type]
        t = np.arange(20) / 4.0
        y = 12.03 + 0.0148 * np.random.default_rng(2).standard_normal(20)
        found = examine(t, y, 12.0, 0.01)  # type: ignore[arg-type]
        self.assertIs(found.character, Character.STEADY)  # V4.3

    def test_a_held_or_open_display_is_not_called_steady(self) -> None:
        t = np.arange(0, 6, 0.2)
        self.assertIs(examine(t, np.full(30, 4.98), 5.0, 0.001).character, Character.FROZEN)  # type: ignore[arg-type]
        self.assertIs(examine(t, np.full(30, math.inf), 5.0).character, Character.OPEN)  # type: ignore[arg-type]
        self.assertIs(examine(t[:5], np.full(5, 4.98), 5.0).character, Character.TOO_SHORT)  # type: ignore[arg-type]

    @settings(max_examples=80)
    @given(
        st.lists(
            st.floats(-500, 500) | st.just(math.inf) | st.just(math.nan), min_size=1, max_size=80
        ),
        st.floats(0.1, 20),
        st.floats(0.001, 1000),
    )
    def test_anything_gets_a_finding_that_scales(
        self, values: list[float], rate: float, factor: float
    ) -> None:
        """No series breaks it, and the character does not depend on the unit of the values."""
        t = [k / rate for k in range(len(values))]
        nominal = 12.0
        found = examine(t, values, nominal)
        scaled = examine(t, [v * factor for v in values], nominal * factor)
        self.assertEqual(found.character, scaled.character)
        finite = [v for v in values if math.isfinite(v)]
        if found.character is not Character.OPEN:
            self.assertTrue(min(finite) <= found.low <= found.centre <= found.high <= max(finite))


class AgainstTheLibrary(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.integers(-40, 40), min_size=12, max_size=60), st.integers(0, 9))
    def test_trend(self, levels: list[int], seed: int) -> None:
        y = 5.0 + 0.01 * np.array(levels, dtype=float)
        t = np.cumsum(np.random.default_rng(seed).uniform(0.1, 0.4, len(y)))
        self.assertAlmostEqual(theil_sen(t, y), float(theilslopes(y, t)[0]), places=9)
        if len(set(levels)) > 1:
            tau = kendalltau(np.arange(len(y)), y, method="asymptotic")
            ours = 2 * float(norm.sf(abs(mann_kendall(y))))
            self.assertAlmostEqual(ours, float(tau.pvalue), delta=0.06)  # continuity correction
            self.assertGreaterEqual(mann_kendall(y) * float(tau.statistic), 0.0)

    @settings(max_examples=25, deadline=None)
    @given(st.floats(0.4, 1.8), st.floats(0, 6), st.integers(0, 99))
    def test_period(self, hertz: float, phase: float, seed: int) -> None:
        rng = np.random.default_rng(seed)
        t = np.sort(np.arange(80) * 0.2 + rng.uniform(-0.02, 0.02, 80))
        y = 5 + np.sin(2 * np.pi * hertz * t + phase) + 0.05 * rng.standard_normal(80)
        grid = np.linspace(0.2, 2.4, 2000)
        power = lombscargle(t, y - y.mean(), 2 * np.pi * grid)
        found = strongest_sinusoid(t, y)
        assert found is not None
        self.assertAlmostEqual(found[0], float(grid[np.argmax(power)]), delta=0.01)
