"""A board, lamps or an adapter beside this supply that was exchanged for a good one and cured it.

No reading proves more than that: what is left is to let the set run.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.inference.finding import Finding, Standing


def exchanged(board: Board, finding: Finding | None, clues: Sequence[Clue]) -> Finding | None:
    """The finding as it stands once what it names was exchanged and the set runs with the good one;
    None where that was not told, or of more than one thing."""
    cures = [clue for clue in clues if clue.family.startswith("replaced:") and clue.found]
    if finding is None or len(cures) != 1 or cures[0].found != {finding.part}:
        return None
    part = board.component(finding.part)
    if not (is_a(part, Trait.BOARD) or is_a(part, Trait.BACKLIGHT)):
        return None
    undecided = finding.standing is Standing.UNDECIDED
    standing = Standing.BEST_MATCH if undecided else finding.standing
    return replace(finding, standing=standing, exchanged=True)
