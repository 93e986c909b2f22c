"""Warmth or cold at one place: the fault came, went, or answered by degrees."""

from __future__ import annotations

import re
from dataclasses import replace

from loose_rail.app.job_file.log.came_of_it import came_of, right_again
from loose_rail.app.job_file.log.elsewhere import other_part
from loose_rail.app.job_file.log.entries import Did
from loose_rail.app.job_file.log.sections import in_section
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.diagnosis.evidence.deed_clues import (
    thermal_clue,
)
from loose_rail.diagnosis.evidence.soft_evidence import (
    cleared_clue,
)

_AROUND = re.compile(r"\b(around|area|region|corner|surroundings|neighbourhood|part of)\b")
_OTHERS_SHIELDED = re.compile(r"\b(all |the )?(others?|rest)\b[^,;]*\b(shielded|covered|masked)\b")


_WHOLE_BOARD = re.compile(
    r"\b(?:whole|entire|complete|all of the) (?:power |supply )?(?:board|supply|psu)\b|"
    r"\beverything\b|^(?:the )?(?:power |supply )?board$"
)
_ON_BOARD = re.compile(r"\b(on )?(the )?(main|timing|t-?con|drive|sustain|tuner) board\b")
_SAME_PLACE = re.compile(r"\b(same|that) (place|spot|part|one|area|corner|thing)\b|^(it|there)\b")


_AS_IT_WAS = re.compile(
    r"\b(?:no|not|n't|nothing|none|still|same|unchanged|as before|like before|keeps?|stays?|"
    r"remains?|carries|goes on|on and on|as (?:it|he) (?:was|did)|all along|regardless|"
    r"either way|dead|dark)\b",
    re.IGNORECASE,
)
"""Warmth or cold that changed nothing, where the words are of a fault."""


def warmed(teller: Teller, deed: Did) -> None:
    """Tell warmth or cold at a part, a section, or another board, and what came of it."""
    heated = deed.deed == "heated"
    words = deed.what.lower()
    far = other_part(teller.board, words)
    parts = _where(teller, words, far)
    helped = came_of(teller, deed.result)
    if helped is None and right_again(teller, deed.result, of_a_dead_set=False):
        helped = True  # “5.04 V the moment the spray hits it”, where it pumped
    came_on = re.search(
        r"starts to (pump|tick|pulse|sag)|\b(re)?(boots|starts) (again|at once)\b|"
        r"goes out|fails|drops|dies|trips|\boff again\b|\bcollapses?\b|\bsags?\b|\bdips?\b|"
        r"\b(falls|shuts|cuts|switches) (down|off|out|away|to)\b|"
        r"\b(goes|runs|climbs|rises|jumps|shoots) (up|down)? ?to \d|"
        r"goes (off|dark|black)|stays dark|comes and goes?|come and go|"
        r"\b(swings?|hunts?|wanders?|pumps?|flickers?|pulses|sags?) (more|again|at once|wildly)\b|"
        r"(starts|begins) (again )?to (swing|hunt|wander|flicker)|fault (is )?(back|there)",
        deed.result,
    )
    if came_on and not re.search(r"(?<!re)starts (again|at once)", deed.result):
        helped = False
    elif helped is False and _AS_IT_WAS.search(deed.result):
        helped = None
    partly = _answers(teller, deed.result) if helped is None else None
    helped = helped if partly is None else partly
    if not parts and far:
        parts = [far]
    if not parts:
        teller.leave(f"{deed.deed} {deed.what}", "no such part is known on this board")
        return
    if "tester" in words and far and helped is False:
        teller.aside(cleared_clue(teller.table, far, good=False), deed.number)
    teller.warmed = tuple(parts)
    clue = thermal_clue(teller.table, parts, heated, helped)
    came = {True: "cured it", False: "brought the fault", None: "no change"}[helped]
    if partly is not None:
        less = "made it less" if partly else "made it worse"
        clue = replace(clue, words=clue.words.replace(came, less))
        came = less
    teller.aside(clue, deed.number)
    teller.understand(f"{teller.name(parts[0])} {deed.deed}: {came}")


def _where(teller: Teller, words: str, far: str) -> list[str]:
    """The parts that were warmed or cooled: by their names, their section, the whole board, or the
    place of the last time."""
    parts = []
    for piece in re.split(r"\band\b|,", _OTHERS_SHIELDED.sub(" ", words)):
        parts += teller.parts(piece)
    if parts and _AROUND.search(words):
        sections = {teller.board.component(ref).section for ref in parts}
        parts += [p.ref for p in teller.board.components if p.section in sections]
        parts = list(dict.fromkeys(parts))
    parts = parts or in_section(teller.board, words)
    if not parts and _WHOLE_BOARD.search(words):
        parts = [part.ref for part in teller.board.components]
    if far and _ON_BOARD.search(words):
        return []  # “main board, near the big chip”: none of this one
    if teller.warmed and not far and _SAME_PLACE.search(words):
        return list(teller.warmed)
    return parts


_BETTER = re.compile(r"\b(slower|weaker|quieter|rarer|better|less|calmer|seldom)\b", re.IGNORECASE)
_WORSE = re.compile(r"\b(faster|louder|worse|more often|wilder|stronger)\b", re.IGNORECASE)
NEARER_SHARE = 0.05
"""A rail that moves by less under warmth or cold has not answered [E]."""


def _answers(teller: Teller, result: str) -> bool | None:
    """Whether a fault that stays answers to warmth or cold: better or worse, by the volts of the
    rail that was read last where they are told; None where it does not answer."""
    if _AS_IT_WAS.search(result):
        return None
    volts = re.findall(r"(\d+(?:[.,]\d+)?) ?v\b", result.lower())
    live = [r for r in teller.job.live_readings if teller.rail_read(r.probe)]
    rail = teller.board.rail_of(teller.rail_read(live[-1].probe)) if live else None
    if len(volts) == 1 and rail is not None and rail.volts:
        was = abs(live[-1].observation.high - rail.volts)
        now = abs(float(volts[0].replace(",", ".")) - rail.volts)
        return None if abs(was - now) < NEARER_SHARE * rail.volts else now < was
    better, worse = _BETTER.search(result), _WORSE.search(result)
    return None if bool(better) is bool(worse) else bool(better)
