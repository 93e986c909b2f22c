"""A part measured by itself, out of the board: what its kind shows when it is sound."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from loose_rail.app.job_file.log.against_its_print import kept_farads, print_told, told_ohms
from loose_rail.app.job_file.log.freed_rail import AT_THE_PLACE, of_the_rail
from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.job_file.log.outcomes import measured
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.spread import RESISTORS
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.board_state import UNPLUGGED

SHORT_ALONE_OHMS = 10.0
CONTACT_OHMS = 1.0
"""Of a relay's closed contact: a sound one has a tenth of it [P]."""
CONDUCTS_OHMS = {"fuse": 5.0, "ntc": 60.0, "common_mode_choke": 20.0, "inductor": 20.0}
"""What carries current by itself reads at most this when it is whole [P]."""
WOUND = ("transformer", "relay", "connector")
"""Low ohms are right there and clear little: shorted turns show in none."""
BLOCKS = ("surge_suppressor", "electrolytic", "film", "ceramic", "y_capacitor")
"""What blocks by itself: open on ohms is as it should be."""
OPEN_WHEN_OFF = ("mosfet_n", "mosfet_p", "mosfet_dual", "igbt", "npn", "pnp", "optocoupler")
"""Silicon that nothing drives: open between its main ends is as it should be."""
OPTO_LED_VOLTS = (0.8, 1.5)
"""Forward volts of a coupler's diode [P]."""
LEAKY_ALONE_OHMS, LEAKY_SILICON_OHMS = 5e3, 1e6
"""A diode by itself that reads less backward leaks: a Schottky, and any other [P]."""


_IN_THE_HAND = re.compile(
    r"\bshort\w*\b.*\b(in (the|my) hand|by (it|them)sel(f|ves)|out of (the )?(board|circuit)|"
    r"on its own)",
    re.IGNORECASE,
)


def _of_this_part(teller: Teller, part: str, result: str) -> list[str]:
    """The clauses of a result but for those that speak of another part of the same board: “short
    by itself; gate resistor reads open”."""
    kept = []
    for clause in re.split(r";|\.(?= )|, (?=[a-z])", result):
        named = teller.parts(clause) if _NAMES_ONE.search(clause) else []
        if _OF_THE_OTHER.search(clause):
            continue
        if not named or part in named:
            kept.append(clause)
    return kept or [result]


_OF_THE_OTHER = re.compile(
    r"\b(on|in|at) the other( one)?\b(?! (side|end|half|leg))", re.IGNORECASE
)
REFERENCE_VOLTS = (2.35, 2.65)
"""Where a sound shunt regulator of the usual kind begins to conduct: 2.5 V within its tolerance and
the bench supply's [P]."""
_CONDUCTS_FROM = re.compile(
    r"\b(?:conducts|begins|starts|regulates|turns on)\b[^\d]{0,12}(\d+(?:[.,]\d+)?) ?v\b", re.I
)
_DEAD_WHEN_DRIVEN = re.compile(
    r"does nothing with|(doesn't|does not) (conduct|switch|follow|react)|no reaction (to|with)|"
    r"never (conducts|switches)",
    re.IGNORECASE,
)
_NAMES_ONE = re.compile(
    r"\b(resistor|capacitor|cap|diode|rectifier|switch|mosfet|fet|transistor|fuse|bridge|coupler|"
    r"optocoupler|choke|transformer|suppressor|varistor|controller|chip)\b",
    re.IGNORECASE,
)
_VERDICT_FIRST = re.compile(
    r"\s*(it )?((is|was|measures?|measured|reads?|tests?|tested) )?(not |un)?"
    r"(good|ok|okay|fine|sound|bad|faulty|shorted|leaky|dead)\b(?=[:,;.]|$)",
    re.IGNORECASE,
)


def how_it_measured(teller: Teller, part: str, what: str, result: str) -> bool | None:
    """Whether a part that was taken out, or of which a leg was lifted, measured good by itself;
    None where that is not told."""
    clauses = _of_this_part(teller, part, result)
    rail = [] if _IN_THE_HAND.search(result) else [c for c in clauses if of_the_rail(c) is not None]
    own = "; ".join(one for one in clauses if one not in rail)
    if own and not rail and not _IN_THE_HAND.search(result) and AT_THE_PLACE.search(result):
        return of_the_rail(result)  # “no difference, 1.2 ohm on the rail”: both clauses are one
    good = _by_itself(teller, part, what, own) if own.strip() else None
    return good if good is not None or not rail else of_the_rail(rail[-1])


