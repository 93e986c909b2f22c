"""What came of a deed, in words: it helped, it did not, or that is not understood.

Three outcomes and never two. A word right before it turns it round (“did not help”, “no better”);
what says both, or neither, is not understood and counts for nothing.
"""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.outcome_words import by_words
from loose_rail.kernel.negation import negated

_SIGN = r"(tick|click|blink|pump|pulse|puls|flicker|hum|hiccup|trip|buzz|restart|reboot)"
"""What a set does that is not well, in the form that endings hang on."""
_LATER = (
    r" (after |for |over |all |an? |another |the next )?(\w+ )?"
    r"(second|minute|hour|evening|day|night|morning|week)s?"
)
_FAILS = re.compile(
    "|".join(
        (
            r"\b(then|and) (it )?(goes |is |turns |went )?"
            r"(off|dark|gone|dead|out|dies|fails|stops)\b",
            r"\b(goes|went|turns|drops|cuts) (off|dark|out|dead)\b",
            r"\bblows?\b|\bblew\b|fuse (goes|went)\b",
            r"\b(dark|dead|off|out|domed|bulged|smoked|smokes|hot|bang|black|bright) "
            r"(again|after)\b",
            r"\bthen (black|never|nothing|silence)\b|never again\b|"
            r"\bthen (just |again )?as before|\bthen (0|zero|nothing) again",
            r"\bnew (one|part)s? (too|blew|died|smoked|got hot|gets hot|went)|took (out )?the new",
            rf"\b({_SIGN}s?|went|dies|failed) (as well|too)\b",
            rf"\b{_SIGN}s? (again|as before)\b|\b(dies|fails|drops|cuts out) (again|after)\b",
            r"\bstill\b(?! ?($|[,.;])| (good|fine|ok|on\b|up\b|run|work|play|steady|stable|there|"
            r"well|perfect|hold|stand|right|alive|lit\b|in order))",
        )
    ),
    re.IGNORECASE,
)
"""How it ended, whatever came before it: “works for an hour, then off” did not help."""
_NO = re.compile(
    "|".join(
        (
            r"^(still )?(nothing|nil|no)\.?$",
            r"no (change|difference|better|effect|help|luck|joy|improvement|success|odds)",
            r"chang(es|ed) nothing|in vain|nothing chang(es|ed)|not a bit",
            r"nothing (changed|happens|new|else)|unchanged|\bas (\w+ )?before|not cured|identical",
            rf"\bsame\b(?! (type|value|part|rating|make|kind|size)|{_LATER})",
            r"\b(just )?as (dead|dark|bad)\b|\bno life\b|back to (where|square|the start)",
            r"no longer (starts?|comes?|lights?|works?|runs?|plays?|boots?|holds?|wakes?)( on)?",
            r"\bno (picture|light|sound|rail) since|(does|do) nothing any ?more",
            r"won't (start|come)|never (starts|comes)|\bworse\b|\blasted (\w+ )?(second|minute|"
            r"hour)",
            rf"\b({_SIGN}(s|ing)?|faults?|problems?|troubles?) (is |are |comes? |came )?back\b",
            r"\bgone again\b|\b(lamp|bulb)\b.{0,10} (stays|remains) (bright|full|on)\b",
            r"(did|does|do)(n't| not) (help|work|start|come|change|fix|cure|do|play|run|hold)",
            r"not (fixed|better|cured|any better|repaired)|fails again|goes again",
            rf"keeps (on )?{_SIGN}(ing)?\b|keeps (on )?\w+ing\b",
            rf"\b{_SIGN}(s|ing)? (stays|remains|persists|is (still )?there)\b|no sign of life",
            r"\bback to (the|its) (old|same|first) (fault|trouble|problem|state)|"
            r"\bshuts? down after\b",
            r"(?<!lamp )(?<!bulb )(?<!series )(?<!line )(stays|remains) (dead|dark|off|black)",
        )
    ),
    re.IGNORECASE,
)
_YES = re.compile(
    "|".join(
        (
            r"cure[ds]|cures it|helped|helps\b|fixe?[ds]\b|works|worked|working|runs\b|solved",
            r"boots",
            r"(?<!re)starts?\b|started|(comes|came) (on|up|back|to life)|\bback\b|recover(s|ed)",
            r"is (fine|well|alright|all right)|goes up|stays\b(?! (dead|dark|off|black|red|(on|"
            r"in|at) (red|amber|standby)))|steady",
            r"lights?\b|good picture|picture (is|comes)|sound comes|all (well|works|good|fine)",
            r"ran (all|for)|at once|rails? (is|are) there|v again|holds\b|\bfine\b|no fault|normal",
            r"\bplays\b|\blives\b|alive|fires up|did the trick|repaired\b|\bsuccess\b|survives",
            r"(problem|fault|trouble|noise) (is )?(gone|solved|away)|stable|\bok\b|stands?\b",
            r"(can ?not|can.t|could not|couldn.t) (be made|make it|get it) "
            r"(to )?(fail|drop|go off|stop)|"
            r"\d ?v as soon as",
            r"nothing (makes|made|brings|gets) it (\w+ )?"
            r"(drop|fail|go|flicker|tick|dark|stop|off)\w*",
            r"passes|up to \d|\bperfect\b|like a rock|as (good as )?new\b",
            rf"\b{_SIGN}(s|es)? no more|no (longer|more) {_SIGN}(s|es|ing|ping)?\b",
            rf"stop(s|ped) {_SIGN}(ing|ping)\b|nothing found",
            rf"\b(the )?same{_LATER}",
            r"picture (is )?(bright|there|steady)|even light|(quiet|silence|silent) now",
            r"\d ?v,? (and )?(the |a )?(red|green|blue|white) (dot|light|lamp|led)",
            r"\bnever (went off|failed|stopped|tripped|restarted)|ran \w+ hours",
            r"\bwithout (a|any) (\w+ )?(blip|fault|hitch|break|drop|stop|failure|restart)",
            r"\band still ?($|[,.;])",
        )
    ),
    re.IGNORECASE,
)
_TROUBLE = (
    rf"({_SIGN}s?|trouble|faults?|problems?|failures?|drop-?outs?|blips?|cut-?outs?|stops?|"
    r"shutdowns?)"
)
_SINCE = re.compile(
    rf"\b(no|not a single|not one) {_TROUBLE} (since|in (an?|the|\w+) \w+|all (day|night|evening))|"
    r"\bno (shut|switch|cut|drop)[- ]?(down|off|out)s? (in|for|since|all)\b|"
    r"\bno longer (dies|fails|drops out|cuts out|trips|stops|shuts down|goes (off|dark|out))|"
    r"\b(dies|fails|drops out|cuts out|trips|stops|shuts down|goes (off|dark|out)) "
    r"no (longer|more)\b|"
    r"\b(has |have )?not failed\b|\bnever (went off|failed|stopped|tripped|restarted)|"
    r"\b(knock|tap|bang|shak)\w* (do|does) nothing any ?more",
    re.IGNORECASE,
)
"""Denials of the fault itself: that it stays away is what was wanted."""
_QUIET = re.compile(
    r"\b(tap|knock|shak|wiggl|slap|flex)\w* (\w+ )?(does|changes|makes|has|have) no"
    r"(thing| difference| effect)|\bno (more )?(reaction|response) to (tap|knock|shak|wiggl|slap|"
    r"flex)",
    re.IGNORECASE,
)
"""Where the set no longer minds a knock, it is cured."""
_FOR_A_WHILE = re.compile(
    r"\b(cure[sd]?|help(s|ed)?|fixe[sd]) (it )?for (an?|one|two|some|a few) "
    r"(moment|minutes?|hours?|days?|weeks?)\b|"
    r"\b(one|once|two|twice) (time |times )?(in|out of) "
    r"(two|three|four|five|six|ten)\b(?! (hour|minute|day|week|evening|month))",
    re.IGNORECASE,
)
"""Neither cured nor not."""
_BUT = re.compile(r"\bbut\b|\bthough\b|\bhowever\b", re.IGNORECASE)
_THEN = re.compile(r", (dark|no |then )", re.IGNORECASE)


