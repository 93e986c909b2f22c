"""What one clause about a deed says: the set is well, it is not, or that is not plain.

A clause is judged by how its words stand together. No, not and never turn the next word of weight;
gone and stopped turn the trouble or the good they are said of; nothing is bad by itself and turns a
trouble that follows; still and as before are bad by themselves and leave a word as it is.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from loose_rail.app.job_file.log.outcome_lexicon import tagged
from loose_rail.app.job_file.log.outcome_tags import Tag

_KNOCKED = re.compile(
    r"\b(tap|knock|wiggl|shak|push|bend|flex|hit|slap|bang|mov)\w*\b.*\b(nothing|no|not|n't|"
    r"any ?more|leaves it|cold)\b|\bno\w*\b.*\b(tap|knock|wiggl|shak|flex|slap)\w*"
)
"""A set that no longer minds a knock: what its words deny is the fault."""
_AS_LITTLE = re.compile(
    r"\b(cold spray|freez\w+|spray|heat\w*|warm\w*|cool\w*)\b.*"
    r"\b(no effect|nothing|no difference)\b.*\b(now|any ?more|any longer)\b"
)
"""Cold and warmth that no longer do anything."""
_ON_TERMS = re.compile(
    r"\b(as soon as|the (?:moment|instant|second)(?= (?:it|the|i|you|we|that) )|"
    r"(?<!takes )(?<!just )as long as|whenever|when|once (?:it|the)|while|"
    r"with (?:the |its |my |everything |nothing |all |only |both )?(?:[\w/+-]+ ){0,3}?"
    r"(?:on(?! \w+day\b)|off|in|out|pulled|connected|plugged|full|tied|jumped|jumpered|to|lifted|"
    r"removed)\b|from (?:cold|the \w+)(?! (?:it|she|he|the set|now)\b))\b.*$"
)
"""Under what the clause holds: “recovers as soon as the strip is off” is no strip that is off."""


def _at_once(terms: re.Match[str]) -> str:
    return " at once" if terms[0].startswith(("as soon", "the ")) else " "


_BEFORE = re.compile(
    r"^(was(?! (not|back))|were|used to|had been|before|at first|"
    r"first(?= (nothing|dead|dark|it)\b)|originally|initially|previously)\b|"
    r"\b(?<!as )(?<!like )(?<!than )(?<!to )before$|"
    r"^(the )?((left|right|upper|lower|top|bottom|one|other) )?"
    r"(side|half|corner|part|edge|strip)s? "
    r"(was|were|had been) (dark|dim|dead|black|missing|off)$"
)
"""How it was before the deed says nothing of what came of it."""
_OLD_ONE = re.compile(
    r"^(?:the |its )?(?:old|removed|original|first) (?:one|part|can|cap|capacitor|switch|mosfet|"
    r"diode|fuse|resistor|chip)s? (?:measure|read|test|check|was|is|were|are|look|came)\w*\b"
)
"""What was taken out, and how it reads: nothing of what came of it."""
_ORDINARY = re.compile(
    r"^(?:as|soon|long|the|moment|instant|second|when(?:ever)?|once|while|with|from|i|we|you|"
    r"they|he|"
    r"she|it|its|my|his|her|your|a|an|is|are|was|were|be|has|have|gets?|on|off|in|out|up|back|"
    r"again|"
    r"to|and|now|of|button|remote|power|key|start|mains|plug\w*|unplug\w*|press\w*|push\w*|"
    r"switch\w*|turn\w*|ask\w*|told|want\w*|need\w*|should|connect\w*|cables?|board|main|strips?|"
    r"lamps?|tubes?|load\w*|picture|test|keep|put|together|full|bright\w*|dark|scenes?|sound|loud|"
    r"everything|nothing|all|both|only|pulled|lifted|removed|gone|away|tied|jump\w*|set|standby|"
    r"\w*\d\w*|supply|driver|panel|open(?:s|ed)?|cover|cold|ready|warm)$"
)
"""What goes with switching on, plugging, lifting: a set that is well under it is well."""
_INTO = re.compile(
    r"^.*\b(?:from (?:dead|dark|black|nothing|tick|ticking|silence|off)(?: \S+)? to|"
    r"from \w+ing to(?= \w+ing\b)|"
    r"(?:turned|changed|went|gone|goes) (?:in|over )?to) (?=\w)"
)
"""What it turned into counts, not what it was."""
_ONLY_THEN = re.compile(
    r"\b(if|unless|when(?:ever)?|while|once|as long as) (?:it |it is |i |you |the set is )*"
    r"(?:is |was )*(warm\w*|cold|hot|heat\w*|cool\w*|tap\w*|knock\w*|push\w*|press\w*|hit|held)\b|"
    r"\bwhen(?:ever)? (it|he|she) (feels|likes|wants|pleases|chooses|fancies)\b|\bin the mood\b|"
    r"\b(if|unless)\b"
)
_HELD = re.compile(
    r"\b(as long as|only (?:when|while|if)) (i|you|we|one|someone) "
    r"(hold|press|push|lean|squeeze|bend|twist)\w*\b"
    r"(?! (the )?(power |start )?(button|key|remote))|"
    r"\b(with|when|after|under) (?!the (remote|button|key))[\w ]+ only$"
)
"""“Stays lit as long as I hold the plug”: a hand that has to help is no cure."""
_APART_FROM = re.compile(
    r",? (apart from|except(?: for)?|other than|save for|bar(?= an? | the )) (?P<what>.+)$"
)
_SAME_FAULT = re.compile(r"same|as |like|unchanged|unaltered|persist|continu|endless|constant")
_SHOWN = ("picture", "sound", "light", "backlight", "image")
_STANDS_STILL = re.compile(r"^(?:(?:both|all|they|it)(?: are| is)? )?still$")
"""“24.0 V and still”: it does not move, or it has not changed."""
_RID = re.compile(r"\b(fault|trouble|tick\w*|noise|hum|buzz|flicker\w*|error) (is |was )?gone\b")
_BACK = re.compile(
    r"^(it |it is |is |was |came |comes |and )*(back|returned|returns|there again)\b"
)
_TAKES = re.compile(r"(bl[eo]w|burn|cook|kill|los[et]|tak|took|trip)\w*$")
"""What is done to a part or a breaker: done to nothing, it is well."""
_ZERO = re.compile(r"^(0|zero)\b")


@dataclass(frozen=True, slots=True)
class Clause:
    """A clause: 1 where it says the set is well, -1 where it is not, 0 where it says neither.

    `hedged`: it says that it is neither; `unknown`: it rests on words in no list; `of_thing`: it
    speaks of a rail, lamp or fuse by name; `later`: it tells what came after the one before; `rid`:
    a trouble has gone; `back`: something is back, and not said what.
    """

    sign: int
    hedged: bool = False
    unknown: bool = False
    of_thing: bool = False
    later: bool = False
    rid: bool = False
    back: bool = False


@dataclass(frozen=True, slots=True)
class _Word:
    tag: Tag
    text: str
    turned: bool = False

    @property
    def sign(self) -> int:
        bad = self.tag in (Tag.BAD, Tag.DIED, Tag.NO)
        return -1 if bad is not self.turned else 1


_WEIGHTY = (
    Tag.GOOD,
    Tag.BAD,
    Tag.YES,
    Tag.NO,
    Tag.WEAK,
    Tag.THING,
    Tag.ENDED,
    Tag.DIED,
    Tag.CURES,
    Tag.CHANGE,
    Tag.STILL,
    Tag.HEDGE,
)


def clause_of(text: str, later: bool = False) -> Clause:
    """What a clause in lower case says; `later` where a “then” or “until” opens it."""
    if _STANDS_STILL.search(text):
        return Clause(0, later=later)
    if _BEFORE.search(text) or _OLD_ONE.search(text):
        return Clause(0, later=later)
    text = _INTO.sub("", text)
    if _KNOCKED.search(text) or _AS_LITTLE.search(text):
        return Clause(1, later=later)
    limited = _limited(text, later)
    if limited is not None:
        return limited
    held = _ON_TERMS.sub(_at_once, text).strip() or text
    words = [_Word(tag, found) for tag, found in tagged(held) if tag is not Tag.SMALL]
    unknown = any(one.tag is Tag.UNKNOWN for one in words)
    thing = any(one.tag is Tag.THING or one.text in _SHOWN for one in words)
    told = Clause(0, False, unknown, thing, later)
    if later and _ZERO.match(text.strip()):
        return replace(told, sign=-1, unknown=False)
    if words and all(one.tag in (Tag.NONE, Tag.THING) for one in words):
        no = any(one.tag is Tag.NONE for one in words)
        return replace(told, sign=-1 if no else 0)  # “no”, “12 V not”, “no 5 V”
    words, left_over = _turned(words)
    if left_over and unknown:
        return replace(told, hedged=True)  # something is denied, and not known what
    if any(one.tag is Tag.HEDGE and not one.turned for one in words):
        return replace(told, hedged=True)
    if any(one.tag is Tag.HEDGE for one in words):
        return replace(told, sign=-1)  # no better, not less
    words = _cured(words)
    if any(one.tag is Tag.NOTHING for one in words):
        return replace(told, sign=_of_nothing(words))
    weighed = _said_twice(_ends(words, later))
    sign = _of_words(weighed)
    if sign is None:
        sign = _of_weak(words, unknown)
    rid = any(one.tag is Tag.BAD and one.turned for one in weighed) or bool(_RID.search(held))
    back = not unknown and bool(_BACK.search(held))
    hedged = sign > 0 and not (rid or unknown or _ordinary(text))  # “on when it feels like it”
    return replace(told, sign=0 if unknown or hedged else sign, hedged=hedged, rid=rid, back=back)


def _ordinary(text: str) -> bool:
    """Whether a clause holds under nothing, or under what a set is for."""
    terms = _ON_TERMS.search(text)
    if terms is None or terms[0].startswith(("with", "from")):
        return True
    return all(_ORDINARY.match(word) for word in re.findall(r"[\w/+-]+", terms[0]))


def _limited(text: str, later: bool) -> Clause | None:
    """What a clause says that holds only so far: but for a trouble, while a hand helps, or if it is
    warm; None where it names no such bounds."""
    apart = _APART_FROM.search(text)
    if apart is not None:  # “that was it, apart from a hum”
        left = any(tag is Tag.BAD for tag, _ in tagged(apart["what"]))
        main = clause_of(text[: apart.start()], later)
        return replace(main, sign=-1) if left and main.sign > 0 else main
    for terms in (_HELD.search(text), _ONLY_THEN.search(text)):
        if terms is None or not text[: terms.start()].strip():
            continue
        main = clause_of(text[: terms.start()].strip(), later)
        if terms.re is _HELD:
            return replace(main, sign=-main.sign) if main.sign > 0 else replace(main, sign=0)
        return main if main.sign <= 0 else replace(main, sign=0, unknown=True)
    return None


def _turned(words: list[_Word]) -> tuple[list[_Word], bool]:
    """The words without their negations, each turned by those that stand before it; a negation that
    stands last turns the word before it. Beside them, whether one turned an unknown word."""
    found: list[_Word] = []
    no = lost = False
    for one in words:
        lost = lost or (no and one.tag is Tag.UNKNOWN)
        if one.tag is Tag.NONE:
            no = one.text == "nor" or not no
        elif one.tag in _WEIGHTY and no:
            found.append(replace(one, turned=True))
            no = False
        elif (
            one.tag in (Tag.BAD, Tag.NO) and found and found[-1].tag is Tag.BAD and found[-1].turned
        ):
            found.append(replace(one, turned=True))  # no pink tinge, no protection trip
        elif one.tag is Tag.BAD and found and found[-1].tag is Tag.THING and found[-1].turned:
            found[-1] = replace(found[-1], turned=False)  # no rail missing
            found.append(replace(one, turned=True))
        else:
            found.append(one)
    last = next((k for k in range(len(found) - 1, -1, -1) if found[k].tag is not Tag.AGAIN), None)
    if no and last is not None and found[last].tag in _WEIGHTY:  # “the trouble is not coming again”
        found[last] = replace(found[last], turned=not found[last].turned)
    return found, lost


def _of_nothing(words: list[_Word]) -> int:
    start = next(k for k, one in enumerate(words) if one.tag is Tag.NOTHING)
    for one in words[start + 1 :]:
        if one.tag in (Tag.BAD, Tag.DIED):
            return 1
        if one.tag is Tag.GOOD:
            return -1
    before = words[start - 1].text if start else ""
    return 1 if _TAKES.match(before) else -1  # “blew nothing”


def _ends(words: list[_Word], later: bool) -> list[_Word]:
    """Gone and stopped, bound to what they are said of, which they turn; so does a “did not return”
    that stands after it."""
    found: list[_Word] = []
    held = list(words)
    while held:
        one = held.pop(0)
        ends = one.tag in (Tag.ENDED, Tag.DIED)
        away = one.tag is Tag.WEAK and one.turned
        if not (ends or away):
            found.append(one)
            continue
        before = _said_of(found)
        doing = ends and bool(held) and held[0].tag in (Tag.GOOD, Tag.BAD)
        if doing and held[0].text.endswith("ing"):  # “has quit ticking”
            before = None
        after = next((k for k, word in enumerate(held) if _bindable(word)), None)
        if before is not None:
            found[before] = _gone(found[before], one.turned and ends)
            while before and found[before - 1].tag is Tag.BAD is found[before].tag:  # hum bars
                before -= 1
                found[before] = _gone(found[before], one.turned and ends)
        elif after is not None and ends:
            held[after] = _gone(held[after], one.turned)
        elif one.tag is Tag.ENDED and not later:
            found.append(replace(one, tag=Tag.UNKNOWN))
        else:  # “then gone”, “stops”, “does not come”; “never stopped”
            found.append(_Word(Tag.BAD, one.text, turned=ends and one.turned))
    return found


def _cured(words: list[_Word]) -> list[_Word]:
    """“Cured the ticking”, “problem solved”: what was cured is no trouble any more."""
    found: list[_Word] = []
    cures: _Word | None = None
    for one in words:
        if one.tag is Tag.CURES:
            cures = one
            if found and found[-1].tag is Tag.BAD and not (one.turned or found[-1].turned):
                found[-1] = replace(found[-1], turned=True)  # problem solved
            found.append(_Word(Tag.GOOD, one.text, one.turned))
        elif one.tag is Tag.BAD and cures is not None and not cures.turned:
            found.append(replace(one, turned=not one.turned))
        else:
            found.append(one)
    return found


def _said_twice(words: list[_Word]) -> list[_Word]:
    """“Protection no longer trips”: a trouble that is denied what it does is denied itself."""
    found = list(words)
    for k in range(len(found) - 2, -1, -1):
        one, after = found[k], found[k + 1]
        if one.tag is Tag.BAD is after.tag and after.turned and not one.turned:
            found[k] = replace(one, turned=True)
    return found


def _said_of(words: list[_Word]) -> int | None:
    """The word before, that something gone is said of: a trouble before a rail or a good."""
    for tags in ((Tag.BAD,), (Tag.GOOD, Tag.THING)):
        found = [k for k, word in enumerate(words) if word.tag in tags]
        if found:
            return found[-1]
    return None


def _bindable(word: _Word) -> bool:
    return word.tag in (Tag.GOOD, Tag.BAD, Tag.THING)


def _gone(word: _Word, not_so: bool) -> _Word:
    """A word that something gone is said of: a trouble turned, a good or a rail missing."""
    if not_so or word.turned:  # “has not gone”; “no tick any more” is turned already
        return replace(word, tag=Tag.GOOD) if word.tag is Tag.THING and not_so else word
    return replace(word, tag=Tag.BAD) if word.tag is Tag.THING else replace(word, turned=True)


def _of_words(words: list[_Word]) -> int | None:
    """By the words of weight; None where there is none."""
    brief = any(one.tag is Tag.BRIEF for one in words)
    signs = [one.sign for one in words if one.tag in (Tag.GOOD, Tag.BAD, Tag.YES, Tag.NO)]
    signs += [-1 for one in words if one.tag in (Tag.THING, Tag.CHANGE) and one.turned]
    if not signs:
        return -1 if brief and any(one.tag is Tag.THING for one in words) else None
    if brief and all(sign > 0 for sign in signs):
        return -1
    return -1 if min(signs) < 0 else 1


def _of_weak(words: list[_Word], unknown: bool) -> int:
    still = [one for one in words if one.tag is Tag.STILL and not one.turned]
    weak = [one for one in words if one.tag is Tag.WEAK]
    again = any(one.tag is Tag.AGAIN for one in words)
    thing = any(one.tag is Tag.THING for one in words)
    if any(_SAME_FAULT.search(one.text) for one in still):
        return -1
    if unknown:
        return 0
    kept = any(one.text.startswith(("keep", "kept")) for one in still)
    if still and not weak and not kept:
        return -1
    return 1 if weak or (thing and (again or kept)) else 0