def _by_itself(teller: Teller, part: str, what: str, result: str) -> bool | None:
    """Whether the part is good by what is told of itself alone."""
    words = f"{print_told('', what)} {what} {result}"
    kind = teller.board.component(part).kind
    if _DEAD_WHEN_DRIVEN.search(result):
        return False
    if kind == "optocoupler" and _LED_OPEN.search(result):
        return False
    begins = _CONDUCTS_FROM.search(result) if kind == "shunt_reference" else None
    if begins is not None:
        low, high = REFERENCE_VOLTS
        return low < float(begins[1].replace(",", ".")) < high
    blocks = kind in (*BLOCKS, *OPEN_WHEN_OFF)
    if kind in ("bridge", "diode") and (across := _junction(result)) is not None:
        return across
    plain = re.sub(r"(?<!led )\b(reads? )?open\b", " ", result, flags=re.I) if blocks else result
    said = measured(plain)
    head = _VERDICT_FIRST.match(plain)
    if head is not None:
        return measured(head[0])  # “good: 21.6 uF, 0.7 ohm”: whoever measured it has judged
    if said is not None and not re.search(r"\d", plain):
        return said
    mode = _setting(result.lower())
    value = None
    if re.search(r"\d|\bol\b|open", result, re.IGNORECASE):
        value = human_value(result, mode, result)
    good = None if value is None else alone_good(teller, [part], value.observation, words, mode)
    if good is None and value is not None and kind in RESISTORS:
        marked = teller.markings.get(part)
        good = None if marked is None else 0.9 < value.observation.centre / marked < 1.1
    if good is None and kind == "electrolytic":
        good = _by_its_esr(teller, part, result)
    return said if good is None else good


_LED_OPEN = re.compile(
    r"\bled(?:'s)?(?: side| half| end| diode)?\b[^,;.]{0,14}\b(?:open|ol|dead|no (?:drop|volts))\b",
    re.IGNORECASE,
)
_OHMS = re.compile(r"(?<![\d.,])(\d+(?:[.,]\d+)?) ?(m?)(?:illi)? ?(?:ohms?|Ω|r)\b", re.IGNORECASE)


def _by_its_esr(teller: Teller, part: str, result: str) -> bool | None:
    """A capacitor told in farads and ohms, “990 uF, 0.04 ohm”, where no print is told: by its
    ohms, which are its ESR."""
    ohms = _OHMS.search(result)
    if ohms is None or not re.search(r"\d ?[µu]f?\b", result, re.IGNORECASE):
        return None
    number = float(ohms[1].replace(",", ".")) * (1e-3 if ohms[2] else 1.0)
    return _esr_good(teller, part, Observation(Form.VALUE, number, number, "Ω"))


_BOTH_WAYS = re.compile(
    r"\b(beeps?|short\w*|0(\.0+)?( ?v| ohms?)?)\b[^,;]*\b(both ways|either way|all ways)\b", re.I
)
_NEITHER_WAY = re.compile(
    r"\b(ol|open|nothing|no reading|infinit\w*|blocks|(?<![\d.,])1)\b,?( in| reads?)? "
    r"(both (ways|directions)|either (way|direction)|all ways)\b|"
    r"\bboth (ways|directions)[:,]? (ol|open|nothing)\b",
    re.IGNORECASE,
)
_ONE_WAY = re.compile(r"\b0?[.,][2-8]\d*( ?v)?\b.*\b(ol|open|nothing|blocks)\b", re.IGNORECASE)


def _junction(result: str) -> bool | None:
    """A diode by what it does both ways: shorted, open, or forward volts one way and open the
    other. On ohms a sound one may show nothing either way."""
    if _BOTH_WAYS.search(result) or (_NEITHER_WAY.search(result) and "ohm" not in result.lower()):
        return False
    return True if _ONE_WAY.search(result) else None


