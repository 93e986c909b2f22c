"""A meter that speaks SCPI (IEEE 488.2 and SCPI-99), reached through PyVISA's pure-Python backend.

Overload is 9.9E37 by the standard. Every failure is a sentence: off, silent, slow, rubbish.
"""

from __future__ import annotations

import math
from typing import Any

import pyvisa
from pyvisa.errors import VisaIOError

from loose_rail.kernel.errors import MeterError

TIMEOUT_MILLISECONDS = 8000
SCPI_OVERLOAD = 9.0e37

_CONFIGURE = {
    "dc_volts": "CONF:VOLT:DC",
    "ac_volts": "CONF:VOLT:AC",
    "ohms": "CONF:RES",
    "diode": "CONF:DIOD",
    "continuity": "CONF:CONT",
    "capacitance": "CONF:CAP",
    "esr": "CONF:ESR",
}


class VisaMeter:
    """One meter at a VISA address. Opens when made; raises MeterError."""

    def __init__(self, address: str, timeout_milliseconds: int = TIMEOUT_MILLISECONDS) -> None:
        self.address = address
        self._mode = ""
        self._resource: Any = None
        self._manager = pyvisa.ResourceManager("@py")
        try:
            self._resource = self._manager.open_resource(
                address, read_termination="\n", write_termination="\n"
            )
            self._resource.timeout = timeout_milliseconds
        except (VisaIOError, OSError, ValueError) as error:
            raise MeterError(
                f"No meter answers at {address}.", "Is it switched on and its cable in?"
            ) from error
        fields = self._ask("*IDN?").split(",")
        self._name = fields[1].strip() if len(fields) > 1 else "meter"

    @property
    def name(self) -> str:
        """Model from the meter's identification."""
        return self._name

    def read(self, mode: str) -> float:
        """One reading in SI units, +inf where the meter shows overload. Raises MeterError."""
        if mode not in _CONFIGURE:
            raise MeterError(f"This meter has no setting for “{mode}”.")
        if mode != self._mode:
            self._tell(_CONFIGURE[mode])
            self._mode = mode
        answer = self._ask("READ?")
        try:
            number = float(answer)
        except ValueError as error:
            raise MeterError(
                f"The meter answered “{answer[:40]}”, which is no number.",
                "Check its setting; what you typed is kept.",
            ) from error
        if math.isnan(number):
            raise MeterError("The meter answered that it has no reading.", "Read again.")
        return math.inf if abs(number) >= SCPI_OVERLOAD else number

    def close(self) -> None:
        """Let go of the meter."""
        if self._resource is not None:
            self._resource.close()
        self._manager.close()

    def _tell(self, command: str) -> None:
        try:
            self._resource.write(command)
        except (VisaIOError, OSError) as error:
            raise self._silent() from error

    def _ask(self, command: str) -> str:
        try:
            return str(self._resource.query(command)).strip()
        except (VisaIOError, OSError, UnicodeDecodeError) as error:
            self._mode = ""
            raise self._silent() from error

    def _silent(self) -> MeterError:
        return MeterError(
            f"The meter at {self.address} does not answer.",
            "Is it on? You can type the reading instead.",
        )
