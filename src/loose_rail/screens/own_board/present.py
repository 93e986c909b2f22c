"""A board of the book as its rail map, with what failed on it before as halos."""

from __future__ import annotations

from dataclasses import replace

from loose_rail.app.board_desk import BoardDesk
from loose_rail.screens.shared.rail_map.present import MapBuilder
from loose_rail.screens.shared.rail_map.state import RailMapState

IN_THE_BOOK = ("grey halo: failed here before",)


def board_map(desk: BoardDesk) -> RailMapState:
    """The map of a board. Raises BoardFileError for a damaged file."""
    board, failed = desk.board(), desk.failed()
    every = sum(failed.values()) or 1
    shares = {part: count / every for part, count in failed.items()}
    return replace(MapBuilder(board, (), shares, None).build(), legend=IN_THE_BOOK)
