"""Judging a replacement electrolytic against the part it replaces, by the job that part does.

For each attribute: the allowed window, the original, the candidate, a verdict and the consequence
in words. OK, OK with a note, or NO with the attribute named; nothing is rounded in its favour.
Source: electrical reference section 9; windows in data/electrolytic_roles.json.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import cache

import msgspec

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board, Component
from loose_rail.boards.typical import part_esr_ohms, part_volts
from loose_rail.boards.worst_volts import least_rating, worst_volts
from loose_rail.kernel.quantities import component_value, engineering
from loose_rail.kernel.tables import shipped_table


class Fit(StrEnum):
    """How an attribute, or the whole candidate, comes out."""

    OK = "ok"
    NOTE = "note"
    NO = "no"


NOT_KNOWN = "what stood there is not known: read it off the old part, type it after “was”"


@dataclass(frozen=True, slots=True)
class Candidate:
    """A capacitor that might be fitted: SI units, millimetres, degrees Celsius."""

    name: str
    farads: float
    volts: float
    celsius: float
    esr_ohms: float
    diameter_mm: float
    height_mm: float
    pitch_mm: float


@dataclass(frozen=True, slots=True)
class AttributeCheck:
    """One attribute on its number line; `low` and `high` bound the allowed window (may be inf)."""

    name: str
    unit: str
    low: float
    high: float
    original: float
    candidate: float
    fit: Fit
    words: str


@dataclass(frozen=True, slots=True)
class ReplacementCheck:
    """The verdict on a candidate with all its attributes."""

    fit: Fit
    role: str
    why: str
    checks: tuple[AttributeCheck, ...]

    @property
    def notes(self) -> list[str]:
        """What the record keeps: every note and refusal."""
        return [f"{check.name}: {check.words}" for check in self.checks if check.fit is not Fit.OK]


class _Rule(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Windows of a place as times of the original; `esr_times` is the most ESR."""

    title: str
    capacitance: tuple[float, float]
    voltage: tuple[float, float]
    esr_times: float
    why: str


