"""`loose-rail judge`: whether a part may stand in a place of a board, attribute by attribute."""

from __future__ import annotations

import argparse
import json
import math
import sys
from typing import Any

from loose_rail.boards.load import board_named
from loose_rail.boards.whole_board import WHOLE_BOARD
from loose_rail.judgement.replacement.judge_offer import Standard, judge_offer
from loose_rail.judgement.replacement.judged import Judged, OfferCheck
from loose_rail.kernel.errors import UsageError
from loose_rail.kernel.quantities import engineering, span

MARKS = {"ok": "●", "note": "▲", "no": "◆"}
WORDS = {"ok": "OK", "note": "OK with a note", "no": "NO"}


def judge(options: argparse.Namespace) -> int:
    """Print the verdict. Raises BoardFileError, UsageError and BadEntryError."""
    board = board_named(options.board)
    if options.place not in {WHOLE_BOARD, *(part.ref for part in board.components)}:
        raise UsageError(f"There is no {options.place} on {board.id}.", "Name a part of it.")
    found = judge_offer(
        board, options.place, options.offer, options.original, Standard(options.school)
    )
    if options.json:
        text = json.dumps(judged_dict(found), ensure_ascii=False, indent=1)
        sys.stdout.write(f"{text}\n")
        return 0
    sys.stdout.write(f"{WORDS[found.fit]}: {found.kind} for {options.place}, {found.place.job}\n")
    for one in found.checks:
        sys.stdout.write(f"{MARKS[one.fit]} {check_words(one)}\n")
    if found.left:
        sys.stdout.write(f"Not understood, counts for nothing: {', '.join(found.left)}\n")
    return 0


def check_words(one: OfferCheck) -> str:
    """One line: attribute, offered, required, why."""
    offered = "not given" if one.offered is None else _value(one.offered, one.unit)
    line = f"{one.attribute.replace('_', ' ')}: {offered}, asked {_asked(one)}"
    if one.fit == "ok":
        return f"{line}; {one.consequence}" if one.consequence else line
    return f"{line}: {one.reason}" + (f" ({one.consequence})" if one.consequence else "")


def _asked(one: OfferCheck) -> str:
    if one.wanted:
        return one.wanted
    if one.low <= 0 and math.isinf(one.high):
        return "as the old part"
    if one.low > 0 and math.isinf(one.high):
        return f"{engineering(one.low, one.unit)} or more"
    return span(one.low, one.high, one.unit)


def _value(value: float | str, unit: str) -> str:
    return value if isinstance(value, str) else engineering(value, unit)


def judged_dict(found: Judged) -> dict[str, Any]:
    """The verdict as the JSON output has it."""
    place = found.place
    return {
        "verdict": found.fit.value,
        "codes": found.codes,
        "kind": found.kind,
        "safety_part": found.safety,
        "place": {
            "ref": place.part.ref,
            "job": place.job,
            "side": place.side.value if place.side else "",
            "asks": {
                name: {"low": demand.low, "high": _finite(demand.high), "why": demand.why}
                for name, demand in place.demands.items()
            },
        },
        "checks": [
            {
                "attribute": one.attribute,
                "unit": one.unit,
                "required": {
                    "low": one.low or None,
                    "high": _finite(one.high),
                    "words": one.wanted,
                },
                "original": _plain(one.original),
                "offered": _plain(one.offered),
                "verdict": one.fit.value,
                "code": one.code,
                "reason": one.reason,
                "consequence": one.consequence,
            }
            for one in found.checks
        ],
        "not_understood": list(found.left),
    }


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _plain(value: float | str | None) -> float | str | None:
    return _finite(value) if isinstance(value, float) else value
