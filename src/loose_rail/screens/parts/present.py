"""Choosing a replacement: window lines for every attribute of a candidate."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from loose_rail.app.parts import (
    FIT_WORDS,
    ListedPart,
    companions,
    has_rules,
    judged_line,
    repair_list,
)
from loose_rail.app.scope import scopes
from loose_rail.app.session import JobSession
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.part_words import job_words
from loose_rail.boards.profile import Component
from loose_rail.judgement.replacement.electrolytic import (
    AttributeCheck,
    Candidate,
    Fit,
    ReplacementCheck,
    check_replacement,
)
from loose_rail.judgement.replacement.judged import OfferCheck
from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.quantities import engineering, nominal
from loose_rail.screens.parts.state import ListRow, PartsState, StockRow, WindowLine


def parts_state(
    session: JobSession, stock: Sequence[Candidate], selected: int, front: str, typed: str
) -> PartsState:
    """The list of what is replaced, and the window lines of what is offered for the one in front:
    `typed`, else the candidate of the stock that is looked at."""
    listed = repair_list(session)
    if not listed:
        return _no_parts("No verdict has been accepted yet.")
    one = next((row for row in listed if row.part.ref == front), listed[0])
    rows = tuple(_list_row(row, row is one) for row in listed)
    beside = tuple(
        (found.part.ref, f"{_beside(found.part)}: {found.words}") for found in companions(session)
    )
    if typed or not has_rules(one.part) or not stock:
        state = _by_line(session, one, typed)
    else:
        state = _from_stock(session, one, stock, selected)
    told = tuple((one.words, one.current) for one in scopes(session))
    return replace(state, listed=rows, companions=beside, scopes=told)


def _beside(part: Component) -> str:
    return f" {job_words(part)}".rstrip()


def _title(part: Component) -> str:
    what = job_words(part)
    return f"Replacement for {part.ref}{f', {what}' if what else ''}"


def _list_row(row: ListedPart, current: bool) -> ListRow:
    status = "fitted" if row.fitted else row.chosen or "to choose"
    mark = "fitted" if row.fitted else "chosen" if row.chosen else "open"
    settled = row.fitted or bool(row.chosen)
    return ListRow(
        row.part.ref, f"{_beside(row.part)} · {mark}", f"{row.why}: {status}", current, settled
    )


def _from_stock(
    session: JobSession, one: ListedPart, stock: Sequence[Candidate], selected: int
) -> PartsState:
    part = one.part
    checks = [check_replacement(session.board, part.ref, item) for item in stock]
    rows = tuple(
        StockRow(item.name, str(check.fit), _fit_summary(check.notes, check.fit))
        for item, check in zip(stock, checks, strict=True)
    )
    check = checks[selected]
    can = check.fit is not Fit.NO or bool(one.chosen)
    return PartsState(
        title=_title(part),
        subtitle=f"{_was(session, part, check)} A {check.role} place: {check.why}.",
        stock=rows,
        selected=selected,
        lines=tuple(_window_line(item) for item in check.checks),
        headline=f"{stock[selected].name}: {FIT_WORDS[check.fit]}",
        action=_action(one, check.fit),
        can_choose=can,
        chosen=one.chosen,
    )


def _was(session: JobSession, part: Component, check: ReplacementCheck) -> str:
    """What stood there, or that nobody has read it yet."""
    if not session.board.is_read(part.ref):
        return "What stood there is not known yet."
    farads, volts = (one.original for one in check.checks[:2])
    return f"Was {nominal(farads, 'F')} {nominal(volts, 'V')}."


def _action(one: ListedPart, fit: Fit) -> str:
    if one.chosen:
        return "Go to rework"
    return "Take this one" if fit is not Fit.NO else "Not suitable: choose another"


def _by_line(session: JobSession, one: ListedPart, typed: str) -> PartsState:
    """What is typed for a part of any kind, judged by its place."""
    part = one.part
    offer = session.state.offer_for(part.ref)
    told = session.state.original_for(part.ref)
    text = typed or (offer.offer if offer else "")
    if text.lower().startswith("was "):
        text = ""  # what stands on the old part is nothing that is offered
    lines: tuple[WindowLine, ...] = ()
    headline = ""
    if text:
        try:
            found = judged_line(session, part.ref, text)
            lines = tuple(_offer_line(item) for item in found.checks)
            headline = f"{text}: {FIT_WORDS[found.fit]}"
        except BadEntryError:
            headline = ""
    stood = f"Was {part.ref}{f' ({part.value})' if part.value else ''}."
    if not session.board.is_read(part.ref):
        stood = f"Was {told}." if told else "What stood there is not known yet."
    return PartsState(
        title=_title(part),
        subtitle=f"{stood} {_asked(part)}",
        stock=(),
        selected=0,
        lines=lines,
        headline=headline,
        action="Go to rework",
        can_choose=True,
        chosen=one.chosen,
    )


def _asked(part: Component) -> str:
    """What is typed for a part on the page."""
    if is_a(part, Trait.BOARD):
        return (
            "Type every number that stands on the board you would fit: label, etched, revision. "
            "One letter more can be another panel or another standby voltage."
        )
    return (
        "Type the ratings of what you would fit, and what stands on the old part after “was”. "
        "Without them it goes on: same type and rating."
    )


def _offer_line(check: OfferCheck) -> WindowLine:
    """An attribute with numbers as a window line, one of words as words."""
    name = check.attribute.replace("_", " ")
    words = check.reason if check.fit is not Fit.OK else check.consequence or "as asked"
    offered, original = check.offered, check.original
    if isinstance(offered, float) and (check.low > 0 or math.isfinite(check.high)):
        numbers = AttributeCheck(
            name=name,
            unit=check.unit,
            low=check.low,
            high=check.high,
            original=original if isinstance(original, float) else math.nan,
            candidate=offered,
            fit=check.fit,
            words=words,
        )
        return _window_line(numbers)
    shown = "not given" if offered is None else _word(offered, check.unit)
    return WindowLine(
        name=name,
        window_low=None,
        window_high=None,
        original=None,
        candidate=None,
        original_text=_word(original, check.unit) if original is not None else "",
        candidate_text=shown,
        window_text=check.wanted or "as the old part",
        fit=str(check.fit),
        words=words,
    )


def _word(value: float | str, unit: str) -> str:
    return value if isinstance(value, str) else _with_unit(value, unit)


def _no_parts(message: str) -> PartsState:
    return PartsState(
        title="Parts",
        subtitle="",
        stock=(),
        selected=0,
        lines=(),
        headline="",
        action="Go to the verdict",
        can_choose=False,
        chosen="",
        message=message,
    )


def _fit_summary(notes: Sequence[str], fit: Fit) -> str:
    if not notes:
        return "every attribute in its window"
    return "; ".join(notes)


def _window_line(check: AttributeCheck) -> WindowLine:
    """Positions on a line whose ends leave room around the window, the original and the mark."""
    known = [v for v in (check.original, check.candidate, check.low) if math.isfinite(v)]
    high = check.high if math.isfinite(check.high) else 1.3 * max(known)
    finite = [v for v in (check.low, high, check.original, check.candidate) if math.isfinite(v)]
    bottom, top = min(finite), max(finite)
    room = 0.12 * (top - bottom) or 1.0
    bottom, top = max(bottom - room, 0.0), top + room

    def place(number: float) -> float:
        return (number - bottom) / (top - bottom)

    low_text, high_text, was, now = (
        _with_unit(number, check.unit, 3 if check.name in ON_THE_PART else 2)
        for number in (check.low, check.high, check.original, check.candidate)
    )
    text = f"{low_text} to {high_text}"
    if math.isinf(check.high):
        text = f"{low_text} or more" if check.low > 0 else "as the old part"
    elif check.low == 0:
        text = f"up to {high_text}"
    return WindowLine(
        name=check.name,
        window_low=place(check.low),
        window_high=place(high) if math.isfinite(check.high) else 1.0,
        original=place(check.original) if math.isfinite(check.original) else None,
        candidate=place(check.candidate),
        original_text=was if math.isfinite(check.original) else "",
        candidate_text=now,
        window_text=text,
        fit=str(check.fit),
        words=check.words,
    )


PRINTED, ON_THE_PART = ("F", "V"), ("amps", "ohms", "watts")
"""Units, and attributes, whose numbers stand on the part: they are shown as they stand there."""


def _with_unit(number: float, unit: str, digits: int = 2) -> str:
    if unit in ("mm", "°C"):
        return f"{number:g} {unit}"
    if not math.isfinite(number):
        return ""
    return nominal(number, unit) if unit in PRINTED else engineering(number, unit, digits)
