"""The rail map: blocks, rails, stops and the connector as they are drawn."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.vocabulary.mark import Mark


@dataclass(frozen=True, slots=True)
class StopView:
    """A stop of the rail map; `verdict` is that of its last reading."""

    part: str
    label: str
    reading: str
    verdict: Mark
    suspicion: float
    is_next: bool


@dataclass(frozen=True, slots=True)
class BlockView:
    """A section of the hot side; `lane` counts from the top, `depth` from the inlet."""

    id: str
    title: str
    subtitle: str
    lane: int
    depth: int
    suspicion: float
    is_next: bool
    reading: str
    verdict: Mark
    before: tuple[StopView, ...] = ()
    after: tuple[StopView, ...] = ()
    parent: str = ""
    crosses: bool = False


@dataclass(frozen=True, slots=True)
class RailView:
    """An output rail; `verdict` is that of its pin, or of a stop that is wrong, `fails_at` the stop
    where it breaks."""

    id: str
    title: str
    verdict: Mark
    source_lane: int
    stops: tuple[StopView, ...]
    fails_at: int
    pin_reading: str
    pin_verdict: Mark


@dataclass(frozen=True, slots=True)
class ConnectorView:
    """A connector with its legend and the suspicion of what hangs behind it."""

    ref: str
    title: str
    pins: tuple[str, ...]
    suspicion: float
    is_next: bool


AT_THE_BENCH = (
    "disc in range · diamond out of range · triangle borderline",
    "ring not read · grey halo: suspicion",
)


@dataclass(frozen=True, slots=True)
class RailMapState:
    """The whole rail map; `legend` explains its marks and halos."""

    blocks: tuple[BlockView, ...]
    rails: tuple[RailView, ...]
    connector: ConnectorView
    next_label: str
    summary: str
    mains_side: bool = True
    legend: tuple[str, ...] = AT_THE_BENCH
