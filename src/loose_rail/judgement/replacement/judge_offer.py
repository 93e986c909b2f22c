"""A part that is offered for a place: attribute by attribute, what is asked, what stood there, what
is offered, and whether it may stand.

Strict (`Standard.ORIGINAL`): never below the old part nor below the place. The other school
(`Standard.PLACE`): the place decides, a step below the old part is a note; never for safety parts,
and never below what the place asks.
"""

from __future__ import annotations

import math
import re
from enum import StrEnum

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.boards.typical import part_volts
from loose_rail.judgement.replacement.demand import Demand, Place, place_of
from loose_rail.judgement.replacement.electrolytic import (
    NOT_KNOWN,
    Fit,
)
from loose_rail.judgement.replacement.judge_can import judge_can
from loose_rail.judgement.replacement.judged import CLOSE, Judged, OfferCheck, made
from loose_rail.judgement.replacement.offer import Offer, Value, read_offer
from loose_rail.judgement.replacement.rules import UNIT_OF, KindRules, Row, rules_name, rules_of
from loose_rail.kernel.quantities import component_value, engineering

SAME_SHARE = 0.01
RECOVERY = ("standard", "fast", "ultrafast", "schottky")
HOT_TIMES = 2.2
"""On-resistance of a hot high-voltage MOSFET over its cold one [reference 9]."""


class Standard(StrEnum):
    """Which school judges."""

    ORIGINAL = "original"
    PLACE = "place"


def judge_offer(
    board: Board, ref: str, text: str, original: str = "", standard: Standard = Standard.ORIGINAL
) -> Judged:
    """Judge a line for a place; `original` says in the same words what stood there, where the
    profile does not. Raises KeyError for an unknown part, BadEntryError for an empty line."""
    place = place_of(board, ref)
    name = rules_name(place)
    if name == "electrolytic":
        return judge_can(board, place, read_offer(text, "F"), _told(original, "F"))
    rules = rules_of(name)
    if is_a(place.part, Trait.BOARD) and place.part.kind == "load":
        return _board_by_numbers(place, rules, text, original)
    offer = read_offer(text, rules.unit)
    known = _of_profile(place, rules) if board.is_read(ref) else {}
    # what was told never stands against the profile: a wrong part may have been fitted before
    old = {**_told(original, rules.unit), **known}
    checks = []
    for row in rules.rows:
        if row.mains_only and not place.on_mains:
            continue
        found = _check(row, place, old, offer, rules, standard)
        if found is not None:
            checks.append(found)
    if not rules.rows:
        checks.append(_nothing_known(rules))
    worst = max((one.fit for one in checks), key=list(Fit).index, default=Fit.NOTE)
    return Judged(place, rules.title, rules.safety, worst, tuple(checks), offer.left)


def _told(text: str, unit: str) -> dict[str, Value]:
    return dict(read_offer(text, unit).values) if text.strip() else {}


def _of_profile(place: Place, rules: KindRules) -> dict[str, Value]:
    """What the profile says of the part that stood there."""
    part, found = place.part, {}
    params = part.params
    unit = {"F": "farads", "Ω": "ohms", "H": "henries"}.get(rules.unit, "")
    text = params.get("henries", "") if unit == "henries" else part.value
    if unit and text and " " not in text:
        found[unit] = component_value(text)
    if "amps" in params:
        found["amps"] = component_value(params["amps"])
    if "volts" in params and part.kind == "film":
        found["volts_ac" if "volts_ac" in place.demands else "volts"] = part_volts(part)
    if "zener_volts" in params:
        found["volts"] = component_value(params["zener_volts"])
    if "strings" in params:
        found["strings"] = component_value(params["strings"])
    words: dict[str, Value] = {}
    if params.get("junction") in RECOVERY:
        words["junction"] = params["junction"]
    return {**found, **words}


