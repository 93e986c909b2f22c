"""A netlist as read from a SPICE file: frozen parts that remember their line.

Not the board's own `elements`: here inductors are ideal, sources exist and nothing has series
resistance unless it says so, exactly as the file stands.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from loose_rail.kernel.errors import NetlistError

GROUND = "0"
NOMINAL_CELSIUS = 27.0
"""The temperature that circuit simulators assume."""


@dataclass(frozen=True, slots=True)
class Part:
    """One part line: `kind` is R, C, L, D, V or I; `value` in Ω, F, H, V (DC) or A (DC).

    `ac` is the phasor of a source, `model` and `area` belong to diodes.
    """

    name: str
    kind: str
    plus: str
    minus: str
    value: float
    line: int
    ac: complex = 0j
    model: str = ""
    area: float = 1.0


@dataclass(frozen=True, slots=True)
class Coupling:
    """A K line: two inductors by name and the coupling factor."""

    name: str
    first: str
    second: str
    factor: float
    line: int


@dataclass(frozen=True, slots=True)
class DiodeModel:
    """`.model D`: the parameters used, with SPICE's own defaults."""

    name: str
    saturation_amps: float = 1e-14
    emission: float = 1.0
    series_ohms: float = 0.0
    breakdown_volts: float = math.inf
    breakdown_amps: float = 1e-3
    junction_farads: float = 0.0


@dataclass(frozen=True, slots=True)
class Netlist:
    """A whole file: parts in order, couplings, diode models by name, analyses, notes.

    `hertz` lists the frequencies of `.ac`; `notes` says what was read but not used.
    """

    source: str
    title: str
    parts: tuple[Part, ...]
    couplings: tuple[Coupling, ...]
    models: dict[str, DiodeModel]
    wants_op: bool
    hertz: tuple[float, ...]
    notes: tuple[str, ...]
    celsius: float = NOMINAL_CELSIUS

    @property
    def nets(self) -> tuple[str, ...]:
        """Every net in the order of first mention."""
        return tuple(dict.fromkeys(n for part in self.parts for n in (part.plus, part.minus)))

    def error(self, message: str, hint: str = "", line: int = 0) -> NetlistError:
        """An error that names this file and, where known, the line."""
        where = f"{self.source}:{line}" if line else self.source
        return NetlistError(f"{where}: {message}", hint)

    def model_of(self, part: Part) -> DiodeModel:
        """The model of a diode. Raises NetlistError where it is not defined."""
        try:
            return self.models[part.model]
        except KeyError:
            raise self.error(
                f"{part.name} uses the model “{part.model}”, which is not defined.",
                f"Add a line .model {part.model} D(IS=… N=… RS=…).",
                part.line,
            ) from None
