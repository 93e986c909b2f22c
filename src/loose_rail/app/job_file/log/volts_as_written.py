"""Volts as people write them down, in the form that the rest understands: without what they should
have been (“expected 24, got 17”), and a course in one of few forms.
"""

from __future__ import annotations

import re
from collections.abc import Callable

_N = r"[-+]?\d+(?:[.,]\d+)?(?!\d)"
_U = r"(?:mv|v(?:dc|ac)?|volts?|ohms?|Ω|k|[µun]f|amps?|a)?"
_V_FOR_POINT = re.compile(r"(?<![\w.])(\d{1,3})[vV](\d{1,2})(?![\w.])")
_MEANT = (
    r"(?:expected|wanted|nominal(?:ly)?|spec(?:ified)?|supposed to be|meant to be|ought to be|"
    r"should (?:be|read|have)|target|normal(?:ly)?|reference|rated(?: at| for)?|printed|marked|"
    r"(?:in )?theory|instead of)"
)
_MEANT_FIRST = re.compile(
    rf"^(?:it |i |the )?(?:{_MEANT}|label|print|sticker)(?: is| was| says|"
    rf":)? (?:about )?{_N} ?{_U}[,;:]? ?(?:but |and )?"
    rf"(?:i |it |we )?(?:got|its|it's|gets?|have|has|is(?: at)?|reads?|found|now|measure[sd]?|"
    rf"show(?:s|n|ed)?|gives?|sits at|at|only|(?:in )?practice|"
    rf"actual(?:ly)?|see)?:? ?(?={_N})",
    re.IGNORECASE,
)
"""“Expected 24, got 17”: what was wanted is no reading."""
_MEANT_AFTER = re.compile(
    rf"^{_N} ?{_U} (?:nominal|expected|wanted|rated|specified|by the (?:label|print))[,;:]? "
    rf"(?:but |and )?(?:measured |reads |is |got )?(?={_N})",
    re.IGNORECASE,
)
_FORMERLY = re.compile(
    rf"^(?:it )?(?:was|had been|used to be|before|earlier|yesterday|last time)(?: it was)?:? "
    rf"(?:about )?{_N} ?{_U}(?: before| earlier| yesterday| last time| at first)?[,;]? ?(?:and |"
    rf"but )?"
    rf"(?:now|today|is now|this time)(?: it is| it reads| reads| is| at|:)* ?(?={_N})",
    re.IGNORECASE,
)
"""“Was 5.1 before, now 4.2”."""
_BEYOND_THE_ASKED = re.compile(
    rf"^(?:about )?{_N} ?{_U} (?:too |volts? )?(?:low|high|short|under|over|below|above)[,;:] "
    rf"(?:it |so |reads |is |at )*(?={_N})",
    re.IGNORECASE,
)
"""“0.7 V low, 4.3”: by how much, and then what it read."""
_NOT_BUT = re.compile(
    rf"^not {_N} ?{_U}(?:,|,? (?:but|it is|only)(?: only| about| at)?) (?={_N})|"
    rf"^(?P<read>{_N} ?(?:v|volts?)?),? (?:and |but )?not {_N} ?{_U}$",
    re.IGNORECASE,
)
"""“Not 12 but 9 V”, “9 V, not 12”."""
_AT_PLUG_IN = re.compile(
    rf"^an? (?:quick|short|brief|single) (?P<top>{_N}) ?{_U}\b(?P<rest>.*)$", re.IGNORECASE
)
"""“A quick 9 V at plug in”."""
_DOWN_TO_NOTHING = re.compile(
    rf"^(?P<top>{_N})(?: ?{_U})?(?:[ ,;/]+(?P=top))*[ ,;/]+0(?:[.,]0+)? ?{_U}$", re.IGNORECASE
)
"""“9, 9, 9, 0”."""
_IN_STEPS = re.compile(
    rf"^(?:comes|goes|rises|climbs)(?: up)? in steps:?,? (?P<first>{_N})(?:[ ,;/]+{_N})*[ ,;/]+"
    rf"(?P<last>{_N}) ?{_U}$",
    re.IGNORECASE,
)
_WHEN_LIT = re.compile(
    rf"^(?P<open>{_N}) ?{_U}, (?:pulled to )?(?P<loaded>{_N}) ?{_U} "
    r"(?:when (?:lit|on|loaded|it plays)|by the (?:back ?light|load|light|sound))$",
    re.IGNORECASE,
)
_MORNING = re.compile(
    rf"^in the morning:? (?P<first>{_N}) ?{_U},? (?:and )?in the (?:afternoon|evening):? "
    rf"(?P<last>{_N}) ?{_U}$",
    re.IGNORECASE,
)
_BY_HOW_MUCH = re.compile(
    rf"^(?:drops|loses|falls|sags|rises|gains|climbs)(?: by)? {_N} ?(?:v|"
    rf"volts?)\b(?! to)[^,;]*[,;] "
    rf"(?=(?:to |now |at )?{_N}(?![\d.,]| ?{_U} ?to\b))",
    re.IGNORECASE,
)
"""“Drops half a volt when the light comes, 11.6”."""
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
_ON_OFF_ON = re.compile(
    rf"^(?P<top>{_N}) ?{_U} for [^,;]+, ?(?:then )?(?:off|0|zero|nothing)\b[^,;]*, ?(?:then )?"
    r"(?P=top)\b",
    re.IGNORECASE,
)
"""“12 V for 3 s, off 3 s, 12 V for 3 s”."""
_KICKS_OF = re.compile(
    r"^(?:short |little |just |only |regular )*(?:blips?|kicks?|spikes?|pulses?|bumps?|hiccups?|"
    rf"hiccupping|bursts?)[,:]? (?:of |to |up to |at |max(?:imum)? |reaching |at most )*(?:about )?"
    rf"(?P<top>{_N} ?{_U})(?P<rest>\b(?! ?(?:-|–|to|and|/|\.\.) ?\d).*)?$",
    re.IGNORECASE,
)
_KICKS_AFTER = re.compile(
    rf"^(?P<top>{_N} ?{_U}) (?:short |little )*(?:blips|kicks|spikes|pulses|bumps|hiccups|"
    rf"bursts|peaks)\b"
    r"(?P<rest>.*)$",
    re.IGNORECASE,
)
_ABSENT = re.compile(
    rf"^(?:there is |there are )?no (?!more|less|higher|lower|better)(?:\w+ |sign of (?:the )?)?"
    rf"(?:{_N} ?v\w*|\w+ (?:voltage|volts|supply|rail))( output| rail| supply)?"
    r"(?: at all| there| here| present)?$|"
    rf"^{_N} ?v\w*(?: \w+)?,? (?:(?:is|was|has|stays|remains) )?(?:absent|gone|missing|dead|"
    rf"lost|nowhere|"
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
_WITH_DIPS = re.compile(
    rf"^(?P<top>{_N} ?{_U}),? with (?:dips|ticks|an? (?:short )?(?:dip|tick|kick|"
    rf"blip)) (?:down )?to (?P<low>{_N})",
    re.I,
)
_UP_AND_BACK = re.compile(
    rf"^(?:jumps|goes|rises|shoots|comes|kicks)?(?: up)? ?to (?P<top>{_N}) ?{_U},? (?:then |and )?"
    rf"(?:straight |right |at once )?(?:falls |drops |"
    rf"goes )?back to (?P<low>{_N}) ?{_U}(?: (?:after|in|within)\b[^,;]*)?$",
    re.IGNORECASE,
)
_TWICE_THE_SAME = re.compile(
    rf"^(?P<low>{_N})(?P<gap>[ ,;/]+)(?P<top>{_N})(?:[ ,;/]+)(?P=low)(?:[ ,;/]+)(?P=top)\b.*$"
)
_SLASHED = re.compile(rf"(?P<low>{_N}) ?/ ?(?P<top>{_N})")
_TICKING = re.compile(r"\b(?:ticks?|ticking|puls\w+|pumps?|hiccup\w*|jumps?|cycl\w+)\b", re.I)
_TAKES_ITS_TIME = re.compile(
    rf"^(?:(?:only |very )?(?:slowly|gradually) (?:up|climbs|rises|creeps)(?: up)? to|"
    rf"(?:takes|needs) (?P<how>[^,;\d]*\d*[^,;\d]*?) to(?: (?:get|reach|come|rise|"
    rf"climb)(?: up)?(?: to)?)?) "
    rf"(?P<top>{_N} ?{_U})(?P<rest>.*)$",
    re.IGNORECASE,
)
_GOES_FROM = re.compile(
    rf"(?:\b(?:goes|went|moves|changes|steps|jumps|decreases|increases|improves|warms up|slips|"
    rf"sags|creeps|runs|(?:creep|slip|sink|slid|fall|dropp|ris|climb|drift)ing|loses[^,;]*,|"
    rf"gains[^,;]*,|gives in,|breaks,)(?: (?:slowly|down|up|steadily|from))* |^from )"
    rf"({_N}) ?({_U})? (?:up |down )?to ({_N})",
    re.IGNORECASE,
)
_ON_ITS_WAY = re.compile(
    rf"^({_N}) ?({_U})?,? (?:slowly )?(?:(?:climb|ris|creep|fall|sink|dropp|sagg|slid)ing|up)"
    rf"(?: (?:up|down|slowly))* to ({_N}) ?{_U}$",
    re.IGNORECASE,
)
"""“9 V climbing to 12 V”."""


def volts_as_written(text: str) -> str:
    """The volts that were read, without what they should have been, and their course in one of few
    forms."""
    text = re.sub(r"\bw/o\b", "without", _V_FOR_POINT.sub(r"\1.\2 V", text), flags=re.IGNORECASE)
    text = re.sub(r"\bw/ ?", "with ", text, flags=re.IGNORECASE)
    denied = _NOT_BUT.match(text)
    if denied is not None:
        text = denied["read"] or text[denied.end() :]
    for beside in (_MEANT_FIRST, _MEANT_AFTER, _FORMERLY, _BEYOND_THE_ASKED, _BY_HOW_MUCH):
        text = beside.sub("", text)
    if _TICKING.search(text):
        text = _SLASHED.sub(r"\g<low> to \g<top>", text)
    for pattern, told in _FORMS:
        if found := pattern.match(text):
            return told(found)
    return _GOES_FROM.sub(_way, text)


def _way(found: re.Match[str]) -> str:
    first, last = (float(found[number].replace(",", ".")) for number in (1, 3))
    return f"{'rises' if last > first else 'falls'} from {found[1]} {found[2] or ''} to {found[3]}"


def _warmed(found: re.Match[str]) -> str:
    first, last = (float(found[key].replace(",", ".")) for key in ("cold", "warm"))
    if last > RISES_BY * first:
        return f"climbs from {found['cold']} to {found['warm']} {found['unit']}"
    return f"{found['warm']} {found['unit']}"


def _brief(found: re.Match[str]) -> str:
    rest = found["rest"] or ""
    again = re.search(r"\b(?:every|each|again)\b", rest, re.IGNORECASE)
    return f"0 to {found['top']} V, pulsing{rest}" if again else f"{found['top']} V, then gone"


def _in_a_row(found: re.Match[str]) -> str:
    way = "falls" if found["way"][0].lower() in "fsd" else "rises"
    return f"{way} from {found['first']} to {found['last']} V"


def _kicks(found: re.Match[str]) -> str:
    return f"{found['top']} pulsing {(found['rest'] or '').strip()}".strip()


_FORMS: tuple[tuple[re.Pattern[str], Callable[[re.Match[str]], str]], ...] = (
    (_ABSENT, lambda _: "0 V"),
    (_ON_ITS_WAY, _way),
    (_BRIEFLY_THERE, _brief),
    (_AT_PLUG_IN, lambda one: f"{one['top']} V, then gone"),
    (_DOWN_TO_NOTHING, lambda one: f"{one['top']} V, then 0 V"),
    (_IN_STEPS, lambda one: f"rises from {one['first']} to {one['last']} V"),
    (_MORNING, lambda one: f"rises from {one['first']} to {one['last']} V"),
    (_WHEN_LIT, lambda one: f"falls from {one['open']} to {one['loaded']} V"),
    (_OFF_AND_ON_LOAD, lambda one: f"falls from {one['open']} to {one['loaded']} V"),
    (_RISES_AND_STAYS, lambda one: f"rises from {one['first']} to {one['last']} V"),
    (_WITH_DIPS, lambda one: f"{one['low']} to {one['top']}, pulsing"),
    (_UP_AND_BACK, lambda one: f"{one['top']} V, then {one['low']} V"),
    (_TWICE_THE_SAME, lambda one: f"{one['low']} to {one['top']} V, pulsing"),
    (_BEFORE_AND_AFTER, lambda one: f"{one['last']} {one['unit']}"),
    (_NAMED_FIRST, _warmed),
    (_NAMED_AFTER, _warmed),
    (_ONE_AFTER_ANOTHER, _in_a_row),
    (_UP_AND_DOWN_TWICE, lambda one: f"0 to {one['top']} V, pulsing"),
    (_ON_OFF_ON, lambda one: f"0 to {one['top']} V, pulsing"),
    (_TAKES_ITS_TIME, lambda one: f"rises from 0 to {one['top']}{one['rest']}"),
    (_KICKS_OF, _kicks),
    (_KICKS_AFTER, _kicks),
)
"""A form of a course, and how it is told to the rest; in this order."""
