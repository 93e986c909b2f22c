"""The diagnosis on the repair cases under tests: made-up jobs, written before any answer.

`python -m benchmarks.told_cases [--out DIR]` tells each case up to its stages and marks the answer:
the board, the first suspect, the first three, the next step, advice that must not be given. Not
fitted: the cases' truth and expectations are read here only.
"""

from __future__ import annotations

import argparse
import json
import re
import sys
import tempfile
from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.read import read_case
from loose_rail.boards.profile import Board
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.planning.engine import Engine

TESTS = Path(__file__).parent.parent / "tests"
CASES = TESTS / "cases"
SETS = {
    "first": CASES,
    **{
        name: TESTS / f"cases_{name}"
        for name in (
            *("second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"),
            *("eleventh", "twelfth", "thirteenth", "fourteenth", "fifteenth", "sixteenth"),
            *("seventeenth", "eighteenth", "nineteenth", "twentieth"),
            *("twentyfirst", "twentysecond", "twentythird", "twentyfourth"),
            *("twentyfifth", "twentysixth", "twentyseventh"),
            *("twentyeighth", "twentyninth", "thirtieth", "thirtyfirst"),
            *("thirtysecond", "thirtythird", "thirtyfourth", "thirtyfifth"),
            *("thirtysixth", "thirtyseventh", "thirtyeighth", "thirtyninth", "fortieth"),
            *("fortyfirst", "fortysecond", "fortythird", "fortyfourth"),
            *("fortyfifth", "fortysixth", "fortyseventh", "fortyeighth"),
            *("fortyninth", "fiftieth", "fiftyfirst", "fiftysecond"),
            *("fiftythird", "fiftyfourth", "fiftyfifth", "fiftysixth"),
        )
    },
}
FIRST_LOOK = {
    "second": {"board": 89, "first": 64, "three": 71, "step": 65},
    "third": {"board": 86, "first": 62, "three": 76, "step": 62},
    "fourth": {"board": 94, "first": 47, "three": 59, "step": 55},
    "fifth": {"board": 91, "first": 74, "three": 86, "step": 69},
    "sixth": {"board": 97, "first": 68, "three": 77, "step": 70},
    "seventh": {"board": 67, "first": 53, "three": 65, "step": 64},
    "eighth": {"board": 85, "first": 67, "three": 79, "step": 88},
    "ninth": {"board": 84, "first": 79, "three": 93, "step": 81},
    "tenth": {"board": 76, "first": 62, "three": 69, "step": 56},
    "eleventh": {"board": 91, "first": 74, "three": 85, "step": 68},
    "twelfth": {"board": 69, "first": 58, "three": 77, "step": 71},
    "thirteenth": {"board": 82, "first": 45, "three": 82, "step": 52},
    "fourteenth": {"board": 82, "first": 67, "three": 91, "step": 76},
    "fifteenth": {"board": 73, "first": 73, "three": 77, "step": 71},
    "sixteenth": {"board": 87, "first": 79, "three": 90, "step": 74},
    "seventeenth": {"board": 74, "first": 71, "three": 84, "step": 76},
    "eighteenth": {"board": 79, "first": 68, "three": 75, "step": 64},
    "nineteenth": {"board": 89, "first": 73, "three": 86, "step": 81},
    "twentieth": {"board": 83, "first": 78, "three": 88, "step": 78},
    "twentyfirst": {"board": 64, "first": 61, "three": 72, "step": 56},
    "twentysecond": {"board": 68, "first": 71, "three": 87, "step": 68},
    "twentythird": {"board": 84, "first": 65, "three": 84, "step": 65},
    "twentyfourth": {"board": 63, "first": 66, "three": 83, "step": 66},
    "twentyfifth": {"board": 92, "first": 83, "three": 89, "step": 81},
    "twentysixth": {"board": 95, "first": 84, "three": 91, "step": 79},
    "twentyseventh": {"board": 91, "first": 73, "three": 82, "step": 85},
    "twentyeighth": {"board": 83, "first": 86, "three": 98, "step": 81},
    "twentyninth": {"board": 93, "first": 83, "three": 90, "step": 83},
    "thirtieth": {"board": 91, "first": 88, "three": 100, "step": 81},
    "thirtyfirst": {"board": 86, "first": 86, "three": 92, "step": 72},
    "thirtysecond": {"board": 86, "first": 79, "three": 100, "step": 83},
    "thirtythird": {"board": 72, "first": 72, "three": 79, "step": 66},
    "thirtyfourth": {"board": 91, "first": 100, "three": 100, "step": 78},
    "thirtyfifth": {"board": 91, "first": 87, "three": 96, "step": 87},
    "thirtysixth": {"board": 65, "first": 48, "three": 61, "step": 65},
    "thirtyseventh": {"board": 83, "first": 96, "three": 100, "step": 71},
    "thirtyeighth": {"board": 92, "first": 96, "three": 100, "step": 75},
    "thirtyninth": {"board": 90, "first": 80, "three": 87, "step": 67},
    "fortieth": {"board": 83, "first": 69, "three": 90, "step": 93},
    "fortyfirst": {"board": 83, "first": 83, "three": 96, "step": 67},
    "fortysecond": {"board": 77, "first": 74, "three": 83, "step": 71},
    "fortythird": {"board": 78, "first": 69, "three": 92, "step": 81},
    "fortyfourth": {"board": 90, "first": 87, "three": 97, "step": 77},
    "fortyfifth": {"board": 80, "first": 83, "three": 83, "step": 70},
    "fortysixth": {"board": 79, "first": 96, "three": 100, "step": 79},
    "fortyseventh": {"board": 92, "first": 72, "three": 86, "step": 64},
    "fortyeighth": {"board": 83, "first": 67, "three": 89, "step": 69},
    "fortyninth": {"board": 78, "first": 72, "three": 89, "step": 69},
    "fiftieth": {"board": 83, "first": 83, "three": 96, "step": 83},
    "fiftyfirst": {"board": 89, "first": 83, "three": 89, "step": 80},
    "fiftysecond": {"board": 89, "first": 83, "three": 100, "step": 86},
    "fiftythird": {"board": 92, "first": 81, "three": 96, "step": 73},
    "fiftyfourth": {"board": 96, "first": 79, "three": 96, "step": 79},
    "fiftyfifth": {"board": 95, "first": 90, "three": 95, "step": 100},
    "fiftysixth": {"board": 89, "first": 86, "three": 89, "step": 68},
}
"""In per cent, before anything was changed for the set: what a job is worth that the program has
not met. Thirty-three cases were corrected since: in 55 a boost that rests stands at its feed; in 87
and 129 a resonant converter would not run from a bulk of 160 V, both have a flyback; in 193 the
ripple did not go with the capacitance; in 209 the resistor is a start-up one; in 241 and 252
exchanging the condemned board is right advice, which they forbade; in 260, 320 and 344 a “start”
is called start-up; 329 forbade to say that nothing is wrong with the supply, and 334, 349, 358
and 365 did not allow it, which is their truth; in 449 the crack that is seen names the board, in
460 one arm of a bridge makes no ohm across the mains; in 487, 489 and 494 a reading of the rail or
of the LED output in use proves the repair as well, and in 496 the inrush thermistor is the inrush
limiter, as the program calls it; in 501 a dummy load clears the supply and no board behind it, and
in 506 the rectifier of the feed lies across the body diode, backward a Schottky's 0.24 V; in 508,
516 and 517 no board may be named yet, nor in 509 and 513 while the keys may keep the request back,
and a rail is proof enough of a repair; in 648 a boost's rectifier shorts no bulk, its capacitor
does; in 689 a “start” is called start-up; in 709 and 720 it is the upper resistor of a divider that
lifts its rail by going high, the lower one lowers it; in 144 the jack is called adapter socket."""
NAMED = 0.9
"""A board is named from this share on."""
TOLD = ("schema", "set", "board", "log")
SAME = {
    **dict.fromkeys(("reservoir", "electrolytic", "cap"), "capacitor"),
    **dict.fromkeys(("mosfet", "fet", "transistor"), "switch"),
    **dict.fromkeys(("optocoupler", "opto"), "coupler"),
    **{"rectifier": "diode", "pfc": "boost", "varistor": "suppressor", "tcon": "timing"},
    **{"inductor": "choke", "ic": "chip", "lead": "cord", "cable": "cord", "snubber": "clamp"},
    "backlight": "lamp",
}
SMALL = frozenset({"the", "of", "a", "an", "at", "to", "its", "in", "for", "and"})
NOUNS = frozenset(
    {"capacitor", "resistor", "connector", "fuse", "coupler", "transformer", "diode", "choke"}
)
HEADS = NOUNS | {"controller", "chip", "switch", "regulator", "board", "strip", "tube", "driver"}
BOARDS = (
    *(("nothing", "nothing"), ("outside", "outside"), ("power", "power"), ("main board", "main")),
    *(("timing", "timing"), ("lamp", "lamps"), ("drive", "drive")),
)
EngineOf = Callable[[Board], Engine]


