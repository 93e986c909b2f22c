"""The peer: ngspice run as a process, with tight tolerances and a time-out.

An answer reached by its transient fallback is thrown away; where tight settings give none, looser
ones are tried and then the reading counts as not answered.
"""

from __future__ import annotations

import math
import re
import shutil
import subprocess

import numpy as np
from numpy.typing import NDArray
from scipy.special import wrightomega

from loose_rail.circuit import meters
from loose_rail.circuit.elements import Network, Variant
from loose_rail.circuit.junction import JunctionArray
from loose_rail.circuit.meter_port import MeterPort
from loose_rail.netlist.write import TEMPERATURE, meter_lines, network_lines, node_names
from loose_rail.vocabulary.meter_mode import MeterMode

TIGHT = "reltol=1e-6 abstol=1e-14 vntol=1e-9 gmin=1e-14"
LOOSER = "reltol=1e-4 abstol=1e-12 vntol=1e-7 gmin=1e-13"
SECONDS = 5.0
PRESENT = shutil.which("ngspice") is not None
Floats = NDArray[np.float64]
Case = tuple[Variant, str, str, int]
"""A variant, red net, black net, number of the ohms range."""


def run(deck: str, seconds: float = SECONDS) -> str:
    """Output of one batch run; empty where it hung."""
    try:
        done = subprocess.run(
            ["ngspice", "-b"], input=deck, capture_output=True, text=True, timeout=seconds
        )
    except subprocess.TimeoutExpired:
        return ""
    return done.stdout + done.stderr


def reading(network: Network, case: Case, mode: MeterMode) -> float | None:
    """What the peer's meter shows; None where it gave no answer, first tight, then looser."""
    for options in (TIGHT, LOOSER):
        value = _value(run(deck(network, case, mode, options)), mode)
        if value is not None:
            return _shown(value, mode, case[3])
    return None


def deck(network: Network, case: Case, mode: MeterMode, options: str = TIGHT) -> str:
    """A control deck for one reading that prints what stands between the probes."""
    variant, plus, minus, scale = case
    names = node_names(network)
    *meter, analysis = meter_lines(names[plus], names[minus], mode, scale)
    between = _between(names[plus], names[minus])
    shown = f"print {between}"
    if mode in (MeterMode.ESR, MeterMode.CAPACITANCE):
        shown = f"let seen = {between}\nprint real(seen) imag(seen)"
    lines = ["peer", *network_lines(network, variant, names), *meter, TEMPERATURE]
    lines += [f".options {options}", ".control", "set numdgt=12", analysis.removeprefix(".")]
    return "\n".join([*lines, shown, ".endc", ".end"]) + "\n"


def _value(output: str, mode: MeterMode) -> complex | None:
    numbers = re.findall(r"^\S+ = (-?\d\S*)\s*$", output, re.MULTILINE)
    alternating = mode in (MeterMode.ESR, MeterMode.CAPACITANCE)
    if "Transient op" in output or len(numbers) != (2 if alternating else 1):
        return None
    return complex(*map(float, numbers))


def _between(plus: str, minus: str) -> str:
    if minus == "0":
        return f"v({plus})"
    return f"-v({minus})" if plus == "0" else f"v({plus},{minus})"


def _shown(value: complex, mode: MeterMode, scale: int) -> float:
    """The display for what stands between the probes."""
    if mode is MeterMode.OHMS:
        source = meters.OHMS_RANGES[scale]
        amps = MeterPort.ohms(source.source_amps).delivered(value.real)
        ohms = value.real / max(amps, 1e-3 * source.source_amps)
        return math.inf if ohms > source.full_scale_ohms else ohms
    if mode is MeterMode.DIODE:
        return math.inf if value.real > meters.DIODE_OVERLOAD_VOLTS else value.real
    if mode is MeterMode.ESR:
        return math.inf if value.real > meters.ESR_OVERLOAD_OHMS else max(value.real, 0.0)
    if value.imag >= 0:
        return math.inf
    return -1.0 / (2 * math.pi * meters.CAPACITANCE_HERTZ * value.imag)


def forward(self: JunctionArray, volts: Floats) -> tuple[Floats, Floats]:
    """The peer's junction law: Shockley down to −3·n·VT, below that a cubic for the leakage.

    i = −IS·(1 + (3·n·VT/(e·v))³). Solved with the series resistance by Newton's method.
    """
    saturation, slope_volts, series = self.saturation, self.slope_volts, self.series
    drop = saturation * series
    omega = wrightomega(np.log(drop / slope_volts) + (volts + drop) / slope_volts)
    current = slope_volts / series * omega - saturation
    slope = omega / (series * (1.0 + omega))
    inner = volts - current * series
    for _ in range(20):
        arg = 3.0 * slope_volts / (np.minimum(inner, -1e-9) * math.e)
        i = -saturation * (1.0 + arg**3)
        g = 3.0 * saturation * arg**3 / np.minimum(inner, -1e-9)
        inner = inner - (inner + i * series - volts) / (1.0 + g * series)
    below = volts < -3.0 * slope_volts
    return np.where(below, i, current), np.where(below, g / (1.0 + g * series), slope)
