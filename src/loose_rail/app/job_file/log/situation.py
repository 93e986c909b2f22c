"""The board as it was at one moment of a told job: power, cables, what is forced, out or unplugged.

A state is said in a few words and holds until the next; what a phrase leaves out stays as it was.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from loose_rail.app.job_file.log.connections import connections
from loose_rail.boards.profile import Board
from loose_rail.kernel.negation import plain_match
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power

LAMP_WATTS = 60
_DEAD = re.compile(
    r"\bunplugged\b|\bnot plugged( in)?\b|\bno(t a)? plug in\b|"
    r"(pulled |taken )?(from|out of) the (wall|socket|outlet)\b|"
    r"\b(bulk|big can|main can|caps?)\b[^,;]{0,14}\b(under|below|less than) "
    r"(a|one|two|1|2) volts?\b|"
    r"\b(bulk|big can|main can) (is |at |reads )*(0|zero)( ?v(olts?)?)?\b(?![.,]\d)|"
    r"drained|discharged|\bdead board\b|^not connected\b|\b(no|without) (mains|power)\b|"
    r"(mains|power) (is )?(off|out|disconnected|removed|pulled)|disconnected from the (mains|wall)|"
    r"off the mains|^(it is )?pulled out$|\bpulled out(?=,|;| and|$)|"
    r"\b(not|un)[- ]?powered\b|\bde-?energi[sz]ed\b|\bpowered down\b|"
    r"\b(wall|mains) (switch|socket|breaker) (is |switched )?off\b|\bbled( down| off| out)?\b|"
    r"\b(dead|stone) cold\b|"
    r"^pulled(?=,|$)|\bin (the|my) hand\b|^measured (dead|cold|off)$|"
    r"^cold (checks?|"
    r"tests?|measurements?)\b|"
    r"\bafter (the )?discharg(e|ing)\b"
)
_STANDBY = re.compile(
    r"stand[- ]?by|set off|\bplugged( in| back)?\b|plug in|asleep|"
    r"mains (is )?(on|connected|applied|back|in|there)\b|\bsleep(s|ing)?\b|^idle\b|^with mains\b|"
    r"\bbefore (pressing|touching) (anything|a (key|button))|\benergi[sz]ed\b|\bre-?plugged\b|"
    r"\bfull mains\b|\b(wall|mains) (switch|socket|breaker) (is |switched )?on\b|"
    r"connected to the mains|red (lamp|led|light)|lamp .*\blit\b|\blive\b|powered|by remote off|"
    r"\bat \d{2,3} ?v(olts)? (mains|ac)?\b|\badapter (is )?in\b"
)
_SHOWS = re.compile(r"\blogo\b|\bpicture\b|\bmenu\b|\bhang(s|ing)\b|\bsound\b|backlight (on|lit)")
"""What is seen on its screen: it is on."""
_ON = re.compile(
    r"\bon\b(?! the (bench|strip|tester))|switched on|running|button (pressed|held|on)|power key|"
    r"in (operation|use)|playing|\bworking\b|connected to (a|the|its) (computer|pc|laptop|player)"
)
_ASKED = re.compile(
    r"\b(at|on|during|while) (the )?(power[- ]?up|start[- ]?up|start(ing)?|boot(ing)?)\b|"
    r"^start(ing)? ?up\b|\bcycling\b|\brestart(s|ing)\b|\bon and off\b|"
    r"(button|key|remote|switch) (is |was )?(pressed|held|pushed|hit)\b|power key|"
    r"\b(asked|told|commanded|made) to\b|\b(hit|pushed|pushing|hitting) (the )?(power|on|start)\b|"
    r"\b(start|boot|wake)(ing)?([- ]up)? (attempt|try)\b|\battempt(s|ing|ed)? (to|at) "
    r"(a )?(start|boot|come|wake|turn)|\bboot(s|ing)\b|\blit for\b|"
    r"\b(before|until|till|that|while|when|as long as|in which) (it|the set|everything|the picture)"
    r" (still )?(is |was )?(runs?|ran|goes|went|cuts?|shuts|trips?|switch\w*|dies|died|lasts?|"
    r"stays|up|lit|there)\b|\bstarted( up)?\b|"
    r"press(ed|ing) (the )?(power|on)|\b(it|set|tv|monitor|telly) is (switched |turned )?on\b|"
    r"tr(ies|ying) to (start|come)|(switch|turn|power)(ed|ing)?[- ]on\b(?! the (bench|table))|"
    r"\b(called|brought|fired) (up|on)\b|woken|wakes|"
    r"at switch[- ]on|while (it )?starting|power[- ]up in the set|in operation|"
    r"\b(running|playing)\b|picture there"
)
"""The set is asked to come on, whatever else is said of its mains."""
_FORCED = re.compile(
    r"\bforced\b|jumper(ed)?|\bjumped\b|tied to|"
    r"\b(connected|wired) (on)?to (the )?(\+?\d* ?vsb|stb\w*|standby|\+?\d+ ?v)\b|"
    r"\b(start|p(s|w)?[-_ ]?on|on/off|wake) (and|with|plus) (the )?(\d*vsb|standby|stb\w*) "
    r"(joined|linked|bridged|shorted|connected|together)\b|"
    r"\b(\d*vsb|standby|stb\w*|\d ?v) on (the )?(start|p(s|w)?[-_ ]?on|on/off|wake)\b|"
    r"\bpins? \d+ (to|and|with) (pin )?\d+ (linked|joined|bridged|shorted|together|connected)\b|"
    r"\bwoken (by hand|with (a )?(\d|wire|resistor|"
    r"link))|"
    r"\bbridged$|\b(bridge|link|jumper) [\w-]+ (is )?(in place|on|fitted|set)\b|"
    r"(bridged|linked|joined|wired|strapped|shorted) (to|with)|"
    r"1 ?k from|\bstart (signal |line |pin )?(is )?(bridged|linked|faked|wired|joined)\b|"
    r"\b(bridge|link|wire|resistor) (from|between|across|over|on|in)\b[^,;]*"
    r"\b(start|stb\w*|p(s|w)?[-_ ]?on|rly|relay|wake)\b|"
    r"\b(start|stb\w*|p(s|w)[-_ ]?on|p[-_]?on|on|on/off|rly|relay|wake|ena?|enable)"
    r"( line| pin| signal)? (is )?(pulled|held|tied|taken|fed|set|strapped|grounded|earthed)|"
    r"\bp(s|w)?[-_ ]?on (to|on) (the )?(\+?\d+ ?v|\d*v?s(t?b|tby)|e?vsb|stand|ground|gnd)|"
    r"(pulled|held) to ground through|"
    r"\b(start|stb\w*|p(s|w)?[-_ ]?on|rly|relay|wake)( line| pin| signal)? (to|on|at) (the )?"
    r"(ground|gnd|minus|\+?\w* ?vs?b?\w*)\b|"
    r"\b(standby|5vsb|stb\w*) (and|to) (the )?(on|start|ps[-_ ]?on|wake|relay)( pin| line)? "
    r"(shorted|joined|linked|bridged|together|connected)|"
    r"\b(start|stb\w*|(\w*[-_])?on|on/off|rly|relay|wake|bl\w*|[ap]?dim|adj|ena?\w*)\b[^,;]*"
    r"\b(through|via|over|with) (a )?1 ?k\d?\b"
)
_HELD = re.compile(
    r"\b(start|stb\w*|p(s|w)?[-_ ]?on|on/off|rly|relay|wake)( line| pin| signal)? "
    r"(is )?(high|low|by hand|at \d)|\b(bench|external|lab) supply (on|to|at|into) (the )?"
    r"(start|p(s|w)?[-_ ]?on|on/off|rly|relay|wake)\b"
)
"""A start that is there without the board that gives it: it is held from outside."""
_NOT_FORCED = re.compile(
    r"\b(bridge|link|jumper|wire)( [\w-]+)? (is |taken )*(out|off|removed|open|away|gone)\b|"
    r"\b(no|without (the |a )?) ?(bridge|link|jumper)\b|"
    r"\bp(s|w)?[-_ ]?on( line| pin)? (is |left )*(open|floating|free|not \w+)\b|"
    r"\bnot (bridged|forced|linked|jumped|jumpered|tied)\b"
)
"""What wakes it has been taken off, or was never there."""
_ASLEEP = re.compile(
    r"\bnot( yet)? (switched|turned|woken|started|powered (?:on|up))( it)?( on| up)?\b|"
    r"\bbutton not( yet)? pressed|\b(no|without a) (button|key)( yet)?( pressed| touched)?\b|"
    r"\bleft (in|on) stand-?by|\b(back )?on (the )?mains( again)?\b|\bmains (back )?on again\b"
)
"""On the mains, and not asked to come on."""
_CHECKED = re.compile(
    r"^(all |set |switched )?off\b.*\b(checked|measured|drained|discharged|empty|emptied|"
    r"(under|below) \d+(\.\d+)? ?v|[a-z]\w* (at |is |reads )?\d{1,2}(\.\d+)? ?v)\b|"
    r"\bpulled the (plug|cord|lead)\b|^(the )?(power )?board (is |"
    r"was )?(taken )?out( of the (set|cabinet))?$|"
    r"\b(alone|by itself), cold$"
)
_NO_LAMP = re.compile(
    r"\b(lamp|bulb|limiter)( limiter)? (is |was |taken )*(out|off|removed|gone|bypassed|away)\b|"
    r"\b(no|without( the| a)?) (series |dim )?(lamp|bulb|limiter)\b"
)
"""The lamp is in line no more."""
_LAMP = re.compile(
    r"\b(on|by|with) (a |the )?(\d+ ?w )?(light )?(lamp|bulb)\b|^(lamp|bulb)\b(?=,)|"
    r"\b(bulb|lamp) tester\b|(series|limiting|test|dim|light|current|(through|behind|over) (a|"
    r"the)) (lamp|bulb)|"
    r"limiter|(lamp|bulb)( of)?( \d+ ?w)? in (the )?(line|series)|bulb in|\d+ ?w (lamp|bulb)|"
    r"(lamp|bulb) (of )?\d+ ?w"
)
_PLUG_OUT = re.compile(
    r"(^|[,;] ?)(the |its |mains |power |own |wall )*(plug|cord|lead|adapter|brick) (is )?"
    r"(out|pulled|off|unplugged|disconnected)\b"
)
_LOADS_PLUGGED = re.compile(
    r"\b(lamps?|tubes?|strips?|leds?|speakers?|boards?|cables?|ribbons?|drives?) "
    r"(is |are |all |both )*plugged( in| on)?\b"
)
"""What hangs on the supply, and no mains plug."""
_ALL_ENABLES = re.compile(r"\bvs[-_ ]?on\b|\bva[-_ ]?on\b|all enables|sustain enable")
_ALL_OFF = re.compile(
    r"board alone|alone on the bench|nothing (else )?(connected|plugged|attached|hooked up|hung on)"
    r"|nothing on (its|the) outputs?|"
    r"(?<!off )(?<!on )(?<!out )(by|on|to) itself( on the bench)?|\bnothing else$|"
    r"on the bench (by itself|alone)|uncabled|out of the set|"
    r"\bmain( ?board)? off the cable|(without|no) (its |the |any )?(cables|boards?|loads?)\b|"
    r"bare board|^bare\b|\bunloaded\b|\bno load\b|\boutputs? (open|free|unloaded)\b|"
    r"\b(psu|(power )?supply|(power )?board) (alone|only|(is |lies |lying )?on the (table|bench|"
    r"mat))\b|"
    r"\b(just|only) (the )?(psu|(power )?supply|power board)\b|\bno (leads|plugs|wires)\b|"
    r"\b(disconnected|isolated|cut off) from (everything|all( the)? boards|the (set|boards))\b|"
    r"\b(all )?(the )?outputs?( plugs?| cables?)? (are |is )?(pulled|disconnected|unplugged|off)\b|"
    r"\beverything (is )?(unplugged|disconnected|off|pulled) (except|but)( the)? mains\b|"
    r"^board (is |was )?taken out\b|\b(only|just) (the )?mains( lead| cord| cable| plug)? "
    r"(is )?(connected|on|in|plugged)\b|"
    r"\ball (the )?(boards|cables|plugs) (off|out|pulled)\b"
)
_ALL_ON = re.compile(
    r"all (boards )?(on|plugged|connected)|everything (is )?(plugged|connected|on)|"
    r"everything in\b|back in the set|assembled|in the set|complete\b|\bcabled|"
    r"all (the )?plugs (home|in)\b|"
    r"everything (re-?connected|back)|\b(psu|supply|power board) and main\b|"
    r"^with (the )?main( board)?$"
)


@dataclass(frozen=True, slots=True)
class Situation:
    """Where the board is: `state` None until one is said. `without` are loads that are unplugged,
    `forced` whether a signal is tied from outside, `cabled` whether that is done with the main
    board plugged, `out` parts that are removed or lifted, `warm` whether the set is said to be hot,
    `failing` whether the fault is said to be there just now, `loaded` whether a dummy load is on,
    `tied` the signal beside the start that is held from outside with the set on.
    """

    state: BoardState | None = None
    without: frozenset[str] = frozenset()
    forced: bool = False
    out: frozenset[str] = frozenset()
    warm: bool = False
    cabled: bool = False
    failing: bool = False
    loaded: bool = False
    tied: str = ""

    @property
    def known(self) -> BoardState | None:
        """The state with the load that is unplugged: the model knows one at a time."""
        if self.state is None or self.state.power is not Power.ON or not self.without:
            return self.state
        return replace(self.state, without=min(self.without))


FAILING = re.compile(
    r"\b(dead|dark|off|failing|fails|not working|gone) (at the moment|now|just now|right now|"
    r"again)\b|"
    r"\b(while|when) (it |the fault |the set )?(is |was )?(dead|failing|fails|off|gone|there|"
    r"dark)\b|"
    r"\bwhile (the |that )?[\w. ]{1,16} is (gone|away|dead|down|out)\b|\bduring the fault\b|"
    r"\bin the failed state\b|^(dead|off|dark|failed|gone|black)( now| again)?,",
    re.IGNORECASE,
)
"""The fault is there at this moment."""


_DUMMY_LOAD = re.compile(
    r"\bdummy\b|\bload resistors?\b|\belectronic load\b|"
    r"\b\d+ ?(?:ohms?|Ω|r)\b[^,;]*\b(?:across|on|over|at|from|to) (?:the )?\+?[\dA-Z]",
    re.IGNORECASE,
)
"""A load in place of the set's boards."""


