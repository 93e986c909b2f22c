"""A reading in the form that the rest understands: “twelve volts”, “5V05”, “.6”, “0L”, “1000 MFD”.

Only the way a number is written is changed here, and what stands beside the one that was read is
left out: what it should have been, and what it was before. What it means is told by `human_value`.
"""

from __future__ import annotations

import re
from collections.abc import Callable

from loose_rail.app.job_file.log.volts_as_written import volts_as_written
from loose_rail.kernel.number_words import NUMBER_WORDS
from loose_rail.vocabulary.meter_mode import MeterMode

_N = r"[-+]?\d+(?:[.,]\d+)?"
_WORDS: dict[str, float] = {
    **NUMBER_WORDS,
    "fifteen": 15,
    "eighteen": 18,
    "twenty": 20,
    "thirty": 30,
    "forty": 40,
}
_WORDS |= {
    "fifty": 50,
    "sixty": 60,
    "seventy": 70,
    "eighty": 80,
    "ninety": 90,
    "a hundred": 100,
    "half a": 0.5,
    "a": 1,
    "an": 1,
    "a couple of": 2,
}
_SPELT = re.compile(
    rf"(?<!not )\b(?P<word>{'|'.join(sorted(_WORDS, key=len, reverse=True))}) (?P<unit>volts?|"
    rf"ohms?|k)\b",
    re.IGNORECASE,
)
_BARE_POINT = re.compile(r"(?<![\d\w.])([.,])(?=\d)")
_OVERLOAD = re.compile(r"(?<![\w.])[0oO][.]?[lL]\b")
_SPREAD = re.compile(r" ?(?:±|\+ ?/ ?-|\+-) ?\d+(?:[.,]\d+)? ?(?:%|m?v)?", re.IGNORECASE)
_MFD = re.compile(r"(\d+(?:[.,]\d+)?) ?(?:mfd|MFD|mF|MF)\b")
MILLIFARADS_BELOW = 10.0
"""“0.98 mF” is millifarads, “1000 mF” the old way of writing microfarads [P]."""
_LEADS = re.compile(
    rf"^(?P<whole>{_N}) ?(?:ohms?|Ω|r)?,? \(?(?:(?:less|minus|including|with|of which) )?"
    rf"(?:(?:the )?leads?(?: (?:alone|touching|shorted|together|are|have|give|read|at))*:? "
    rf"(?P<leads>{_N})|(?P<own>{_N}) ?(?:ohms?|Ω)? (?:for|of|in) the leads)(?: ?(?:ohms?|Ω|"
    rf"r))?\)?$",
    re.IGNORECASE,
)
"""“0.6 less 0.2 for the leads”."""
_LIKE_THE_LEADS = re.compile(r"^(?:the )?same as (?:the )?leads\b.*$", re.IGNORECASE)
_BLOWN = re.compile(
    r"^(?:it is |is )?(?:nothing at all|reads nothing|dead open|fuse (?:is )?blown|blown|"
    r"burnt through|interrupted|gone|broken|"
    r"no connection|no contact|"
    r"not connected|"
    r"disconnected)$",
    re.I,
)
_INTACT = re.compile(r"^(?:fuse )?(?:is )?(?:intact|good|fine|ok|whole|through)$", re.IGNORECASE)
_PER_CENT = re.compile(r"^(?P<share>\d+(?:[.,]\d+)?) ?% of (?P<of>\d+(?:[.,]\d+)?)", re.I)
_NO_FARADS = re.compile(r"^(?:no|hardly any|zero) capacit\w+(?: left| at all)?$", re.IGNORECASE)
_ROUGH_OHMS = (
    (re.compile(r"^(?:a few|few|a couple of|some) (?:ohms?|Ω)$", re.I), "3 ohm"),
    (re.compile(r"^(?:a few|several|some) k(?:ilo)?(?:ohms?|Ω)?$", re.I), "over 1 k"),
    (
        re.compile(r"^(?:(?:a few|several|some|many) )?(?:tens of) k(?:ilo)?(?:ohms?)?$", re.I),
        "over 10 k",
    ),
    (
        re.compile(r"^(?:in the |some |several )?hundreds of k(?:ilo)?(?:ohms?|Ω)?$", re.I),
        "over 100 k",
    ),
    (
        re.compile(
            r"^(?:a few |several |some |many |(?:way |well |far )?over a )?meg(?:a|s)?(?:ohms?)?$",
            re.I,
        ),
        "over 1 M",
    ),
)
"""What is told of ohms without a number; the least that it says."""
_CLIMBS_TO = re.compile(
    rf"^.*\b(?:climb|ris|creep|go|count|charg)\w*(?: slowly| up)*(?: past| to| above| over|"
    rf" beyond)+ "
    rf"(?P<last>{_N} ?(?:k|m|meg)?\w*).*$",
    re.IGNORECASE,
)
"""Ohms that charge a capacitor: where they end is what lies there."""
_ESR_WORD = re.compile(r"^(?:esr|it|reads?|is|still|shows?|[: ])+(?=over|above|more|>|\d)", re.I)
_OFF_SCALE = re.compile(
    r"\b(?:off|beyond|past) (?:the |its )?(?:scale|end|top|range|chart)\b|\btoo high to (?:read|"
    r"measure)\b",
    re.I,
)
_NOUGHT_BOTH_WAYS = re.compile(
    r"^(?:zero|nought|dead) (?:in )?(?:both|either|all) (?:directions?|ways?)$", re.IGNORECASE
)
_OVER_RANGE = re.compile(r"^(?P<first>\d+(?:[.,]\d+)?) ?/ ?1$")
_MILLIVOLTS = re.compile(
    r"(?<![\d.,])(?P<number>\d{2,4}|0\d\d)(?!\d|[.,]\d| ?(?:m?v|volts?)\b)", re.I
)
_OF_PRINTED = re.compile(
    r"^(\d+(?:[.,]\d+)?)(?= (?:of|out of|instead of|where|from|left)\b)", re.IGNORECASE
)
_ANSWERS = re.compile(
    r"\b(?:does(?: not|n.t)|not|no) (?:buzz|sound|tone|ring|bleep|chirp)\w*|\bbuzzer (?:stays|"
    r"is|remains) (?:quiet|silent)",
    re.I,
)
_SOUNDS = re.compile(
    r"^(?:it |the buzzer )?(?:buzz(?:es)?|continuity|conducts|connected|has continuity|through|"
    r"sounds|tone|"
    r"rings|bleeps|chirps)\b",
    re.I,
)
_CHIRPS = re.compile(
    r"^(?:short |brief |one )*(?:chirps?|beeps?)\b[^,;]*(?:for (?:a|an) |briefly|shortly|"
    r"then (?:stops|"
    r"silent|nothing)|once\b)|^(?:short|brief) (?:chirp|beep)$",
    re.IGNORECASE,
)
"""A capacitor that charges."""
_NO_SHORT = re.compile(
    r"^(?:no|not|not a|no longer a?|isn.t|never) ?(?:dead |hard |longer )?short(?:ed)?\b[^\d]*$",
    re.I,
)
NO_SHORT_OHMS = 20.0
"""What is said to be no short has at least that [P]."""


