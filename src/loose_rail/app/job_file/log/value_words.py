"""The words with which people write what a display showed: numbers, ranges, courses, ticking."""

from __future__ import annotations

import re

WANDERS_SHARE = 0.04
"""A rail that is said to wander, with one number: some per cent either way [E]."""
TICKS_BELOW_SHARE = 0.5
"""A rail that comes down to less than this again and again restarts [P]."""
SURELY_TICKS_BELOW_SHARE = 0.3
"""No rail that only wanders comes down so far [P]."""
NUMBER = r"[-−+]?\d+(?:[.,]\d+)?(?:[RKkMmuµn]\d+)?"
UNIT = (
    r"(?:mv|milli ?ohms?|v(?:dc|ac)?\b|volts?|meg ?(?:ohms?|Ω)?|"
    r"[km]?\s?(?:ohms?|Ω|ω)|[kKM]\b|r\b|[µumnp]?f\b)"
)
_RAIL = r"(?:pin|rail|line|output|side|bus|supply|sb|stb|stby|standby)"
_READS = r"(?:is|are|reads?|measures?|stands at|sits at|only|now|just|still|at|=|:)"
RAIL_NAME = re.compile(
    rf"^\s*(?:(?:on|at) )?(?:the )?\+?\d+(?:[.,]\d+)? ?v(?:\d+|dc|sb|stb)?\b"
    rf"(?:(?: {_RAIL})+(?: ?{_READS}(?![a-z]))*|"
    rf"(?: ?(?!at\b|now\b|only\b|still\b){_READS}(?![a-z]))+|"
    rf"(?<=\dv\d) ?{_READS})[ ,]*"
    r"(?=(?P<gone>(?:dead|missing|gone|absent|nothing|zero|not there)\b)|"
    r"(?P<number>\D{0,24}\d+(?:[.,]\d+)?(?!\d| ?(?:s|ms|sec|seconds?|min|minutes?|h)\b)))",
    re.IGNORECASE,
)
"""“5v rail reads 4.2”, “12 V line dead”: what a rail is called is none of its volts."""
BESIDE_IT = re.compile(
    rf"\D{{0,24}}{NUMBER} ?(?:{UNIT})?(?: of)?(?: ac| rms)? "
    r"(?:ripple|too|more|less|above|below|higher|lower|short)\b",
    re.IGNORECASE,
)
"""“12 V is 2 V too low”: by how much, not what it reads."""
VALUE = re.compile(rf"({NUMBER})\s?({UNIT})?", re.IGNORECASE)
RANGE = re.compile(
    rf"({NUMBER})\s?({UNIT})?\s?(?:to|-|–|\.\.\.?|…|and|or|up to)\s?({NUMBER})\s?({UNIT})?", re.I
)
THEN = re.compile(
    rf"(?:up to )?({NUMBER})\s?({UNIT})?[,;]?\s*(?:and |but )?"
    r"(?:then|giv(?:es|ing) way to|slides?|sliding|fall(?:s|ing)?|sag(?:s|ging)?|drop(?:s|"
    r"ping)?|dips?|dipping|"
    r"sink(?:s|ing)?|"
    r"(?:collaps(?:es|ing)|breaks down) to|decay(?:s|ing)|(?:(?:pulled|dragged|loaded|drawn|"
    r"goes) )?down to)\b\D*?"
    rf"({NUMBER}|nothing|zero)\s?({UNIT})?",
    re.IGNORECASE,
)
SETTLES = re.compile(
    rf"\bthen (?:it )?(?:holds|stays|settles|stands|steady|remains)(?: at| on)? ({NUMBER})"
    rf"\s?({UNIT})?",
    re.IGNORECASE,
)
"""Where a course ends is what the point reads."""
SLIP = re.compile(
    r"wrong (row|pin|point|place|hole|one)|slipp?ed|misread|by mistake|counted (down|from|wrong)|"
    r"leads? (was |were |sat |is |are )?(still )?"
    r"in the (wrong|volts?|amps?|current|m?a|10 ?a) (sockets?|jacks?|holes?)|"
    r"was (a )?slip|neighbou?ring pin|\boops\b|"
    r"(probe|tip|lead) (was|sat|stood|sits) on (?!the right)|"
    r"(was|sat) on pin \d|one pin (too far|off)|scrap that|ignore (it|this)|not counted|"
    r"forget (it|this)|lead (fell|came) off|zigzag|"
    r"that.s the ground",
    re.IGNORECASE,
)
TICKS = re.compile(
    r"tick|puls|pump|jump|oscillat|\bhunt|yo-?yo|see-?saw|twitch|blink|hiccup|cycl|"
    r"climbs?\b.*\b(drops?|falls)|up and down|"
    r"same (rhythm|beat|pace)|in step|comes and goes|again and again|saw.?tooth|"
    r"\bsaw(s|ing)\b|up \d+ s,? down|never gets up|"
    r"(once|twice|times|every)\b.*\bseconds?",
    re.IGNORECASE,
)
GIVES_WAY_TO = re.compile(
    r"(\d+(?:[.,]\d+)?) ?([mk]?)v\b[^;.]{1,40}?"
    r"\b(?:falls?|drops?|sags?|sinks?|dips?|collapses?) to "
    r"(?:about |only |some )?(\d+(?:[.,]\d+)?) ?([mk]?)v\b",
    re.IGNORECASE,
)
"""“390 V with a dark picture, falls to 240 V when it gets bright”."""
WANDERS = re.compile(
    r"wander|drift|restless|unsteady|swings?|not steady|noisy|trembl|quiver|breath|flutter|"
    r"jitter|dances",
    re.IGNORECASE,
)
GONE = re.compile(
    r"then (all |it )?(off|goes|gone|dead|drops?|out|0|nothing|relay|collapses|dies)|"
    r"for (a|one|two|half a|about \w+) (second|moment)s?,? then|relay (drops|opens)|"
    r"at the moment it goes|falls a moment",
    re.IGNORECASE,
)
BLIP = re.compile(
    r"\b(?:a|one|only|short|just) (?:\w+ )?(?:blip|kick|bump|twitch)\b", re.IGNORECASE
)
"""Up and gone, once."""
TIMES = re.compile(r"\b(?:twice|thrice|(?:two|three|four|several|a few|\d+) times)\b", re.I)
SHUTS = re.compile(
    r"then (everything |all |the set |it |the supply )?(shuts|switches|goes|cuts|turns|trips|drops)"
    r"( itself)? (off|down|dead|out)\b(?!.*(again|every|over and over))",
    re.IGNORECASE,
)
ALL_GOES = re.compile(r"then (off with|all goes|everything|the set)|with the relay", re.IGNORECASE)
KICKS = re.compile(
    r"\b(?:pulses|blips|jumps|kicks|twitches|bounces|flicks|spikes|hops|leaps)(?: up)?(?: to)?"
    r"(?: about)? "
    rf"({NUMBER})\s?({UNIT})?"
    r"(?![.,]?\d| ?(?:to|-|–|and) ?\d)",
    re.IGNORECASE,
)
KICK_FIRST = re.compile(
    rf"^(?:0(?:[.,]0+)?|nothing|zero)\s?(?:v|volts?)?,? (?:but |with |and |after )*"
    rf"(?:(?:a|one|just|only|short|little|brief|single) )*"
    rf"(?:kick|blip|bump|twitch|jump|pulse)s? (?:of|to|up to|at) "
    rf"(?:about )?({NUMBER})\s?({UNIT})?",
    re.IGNORECASE,
)
"""“0 V, a short kick of 6 V at first”."""
AROUND = re.compile(
    r"(?:dances|wanders|wavers|drifts|noisy|restless|unsteady|trembl\w+|quiver\w+),? (?=around|"
    r"about|by)",
    re.IGNORECASE,
)
AND_AGAIN = re.compile(
    rf"({NUMBER})\s?({UNIT})?,? (?:and )?then ({NUMBER}|nothing|zero)\s?(?:{UNIT})?,? "
    rf"(?:and )?then \1\b",
    re.IGNORECASE,
)
"""“3.2 then 0 then 3.2”."""
AND_BACK = re.compile(
    r"and (straight |right )?(back|up again)|at (each|every)|(once|twice|times|every)\b[^.;]{0,12}"
    r"\b(seconds?|s)\b|again and again|over and over|\brepeat(s|ing|edly)\b|\bin a loop\b|"
    r"\bforever\b|\bthen [^,;]{0,12}\bagain\b|\b(rises|climbs|comes|starts|builds up|goes up|"
    r"tries) again\b",
    re.IGNORECASE,
)
"""What falls and is back again and again restarts."""
AWAY_AND_BACK = re.compile(
    r"\b(goes|drops|falls|dips|down) (down )?(to )?(0|zero|nothing|away)( v)?\b[^.;]{0,10}"
    r"\b(and|then) (is |comes |up )?(back|up|again)\b",
    re.IGNORECASE,
)
"""The note of a rail or a request that comes and goes."""
DIES = re.compile(
    rf"({NUMBER})\s?({UNIT})?[^\d;]{{0,24}}?(?:(?:and|then|but)(?: it)?,? (?:dies|clicks off|"
    rf"shuts (?:off|down)|turns off|switches off|cuts out|"
    rf"cuts|is gone|"
    r"goes|gone|collapses|drops out|nothing(?! (?:more|else))|off|out)|then (?:0|zero|nothing)\b|"
    r"collapses(?! to\b)|lets go|falls away|drops away|breaks down(?! to)|"
    r"until (?:it|the (?:relay|set|supply|protection)|everything) (?:drops|trips|goes|cuts|"
    r"shuts|dies|"
    r"opens|clicks|switches)|"
    r"(?:and|then|but),? (?:the |its )?(?:relay (?:drops|opens|falls|releases|lets go|clicks off|"
    r"goes|trips)|protection\b))",
    re.IGNORECASE,
)
TO_AND_FRO = re.compile(
    rf"from ({NUMBER})\s?({UNIT})? (?:down |up )?to ({NUMBER})\s?({UNIT})?", re.I
)
DOWN = re.compile(
    r"\b(drops?|falls?|sags?|sinks?|dips?|comes down|goes down|slides?|fades?|declines?|slumps?|"
    r"decays?|collapses|runs down|"
    r"breaks down|bleeds)\b",
    re.IGNORECASE,
)
UP = re.compile(r"\b(creeps?|climbs?|rises?|comes up|goes up|builds up|grows)\b", re.IGNORECASE)
CREEPS = re.compile(
    rf"\b(?:creeps?|climbs?|rises?|grows|drifts)(?: \w+)? (?:up )?to (?:about )?({NUMBER})",
    re.IGNORECASE,
)
GIVES_WAY = re.compile(
    rf"^({NUMBER})\s?({UNIT})?,? (?:then )?(?:after|within) "
    r"(?:about |some )?(?:\d+|a|one|two|three|five|six|seven|eight|nine|ten) ?"
    rf"(?:s|sec|seconds?|min|minutes?)\b:?,? (?:it is |only |down to )?({NUMBER})\s?({UNIT})?",
    re.IGNORECASE,
)
"""“5.0 V, after seven seconds 2.9”."""
COLD_THEN_WARM = re.compile(
    rf"^({NUMBER})\s?({UNIT})? (?:when |while )?cold,? (?:then |and )?"
    rf"(?:after|within|in) (?:about )?\w+ ?(?:s|sec|seconds?|min|minutes?|h|hours?|while)\b"
    rf":?,? (?:it is |at |up to |down to )?"
    rf"({NUMBER})\s?({UNIT})?",
    re.IGNORECASE,
)
"""“5.1 cold, after 40 min 5.9 and rising”: what it reads warm is what the set does wrong."""
AFTERWARDS = re.compile(
    rf"({NUMBER})\s?({UNIT})?,? (?:and )?({NUMBER})\s?({UNIT})? "
    r"(?:after|once|when it is warm|later)",
    re.IGNORECASE,
)
PULSING = re.compile(
    r"\b((short |little )?(kicks|bursts|blips|pulses)|pulsing|pulsat\w+|"
    r"(with )?(a|the|its|same) (tick|pulse|beat)\b|ticking|twitching|kicks?( a bit)?|hiccupp?ing|"
    r"pumping)\b|^(it )?(pumps|pulses|ticks|hiccups)\b",
    re.IGNORECASE,
)
EACH_ITS_OWN = re.compile(
    rf"{NUMBER}\s?({UNIT})?,? (when|while|lit|dark|with|in stand\w*|(?:un)?plugged)\b.*\d.*"
    r"\b(when|while|lit|dark|with|in stand\w*|(?:un)?plugged)\b",
    re.I,
)
"""Two readings in one entry, each in a state of its own."""
NOT_UP = re.compile(r"does ?n.t (go|come) up|does not (go|come) up|stays down", re.IGNORECASE)
SOME_MILLIVOLTS = re.compile(r"^(a )?(few|some) (mv|millivolts?)$", re.IGNORECASE)
FEW_MILLIVOLTS = 3e-3
"""Volts: nothing, as a display shows it [P]."""
ONCE = re.compile(
    r"(?:for (?:a|one|half a|two) (?:split )?(?:seconds?|moment)|rises|jumps|(?:goes|comes) up) ?"
    r"[^.;]{0,30}(?:then|and) (?:it )?(?:falls |goes |is |drops )?(?:back|down|off|gone|0)\b"
    r"(?!.{0,24}(?:again|every|once|times))",
    re.IGNORECASE,
)
LATER = re.compile(rf"\bthen (?:up to )?({NUMBER})\s?({UNIT})?\s*$", re.IGNORECASE)
OPEN = re.compile(
    r"\bo\.?l\b|\bopen\b|no reading|infinit|\bovld\b|\bovl\b|over ?limit|over ?load|(out of|"
    r"over) ?range"
)
FORWARD = re.compile(r"\b[0-3][.,]\d+(?=\D|$)")
ZERO = re.compile(
    r"^not (?:a|one) (?:single )?volt$|"
    r"^(?:(?:stays|remains|still|sits|stuck|it is|its|it's|is)(?: at| on)? )?"
    r"(?:(?:also|likewise|too|again|here too|all)[, ]+)?"
    r"(nothing(?: on (?:either|any|both)| measurable)?|(?:flat |plain |clean )?zero|nil|none|"
    r"(?:stone |quite |"
    r"completely |totally )?dead(?: as .*)?|naught|"
    r"nought|zilch|nada|zip|missing|absent|gone|not there|lost|"
    r"not present)( at all| there| here| as well| too| either)*( v(olts?)?)?"
    r"(,? (when|while|as|with) the (button|key|remote)[\w ]*)?$|"
    r"^(no|not a|not one|without)( any)? (volts?|voltage|supply|output|reading|ac|dc|ripple|power|"
    r"mains)( at all| there| here| either| as well)*$"
)
SILENT = re.compile(r"\b(no|not|never|doesn.?t|does not|without)( a)? (beep|continuity)|\bsilent\b")
SILENT_OHMS = 50.0
"""A buzzer that stays silent has at least that before it [P]."""
MILLIVOLTS_FROM = 10.0
"""A diode test's bare number from here is millivolts: no range of it shows ten volts [P]."""
UP_AND_AWAY = re.compile(
    rf"up to ({NUMBER})\s?({UNIT})?,? (?:and |then )?(?:drops|falls|collapses|off|gone|0)[^;]*"
    r"\b(?:again|over and over)\b",
    re.IGNORECASE,
)
FALLS_TO = re.compile(rf"(?:falls?|sags?|drops?|down) to (?:about )?({NUMBER})", re.IGNORECASE)
SAGS = re.compile(r"\bthen (it )?(sags|falls|drops)|sags within", re.IGNORECASE)
BETWEEN = re.compile(rf"between ({NUMBER}) and ({NUMBER})|({NUMBER}) to ({NUMBER})", re.I)
RATE = re.compile(
    r"(?:about |roughly |some )?(?:(once|twice|\d+(?:\.\d+)? times|two or three times)"
    r"(?: (?:a|per|each|every))? ?(second|sec\b|s\b)|(?:once (?:in|every|per) )?(?:every|each) "
    r"(couple of|\w+)? ?seconds?|once in (?:about )?(two|three|four|five|ten|\d+) seconds?)",
    re.IGNORECASE,
)
