"""A board as the program knows it: frozen data decoded from a profile file.

`msgspec` checks the shape; `validate` checks the sense. docs/formats.md has the format. Nothing in
here computes.
"""

from __future__ import annotations

from enum import StrEnum
from functools import cached_property

import msgspec


class Side(StrEnum):
    """Which ground a net belongs to: mains-connected or isolated."""

    HOT = "hot"
    COLD = "cold"


class Net(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A net with its side and the words for where a probe goes."""

    name: str
    side: Side
    where: str = ""


class Component(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A part: designator, kind, value, pins to nets, section and what job it does.

    `stress` scales the prior rate of its faults; `params` holds kind-specific values as text.
    """

    ref: str
    kind: str
    pins: dict[str, str]
    section: str
    value: str = ""
    duty: str = ""
    stress: float = 1.0
    params: dict[str, str] = {}


class Section(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A block of the rail map: `feeds_from` names the section that power comes from.

    `before` and `after` name the parts that stand as stops on the line at its two sides.
    """

    id: str
    title: str
    subtitle: str
    side: Side
    feeds_from: str = ""
    crosses: bool = False
    before: list[str] = []
    after: list[str] = []


class Rail(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """An output rail with its printed value, kind of band and the parts that stand on it."""

    id: str
    title: str
    volts: float
    kind: str
    section: str
    net: str
    stops: list[str]


class Pin(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A connector pin with its printed legend."""

    number: int
    label: str
    net: str


class Connector(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A connector and what hangs behind it; `rows` of pins (0: not known), counted `around` where
    it goes along one row and back along the other, else across."""

    ref: str
    title: str
    load: str
    pins: list[Pin]
    rows: int = 0
    around: bool = False


class LivePoint(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A point on a powered board: probe net, reference net, and what the model calls it.

    `meter` is false for what the model tells by but no meter may touch, such as the low end of an
    inverter's high-voltage winding: it is never offered and never accepted.
    """

    id: str
    title: str
    observable: str
    plus: str
    minus: str
    mode: str
    stop: str
    rail: str = ""
    minutes: float = 1.0
    meter: bool = True


class Wake(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """How the board is woken: `sense` is high, low or unknown (then it is never jumpered)."""

    sense: str
    connector: str
    pin: int
    source_pin: int
    series_ohms: float


class CoFailure(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """If `cause` has failed in this mode, `effect` has too with this probability."""

    cause: str
    cause_mode: str
    effect: str
    effect_mode: str
    probability: float
    reason: str


class Mains(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Supply of the set, nominal; `inlet_volts` as measured, 0 where it was not."""

    volts: float
    hertz: float
    inlet_volts: float = 0.0


class Stage(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A stage of the live model: `kind` as `boards.live_stages` lists them.

    `source` is "bulk" or the stage that feeds it, `signal` what enables it (empty: nothing),
    `volts` its output. `params` are the kind's own numbers as text with prefixes.
    """

    id: str
    kind: str
    source: str = ""
    signal: str = ""
    volts: float = 0.0
    params: dict[str, str] = {}


class SignalSpec(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A signal that the board behind a connector gives after `after_seconds` of good supply.

    `rail` names the stage it watches, `needs` the stages that must stand first ("main=12").
    """

    id: str
    rail: str
    good_volts: float
    after_seconds: float
    sense: str = "high"
    needs: str = ""


class LoadSpec(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a part behind a connector draws from a rail: idle, and while `signal` is given."""

    part: str
    rail: str
    volts: float
    idle_amps: float
    on_amps: float
    signal: str = ""


class Board(msgspec.Struct, frozen=True, forbid_unknown_fields=True, dict=True):
    """A whole board profile. `roles` says which part does which job in the topology's model.

    `known_by` is "profile"; "own" for a board that is composed from what is seen and printed: its
    values are typical, and no jumper is offered before a person has confirmed its pins; or "pinout"
    for one that an earlier version made, on which nothing is ever jumpered. `earlier_names` maps
    what entries of a job may have called a part to what it is called now; `read_parts` are those of
    a composed board whose value was read on them; `norms` what sound boards of this number read, in
    SI units, by candidate.
    """

    schema: str
    id: str
    title: str
    maker: str
    aliases: list[str]
    topology: str
    mains: Mains
    hot_ground: str
    cold_ground: str
    nets: list[Net]
    sections: list[Section]
    components: list[Component]
    rails: list[Rail]
    connectors: list[Connector]
    live_points: list[LivePoint]
    wake: Wake
    roles: dict[str, list[str]]
    co_failures: list[CoFailure]
    stages: list[Stage]
    signals: list[SignalSpec]
    loads: list[LoadSpec]
    known_by: str = "profile"
    earlier_names: dict[str, str] = {}
    read_parts: list[str] = []
    norms: dict[str, list[float]] = {}

    def __hash__(self) -> int:
        """By its id: what is worked out of a board may be kept for it."""
        return hash(self.id)

    def is_read(self, ref: str) -> bool:
        """Whether the value of a part is that of the board: of a composed one it is typical, unless
        it was read on the part."""
        return self.known_by == "profile" or ref in self.read_parts

    def component(self, ref: str) -> Component:
        """The part with this designator. Raises KeyError where there is none."""
        return self._by_ref[ref]

    @cached_property
    def _by_ref(self) -> dict[str, Component]:
        return {part.ref: part for part in reversed(self.components)}  # the first of a name counts

    def net(self, name: str) -> Net:
        """The net with this name. Raises KeyError where there is none."""
        return self._by_net[name]

    @cached_property
    def _by_net(self) -> dict[str, Net]:
        return {net.name: net for net in reversed(self.nets)}

    def stage(self, stage_id: str) -> Stage | None:
        """The live stage with this id, or None."""
        return self._by_stage.get(stage_id)

    @cached_property
    def _by_stage(self) -> dict[str, Stage]:
        return {stage.id: stage for stage in reversed(self.stages)}

    @property
    def standby_point(self) -> str:
        """Observable of the rail that the main board wakes by: its start signal's supply, at its
        reservoir where no pin of it is printed."""
        rail = self.signals[0].rail
        at_reservoir = f"{rail}.reservoir"
        seen = {point.observable for point in self.live_points}
        return at_reservoir if f"{rail}.out" not in seen and at_reservoir in seen else f"{rail}.out"

    @property
    def standby_rail(self) -> str:
        """Id of the rail that is read at the standby point; the first rail where none is."""
        wanted = self.standby_point
        found = [p.rail for p in self.live_points if p.observable == wanted and p.rail]
        return found[0] if found else self.rails[0].id if self.rails else ""

    @property
    def adapter_fed(self) -> bool:
        """True where an external adapter stands in place of the mains."""
        return any(stage.kind == "adapter" for stage in self.stages)

    def rail_of(self, rail_id: str) -> Rail | None:
        """The rail with this id, or None."""
        return next((rail for rail in self.rails if rail.id == rail_id), None)