def as_written(text: str, mode: MeterMode) -> str:
    """The words of a display with their numbers as the rest understands them."""
    text = _spelt(text.strip().strip("\"'"))
    text = _BARE_POINT.sub(r"0\1", _SPREAD.sub("", text))
    return _IN_MODE.get(mode, _plain)(text)


_POINT = re.compile(
    rf"\b(?P<whole>\d+|zero|nought|{'|'.join(NUMBER_WORDS)}|(?<!\w))? ?point "
    rf"(?P<part>\d+|{'|'.join(NUMBER_WORDS)}|zero)\b",
    re.IGNORECASE,
)
"""“12 point 1”, “zero point eight”."""


def _pointed(found: re.Match[str]) -> str:
    def digits(word: str | None) -> str:
        plain = (word or "0").lower()
        return plain if plain.isdecimal() else str(NUMBER_WORDS.get(plain, 0))

    return f"{digits(found['whole'])}.{digits(found['part'])}"


def _spelt(text: str) -> str:
    text = re.sub(r"\ban ohm and a half\b", "1.5 ohm", text, flags=re.IGNORECASE)
    text = re.sub(r"\b(\d+) and something k\b", r"\1 k", text, flags=re.IGNORECASE)
    text = re.sub(r"\bhalf an ohm\b", "0.5 ohm", _POINT.sub(_pointed, text), flags=re.IGNORECASE)
    return _SPELT.sub(lambda one: f"{_WORDS[one['word'].lower()]:g} {one['unit']}", text)


