"""The barrier between mains side and outputs, and where a meter reads its insulation."""

from __future__ import annotations

from loose_rail.boards.probes import Probe, probes_at
from loose_rail.boards.profile import Board, Side
from loose_rail.vocabulary.meter_mode import MeterMode


def reads_insulation(board: Board, probe: Probe) -> bool:
    """Whether a probe reads the ohms between the two grounds of a dead board: across a Y capacitor
    of the barrier, in place."""
    grounds = {board.hot_ground, board.cold_ground}
    ohms = probe.mode is MeterMode.OHMS and probe.in_place
    return ohms and len(grounds) == 2 and {probe.plus, probe.minus} == grounds


def insulation_probes(board: Board) -> frozenset[str]:
    """The ids of those probes; only parts with a leg on each ground are asked."""
    grounds = {board.hot_ground, board.cold_ground}
    across = (part for part in board.components if grounds <= set(part.pins.values()))
    probes = (probe for part in across for probe in probes_at(board, part))
    return frozenset(probe.id for probe in probes if reads_insulation(board, probe))


def on_the_hot_side(board: Board, part: str) -> bool:
    """Whether a part stands on the mains side: its section does, or it crosses the barrier."""
    sides = {section.id: section.side for section in board.sections}
    component = board.component(part)
    nets = {board.net(net).side for net in component.pins.values()}
    return sides.get(component.section) is Side.HOT or Side.HOT in nets