@dataclass
class Mark:
    """How one stage came out; `lead` says that the board which leads is an allowed one, `forbidden`
    are lines that must not be said."""

    case: str
    after: int
    board: bool
    first: bool
    three: bool
    step: bool
    lead: bool = False
    forbidden: list[str] = field(default_factory=list)
    not_used: int = 0


RENAMED = (
    ("shunt reference", "shunt regulator"),
    ("surge suppressor", "varistor (mov)"),
    ("surge clamp", "tvs clamp"),
    ("drags", "loads"),
    ("gives no", "never requests"),
)
"""Words of the first cases, and what the same is called now (the glossary)."""


def says(pattern: str, line: str) -> bool:
    """Whether a line says what is looked for, in the words of now or of the first cases."""
    lowered = line.lower()
    for before, now in RENAMED:
        lowered = lowered.replace(now, before)
    return any(re.search(pattern, one, re.IGNORECASE) for one in (line, lowered))


def forbids(pattern: str, line: str) -> bool:
    """Whether a line is one that is forbidden, in the words of now and of the first cases: what
    either of them exempts (“but for the jack”) is not."""
    lowered = line.lower()
    for before, now in RENAMED:
        lowered = lowered.replace(now, before)
    return all(re.search(pattern, one, re.IGNORECASE) for one in (line, lowered))


