"""Where everything on the rail map goes: plain geometry from the state and the size of the field.

Blocks and stops of the hot side share its width by units; rails share the height. Labels get rows
of their own above and below the line, so that none crosses a line or another label.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass, field

from PyQt6.QtCore import QPointF, QRectF

from loose_rail.screens.shared.rail_map.state import BlockView, RailMapState, StopView
from loose_rail.vocabulary.mark import Mark

BARRIER = 24.0
HOT_SHARE = 0.46
TOP = 112.0
BOTTOM = 92.0
STOP_UNITS = 0.85
BLOCK_UNITS = 1.75
CONNECTOR_WIDTH = 104.0
MOST_CONNECTOR_WIDTH = 140.0
PIN_LETTER_WIDTH = 6.9
"""A letter of a pin's line, on average, in pixels."""
BLOCK_HEIGHT = 46.0
LANE_AIR = 6.0
COMPACT_BELOW = 85.0
"""Rails closer than this share their rows: title above, names and readings close below."""
COMPACT_TOP = 96.0
COMPACT_BOTTOM = 70.0


@dataclass(frozen=True, slots=True)
class HotLine:
    """A stretch of the hot side's line, coloured by the stop at its end."""

    points: list[QPointF]
    verdict: Mark


@dataclass(frozen=True, slots=True)
class RailPlace:
    """Where a rail runs and where its stops stand."""

    left: float
    right: float
    y: float
    stop_xs: list[float]


@dataclass(slots=True)
class MapLayout:
    """Everything placed."""

    width: float
    height: float
    barrier_left: float
    barrier_right: float
    connector: QRectF
    rails: list[RailPlace] = field(default_factory=list)
    blocks: list[tuple[BlockView, QRectF]] = field(default_factory=list)
    hot_stops: list[tuple[StopView, QPointF, int]] = field(default_factory=list)
    hot_lines: list[HotLine] = field(default_factory=list)
    crossings: list[tuple[QPointF, QPointF]] = field(default_factory=list)
    flag_at: QPointF | None = None
    compact: bool = False


def lay_out(state: RailMapState, width: float, height: float) -> MapLayout:
    """Place a map in a field of this size (pixels)."""
    barrier_left = HOT_SHARE * width
    letters = max((len(pin) for pin in state.connector.pins), default=0)
    wide = min(max(CONNECTOR_WIDTH, PIN_LETTER_WIDTH * letters + 20), MOST_CONNECTOR_WIDTH)
    layout = MapLayout(
        width,
        height,
        barrier_left,
        barrier_left + BARRIER,
        QRectF(width - wide - 12, 74, wide, height - 74 - 44),
    )
    _place_rails(layout, state)
    _place_hot_side(layout, state)
    _place_flag(layout, state)
    return layout


def _place_rails(layout: MapLayout, state: RailMapState) -> None:
    count = max(len(state.rails), 1)
    top, step = TOP, (layout.height - TOP - BOTTOM) / max(count - 1, 1)
    if step < COMPACT_BELOW:
        layout.compact, top = True, COMPACT_TOP
        step = (layout.height - COMPACT_TOP - COMPACT_BOTTOM) / max(count - 1, 1)
    left = layout.barrier_right + 56
    right = layout.connector.left()
    for number, rail in enumerate(state.rails):
        room = right - left
        n = len(rail.stops)
        xs = [left + room * (k + 0.55) / (n + 0.35) for k in range(n)]
        layout.rails.append(RailPlace(left, right, top + number * step, xs))


def _lane_y(layout: MapLayout, state: RailMapState, lane: int) -> float:
    own = [
        place.y
        for rail, place in zip(state.rails, layout.rails, strict=True)
        if rail.source_lane == lane
    ]
    return sum(own) / len(own) if own else TOP + 120.0 * lane


def _place_hot_side(layout: MapLayout, state: RailMapState) -> None:
    units = _units_to(state)
    scale = (layout.barrier_left - 30.0) / max(units.values(), default=1.0)
    gap = 0.5 * STOP_UNITS * scale
    tall = _block_height(layout, state)
    ends: dict[str, QPointF] = {}
    rows = 0
    for block in state.blocks:
        y = _lane_y(layout, state, block.lane)
        start = ends.get(block.parent, QPointF(14.0, y))
        x = start.x()
        if start.y() != y:
            layout.hot_lines.append(HotLine([start, QPointF(x, y)], _reached(block)))
        for stop in block.before:
            point = QPointF(x + gap, y)
            layout.hot_lines.append(HotLine([QPointF(x, y), point], stop.verdict))
            layout.hot_stops.append((stop, point, rows))
            rows += 1
            x = point.x()
        layout.hot_lines.append(HotLine([QPointF(x, y), QPointF(x + gap, y)], _reached(block)))
        x += gap
        box = QRectF(x, y - tall / 2, BLOCK_UNITS * scale, tall)
        layout.blocks.append((block, box))
        x = box.right()
        for stop in block.after:
            point = QPointF(x + gap, y)
            layout.hot_lines.append(HotLine([QPointF(x, y), point], stop.verdict))
            layout.hot_stops.append((stop, point, rows))
            rows += 1
            x = point.x()
        ends[block.id] = QPointF(x, y)
        if block.crosses:
            _cross(layout, state, block.lane, QPointF(box.right(), y))


def _block_height(layout: MapLayout, state: RailMapState) -> float:
    """The usual height, or less where two lanes lie close together."""
    ys = sorted({_lane_y(layout, state, block.lane) for block in state.blocks})
    gaps = [below - above for above, below in itertools.pairwise(ys)]
    return min([BLOCK_HEIGHT, *(gap - LANE_AIR for gap in gaps)])


def _reached(block: BlockView) -> Mark:
    return block.before[-1].verdict if block.before else Mark.UNREAD


def _units_to(state: RailMapState) -> dict[str, float]:
    """Width in units from the inlet to the right edge of each block."""
    units: dict[str, float] = {}
    for block in state.blocks:
        start = units.get(block.parent, 0.0)
        stops = 0.5 * (len(block.before) + len(block.after) + 1)
        units[block.id] = start + STOP_UNITS * stops + BLOCK_UNITS
    return units


def _cross(layout: MapLayout, state: RailMapState, lane: int, start: QPointF) -> None:
    """Dashed across the barrier to each rail that this converter feeds."""
    fed = [
        place
        for rail, place in zip(state.rails, layout.rails, strict=True)
        if rail.source_lane == lane
    ]
    if not fed:
        return
    bus = fed[0].left - 14 if len(fed) > 1 else fed[0].left
    layout.crossings.append((start, QPointF(bus, start.y())))
    if len(fed) > 1:
        layout.crossings.append((QPointF(bus, fed[0].y), QPointF(bus, fed[-1].y)))
        for place in fed:
            layout.crossings.append((QPointF(bus, place.y), QPointF(place.left, place.y)))


def _place_flag(layout: MapLayout, state: RailMapState) -> None:
    for stop, point, _ in layout.hot_stops:
        if stop.is_next:
            layout.flag_at = point - QPointF(0, 22)
            return
    for block, box in layout.blocks:
        if block.is_next:
            layout.flag_at = QPointF(box.center().x(), box.top() + 8)
            return
    for rail, place in zip(state.rails, layout.rails, strict=True):
        for stop, x in zip(rail.stops, place.stop_xs, strict=True):
            if stop.is_next:
                layout.flag_at = QPointF(x, place.y)
                return
    if state.connector.is_next:
        layout.flag_at = QPointF(layout.connector.center().x(), layout.connector.top() + 17)
