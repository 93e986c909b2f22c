"""A calculator: named inputs in SI units, results with their units, the formula and its source."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.quantities import parse_quantity

Given = Mapping[str, float]
"""Inputs by key, in SI units."""


@dataclass(frozen=True, slots=True)
class Input:
    """An input: what it is called, its unit, what it is at first, and what makes sense."""

    key: str
    title: str
    unit: str
    usual: float
    low: float = 0.0
    high: float = math.inf


@dataclass(frozen=True, slots=True)
class Result:
    """A result in SI units; `note` says what it means."""

    title: str
    value: float
    unit: str
    note: str = ""


@dataclass(frozen=True, slots=True)
class Calculator:
    """`work` gives the results for inputs; the drawing shows result `drawn` against the input
    `along`, from `reach` below to `reach` times above what it is."""

    key: str
    title: str
    inputs: tuple[Input, ...]
    work: Callable[[Given], tuple[Result, ...]]
    formula: str
    source: str
    along: str
    drawn: int = 0
    reach: float = 4.0
    caution: str = ""

    def usual(self) -> dict[str, float]:
        """What the inputs are at first."""
        return {one.key: one.usual for one in self.inputs}

    def results(self, given: Given) -> tuple[Result, ...]:
        """The results. Raises BadEntryError for an input that makes no sense."""
        for one in self.inputs:
            if not one.low <= given[one.key] <= one.high or math.isnan(given[one.key]):
                raise BadEntryError(
                    f"{one.title}: {given[one.key]:g} {one.unit} makes no sense here.",
                    f"Between {one.low:g} and {one.high:g} {one.unit}.".rstrip(),
                )
        try:
            return self.work(given)
        except (ValueError, ZeroDivisionError, OverflowError) as error:
            raise BadEntryError(
                "These inputs do not go together.", f"Change one of them ({error})."
            ) from error

    def curve(self, given: Given, points: int = 120) -> tuple[list[float], list[float]]:
        """The drawn result along one input; where it can't be worked out there is a gap."""
        one = next(item for item in self.inputs if item.key == self.along)
        middle = given[self.along] or one.usual
        low = max(middle / self.reach, one.low)
        high = min(middle * self.reach, one.high)
        found: tuple[list[float], list[float]] = ([], [])
        for number in range(points + 1):
            x = low * (high / low) ** (number / points) if low > 0 else high * number / points
            try:
                y = self.results({**given, self.along: x})[self.drawn].value
            except BadEntryError:
                y = math.nan
            found[0].append(x)
            found[1].append(y)
        return found


def read_input(one: Input, text: str) -> float:
    """A typed input in SI units. Raises BadEntryError with a form that works."""
    found = parse_quantity(text)
    if found is None or found.unit not in ("", one.unit):
        form = f"{one.usual:g} {one.unit}".strip()
        raise BadEntryError(f"“{text}” is no {one.title.lower()}.", f"Type it such as {form}.")
    return found.value