def brought(
    board: Board, before: Situation, text: str, *, starts: bool = False
) -> Situation | None:
    """The situation after a phrase; None where the phrase says nothing about power or cables.
    `starts`: the set is known to come on, so one that is complete, and no more is said, is on."""
    found = _brought(board, before, text, starts)
    if found is None:
        return None
    failing, loaded = bool(FAILING.search(text)), bool(_DUMMY_LOAD.search(text))
    return replace(found, failing=failing, loaded=loaded)


_SHORTHAND = (
    (
        re.compile(r"\bac\b(?= (is )?(on|off|applied|removed|disconnected|connected|in|out)\b)"),
        "mains",
    ),
    (re.compile(r"\b\d{2,3} ?v(ac)? (?=(is )?applied\b)"), "mains "),
    (re.compile(r"\bw/o\b"), "without"),
    (re.compile(r"\bw/(?=[ \w])"), "with "),
    (re.compile(r"(^|, ?|\bin )(s/b|sb|stby|stb)\b(?=,| with|$)"), r"\1standby"),
)
"""As they are written on a card in a hurry."""


def _brought(board: Board, before: Situation, text: str, starts: bool) -> Situation | None:
    words = text.lower().replace("’", "'")
    for short, long in _SHORTHAND:
        words = short.sub(long, words)
    said = connections(board, words)
    power = _power(words, said.rest)
    off = said.off
    cable = said.main if said.main is not None else _cable(said.rest)
    behind_lamp = plain_match(_LAMP.pattern, _NO_LAMP.sub(" ", words)) and not board.adapter_fed
    lamp = LAMP_WATTS if behind_lamp else 0
    warm = bool(re.search(r"\bhot\b|\bwarm\b", words)) and not re.search(r"\bcold\b", words)
    silent = power is None and cable is None and not off and not lamp
    if silent and not re.search(r"\bhot\b|\bwarm\b|\bcold\b|panel open|tester", words):
        return None
    last = before.state or BoardState(Power.STANDBY, True, 0)
    if power is Power.UNPLUGGED:
        return replace(before, state=UNPLUGGED, without=off, forced=False, warm=warm)
    if power is None:
        if last.power is Power.UNPLUGGED and not lamp and not (cable is not None and not off):
            return replace(before, without=before.without | off, warm=warm)
        power = Power.STANDBY if last.power is Power.UNPLUGGED else last.power
        if before.state is None and starts and cable and not lamp and not off:
            power = Power.ON
        lamp = lamp or (0 if _NO_LAMP.search(words) else last.lamp_watts)
    forced = power is Power.FORCED
    if forced and off and _ALL_ENABLES.search(words) and board.stage("sustain") is not None:
        # with its enables tied too the supply gives what it does in the set, without those boards
        state = BoardState(Power.ON, True, 0)
        return Situation(state, off, True, before.out, warm, cabled=True)
    if power is Power.STANDBY and last.power is Power.ON and FAILING.search(words):
        power = Power.ON  # nobody has switched it off: it failed
    bare = cable is False or bool(_DUMMY_LOAD.search(words))
    if power in (Power.ON, Power.STANDBY) and bare and _HELD.search(_NOT_FORCED.sub(" ", words)):
        power, forced = Power.FORCED, True
    attached = cable if cable is not None else not forced
    if power is Power.ON and not attached:
        power = Power.STANDBY  # without the main board nobody asks
    if forced:
        state = BoardState(Power.FORCED, False, lamp)
    else:
        state = BoardState(power, attached, 0 if power is Power.ON else lamp)
    return Situation(state, off, forced, before.out, warm, forced and attached)


