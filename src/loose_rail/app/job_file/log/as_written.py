"""A reading in the form that the rest understands: “twelve volts”, “5V05”, “.6”, “0L”, “1000 MFD”.

Only the way a number is written is changed here, and what stands beside the one that was read is
left out: what it should have been, and what it was before. What it means is told by `human_value`.
"""

from __future__ import annotations

import re
from collections.abc import Callable

from loose_rail.kernel.number_words import NUMBER_WORDS
from loose_rail.vocabulary.meter_mode import MeterMode

_N = r"[-+]?\d+(?:[.,]\d+)?"
_U = r"(?:mv|v(?:dc|ac)?|volts?|ohms?|Ω|k|[µun]f|amps?|a)?"
_WORDS = {**NUMBER_WORDS, "fifteen": 15, "eighteen": 18, "twenty": 20, "thirty": 30, "forty": 40}
_WORDS |= {"fifty": 50, "sixty": 60, "a hundred": 100, "half a": 0.5, "a": 1, "a couple of": 2}
_SPELT = re.compile(
    rf"\b(?P<word>{'|'.join(sorted(_WORDS, key=len, reverse=True))}) (?P<unit>volts?|ohms?)\b",
    re.IGNORECASE,
)
_V_FOR_POINT = re.compile(r"(?<![\w.])(\d{1,3})[vV](\d{1,2})(?![\w.])")
_BARE_POINT = re.compile(r"(?<![\d\w])([.,])(?=\d)")
_OVERLOAD = re.compile(r"(?<![\w.])[0oO][.]?[lL]\b")
_SPREAD = re.compile(r" ?(?:±|\+ ?/ ?-|\+-) ?\d+(?:[.,]\d+)? ?(?:%|m?v)?", re.IGNORECASE)
_MFD = re.compile(r"(\d+(?:[.,]\d+)?) ?(?:mfd|MFD|mF|MF)\b")
MILLIFARADS_BELOW = 10.0
"""“0.98 mF” is millifarads, “1000 mF” the old way of writing microfarads [P]."""
_MEANT = (
    r"(?:expected|wanted|nominal(?:ly)?|spec(?:ified)?|supposed to be|meant to be|ought to be|"
    r"should (?:be|read|have)|target|normal(?:ly)?|reference)"
)
_MEANT_FIRST = re.compile(
    rf"^(?:it |i )?{_MEANT}(?: is| was|:)? (?:about )?{_N} ?{_U}[,;:]? ?(?:but |and )?"
    rf"(?:i |it |we )?(?:got|gets?|have|has|is(?: at)?|reads?|found|now|measures?|shows?|sits at|at|"
    rf"actual(?:ly)?|see)?:? ?(?={_N})",
    re.IGNORECASE,
)
"""“Expected 24, got 17”: what was wanted is no reading."""
_FORMERLY = re.compile(
    rf"^(?:it )?(?:was|had been|used to be|before|earlier|yesterday|last time)(?: it was)?:? "
    rf"(?:about )?{_N} ?{_U}(?: before| earlier| yesterday| last time| at first)?[,;]? ?(?:and |but )?"
    rf"(?:now|today|is now|this time)(?: it is| it reads| reads| is| at|:)* ?(?={_N})",
    re.IGNORECASE,
)
"""“Was 5.1 before, now 4.2”."""
_BEFORE_AND_AFTER = re.compile(
    rf"^(?P<first>{_N}) ?(?P<unit>{_U}) before(?: the)?(?: start(?:ing)?| that| it| switching on)?[,;]? "
    rf"(?:and )?(?P<last>{_N}) ?{_U} (?:after|then|now)\b.*$",
    re.IGNORECASE,
)
_NAMED_FIRST = re.compile(
    rf"^(?:when |while )?cold:? (?P<cold>{_N}) ?(?P<unit>{_U})[,;]? (?:and )?"
    rf"(?:(?:when|while|after) )?(?:it is )?(?:warm|hot|heated)(?: up)?:? (?P<warm>{_N}) ?{_U}$",
    re.IGNORECASE,
)
_NAMED_AFTER = re.compile(
    rf"^(?P<cold>{_N}) ?(?P<unit>{_U}) (?:when |while )?cold[,;]? (?:and )?"
    rf"(?P<warm>{_N}) ?{_U} (?:(?:when|while|after) )?(?:it is |the |with the )?"
    r"(?:warm|hot|heat|hair ?dryer|heating)\w*(?: up)?$",
    re.IGNORECASE,
)
RISES_BY = 1.15
"""A rail that reads so much more warm than cold comes up as it warms [P]."""
_ONE_AFTER_ANOTHER = re.compile(
    rf"^(?P<way>falling|sinking|dropping|rising|climbing|creeping)(?: steadily)?:? (?P<first>{_N})"
    rf"(?:[ ,;/]+{_N})+[ ,;/]+(?P<last>{_N}) ?{_U}$",
    re.IGNORECASE,
)
_UP_AND_DOWN_TWICE = re.compile(
    rf"^(?:goes )?up to (?P<top>{_N}) ?{_U}[,;]? (?:then )?down(?: again)?[,;]? (?:and )?"
    rf"(?:up|again|over)\b.*$",
    re.IGNORECASE,
)
_KICKS_OF = re.compile(
    r"^(?:short |little |just |only |regular )*(?:blips?|kicks?|spikes?|pulses?|bumps?|hiccups?|"
    rf"hiccupping|bursts?)[,:]? (?:of |to |up to |at |max(?:imum)? |reaching |at most )*(?:about )?"
    rf"(?P<top>{_N} ?{_U})(?P<rest>\b.*)?$",
    re.IGNORECASE,
)
_KICKS_AFTER = re.compile(
    rf"^(?P<top>{_N} ?{_U}) (?:short |little )*(?:blips|kicks|spikes|pulses|bumps|hiccups|bursts)\b"
    r"(?P<rest>.*)$",
    re.IGNORECASE,
)
_GOES_FROM = re.compile(
    rf"\b(?:goes|went|moves|changes|steps|jumps) from ({_N}) ?({_U})? (?:up |down )?to ({_N})",
    re.IGNORECASE,
)
_CLIMBS_TO = re.compile(
    rf"^.*\b(?:climb|ris|creep|go|count|charg)\w*(?: slowly| up)*(?: past| to| above| over| beyond)+ "
    rf"(?P<last>{_N} ?(?:k|m|meg)?\w*).*$",
    re.IGNORECASE,
)
"""Ohms that charge a capacitor: where they end is what lies there."""
_ESR_WORD = re.compile(r"^(?:esr|it|reads?|is|still|shows?|[: ])+(?=over|above|more|>|\d)", re.I)
_OFF_SCALE = re.compile(r"\b(?:off|beyond|past) (?:the |its )?(?:scale|end|top|range)\b", re.I)
_OVER_RANGE = re.compile(r"^(?P<first>\d+(?:[.,]\d+)?) ?/ ?1$")
_MILLIVOLTS = re.compile(r"(?<![\d.,])(?P<number>\d{2,4}|0\d\d)(?![\d.,]| ?(?:m?v|volts?)\b)", re.I)
_OF_PRINTED = re.compile(
    r"^(\d+(?:[.,]\d+)?)(?= (?:of|out of|instead of|where|from|left)\b)", re.IGNORECASE
)
_ANSWERS = re.compile(r"\b(?:does(?: not|n.t)|not|no) (?:buzz|sound|tone|ring|bleep|chirp)\w*", re.I)
_SOUNDS = re.compile(r"^(?:it )?(?:buzz(?:es)?|continuity|sounds|tone|rings|bleeps|chirps)\b", re.I)
_NO_SHORT = re.compile(
    r"^(?:no|not|not a|no longer a?|isn.t|never) ?(?:dead |hard |longer )?short(?:ed)?\b[^\d]*$", re.I
)
NO_SHORT_OHMS = 20.0
"""What is said to be no short has at least that [P]."""


