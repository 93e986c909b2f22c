"""Suspects at the level of the board and of the section: where to look before which part.

Boards are the power board itself, each board behind a connector, and the lamps; "nothing wrong with
the supply" and "outside the model" stay by themselves.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board, Component
from loose_rail.boards.whole_board import WHOLE_BOARD
from loose_rail.diagnosis.model.hypotheses import NOTHING, OUTSIDE, Hypothesis
from loose_rail.diagnosis.model.table import PredictionTable

Floats = NDArray[np.float64]

POWER_BOARD = WHOLE_BOARD
LAMPS = "lamps"
NO_FAULT_HERE = "nothing wrong with the supply"
OUTSIDE_MODEL = "outside the model"
CORD, CORD_KIND = "mains cord", "cord"
ADAPTER, ADAPTER_KIND = "adapter", "adapter"
LAMP_KINDS = ("led_strip", "tubes")


@dataclass(frozen=True, slots=True)
class Share:
    """A board or section with the probability that the cause lies in it."""

    name: str
    probability: float


def board_level_of(board: Board, row: Hypothesis) -> str:
    """The board that a row's cause lies on."""
    if row.suspect == NOTHING:
        return NO_FAULT_HERE
    if row.suspect == OUTSIDE:
        return OUTSIDE_MODEL
    return level_of_part(board.component(row.part))


def level_of_part(part: Component) -> str:
    """The board or the lamps that a part is, or that it sits on, in words."""
    if part.kind in LAMP_KINDS:
        return LAMPS
    if part.kind == CORD_KIND:
        return CORD
    if part.kind == ADAPTER_KIND:
        return ADAPTER
    if is_a(part, Trait.BOARD):
        return part.duty or "main board"
    return POWER_BOARD


def board_shares(table: PredictionTable, probabilities: Floats, unlisted: str = "") -> list[Share]:
    """Boards, the most probable first; an `unlisted` part that showed itself is on this one."""
    names = [board_level_of(table.board, row) for row in table.rows]
    if unlisted:
        names = [POWER_BOARD if name == OUTSIDE_MODEL else name for name in names]
    return _shares(names, probabilities)


def section_shares(
    table: PredictionTable, probabilities: Floats, unlisted: str = ""
) -> list[Share]:
    """Sections of the power board by their titles, the most probable first; an `unlisted` part that
    showed itself stands for its own."""
    titles = {section.id: section.title for section in table.board.sections}
    names = []
    for row in table.rows:
        section = table.board.component(row.part).section if row.part else ""
        name = titles.get(section, section) or board_level_of(table.board, row)
        names.append(unlisted if unlisted and name == OUTSIDE_MODEL else name)
    return _shares(names, probabilities)


def _shares(names: list[str], probabilities: Floats) -> list[Share]:
    sums: dict[str, float] = {}
    for name, probability in zip(names, probabilities, strict=True):
        sums[name] = sums.get(name, 0.0) + float(probability)
    found = [Share(name, total) for name, total in sums.items()]
    return sorted(found, key=lambda share: (-share.probability, share.name))


def boards_named(board: Board, parts: Sequence[str]) -> tuple[str, ...]:
    """The boards and lamps behind connectors that some parts are, in words, each once."""
    return tuple(dict.fromkeys(level_of_part(board.component(ref)) for ref in parts))
