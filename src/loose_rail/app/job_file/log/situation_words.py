"""The words with which people say how a board stood: power, what asks it to start, cables, a lamp
in line."""

from __future__ import annotations

import re

_MAINS = (
    r"\b(?:mains|ac|wall|power)(?: (?:cord|plug|lead|cable|flex|socket|supply|input))?|"
    r"\b(?:cord|flex|adapter|brick)"
)
_IS = r"(?: (?:is|was|are|has been|taken|switched|still|now|just))*"
MAINS_AWAY = re.compile(
    rf"(?:{_MAINS}){_IS} (?:off|out|removed|pulled|disconnected|unplugged|gone|away|cut|absent)\b"
)
MAINS_THERE = re.compile(
    rf"(?:{_MAINS}){_IS} (?:on|in|applied|connected|back|plugged(?: in)?|there|present|restored)\b"
)
"""What feeds the board, and whether it is there: “mains cord removed”, “AC applied”."""
DEAD = re.compile(
    r"\bunplugged\b|\bnot plugged( in)?\b|\bno(t a)? plug in\b|"
    r"(pulled |taken )?(from|out of) the (wall|socket|outlet)\b|"
    r"\b(bulk|big can|main can|caps?)\b[^,;]{0,14}\b(under|below|less than) "
    r"(a|one|two|1|2) volts?\b|"
    r"\b(bulk|big can|main can) (is |at |reads )*(0|zero)( ?v(olts?)?)?\b(?![.,]\d)|"
    r"drained|discharged|\bdead board\b|^not connected\b|\b(no|without) (mains|power)\b|"
    r"(mains|power) (is )?(off|out|disconnected|removed|pulled)|disconnected from the (mains|wall)|"
    r"off the mains|^(it is )?pulled out$|\bpulled out(?=,|;| and|$)|"
    r"\b(not|un|de)[- ]?powered\b|\bset off the mains\b|^cold, with the ohm ?meter|"
    r"\bwith the ohm ?meter$|\bde-?energi[sz]ed\b|\bpowered down\b|"
    r"\b(wall|mains) (switch|socket|breaker) (is |switched )?off\b|\bbled( down| off| out)?\b|"
    r"\b(dead|stone) cold\b|"
    r"^pulled(?=,|$)|\bin (the|my) hand\b|^measured (dead|cold|off)$|\bcold and empty\b|"
    r"\bnothing powered\b|\bvoltage[- ]free\b|"
    r"^cold (checks?|"
    r"tests?|measurements?)\b|"
    r"\bafter (the )?discharg(e|ing)\b"
)
STANDBY = re.compile(
    r"stand(ing)?[- ]?by|set off(?! the mains)|\bplugged( in| back)?\b|plug in|asleep|"
    r"mains (is )?(on|connected|applied|back|in|there)\b|\bsleep(s|ing)?\b|^idle\b|^with mains\b|"
    r"\bbefore (pressing|touching) (anything|a (key|button))|\benergi[sz]ed\b|\bre-?plugged\b|"
    r"\bfull mains\b|\b(wall|mains) (switch|socket|breaker) (is |switched )?on\b|"
    r"connected to the mains|red (lamp|led|light)|lamp .*\blit\b|\blive\b|powered|by remote off|"
    r"\bat \d{2,3} ?v(olts)? (mains|ac)?\b|\badapter (is )?in\b"
)
SHOWS = re.compile(
    r"\blogo\b|\bpicture\b|\bmenu\b|\bhang(s|ing)\b|\bbrightness\b|\bloud\b|\bsound\b|"
    r"backlight (on|lit)"
)
"""What is seen on its screen: it is on."""
ON = re.compile(
    r"\bon\b(?! the (bench|strip|tester))|switched on|running|button (pressed|held|on)|power key|"
    r"in (operation|use)|playing|\bworking\b|connected to (a|the|its) (computer|pc|laptop|player)"
)
ASKED = re.compile(
    r"(^|[,;] ?)(and )?on(?=$|[,;])|"
    r"\b(responding|reacting|answering) to the (remote|key|button)|\btries\b|\btrying to \w+|"
    r"\boperat(es|ing)\b|"
    r"\b(at|on|during|while) (the )?(power[- ]?up|start[- ]?up|start(ing)?|boot(ing)?)\b|"
    r"^start(ing)? ?up\b|\bcycling\b|\brestart(s|ing)\b|\bon and off\b|"
    r"(button|key|remote|switch) (is |was )?(pressed|held|pushed|hit)\b|power key|"
    r"\b(asked|told|commanded|made) to\b|\b(hit|pushed|pushing|hitting) (the )?(power|on|start)\b|"
    r"\b(start|boot|wake)(ing)?([- ]up)? (attempt|try)\b|"
    r"\bat the (very )?moment of (the )?start|\battempt(s|ing|ed)? (to|at|a) "
    r"(a )?(start|boot|come|wake|turn)|\bboot(s|ing)\b|\blit for\b|"
    r"\b(before|until|till|that|while|when|as long as|in which) (it|the set|everything|the picture)"
    r" (still )?(is |was )?(runs?|ran|goes|went|cuts?|shuts|trips?|switch\w*|dies|died|lasts?|"
    r"stays|up|lit|there)\b|\bstarted( up)?\b|"
    r"press(ed|ing|es)? (the )?(power|on)|\b(it|set|tv|monitor|telly) is (switched |turned )?on\b|"
    r"tr(ies|ying) to (start|come)|(switch|turn|power)(ed|ing)?[- ]on\b(?! the (bench|table))|"
    r"\b(called|brought|fired) (up|on)\b|woken|wakes|"
    r"at switch[- ]on|while (it )?starting|power[- ]up in the set|in operation|"
    r"\b(running|playing)\b|picture there"
)
"""The set is asked to come on, whatever else is said of its mains."""
FORCED = re.compile(
    r"\bforced\b|jumper(ed)?|\bjumped\b|tied to|"
    r"\b(connected|wired) (on)?to (the )?(\+?\d* ?vsb|stb\w*|standby|\+?\d+ ?v)\b|"
    r"\b(start|p(s|w)?[-_ ]?on|on/off|wake) (and|with|plus) (the )?(\d*vsb|standby|stb\w*) "
    r"(joined|linked|bridged|shorted|connected|together)\b|"
    r"\b(\d*vsb|standby|stb\w*|\d ?v) on (the )?(start|p(s|w)?[-_ ]?on|on/off|wake)\b|"
    r"\bpins? \d+ (to|and|with) (pin )?\d+ (linked|joined|bridged|shorted|together|connected)\b|"
    r"\b(kick[- ]?started|started) (by hand|by (a |the )?(wire|resistor|link|jumper))|"
    r"\bwoken (by hand|with (a )?(\d|wire|resistor|"
    r"link))|"
    r"\bbridged$|\b(bridge|link|jumper) [\w-]+ (is )?(in place|on|fitted|set)\b|"
    r"(bridged|linked|joined|wired|strapped|shorted) (to|with)|"
    r"1 ?k from|\b(start|wake|on/off|p(s|w)?[-_ ]?on) (signal |line |pin )?(is )?(bridged|"
    r"linked|faked|wired|joined)\b|"
    r"\b(bridge|link|wire|resistor) (from|between|across|over|on|in)\b[^,;]*"
    r"\b(start|stb\w*|p(s|w)?[-_ ]?on|rly|relay|wake)\b|"
    r"\b(start|stb\w*|p(s|w)[-_ ]?on|p[-_]?on|on|on/off|rly|relay|wake|ena?|enable)"
    r"( line| pin| signal)? (is )?(pulled|held|tied|taken|fed|set|strapped|grounded|earthed)|"
    r"\bp(s|w)?[-_ ]?on (to|on) (the )?(\+?\d+ ?v|\d*v?s(t?b|tby)|e?vsb|stand|ground|gnd)|"
    r"(pulled|held) to ground through|"
    r"\b(start|stb\w*|p(s|w)?[-_ ]?on|rly|relay|wake)( line| pin| signal)? (to|on|at) (the )?"
    r"(ground|gnd|minus|\+?\w* ?vs?b?\w*)\b|"
    r"\b(standby|5vsb|stb\w*) (and|to) (the )?(on|start|ps[-_ ]?on|wake|relay|enable)( pin| line)? "
    r"(shorted|joined|linked|bridged|together|connected|with (a )?\d+)|\bp(s|"
    r"w)?[-_ ]?on to \+ ?\d|\bon (line|pin) to (the )?\d*vsb\b|"
    r"\b(start|stb\w*|(\w*[-_])?on|on/off|rly|relay|wake|bl\w*|[ap]?dim|adj|ena?\w*)\b[^,;]*"
    r"\b(through|via|over|with) (a )?1 ?k\d?\b"
)
HELD = re.compile(
    r"\b(start|stb\w*|p(s|w)?[-_ ]?on|on/off|rly|relay|wake)( line| pin| signal)? "
    r"(is )?(high|low|by hand|at \d)|\b(bench|external|lab) supply (on|to|at|into) (the )?"
    r"(start|p(s|w)?[-_ ]?on|on/off|rly|relay|wake)\b"
)
"""A start that is there without the board that gives it: it is held from outside."""
NOT_FORCED = re.compile(
    r"\b(bridge|link|jumper|wire)( [\w-]+)? (is |taken )*(out|off|removed|open|away|gone)\b|"
    r"\b(no|without (the |a )?) ?(bridge|link|jumper)\b|"
    r"\bp(s|w)?[-_ ]?on( line| pin)? (is |left )*(open|floating|free|not \w+)\b|"
    r"\bnot (bridged|forced|linked|jumped|jumpered|tied)\b"
)
"""What wakes it has been taken off, or was never there."""
ASLEEP = re.compile(
    r"\b(not|never)( yet)? (switched|turned|woken|started|powered (?:on|up))( it)?( on| up)?\b|"
    r"\bbutton not( yet)? pressed|\b(no|without a) (button|key)( yet)?( pressed| touched)?\b|"
    r"\bleft (in|on) stand-?by|\b(back )?on (the )?mains( again)?\b|\bmains (back )?on again\b"
)
"""On the mains, and not asked to come on."""
CHECKED = re.compile(
    r"^(all |set |switched )?off\b.*\b(checked|measured|drained|discharged|empty|emptied|"
    r"(under|below) \d+(\.\d+)? ?v|[a-z]\w* (at |is |reads )?\d{1,2}(\.\d+)? ?v)\b|"
    r"\bpulled the (plug|cord|lead)\b|^(the )?(power )?board (is |"
    r"was )?(taken )?out( of the (set|cabinet))?$|"
    r"\b(alone|by itself|out of the set), cold$"
)
NO_LAMP = re.compile(
    r"\b(lamp|bulb|limiter)( limiter)? (is |was |taken )*(out|off|removed|gone|bypassed|away)\b|"
    r"\b(no|without( the| a)?) (series |dim )?(lamp|bulb|limiter)\b"
)
"""The lamp is in line no more."""
LAMP = re.compile(
    r"\bvia (a |the )?(\d+ ?w )?(lamp|bulb)\b|\b(lamp|bulb) (before|in front of|ahead of) it\b|"
    r"\b(lamp|bulb) (in place of|instead of|for) the fuse\b|"
    r"\bresistor\b[^,;]{0,24}\b(in (the )?place of|instead of|for|across) "
    r"(the |its )?(blown )?fuse\b|"
    r"\bresistor in (line|series)( with the mains)?\b|"
    r"\b(on|by|with) (a |the )?(\d+ ?w )?(light )?(lamp|bulb)\b|^(lamp|bulb)\b(?=,)|"
    r"\b(bulb|lamp) tester\b|(series|limiting|test|dim|light|current|(through|behind|over) (a|"
    r"the)) (lamp|bulb)|"
    r"limiter|(lamp|bulb)( of)?( \d+ ?w)? in (the )?(line|series)|bulb in|\d+ ?w (lamp|bulb)|"
    r"(lamp|bulb) (of )?\d+ ?w"
)
PLUG_OUT = re.compile(
    r"(^|[,;] ?)(the |its |mains |power |own |wall )*(plug|cord|lead|adapter|brick) (is )?"
    r"(out|pulled|off|unplugged|disconnected)\b"
)
LOADS_PLUGGED = re.compile(
    r"\b(lamps?|tubes?|strips?|leds?|speakers?|boards?|cables?|ribbons?|drives?) "
    r"(is |are |all |both )*plugged( in| on)?\b"
)
"""What hangs on the supply, and no mains plug."""
ALL_ENABLES = re.compile(r"\bvs[-_ ]?on\b|\bva[-_ ]?on\b|all enables|sustain enable")
ALL_OFF = re.compile(
    r"\bdetached from (the|all) boards\b|\boutput plugs out\b|\b(board|psu|"
    r"supply) free on the bench\b|"
    r"\bboards (are )?(off|out|unplugged|removed|disconnected)\b|\brunning free\b|"
    r"\b(everything|all) (is )?pulled off\b|\bnothing (hanging|hangs|hung) on\b|"
    r"\b(psu|(power )?supply|(power )?board) (on its own|removed from the set)\b|"
    r"\b(all|every|both)( (the|its|of the))?( output)? (loads?|boards?|cables?|plugs?|connectors?|"
    r"outputs?|harness(es)?) (is |are )?(removed|off|out|disconnected|unplugged|pulled|open)\b|"
    r"board alone|alone on the bench|nothing (else )?(connected|plugged|attached|hooked up|hung on)"
    r"|nothing on (its|the) outputs?|"
    r"(?<!off )(?<!on )(?<!out )(by|on|to) itself( on the bench)?|\bnothing else$|"
    r"on the bench (by itself|alone)|uncabled|out of the (?:set|tv|telly|monitor|cabinet)|"
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
ALL_ON = re.compile(
    r"all (boards )?(on|plugged|connected)|everything (is )?(plugged|connected|on)|"
    r"everything in\b|back in the set|assembled|in the set|complete\b|\bcabled|"
    r"all (the )?plugs (home|in)\b|"
    r"everything (re-?connected|back)|\b(psu|supply|power board) and main\b|"
    r"^with (the )?main( board)?$"
)
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
DUMMY_LOAD = re.compile(
    r"\bdummy\b|\bload resistors?\b|\belectronic load\b|"
    r"\b\d+ ?(?:ohms?|Ω|r)\b[^,;]*\b(?:across|on|over|at|from|to) (?:the )?\+?[\dA-Z]",
    re.IGNORECASE,
)
"""A load in place of the set's boards."""
SHORTHAND = (
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