def as_written(text: str, mode: MeterMode) -> str:
    """The words of a display with their numbers as the rest understands them."""
    text = _spelt(text.strip().strip("\"'"))
    text = _BARE_POINT.sub(r"0\1", _SPREAD.sub("", text))
    return _IN_MODE.get(mode, _plain)(text)


def _spelt(text: str) -> str:
    return _SPELT.sub(lambda one: f"{_WORDS[one['word'].lower()]:g} {one['unit']}", text)


def _plain(text: str) -> str:
    return text


def _volts(text: str) -> str:
    text = _V_FOR_POINT.sub(r"\1.\2 V", text)
    text = _FORMERLY.sub("", _MEANT_FIRST.sub("", text))
    after = _BEFORE_AND_AFTER.match(text)
    if after:
        return f"{after['last']} {after['unit']}"
    for pattern in (_NAMED_FIRST, _NAMED_AFTER):
        if told := pattern.match(text):
            return _warmed(told["cold"], told["warm"], told["unit"])
    if listed := _ONE_AFTER_ANOTHER.match(text):
        return f"{listed['way']} from {listed['first']} to {listed['last']} V".replace(
            listed["way"], "falls" if listed["way"][0].lower() in "fsd" else "rises"
        )
    if twice := _UP_AND_DOWN_TWICE.match(text):
        return f"0 to {twice['top']} V, pulsing"
    for pattern in (_KICKS_OF, _KICKS_AFTER):
        if kicks := pattern.match(text):
            return f"{kicks['top']} pulsing{kicks['rest'] or ''}"
    return _GOES_FROM.sub(_way, text)


