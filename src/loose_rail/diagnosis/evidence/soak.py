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
    return sum(w * math.exp(-hours / m) for w, m in zip(WEIGHTS, MEAN_HOURS, strict=True))


def hours_to_catch(share: float) -> float:
    """Hours after which the fault has shown with this chance, by bisection."""
    low, high = 0.0, 1000.0
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if 1.0 - clean_share(middle) < share else (low, middle)
    return high
