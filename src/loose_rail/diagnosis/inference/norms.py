"""What sound boards of this number were read at, and how it weighs against the model.

The model says where a sound board should read; boards of one number scatter around a value of
their own, which the model misses by as much again, and by what is not known of a composed board.
With `n` sound boards read, the value of this number is estimated from both (normal prior and normal
readings, textbook): three boards weigh three times the model.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board
from loose_rail.judgement.spread import is_logic_line, known_sigma, scaled, sigma

Floats = NDArray[np.float64]
OWN_SCATTER_SHARE = 0.5
"""Of the variance within which sound boards of one number lie around the model: how they scatter
among themselves; the other half is how far the model misses their number [E]."""


def norm_of(
    board: Board, probe: Probe, values: Sequence[float], predicted: float
) -> tuple[float, float] | None:
    """Centre and width, on the scale of `scaled`, at which the next sound board should read; None
    where norms say nothing: a logic line, or nothing read."""
    if not values or is_logic_line(board, probe) or not np.isfinite(predicted):
        return None
    read = np.array([float(scaled(value, probe.mode)) for value in values])
    own = OWN_SCATTER_SHARE * float(known_sigma(board, probe, predicted)) ** 2
    model = float(sigma(board, probe, predicted)) ** 2 - own
    weight = 1.0 / model + len(read) / own
    centre = (float(scaled(predicted, probe.mode)) / model + read.sum() / own) / weight
    return float(centre), float(np.sqrt(1.0 / weight + own))


def with_norm(
    y: Floats, width: Floats, steady: NDArray[np.bool_], norm: tuple[float, float]
) -> tuple[Floats, Floats]:
    """Predictions and widths `(n_rows,)` of a column where rows that read like a sound board read
    as sound boards were found to; others stay."""
    centre, own = norm
    gap = (y - y[0]) / width
    alike = np.where(steady, np.exp(-0.5 * gap * gap), 0.0)
    return y + alike * (centre - y[0]), width * (1.0 - alike) + own * alike
