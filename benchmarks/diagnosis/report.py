"""The results as a Markdown table with 95 % intervals, and as a plot."""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np
from reportlab.graphics import renderSVG
from reportlab.graphics.shapes import Drawing, Line, Rect, String
from reportlab.lib.colors import HexColor
from scipy.stats import binomtest

from benchmarks.diagnosis.jobs import Result

RESAMPLES = 2000
HIGHEST_LISTED = 8
CONFIRMED, UNDECIDED, LEFT, ENGINE = "confirmed", "undecided", "left_out", "engine"
AIMS = {
    "any severity": ("99 %", "97 %", "1 %", "15 %"),
    "stranger": ("98.5 %", "95 %", "1.5 %", "15 %"),
    "own board": ("98 %", "92 %", "2 %", "15 %"),
}
LEVEL_NOTES = (
    "*As predicted*: faults just as the tables of kinds have them, drawn by the program's",
    "rates. *Any severity*: shorts of 0.02 to 8 Ω, leaks, dried, drifted and weak parts of any",
    "degree, by rates of the benchmark's own (`benchmarks/true_faults.py`); pairs that fail",
    "together are drawn from the program's links. *Stranger*: also other capacitor sizes and",
    "resistor values than the profile's, and leads of 0.05 to 0.25 Ω. *Own board*: the same on",
    "boards composed from their make-up and legend. What a fault does to a board is worked out",
    "by the program's own solver and live model at every level, and what customers say by its",
    "own symptom table: this shows how well the reasoning stands unknown degrees and values,",
    "not that the models are right. Circuits of another simulator, readings from first",
    "principles and told cases are held against those.",
)
TITLE = "Minutes to the verdict: median, quartiles, 10 to 90 %"
NOTES = (
    "“Pair” is two or more faults that fail together. “With groups” counts a verdict that names",
    "a group of parts no safe reading tells apart, or lists the part among those that may be",
    "bad as well. All rules share the rule of the verdict, with its confirmations; the",
    "checklist works cold from the mains inwards, then live outwards; no rule lifts a part",
    "without a suspicion. A supply that is found good counts as naming the boards and contacts",
    "it says to look at. Sets in which only a meter finds anything (no rail 6 % and 0.3 V off in",
    "use or in standby, no ripple of a quarter volt, nothing that hums, dims, starts late, or",
    "comes with warmth: `benchmarks/owners.py`) are carried to no counter: they count in the rows",
    "that say so alone. The seed was not used while tuning.",
)


def share(results: Sequence[Result], holds: Callable[[Result], bool]) -> str:
    """A share in per cent with its Wilson interval."""
    n = len(results)
    if n == 0:
        return "none"
    good = sum(holds(one) for one in results)
    interval = binomtest(good, n).proportion_ci(method="wilson")
    return f"{100 * good / n:.1f} % ({100 * interval.low:.1f}–{100 * interval.high:.1f})"


def mean(results: Sequence[Result], of: Callable[[Result], float]) -> str:
    """A mean with its bootstrap interval."""
    values = np.array([of(one) for one in results], dtype=float)
    if len(values) == 0:
        return "none"
    picked = np.random.default_rng(1).integers(len(values), size=(RESAMPLES, len(values)))
    low, high = np.percentile(values[picked].mean(axis=1), [2.5, 97.5])
    return f"{values.mean():.1f} ({low:.1f}–{high:.1f})"


def report(results: Sequence[Result], seed: int, out: Path | None) -> None:
    """Print the report; write it and its plot where `out` is a directory."""
    text = "\n".join(_lines(results, seed)) + "\n"
    sys.stdout.write(text)
    if out is not None:
        out.mkdir(parents=True, exist_ok=True)
        (out / "diagnosis.md").write_text(text, encoding="utf-8")
        drawn = renderSVG.drawToString(_plot(results))
        drawn = drawn.replace("<title>...</title>", f"<title>{TITLE}</title>")
        drawn = drawn.replace("<desc>...</desc>", "")
        (out / "diagnosis.svg").write_text(drawn, encoding="utf-8")