def _way(found: re.Match[str]) -> str:
    first, last = (float(found[number].replace(",", ".")) for number in (1, 3))
    return f"{'rises' if last > first else 'falls'} from {found[1]} {found[2] or ''} to {found[3]}"


def _warmed(cold: str, warm: str, unit: str) -> str:
    first, last = (float(one.replace(",", ".")) for one in (cold, warm))
    if last > RISES_BY * first:
        return f"climbs from {cold} to {warm} {unit}"
    return f"{warm} {unit}"


def _ohms(text: str) -> str:
    text = _OFF_SCALE.sub("OL", _OVERLOAD.sub("OL", text))
    if _NO_SHORT.match(text):
        return f"over {NO_SHORT_OHMS:g} ohm"
    if _ANSWERS.search(text):
        return "no beep"
    if _SOUNDS.match(text):
        return "beeps"
    climbed = _CLIMBS_TO.match(text)
    return climbed["last"] if climbed and "OL" not in text else text


def _esr(text: str) -> str:
    return _ESR_WORD.sub("", _OFF_SCALE.sub("OL", _OVERLOAD.sub("OL", text)))


def _diode(text: str) -> str:
    text = _OVER_RANGE.sub(r"\g<first> / OL", _OVERLOAD.sub("OL", text))
    text = _SOUNDS.sub("0 V", text)
    return _MILLIVOLTS.sub(lambda one: f"{float(one['number']) / 1000:.3f} V", text)


def _farads(text: str) -> str:
    def spelt(one: re.Match[str]) -> str:
        number = float(one[1].replace(",", "."))
        milli = number < MILLIFARADS_BELOW and "mfd" not in one[0].lower()
        return f"{number * 1000:g} uF" if milli else f"{one[1]} uF"

    return _OF_PRINTED.sub(r"\1 uF", _MFD.sub(spelt, text))


_IN_MODE: dict[MeterMode, Callable[[str], str]] = {
    MeterMode.DC_VOLTS: _volts,
    MeterMode.AC_VOLTS: _volts,
    MeterMode.OHMS: _ohms,
    MeterMode.CONTINUITY: _ohms,
    MeterMode.ESR: _esr,
    MeterMode.DIODE: _diode,
    MeterMode.CAPACITANCE: _farads,
}