class _Rules(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    source: str
    roles: dict[str, _Rule]
    esr_scatter: float
    pitch_tolerance_mm: float
    size_slack_mm: float
    too_low_esr_share: float
    least_celsius: float


@cache
def _rules() -> _Rules:
    return shipped_table("judgement", "electrolytic_roles", _Rules)


def original_of(part: Component) -> Candidate:
    """The part on the board as a candidate, fresh; its size is NaN where the profile has none.

    Raises ValueError for a part that is no electrolytic.
    """
    if not is_a(part, Trait.ELECTROLYTIC):
        raise ValueError(f"{part.ref} is no electrolytic capacitor")
    sizes = ("diameter_mm", "height_mm", "pitch_mm")
    number = {key: float(part.params.get(key, "nan")) for key in sizes}
    return Candidate(
        name=f"as {part.ref} was",
        farads=component_value(part.value),
        volts=part_volts(part),
        celsius=float(part.params.get("celsius", "105")),
        esr_ohms=part_esr_ohms(part),
        diameter_mm=number["diameter_mm"],
        height_mm=number["height_mm"],
        pitch_mm=number["pitch_mm"],
    )


def standing_at(board: Board, ref: str) -> Candidate:
    """What stands at a place as far as it is known: on a composed board every number of a part that
    nobody read is NaN. Raises as `original_of`."""
    known = original_of(board.component(ref))
    if board.is_read(ref):
        return known
    return Candidate(
        name=f"as {ref} was",
        farads=math.nan,
        volts=math.nan,
        celsius=math.nan,
        esr_ohms=math.nan,
        diameter_mm=math.nan,
        height_mm=math.nan,
        pitch_mm=math.nan,
    )


def role_of(board: Board, ref: str) -> str:
    """The role whose rules apply to a part."""
    for role, refs in board.roles.items():
        if ref in refs and role in _rules().roles:
            return role
    return "default"


def check_replacement(
    board: Board, ref: str, candidate: Candidate, original: Candidate | None = None
) -> ReplacementCheck:
    """Judge a candidate for a place on the board, where `original` stood if that was said. Raises
    as `original_of`.

    Where the size of the old part is not known the size is not judged; what else is not known of
    it is said.
    """
    original = original or standing_at(board, ref)
    usual = original_of(board.component(ref)).esr_ohms
    rules = _rules()
    rule = rules.roles[role_of(board, ref)]
    checks: tuple[AttributeCheck, ...] = (
        _capacitance(rule, original, candidate),
        _voltage(rule, original, candidate, _Place.of(board, ref)),
        _temperature(rules, original, candidate),
        _esr(rules, rule, original, candidate, usual),
    )
    if not math.isnan(original.diameter_mm) and not math.isnan(candidate.diameter_mm):
        checks = (
            *checks,
            _size("diameter", original.diameter_mm, candidate.diameter_mm, rules),
            _size("height", original.height_mm, candidate.height_mm, rules),
            _pitch(rules, original, candidate),
        )
    worst = max(checks, key=lambda check: list(Fit).index(check.fit)).fit
    return ReplacementCheck(worst, rule.title, rule.why, checks)


def _capacitance(rule: _Rule, original: Candidate, new: Candidate) -> AttributeCheck:
    low, high = (share * original.farads for share in rule.capacitance)
    times = new.farads / original.farads
    if math.isnan(original.farads):
        low, high = 0.0, math.inf
        fit, words = Fit.NOTE, NOT_KNOWN
    elif times < rule.capacitance[0] - 1e-9:
        fit, words = Fit.NO, f"too small for a {rule.title} place: more ripple"
    elif times > rule.capacitance[1] + 1e-9:
        fit, words = Fit.NO, "too large: slow start, strained converter"
    elif times > 1.5:
        fit, words = Fit.NOTE, "within the window; the start takes longer"
    else:
        fit, words = Fit.OK, "within the window of its place"
    return AttributeCheck(
        name="capacitance",
        unit="F",
        low=low,
        high=high,
        original=original.farads,
        candidate=new.farads,
        fit=fit,
        words=words,
    )


@dataclass(frozen=True, slots=True)
class _Place:
    """What the place itself asks for, whatever stood there: highest volts and least rating."""

    worst_volts: float
    least_volts: float

    @classmethod
    def of(cls, board: Board, ref: str) -> _Place:
        return cls(worst_volts(board, ref) or 0.0, least_rating(board, ref) or 0.0)


def _voltage(rule: _Rule, original: Candidate, new: Candidate, place: _Place) -> AttributeCheck:
    """Never below the old part, and never below what the place asks for: the old one may have been
    too low itself."""
    known = not math.isnan(original.volts)
    low, high = (share * original.volts for share in rule.voltage) if known else (0.0, math.inf)
    low = max(low, place.least_volts)
    high = max(high, low)
    if new.volts < place.least_volts - 1e-9:
        worst, least = (engineering(v, "V") for v in (place.worst_volts, place.least_volts))
        fit, words = Fit.NO, f"this place can reach {worst}: {least} or more, whatever stood there"
    elif new.volts < low - 1e-9:
        fit, words = Fit.NO, "never lower than the original"
    elif new.volts > high + 1e-9:
        fit, words = Fit.NOTE, "higher than useful: check size and ESR"
    elif not known:
        fit, words = Fit.OK, f"enough for its place; {NOT_KNOWN}"
    elif original.volts < place.least_volts - 1e-9:
        fit, words = Fit.OK, "enough for its place; the original was too low"
    else:
        fit, words = Fit.OK, "same or higher: allowed"
    return AttributeCheck(
        name="voltage",
        unit="V",
        low=low,
        high=high,
        original=original.volts,
        candidate=new.volts,
        fit=fit,
        words=words,
    )


def _temperature(rules: _Rules, original: Candidate, new: Candidate) -> AttributeCheck:
    known = not math.isnan(original.celsius)
    low = original.celsius if known else 0.0
    if new.celsius < original.celsius:
        fit, words = Fit.NO, "lower temperature class: halves the life for every 10 K"
    elif new.celsius < rules.least_celsius:
        same = "as the original" if known else NOT_KNOWN
        fit, words = Fit.NOTE, f"{same}; 105 °C would last about four times as long"
    else:
        fit, words = Fit.OK, "temperature class kept"
    return AttributeCheck(
        name="temperature",
        unit="°C",
        low=low,
        high=math.inf,
        original=original.celsius,
        candidate=new.celsius,
        fit=fit,
        words=words,
    )


def _esr(
    rules: _Rules, rule: _Rule, original: Candidate, new: Candidate, typical: float
) -> AttributeCheck:
    fresh = typical if math.isnan(original.esr_ohms) else original.esr_ohms
    usual = rule.esr_times * fresh
    high = usual * rules.esr_scatter
    shown = engineering(usual, "Ω", 2)
    if new.esr_ohms > high:
        fit, words = Fit.NO, f"not low-impedance: fresh ones here read about {shown}"
    elif new.esr_ohms > usual * 1.2:
        fit, words = Fit.NOTE, f"usable, above the usual {shown}: measure before fitting"
    elif new.esr_ohms < rules.too_low_esr_share * fresh:
        fit, words = Fit.NOTE, "very low (polymer?): check the rail for ringing"
    else:
        fit, words = Fit.OK, "low-impedance, as switching outputs need"
    return AttributeCheck(
        name="ESR",
        unit="Ω",
        low=0.0,
        high=high,
        original=original.esr_ohms,
        candidate=new.esr_ohms,
        fit=fit,
        words=words,
    )


def _size(name: str, old: float, new: float, rules: _Rules) -> AttributeCheck:
    slack = rules.size_slack_mm
    if new <= old + slack:
        fit, words = Fit.OK, "fits"
    elif new <= old * 1.25:
        fit, words = Fit.NOTE, "larger: check the neighbours and the lid"
    else:
        fit, words = Fit.NO, "too large for the place"
    return AttributeCheck(
        name=name,
        unit="mm",
        low=0.0,
        high=old + slack,
        original=old,
        candidate=new,
        fit=fit,
        words=words,
    )


def _pitch(rules: _Rules, original: Candidate, new: Candidate) -> AttributeCheck:
    slack = rules.pitch_tolerance_mm
    old = original.pitch_mm
    if abs(new.pitch_mm - old) <= slack:
        fit, words = Fit.OK, "fits the holes"
    else:
        fit, words = Fit.NOTE, "leads must be formed: no strain on the seal"
    return AttributeCheck(
        name="lead pitch",
        unit="mm",
        low=old - slack,
        high=old + slack,
        original=old,
        candidate=new.pitch_mm,
        fit=fit,
        words=words,
    )
