"""A board, lamps or an adapter beside this supply that was exchanged for a good one and cured the
set, or that measured bad by itself: no reading of the supply proves more than that.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.by_itself import bad_by_themselves
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.inference.finding import Finding, Standing

MEASURED_ALONE = 0.9
"""How sure a board is to be that measured bad by itself, and nothing more is read for it [E]."""


def exchanged(board: Board, finding: Finding | None, clues: Sequence[Clue]) -> Finding | None:
    """The finding as it stands once what it names was exchanged and the set runs with the good one,
    or measured bad by itself and leads; None where neither was told, or of more than one thing."""
    if finding is None:
        return None
    part = board.component(finding.part)
    if not (is_a(part, Trait.BOARD) or is_a(part, Trait.BACKLIGHT)):
        return None
    undecided = finding.standing is Standing.UNDECIDED
    cures = [clue for clue in clues if clue.family.startswith("replaced:") and clue.found]
    if len(cures) == 1 and cures[0].found == {finding.part}:
        standing = Standing.BEST_MATCH if undecided else finding.standing
        return replace(finding, standing=standing, exchanged=True)
    bad = bad_by_themselves(clues)
    alone = bad == {finding.part} and not undecided and finding.probability >= MEASURED_ALONE
    return replace(finding, alone=True) if alone else None


def bad_off_the_board(board: Board, finding: Finding | None, bad: frozenset[str]) -> Finding | None:
    """The finding, confirmed where its part measured bad by itself, or by what stands on it: it is
    out, or nothing beside it makes that reading, and none in its place tells more of it."""
    if finding is None or finding.part not in bad or finding.waits_for:
        return finding
    part = board.component(finding.part)
    if is_a(part, Trait.BOARD) or is_a(part, Trait.BACKLIGHT):
        return finding  # what hangs on a plug is asked further about its cable
    if finding.standing is not Standing.BEST_MATCH:
        return finding
    return replace(finding, standing=Standing.CONFIRMED, twins=())
