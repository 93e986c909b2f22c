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
_BARE_POINT = re.compile(r"(?<![\d\w.])([.,])(?=\d)")
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
    rf"(?:i |it |we )?(?:got|gets?|have|has|is(?: at)?|reads?|found|now|measures?|shows?|"
    rf"sits at|at|"
    rf"actual(?:ly)?|see)?:? ?(?={_N})",
    re.IGNORECASE,
)
"""“Expected 24, got 17”: what was wanted is no reading."""
_FORMERLY = re.compile(
    rf"^(?:it )?(?:was|had been|used to be|before|earlier|yesterday|last time)(?: it was)?:? "
    rf"(?:about )?{_N} ?{_U}(?: before| earlier| yesterday| last time| at first)?[,;]? ?(?:and |"
    rf"but )?"
    rf"(?:now|today|is now|this time)(?: it is| it reads| reads| is| at|:)* ?(?={_N})",
    re.IGNORECASE,
)
"""“Was 5.1 before, now 4.2”."""
_BEFORE_AND_AFTER = re.compile(
    rf"^(?P<first>{_N}) ?(?P<unit>{_U}) before(?: the)?(?: start(?:ing)?| that| it|"
    rf" switching on)?[,;]? "
    rf"(?:and )?(?P<last>{_N}) ?{_U} (?:after|then|now)\b.*$",
    re.IGNORECASE,
)
_NAMED_FIRST = re.compile(
    rf"^(?:when |while )?cold:? (?P<cold>{_N}) ?(?P<unit>{_U})[,;]? (?:and )?"
    rf"(?:(?:when|while|after) )?(?:it is )?(?:warm|hot|heated)(?: up)?:? (?P<warm>{_N}) ?{_U}$",
    re.IGNORECASE,
)
_NAMED_AFTER = re.compile(
    rf"^(?P<cold>{_N}) ?(?P<unit>{_U}) (?:(?:when |while )?cold|at first|first|initially|"
    rf"at switch[- ]on)[,;]? (?:and |then )?"
    rf"(?P<warm>{_N}) ?{_U} (?:(?:when|while|after|once) )?(?:it is |the |with the )?"
    r"(?:warm|hot|heat|hair ?dryer|heating|later|a while)\w*(?: up)?$",
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
_MEANT_AFTER = re.compile(
    rf"^{_N} ?{_U} (?:nominal|expected|wanted|rated|specified|by the (?:label|print))[,;:]? "
    rf"(?:but |and )?(?:measured |reads |is |got )?(?={_N})",
    re.IGNORECASE,
)
_ABSENT = re.compile(
    rf"^(?:there is |there are )?no (?!more|less|higher|lower|better)(?:\w+ )?"
    rf"(?:{_N} ?v\w*|\w+ (?:voltage|volts|supply|rail))( output| rail| supply)?"
    r"(?: at all| there| here| present)?$|"
    rf"^{_N} ?v\w*(?: \w+)?,? (?:(?:is|was|stays|remains) )?(?:absent|missing|dead|lost|nowhere|"
    r"not (?:there|present|coming)|never (?:appears?|comes?|shows?|arrives?|there)|"
    r"(?:does not|doesn.t|did not|didn.t|won.t|will not) (?:come|appear|show|arrive|rise|start))"
    r"(?: up)?$",
    re.IGNORECASE,
)
"""“No 12 V”, “12 V never appears”: what is not there."""
_BRIEFLY_THERE = re.compile(
    rf"^(?:(?:comes up|goes up|rises|jumps|kicks|flashes)(?: up)? to )?(?P<top>{_N}) ?{_U} ?"
    r"(?:(?:(?:appears|comes|is there|there|shows|pops|lights)(?: up)?)?,? ?"
    r"(?:and (?:vanishes|disappears|is gone|goes|dies|is lost)|briefly|shortly|once|"
    r"for an? (?:\w+ )?(?:instant|moment|blink|flash|second))|flashes(?: up)?)"
    r"(?P<rest>,? (?:only|then \w+|every|each|again|once)\b.*)?$",
    re.IGNORECASE,
)
_OFF_AND_ON_LOAD = re.compile(
    rf"^(?P<open>{_N}) ?{_U} (?:off load|no load|without (?:a )?load|unloaded|open|"
    rf"not loaded)[,;]? "
    rf"(?:and |but )?(?P<loaded>{_N}) ?{_U} (?:(?:on|under|with) (?:a |the )?load|loaded)$",
    re.IGNORECASE,
)
_RISES_AND_STAYS = re.compile(
    rf"^(?P<first>{_N})(?:, ?{_N})*, ?(?P<last>{_N}) ?{_U},? (?:and )?(?:there it |then |it )?"
    r"(?:stays|holds|stops|rests)\b.*$",
    re.IGNORECASE,
)
_WITH_DIPS = re.compile(rf"^(?P<top>{_N} ?{_U}),? with dips (?:down )?to (?P<low>{_N})", re.I)
_UP_AND_BACK = re.compile(
    rf"^(?:jumps|goes|rises|shoots|up|comes up) to (?P<top>{_N}) ?{_U},? (?:then |and )?"
    rf"(?:falls |drops |goes )?back to (?P<low>{_N}) ?{_U}(?: (?:after|in|within)\b[^,;]*)?$",
    re.IGNORECASE,
)
_TWICE_THE_SAME = re.compile(
    rf"^(?P<low>{_N})(?P<gap>[ ,;/]+)(?P<top>{_N})(?:[ ,;/]+)(?P=low)(?:[ ,;/]+)(?P=top)\b.*$"
)
_SLASHED = re.compile(rf"(?P<low>{_N}) ?/ ?(?P<top>{_N})")
_TICKING = re.compile(r"\b(?:ticks?|ticking|puls\w+|pumps?|hiccup\w*|jumps?|cycl\w+)\b", re.I)
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
    r"^(?:it is |is )?(?:blown|burnt through|interrupted|gone|broken|no connection|no contact|not connected|"
    r"disconnected)$",
    re.I,
)
_INTACT = re.compile(r"^(?:fuse )?(?:is )?(?:intact|good|fine|ok|whole|through)$", re.IGNORECASE)
_PER_CENT = re.compile(r"^(?P<share>\d+(?:[.,]\d+)?) ?% of (?P<of>\d+(?:[.,]\d+)?)", re.I)
_NO_FARADS = re.compile(r"^(?:no|hardly any|zero) capacit\w+(?: left| at all)?$", re.IGNORECASE)
_ON_OFF_ON = re.compile(
    rf"^(?P<top>{_N}) ?{_U} for [^,;]+, ?(?:then )?(?:off|0|zero|nothing)\b[^,;]*, ?(?:then )?"
    r"(?P=top)\b",
    re.IGNORECASE,
)
"""“12 V for 3 s, off 3 s, 12 V for 3 s”."""
_TAKES_ITS_TIME = re.compile(
    rf"^(?:(?:only |very )?(?:slowly|gradually) (?:up|climbs|rises|creeps)(?: up)? to|"
    rf"takes (?P<how>[^,;\d]*\d*[^,;\d]*?) to (?:get|reach|come|rise|climb)(?: up)?(?: to)?) "
    rf"(?P<top>{_N} ?{_U})(?P<rest>.*)$",
    re.IGNORECASE,
)
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
    (re.compile(r"^(?:a few |several |some |many )?meg(?:a|s)?(?:ohms?)?$", re.I), "over 1 M"),
)
"""What is told of ohms without a number; the least that it says."""
_GOES_FROM = re.compile(
    rf"\b(?:goes|went|moves|changes|steps|jumps) from ({_N}) ?({_U})? (?:up |down )?to ({_N})",
    re.IGNORECASE,
)
_CLIMBS_TO = re.compile(
    rf"^.*\b(?:climb|ris|creep|go|count|charg)\w*(?: slowly| up)*(?: past| to| above| over|"
    rf" beyond)+ "
    rf"(?P<last>{_N} ?(?:k|m|meg)?\w*).*$",
    re.IGNORECASE,
)
"""Ohms that charge a capacitor: where they end is what lies there."""
_ESR_WORD = re.compile(r"^(?:esr|it|reads?|is|still|shows?|[: ])+(?=over|above|more|>|\d)", re.I)
_OFF_SCALE = re.compile(
    r"\b(?:off|beyond|past) (?:the |its )?(?:scale|end|top|range|chart)\b", re.I
)
_OVER_RANGE = re.compile(r"^(?P<first>\d+(?:[.,]\d+)?) ?/ ?1$")
_MILLIVOLTS = re.compile(
    r"(?<![\d.,])(?P<number>\d{2,4}|0\d\d)(?!\d|[.,]\d| ?(?:m?v|volts?)\b)", re.I
)
_OF_PRINTED = re.compile(
    r"^(\d+(?:[.,]\d+)?)(?= (?:of|out of|instead of|where|from|left)\b)", re.IGNORECASE
)
_ANSWERS = re.compile(
    r"\b(?:does(?: not|n.t)|not|no) (?:buzz|sound|tone|ring|bleep|chirp)\w*", re.I
)
_SOUNDS = re.compile(
    r"^(?:it )?(?:buzz(?:es)?|continuity|conducts|connected|has continuity|through|sounds|tone|rings|bleeps|chirps)\b",
    re.I,
)
_BEYOND_THE_ASKED = re.compile(
    rf"^(?:about )?{_N} ?{_U} (?:too |volts? )?(?:low|high|short|under|over|below|above)[,;:] "
    rf"(?:it |so |reads |is |at )*(?={_N})",
    re.IGNORECASE,
)
"""“0.7 V low, 4.3”: by how much, and then what it read."""
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


