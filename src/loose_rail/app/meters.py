"""Finding and connecting meters: what the ports hold, who answers, which profile fits, A and B."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Protocol

from loose_rail.app.outcome import Outcome
from loose_rail.kernel.errors import LooseRailError

ROLES = (("meter", "A, in the hands"), ("second_meter", "B, stays clipped"))
OPTIONAL = (("esr", "ESR"), ("capacitance", "capacitance"))
"""Settings that not every bench has a meter for; the others every multimeter has."""
NOBODY = "nobody answers"


Setting = str | bool | tuple[str, ...]


class Found(Protocol):
    """A place where a meter may be."""

    @property
    def address(self) -> str: ...
    @property
    def name(self) -> str: ...
    @property
    def profile(self) -> str: ...
    @property
    def problem(self) -> str: ...


@dataclass(frozen=True, slots=True)
class MeterPlugs:
    """What the page needs of the world: listing ports and asking who is there are slow."""

    ports: Callable[[], list[str]]
    identify: Callable[[str], Found]
    address_of: Callable[[str], str]
    get: Callable[[str], Setting]
    put: Callable[[str, Setting], None]
    profiles: Sequence[str]


class MeterDesk:
    """The page's presenter; `search` and `ask` run on a worker thread."""

    def __init__(self, plugs: MeterPlugs) -> None:
        self._plugs = plugs
        self._found: dict[str, Found] = {}

    def search(self) -> list[Found]:
        """Ask every port and every address that is known (slow). Raises MeterError."""
        known = [str(self._plugs.get(key)) for key, _ in ROLES]
        places = dict.fromkeys([*self._plugs.ports(), *filter(None, known)])
        return [self._plugs.identify(place) for place in places]

    def ask(self, text: str) -> list[Found]:
        """Ask the address that was typed (slow). Raises MeterError."""
        return [self._plugs.identify(self._plugs.address_of(text))]

    def keep(self, found: Sequence[Found]) -> Outcome:
        """Who answered."""
        for one in found:
            self._found[one.address] = one
        answering = [one for one in found if not one.problem]
        if not found:
            return Outcome.refused("No port holds anything: type host:port or /dev/ttyUSB0.")
        if not answering:
            return Outcome.refused(found[-1].problem or NOBODY)
        return Outcome(f"{'; '.join(f'{o.name} at {o.address}' for o in answering)}.")

    def choose(self, number: int, role: str) -> Outcome:
        """A place becomes meter A or B; chosen again it is let go."""
        places = list(self._found.values())
        if not 0 <= number < len(places):
            return Outcome.refused("Search first, or type an address.")
        place = places[number]
        try:
            if self._plugs.get(role) == place.address:
                self._plugs.put(role, "")
                return Outcome(
                    f"Let go: {place.name or place.address}. Jobs opened now go without."
                )
            other = next(key for key, _ in ROLES if key != role)
            if self._plugs.get(other) == place.address:
                self._plugs.put(other, "")
            self._plugs.put(role, place.address)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        words = dict(ROLES)[role]
        return Outcome(
            f"{place.name or place.address} is meter {words}, for jobs opened from now on."
        )

    def switch(self, key: str) -> Outcome:
        """Tones or speech on or off."""
        try:
            self._plugs.put(key, not self._plugs.get(key))
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(f"{key.capitalize()} {'on' if self._plugs.get(key) else 'off'}.")

    @property
    def _lacks(self) -> tuple[str, ...]:
        lacks = self._plugs.get("lacks")
        return lacks if isinstance(lacks, tuple) else ()

    @property
    def reads(self) -> str:
        """What this bench reads of the settings that not every bench has."""
        has = [words for mode, words in OPTIONAL if mode not in self._lacks]
        return " and ".join(has) or "neither ESR nor capacitance"

    def turn_bench(self) -> Outcome:
        """The next choice of what this bench reads beside volts, ohms and diode test."""
        modes = [mode for mode, _ in OPTIONAL]
        choices = [(), *((mode,) for mode in modes), tuple(modes)]
        lacks = tuple(mode for mode in modes if mode in self._lacks)
        try:
            self._plugs.put("lacks", choices[(choices.index(lacks) + 1) % len(choices)])
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(
            f"This bench reads {self.reads}. What it lacks is not offered; typed, it counts."
        )

    def set_foot(self, name: str) -> Outcome:
        """The key that the foot switch sends."""
        try:
            self._plugs.put("foot_key", name)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(f"The foot switch is the key {name}.")

    @property
    def places(self) -> tuple[Found, ...]:
        """Every place that was asked, in order."""
        return tuple(self._found.values())

    @property
    def profiles(self) -> tuple[str, ...]:
        """Names of the meter profiles that are known."""
        return tuple(self._plugs.profiles)

    def setting(self, key: str) -> Setting:
        """A setting as it stands."""
        return self._plugs.get(key)