def _lines(results: Sequence[Result], seed: int) -> list[str]:
    levels = list(dict.fromkeys(one.level for one in results))
    lines = [
        "# Diagnosis in a closed loop",
        "",
        f"Made by `python -m benchmarks.diagnosis --level 0` to 3, seed {seed}; 95 % intervals.",
        "",
        *LEVEL_NOTES,
        "",
        "| level | jobs | right board | right repair (groups counted) | confirmed and wrong "
        "| ends unconfirmed | minutes |",
        "|---|---|---|---|---|---|---|",
    ]
    for level in levels:
        own = [o for o in results if o.level == level and o.kind != LEFT and o.rule == ENGINE]
        lines += [_level_row(level, [one for one in own if not one.only_a_meter])]
        if level in AIMS:
            lines += [f"| aim | | {' | '.join(AIMS[level])} | |"]
        lines += [_level_row("with what only a meter finds", own)]
    lines += ["", *NOTES]
    for level in levels:
        lines += ["", f"## {level.capitalize()}", ""]
        lines += _of_level([o for o in results if o.level == level and not o.only_a_meter])
    return lines


def _level_row(name: str, own: Sequence[Result]) -> str:
    cells = [
        name,
        str(len(own)),
        share(own, lambda one: one.right_board),
        share(own, lambda one: one.right_with_groups),
        share(own, lambda one: one.standing == CONFIRMED and not one.right_lead),
        share(own, lambda one: one.standing == UNDECIDED),
        mean(own, lambda one: one.minutes),
    ]
    return f"| {' | '.join(cells)} |"


def _of_level(results: Sequence[Result]) -> list[str]:
    known = [one for one in results if one.kind != LEFT]
    lines = [
        "| rule | jobs | right board | all failed parts named | same, with groups "
        "| confirmed and wrong | ends unconfirmed | minutes "
        "| readings | state changes | parts in vain | unsafe steps |",
        "|---|---|---|---|---|---|---|---|---|---|---|---|",
    ]
    for kinds in (("single", "pair"), ("single",), ("pair",)):
        for rule in dict.fromkeys(one.rule for one in known):
            own = [one for one in known if one.rule == rule and one.kind in kinds]
            if own:
                lines.append(_row(f"{rule}, {' and '.join(kinds)}", own))
    lines += ["", *_compared(known), "", *_calibration(known)]
    if any(one.kind == LEFT for one in results):
        lines += ["", *_left_out(results)]
    return [*lines, "", *_by_board(known), "", *_misses(known)]


def _row(name: str, own: Sequence[Result]) -> str:
    cells = [
        name,
        str(len(own)),
        share(own, lambda one: one.right_board),
        share(own, lambda one: one.right_repair),
        share(own, lambda one: one.right_with_groups),
        share(own, lambda one: one.standing == CONFIRMED and not one.right_lead),
        share(own, lambda one: one.standing == UNDECIDED),
        mean(own, lambda one: one.minutes),
        mean(own, lambda one: one.readings),
        mean(own, lambda one: one.state_changes),
        f"{sum(one.in_vain for one in own) / len(own):.2f}",
        str(sum(one.unsafe for one in own)),
    ]
    return f"| {' | '.join(cells)} |"


def _compared(known: Sequence[Result]) -> list[str]:
    """The engine's minutes over each other rule's, on the same sets."""
    found = []
    by_key: dict[str, dict[tuple[str, str, int], Result]] = {}
    counts: Counter[tuple[str, str, str]] = Counter()
    for one in known:
        key = (one.rule, one.board, one.kind)
        by_key.setdefault(one.rule, {})[(one.board, one.kind, one.job)] = one
        counts[key] += 1
    engine = by_key.get(ENGINE, {})
    for rule, own in by_key.items():
        if rule != ENGINE and own:
            ours = np.mean([engine[key].minutes for key in own])
            theirs = np.mean([one.minutes for one in own.values()])
            found.append(
                f"- On the {len(own)} sets that both did, the engine takes "
                f"{100 * ours / theirs:.0f} % of the minutes of the rule “{rule}”."
            )
    return found


def _calibration(known: Sequence[Result]) -> list[str]:
    lines = ["| verdicts given at | number | leading part or group right |", "|---|---|---|"]
    own = [one for one in known if one.rule == ENGINE and one.standing != UNDECIDED]
    for low, high in ((0.9, 0.95), (0.95, 0.99), (0.99, 1.01)):
        inside = [one for one in own if low <= one.probability < high]
        words = f"{100 * low:.0f} to {min(100 * high, 100):.0f} %"
        lines.append(f"| {words} | {len(inside)} | {share(inside, lambda one: one.right_lead)} |")
    return lines


