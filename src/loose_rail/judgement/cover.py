"""The cheapest set of offers that covers a list of parts: single parts from drawers and suppliers,
kits that bring several at once, carriage and least order of each supplier.

Set cover with fixed costs as a mixed-integer program (SciPy `milp`, HiGHS); where it is not proven
within its time, the best that was found, else the greedy choice, with that said. Money in Decimal.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

SECONDS = 2.0
"""For the search: a kit against a list takes milliseconds, hundreds against each other do not."""
NOTHING = Decimal(0)


@dataclass(frozen=True, slots=True)
class Offer:
    """Something that brings the parts for `covers` all at once for its price. Pieces of one line
    share a `line` and its `count`: no more of them can be taken than there are."""

    line: str
    covers: frozenset[str]
    price: Decimal
    supplier: str = ""
    count: int = 1


@dataclass(frozen=True, slots=True)
class Terms:
    """What a supplier asks beside the goods: carriage, and the least order in goods."""

    carriage: Decimal = NOTHING
    least: Decimal = NOTHING


@dataclass(frozen=True, slots=True)
class Cover:
    """What is taken; what nobody offers; by supplier what is added to reach its least order; all of
    it with carriage; whether it is proven the cheapest."""

    taken: tuple[Offer, ...]
    missing: tuple[str, ...]
    padding: Mapping[str, Decimal] = field(default_factory=dict)
    total: Decimal = NOTHING
    proven: bool = True


def cheapest_cover(
    needed: Sequence[str],
    offers: Sequence[Offer],
    terms: Mapping[str, Terms] | None = None,
    seconds: float = SECONDS,
) -> Cover:
    """The cheapest way to have every part of the list that anybody offers."""
    told = dict(terms or {})
    wanted = list(dict.fromkeys(needed))
    useful = [one for one in offers if one.covers & set(wanted)]
    reached = frozenset().union(*(one.covers for one in useful)) if useful else frozenset()
    missing = tuple(ref for ref in wanted if ref not in reached)
    places = [ref for ref in wanted if ref in reached]
    if not places:
        return Cover((), missing)
    chosen = _solved(places, useful, told, seconds)
    if chosen is None:
        return _priced(_greedy(places, useful), missing, told, proven=False)
    taken, proven = chosen
    return _priced(taken, missing, told, proven)


def _solved(
    places: Sequence[str], offers: Sequence[Offer], terms: Mapping[str, Terms], seconds: float
) -> tuple[list[Offer], bool] | None:
    """The offers taken and whether that is proven; None where nothing was found in time. Variables:
    a choice for each offer, then for each supplier whether it is ordered from and what is added."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    suppliers = sorted({one.supplier for one in offers if one.supplier})
    n, s = len(offers), len(suppliers)
    cost = np.array(
        [float(one.price) for one in offers]
        + [float(_terms(terms, name).carriage) for name in suppliers]
        + [1.0] * s
    )
    rows: list[Floats] = []
    low: list[float] = []
    high: list[float] = []

    def add(row: Floats, least: float, most: float) -> None:
        rows.append(row)
        low.append(least)
        high.append(most)

    for ref in places:
        row = np.zeros(n + 2 * s)
        row[:n] = [float(ref in one.covers) for one in offers]
        add(row, 1.0, np.inf)
    for line in {one.line for one in offers}:
        same = [k for k, one in enumerate(offers) if one.line == line]
        row = np.zeros(n + 2 * s)
        row[same] = 1.0
        add(row, 0.0, float(offers[same[0]].count))
    for number, name in enumerate(suppliers):
        own = [k for k, one in enumerate(offers) if one.supplier == name]
        for k in own:  # nothing without an order
            row = np.zeros(n + 2 * s)
            row[k], row[n + number] = 1.0, -1.0
            add(row, -np.inf, 0.0)
        row = np.zeros(n + 2 * s)
        row[own] = [float(offers[k].price) for k in own]
        row[n + s + number] = 1.0
        row[n + number] = -float(_terms(terms, name).least)
        add(row, 0.0, np.inf)
    found = milp(
        cost,
        integrality=np.array([1] * (n + s) + [0] * s),
        bounds=Bounds(np.zeros(n + 2 * s), np.array([1.0] * (n + s) + [np.inf] * s)),
        constraints=LinearConstraint(np.array(rows), np.array(low), np.array(high)),
        options={"time_limit": seconds},
    )
    if found.x is None:
        return None
    taken = [one for one, share in zip(offers, found.x, strict=False) if share > HALF]
    return taken, bool(found.status == PROVEN)


HALF = 0.5
PROVEN = 0
"""Status of `milp` for an optimum."""


def _greedy(places: Sequence[str], offers: Sequence[Offer]) -> list[Offer]:
    """Always the offer that costs least for each new part."""
    left, taken = set(places), list[Offer]()
    used: dict[str, int] = {}
    while left:
        can = [one for one in offers if one.covers & left and used.get(one.line, 0) < one.count]
        if not can:
            break
        best = min(can, key=lambda one: one.price / len(one.covers & left))
        taken.append(best)
        used[best.line] = used.get(best.line, 0) + 1
        left -= best.covers
    return taken


def _priced(
    taken: Sequence[Offer], missing: tuple[str, ...], terms: Mapping[str, Terms], proven: bool
) -> Cover:
    padding: dict[str, Decimal] = {}
    total = sum((one.price for one in taken), NOTHING)
    for name in sorted({one.supplier for one in taken if one.supplier}):
        goods = sum((one.price for one in taken if one.supplier == name), NOTHING)
        asked = _terms(terms, name)
        padding[name] = max(asked.least - goods, NOTHING)
        total += asked.carriage + padding[name]
    padded = {name: money for name, money in padding.items() if money}
    return Cover(tuple(taken), missing, padded, total, proven)


def _terms(terms: Mapping[str, Terms], name: str) -> Terms:
    return terms.get(name, Terms())
