"""The stores as the page shows them, beside the list of the open job."""

from __future__ import annotations

from loose_rail.app.stores.desk import StoresDesk
from loose_rail.app.stores.for_job import Plan
from loose_rail.app.stores.orders import OrderSheet, under_way
from loose_rail.app.stores.stock import Line, Ordered
from loose_rail.screens.stores.state import StoresState


def stores_state(desk: StoresDesk, wanted: str = "") -> StoresState:
    """Lines in whose words these letters stand, the plan for the open job, what is on order."""
    letters = wanted.strip().lower()
    lines = [line for line in desk.stores.lines if letters in _searched(line)]
    plan = desk.plan()
    session = desk.session
    return StoresState(
        rows=tuple(_row(line) for line in lines),
        job=f"Job {session.state.ticket} needs" if session is not None else "",
        needs=_needs(plan) if plan is not None else (),
        summary=_summary(plan) if plan is not None else "",
        orders=tuple(words for sheet in desk.orders() for words in _order(sheet)),
        under_way=tuple(map(_on_its_way, under_way(desk.stores))),
    )


def _searched(line: Line) -> str:
    return f"{line.words} {line.drawer} {line.supplier} {line.origin}".lower()


def _row(line: Line) -> tuple[str, str, str, str, str]:
    where = f"drawer {line.drawer}" if line.drawer else line.supplier or ""
    if line.origin:
        where = f"{where} off {line.origin}".strip()
    count = "" if line.supplier else str(line.count)
    return str(line.number), line.words, count, where, f"{line.price:.2f}" if line.price else ""


def _needs(plan: Plan) -> tuple[tuple[str, str, bool], ...]:
    found = []
    for one in plan.sources:
        if one.line is None:
            found.append((one.ref, "nobody has it", False))
            continue
        where = (one.line.drawer and f"drawer {one.line.drawer}") or one.line.supplier or "stores"
        price = f", {one.line.price:.2f}" if one.line.price else ""
        found.append((one.ref, f"{one.line.words} · {where}{price}", True))
    return tuple(found)


def _summary(plan: Plan) -> str:
    cover = plan.cover
    if not plan.sources:
        return "Nothing is open on its list."
    if not cover.taken:
        return "Nothing in the stores fits."
    padded = "".join(
        f"; {money:.2f} more reach the least order of {name}"
        for name, money in cover.padding.items()
    )
    proven = "" if cover.proven else "; there may be a cheaper set"
    return f"{cover.total:.2f} with carriage, the cheapest set{padded}{proven}."


def _on_its_way(one: Ordered) -> str:
    whence = f" from {one.supplier}" if one.supplier else ""
    return f"{one.words} for {one.ticket} {' '.join(one.places)}: {one.state}{whence}"


def _order(sheet: OrderSheet) -> list[str]:
    lacking = f", {sheet.lacking:.2f} lack to the least order" if sheet.lacking else ""
    head = (
        f"{sheet.supplier}: {sheet.goods:.2f} and {sheet.carriage:.2f} carriage, "
        f"{sheet.carriage_a_job:.2f} a job{lacking}"
    )
    return [head, *(f"{o.words} for {o.ticket} {' '.join(o.places)}" for o in sheet.lines)]