def _left_out(results: Sequence[Result]) -> list[str]:
    own = [one for one in results if one.kind == LEFT]
    wrong = share(own, lambda one: one.standing == CONFIRMED and not one.right_lead)
    best = share(own, lambda one: one.standing == "best_match" and not one.right_lead)
    return [
        f"With the true fault left out of the list ({len(own)} jobs): {wrong} end in a confirmed "
        f"wrong verdict, {best} in a wrong best match, the others stand open."
    ]


def _by_board(known: Sequence[Result]) -> list[str]:
    lines = [
        "| board | jobs | right board | single, with groups | pair, with groups | minutes |",
        "|---|---|---|---|---|---|",
    ]
    own = [one for one in known if one.rule == ENGINE]
    for board in dict.fromkeys(one.board for one in own):
        here = [one for one in own if one.board == board]
        single = [one for one in here if one.kind == "single"]
        pair = [one for one in here if one.kind == "pair"]
        cells = [
            board,
            str(len(here)),
            share(here, lambda one: one.right_board),
            share(single, lambda one: one.right_with_groups),
            share(pair, lambda one: one.right_with_groups),
            mean(here, lambda one: one.minutes),
        ]
        lines.append(f"| {' | '.join(cells)} |")
    return lines


def _misses(known: Sequence[Result]) -> list[str]:
    missed: Counter[str] = Counter()
    groups: Counter[str] = Counter()
    for one in known:
        if one.rule != ENGINE:
            continue
        if not one.right_with_groups:
            missed[f"{one.board} {one.truth} → {one.named} {one.standing}"] += 1
        elif not one.right_repair:
            groups[f"{one.board} {one.truth}"] += 1
    lines = ["Faults that were only named within a group or as a possible companion, most often:"]
    lines += [f"- {words}: {n}" for words, n in groups.most_common(HIGHEST_LISTED)]
    lines += ["", "Missed most often:"]
    lines += [f"- {words}: {n}" for words, n in missed.most_common(HIGHEST_LISTED)]
    return lines


INK, SOFT, BAR, OTHER, PAPER = (
    HexColor(code) for code in ("#22302b", "#5f6b65", "#2f7d5b", "#b9a37a", "#fcfaf6")
)


def _plot(results: Sequence[Result]) -> Drawing:
    """Minutes to the verdict: the quartiles of every rule, single faults and pairs together."""
    known = [one for one in results if one.kind != LEFT]
    rules = list(dict.fromkeys(one.rule for one in known))
    width, height, left, bar = 720, 60 + 46 * len(rules), 110, 20
    most = max(float(np.percentile([o.minutes for o in known if o.rule == r], 90)) for r in rules)
    drawing = Drawing(width, height)
    drawing.add(Rect(0, 0, width, height, fillColor=PAPER, strokeColor=None))
    scale = (width - left - 40) / most

    def words(x: float, y: float, text: str, size: int = 12, colour: HexColor = INK) -> None:
        drawing.add(String(x, y, text, fontSize=size, fillColor=colour, fontName="Helvetica"))

    for number, rule in enumerate(rules):
        y = height - 60 - 46 * number
        own = [one.minutes for one in known if one.rule == rule]
        p10, p25, p50, p75, p90 = (float(np.percentile(own, q)) for q in (10, 25, 50, 75, 90))
        colour = BAR if rule == ENGINE else OTHER
        words(10, y + 5, rule)
        drawing.add(Line(left + p10 * scale, y + 10, left + p90 * scale, y + 10, strokeColor=SOFT))
        drawing.add(
            Rect(
                left + p25 * scale,
                y,
                max((p75 - p25) * scale, 1),
                bar,
                fillColor=colour,
                strokeColor=None,
            )
        )
        drawing.add(
            Line(left + p50 * scale, y - 3, left + p50 * scale, y + bar + 3, strokeColor=INK)
        )
        words(
            left + p90 * scale + 6 if p90 * scale < 480 else left + p25 * scale,
            y - 14,
            f"median {p50:.0f} min",
            10,
            SOFT,
        )
    words(10, height - 22, TITLE, 13)
    return drawing
