"""The rail map's state from profile, ledger and suspects: no geometry, no Qt."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a, kind_of
from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board, Rail, Section, Side
from loose_rail.judgement.judge import Judgement, Verdict
from loose_rail.kernel.observation import Observation
from loose_rail.screens.shared.rail_map.state import (
    BlockView,
    ConnectorView,
    RailMapState,
    RailView,
    StopView,
)
from loose_rail.vocabulary.mark import Mark
from loose_rail.vocabulary.roles import BoardRole


@dataclass(frozen=True, slots=True)
class Shown:
    """A reading as the map needs it: where, what, how it was judged."""

    probe: Probe
    observation: Observation
    judgement: Judgement


class MapBuilder:
    """Builds the map of one board for one moment."""

    def __init__(
        self,
        board: Board,
        shown: Sequence[Shown],
        parts: Mapping[str, float],
        next_probe: Probe | None,
        looked_at: str = "",
    ) -> None:
        self.board = board
        self._latest: dict[str, Shown] = {}
        self._pins: dict[str, Shown] = {}
        connectors = {connector.ref for connector in board.connectors}
        for item in shown:
            if item.probe.stop in connectors:
                self._pins[item.probe.plus] = item
            else:
                self._latest[item.probe.stop] = item
        self._parts = parts
        self._plain = board.known_by in ("pinout", "own")
        self._designators = {connector.ref for connector in board.connectors}
        way_in = board.roles.get(BoardRole.INPUT_PATH, [])
        self._designators |= {ref for ref in way_in if board.component(ref).kind == "connector"}
        self._designators |= set(board.earlier_names.values())
        self._next = next_probe
        self._looked_at = looked_at or (next_probe.stop if next_probe else "")
        self._on_stops = {ref for s in board.sections for ref in (*s.before, *s.after)}
        self._on_stops |= {ref for rail in board.rails for ref in rail.stops}

    def build(self) -> RailMapState:
        """The state of the whole map."""
        hot = [s for s in self.board.sections if s.side is Side.HOT]
        lanes = self._lanes(hot)
        blocks = tuple(self._block(section, lanes) for section in hot)
        rails = tuple(self._rail(rail, lanes) for rail in self.board.rails)
        label = f"look at {self._looked_at}" if self._looked_at else ""
        label = _short_label(self._next) if self._next else label
        return RailMapState(
            blocks=blocks,
            rails=rails,
            connector=self._connector(),
            next_label=label,
            summary=self._summary(rails),
            mains_side=not self.board.adapter_fed,
        )

    def _name(self, ref: str) -> str:
        """What a part is called on the map; one that is known by its job alone in one short word,
        because its rail and its place say the rest."""
        if not self._plain or ref in self._designators:
            return ref
        if ref in self.board.roles.get(BoardRole.BULK, []):
            return "bulk"
        part = self.board.component(ref)
        return kind_of(part).map_word

    def _lanes(self, hot: Sequence[Section]) -> dict[str, tuple[int, int]]:
        """Lane and depth of each hot section: branches open a new lane."""
        places: dict[str, tuple[int, int]] = {}
        branches: dict[str, int] = {}
        lane_count = 1
        for section in hot:
            if section.feeds_from not in places:
                places[section.id] = (0, 0)
                continue
            lane, depth = places[section.feeds_from]
            if branches.get(section.feeds_from, 0):
                lane, lane_count = lane_count, lane_count + 1
            branches[section.feeds_from] = branches.get(section.feeds_from, 0) + 1
            places[section.id] = (lane, depth + 1)
        return places

    def _block(self, section: Section, lanes: Mapping[str, tuple[int, int]]) -> BlockView:
        lane, depth = lanes[section.id]
        inside = [
            part.ref
            for part in self.board.components
            if part.section == section.id and part.ref not in self._on_stops
        ]
        suspicion = sum(self._parts.get(ref, 0.0) for ref in inside)
        leader = max(inside, key=lambda ref: self._parts.get(ref, 0.0), default="")
        subtitle = "" if self._plain else section.subtitle
        if leader and self._parts.get(leader, 0.0) > 0.1:
            subtitle = f"{self._name(leader)}?"
        is_next = bool(self._looked_at) and self._looked_at in inside
        reading, verdict = self._latest_of(inside)
        return BlockView(
            id=section.id,
            title=section.title,
            subtitle=subtitle,
            lane=lane,
            depth=depth,
            suspicion=suspicion,
            is_next=is_next,
            reading=reading,
            verdict=verdict,
            before=tuple(self._stop(ref) for ref in section.before),
            after=tuple(self._stop(ref) for ref in section.after),
            parent=section.feeds_from,
            crosses=section.crosses,
        )

    def _latest_of(self, refs: Sequence[str]) -> tuple[str, Mark]:
        """The most telling reading among parts drawn inside one block."""
        found = [(ref, self._latest[ref]) for ref in refs if ref in self._latest]
        if not found:
            return "", Mark.UNREAD
        wrong = [item for item in found if item[1].judgement.verdict is Verdict.DISAGREES]
        ref, item = (wrong or found)[-1]
        return f"{self._name(ref)} {item.observation.text(3)}", Mark(item.judgement.verdict)

    def _stop(self, ref: str) -> StopView:
        item = self._latest.get(ref)
        is_next = self._looked_at == ref
        return StopView(
            part=ref,
            label=self._name(ref),
            reading=item.observation.text(3) if item else "",
            verdict=Mark(item.judgement.verdict) if item else Mark.UNREAD,
            suspicion=self._parts.get(ref, 0.0),
            is_next=is_next,
        )

    def _rail(self, rail: Rail, lanes: Mapping[str, tuple[int, int]]) -> RailView:
        stops = tuple(self._stop(ref) for ref in rail.stops)
        pin = self._pins.get(rail.net)
        pin_verdict = Mark(pin.judgement.verdict) if pin else Mark.UNREAD
        wrong = next((k for k, stop in enumerate(stops) if stop.verdict is Mark.DISAGREES), -1)
        verdict = Mark.UNREAD
        if pin_verdict is Mark.DISAGREES or wrong >= 0:
            verdict = Mark.DISAGREES
        elif pin_verdict is Mark.AGREES:
            verdict = Mark.AGREES
        if verdict is Mark.DISAGREES and wrong < 0:
            wrong = self._most_suspected(stops)
        reading = pin.observation.text(3) if pin else ""
        lane = lanes.get(rail.section, (0, 0))[0]
        return RailView(
            id=rail.id,
            title=rail.title,
            verdict=verdict,
            source_lane=lane,
            stops=stops,
            fails_at=wrong,
            pin_reading=reading,
            pin_verdict=pin_verdict,
        )

    def _most_suspected(self, stops: Sequence[StopView]) -> int:
        return max(range(len(stops)), key=lambda k: stops[k].suspicion)

    def _connector(self) -> ConnectorView:
        connector = self.board.connectors[0]
        loads = [part.ref for part in self.board.components if is_a(part, Trait.BOARD)]
        suspicion = sum(self._parts.get(ref, 0.0) for ref in (*loads, connector.ref))
        is_next = self._looked_at == connector.ref
        pins = tuple(self._pin_text(pin.number, pin.label, pin.net) for pin in connector.pins)
        return ConnectorView(connector.ref, connector.title, pins, suspicion, is_next)

    def _pin_text(self, number: int, label: str, net: str) -> str:
        rails = {rail.net for rail in self.board.rails}
        item = self._pins.get(net)
        if item is None or net in rails:
            return f"{number} {label}"
        return f"{number} {label} {item.observation.text(3)}"

    def _summary(self, rails: Sequence[RailView]) -> str:
        """The map in words, for screen readers."""
        words = {Mark.AGREES: "good", Mark.DISAGREES: "wrong", Mark.UNREAD: "not read"}
        parts = [f"{rail.title}: {words[rail.verdict]}" for rail in rails]
        next_part = f". Look at {self._looked_at}" if self._looked_at else ""
        next_part = f". Next probe: {self._next.title}" if self._next else next_part
        return "Rail map. " + "; ".join(parts) + next_part


def _short_label(probe: Probe) -> str:
    setting = {"esr": "ESR", "diode": "diode test", "capacitance": "capacitance"}
    if probe.live:
        return f"next: {probe.title}"
    return f"next: {probe.part} {setting.get(probe.mode, 'ohms')}"
