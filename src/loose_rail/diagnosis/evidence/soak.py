"""How long a fault that comes and goes may stay away.

Waiting times are exponential with an unknown mean; the mixture of means and its weights are the
electrical reference's section 10 [E]: most early failures show within hours, a tail takes days.
"""

from __future__ import annotations

import math

MEAN_HOURS = (0.5, 2.0, 8.0, 40.0)
WEIGHTS = (0.4, 0.3, 0.2, 0.1)


def clean_share(hours: float) -> float:
    """Chance that a fault that comes and goes does not show within some hours."""
    means = zip(WEIGHTS, MEAN_HOURS, strict=True)
    return sum(weight * (1.0 - shows_within(hours, mean)) for weight, mean in means)


def shows_within(hours: float, mean_hours: float) -> float:
    """Chance that a fault of a known mean time to show has shown: 1 − e^(−T/M)."""
    return -math.expm1(-hours / mean_hours)


def cycles_needed(chance_each: float, share: float) -> int:
    """Cycles of off and on after which a fault that shows in each with `chance_each` has shown with
    a chance: n = ln(1 − P)/ln(1 − q)."""
    return math.ceil(math.log1p(-share) / math.log1p(-chance_each))


def left_after(chance: float, stays_away: float) -> float:
    """What is left of a chance that the fault is there, once it has stayed away in a test where it
    does so with this likelihood: p·L/(p·L + 1 − p)."""
    still = chance * stays_away
    return still / (still + 1.0 - chance)


def hours_to_leave(chance: float, aim: float) -> float:
    """Clean hours that bring a chance down to an aim, by bisection; 0 where it is there already."""
    low, high = 0.0, 1000.0
    if chance <= aim:
        return 0.0
    for _ in range(60):
        middle = 0.5 * (low + high)
        above = left_after(chance, clean_share(middle)) > aim
        low, high = (middle, high) if above else (low, middle)
    return high


def rate_at_most(clean_hours: float) -> float:
    """Failures an hour that clean hours leave possible with 95 %, without any model: ln 20 / T."""
    return math.log(20.0) / clean_hours


def hours_to_catch(share: float) -> float:
    """Hours after which the fault has shown with this chance, by bisection."""
    low, high = 0.0, 1000.0
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if 1.0 - clean_share(middle) < share else (low, middle)
    return high