def _check(
    row: Row,
    place: Place,
    old: dict[str, Value],
    offer: Offer,
    rules: KindRules,
    standard: Standard,
) -> OfferCheck | None:
    """One row; None where it asks nothing here."""
    offered, was = offer.values.get(row.attribute), old.get(row.attribute)
    demand = place.demands.get(row.attribute, Demand())
    if row.compare == "recovery":
        return _recovery(row, place, was, offer)
    bounds = _bounds(row, demand, was, place)
    if offered is None:
        asked = row.of != "place" or row.attribute in place.demands
        return _missing(row, was, bounds) if asked else None
    if isinstance(offered, str):
        return _word(row, was, offered)
    low, high = bounds
    of_old = row.compare == "same_as" or (row.compare == "window" and row.of == "original")
    if of_old and not isinstance(was, float):
        fit = Fit.NO if rules.safety and row.missing == "no" else Fit.NOTE
        return made(row, was, offered, fit, "unknown", bounds, NOT_KNOWN)
    if offered < low * (1 - CLOSE):
        below_place = row.of in ("both", "place") and offered < demand.low * (1 - CLOSE)
        trade = standard is Standard.PLACE and not rules.safety and row.of == "both"
        fit = Fit.NOTE if trade and not below_place else Fit.NO
        why = demand.why if below_place else f"the old one has {_shown(was, row.attribute)}"
        return made(row, was, offered, fit, "low", bounds, why)
    if offered > high * (1 + CLOSE):
        return made(row, was, offered, Fit.NO, "high", bounds, _consequence(row, offered, old))
    margin = f"{offered / demand.low:.2f} times what its place asks" if demand.low else ""
    return made(row, was, offered, Fit.OK, "ok", bounds, margin or _consequence(row, offered, old))


def _bounds(row: Row, demand: Demand, was: Value | None, place: Place) -> tuple[float, float]:
    """What a number must lie between."""
    number = was if isinstance(was, float) else None
    if row.compare == "window":
        middle = row.value if row.of == "wanted" else number
        return (row.low * middle, row.high * middle) if middle else (0.0, math.inf)
    if row.compare == "window_of_place":
        return demand.low, demand.high
    if row.compare == "same_as":
        return ((1 - SAME_SHARE) * number, (1 + SAME_SHARE) * number) if number else (0.0, math.inf)
    if row.compare == "at_least":
        asked = [demand.low] if row.of in ("both", "place") else []
        asked += [number] if number is not None and row.of in ("both", "original") else []
        return max(asked, default=0.0), math.inf
    if row.compare == "at_least_limit":
        return row.limit, math.inf
    if row.compare == "at_most":
        return 0.0, _tight(row, place)
    if row.compare == "at_most_times":
        return 0.0, row.times * number if number else math.inf
    return 0.0, math.inf


def _tight(row: Row, place: Place) -> float:
    """The limit of this job: dividers and current sense are tighter than a pull-up."""
    jobs = (limit for job, limit in row.tight.items() if job in place.job.lower())
    return min((row.limit, *jobs))


def _word(row: Row, was: Value | None, offered: str) -> OfferCheck:
    wanted = was if isinstance(was, str) else row.wanted
    if row.compare == "one_of":
        fit = Fit.OK if offered in row.words else Fit.NO
        return made(row, was, offered, fit, "other", wanted=" or ".join(row.words))
    if row.compare == "class":
        order = row.order
        least = max((order.index(one) for one in (wanted, row.wanted) if one in order), default=0)
        rank = order.index(offered) if offered in order else -1
        fit = Fit.OK if rank >= least else Fit.NO
        return made(row, was, offered, fit, "low", wanted=f"{order[least]} or better")
    if row.good and offered == row.good and was in (None, row.good):
        return made(row, was, offered, Fit.OK, "ok", wanted=row.good)
    if not wanted:
        return made(row, was, offered, Fit.NOTE, "unknown", consequence=NOT_KNOWN)
    fit = Fit.OK if offered.lower() == wanted.lower() else Fit.NO
    return made(row, was, offered, fit, "other", wanted=wanted)


def _missing(row: Row, was: Value | None, bounds: tuple[float, float]) -> OfferCheck | None:
    """An attribute that the offer does not give."""
    if not row.missing:
        return None
    fit = Fit.NO if row.missing == "no" else Fit.NOTE
    wanted = was if isinstance(was, str) else row.wanted
    return made(
        row,
        was,
        None,
        fit,
        "not_given",
        bounds=bounds,
        consequence="not given: find it before it is fitted",
        wanted=wanted,
    )


