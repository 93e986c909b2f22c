"""A part that is offered for a place: attribute by attribute, what is asked, what stood there, what
is offered, and whether it may stand.

Strict (`Standard.ORIGINAL`): never below the old part nor below the place. The other school
(`Standard.PLACE`): the place decides, a step below the old part is a note; never for safety parts,
and never below what the place asks.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from enum import StrEnum

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.boards.typical import fresh_esr_ohms, part_volts
from loose_rail.judgement.replacement.demand import Demand, Place, place_of
from loose_rail.judgement.replacement.electrolytic import (
    Candidate,
    Fit,
    check_replacement,
    original_of,
)
from loose_rail.judgement.replacement.offer import Offer, Value, read_offer
from loose_rail.judgement.replacement.rules import UNIT_OF, KindRules, Row, rules_name, rules_of
from loose_rail.kernel.quantities import component_value, engineering

CLOSE = 1e-6
SAME_SHARE = 0.01
RECOVERY = ("standard", "fast", "ultrafast", "schottky")
HOT_TIMES = 2.2
"""On-resistance of a hot high-voltage MOSFET over its cold one [reference 9]."""
SERIES = {"low-esr": "LZ", "polymer": "PO", "general": "GP"}
USUAL_CAN_CELSIUS, CLASS_HOURS = 70.0, 2000.0
"""In a closed set [E]; the shortest endurance that data sheets name [P]."""


class Standard(StrEnum):
    """Which school judges."""

    ORIGINAL = "original"
    PLACE = "place"


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


def judge_offer(
    board: Board, ref: str, text: str, original: str = "", standard: Standard = Standard.ORIGINAL
) -> Judged:
    """Judge a line for a place; `original` says in the same words what stood there, where the
    profile does not. Raises KeyError for an unknown part, BadEntryError for an empty line."""
    place = place_of(board, ref)
    name = rules_name(place)
    if name == "electrolytic":
        return _electrolytic(board, place, read_offer(text, "F"))
    rules = rules_of(name)
    if is_a(place.part, Trait.BOARD) and place.part.kind == "load":
        return _board_by_numbers(place, rules, text, original)
    offer = read_offer(text, rules.unit)
    old = {**_of_profile(place, rules), **_told(original, rules.unit)}
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
    if row.compare == "same_as" and not isinstance(was, float):
        return _made(row, was, offered, Fit.NOTE, "unknown", bounds, NOT_KNOWN)
    if offered < low * (1 - CLOSE):
        below_place = row.of in ("both", "place") and offered < demand.low * (1 - CLOSE)
        trade = standard is Standard.PLACE and not rules.safety and row.of == "both"
        fit = Fit.NOTE if trade and not below_place else Fit.NO
        why = demand.why if below_place else f"the old one has {_shown(was, row.attribute)}"
        return _made(row, was, offered, fit, "low", bounds, why)
    if offered > high * (1 + CLOSE):
        return _made(row, was, offered, Fit.NO, "high", bounds, _consequence(row, offered, old))
    margin = f"{offered / demand.low:.2f} times what its place asks" if demand.low else ""
    return _made(row, was, offered, Fit.OK, "ok", bounds, margin or _consequence(row, offered, old))


NOT_KNOWN = "what stood there is not known: read it off the old part"


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
        return _made(row, was, offered, fit, "other", wanted=" or ".join(row.words))
    if row.compare == "class":
        order = row.order
        least = max((order.index(one) for one in (wanted, row.wanted) if one in order), default=0)
        rank = order.index(offered) if offered in order else -1
        fit = Fit.OK if rank >= least else Fit.NO
        return _made(row, was, offered, fit, "low", wanted=f"{order[least]} or better")
    if row.good and offered == row.good and was in (None, row.good):
        return _made(row, was, offered, Fit.OK, "ok", wanted=row.good)
    if not wanted:
        return _made(row, was, offered, Fit.NOTE, "unknown", consequence=NOT_KNOWN)
    fit = Fit.OK if offered.lower() == wanted.lower() else Fit.NO
    return _made(row, was, offered, fit, "other", wanted=wanted)


def _missing(row: Row, was: Value | None, bounds: tuple[float, float]) -> OfferCheck | None:
    """An attribute that the offer does not give."""
    if not row.missing:
        return None
    fit = Fit.NO if row.missing == "no" else Fit.NOTE
    wanted = was if isinstance(was, str) else row.wanted
    return _made(
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
        return _made(row, was, None, Fit.NO, "not_given", wanted=f"{needed} or quicker")
    if not offered and seconds is not None:
        offered = "ultrafast" if seconds <= 75e-9 else "fast" if seconds <= 500e-9 else "standard"
    rank = RECOVERY.index(offered) if offered in RECOVERY else -1
    if rank >= RECOVERY.index(needed):
        return _made(row, was, offered, Fit.OK, "ok", wanted=f"{needed} or quicker")
    hotter = "half as much again of heat: 0.9 V in place of 0.5 V" if needed == "schottky" else ""
    wanted = f"{needed} or quicker"
    return _made(row, was, offered, Fit.NO, "slow", consequence=hotter, wanted=wanted)


def _made(
    row: Row,
    was: Value | None,
    offered: Value | None,
    fit: Fit,
    ending: str,
    bounds: tuple[float, float] = (0.0, math.inf),
    consequence: str = "",
    wanted: str = "",
) -> OfferCheck:
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
    return _made(row, None, None, Fit.NOTE, "none")


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
        checks.append(_made(row, number, same, fit, ending, consequence=words, wanted=number))
    if not wanted:
        checks.append(
            _made(row, None, " ".join(offered), Fit.NOTE, "unknown", consequence=NOT_KNOWN)
        )
    worst = max((one.fit for one in checks), key=list(Fit).index)
    return Judged(place, rules.title, rules.safety, worst, tuple(checks), tuple(left))


def _electrolytic(board: Board, place: Place, offer: Offer) -> Judged:
    """An electrolytic goes by the windows of its role; what is not given is named."""
    part = place.part
    old = original_of(part)
    farads, volts = offer.number("farads"), offer.number("volts")
    celsius, series = offer.number("celsius"), SERIES.get(offer.word("series"), "")
    esr = offer.number("esr")
    if esr is None and series and farads and volts:
        esr = fresh_esr_ohms(farads, volts, series)
    nan = math.nan
    new = Candidate(
        name=offer.text,
        farads=farads or nan,
        volts=volts or nan,
        celsius=celsius or nan,
        esr_ohms=nan if esr is None else esr,
        diameter_mm=offer.number("diameter") or nan,
        height_mm=offer.number("height") or nan,
        pitch_mm=offer.number("pitch") or nan,
    )
    checks = [_kind_of_can(offer)] if offer.word("body") not in ("", "electrolytic") else []
    for one in check_replacement(board, part.ref, new).checks:
        if math.isnan(one.candidate):
            checks.append(_can_missing(one.name, one.unit, one.low, one.high, one.original))
            continue
        ending = _ending(one.candidate, one.low, one.high, one.fit)
        code = f"{CAN_CODES[one.name]}_{ending}"
        checks.append(
            OfferCheck(
                attribute=one.name,
                unit=one.unit,
                low=one.low,
                high=one.high,
                wanted="",
                original=one.original,
                offered=one.candidate,
                fit=one.fit,
                code=code,
                reason=one.words,
                consequence=_can_words(one.name, new, old, place),
            )
        )
    worst = max((one.fit for one in checks), key=list(Fit).index, default=Fit.OK)
    return Judged(place, "electrolytic capacitor", False, worst, tuple(checks), offer.left)


CAN_CODES = {
    **{"capacitance": "value", "voltage": "volts", "temperature": "temperature", "ESR": "esr"},
    **{"diameter": "size", "height": "size", "lead pitch": "pitch"},
}
NEEDED_OF_CAN = ("capacitance", "voltage")


def _ending(value: float, low: float, high: float, fit: Fit) -> str:
    if fit is Fit.OK:
        return "ok"
    return "low" if value < low * (1 - CLOSE) else "high" if value > high else "note"


def _kind_of_can(offer: Offer) -> OfferCheck:
    row = Row("body", "one_of", "kind", "another kind of capacitor changes the loop and the ripple")
    fit = Fit.NOTE if offer.word("body") == "tantalum" else Fit.NO
    return _made(row, "electrolytic", offer.word("body"), fit, "other", wanted="electrolytic")


def _can_missing(name: str, unit: str, low: float, high: float, original: float) -> OfferCheck:
    fit = Fit.NO if name in NEEDED_OF_CAN else Fit.NOTE
    return OfferCheck(
        attribute=name,
        unit=unit,
        low=low,
        high=high,
        wanted="",
        original=original,
        offered=None,
        fit=fit,
        code=f"{CAN_CODES[name]}_not_given",
        reason="not given: find it before it is fitted",
    )


def _can_words(name: str, new: Candidate, old: Candidate, place: Place) -> str:
    """What an attribute of a can comes to, worked out."""
    if name == "voltage" and "volts" in place.demands:
        return place.demands["volts"].why
    if name == "temperature" and not math.isnan(new.celsius):
        hours = CLASS_HOURS * 2.0 ** ((new.celsius - USUAL_CAN_CELSIUS) / 10.0)
        return f"about {hours / 1000:.0f} thousand hours at {USUAL_CAN_CELSIUS:.0f} °C in the can"
    if name == "ESR" and not math.isnan(new.esr_ohms):
        return f"ripple volts and heat {new.esr_ohms / old.esr_ohms:.1f} times those of a fresh one"
    return ""