def _power(words: str, rest: str) -> Power | None:
    """What a phrase says of power; `rest` is the phrase without what it says of cables."""
    if _FORCED.search(_NOT_FORCED.sub(" ", words)):
        return Power.FORCED
    rest = _ALL_ON.sub(" ", _ALL_OFF.sub(" ", _ASLEEP.sub(" standby ", rest)))
    rest = re.sub(r"set off|lamp [\w ]*\blit\b|^(all |switched )?off$", " standby ", rest)
    rest = _LOADS_PLUGGED.sub(" ", rest)
    if _PLUG_OUT.search(words) or _CHECKED.search(words):
        return Power.UNPLUGGED
    if _DEAD.search(rest) and not re.search(r"\bunplugged\b.*\bplugged in\b", rest):
        return Power.UNPLUGGED
    if _ASKED.search(rest):
        return Power.ON
    if _STANDBY.search(rest):
        return Power.STANDBY
    if _SHOWS.search(rest):
        return Power.ON
    if _ON.search(rest):
        return Power.ON
    return None


def _cable(words: str) -> bool | None:
    """Whether the main cable is on: None where it is not said."""
    if _ALL_OFF.search(words):
        return False
    return True if _ALL_ON.search(words) else None


_HOW_IT_STANDS = re.compile(
    r",? ?\b(?:with )?(?:its |the |main |all |other |address |drive |both |no |[xyzw] )*"
    r"(?:cables?|plugs?|boards?|ribbons?|loads?)(?: is| are)? "
    r"(?:on|off|pulled|unplugged|out|connected|disconnected|fitted)\b|"
    r" ?\bat the (?:(?:power )?supply(?! (?:pin|capacitor|resistor|rail|side|of)\b)|power board|"
    r"psu)(?: end| side)?\b|,? \b(?:as )?(?:it )?(?:coming |that comes |comes |given |"
    r"sent )?from (?:the )?main(?: ?board)?\b",
    re.IGNORECASE,
)
"""What is told of cables and boards beside a place: it says how the board stands, not where."""


def place_alone(at: str) -> str:
    """A place without what is told beside it of how the board stands."""
    return _HOW_IT_STANDS.sub(" ", at).strip() or at
