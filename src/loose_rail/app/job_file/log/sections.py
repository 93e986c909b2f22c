"""A place on a board by its section: “primary side of the standby stage”, “around the PFC”."""

from __future__ import annotations

import re

from loose_rail.boards.parts_named import volts_named
from loose_rail.boards.profile import Board, Section, Side

_SIDES = (
    (Side.HOT, re.compile(r"\b(primary|hot|mains)([- ]side)?\b", re.IGNORECASE)),
    (Side.COLD, re.compile(r"\b(secondary|cold|output)([- ]side)?\b", re.IGNORECASE)),
)
_STAGES = (
    (("standby",), r"stand-?by|\b5 ?v?sb\b|\baux\w* supply"),
    (("boost",), r"\bpfc\b|\bboost\b|power[- ]factor"),
    (("main",), r"\bmain (supply|converter|stage|transformer|section|flyback|half)|\bllc\b|half"),
    (("led",), r"\bled (driver|boost|stage|section|converter)"),
    (("ccfl", "inverter"), r"\binverter\b"),
    (("rectifier", "inlet"), r"mains input|input (filter|section)|inlet"),
)
NEAR_SHARE = 0.06
_A_PLACE = re.compile(
    r"\b(side|stage|section|supply|converter|area|part|half|end|corner|region|driver|outputs?)\b",
    re.I,
)


def in_section(board: Board, words: str) -> list[str]:
    """The parts of the section that words name, by stage, by side or by both; none where they name
    neither."""
    if not _A_PLACE.search(words):
        return []
    side = next((one for one, pattern in _SIDES if pattern.search(words)), None)
    volts = volts_named(words)
    fed = [one.id for one in board.stages if volts and abs(one.volts / volts - 1.0) < NEAR_SHARE]
    stages = fed or [
        name for names, pattern in _STAGES for name in names if re.search(pattern, words, re.I)
    ]
    if side is None and not stages:
        return []
    own = {section.id for section in board.sections if _is_meant(section, side, stages)}
    return [part.ref for part in board.components if part.section in own]


def _is_meant(section: Section, side: Side | None, stages: list[str]) -> bool:
    named = not stages or section.id.removesuffix("_out") in stages
    return named and side in (None, section.side) and section.id != "loads"
