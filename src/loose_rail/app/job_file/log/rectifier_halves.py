"""A rectifier with two halves as the hand has it: often one case with three legs."""

from __future__ import annotations

import re
from collections.abc import Sequence

from loose_rail.boards.profile import Board

_ONE_HALF = re.compile(r"\b(half|first|second|other|one of|upper|lower)\b", re.IGNORECASE)


def both_halves(board: Board, parts: Sequence[str], what: str) -> list[str]:
    """Both halves of a rectifier that was renewed, where the words name neither; empty where they
    do, or where it has none."""
    if len(parts) != 1 or _ONE_HALF.search(what):
        return []
    names = {part.duty or part.ref: part.ref for part in board.components if part.kind == "diode"}
    own = next((name for name, ref in names.items() if ref == parts[0]), "")
    other = names.get(f"{own}, other half") or names.get(f"{own} other half")
    return [parts[0], other] if own and other else []
