"""The words in which people say what came of a deed, each with what it says of the set.

Turns of phrase stand before single words and are taken whole: “gives up” is no “up”. What is in
no list is unknown, and a clause that rests on unknown words alone says nothing. Whether the set is
well follows from how the tags stand together (outcome_clauses), never from one word.
"""

from __future__ import annotations

import re
from enum import Enum
from functools import cache


class Tag(Enum):
    """What a word does in a clause about a deed."""

    YES = "says itself that it helped: that was it, bingo"
    NO = "says itself that it did not: no go, wrong guess"
    HEDGE = "neither one nor the other: on soak, a shade better, once yes, once no"
    GOOD = "what a set does or shows that is well: starts, picture"
    BAD = "what it does or shows that is not: ticks, dark, smoke"
    WEAK = "stands or is there, of whatever it is said"
    THING = "a rail, a fuse, a plug: missing is bad, there is well, by itself it says nothing"
    NONE = "no, not, never, without: turns what follows"
    NOTHING = "nothing, none: bad by itself, turns a trouble that follows"
    ENDED = "gone, ceased, stopped: turns what it is said of"
    DIED = "the same, and bad by itself: died, quit"
    CURES = "cured, solved: good by itself, turns a trouble that follows"
    STILL = "still, as before, the same: bad by itself, leaves a word as it is"
    AGAIN = "again, back: leaves a word as it is"
    BRIEF = "for a second: no cure"
    CHANGE = "change, effect: none of it is bad"
    THEN = "opens what came later: then, until"
    SMALL = "says nothing"
    UNKNOWN = "in no list"


def _verb(*stems: str) -> tuple[str, ...]:
    """A regular verb with its endings: tick, ticks, ticked, ticking; trip, tripping."""
    found = []
    for stem in stems:
        bare = stem.removesuffix("e")
        doubled = rf"{stem}{stem[-1]}" if stem[-1] in "bpntgrm" else stem
        found.append(rf"(?:{stem}s?|{stem}es|(?:{bare}|{doubled})(?:ed|ing))")
    return tuple(found)


_LONG = r"(?:second|minute|hour|evening|afternoon|day|night|morning|week|month|year)s?"
_COUNT = (
    r"(?:an?|one|two|three|four|five|six|seven|eight|nine|ten|twelve|twenty|thirty|forty|half an?|"
    r"a (?:few|couple of|quarter of an)|several|some|\d+)"
)
_SPAN = rf"{_COUNT} (?:good |full |whole |solid )?(?:h|s|min|{_LONG})\b"
_NOISE = ("tick", "click(?=ing)", "blink", "pump", "pulse", "flicker", "hum", "hiccup", "buzz")
_NOISE_2 = ("whistle", "chirp", "whine", "squeal", "crackle", "stutter", "chatter", "rattle")
_EVENT = ("trip", "restart", "reboot", "protect", "collapse", "sag", "sink", "dip", "fade", "loop")
_EVENT_2 = ("spark", "smoke", "leak", "pop", "bang", "arc", "fail", "freeze", "struggle")

