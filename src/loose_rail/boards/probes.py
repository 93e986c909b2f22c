"""Every reading that a board profile offers: where red and black go, and with which setting.

Cold probes follow from the kind of each part; live probes are the profile's own live points. A
probe says nothing about what it should read: that is computed.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from loose_rail.boards.kinds.kind import ColdProbe
from loose_rail.boards.kinds.registry import kind_of
from loose_rail.boards.profile import Board, Component, LivePoint, Side
from loose_rail.vocabulary.keys import job_of, ripple_of, stage_of
from loose_rail.vocabulary.meter_mode import MeterMode

BULK_POINT = "bulk"


@dataclass(frozen=True, slots=True)
class Probe:
    """One reading that can be asked for.

    `plus` and `minus` are nets, the words say where a hand finds them. `observable` is set for
    readings on a powered board and empty for cold ones. `minutes` is the time at the probe.
    `meter` is false where no meter may go: it is never offered.
    `lifted` means that the part is read with a leg out of the board, by itself; `unplugged` that
    what hangs on a plug is read there, off the board.
    """

    id: str
    part: str
    title: str
    mode: MeterMode
    plus: str
    minus: str
    plus_words: str
    minus_words: str
    minutes: float
    side: Side
    stop: str
    rail: str = ""
    observable: str = ""
    lifted: bool = False
    unplugged: bool = False
    meter: bool = True
    what: str = ""
    """What is read at a part, without its name; empty for a live point."""
    good: str = ""
    """What is said where it reads as expected; empty: the ordinary words."""

    @property
    def live(self) -> bool:
        """True where the reading needs a powered board."""
        return bool(self.observable)

    @property
    def in_place(self) -> bool:
        """True where the dead board is read with the part in it, and all that lies beside it."""
        return not (self.live or self.lifted or self.unplugged)

    @property
    def unit(self) -> str:
        """SI unit of the reading."""
        return self.mode.unit


def probes_of(board: Board) -> tuple[Probe, ...]:
    """All probes of a board, cold ones first, in the order of the profile."""
    cold = [probe for part in board.components for probe in probes_at(board, part)]
    lifted = [probe for part in board.components for probe in _lifted_probes(board, part)]
    live = [_live_probe(board, point) for point in board.live_points]
    return (*cold, *lifted, *live, *_ripple_probes(board, live))


def cold_probes(part: Component) -> tuple[ColdProbe, ...]:
    """What is read at a part of a dead board: what its kind has, and this one too."""
    return tuple(one for one in kind_of(part).probes if not one.param or one.param in part.params)


def probes_at(board: Board, part: Component) -> Iterator[Probe]:
    """The probes at one part of a dead board, in place."""
    name = f"{part.ref}, {part.duty}" if part.duty else part.ref
    for probe in cold_probes(part):
        if probe.red:
            yield _cold(board, part, probe, f"{name}: {probe.what}")
        elif supply := supply_net(board, part, probe.param):
            yield _at_its_plug(board, part, probe, supply)


def boards_behind(board: Board, probe: Probe) -> frozenset[str]:
    """The boards behind connectors that read along at a probe, where it reads a rail to its ground
    on the dead board and they are still plugged."""
    ohms = probe.mode in (MeterMode.OHMS, MeterMode.CONTINUITY)
    if not (ohms and probe.in_place and probe.minus == board.cold_ground):
        return frozenset()
    rails = {rail.id for rail in board.rails if rail.net == probe.plus}
    return frozenset(load.part for load in board.loads if load.rail in rails)


def supply_net(board: Board, part: Component, param: str = "") -> str:
    """The net that feeds a board behind a connector: of its first rail, or of the one that a
    parameter of it names; empty where none does."""
    rails = {rail.id: rail.net for rail in board.rails}
    if param in part.params:
        return rails.get(part.params[param], "")
    fed = (rails.get(load.rail, "") for load in board.loads if load.part == part.ref)
    return next(filter(None, fed), "")


LIFT_MINUTES = 4.0
"""A leg out of the board, and in again [E]."""


def _lifted_probes(board: Board, part: Component) -> Iterator[Probe]:
    wanted = {f"{part.ref}.{name}" for name in kind_of(part).lifted}
    for probe in probes_at(board, part):
        if probe.id in wanted:
            what = f"{probe.what.replace(' in place', '')}, one leg lifted"
            title = probe.title.removesuffix(probe.what) + what
            yield replace(
                probe,
                id=f"{probe.id}.out",
                title=title,
                what=what,
                minutes=probe.minutes + LIFT_MINUTES,
                lifted=True,
            )


def _pin_words(part: Component, pin: str) -> str:
    numbered = {"1": "one end", "2": "the other end"}
    known = kind_of(part).pins or {}
    words = known.get(pin) or numbered.get(pin, f"pin {pin}")
    return f"{part.ref} {words}"


_MINUTES = {
    MeterMode.OHMS: 0.5,
    MeterMode.DIODE: 0.6,
    MeterMode.ESR: 0.8,
    MeterMode.CAPACITANCE: 1.0,
    MeterMode.STRIP: 3.0,  # the plug off, each string by itself
    MeterMode.TUBE: 4.0,  # the plugs off, one tube after the other
}
"""At the probe, by setting [E]."""
UNPLUG_MINUTES = 1.0
"""A plug off a board whose pins have to be found, and on again [E]."""


def _at_its_plug(board: Board, part: Component, probe: ColdProbe, supply: str) -> Probe:
    """The supply pin of a board at its own connector, by the volts of its rail."""
    name = part.duty or part.ref
    volts = next((f"{rail.volts:g} V " for rail in board.rails if rail.net == supply), "")
    what = probe.what.replace("its supply", f"its {volts}supply")
    return Probe(
        id=f"{part.ref}.{probe.name}",
        part=part.ref,
        title=f"{name}: {what}",
        mode=probe.mode,
        what=what,
        good=probe.good,
        plus=supply,
        minus=board.cold_ground,
        plus_words=f"{volts}supply pin of the {name}, its plug off",
        minus_words=f"ground of the {name}",
        minutes=_MINUTES[probe.mode] + UNPLUG_MINUTES,
        side=board.net(supply).side,
        stop=part.ref,
        unplugged=True,
    )


def _cold(board: Board, part: Component, probe: ColdProbe, title: str) -> Probe:
    return Probe(
        id=f"{part.ref}.{probe.name}",
        part=part.ref,
        title=title,
        mode=probe.mode,
        what=probe.what,
        good=probe.good,
        plus=part.pins[probe.red],
        minus=part.pins[probe.black],
        plus_words=_pin_words(part, probe.red),
        minus_words=_pin_words(part, probe.black),
        minutes=_MINUTES[probe.mode],
        side=board.net(part.pins[probe.red]).side,
        stop=part.ref,
        unplugged=probe.unplugged,
    )


RIPPLE_MINUTES = 0.8
"""At two points that are reached, with the meter on AC volts and its range chosen [E]."""


NO_RIPPLE = ("ccfl", "switch", "status")
"""Stages whose output is judged otherwise: by light, behind a rail that is read, by its level."""


def _ripple_probes(board: Board, live: list[Probe]) -> Iterator[Probe]:
    """AC volts on the bulk and on each DC output, at the point where it is read, the last of
    several. Not on tubes: their inverter is judged by light."""
    at: dict[str, Probe] = {}
    kinds = {stage.id: stage.kind for stage in board.stages}
    for probe in live:
        name, job = stage_of(probe.observable), job_of(probe.observable)
        bulk = probe.observable == BULK_POINT
        feeds = job == "feed" and kinds.get(name) == "ccfl"
        output = job in ("out", "reservoir") and kinds.get(name) not in NO_RIPPLE
        if probe.mode is MeterMode.DC_VOLTS and (bulk or output):
            at[name] = probe
        elif probe.mode is MeterMode.DC_VOLTS and feeds:
            at[probe.observable] = probe
    for name, probe in at.items():
        yield replace(
            probe,
            id=f"{probe.id}.ripple",
            title=f"{probe.title}, ripple",
            mode=MeterMode.AC_VOLTS,
            minutes=RIPPLE_MINUTES,
            rail="",
            observable=ripple_of(name),
        )


def _live_probe(board: Board, point: LivePoint) -> Probe:
    plus, minus = board.net(point.plus), board.net(point.minus)
    return Probe(
        id=f"live.{point.id}",
        part=point.stop,
        title=point.title,
        mode=MeterMode(point.mode),
        plus=point.plus,
        minus=point.minus,
        plus_words=plus.where,
        minus_words=minus.where,
        minutes=point.minutes,
        side=plus.side,
        stop=point.stop,
        rail=point.rail,
        observable=point.observable,
        meter=point.meter,
    )
