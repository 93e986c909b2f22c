"""Choosing a replacement: window lines for every attribute of a candidate."""

from __future__ import annotations

import math
from collections.abc import Sequence

from loose_rail.app.parts import FIT_WORDS, has_rules, part_to_replace
from loose_rail.app.session import JobSession
from loose_rail.boards.kinds.registry import kind_words
from loose_rail.boards.profile import Component
from loose_rail.judgement.replacement.electrolytic import (
    AttributeCheck,
    Candidate,
    Fit,
    check_replacement,
)
from loose_rail.kernel.quantities import engineering, nominal
from loose_rail.screens.parts.state import PartsState, StockRow, WindowLine


def parts_state(session: JobSession, stock: Sequence[Candidate], selected: int) -> PartsState:
    """Window lines of the candidate that is looked at."""
    part = part_to_replace(session)
    if part is None:
        return _no_parts("No verdict has been accepted yet.")
    if not has_rules(part):
        return _no_parts(_by_rating(part), can_skip=True)
    checks = [check_replacement(session.board, part.ref, item) for item in stock]
    rows = tuple(
        StockRow(item.name, str(check.fit), _fit_summary(check.notes, check.fit))
        for item, check in zip(stock, checks, strict=True)
    )
    check = checks[selected]
    chosen = session.state.replacement
    return PartsState(
        title=f"Replacement for {part.ref}, {part.duty}",
        subtitle=f"Was {nominal(check.checks[0].original, 'F')} "
        f"{nominal(check.checks[1].original, 'V')}. A {check.role} place: {check.why}.",
        stock=rows,
        selected=selected,
        lines=tuple(_window_line(item) for item in check.checks),
        headline=f"{stock[selected].name}: {FIT_WORDS[check.fit]}",
        action="Take this one" if check.fit is not Fit.NO else "Not suitable: choose another",
        can_choose=check.fit is not Fit.NO,
        chosen=chosen.verdict if chosen else "",
    )


def _by_rating(part: Component) -> str:
    """What to do about a part that no rule chooses a replacement for."""
    what = f"{part.ref}, {part.duty or kind_words(part.kind)}"
    if part.kind == "load":
        return f"{what}: exchange or repair that board, then go on to rework."
    rating = f" ({part.value})" if part.value else ""
    return (
        f"{what}{rating}: fit the same type and rating, then go on to rework. Candidates are "
        "checked by rule for electrolytic capacitors only."
    )


def _no_parts(message: str, can_skip: bool = False) -> PartsState:
    action = "Go to rework" if can_skip else "Go to the verdict"
    return PartsState(
        title="Parts",
        subtitle="",
        stock=(),
        selected=0,
        lines=(),
        headline="",
        action=action,
        can_choose=can_skip,
        chosen="",
        message=message,
    )


def _fit_summary(notes: Sequence[str], fit: Fit) -> str:
    if not notes:
        return "every attribute in its window"
    return "; ".join(notes)


def _window_line(check: AttributeCheck) -> WindowLine:
    """Positions on a line whose ends leave room around the window, the original and the mark."""
    high = check.high if math.isfinite(check.high) else 1.3 * max(check.original, check.candidate)
    finite = [v for v in (check.low, high, check.original, check.candidate) if math.isfinite(v)]
    bottom, top = min(finite), max(finite)
    room = 0.12 * (top - bottom) or 1.0
    bottom, top = max(bottom - room, 0.0), top + room

    def place(number: float) -> float:
        return (number - bottom) / (top - bottom)

    text = f"{_with_unit(check.low, check.unit)} to {_with_unit(check.high, check.unit)}"
    if math.isinf(check.high):
        text = f"{_with_unit(check.low, check.unit)} or more"
    elif check.low == 0:
        text = f"up to {_with_unit(check.high, check.unit)}"
    return WindowLine(
        name=check.name,
        window_low=place(check.low),
        window_high=place(high) if math.isfinite(check.high) else 1.0,
        original=place(check.original),
        candidate=place(check.candidate),
        original_text=_with_unit(check.original, check.unit),
        candidate_text=_with_unit(check.candidate, check.unit),
        window_text=text,
        fit=str(check.fit),
        words=check.words,
    )


def _with_unit(number: float, unit: str) -> str:
    if unit in ("mm", "°C"):
        return f"{number:g} {unit}"
    return nominal(number, unit) if unit in ("F", "V") else engineering(number, unit, 2)
