"""What the person chose for this shop: every setting with its default, and what a key turns.

A setting is a field here, a line in `CHOICES` where it has a few values to turn through (title, key
and words are drawn from there), and the place that heeds it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import msgspec

from loose_rail.judgement.economics import Prices
from loose_rail.vocabulary.meter_mode import MeterMode

MAINS_DETAIL = "mains"
"""The detail of a job in which the mains of its set stands, where it is not the shop's."""
SETTINGS_SCHEMA = "loose-rail/settings/1"


class Settings(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """`meter` and `second_meter` are VISA addresses; `foot_key` names a key such as F10; `lacks`
    names the meter settings that nothing on this bench has; `mains` is what the sets stand on here,
    such as 230/50, empty where each stands on its own; `lamp` whether there is a filament lamp to
    put in line; `prices` what things cost at this shop; `limiters` what can stand in line here, as
    it is typed."""

    meter: str = ""
    second_meter: str = ""
    foot_key: str = "F10"
    tones: bool = True
    speech: bool = False
    lacks: tuple[str, ...] = ()
    mains: str = ""
    lamp: bool = True
    strip_tester: bool = True
    prices: Prices = Prices()
    limiters: tuple[str, ...] = ("60W", "100W", "100R 50W")
    schema: str = SETTINGS_SCHEMA

    @property
    def not_read(self) -> tuple[str, ...]:
        """The settings that nothing on this bench has."""
        testers = (MeterMode.STRIP, MeterMode.TUBE)
        return self.lacks if self.strip_tester else (*self.lacks, *testers)

    def with_value(self, setting: str, value: object) -> Settings:
        """The settings with one of them at another value."""
        changed: dict[str, Any] = {setting: value}
        return msgspec.structs.replace(self, **changed)


KeepSetting = Callable[[str, object], None]
"""Keeps a setting of the shop by its name. Raises StoreError where it can't be."""


@dataclass(frozen=True, slots=True)
class Choice:
    """A setting that a key turns: its key and what that does, its values in turn with what each is
    called, how the button says it, and what is said beside it once it is turned."""

    setting: str
    key: str
    title: str
    values: tuple[tuple[object, str], ...]
    words: str
    note: str = ""

    def stands(self, settings: Settings) -> str:
        """How it stands, in words."""
        now = getattr(settings, self.setting)
        return self.words.format(next((name for value, name in self.values if value == now), now))

    def turned(self, settings: Settings) -> Settings:
        """The settings with its next value; from one that is not in turn, the first."""
        values = [value for value, _ in self.values]
        now = getattr(settings, self.setting)
        following = values[(values.index(now) + 1) % len(values)] if now in values else values[0]
        return settings.with_value(self.setting, following)


ON_OFF = ((True, "on"), (False, "off"))
READS: tuple[tuple[object, str], ...] = (
    ((), "ESR and capacitance"),
    (("esr",), "capacitance"),
    (("capacitance",), "ESR"),
    (("esr", "capacitance"), "neither ESR nor capacitance"),
    (tuple(mode for mode in MeterMode if mode.of_a_meter), "nothing: no meter"),
)
"""What a bench lacks of the settings that not every one has; volts, ohms and diode test are on
every multimeter. Without any, what is seen, heard and done still counts."""
LIMITERS: tuple[tuple[object, str], ...] = ((True, "filament lamp"), (False, "none"))
"""What can stand in line with the mains at the first power."""
MAINS: tuple[tuple[object, str], ...] = (
    ("", "as each board's own"),
    ("100/50", "100 V, 50 Hz"),
    ("100/60", "100 V, 60 Hz"),
    ("120/60", "120 V, 60 Hz"),
    ("220/60", "220 V, 60 Hz"),
    ("230/50", "230 V, 50 Hz"),
    ("240/50", "240 V, 50 Hz"),
)
"""Nominal mains of the world (IEC 60038 and national rules)."""
CHOICES = (
    Choice("tones", "F9", "Tones on or off", ON_OFF, "Tones are {}"),
    Choice("speech", "F4", "Speech on or off", ON_OFF, "Speech is {}"),
    Choice(
        setting="lacks",
        key="F6",
        title="What this bench reads",
        values=READS,
        words="Bench reads: {}",
        note="What it lacks is not offered; typed, it counts.",
    ),
    Choice(
        setting="lamp",
        key="Ctrl+K",
        title="Limiter of this bench",
        values=LIMITERS,
        words="Limiter in line: {}",
        note="With none, no mains before the primary was read free of shorts: a short then meets "
        "the fuse alone.",
    ),
    Choice(
        setting="strip_tester",
        key="Ctrl+E",
        title="Lamp testers of this bench",
        values=((True, "strips and tubes"), (False, "none")),
        words="Lamp testers: {}",
        note="With none, strips and tubes are judged by what their driver does.",
    ),
    Choice(
        setting="mains",
        key="Ctrl+L",
        title="Mains of this bench",
        values=MAINS,
        words="Mains here: {}",
        note="Expectations, lamp and drain follow it. A set of elsewhere: its own line at Take in.",
    ),
)
