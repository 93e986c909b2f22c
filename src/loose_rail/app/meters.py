"""Finding and connecting meters: what the ports hold, who answers, which profile fits, A and B."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Protocol

from loose_rail.app.outcome import Outcome
from loose_rail.app.settings import Choice, Settings
from loose_rail.kernel.errors import LooseRailError

ROLES = (("meter", "A, in the hands"), ("second_meter", "B, stays clipped"))
NOBODY = "no reply"


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
    read: Callable[[], Settings]
    write: Callable[[Settings], None]
    profiles: Sequence[str]


class MeterDesk:
    """The page's presenter; `search` and `ask` run on a worker thread."""

    def __init__(self, plugs: MeterPlugs) -> None:
        self._plugs = plugs
        self._found: dict[str, Found] = {}

    def search(self) -> list[Found]:
        """Ask every port and every address that is known (slow). Raises MeterError."""
        known = [getattr(self.settings, key) for key, _ in ROLES]
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
            chosen = self.settings.with_value(role, place.address)
            if chosen == self.settings:
                self._plugs.write(self.settings.with_value(role, ""))
                return Outcome(
                    f"Let go: {place.name or place.address}. Jobs opened now go without."
                )
            other = next(key for key, _ in ROLES if key != role)
            if getattr(chosen, other) == place.address:
                chosen = chosen.with_value(other, "")
            self._plugs.write(chosen)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        words = dict(ROLES)[role]
        return Outcome(
            f"{place.name or place.address} is meter {words}, for jobs opened from now on."
        )

    def turn(self, choice: Choice) -> Outcome:
        """The next value of a setting."""
        try:
            self._plugs.write(choice.turned(self.settings))
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(f"{choice.stands(self.settings)}. {choice.note}".strip())

    def set_foot(self, name: str) -> Outcome:
        """The key that the foot switch sends."""
        try:
            self._plugs.write(self.settings.with_value("foot_key", name))
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

    @property
    def settings(self) -> Settings:
        """The settings as they stand."""
        return self._plugs.read()
