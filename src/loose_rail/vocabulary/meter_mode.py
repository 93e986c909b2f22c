"""The settings of a bench meter that a step can ask for."""

from __future__ import annotations

from enum import StrEnum


class MeterMode(StrEnum):
    """The settings of a bench meter that a step can ask for, and the testers of lamps."""

    OHMS = "ohms"
    DIODE = "diode"
    CONTINUITY = "continuity"
    CAPACITANCE = "capacitance"
    ESR = "esr"
    IMPEDANCE = "impedance"
    LCR = "lcr"
    DC_VOLTS = "dc_volts"
    AC_VOLTS = "ac_volts"
    STRIP = "strip"
    """A strip tester: some milliamps at up to 300 V through lamps that are unplugged."""
    TUBE = "tube"
    """A tube tester: a small inverter that lights one cold-cathode tube that is unplugged."""

    @property
    def spoken(self) -> str:
        """The setting in the middle of a sentence."""
        return self.label if self.of_a_meter else f"the {self.label}"

    @property
    def of_a_meter(self) -> bool:
        """Whether a bench meter has the setting; a tester of lamps is a device of its own."""
        return not self.of_lamps

    @property
    def of_lamps(self) -> bool:
        """Whether it is read with a tester at lamps that are unplugged."""
        return self in (MeterMode.STRIP, MeterMode.TUBE)

    @property
    def unit(self) -> str:
        """SI unit of what this setting shows."""
        return {
            "ohms": "Ω",
            "continuity": "Ω",
            "esr": "Ω",
            "impedance": "Ω",
            "capacitance": "F",
            "lcr": "F",
        }.get(self, "V")

    @property
    def needs_dead_board(self) -> bool:
        """True for every setting that drives its own current into the circuit."""
        return self not in (MeterMode.DC_VOLTS, MeterMode.AC_VOLTS)

    @property
    def label(self) -> str:
        """The setting as a person would say it."""
        return {
            "ohms": "ohms",
            "diode": "diode test",
            "continuity": "continuity (beep)",
            "capacitance": "capacitance",
            "esr": "ESR at 100 kHz",
            "impedance": "|Z| at 100 kHz",
            "lcr": "LCR at 1 kHz",
            "dc_volts": "DC volts",
            "ac_volts": "AC volts",
            "strip": "strip tester",
            "tube": "tube tester",
        }[self]
