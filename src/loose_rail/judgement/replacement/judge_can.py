"""An electrolytic that is offered: by the windows of its role, beside what stood there."""

from __future__ import annotations

import math
from dataclasses import replace

from loose_rail.boards.profile import Board
from loose_rail.boards.typical import fresh_esr_ohms
from loose_rail.judgement.replacement.demand import Place
from loose_rail.judgement.replacement.electrolytic import (
    Candidate,
    Fit,
    check_replacement,
    standing_at,
)
from loose_rail.judgement.replacement.judged import CLOSE, Judged, OfferCheck, made
from loose_rail.judgement.replacement.offer import Offer, Value
from loose_rail.judgement.replacement.rules import Row

SERIES = {"low-esr": "LZ", "polymer": "PO", "general": "GP"}
USUAL_CAN_CELSIUS, CLASS_HOURS = 70.0, 2000.0
"""In a closed set [E]; the shortest endurance that data sheets name [P]."""


def judge_can(board: Board, place: Place, offer: Offer, told: dict[str, Value]) -> Judged:
    """An electrolytic goes by the windows of its role; what is not given is named, `told` is what
    is said of the old one."""
    part = place.part
    old = _told_can(standing_at(board, part.ref), told)
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
    for one in check_replacement(board, part.ref, new, old).checks:
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


def _told_can(known: Candidate, told: dict[str, Value]) -> Candidate:
    """What stood there: by what was typed of it where nothing else is known. It never stands
    against the profile: a wrong part may have been fitted before."""
    if not math.isnan(known.farads):
        return known
    nan = math.nan
    number = {name: value for name, value in told.items() if isinstance(value, float)}
    farads, volts = number.get("farads", nan), number.get("volts", nan)
    series = SERIES.get(str(told.get("series", "")), SERIES["low-esr"])
    fresh = nan if math.isnan(farads * volts) else fresh_esr_ohms(farads, volts, series)
    return replace(
        known,
        farads=farads,
        volts=volts,
        celsius=number.get("celsius", nan),
        esr_ohms=number.get("esr", fresh),
        diameter_mm=number.get("diameter", nan),
        height_mm=number.get("height", nan),
        pitch_mm=number.get("pitch", nan),
    )


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
    return made(row, "electrolytic", offer.word("body"), fit, "other", wanted="electrolytic")


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
    if name == "ESR" and not math.isnan(new.esr_ohms) and not math.isnan(old.esr_ohms):
        return f"ripple volts and heat {new.esr_ohms / old.esr_ohms:.1f} times those of a fresh one"
    return ""
