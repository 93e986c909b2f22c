"""The power-factor boost: lifts the bulk above the mains peak while it is enabled.

Averaged over the mains cycle: it takes from the line what the load takes from the bulk, plus what
brings the bulk to its set point, up to its power limit and to what the line can give through its
resistance (a quarter of V²/R, maximum power transfer). Textbook; settling time [E].
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.live.plant import BoostParameters

Floats = NDArray[np.float64]

SETTLE_SECONDS = 0.08
LINE_SHARE = 0.9


class Boost:
    """Power that the boost feeds into the bulk of `n` boards."""

    def __init__(self, parameters: BoostParameters) -> None:
        self.parameters = parameters
        self.watts = np.zeros(len(parameters.path))

    def step(
        self,
        enabled: NDArray[np.bool_],
        bulk: Floats,
        farads: Floats,
        load_watts: Floats,
        available_watts: Floats,
    ) -> Floats:
        """Watts into the bulk now."""
        p = self.parameters
        wanted = load_watts + farads * bulk * (p.set_volts - bulk) / SETTLE_SECONDS
        most = np.minimum(p.limit_watts, LINE_SHARE * available_watts)
        running = enabled & (p.path > 0)
        self.watts = np.where(running, np.clip(wanted, 0.0, most), 0.0)
        return self.watts