def _recovery(row: Row, place: Place, was: Value | None, offer: Offer) -> OfferCheck:
    """How quickly a rectifier lets go."""
    offered = offer.word("junction")
    seconds = offer.number("recovery")
    needed = "fast"
    if "bypass" in place.job.lower() or "bridge" in place.job.lower():
        needed = "standard"
    if "boost" in place.job.lower() and needed == "fast":
        needed = "ultrafast"
    if isinstance(was, str) and was in RECOVERY:
        needed = max(needed, was, key=RECOVERY.index)
    if not offered and seconds is None:
        return made(row, was, None, Fit.NO, "not_given", wanted=f"{needed} or quicker")
    if not offered and seconds is not None:
        offered = "ultrafast" if seconds <= 75e-9 else "fast" if seconds <= 500e-9 else "standard"
    rank = RECOVERY.index(offered) if offered in RECOVERY else -1
    if rank >= RECOVERY.index(needed):
        return made(row, was, offered, Fit.OK, "ok", wanted=f"{needed} or quicker")
    hotter = "half as much again of heat: 0.9 V in place of 0.5 V" if needed == "schottky" else ""
    wanted = f"{needed} or quicker"
    return made(row, was, offered, Fit.NO, "slow", consequence=hotter, wanted=wanted)


def _shown(value: Value | None, attribute: str) -> str:
    if isinstance(value, float):
        return engineering(value, UNIT_OF.get(attribute, ""))
    return value or "not known"


def _consequence(row: Row, offered: float, old: dict[str, Value]) -> str:
    """What a number means here, worked out."""
    was = old.get(row.attribute)
    if row.attribute == "ohms_on" and isinstance(was, float) and was:
        return f"conduction loss {offered / was:.1f} times, hot {HOT_TIMES * offered:.2g} Ω"
    if isinstance(was, float) and was:
        return f"{offered / was:.2f} times the old one"
    return ""


def _nothing_known(rules: KindRules) -> OfferCheck:
    row = Row("type", "same_as", "rules", f"there are no rules for a {rules.title}: same type only")
    return made(row, None, None, Fit.NOTE, "none")


_NUMBER = re.compile(r"(?:number=)?([A-Z0-9][A-Z0-9./-]*)", re.IGNORECASE)


def _numbers(text: str) -> tuple[list[str], list[str]]:
    """Numbers of a board in a line, in capitals, and the words that are none."""
    found = {word: _NUMBER.fullmatch(word) for word in text.split()}
    good = [m[1].upper() for word, m in found.items() if m and any(c.isdigit() for c in word)]
    return good, [word for word in found if not any(c.isdigit() for c in word)]


def _board_by_numbers(place: Place, rules: KindRules, text: str, original: str) -> Judged:
    """A board goes by its numbers: each that stands on the old one has to stand on the other."""
    row = rules.rows[0]
    offered, left = _numbers(read_offer(text, rules.unit).text)
    known = [place.part.value] if place.part.value else []
    wanted = list(dict.fromkeys([one.upper() for one in known] + _numbers(original)[0]))
    checks = []
    for number in wanted:
        stem = number.rpartition("-")[0]
        near = next((one for one in offered if stem and one.rpartition("-")[0] == stem), None)
        same = number if number in offered else near
        fit, ending = (Fit.OK, "ok") if number in offered else (Fit.NO, "other")
        words = "another revision" if near and fit is Fit.NO else ""
        if same is None:
            ending, words = "not_given", "not among the numbers of this one"
        checks.append(made(row, number, same, fit, ending, consequence=words, wanted=number))
    if not wanted:
        checks.append(
            made(row, None, " ".join(offered), Fit.NOTE, "unknown", consequence=NOT_KNOWN)
        )
    worst = max((one.fit for one in checks), key=list(Fit).index)
    return Judged(place, rules.title, rules.safety, worst, tuple(checks), tuple(left))
