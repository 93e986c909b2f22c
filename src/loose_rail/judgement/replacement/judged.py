"""The verdict on an offer, attribute by attribute."""

from __future__ import annotations

import math
from dataclasses import dataclass

from loose_rail.judgement.replacement.demand import Place
from loose_rail.judgement.replacement.electrolytic import Fit
from loose_rail.judgement.replacement.offer import Value
from loose_rail.judgement.replacement.rules import UNIT_OF, Row

CLOSE = 1e-6
"""Of a number: what rounding leaves between two that are the same."""


@dataclass(frozen=True, slots=True)
class OfferCheck:
    """One attribute: `low` and `high` bound what is allowed; words where it has no number."""

    attribute: str
    unit: str
    low: float
    high: float
    wanted: str
    original: Value | None
    offered: Value | None
    fit: Fit
    code: str
    reason: str
    consequence: str = ""


@dataclass(frozen=True, slots=True)
class Judged:
    """The verdict on an offer."""

    place: Place
    kind: str
    safety: bool
    fit: Fit
    checks: tuple[OfferCheck, ...]
    left: tuple[str, ...]

    @property
    def codes(self) -> list[str]:
        """What speaks against it, the worst first."""
        odd = [one for one in self.checks if one.fit is not Fit.OK]
        return [one.code for one in sorted(odd, key=lambda one: -list(Fit).index(one.fit))]


def made(
    row: Row,
    was: Value | None,
    offered: Value | None,
    fit: Fit,
    ending: str,
    bounds: tuple[float, float] = (0.0, math.inf),
    consequence: str = "",
    wanted: str = "",
) -> OfferCheck:
    """A check of a row of the rules."""
    return OfferCheck(
        attribute=row.attribute,
        unit=UNIT_OF.get(row.attribute, ""),
        low=bounds[0],
        high=bounds[1],
        wanted=wanted,
        original=was,
        offered=offered,
        fit=fit,
        code=f"{row.code}_{ending}",
        reason=row.reason,
        consequence=consequence,
    )