_PHRASES: tuple[tuple[Tag, tuple[str, ...]], ...] = (
    (
        Tag.SMALL,
        (
            r"same (?:type|value|part|rating|make|kind|size)s?",
            r"(?:switched|turned|plugged|unplugged|cable|load|board|plug) off",
            r"instead of \w+(?: \w+)?|out of the (?:box|blue)",
            r"without (?:the |my |any |a |more )?(?:hair ?dryer|warm\w*|heat\w*|knock\w*|tap\w*|help|"
            r"push\w*|cable|load|lamp|strip|limiter|plug|cover|panel|back|touch\w*|waiting)",
            r"as if nothing had \w+|(?:both|the|its) ends|dead silence(?= ?,)",
            r"(?:mains|cable|load|board|plug|lamps?) (?:off|out|pulled)(?= )",
            r"(?:from|out of) (?:the )?(?:sleep|stand-?by|fridge|car|cold|start|print)",
            r"(?:cold|warm) starts?(?= (?:fails?|again))|(?:straight|right) away|any longer",
            r"short (?:flash|blink|click|pulse|moment|while|time)",
            r"up to|up on the board|as soon as|as well as|so far as|at (?:switch|power)-?on|on the (?:bench|rail)",
            r"(?:the )?(?:protect(?:ion)?|fault|error) (?:line|pin)(?: (?:is |stays )?low)?",
            r"full load|if anything|(?:end|edge|corner|side) to (?:end|edge|corner|side)",
            r"sound of", "left (?:half|side|end)", "right (?:half|side|end)",
            r"(?:one|a|single) (?:short )?(?:click|flash|blink)",
            r"hair ?dryer|cold spray|burn-?in|soak(?: test)?",
        ),
    ),
    (
        Tag.YES,
        (
            r"nothing (?:wrong|to report|to complain of|suspicious|found|bad|left|more to \w+)",
            r"(?:it|that) was (?:it|that|him|the culprit)(?! again)", r"bingo", r"spot on",
            r"job done", r"fault found", r"(?:did|does|done) the trick", r"success\w*",
            r"(?:among|in) the (?:living(?: room)?)", r"(?:back |come |came |comes )*to life",
            r"back to (?:normal|work|full)", r"back in (?:the )?(?:living|use|service)",
            r"(?:ever|good) since|rock ?solid|solid as a rock|like a rock", r"up and running",
            r"as it should(?: be)?|does what it should|where it belongs|as new",
            r"as good as (?:new|the day)[\w ]*", r"as (?:it (?:says|is printed)|printed|specified)",
            r"for good", r"thanks", r"(?:is |was )?(?:content|happy|satisfied|delighted)",
            r"(?:ripple|noise|hum|delay) (?:is |has )?(?:gone )?(?:down|fell|falls|dropped|drops|went "
            r"down)(?: from [\w. ]+)? to",
            r"(?P<all>five|ten|three|four|six|\d+) (?:\w+ )?(?:out )?of (?P=all)\b",
            r"goes past [\w ]+|no need (?:for|of|to) [\w ]+|no (?:call|word|news) since", r"flicker-?free|noise-?free|trouble-?free",
            r"it (?:can ?not|could not) be made to \w+",
            r"(?:no |any )?longer (?:minds?|cares?)", r"does not (?:mind|care)",
            r"there (?:it|he|she) is", r"(?:the )?same (?:after|for|over|all|even) (?:an? |another "
            rf"|the next |{_COUNT} )*(?:\w+ )?{_LONG}", r"and still(?= ?$|[,.;])",
            r"falls? silent|fell silent", r"(?:it )?reads what is printed",
            r"up to (?:its|the) print", r"comes alive", r"not miss(?:ed)? a beat|(?:does|did|do|has) not (?:budged?|waver(?:ed)?|drift(?:ed)?|wobble)",
            r"lasted (?:all|the (?:whole|evening|night|day|film)|through|over)(?: \w+)?",
            r"gone (?:quiet|silent|calm)|(?:no longer|no more) clicks?|that did it|on the wall|in action|(?:rail|line|volts?) (?:is |are )?up to",
        ),
    ),
    (
        Tag.NO,
        (
            r"no (?:go|dice|cigar|joy|luck|odds|help|use|success|good)\b(?! (?:reason|sign))",
            r"(?:(?:it|that|this) )?was not (?:it|that|the \w+)", r"wrong (?:guess|track|part|tree)",
            r"not the (?:culprit|cause|one)", r"red herring", r"waste of \w+(?: \w+)?",
            r"comes-and-goes|beyond (?:help|repair|hope|saving)|no better|takes? (?:just )?(?:as|that) long"
            r"(?: as \w+)?|(?:the )?same (?:part|switch|fuse|resistor|place|spot|corner|can|chip)"
            r"(?: \w+)?|second time(?: the same)?|flat as a \w+|not a volts?|(?:lets|let) go",
            r"not enough|too (?:low|little|weak|late)|not (?:do|did|done) (?:a thing|anything|much|any good)",
            r"back for the \w+ time|will not (?:budge|move|stir)|(?:only|just) (?:for )?" + _SPAN,
            r"in vain", r"nope|nix|zilch|nada|negative", r"made (?:no|little) odds",
            r"back (?:to|at) (?:the |its )?(?:sleep|red|amber|stand-?by|zero|start|square|where|"
            r"old|first|same|beginning)\b[\w ]*",
            r"back (?:on|to|in|at) (?:my|the|our) (?:bench|shop|workshop|counter)",
            r"(?:brought|sent|took|bringing) (?:it|the set|him|her|this) back",
            r"(?:is|was|came|come|comes|returned?|returns|back) (?:back )?(?:again )?"
            rf"(?:after|within|in|with|the next|on the) (?:just |only )?(?:{_SPAN}|the (?:same|old) "
            r"[\w ]+)",
            r"comes? back off|comes? back down", r"not (?:one |a )?bit better|no better|worse",
            r"(?:just |as )?(?:dead|dark|bad|badly|low|weak) as (?:it was|ever|before|a \w+)",
            r"(?:took|lost|ate|cost|killed|takes|blew|cooked|eats) (?:out )?(?:the |another |a |my "
            r"|one more )?(?:\w+ )?(?:new |second |third )?(?:fuse|one|part|mosfet|chip|switch|can|"
            r"diode|transistor|resistor)s?(?: (?:with it|too|as well|again))?",
            r"(?:gone|goes|went|go) (?:up in smoke|bang|pop|together|too|as well|with it)",
            r"gives? up|gave up|giving up", r"lasted (?:\w+ )*" + _LONG,
            r"even less(?: \w+)?", r"no (?:higher|brighter|stronger|steadier|wiser)",
            r"once (?:more )?(?:black|dark|dead)", r"never again", r"kick in(?= again)",
            r"(?:re)?main(?:s|ed)? without life", r"without (?:any )?(?:sign of )?life",
            r"no (?:sign of )?life", r"as \w+ as ever", r"just sits(?: there)?",
            r"not (?:a |one )?(?:sign|thing|peep out of it|sausage)(?! of)",
            r"no (?:reaction|response)(?! to)(?: \w+)?", r"un(?:solved|cured|fixed|changed)",
            r"unhappy", r"identical", r"(?:sits|stays|remains|stands|is|hangs|stuck|waits) "
            r"(?:on|in|at) (?:the )?(?:red|amber|orange|stand-?by|stand by|logo|blue)(?: \w+)?",
            r"(?:second|third|fourth|fifth) (?:push|press|try|attempt)(?: again)?",
            r"(?:the |an? )?(?:step|point) (?:back|further away)",
        ),
    ),
    (
        Tag.HEDGE,
        (
            r"a (?:bit|little|shade|touch|trifle)(?! (?:red|green))", r"(?:some|every) other \w+",
            r"not (?:yet|tried|tested|sure|clear|powered|measured|checked)(?: \w+)?",
            r"could not (?:tell|say|test|try|see|check)|can ?not (?:say|tell)|hard to (?:say|tell)",
            r"too early|wait and see|have to wait|will (?:see|look|know)|to be seen|tomorrow",
            r"on (?:the )?soak|left (?:running|on)|on order|waiting for|interrupted|ran out of",
            r"so far(?! as)|for now|for the moment|held for|lets see|(?:different|another|new) "
            r"(?:fault|trouble|symptom)\w*(?: now)?|moved to|other (?:half|side|fault)|to be \w+ed",
            r"once (?:yes|no|good|bad)|now and (?:then|again)|on and off|hit and miss",
            r"\w+ (?:times? )?out of \w+", r"one time in \w+",
            r"(?:cure[sd]?|help(?:s|ed)?|fixe[sd]) (?:it )?for " + _SPAN,
            r"ha(?:s|ve) not (?:come|been) back(?! to)", r"for a minute",
            rf"(?:{_SPAN} )?longer(?: than (?:before|it did))", r"works until",
            r"half (?:the |of the )?(?:brightness|light|volume)", r"some light|some sound",
            r"fault finding", r"straight from the car",
        ),
    ),
    (
        Tag.BRIEF,
        (
            r"for (?:just |only )?(?:a|one|half a|two|a split) (?:short |brief |split )?"
            r"(?:seconds?|moment|instant|blink|flash)",
            r"(?:lights?|flash(?:es|ed)?|blinks?|comes? on|picture|light) (?:up )?"
            r"(?:briefly|once)(?= and| then|,|$)",
        ),
    ),
    (
        Tag.NONE,
        (
            r"no longer|no more(?= \w)|not even|not once|never once|not (?:a|one) single|not an?|"
            r"not one|neither|nor|no way(?: to)?|free of|rid of|nothing of|can ?not|no need for|"
            r"no sign of|nowhere near|not any|no hint of|no trace of",
        ),
    ),
    (
        Tag.ENDED,
        (
            r"(?:is |now )?(?:an?|one) (?:half|third|tenth|fraction|hundredth) of what it was|"
            r"no more(?! \w)|died (?:down|away|with)|dies (?:down|away)|fad(?:ed|es) away|"
            r"(?:has |have )?left(?= the)|went away|goes away|go away|gone away|stay(?:s|ed)? away|"
            r"cleared up|part of history|a thing of the past|put (?:an end )?to rest",
        ),
    ),
    (
        Tag.STILL,
        (
            r"(?:just |exactly |all |much )?(?:the )?(?:very )?same(?: (?:thing|symptom|fault|way))?"
            r"(?: as (?:before|ever|always))?",
            r"(?:just |exactly )?(?:like|as) (?:it )?(?:before|ever|always|did|it did|it was|was|"
            r"(?:much|long|bad|\w+) as before|usual)(?: the (?:repair|change))?",
            r"(?:goes|go|going|went|carries|carry|keeps|ticks merrily) on(?= \w+ing)",
            r"(?:keep|keeps|kept) (?:on )?(?=\w)", r"all the same",
        ),
    ),
    (
        Tag.GOOD,
        (
            r"(?:stay|remain|keep|come|go|turn|switch)(?:s|ed)? on(?=$| ?[,.;]| (?:now|at once|"
            r"each|every|in|for|with|again|beyond|immediately|straight|till|until|after))",
            r"^on(?=$| (?:since|for|all|again|at|now))|^off and on",
            r"(?:came|set|is|went|been|days?|hours?|evening|night) on(?=$| ?[,.;]| (?:now|at once|"
            r"each|every|for|again|immediately|straight|test|since))",
            r"(?:stay|remain|pull|drop|come)(?:s|ed)? in(?=$| ?[,.;]| (?:now|again|at once))",
            r"(?:lights?|comes?|came|gets?|springs?|fires?|powers?|starts?|climbs?|goes|gone|boots?)"
            r" (?:straight |right )?up", r"out of stand-?by", r"boots? through",
            r"full (?:brightness|volume|light)|(?:cold |warm )?starts? (?:with)?in (?:under |less than )?"
            r"(?:a|one|two|three|\d) seconds?",
            r"(?:kick|set)s? in|pops? (?:straight |right )?up|carr(?:y|ies|ied) on(?! \w+ing)", r"wakes? up", r"all (?:well|good|fine|right|there)",
            r"in order", r"stay(?:s|ed)? cool|stay(?:s|ed)? cold|hand ?warm|lukewarm",
            r"in (?:under )?(?:a|one|two|three) seconds?(?=$| ?[,.;])",
        ),
    ),
    (
        Tag.BAD,
        (
            r"(?:goes|go|going|gone|went|cut|cuts|cutting|turn|turns|turned|drops?|dropped|drop|"
            r"switch(?:es|ed)?|fell|falls|knocks?|is|are|was|out) (?:itself )?(?:off|out|dark|dead)",
            r"(?:drop|cut|black|brown)[- ]?(?:out|off)s?|shut(?:s|ting)?[- ]?downs?|"
            r"shut(?:s|ting)? (?:itself )?(?:down|off)|switch(?:es|ing)? (?:itself )?off",
            r"drags?(?: it| them)?(?: down)?|dragged(?: down)?|pull(?:s|ed)? (?:it |them )?down",
            r"fuse (?:goes|went)(?! in)|(?:still )?only (?:starts?|works?|runs?|comes?)(?: on)? "
            r"(?:when|with|if|after|warm|cold|once)",
            r"takes (?:several|ten|many|five|\d+) \w+|(?:several|many|two|three|some) (?:tries|attempts|pushes)", r"no 5 ?v still",
            r"(?:must|has to|needs to|have to) be \w+", r"(?:two|three|four|five|six|seven|eight|nine|ten|\d+) blinks",
            r"blink code|error code|burn(?:t|ed)(?: \w+)?|red hot|too hot",
            r"ten minutes to start|half lit", r"breaks? down|broke down",
            r"out(?= (?:again|after|within|once more))",
        ),
    ),
    (Tag.THEN, (r"and then|then|until|till|before it|afterwards|later|on the (?:second|third)",)),
)
_WORDS: tuple[tuple[Tag, tuple[str, ...]], ...] = (
    (
        Tag.HEDGE,
        (
            "somewhat", "partly", "perhaps", "maybe", "possibly", "improve[sd]?", "improvement",
            "better", "less", "rarer", "weaker", "slower", "quieter", "softer", "less", "fewer", "milder", "fainter", "later", "promising",
            "inconclusive", "unproved", "probably", "apparently", "hopefully", "half-?way", "seldom", "rarely",
            "unclear", "unsure", "if", "unless", "sometimes", "mostly", "often", "dim", "dimmer",
            "shorter", "longer", "brighter", "seems?", "almost", "nearly", "occasionally",
            "intermittent(?:ly)?", "usually", "hm+", "partial(?:ly)?",
        ),
    ),
    (
        Tag.GOOD,
        (
            *_verb("work", "run", "play", "start", "wake", "light", "boot", "hold", "behave"),
            *_verb("survive", "recover", "carry", "help", "pass"),
            *_verb("live", "settle", "respond", "thrive", "purr", "function", "operate"),
            *_verb("oblige", "cooperate", "perform", "obey", "react", "succeed", "appear", "fire"),
            *_verb("regulate", "stabilise", "stabilize", "conduct", "charge", "deliver"),
            "crisp", "loud", "instant", "ready", "usable", "okey", "great",
            "excellent", "brilliant", "super", "flawless(?:ly)?", "faultless(?:ly)?", "spotless",
            "lovely", "nice(?:ly)?", "beautiful(?:ly)?", "proper(?:ly)?", "sane", "tidy", "as new",
            "plain", "strong", "full", "responsive", "undisturbed", "unbroken", "true", "stays put",
            "constant(?:ly)?(?= \\d)", "confirmed", "verified", "satisfactory", "harmless",
            "colours?", "video", "signal", "splash", "programmes?", "channels?", "spark of life", "ran", "held", "woke", "woken", "lit", "glows?",
            "glowing", "carries", "carried", "strikes?", "struck", "fine", "firm", "firmly", "enough", "ok",
            "okay", "steady", "steadily", "stable", "stably", "bright", "brightly", "silent",
            "silence", "quiet", "quietly", "calm", "well", "normal", "normally", "good", "perfect",
            "perfectly", "healthy", "correct", "correctly", "right", "solid", "reliabl\\w+", "even",
            "evenly", "clear", "clean", "cleanly", "alive", "intact", "whole", "up", "picture",
            "pictures", "image", "sound", "light", "lights", "backlight", "menu", "channel", "volume",
            "desktop", "logo", "vision", "boost", "smooth(?:ly)?", "sharp", "awake", "living",
            "life", "free", "instantly",
        ),
    ),
    (
        Tag.BAD,
        (
            *_verb(*_NOISE), *_verb(*_NOISE_2), *_verb(*_EVENT), *_verb(*_EVENT_2),
            *_verb("burn", "hang", "misbehave", "flash", "drop", "refuse", "blow", "lose", "need"),
            *_verb("cook", "short", "crack", "crash", "char", "latch", "kill", "delay", "stall", "jam"),
            *_verb("vary", "drift", "falter", "misfire", "twitch", "pulsate", "throb"),
            *_verb("oscillate", "howl", "sing", "sizzle", "fizz", "glitch", "wobble", "shimmer"),
            *_verb("strobe", "shudder", "jitter", "bounce", "explode", "vent", "melt", "scorch"),
            *_verb("overheat", "roast", "fry", "toast", "crumble", "decline", "ignore", "suffer"),
            *_verb("deny", "bail", "bother", "plague", "annoy", "cycle", "toggle", "surge", "spit"),
            "fries", "fried", "denies", "denied", "varies", "varied", "sang", "flat", "pink",
            "tinge", "shadow", "shadows", "shade", "stripes?", "lines?(?= (?:across|on|in|are|still"
            "|gone|remain))", "streaks?", "patch(?:es)?", "spots?", "ghosts?", "snow", "distorted",
            "garbled", "mute", "kaput+", "defunct", "lifeless", "comatose", "useless", "hopeless",
            "pointless", "broken", "goner", "toast", "unwell", "sick", "ill", "lame", "limp",
            "tired", "dull", "gloomy", "pitch black", "deaf", "unresponsive", "inert", "unhappy",
            "erratic", "flaky", "shaky", "nervous", "restless", "noisy", "stink\\w*", "stank",
            "odou?rs?", "fumes?", "scorched", "crater", "hole", "swollen", "ruptured", "spattered",
            "excess\\w*", "short(?= (?:is|to|on|across|has|between))", "overvoltage", "brown-?out",
            "nuisance", "misery", "defects?", "delays?", "lag", "hiccough\\w*", "murmurs?",
            "machine-?guns?", "morse", "kicks?(?! in)", "wails?", "grumbl\\w+", "lockouts?",
            "lock(?:s|ed) up", "conks?", "conked", "expir\\w+", "perish\\w*", "cuts", "clicking", "dead", "dark", "black", "darkness", "blackness", "off", "blew",
            "blown", "sank", "sunk", "stuck", "asleep", "sleeps?", "low", "lower", "hot", "hotter", "soft", "softly",
            "froze", "frozen", "hung", "loops?", "noises?", "faults?", "troubles?", "problems?",
            "complaints?", "errors?", "failures?", "smells?", "symptoms?", "bars?", "blips?",
            "hitch", "breaks?", "gaps?", "stops?(?= (?:again|after|working))", "broken", "bulged?",
            "domed", "faulty", "bad", "badly", "reset(?= needed)", "overload\\w*", "protection",
            "protections", "zero", "stronger", "culprit", "missing", "absent", "gone dark",
            "droops?", "drooping", "ripple", "shutdowns?", "jump(?:s|ing|ed)?", "wander(?:s|ing|ed)?", "sparks?", "smoked", "unstable",
            "wobbl\\w+", "swings?", "swinging", "worn", "weak", "lasted",
        ),
    ),
    (Tag.CURES, (*_verb("cure", "fix", "repair", "solve", "heal", "mend", "sort"), "fixes", "rids?")),
    (Tag.WEAK, ("there", "present", "stands?", "stays?", "stayed", "back",
     "at once", "as soon as", "remains?", "comes?")),
    (Tag.WEAK, ("came", "remained", "arrives?", "exists?", "sits?", "rises?", "rose", "climbs?", "returns?")),
    (Tag.WEAK, ("returned", "come", "stay", "stand", "return", "reaches", "reach", "yes")),
    (Tag.NONE, ("no", "not", "never", "without", "hardly", "barely", "longer(?= \\w+s\\b)")),
    (Tag.NOTHING, ("nothing", "none", "nil", "neither one")),
    (Tag.ENDED, ("gone", "over(?=$| now)", "ended", "ends?(?=$| now)", "inaudible", "invisible", "vanish\\w*", "disappear\\w*", "ceased?")),
    (Tag.ENDED, ("goes(?=$)", "went(?=$)", "ceases", "history", "(?<!ing )away", "ending", "unnoticeable", "released", "banished", "beaten", "dealt with")),
    (Tag.DIED, ("die[sd]?", "dying", "stop(?:s|ped|ping)?", "quits?", "quitting")),
    (
        Tag.STILL,
        (
            "still", "unchanged", "persists?", "persisted", "continues?", "endlessly", "constantly",
            "unaltered",
        ),
    ),
    (Tag.AGAIN, ("again", "anew")),
    (Tag.CHANGE, ("changes?", "changed", "difference", "effect", "influence", "move[sd]?")),
    (Tag.CHANGE, ("happens?", "happened", "new", "gained?", "reaction", "response", "budge")),
    (Tag.CHANGE, ("altered", "alters?", "else", "reacts?", "matters?")),
    (
        Tag.THING,
        (
            r"\d+(?:[.,]\d+)? ?(?:m|k)?v\b", "rails?", "volts?", "voltages?", "fuses?", "breaker",
            "relay", "bulk", "pfc", "vs", "va", "vsus", "standby", "dot", "clicks?", "line", "lines",
            r"(?:cn|con|jp|xp|p|j)\w?\d+(?:-\d+)?", "half", "halves", "led", "lamp",
            "ps-?on", r"\d+(?:[.,]\d+)? ?(?:k|m|g)?(?:ohms?|r|k)\b", r"(?<![\d.])0(?![\d.])",
        ),
    ),
    (
        Tag.SMALL,
        (
            "an?", "the", "it", "its", "he", "she", "they", "we", "i", "you", "my", "set", "tv",
            "monitor", "telly", "screen", "panel", "unit", "board", "owner", "customer", "says?",
            "is", "are", "was", "were", "be", "been", "being", "has", "have", "had", "does", "do",
            "did", "will", "would", "can", "could", "gets?", "got", "goes", "go", "went", "looks?",
            "shows?", "show", "shown", "showed", "itself", "now", "just", "only", "at", "once",
            "on", "in", "out", "of", "to", "for", "from", "with", "by", "and", "or", "as", "that",
            "this", "these", "all", "both", "each", "every", "time", "times", "first", "second",
            "third", "last", "any", "some", "such", "so", "too", "also", "very", "quite", "really",
            "ever", "since", "after", "within", "during", "under", "over(?= \\w)", "upper", "lower", "left", "side", "corner", "corners", "everything", "rest", "new",
            "old", "one", "two", "three", "four", "five", "six", "ten", "red", "green", "white",
            "blue", "amber", "orange", "remote", "main", "cable", "tubes?", "strips?", "driver",
            "transformers?", "test", "full", "whole", "cold", "warm", "load", "loaded", "dummy",
            "button", "push", "press", "key", "straight", "immediately", "directly", "finally",
            "at last", "completely", "totally", "altogether", "more", "much", "many", "way",
            "make", "makes", "made", "get", "bring", "brings", "brought", "further", "put",
            "drive", "sides?", "them", "him", "her", "down", "through", "across", "when", "while",
            "where", "what", "asked", "mark", "always", "am", "cans?", "connected", "plugged",
            "switch(?!es)", "rail(?= to)", "ground", "power", "own", "long", "least", "most",
            "about", "around", "nearly(?= \\d)", "ma", "a(?=$)", "w", "hz", "mv", "stronger(?=$)",
            "phoned?", "counts?", "rang", "clicks", "itself", "other", "level", "print", "printed", "case",
            "knock\\w*", "tap\\w*", "wiggl\\w+", "twist\\w*", "heat\\w*", "hit", "bend", "flex\\w*",
            "provoke", "likes?", "there(?= (?:is|are|was))", "merrily", "least", "even(?= (?:when|"
            "with|after|if|cold|at|the|now|from|straight))", "far", r"\w+ly", r"\d[\d.,]*",
            _LONG, "moment", "while", "film", "use", "minutes?", "seconds?", "h", "s", "min",
            "started(?= with)", "any ?more", "whatsoever", "whatever", "far", "light(?= load)",
            "lamp load", "corner to corner", "supply", "mosfet", "chip", "heatsink", "can",
            r"[a-z][\w./+-]*(?= (?:is |at |now |still |reads )?\d+(?:[.,]\d+)? ?m?v\b)",
            "together", "somehow", "afternoon", "than", "which", "who", "how", "next",
        ),
    ),
)


@cache
def _scanner() -> tuple[re.Pattern[str], tuple[Tag, ...]]:
    parts, tags = [], []
    for tag, patterns in (*_PHRASES, *_WORDS):
        for one in patterns:
            parts.append(rf"(?P<t{len(tags)}>(?:{one})(?![\w]))")
            tags.append(tag)
    parts.append(r"(?P<rest>[^\W_][\w'./+-]*)")
    return re.compile("|".join(parts)), tuple(tags)


def tagged(clause: str) -> list[tuple[Tag, str]]:
    """The words and turns of phrase of a clause in lower case, in order, with their tags."""
    pattern, tags = _scanner()
    found, at = [], 0
    while match := pattern.search(clause, at):
        if match.start() and clause[match.start() - 1].isalnum():
            at = match.start() + 1
            continue
        name = match.lastgroup or "rest"
        found.append((Tag.UNKNOWN if name == "rest" else tags[int(name[1:])], match[0]))
        at = max(match.end(), match.start() + 1)
    return found
