"""How a make of meter is spoken to: an open JSON file, one a make. docs/formats.md has the format.

The profiles that ship follow SCPI-1999 and IEEE 488.2; a shop puts its own beside its database.
Which one fits is told by the answer to the identification query.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from importlib import resources
from pathlib import Path

import msgspec

from loose_rail.instruments.answers import reading_in
from loose_rail.kernel.errors import MeterTalkError
from loose_rail.kernel.files import LARGEST_SMALL_FILE, read_bounded
from loose_rail.vocabulary.meter_mode import MeterMode

SCHEMA = "loose-rail/meter/1"
GENERIC = "scpi-1999"


class Setting(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One setting: the lines that select it, what one reading is multiplied by to be SI, and the
    query where it differs from the profile's."""

    select: list[str]
    scale: float = 1.0
    read: str = ""


class MeterProfile(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A make of meter. `match` is a pattern for its identification; `overload` the least magnitude
    that means OL, and `open_words` answers in words that mean it too."""

    schema: str
    name: str
    match: str
    settings: dict[str, Setting]
    read: str = "READ?"
    identify: str = "*IDN?"
    start: list[str] = []
    overload: float = 9.0e37
    open_words: list[str] = []
    read_ending: str = "\n"
    write_ending: str = "\n"
    baud: int = 9600

    def value(self, mode: str, answer: str) -> float:
        """An answer as SI value, +inf for OL. Raises MeterTalkError for what is not wholly a
        reading of this setting."""
        scale = self.settings[mode].scale
        return reading_in(answer, mode, scale, self.overload, self.open_words)


def read_profile(data: bytes, name: str) -> MeterProfile:
    """A profile from its file. Raises MeterTalkError with file and reason."""
    try:
        profile = msgspec.json.decode(data, type=MeterProfile)
    except (msgspec.MsgspecError, ValueError, RecursionError) as error:
        raise MeterTalkError(f"{name}: {error}.", "docs/formats.md shows a whole one.") from error
    if profile.schema != SCHEMA:
        raise MeterTalkError(f"{name}: the schema is “{profile.schema}”, not “{SCHEMA}”.")
    unknown = sorted(set(profile.settings) - {str(mode) for mode in MeterMode})
    if unknown:
        known = ", ".join(str(mode) for mode in MeterMode)
        raise MeterTalkError(f"{name}: no setting “{unknown[0]}”.", f"There are {known}.")
    if not profile.settings:
        raise MeterTalkError(f"{name}: no setting at all.", "Name dc_volts at least.")
    try:
        re.compile(profile.match)
    except re.error as error:
        raise MeterTalkError(f"{name}: “match” is no pattern: {error}.") from error
    return profile


def shipped_profiles() -> list[MeterProfile]:
    """The profiles that ship, the generic one last."""
    folder = resources.files("loose_rail.instruments").joinpath("profiles")
    found = [read_profile(one.read_bytes(), one.name) for one in folder.iterdir()]
    return sorted(found, key=lambda profile: (profile.name == GENERIC, profile.name))


def own_profiles(folder: Path) -> tuple[list[MeterProfile], list[str]]:
    """The shop's own profiles, and a sentence for each file that can't be used: it is left out, and
    left where it is."""
    found: list[MeterProfile] = []
    problems: list[str] = []
    for path in sorted(folder.glob("*.json")) if folder.is_dir() else []:
        try:
            found.append(read_profile(read_bounded(path, LARGEST_SMALL_FILE), path.name))
        except OSError as error:
            problems.append(f"{path}: {error.strerror}. Check its rights.")
        except MeterTalkError as error:
            problems.append(f"{error.one_line()} The meter profile is left out.")
    return found, problems


def profile_for(identity: str, profiles: Sequence[MeterProfile]) -> MeterProfile:
    """The first profile whose pattern fits an identification; the last one where none does."""
    for profile in profiles:
        if re.search(profile.match, identity, re.IGNORECASE):
            return profile
    return profiles[-1]
