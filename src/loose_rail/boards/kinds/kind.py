"""What a kind of component is: the record that every module of this package fills in."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import Enum, StrEnum, auto

from loose_rail.boards.profile import Component
from loose_rail.circuit.elements import Element
from loose_rail.vocabulary.meter_mode import MeterMode

Elements = dict[str, Element]
Body = Callable[[Component], Elements]
"""The elements that a cold meter sees of a part, by name."""


class Effect(StrEnum):
    """What a fault does to its part."""

    OPEN = "open"
    BRIDGE = "bridge"
    """Conducts between two pins."""
    SCALE = "scale"
    """Changes its values."""
    TURNS = "turns"
    CONTACT = "contact"
    """No contact; a cold meter on the part itself sees nothing."""
    RESISTIVE = "resistive"
    """A poor contact in series."""
    DEAD = "dead"
    """Does nothing under power; a cold meter sees nothing."""
    DRAG = "drag"
    """Loads its rail down."""
    OVERDRAW = "overdraw"
    """Loads its rail down once it works: the rail comes up first, then sags."""
    ELSEWHERE = "elsewhere"
    """Its supply is right and it does not do its work: nothing that a supply shows."""
    MUTE = "mute"
    """Never requests power-on."""
    WEAK = "weak"
    """Does less than it should under power (`value` is what is left); a cold meter sees nothing."""
    INTERMITTENT = "intermittent"
    """Good for most of the time, and else in another mode."""


class Trait(Enum):
    """What else the program asks of a kind."""

    CAPACITOR = auto()
    ELECTROLYTIC = auto()
    VALUED = auto()
    """Its value stands on it and must be above zero."""
    RESISTOR = auto()
    JOINS = auto()
    """Next to nothing at DC: both ends are one point to a meter."""
    WINDINGS = auto()
    """Several, pin by pin in pairs."""
    FUSE = auto()
    """Opened by something else: an effect, no cause."""
    GATED = auto()
    """Holds a charge on its gate that fakes a short."""
    BURSTS = auto()
    """Goes with a bang where it shorts."""
    CONNECTOR = auto()
    BOARD = auto()
    """Another board behind a connector."""
    BACKLIGHT = auto()
    """Strips or tubes behind a connector."""
    BODILESS = auto()
    """A cold meter does not see it: it is unplugged, or it is another board."""


@dataclass(frozen=True, slots=True)
class Severity:
    """One degree of a fault: its weight among them, ohms of what conducts, and what is left of the
    part's value and ESR as factors. Where a part has several of a thing, `elements` name those that
    fail and `pairs` the pins that conduct, in place of the mode's own.

    `alone` is the weight among those of a fault that nothing failed along with, where that is not
    `weight`. A degree of no `weight` is met by itself only: one more point of what a fault may grow
    through, at no cost in all that may go along.
    """

    weight: float = 1.0
    ohms: float = 0.0
    value: float = 1.0
    esr: float = 1.0
    elements: tuple[str, ...] = ()
    pairs: tuple[tuple[str, str], ...] = ()
    alone: float | None = None


@dataclass(frozen=True, slots=True)
class FaultMode:
    """A way to fail. `rate` is relative to other modes and parts [E]; `element` or `pins` say which
    part of a part; an intermittent one is in the mode `of` for a `share` of the time. `high_volts`
    are the severities of a part for 160 V and more, where the others could not last; the mode is
    met on parts of `least_stress` and above, where the parameter `several` says more than one, and
    where the part has the parameter `param`.
    """

    mode: str
    title: str
    rate: float
    effect: Effect
    severities: tuple[Severity, ...] = (Severity(),)
    element: str = ""
    pins: tuple[str, str] = ("", "")
    of: str = ""
    share: float = 1.0
    high_volts: tuple[Severity, ...] = ()
    least_stress: float = 0.0
    several: str = ""
    param: str = ""


@dataclass(frozen=True, slots=True)
class ColdProbe:
    """A reading on the dead board: its name, setting, red and black pin, what it is, and what is
    said of the part where it reads as a sound one (`good`; empty: the ordinary words). It is there
    on parts that have `param`, where it names one. `unplugged` is read at the plug of what hangs on
    one, by itself: at its supply pin to its ground, where no pins are named."""

    name: str
    mode: MeterMode
    red: str
    black: str
    what: str
    good: str = ""
    param: str = ""
    unplugged: bool = False


@dataclass(frozen=True, slots=True)
class ComponentTest:
    """How it is tested by hand: steps, and the caution that belongs to them."""

    title: str
    steps: tuple[str, ...]
    caution: str = ""


GENERAL_TEST = ComponentTest(
    "Part", ("Look at it, then read it in place against the predicted reading, then removed.",)
)


@dataclass(frozen=True)
class ComponentKind:
    """A kind of component.

    `words` name it, `short` in one word on a map without designators; `letters` are those of its
    designators in other people's notes. `lifted` names the probes that are read with a leg out of
    the board too: the strongest test, at the cost of solder. `look` is where to look at one.
    """

    name: str
    words: str
    body: Body
    probes: tuple[ColdProbe, ...]
    faults: tuple[FaultMode, ...]
    traits: frozenset[Trait] = frozenset()
    lifted: tuple[str, ...] = ()
    pins: Mapping[str, str] | None = None
    test: ComponentTest = GENERAL_TEST
    short: str = ""
    look: str = ""
    letters: tuple[str, ...] = ()

    def is_a(self, trait: Trait) -> bool:
        """Whether it has a trait."""
        return trait in self.traits

    @property
    def map_word(self) -> str:
        """One word for a map."""
        return self.short or self.name.replace("_", " ")
