"""Finds meters: what the computer's serial and USB ports hold, and the addresses that are known.

A network socket can't be found by listening; its host and port are typed once and kept. Asking
takes seconds: on a worker thread.
"""

from __future__ import annotations

import re
import warnings
from collections.abc import Sequence
from dataclasses import dataclass

from pyvisa.errors import VisaIOError

from loose_rail.instruments.scpi_profile import MeterProfile
from loose_rail.instruments.visa_meter import VisaMeter, manager
from loose_rail.kernel.errors import MeterError

PROBE_MILLISECONDS = 1500
DEFAULT_PORT = 5025
"""The registered port of SCPI over a raw socket."""


@dataclass(frozen=True, slots=True)
class FoundMeter:
    """A place where a meter may be: what it answered, or why it did not."""

    address: str
    name: str
    profile: str
    problem: str


def visa_address(text: str) -> str:
    """A VISA address for what a person types: a full one, host, host:port, or a serial device.

    Raises MeterError where it is none of these.
    """
    typed = text.strip()
    if "::" in typed:
        return typed
    if typed.startswith("/dev/"):
        return f"ASRL{typed}::INSTR"
    match = re.fullmatch(r"([A-Za-z0-9.\-]+|\[[0-9A-Fa-f:]+\])(?::(\d{1,5}))?", typed)
    if match is None or (match.group(2) and not 0 < int(match.group(2)) < 65536):
        raise MeterError(
            f"“{typed}” is no address.", "Type host:port, /dev/ttyUSB0, or a VISA address."
        )
    return f"TCPIP::{match.group(1)}::{match.group(2) or DEFAULT_PORT}::SOCKET"


def ports() -> list[str]:
    """VISA addresses of the serial and USB ports of this computer. Raises MeterError."""
    try:
        with warnings.catch_warnings():
            # the library warns of what it lacks for a search of the network, which is not asked for
            warnings.simplefilter("ignore", UserWarning)
            return sorted(str(one) for one in manager().list_resources())
    except (VisaIOError, OSError, ValueError) as error:
        raise MeterError(
            f"The ports can't be listed: {error}.", "Type the meter's address instead."
        ) from error


def identify(address: str, profiles: Sequence[MeterProfile]) -> FoundMeter:
    """Ask one address who is there."""
    try:
        meter = VisaMeter(address, PROBE_MILLISECONDS, profiles)
    except MeterError as error:
        return FoundMeter(address, "", "", f"{error.message} {error.hint}".strip())
    found = FoundMeter(address, meter.name, meter.profile, "")
    meter.close()
    return found
