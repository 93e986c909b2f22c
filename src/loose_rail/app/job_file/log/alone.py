"""A part measured by itself, out of the board: what its kind shows when it is sound."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.job_file.log.outcomes import measured
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.spread import RESISTORS
from loose_rail.kernel.number_words import NUMBER_WORDS
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
KEEPS_SHARE, LOST_SHARE = 0.8, 0.7
"""Of what is printed on it: electrolytics leave the works with 80 to 120 %, and below 70 % they are
worn (electrical reference section 6) [P]."""
_SAYS = (
    r"(?:marked|print(?:ed|s)?|says?|label\w*|rated|should be|nominal|bands?|code|supposed to be)"
)
_PRINTED = re.compile(
    rf"{_SAYS}:? (\d+(?:[.,]\d+)?) ?([µunp]?)f?\b|^(\d+(?:[.,]\d+)?) ?([µunp])f?(?: |,|/|$)|"
    r"[µun]f (?:left )?(?:of|instead of|for|from) (\d+(?:[.,]\d+)?) ?([µunp]?)f?\b|"
    r"(\d+(?:[.,]\d+)?) ?([µun])f?\b[^,;.]{0,14}\b(?:printed|marked|stamped|nominal|on (?:it|the "
    r"(?:can|sleeve|label)))\b",
    re.IGNORECASE,
)
_FARADS_IN_PLACE = re.compile(r"\b(\d+(?:[.,]\d+)?) ?([µunp])f\b", re.IGNORECASE)


def print_told(note: str, at: str) -> str:
    """The words that tell what is printed on a capacitor: the note, or farads in the name of the
    place (“5 V reservoir 1000 uF 10 V”), which are never what was read."""
    named = _FARADS_IN_PLACE.search(at)
    if _PRINTED.search(note) or named is None:
        return note
    return f"{note} printed {named[0]}".strip()


_TOLD_OHMS = re.compile(
    rf"{_SAYS}(?: (?:says?|is|be|as))?:? (\d[\dRrKkMm.,]*) ?((?:[kKM](?![\w]))?)|"
    r"(\d[\dRrKkMm.,]*) ?((?:[kKM](?![\w]))?) ?(?:ohms?|Ω)? ?(?:is )?(?:printed|marked|on it)|"
    r"instead of (?:its )?(\d[\dRrKkMm.,]*) ?((?:[kKM](?![\w]))?)"
)
_SIDE_BY_SIDE = re.compile(
    r"\b(two|three|four|five|six|[2-6])(?: pieces)?(?: of| x|×) (\d[\dRrKkMm.,]*) ?([kKM])?"
    r"(?: ?ohms?| ?Ω)?,? (?:side by side|in parallel|parallel)\b",
    re.IGNORECASE,
)
"""“Three of 2.2 ohm side by side”: together a third of it."""
LEAKY_ALONE_OHMS, LEAKY_SILICON_OHMS = 5e3, 1e6
"""A diode by itself that reads less backward leaks: a Schottky, and any other [P]."""


_OF_THE_RAIL = re.compile(
    r"\b(line|rail|node|net|pads?|to ground|to gnd|output|input|jack|socket|drain|bulk|primary|"
    r"supply|\d+(?:[.,]\d+)? ?V)\b[^,;]{0,24}?\b(still|now|is|reads|at|climbs|rises|charges|goes|"
    r"jumps|measures|shows|comes|stays|remains|)\b"
    r"[^,;\d]{0,12}?\b(\d+(?:[.,]\d+)?) ?(?:([km]?) ?(?:ohms?|Ω)|([km]))(?!\w)",
    re.IGNORECASE,
)
_NODES = r"(?:rail|line|output|bulk|node|input|jack|socket|pads?|\d+(?:[.,]\d+)? ?V)"
"""Places that a part stands across."""
_SHORT_STAYS = re.compile(
    rf"\b{_NODES}\b[^,;]{{0,14}}\bstill (a )?(short|shorted|low|beeps?)\b|"
    r"\bshort\b[^,;]{0,24}\b(stays|remains|still there|is still)\b|still (a )?short (on|at|across)",
    re.IGNORECASE,
)
_SHORT_GOES = re.compile(
    r"\bshort\b[^,;]{0,32}\b(gone|away|disappears?|vanish\w*)\b|no longer short|"
    rf"\b{_NODES}\b[^,;]{{0,14}}\b(is )?(free|clear|no short)\b",
    re.IGNORECASE,
)
_AS_IT_WAS = re.compile(
    r"\bstill\b|as before|no difference|unchanged|\bthe same\b|no change|remains|\bstays\b", re.I
)
_ACROSS = re.compile(
    r"\b(L (?:to|and) N|line to neutral|across the (?:mains|input)|rail|line|bulk|output|pads|"
    r"(?:bridge|board|far|load) side|(?:behind|after) the (?:main )?fuse)\b"
    r"[^,;]{0,24}?\b(OL|open|free|the same|as low|unchanged)\b",
    re.IGNORECASE,
)
_AT_THE_PLACE = re.compile(
    r"(?:\b(still|now)\b[^,;\d]{0,12})?\b(\d+(?:[.,]\d+)?) ?(?:([km]?) ?(?:ohms?|Ω)|([km])) "
    r"(?:at|across|on|over|between|from) (?:the )?(?:bulk|rail|line|input|output|jack|socket|"
    r"primary|mains|pads?|main fuse|\d+(?:[.,]\d+)? ?V)\b",
    re.IGNORECASE,
)
FREE_OHMS = 100.0
"""A rail that reads above it with the part out is free of the short that was there [E]."""


def of_the_rail(result: str) -> bool | None:
    """Whether the short was in the part that was taken out, by what its rail reads now: still
    there (the part is good), gone (bad); None where that is not told."""
    if _SHORT_STAYS.search(result):
        return True
    if _SHORT_GOES.search(result):
        return False
    placed = _AT_THE_PLACE.search(result)
    if placed is not None:
        return _free_means(placed[2], placed[3] or placed[4], result)
    found = _OF_THE_RAIL.search(result)
    if found is None:
        across = _ACROSS.search(result)
        return None if across is None else across[2].lower() not in ("ol", "open", "free")
    return _free_means(found[3], found[4] or found[5], result)


def _free_means(number: str, scale: str | None, words: str) -> bool | None:
    """What ohms of the place say of the part that was taken out: still low, it is good; free, it
    was bad; low without a “still”, nothing."""
    times = {"k": 1e3, "m": 1e6}.get((scale or "").lower(), 1.0)
    free = float(number.replace(",", ".")) * times > FREE_OHMS
    if _AS_IT_WAS.search(words):
        return None if free else True
    return not free if free else None


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
    if own and not rail and not _IN_THE_HAND.search(result) and _AT_THE_PLACE.search(result):
        return of_the_rail(result)  # “no difference, 1.2 ohm on the rail”: both clauses are one
    good = _by_itself(teller, part, what, own) if own.strip() else None
    return good if good is not None or not rail else of_the_rail(rail[-1])


def _by_itself(teller: Teller, part: str, what: str, result: str) -> bool | None:
    """Whether the part is good by what is told of itself alone."""
    words = f"{print_told('', what)} {what} {result}"
    kind = teller.board.component(part).kind
    if _DEAD_WHEN_DRIVEN.search(result):
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
    return said if good is None else good


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


def _setting(result: str) -> str:
    if re.search(r"\besr\b", result):
        return "esr"
    if re.search(r"\d ?[µun]f\b", result) and not re.search(r"\bol\b|beep|short", result):
        return "capacitance"
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


def told_ohms(words: str) -> float | None:
    """What is said to be printed on a resistor, ohms; None where nothing is."""
    together = _SIDE_BY_SIDE.search(words)
    if together is not None:
        count = float(NUMBER_WORDS.get(together[1].lower(), together[1]))
        one = Teller.marked(f"{together[2]}{together[3] or ''}")
        return None if one is None else one / count
    found = _TOLD_OHMS.search(words)
    if found is None:
        return None
    number = (found[1] or found[3] or found[5]).strip(".,")
    letter = found[2] or found[4] or found[6] or ""
    if not letter and re.search(r"ohm|Ω", words[found.start() :]) and number.isdecimal():
        return float(number)
    return Teller.marked(f"{number}{letter}")


def good_in_place(seen: Observation, words: str) -> bool | None:
    """Whether a capacitor of a composed board is good by a reading in place, against what is said
    to be printed on it: what lies beside it only adds farads."""
    return False if seen.unit == "F" and kept_farads(seen, words) is False else None


def kept_farads(seen: Observation, words: str) -> bool | None:
    """A capacitor against what is printed on it; a bare number is microfarads."""
    printed = _PRINTED.search(words)
    if printed is None or seen.form is not Form.VALUE:
        return None
    letter = (printed[2] or printed[4] or printed[6] or printed[8] or "").lower()
    scale = {"n": 1e-9, "p": 1e-12}.get(letter, 1e-6)
    number = (printed[1] or printed[3] or printed[5] or printed[7]).replace(",", ".")
    share = seen.centre / (float(number) * scale)
    if share < LOST_SHARE:
        return False
    return True if share > KEEPS_SHARE else None


_OF_ITS_PRINT = re.compile(
    r"[µunp]f? (?:left )?(?:of|instead of|out of|where|against) (\d+(?:[.,]\d+)?) ?([µunp]?)f?\b",
    re.IGNORECASE,
)


def kept_in_place(seen: Observation, text: str, note: str) -> bool | None:
    """Whether a capacitor that was read where it stands keeps what is printed on it, “22 uF of 150
    uF”; what lies beside it only adds, so that less is less. None where no print is told."""
    told = _OF_ITS_PRINT.search(text)
    if told is None or seen.form is not Form.VALUE:
        beside = re.sub(r"^\s*\d+(?:[.,]\d+)? ?[µunp]?f?\b", "", text, flags=re.IGNORECASE)
        return kept_farads(seen, note if _PRINTED.search(note) else beside)
    scale = {"n": 1e-9, "p": 1e-12}.get(told[2].lower(), 1e-6)
    share = seen.centre / (float(told[1].replace(",", ".")) * scale)
    if share < LOST_SHARE:
        return False
    return True if share > KEEPS_SHARE else None
