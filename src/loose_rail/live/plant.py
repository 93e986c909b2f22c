"""The parameters of a powered board, one column per fault variant and board state.

Every field is an array of shape `(n,)` in SI units; `inf` ohms is an open path. The parameters
come from the board profile (see boards.live_plant): the model below knows no part names.
"""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(slots=True)
class ConverterParameters:
    """One flyback converter as an averaged source with its feedback and output."""

    limit_amps: Floats
    limit_watts: Floats
    set_volts: Floats
    diode_volts: Floats
    rectifier_path: Floats
    output_farads: Floats
    output_esr_ohms: Floats
    ripple_ohms: Floats
    output_siemens: Floats
    over_volts: Floats
    soft_start_seconds: Floats
    choke_ohms: Floats


@dataclass(slots=True)
class Plant:
    """Everything the simulation needs to know of `n` boards."""

    mains_volts: Floats
    mains_hertz: Floats
    lamp_watts: Floats
    lamp_volts: Floats
    line_ohms: Floats
    fuse_ohms: Floats
    fuse_amps: Floats
    bridge_arms: Floats
    input_short_siemens: Floats
    bulk_farads: Floats
    bulk_short_siemens: Floats
    bulk_leak_siemens: Floats
    start_ohms: Floats
    vcc_farads: Floats
    vcc_leak_siemens: Floats
    aux_ohms: Floats
    aux_ratio: Floats
    vcc_on_volts: Floats
    vcc_off_volts: Floats
    vcc_over_volts: Floats
    run_amps: Floats
    controller_path: Floats
    standby: ConverterParameters
    main: ConverterParameters
    slave_ratio: Floats
    slave_ohms: Floats
    slave_farads: Floats
    slave_siemens: Floats
    main_path: Floats
    wake_stuck: Floats
    wake_path: Floats
    cable: Floats
    forced: Floats
    switched_on: Floats
    load_drag_siemens: Floats
    load_asserts: Floats

    @property
    def width(self) -> int:
        """Number of columns."""
        return len(self.mains_volts)

    def fingerprint(self) -> bytes:
        """Bytes that are equal exactly for equal parameters."""
        parts = [getattr(self, field.name) for field in fields(Plant)]
        flat = [
            getattr(part, inner.name)
            for part in parts
            if isinstance(part, ConverterParameters)
            for inner in fields(ConverterParameters)
        ]
        flat += [part for part in parts if not isinstance(part, ConverterParameters)]
        return np.concatenate(flat).tobytes()


def stack(columns: list[Plant]) -> Plant:
    """Put one-column plants side by side."""
    values: dict[str, object] = {}
    for field in fields(Plant):
        parts = [getattr(column, field.name) for column in columns]
        if field.name in ("standby", "main"):
            values[field.name] = ConverterParameters(
                **{
                    inner.name: np.concatenate([getattr(part, inner.name) for part in parts])
                    for inner in fields(ConverterParameters)
                }
            )
        else:
            values[field.name] = np.concatenate(parts)
    return Plant(**values)  # type: ignore[arg-type]