def words(text: str) -> set[str]:
    """The words that count, in one spelling each."""
    lowered = text.lower().replace("power-factor", "boost")
    for before, now in RENAMED:
        lowered = lowered.replace(before, now)
    lowered = re.sub(r"t-con\b", "timing", re.sub(r"\bps-on\b", "start", lowered))
    lowered = re.sub(r"start[- ]up|start(?= resistor)", "startup", lowered)
    lowered = re.sub(r"(\d)\s?v\s?(\d)", r"\1.\2 v", lowered)
    found = set()
    for word in re.findall(r"\d+(?:\.\d+)?|[^\W\d_]+", lowered):
        one = word[:-1] if len(word) > 3 and word.endswith("s") and word[-2] != "s" else word
        one = SAME.get(one, one)
        found |= {one} - SMALL
    return found | ({"capacitor"} if found & {"ceramic", "film"} else set())


def fits(role: str, suspect: Mapping[str, Any]) -> bool:
    """Whether a suspect is what the words of a role mean."""
    part, title = str(suspect.get("part") or ""), str(suspect.get("title") or "")
    wanted = words(" ".join(w for w in role.split() if not w.startswith("-")))
    unwanted = words(" ".join(w[1:] for w in role.split() if w.startswith("-")))
    have = words(f"{part} {title}")
    if not wanted or not wanted <= have or unwanted & have:
        return False
    return not (wanted & HEADS) or not (words(part or title) & NOUNS) - wanted


def board_of(text: str) -> str:
    """The board in the words of the cases."""
    return next((board for word, board in BOARDS if word in text.lower()), "other")


def advice(found: Mapping[str, Any]) -> tuple[list[str], list[str]]:
    """What the person would do now, and everything that is advised or claimed, a line each."""
    now, every = [], []
    for number, step in enumerate(found["next"]):
        keys = ("title", "state_words", "setting", "red", "black")
        line = "do: " + "; ".join(str(step[k]) for k in keys if step.get(k))
        every += [line, *(f"before: {one}" for one in step["before"])]
        now += [line] if number == 0 else []
    stop, finding = found["stop"] or {}, found["finding"] or {}
    if stop.get("repair_now"):
        now.append(f"repair: {stop.get('part')}")
        every.append(now[-1])
    if finding and (finding["standing"] == "confirmed" or finding["probability"] >= NAMED):
        every.append(f"claim: {finding['part']}")
    shares = found["suspects"]["boards"]
    every += [f"board: {one['board']}" for one in shares if one["probability"] >= NAMED]
    return now or ["none"], every


def _boards(
    stage: Mapping[str, Any], found: Mapping[str, Any]
) -> tuple[set[str], dict[str, float]]:
    """The boards that may be named, and the shares of all that are."""
    allowed = set(stage["boards_allowed"])
    shares: dict[str, float] = {}
    for one in found["suspects"]["boards"]:
        name = board_of(one["board"])
        if name == "outside" and allowed & {"other", "nothing"}:
            name = "other"
        shares[name] = shares.get(name, 0.0) + one["probability"]
    allowed |= {"other"} if allowed & {"drive", "other", "nothing"} else set()
    return allowed, shares