def way_by_itself(teller: Teller, part: str, result: str) -> str:
    """How a part that measured bad by itself had failed: `shorted`, `open`, or just `bad` where the
    words leave that open (a leak, a value that is gone, a short that went with it)."""
    clauses = "; ".join(one for one in _of_this_part(teller, part, result) if not _of_place(one))
    if re.search(r"\besr\b|[µun]f\b|farad", clauses, re.IGNORECASE) or not clauses:
        return "bad"
    if _BOTH_WAYS.search(clauses):
        return "shorted"
    if _NEITHER_WAY.search(clauses):
        return "open"
    if not re.search(r"\d|\bol\b|open", clauses, re.IGNORECASE):
        return "bad"
    value = human_value(clauses, _setting(clauses.lower()), clauses)
    seen = value.observation if value is not None else None
    if seen is None or (seen.unit not in ("Ω", "") and seen.form is Form.VALUE):
        return "bad"
    if seen.form is Form.OPEN:
        return "open"
    shorted = seen.form is Form.SHORT or (
        seen.form is Form.VALUE and seen.centre < SHORT_ALONE_OHMS
    )
    blocks = teller.board.component(part).kind not in (*CONDUCTS_OHMS, *WOUND, *RESISTORS)
    return "shorted" if shorted and blocks else "bad"


def _of_place(clause: str) -> bool:
    return of_the_rail(clause) is not None


_BETWEEN_ENDS = re.compile(
    r"\bd ?[-/ ] ?s\b|\bc ?[-/ ] ?e\b|\bdrain\b|\bcollector\b", re.IGNORECASE
)


def _setting(result: str) -> str:
    if re.search(r"\besr\b", result):
        return "esr"
    if re.search(r"\d ?[µun]f\b", result) and not re.search(r"\bol\b|beep|short", result):
        return "capacitance"
    if _BETWEEN_ENDS.search(result) and not re.search(r"\d ?m?v\b", result):
        return "ohms"
    return "ohms" if re.search(r"ohm|\bk\b|\d ?[km]\b|beep|\bol\b|short", result) else ""


def alone_good(
    teller: Teller, parts: Sequence[str], seen: Observation, words: str, mode: str = ""
) -> bool | None:
    """Whether a reading of a part by itself is that of a sound one; None where that is open."""
    if not parts:
        return None
    kind = teller.board.component(parts[0]).kind
    if mode == "esr":
        return _esr_good(teller, parts[0], seen)
    if kind in RESISTORS:
        return _resistor_good(seen, words)
    if seen.unit == "F":
        return kept_farads(seen, words)
    if seen.unit == "V":
        return _volts_good(kind, seen, words)
    if kind == "relay" and re.search(r"\bcontacts?\b", words):
        return seen.form is not Form.OPEN and seen.centre < CONTACT_OHMS
    if kind in CONDUCTS_OHMS:
        return seen.form is not Form.OPEN and seen.centre < CONDUCTS_OHMS[kind]
    if seen.form is Form.OPEN:
        return True if kind == "surge_suppressor" or kind in OPEN_WHEN_OFF else None
    if kind in WOUND:
        return None
    if seen.form is Form.SHORT or seen.centre < SHORT_ALONE_OHMS:
        return False
    if kind == "diode" and re.search(r"revers|backward", words):
        leaks = teller.board.component(parts[0]).params.get("junction") == "schottky"
        return seen.centre > (LEAKY_ALONE_OHMS if leaks else LEAKY_SILICON_OHMS)
    return None


def _esr_good(teller: Teller, part: str, seen: Observation) -> bool | None:
    """An ESR against what is expected of this capacitor here."""
    for name in ("esr.out", "esr"):
        key = f"{part}.{name}@{UNPLUGGED.key}"
        if key in teller.keys and seen.form is Form.VALUE:
            column = column_of(teller.table, teller.table.index(key))
            verdict = column.judged(replace(seen, unit="Ω")).verdict
            return {Verdict.AGREES: True, Verdict.DISAGREES: False}.get(verdict)
    return None


def _resistor_good(seen: Observation, words: str) -> bool | None:
    if seen.form is Form.OPEN:
        return False
    value = told_ohms(words)
    if value is None:
        return True if re.search(r"\bas (printed|marked|it should)", words) else None
    return 0.9 < (seen.centre + 0.2) / (value + 0.2) < 1.1


def _volts_good(kind: str, seen: Observation, words: str) -> bool | None:
    if seen.form is Form.OPEN:
        return None if re.search(r"revers|backward", words) else False
    if kind == "optocoupler":
        return OPTO_LED_VOLTS[0] < seen.centre < OPTO_LED_VOLTS[1]
    return seen.centre > 0.1
