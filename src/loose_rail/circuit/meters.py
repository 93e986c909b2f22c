"""What stands behind the two probes: the sources of a hand-held meter, as data.

Ohms: a constant current per range behind a clamp near 0.7 V; the display is volts over current
and shows OL above the range. Diode test: 3 V behind 2.4 kΩ, shown in volts, OL above 2.6 V.
ESR: 100 kHz at a level too low for junctions. Capacitance: small signal at 120 Hz.
Typical of hand-held meters [P]; see electrical reference sections 5 and 6.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class OhmsRange:
    """One range: highest ohms shown and the current that the source drives."""

    full_scale_ohms: float
    source_amps: float


OHMS_RANGES = (
    OhmsRange(400.0, 1e-3),
    OhmsRange(4e3, 1e-4),
    OhmsRange(40e3, 1e-5),
    OhmsRange(400e3, 1e-6),
    OhmsRange(4e6, 1e-7),
    OhmsRange(40e6, 1e-8),
)
OHMS_CLAMP_VOLTS = 0.7
"""At this, an ohms range of a DMM overloads on the way into a junction [P]."""
DIODE_SOURCE_VOLTS = 3.0
"""Open volts of the diode test [P]."""
DIODE_SOURCE_OHMS = 2400.0
"""Its source: about 1 mA into a junction [P]."""
DIODE_OVERLOAD_VOLTS = 2.6
"""Above this it shows OL [P]."""
ESR_HERTZ = 100e3
"""ESR is measured at 100 kHz (IEC 60384-4)."""
CAPACITANCE_HERTZ = 120.0
"""Large capacitance is measured at twice the mains frequency (IEC 60384-4)."""
LCR_HERTZ = 1e3
"""Inductance and small capacitance on an LCR meter [P]."""
ESR_OVERLOAD_OHMS = 100.0
"""Above this an ESR meter shows OL [P]."""
CAPACITANCE_FULL_SCALE_FARADS = 40e-3
"""Above this a capacitance range shows OL [P]."""
