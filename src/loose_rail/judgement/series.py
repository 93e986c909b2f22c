"""What a stream of readings does: steady, noisy, drifting, rising, sagging, stepping, ticking …

The decision order and thresholds of electrical reference section 4: centre and spread by medians,
noise from differences (blind to drift and steps), trend by Theil–Sen and Mann–Kendall, period by
least squares sinusoids with a false-alarm probability, change points by optimal partition, shapes
compared by the Bayesian information criterion. Thresholds are shares of the nominal value [E];
the methods are textbook.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


class Character(StrEnum):
    """What a series does; `TOO_SHORT` says nothing but its value."""

    TOO_SHORT = "value only"
    OPEN = "open"
    FROZEN = "frozen"
    STEADY = "steady"
    TICKING = "pulsing"
    RIPPLING = "rippling"
    RISING = "slow rise"
    SAGGING = "sagging"
    DRIFTING = "drifting"
    STEPPING = "stepping"
    INTERMITTENT = "intermittent"
    NOISY = "noisy"


@dataclass(frozen=True, slots=True)
class SeriesFinding:
    """A series in numbers (SI units) and its character.

    `hertz` only where it repeats; `share_per_minute` of the nominal value where it moves one way;
    `levels` the plateaus of a stepping one.
    """

    character: Character
    centre: float
    spread: float
    low: float
    high: float
    hertz: float | None = None
    share_per_minute: float = 0.0
    levels: tuple[float, ...] = ()


LEAST_SAMPLES = 12
LEAST_SECONDS = 4.0
LEAST_PERIODIC = 20
LEAST_INTERMITTENT, LEAST_INTERMITTENT_SECONDS = 30, 10.0
MOST_SAMPLES = 300
MAD_SCALE = 1.4826
SIGNIFICANT_Z = 3.0
STEADY_SHARE, STEADY_DRIFT_SHARE = 0.01, 0.005
PERIODIC_R2, PERIODIC_FALSE_ALARM, PERIODIC_SHARE, LEAST_CYCLES = 0.6, 1e-3, 0.03, 2.5
HICCUP_DROP, HICCUP_SHARE = 0.85, 0.10
LEAST_RESTARTS, RESTART_UNEVEN, RESTART_SAMPLES = 3, 0.2, 3.5
"""Intervals between restarts; their spread as a share of their mean (noise in a meter's samples has
more than 0.4, the restarts of a hiccup some 0.1 [E]); samples in one, as noise crosses its own
middle every three samples."""
SLOW_SHARE, DRIFT_SHARE = 0.05, 0.01
STEP_SHARE, STEP_SIGMAS, PLATEAU_SHARE, MOST_STEPS = 0.03, 5.0, 0.12, 3
OUTLIER_SHARE, OUTLIER_SIGMAS, INTERMITTENT_RANGE = 0.05, 6.0, 0.08
NOISY_SHARE = 0.01
RICHER_BIC = 6.0
TIME_CONSTANTS = tuple(0.03 * 1.2**k for k in range(22))
"""Of an exponential, as shares of the record, from a thirtieth to longer than all of it."""
FROZEN_SECONDS = 3.0
"""A display that stands to the last digit for this long is held or hung [E]."""
OPEN_SHARE = 0.2
"""Share of OL samples from which no number is made of a stream [E]."""


def examine(
    seconds: Sequence[float],
    values: Sequence[float],
    nominal: float | None = None,
    resolution: float = 0.0,
) -> SeriesFinding:
    """The character of a series of samples (seconds, SI values; +inf or NaN are no reading).

    `nominal` is what the point should read, the median where it is not known; `resolution` the
    last digit of the meter. Raises ValueError for an empty series.
    """
    if not len(values):
        raise ValueError("no samples")
    raw = np.array(values, dtype=float)
    keep = np.isfinite(raw)
    if not keep.any() or (len(raw) > 2 and (~keep).mean() > 0.5):
        return SeriesFinding(Character.OPEN, math.inf, 0.0, math.inf, math.inf)
    t, y = np.array(seconds, dtype=float)[keep], raw[keep]
    if len(y) > MOST_SAMPLES:
        chosen = np.linspace(0, len(y) - 1, MOST_SAMPLES).round().astype(int)
        t, y = t[chosen], y[chosen]
    return _Series(t, y, nominal, resolution, float((~keep).mean())).finding()


class _Series:
    def __init__(
        self, t: Floats, y: Floats, nominal: float | None, resolution: float, gaps: float
    ) -> None:
        self.t, self.y, self.gaps = t, y, gaps
        self.n, self.length = len(y), float(t[-1] - t[0]) if len(t) > 1 else 0.0
        self.centre = float(np.median(y))
        scale = abs(nominal) if nominal else abs(self.centre)
        self.scale = max(scale, 1e-12)
        self.resolution = resolution
        self.spread = MAD_SCALE * float(np.median(np.abs(y - self.centre)))
        steps = np.diff(y)
        noise = MAD_SCALE * float(np.median(np.abs(steps - np.median(steps)))) if self.n > 2 else 0
        floor = max(resolution / math.sqrt(12.0), 1e-4 * self.scale)
        self.noise = max(noise / math.sqrt(2.0), floor)
        self.range = float(y.max() - y.min())

    def _made(self, character: Character, **more: object) -> SeriesFinding:
        low, high = float(self.y.min()), float(self.y.max())
        return SeriesFinding(character, self.centre, self.spread, low, high, **more)  # type: ignore[arg-type]

    def finding(self) -> SeriesFinding:
        if self.n < LEAST_SAMPLES or self.length < LEAST_SECONDS or self.gaps > OPEN_SHARE:
            return self._made(Character.TOO_SHORT)
        if self.range == 0.0 and self.resolution > 0 and self.length > FROZEN_SECONDS:
            if abs(self.centre) > 10 * self.resolution:
                return self._made(Character.FROZEN)
            return self._made(Character.STEADY)
        z, slope = mann_kendall(self.y), theil_sen(self.t, self.y)
        drift = slope * self.length / self.scale
        quiet = self.range <= max(3 * self.resolution, STEADY_SHARE * self.scale)
        if quiet and not (abs(z) > SIGNIFICANT_Z and abs(drift) > STEADY_DRIFT_SHARE):
            return self._made(Character.STEADY)
        segments = self._segments()
        monotone = abs(z) > SIGNIFICANT_Z and self._best_shape(segments) in ("line", "exponential")
        steps = self._is_stepping(segments)
        periodic = None if monotone or steps else self._repeating()
        if periodic is not None:
            return periodic
        if monotone:
            return self._trend(slope, drift)
        if steps:
            levels = tuple(float(self.y[a:b].mean()) for a, b in segments)
            return self._made(Character.STEPPING, levels=levels)
        if self._is_intermittent():
            return self._made(Character.INTERMITTENT)
        if self.noise > NOISY_SHARE * self.scale or self.range > 2 * NOISY_SHARE * self.scale:
            return self._made(Character.NOISY)
        return self._made(Character.STEADY)

    def _trend(self, slope: float, drift: float) -> SeriesFinding:
        head, tail = self.y[: max(3, self.n // 8)], self.y[-max(3, self.n // 8) :]
        change = float(np.median(tail) - np.median(head)) / self.scale
        rate = slope * 60.0 / self.scale
        if abs(change) >= SLOW_SHARE:
            kind = Character.RISING if change > 0 else Character.SAGGING
            return self._made(kind, share_per_minute=rate)
        if abs(change) >= DRIFT_SHARE or abs(drift) >= DRIFT_SHARE:
            return self._made(Character.DRIFTING, share_per_minute=rate)
        return self._made(Character.STEADY, share_per_minute=rate)

    def _repeating(self) -> SeriesFinding | None:
        """A hiccup or a ripple, where the series moves enough and does so again and again."""
        low, high = np.percentile(self.y, [2.5, 97.5])
        if high - low < PERIODIC_SHARE * self.scale:
            return None
        hertz = self._periodic() or self._restarting()
        if hertz is None:
            return None
        top = max(self.scale, float(np.percentile(self.y, 90)))
        deep = float(np.percentile(self.y, 5)) < HICCUP_DROP * top
        hiccup = deep and high - low > HICCUP_SHARE * self.scale
        return self._made(Character.TICKING if hiccup else Character.RIPPLING, hertz=hertz)

    def _periodic(self) -> float | None:
        """Times a second, where a sinusoid with its harmonic fits."""
        found = strongest_sinusoid(self.t, self.y) if self.n >= LEAST_PERIODIC else None
        if found is None:
            return None
        hertz, r2, false_alarm = found
        enough = hertz * self.length >= LEAST_CYCLES
        return (
            hertz if r2 >= PERIODIC_R2 and false_alarm <= PERIODIC_FALSE_ALARM and enough else None
        )

    def _restarting(self) -> float | None:
        """Times a second, where it rises at nearly even intervals. No single sinusoid fits a rail
        that restarts: each charge of the start capacitor takes its own time, and after a few cycles
        the phase is lost."""
        low, high = np.percentile(self.y, [5, 95])
        gaps = np.diff(rising_edges(self.t, self.y, float(low), float(high)))
        if len(gaps) < LEAST_RESTARTS or gaps.std(ddof=1) > RESTART_UNEVEN * gaps.mean():
            return None
        told = gaps.mean() >= RESTART_SAMPLES * self.length / (self.n - 1)
        return float(1.0 / gaps.mean()) if told else None

    def _segments(self) -> list[tuple[int, int]]:
        """Optimal partition into constant pieces: penalised sums of squares by dynamic
        programming."""
        n, y = self.n, self.y
        total, squares = (
            np.concatenate([[0], np.cumsum(y)]),
            np.concatenate([[0], np.cumsum(y * y)]),
        )
        penalty = 3 * self.noise**2 * math.log(n) + (0.015 * self.scale) ** 2
        best, start = np.full(n + 1, np.inf), np.zeros(n + 1, dtype=int)
        best[0] = -penalty
        for end in range(3, n + 1):
            starts = np.arange(0, end - 2)
            count = end - starts
            mean = (total[end] - total[starts]) / count
            cost = squares[end] - squares[starts] - count * mean**2
            costs = best[starts] + cost + penalty
            pick = int(np.argmin(costs))
            best[end], start[end] = costs[pick], starts[pick]
        pieces: list[tuple[int, int]] = []
        end = n
        while end > 0:
            pieces.append((int(start[end]), end))
            end = int(start[end])
        return pieces[::-1]

    def _best_shape(self, segments: list[tuple[int, int]]) -> str:
        """The shape with the least BIC; a richer one must win by RICHER_BIC."""
        clip = 4 * self.noise + 0.01 * self.scale
        t = (self.t - self.t[0]) / max(self.length, 1e-9)

        def score(fitted: Floats, parameters: int) -> float:
            left = np.clip(self.y - fitted, -clip, clip)
            rss = max(float((left * left).sum()), self.n * (1e-6 * self.scale) ** 2)
            return self.n * math.log(rss / self.n) + parameters * math.log(self.n)

        line = np.column_stack([np.ones(self.n), t])
        shapes = [
            ("constant", score(np.full(self.n, self.centre), 1)),
            ("line", score(line @ np.linalg.lstsq(line, self.y, rcond=None)[0], 2)),
        ]
        curves = []
        for tau in TIME_CONSTANTS:
            for time in (t, 1.0 - t):  # levelling off, or faster and faster
                bent = np.column_stack([np.ones(self.n), np.exp(-time / tau)])
                curves.append(score(bent @ np.linalg.lstsq(bent, self.y, rcond=None)[0], 3))
        shapes.append(("exponential", min(curves)))
        stairs = np.concatenate([np.full(b - a, self.y[a:b].mean()) for a, b in segments])
        shapes.append(("stairs", score(stairs, 2 * len(segments) - 1)))
        name, least = shapes[0]
        for shape, bic in shapes[1:]:
            if bic < least - RICHER_BIC:
                name, least = shape, bic
        return name

    def _is_stepping(self, segments: list[tuple[int, int]]) -> bool:
        if not 1 <= len(segments) - 1 <= MOST_STEPS:
            return False
        if min(b - a for a, b in segments) < PLATEAU_SHARE * self.n:
            return False
        levels = [float(self.y[a:b].mean()) for a, b in segments]
        gap = max(STEP_SIGMAS * self.noise, STEP_SHARE * self.scale)
        apart = all(abs(b - a) >= gap for a, b in itertools.pairwise(levels))
        return apart and self._best_shape(segments) == "stairs"

    def _is_intermittent(self) -> bool:
        if self.n < LEAST_INTERMITTENT or self.length < LEAST_INTERMITTENT_SECONDS:
            return False
        far = max(OUTLIER_SIGMAS * self.noise, OUTLIER_SHARE * self.scale)
        away = float((np.abs(self.y - self.centre) > far).mean())
        return 0 < away < 0.5 and self.range > INTERMITTENT_RANGE * self.scale


def mann_kendall(y: Floats) -> float:
    """Z of the Mann–Kendall trend test with its correction for ties (textbook)."""
    n = len(y)
    s = float(np.sign(y[None, :] - y[:, None])[np.triu_indices(n, 1)].sum())
    _, counts = np.unique(y, return_counts=True)
    ties = float((counts * (counts - 1) * (2 * counts + 5)).sum())
    variance = (n * (n - 1) * (2 * n + 5) - ties) / 18.0
    return (s - math.copysign(1.0, s)) / math.sqrt(variance) if s and variance > 0 else 0.0


def theil_sen(t: Floats, y: Floats) -> float:
    """Median of the slopes between all pairs, per second (textbook)."""
    rows, columns = np.triu_indices(len(y), 1)
    gap = t[columns] - t[rows]
    wide = gap > 0
    if not wide.any():
        return 0.0
    return float(np.median((y[columns] - y[rows])[wide] / gap[wide]))


def strongest_sinusoid(t: Floats, y: Floats) -> tuple[float, float, float] | None:
    """Frequency of the best single sinusoid plus constant, its R² and its false-alarm probability.

    Grid of five points per 1/T from 2.5/T to half the sampling rate; the probability from the F
    test, times the number of frequencies tried (conservative). R² is refined with two harmonics.
    """
    length, n = float(t[-1] - t[0]), len(y)
    rate = (n - 1) / length
    grid = np.arange(LEAST_CYCLES / length, 0.5 * rate, 0.2 / length)
    if not len(grid):
        return None
    left = y - y.mean()
    whole = float(left @ left)
    if whole <= 0:
        return None
    explained = np.array([_explained(t, left, f, 1) for f in grid]) / whole
    best = int(np.argmax(explained))
    near = np.linspace(grid[best] - 0.2 / length, grid[best] + 0.2 / length, 21)
    fine = np.array([_explained(t, left, f, 2) for f in near if f > 0]) / whole
    hertz = float(near[near > 0][int(np.argmax(fine))])
    r2 = float(fine.max())
    single = min(float(explained[best]), 1 - 1e-12)
    log_p = 0.5 * (n - 3) * math.log1p(-single)
    false_alarm = min(1.0, len(grid) * math.exp(log_p))
    return hertz, r2, false_alarm


def rising_edges(t: Floats, y: Floats, low: float, high: float) -> Floats:
    """Times at which the series rises through the middle of `low` and `high`, each counted once it
    was below a third and then above two thirds of the way (a comparator with hysteresis)."""
    lower, middle, upper = (low + (high - low) * share for share in (1 / 3, 1 / 2, 2 / 3))
    edges: list[float] = []
    below, crossed = False, 0
    for k, value in enumerate(y):
        if value < lower:
            below = True
        if below and value < middle:
            crossed = k
        if below and value > upper:
            before, after = float(y[crossed]), float(y[crossed + 1])
            part = (middle - before) / (after - before)
            edges.append(float(t[crossed] + part * (t[crossed + 1] - t[crossed])))
            below = False
    return np.array(edges)


def _explained(t: Floats, y: Floats, hertz: float, harmonics: int) -> float:
    columns = [np.ones_like(t)]
    for k in range(1, harmonics + 1):
        columns += [np.cos(2 * np.pi * k * hertz * t), np.sin(2 * np.pi * k * hertz * t)]
    basis = np.column_stack(columns)
    fitted = basis @ np.linalg.lstsq(basis, y, rcond=None)[0]
    return float(2 * (fitted @ y) - fitted @ fitted)
