"""A meter that speaks SCPI (IEEE 488.2 and SCPI-99), reached through PyVISA's pure-Python backend.

Network sockets, VXI-11, USBTMC and serial lines. What is said to it stands in its profile. Every
failure is a sentence: off, silent, slow, rubbish.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from typing import Any

import pyvisa
from pyvisa.errors import Error as VisaError

from loose_rail.instruments.answer_line import is_stream, read_line
from loose_rail.instruments.port_rights import refused
from loose_rail.instruments.scpi_profile import MeterProfile, profile_for, shipped_profiles
from loose_rail.kernel.errors import MeterError, MeterTalkError

TIMEOUT_MILLISECONDS = 8000
LEFTOVER_MILLISECONDS, MOST_LEFTOVERS = 1, 50
LEFTOVER_SECONDS = 0.2
_FAILURES = (VisaError, OSError, ValueError, AttributeError, TypeError)
"""pyvisa-py raises the last three where a port is gone, or a line is closed under a reading."""


@cache
def manager() -> pyvisa.ResourceManager:
    """The one resource manager: pyvisa shares it, and closing it would close every meter's line."""
    return pyvisa.ResourceManager("@py")


class VisaMeter:
    """One meter at a VISA address. Opens when made; raises MeterError."""

    def __init__(
        self,
        address: str,
        timeout_milliseconds: int = TIMEOUT_MILLISECONDS,
        profiles: Sequence[MeterProfile] | None = None,
        unlock: str = "",
    ) -> None:
        self.address = address
        self._mode = ""
        self._resource: Any = None
        self._profiles = list(profiles) if profiles else shipped_profiles()
        self._profile = self._profiles[-1]
        try:
            self._resource = manager().open_resource(
                address,
                read_termination=self._profile.read_ending,
                write_termination=self._profile.write_ending,
            )
            self._resource.timeout = timeout_milliseconds
            if address.upper().startswith("ASRL"):
                self._resource.baud_rate = self._profile.baud
        except _FAILURES as error:
            raise refused(address, error) from error
        if unlock:  # a command with the meter's password, where it wants one before all else
            self._tell(unlock)
        self.identity = self._ask(self._profile.identify)
        self._take_profile(profile_for(self.identity, self._profiles))
        fields = self.identity.split(",")
        self._name = fields[1].strip() if len(fields) > 1 else "meter"

    def _take_profile(self, profile: MeterProfile) -> None:
        self._profile = profile
        self._resource.read_termination = profile.read_ending
        self._resource.write_termination = profile.write_ending
        for line in profile.start:
            self._tell(line)

    @property
    def name(self) -> str:
        """Model from the meter's identification."""
        return self._name

    @property
    def profile(self) -> str:
        """Name of the profile that fits it."""
        return self._profile.name

    def read(self, mode: str) -> float:
        """One reading in SI units, +inf where the meter shows overload. Raises MeterError."""
        setting = self._profile.settings.get(mode)
        if setting is None:
            words = mode.replace("_", " ")
            raise MeterTalkError(
                f"{self._name} has no setting for {words}.",
                "Use another meter and type the reading, or add the setting to its profile.",
            )
        if mode != self._mode:
            for line in setting.select:
                self._tell(line)
            self._mode = mode
        return self._profile.value(mode, self._ask(setting.read or self._profile.read))

    def close(self) -> None:
        """Let go of the meter."""
        try:
            if self._resource is not None:
                self._resource.close()
        except _FAILURES as error:
            raise MeterError(f"The meter at {self.address} went away while closing.") from error

    def _tell(self, command: str) -> None:
        try:
            self._resource.write(command)
        except _FAILURES as error:
            raise self._silent() from error

    def _drop_leftovers(self) -> None:
        """What still lies in the line answers no question of ours: a second line of the last answer
        would be taken for the next point's. Sockets and serial lines only; a USB meter that is read
        unasked takes it for an error."""
        if not is_stream(self.address):
            return
        timeout = self._resource.timeout
        try:
            self._resource.timeout = LEFTOVER_MILLISECONDS
            for _ in range(MOST_LEFTOVERS):
                self._line(LEFTOVER_SECONDS)
        except _FAILURES:
            return  # nothing more lies there: the time-out is what was hoped for
        finally:
            self._resource.timeout = timeout
        raise MeterTalkError(
            f"{self._name} sends without being asked.", "Switch its streaming or echo off."
        )

    def _line(self, seconds: float) -> str:
        return read_line(self._resource, str(self._resource.read_termination or ""), seconds)

    def _ask(self, command: str) -> str:
        self._drop_leftovers()
        try:
            if not is_stream(self.address):
                return str(self._resource.query(command)).strip()
            self._resource.write(command)
            return self._line(self._resource.timeout / 1000.0).strip()
        except UnicodeDecodeError as error:
            raise MeterTalkError(
                "The meter answered in characters that are no text.",
                "Check baud rate and line ending in its profile.",
            ) from error
        except _FAILURES as error:
            self._mode = ""
            raise self._silent() from error

    def _silent(self) -> MeterError:
        return MeterError(
            f"The meter at {self.address} does not answer.",
            "Is it on? You can type the reading instead.",
        )
