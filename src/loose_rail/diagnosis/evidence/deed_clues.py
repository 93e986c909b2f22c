"""What deeds tell that are no replacement: warmth and cold, a signal tied, a load put on, a cause
found outside the set."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.soft_evidence import Clue, by_row, is_loose
from loose_rail.diagnosis.model.hypotheses import Hypothesis
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.vocabulary.keys import stage_of

THERMAL_LASTING = 0.06
"""The same where the part was touched that failed for good: warmth and cold leave it as it is, but
a hand is seldom that exact [E]."""
THERMAL, THERMAL_OTHER = 0.85, 0.03
"""Chance that a fault of its kind answers to warmth or cold at its part as it should, and that
another does, a few parts away [E]."""


def thermal_clue(
    table: PredictionTable, parts: Sequence[str], heated: bool, helped: bool | None
) -> Clue:
    """Warmth or cold at a part cured the set, brought the fault, or changed nothing (None).

    What has dried works better warm; what leaks, a cracked joint and a coupler that has aged work
    better cold. A whole board may like either.
    """
    better_warm = ("dried",)
    better_cold = ("leaky", "warm", "intermittent", "joint", "open", "weak", "early")
    boards = {one.ref for one in table.board.components if is_a(one, Trait.BOARD)}

    def chance(row: Hypothesis) -> float:
        own = [fault for fault in row.faults if fault.ref in parts]
        if helped is None:
            return 0.3 if own and any(f.mode in ("warm", "intermittent") for f in own) else 0.9
        wanted = better_warm if heated == helped else better_cold
        if any(fault.mode in wanted or fault.ref in boards for fault in own):
            return THERMAL
        return THERMAL_LASTING if own else THERMAL_OTHER

    how = "warmed" if heated else "cooled"
    came = "no change" if helped is None else "cured it" if helped else "brought the fault"
    names = ", ".join(parts) or "the board"
    reason = "what has dried is better warm, what leaks or is cracked is better cold"
    key = f"thermal:{'+'.join(parts)}:{how}"
    clue = by_row(table, key, f"{names} {how}: {came}", reason, chance)
    return (
        clue
        if helped is None or len(parts) != 1
        else replace(clue, answers=(parts[0], heated == helped))
    )


def forced_clue(table: PredictionTable, part: str, signal: str) -> Clue:
    """An enable was tied from outside, and what it enables came up: its board kept it back."""

    def chance(row: Hypothesis) -> float:
        kept = any(f.ref == part and f.mode == f"no_{signal}" for f in row.faults)
        return 0.92 if kept else 0.015

    words = f"{signal} enable forced: it came up"
    return by_row(
        table, f"forced:{signal}", words, "what is enabled works; nobody asked for it", chance
    )


BRIGHTNESS_VOLTS = (0.15, 0.8)
"""A brightness line that stands lower than the first asks for no light, up to the second for
little: dimmed far, it means a few tenths [P]."""
BRIGHTNESS_READ = ((0.7, 0.06), (0.25, 0.15), (0.05, 0.79))
"""Chance to read a brightness line as absent, as low and as given, where the main board keeps it
back and where it does not: a scene may be dark [E]."""
BRIGHTNESS_LOW_AT_FULL = 0.03
"""Chance to read it low though the menu asks for full light, where the main board does not keep it
back [E]."""


def brightness_clue(
    table: PredictionTable, part: str, volts: float, words: str, full: bool = False
) -> Clue:
    """What stood on the brightness line of the main board `part` while the set was on; `full` where
    its menu asked for all the light there is."""
    kept_chance, others = BRIGHTNESS_READ[sum(volts >= least for least in BRIGHTNESS_VOLTS)]
    if full and volts < BRIGHTNESS_VOLTS[1]:
        others = BRIGHTNESS_LOW_AT_FULL

    def chance(row: Hypothesis) -> float:
        kept = any(f.ref == part and f.mode == "no_dim" for f in row.faults)
        return kept_chance if kept else others

    reason = "the main board says how bright it is to be"
    return by_row(table, "brightness", words, reason, chance)


HELD, HELD_ANYWAY, HELD_SOMETIMES = 0.95, 0.06, 0.5
"""Chance that a rail holds a dummy load: where the fault is on another board, on this one, and on
this one where it comes and goes [E]."""


def held_clue(table: PredictionTable, stage: str, words: str) -> Clue:
    """A rail, the output of `stage`, stood at its volts under a dummy load, without the boards of
    the set: what makes it is hardly bad."""
    feeding = _feeding(table.board, stage)

    def chance(row: Hypothesis) -> float:
        if not any(fault.ref in feeding for fault in row.faults):
            return HELD
        return HELD_SOMETIMES if is_loose(row) else HELD_ANYWAY

    return by_row(table, "held", words, "a supply that carries its load is hardly bad", chance)


def _feeding(board: Board, stage: str) -> set[str]:
    """The parts of a stage, of what feeds it, and of the way in."""
    stages = {"bulk", "bridge", "input"}
    while stage and stage not in stages:
        stages.add(stage)
        source = board.stage(stage)
        stage = source.source if source else ""
    stages |= {one.id for one in board.stages if one.kind == "boost"}
    return {ref for role, refs in board.roles.items() if stage_of(role) in stages for ref in refs}


ELSEWHERE_FOUND = 0.5, 0.025
"""Chance that a cause is found outside the set, where the set is sound and where it is not [E]."""


BESIDE_FOUND = 0.5, 0.3, 0.03
"""Chance that a thing plugged into the set is found to bring the fault: where the set is sound,
where its main board is bad, and where anything else is [E]."""


def beside_found_clue(table: PredictionTable, main: str, words: str) -> Clue:
    """The set is well without something that was plugged into it: a stick, a player, an aerial."""
    sound, feeding, other = BESIDE_FOUND

    def chance(row: Hypothesis) -> float:
        if not row.faults:
            return sound
        return feeding if row.part == main else other

    return by_row(table, "elsewhere", words, "what was plugged in may be at fault", chance)


def elsewhere_found_clue(table: PredictionTable, words: str) -> Clue:
    """What explains the complaint was found outside the set: a remote whose batteries leaked."""
    sound, faulty = ELSEWHERE_FOUND

    def chance(row: Hypothesis) -> float:
        return faulty if row.faults else sound

    return by_row(table, "elsewhere", words, "the set may be sound", chance)
