"""The power-factor boost: lifts the bulk above the mains peak while it is enabled.

Averaged over the mains cycle: it takes from the line what the load takes from the bulk, plus what
brings the bulk to its set point, up to its power limit and to what the line can give through its
resistance (a quarter of V²/R, maximum power transfer). Textbook; settling time [E].
"""

from __future__ import annotations

from loose_rail.powered.maths import Flag, Value, clip, minimum, zeros
from loose_rail.powered.plant import BoostParameters

SETTLE_SECONDS = 0.08
"""From the start of the boost to its set point [P]."""
LINE_SHARE = 0.9
"""Share of what the mains can give that the boost takes at most [E]."""


class Boost:
    """Power that the boost feeds into the bulk of `n` boards."""

    def __init__(self, parameters: BoostParameters) -> None:
        self.parameters = parameters
        self.watts = zeros(parameters.path)

    def step(
        self,
        enabled: Flag,
        bulk: Value,
        farads: Value,
        load_watts: Value,
        available_watts: Value,
    ) -> Value:
        """Watts into the bulk now."""
        p = self.parameters
        wanted = load_watts + farads * bulk * (p.set_volts - bulk) / SETTLE_SECONDS
        most = minimum(p.limit_watts, LINE_SHARE * available_watts)
        self.watts = clip(wanted, 0.0, most) * (enabled & (p.path > 0))
        return self.watts
