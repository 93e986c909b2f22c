"""`loose-rail diagnose`: what a job file's evidence says, and what to read next."""

from __future__ import annotations

import argparse
import json
import sys
from typing import Any

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.read import read_case
from loose_rail.boards.profile import Board
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.explain.supply_words import AT_WORK, GOOD_SUPPLY
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.kernel.errors import UsageError
from loose_rail.kernel.quantities import minutes_text

MOST_STEPS = 20


def diagnose(options: argparse.Namespace) -> int:
    """Print the answer. Raises UsageError, JobError and BoardFileError."""
    if not 0 <= options.steps <= MOST_STEPS:
        raise UsageError(f"--steps takes 0 to {MOST_STEPS}.")
    found = answer(read_case(options.file, _engine, options.after), options.steps)
    if options.json:
        text = json.dumps(found, ensure_ascii=False, indent=2)
    else:
        text = words_of(found) if options.more else page_of(found)
    sys.stdout.write(f"{text}\n")
    return 0


def _engine(board: Board) -> Engine:
    def say(share: float, words: str) -> None:
        if sys.stderr.isatty():
            sys.stderr.write(f"\rpredictions {100 * share:3.0f} % {words:24s}")
            if share >= 1.0:
                sys.stderr.write("\r" + " " * 48 + "\r")

    return engine_for(board, say)


MOST_LINES = 30
MOST_OTHERS, MOST_WHY, MOST_BEFORE, MOST_CAUTIONS = 3, 2, 4, 2
MORE = "… more: --more"


def page_of(found: dict[str, Any]) -> str:
    """The answer on one screen: finding, why, the next step, what is unproved; the rest with
    --more."""
    lines = [f"{found['board']['title']} ({found['board']['topology']})", ""]
    lines += _finding_words(found) or ["Nothing leads yet."]
    suspects = found["suspects"]["parts"]
    if suspects:
        lines += [f"  + {why['words']}" for why in suspects[0]["for"][:MOST_WHY]]
        others = [
            f"{_percent(one).strip()} {one['title']}" for one in suspects[1 : 1 + MOST_OTHERS]
        ]
        lines += [f"Else: {'; '.join(others)}"] if others else []
    boards = [f"{_percent(one).strip()} {one['board']}" for one in found["suspects"]["boards"][:3]]
    lines += [f"Where: {', '.join(boards)}"]
    if found["next"]:
        step = found["next"][0]
        todo = step["before"][:MOST_BEFORE]
        care = list(dict.fromkeys(step["cautions"]))[:MOST_CAUTIONS]
        lines += ["", *_step_words({**step, "before": todo, "cautions": care})]
    for title, entries in (
        ("Care", found["warnings"]),
        ("Unproved", found["unproved"]),
        ("Not used", [f"{one['what']}: {one['why']}" for one in found["not_used"]]),
    ):
        room = max(1, (MOST_LINES - len(lines) - 2) // 2)
        lines += _block(title, [*entries[:room], *([MORE] if len(entries) > room else [])])
    lines = [line for line in lines if line] if len(lines) > MOST_LINES else lines
    return "\n".join([*lines[: MOST_LINES - 1], MORE] if len(lines) > MOST_LINES else lines)


def words_of(found: dict[str, Any]) -> str:
    """The whole answer as text."""
    lines = [f"{found['board']['title']} ({found['board']['topology']})", ""]
    lines += ["Boards"]
    lines += [f"  {_percent(one)}  {one['board']}" for one in found["suspects"]["boards"]]
    lines += ["Sections"]
    lines += [f"  {_percent(one)}  {one['section']}" for one in found["suspects"]["sections"][:6]]
    lines += ["Parts"]
    for one in found["suspects"]["parts"]:
        bad = f" · bad with {100 * one['part_bad']:.0f} %" if one["part"] else ""
        lines.append(f"  {_percent(one)}  {one['title']}{bad}")
        lines += [f"           + {why['words']} ({why['strength']})" for why in one["for"]]
        lines += [f"           − {why['words']} ({why['strength']})" for why in one["against"]]
    lines += _finding_words(found)
    for step in found["next"]:
        lines += ["", *_step_words(step)]
    if found["plan"]:
        lines += ["", "Then", *(f"  {line}" for line in found["plan"])]
    lines += _block("Read again", [f"{s['reading']}: {s['likely']}" for s in found["read_again"]])
    if found["soak"]:
        lines += _block("Comes and goes", [found["soak"]["do"]])
    lines += _block("Warnings", found["warnings"])
    lines += _block("Unproved", found["unproved"])
    lines += _block("Understood", found["understood"]["words"])
    lines += _block("Not used", [f"{one['what']}: {one['why']}" for one in found["not_used"]])
    return "\n".join(lines)


def _percent(one: dict[str, Any]) -> str:
    return f"{100 * one['probability']:5.1f} %"


def _block(title: str, entries: list[str]) -> list[str]:
    return ["", title, *(f"  {entry}" for entry in entries)] if entries else []


def _finding_words(found: dict[str, Any]) -> list[str]:
    finding, stop = found["finding"], found["stop"]
    lines = []
    if found["supply_good"] and (not finding or finding["standing"] == "undecided"):
        lines += ["", f"{GOOD_SUPPLY}. {found['supply_good']['words']}"]
    elif found["at_work"]:
        lines += ["", f"{AT_WORK}. {found['at_work']}"]
    elif finding:
        lines += ["", f"{finding['part']}: {finding['words']} ({_percent(finding).strip()})"]
    if stop and stop["repair_now"] and finding and finding["standing"] != "undecided":
        lines.append(
            f"Repairing {stop['part']} now risks {stop['loss_now']:.1f}, less than testing on."
        )
    if found["differ"]:
        lines.append(found["differ"])
    return lines


def _step_words(step: dict[str, Any]) -> list[str]:
    why = step["why"].rstrip(".")
    lines = [
        f"Next: {step['title']} · {step['state_words']} · {minutes_text(step['minutes'])}",
        f"  {why}; {step['setting']}, red on {step['red']}, black on {step['black']}",
        f"  a good board shows {step['expected_sound']}",
        f"  good: {step['if_good']}",
        f"  bad:  {step['if_bad']}",
    ]
    lines += [f"  before: {one}" for one in step["before"]]
    return lines + [f"  caution: {one}" for one in step["cautions"]]