_LIMITER_QUIET = re.compile(
    r"\b((series|test|limiter|in-?line) (lamp|bulb)|(lamp|bulb) in (series|line)|bulb)\b "
    r"(only )?((flashes|blinks|lights|glows)( up)?( once| briefly)?( at first)?,? ?"
    r"(and |then |and then )?)?(goes|is|stays|went) (out|dark|off)\b(?! after)|"
    r"\b(lamp|bulb) (in (line|series) )?(is |goes |went )?(dark|out|off) after "
    r"(a|the|its|one) (short |brief )?(flash|blink)|"
    r"\blamp (only )?(flashes|blinks|lights|glows)( up)?( once| briefly| for a moment)?,? "
    r"(and |then |and then )(goes|is|stays) (out|dark|off)\b(?=[^;]*\d ?v\b)",
    re.IGNORECASE,
)
"""The lamp in line with the mains, not one of the set: it flashes and goes out where no short is
left."""


def outcome(text: str) -> bool | None:
    """True where it plainly helped, False where it plainly did not, None where neither is plain."""
    if _LIMITER_QUIET.search(text):
        rest = _LIMITER_QUIET.sub(" ", text).strip(" ,;.")
        return True if (said := outcome(rest)) is None else said
    by_phrase, told = _by_phrase(text)
    return by_phrase if told else by_words(text)


def _by_phrase(text: str) -> tuple[bool | None, bool]:
    """What the known turns of phrase say, and whether they say anything."""
    words = text.strip().lower().replace("’", "'")
    if not words or _BUT.search(words) or _FOR_A_WHILE.search(words):
        return None, True
    if _QUIET.search(words) or _SINCE.search(words):
        return True, True
    if any(not negated(words, m.start()) for m in _FAILS.finditer(words)):
        return False, True
    if _THEN.search(words):
        return None, False
    no = any(not negated(words, m.start()) for m in _NO.finditer(words))
    rest = _NO.sub(" ", words)
    yes = [m for m in _YES.finditer(rest)]
    plain = any(not negated(rest, m.start()) for m in yes)
    turned = any(negated(rest, m.start()) for m in yes)
    if turned and not plain:
        no, plain = True, False
    return (plain, True) if no != plain else (None, False)


_GOOD = re.compile(
    r"\b(good|ok|okay|fine|sound|healthy|pass(es|ed)?|all right|as new|reads right|in order)\b",
    re.I,
)
_BAD = re.compile(
    r"\b(bad|short(ed|s)?|open|leaky|leaks|dried|high esr|fail(s|ed)?|faulty|dead|blown|broken|"
    r"dark|cracked|burnt|weak|worn)\b|"
    r"\b(all|both) (three |its )?(legs|pins|ends) (together|joined|as one)\b|"
    r"\b(drain|gate|source|collector|base|emitter|anode|cathode) (and|to) \w+ (are|is) "
    r"(one|joined|together)\b",
    re.IGNORECASE,
)


def measured(text: str) -> bool | None:
    """Whether a part measured good (True) or bad (False) by itself; None where it is not plain."""
    words = text.lower().replace("’", "'")
    found: set[bool] = set()
    for pattern, says in ((_GOOD, True), (_BAD, False)):
        for match in pattern.finditer(words):
            found.add(says is not negated(words, match.start()))
    return found.pop() if len(found) == 1 else None