def leads(stage: Mapping[str, Any], found: Mapping[str, Any]) -> bool:
    """Whether the board in the lead is an allowed one."""
    allowed, shares = _boards(stage, found)
    return max(shares, key=lambda board: shares[board], default="") in allowed


def board_right(stage: Mapping[str, Any], found: Mapping[str, Any]) -> bool:
    """Whether an allowed board is named, or rightly none."""
    allowed, shares = _boards(stage, found)
    named = {board: share for board, share in shares.items() if board != "outside"}
    if allowed and sum(named.get(board, 0.0) for board in allowed) >= NAMED:
        return True
    top = max(named, key=lambda board: named[board], default="")
    if named.get(top, 0.0) >= NAMED:
        return top in allowed
    return bool(stage["board_withheld_ok"])


def marks_of(path: Path, engines: EngineOf) -> Iterator[Mark]:
    """Tell a case up to each of its stages, and mark the answers."""
    case = json.loads(path.read_text(encoding="utf-8"))
    with tempfile.TemporaryDirectory() as folder:
        told = Path(folder) / "job.json"
        told.write_text(json.dumps({key: case[key] for key in TOLD}), encoding="utf-8")
        for stage in case["expect"]:
            found = answer(read_case(told, engines, stage["after"]), 3)
            suspects = found["suspects"]["parts"]
            now, every = advice(found)
            three = any(fits(r, s) for s in suspects[:3] for r in stage["roles_three"])
            never = [x for x in every if any(forbids(p, x) for p in stage["never"])]
            yield Mark(
                case=path.stem,
                after=stage["after"],
                board=board_right(stage, found),
                first=any(fits(r, s) for s in suspects[:1] for r in stage["roles_first"]),
                three=three,
                step=any(says(p, x) for p in stage["next_ok"] for x in now),
                lead=leads(stage, found),
                forbidden=never,
                not_used=len(found["not_used"]),
            )


def _every(path: Path) -> list[Mark]:
    return list(marks_of(path, engine_for))


FIGURES = ("board", "first", "three", "step")


def page(sets: Mapping[str, Sequence[Mark]]) -> str:
    """The figures as a page."""
    lines = [
        "# Told repair cases",
        "",
        "Made by `python -m benchmarks.told_cases --out docs/benchmarks`; the cases are under",
        "tests/cases and tests/cases_second to _fiftysixth, written before any answer was seen.",
        "In brackets the first look at a set, before anything was changed for it: the figure to",
        "expect of a job that the program has not met. All others are development figures.",
        "Lines are held against the words of the first cases and those of now alike (`RENAMED`).",
        "",
        f"| set | stages | {' | '.join(FIGURES)} | forbidden in | not understood |",
        f"| --- | --- |{' --- |' * len(FIGURES)} --- | --- |",
    ]
    lines += [_row(name, marks, FIRST_LOOK.get(name)) for name, marks in sets.items()]
    met = {name: marks for name, marks in sets.items() if name in FIRST_LOOK}
    number = sum(len(marks) for marks in met.values())
    if number:
        looked = {
            figure: sum(FIRST_LOOK[name][figure] * len(marks) for name, marks in met.items())
            / number
            for figure in FIGURES
        }
        together = [mark for marks in met.values() for mark in marks]
        lines.append(_row("all but the first", together, looked))
    return "\n".join([*lines, ""])


def _row(name: str, marks: Sequence[Mark], looked: Mapping[str, float] | None) -> str:
    cells = []
    for figure in FIGURES:
        share = 100 * sum(bool(getattr(mark, figure)) for mark in marks) / len(marks)
        cells.append(f"{share:.0f} %" + (f" ({looked[figure]:.0f} %)" if looked else ""))
    bad = sum(1 for mark in marks if mark.forbidden)
    lost = sum(mark.not_used for mark in marks)
    return f"| {name} | {len(marks)} | {' | '.join(cells)} | {bad} | {lost} |"


def main() -> int:
    """Mark every case and print, or write, the page."""
    parser = argparse.ArgumentParser(description="The diagnosis on told repair cases.")
    parser.add_argument("--out", type=Path, default=None)
    options = parser.parse_args()
    with ProcessPoolExecutor(2) as pool:
        sets = {
            name: [mark for found in pool.map(_every, sorted(of.glob("*.json"))) for mark in found]
            for name, of in SETS.items()
        }
    text = page(sets)
    sys.stdout.write(text)
    if options.out:
        options.out.mkdir(parents=True, exist_ok=True)
        (options.out / "told_cases.md").write_text(text, encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