def _spelt(text: str) -> str:
    return _SPELT.sub(lambda one: f"{_WORDS[one['word'].lower()]:g} {one['unit']}", text)


def _plain(text: str) -> str:
    return text


def _volts(text: str) -> str:
    text = _V_FOR_POINT.sub(r"\1.\2 V", text)
    text = _FORMERLY.sub("", _MEANT_AFTER.sub("", _MEANT_FIRST.sub("", text)))
    text = _BEYOND_THE_ASKED.sub("", text)
    if _ABSENT.match(text):
        return "0 V"
    if brief := _BRIEFLY_THERE.match(text):
        rest = brief["rest"] or ""
        again = re.search(r"\b(?:every|each|again)\b", rest, re.IGNORECASE)
        return f"0 to {brief['top']} V, pulsing{rest}" if again else f"{brief['top']} V, then gone"
    if told := _OFF_AND_ON_LOAD.match(text):
        return f"falls from {told['open']} to {told['loaded']} V"
    if told := _RISES_AND_STAYS.match(text):
        return f"rises from {told['first']} to {told['last']} V"
    if told := _WITH_DIPS.match(text):
        return f"{told['low']} to {told['top']}, pulsing"
    if told := _UP_AND_BACK.match(text):
        return f"{told['top']} V, then {told['low']} V"
    if told := _TWICE_THE_SAME.match(text):
        return f"{told['low']} to {told['top']} V, pulsing"
    if _TICKING.search(text):
        text = _SLASHED.sub(r"\g<low> to \g<top>", text)
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
    if twice := _UP_AND_DOWN_TWICE.match(text) or _ON_OFF_ON.match(text):
        return f"0 to {twice['top']} V, pulsing"
    if slow := _TAKES_ITS_TIME.match(text):
        return f"rises from 0 to {slow['top']}{slow['rest']}"
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
    text = _SOUNDS.sub("0 V", text)
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
    if share := _PER_CENT.match(text):
        kept, of = (float(share[key].replace(",", ".")) for key in ("share", "of"))
        return f"{kept * of / 100.0:g} uF"
    if _NO_FARADS.match(text):
        return "0 uF"
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