def _plain(text: str) -> str:
    return text


def _without_leads(text: str) -> str:
    """Ohms less those of the test leads, where both are told."""
    told = _LEADS.match(text)
    if told is None:
        return "0 ohm" if _LIKE_THE_LEADS.match(text) else text
    whole, leads = (
        float(one.replace(",", ".")) for one in (told["whole"], told["leads"] or told["own"])
    )
    return f"{max(0.0, whole - leads):.3g} ohm" if leads <= whole else text


def _ohms(text: str) -> str:
    text = _without_leads(text)
    if _BLOWN.match(text):
        return "OL"
    if _INTACT.match(text):
        return "beeps"
    text = _OFF_SCALE.sub("OL", _OVERLOAD.sub("OL", text))
    if _NO_SHORT.match(text):
        return f"over {NO_SHORT_OHMS:g} ohm"
    if _ANSWERS.search(text) or _CHIRPS.match(text):
        return "no beep"
    if _SOUNDS.match(text):
        return "beeps"
    text = next((plain for rough, plain in _ROUGH_OHMS if rough.match(text)), text)
    climbed = _CLIMBS_TO.match(text)
    return climbed["last"] if climbed and "OL" not in text else text


def _esr(text: str) -> str:
    text = re.sub(r"(?<=\d) ?m ?r\b", " milliohm", text, flags=re.IGNORECASE)
    return _ESR_WORD.sub("", _OFF_SCALE.sub("OL", _OVERLOAD.sub("OL", text)))


def _diode(text: str) -> str:
    text = _OVER_RANGE.sub(r"\g<first> / OL", _OVERLOAD.sub("OL", text))
    text = _NOUGHT_BOTH_WAYS.sub("0 V", text)
    text = text if re.search(r"\d", text) else _SOUNDS.sub("0 V", text)
    text = re.sub(r"\b(other way|reverse\w*|back|backwards?):? 1$", r"\1 OL", text, flags=re.I)
    text = re.sub(r"\b(\d{2,4}) ?mv\b", r"\1", text, flags=re.IGNORECASE)
    return _MILLIVOLTS.sub(lambda one: f"{float(one['number']) / 1000:.3f} V", text)


def _farads(text: str) -> str:
    def spelt(one: re.Match[str]) -> str:
        number = float(one[1].replace(",", "."))
        milli = number < MILLIFARADS_BELOW and "mfd" not in one[0].lower()
        return f"{number * 1000:g} uF" if milli else f"{one[1]} uF"

    text = re.sub(r"(?<=\d) ?micro ?farads?\b", " uF", text, flags=re.IGNORECASE)
    text = re.sub(r"^(?:only|just|still|about|some) (?=\d)", "", text, flags=re.IGNORECASE)
    text = re.sub(
        r"^\d+ ?[µunp]?f(?: cap\w*)? (?=(?:now )?(?:reads|measures|shows|is))", "", text, flags=re.I
    )
    text = re.sub(r"^(?:now )?(?:reads|measures|shows|is) (?=\d)", "", text, flags=re.IGNORECASE)
    if share := _PER_CENT.match(text):
        kept, of = (float(share[key].replace(",", ".")) for key in ("share", "of"))
        return f"{kept * of / 100.0:g} uF"
    if _NO_FARADS.match(text):
        return "0 uF"
    return _OF_PRINTED.sub(r"\1 uF", _MFD.sub(spelt, text))


_IN_MODE: dict[MeterMode, Callable[[str], str]] = {
    MeterMode.DC_VOLTS: volts_as_written,
    MeterMode.AC_VOLTS: volts_as_written,
    MeterMode.OHMS: _ohms,
    MeterMode.CONTINUITY: _ohms,
    MeterMode.ESR: _esr,
    MeterMode.DIODE: _diode,
    MeterMode.CAPACITANCE: _farads,
}
