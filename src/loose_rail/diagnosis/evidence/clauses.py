"""What a complaint says clause by clause: which thing, and whether it comes, goes, is there or not.

People tell a course: “it clicks, half a second later it is off again”; “sound and light are there,
the picture is not”. Phrases find single wordings; here the words of a clause are set against its
thing, a thing that is not named is the one before, and what follows from the course is one of the
symptoms of the vocabulary. A clause that says neither says nothing.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum


class Thing(StrEnum):
    """What a clause is about."""

    SET = "set"
    INDICATOR = "indicator"
    BACKLIGHT = "backlight"
    PICTURE = "picture"
    SOUND = "sound"
    RELAY = "relay"
    REMOTE = "remote"


class Does(StrEnum):
    """What it does: comes, goes away again, is there, or is not and does not come."""

    COMES = "comes"
    GOES = "goes"
    THERE = "there"
    ABSENT = "absent"


@dataclass(frozen=True, slots=True)
class Clause:
    """One clause: its things, what they do, and its words."""

    things: frozenset[Thing]
    does: Does | None
    words: str


@dataclass(frozen=True, slots=True)
class Told:
    """Symptoms that follow from the course, with the words they rest on, and those that the words
    of single phrases seem to say and the clause does not."""

    kinds: dict[str, str]
    not_meant: frozenset[str]


_COLOUR = r"(?:red|green|blue|white|orange|amber|yellow)"
_THINGS = (
    (Thing.BACKLIGHT, r"back ?-?light(?:ing)?s?|light (?:\w+ ){0,2}behind|(?:grey |white )?glow\b"),
    (
        Thing.INDICATOR,
        rf"{_COLOUR} (?:light|lamp|led|dot|eye|spot)s?|(?:stand-?by|power|front|little|small) "
        r"(?:light|lamp|led|dot|eye)s?|indicator|pilot|\b(?:the )?(?:dot|led)\b|\blamp\b",
    ),
    (Thing.REMOTE, r"remote|handset"),
    (Thing.SOUND, r"sound|audio|loudspeakers?|speakers?|voices?|the programme|\bhear\b"),
    (
        Thing.PICTURE,
        r"picture|image|screen|display|\bpanel\b|\bglass\b|the video|\bto see\b|\bbe seen\b",
    ),
    (Thing.RELAY, r"relay|\bclick(?:s|ed)?\b|\bclack"),
    (Thing.SET, r"\bit\b|\btv\b|telly|television|monitor|\bthe set\b|\bthis set\b|\bthing\b"),
)
_LIGHT = re.compile(
    r"(?<!back)(?<!back-)(?<!back )(?<!never )(?<!it )(?<!not )(?<!n't )"
    r"\blights?\b(?! (?:up|in|of|on the))"
)
_SPLIT = re.compile(
    r"[.;!?:]|,|\b(?:and then|and|but|then|until|afterwards|though|yet|while the|"
    r"when|whenever|as soon as|if|because|since)\b|"
    r"\bwith\b(?= (?:\w+ )?(?:sound|audio|picture|image|black|dark|bright))|(?=\bwithout\b)"
)
_ABSENT = re.compile(
    r"\b(?:no|without) (?:a |any )?(?:\w+ )?"
    r"(?:picture|image|sound|audio|light|lamp|led|dot|back ?light)|"
    r"n['o]t (?:\w+ )?(?:come|go|turn|switch|power|start|light|work|boot|play|show|wake|react)|"
    r"\b(?:refuses?|fails?|does n.t want|doesn't want) to (?:\w+ )?"
    r"(?:wake|switch|turn|start|come|go)|"
    r"\b(?:never|no longer) (?:\w+ )?(?:come|go|turn|switch|power|start|light|work)|"
    r"\bwon'?t\b|\b(?:is|are|was) not\b|\bis missing|stays? (?:dark|black|silent|off|out|dead)|"
    r"\bdead\b|shows? nothing|\bsilent\b|\bis (?:dark|black|gone|out|off)\b(?! again)|"
    r"pitch[ -](?:black|dark)|not even|\bnothing\b|^(?:the )?(?:back ?)?\w+:? no$"
)
_GOES = re.compile(
    r"\b(?:goes|went|turns?|turned|switch(?:es)?|shuts?|cuts?|powers?|falls?|drops?|clicks|jumps?|"
    r"trips)(?: itself| right| straight)? (?:off|out|dark|black|down|back|away)|"
    r"\bquits?\b|\bdies\b|\bstops\b|gives? up|\b(?:is )?(?:off|gone|dark|black|out|red) again\b|"
    r"^ ?(?:it is |it's )?(?:off|dark|black|gone|out) ?$|back to (?:stand-?by|red)"
)
_COMES = re.compile(
    r"\b(?:comes?|came)\b|\blights? up|\bstarts?\b|\bboots?\b|"
    r"\b(?:turns?|switch(?:es)?|goes|powers?) (?:on|up|white|green|blue|orange)\b|\btries\b|"
    rf"\bclicks?\b|shows? (?:the |a |its )?(?:logo|start|picture)|flash(?:es)?\b|"
    rf"(?:comes|changes|goes) .{{0,16}}to {_COLOUR}|^ ?(?:blue|green|white|orange) "
)
_THERE = re.compile(
    r"\b(?:is|are) (?:there|fine|ok|okay|good|on|normal)\b|\b(?:ok|fine|good|perfect|normal)\b|"
    r"^(?:the )?(?:back ?)?\w+:? yes$|"
    r"\bworks\b|\bstays(?: on)?\b|\bgoes on\b|\bplays\b|\bhear\b|\bspeaks\b|\bglows\b|\bdoes\b$"
)
_NOT_STARTING = re.compile(
    r"(?!.*\boff\b)(?:n['o]t|never|no longer|won'?t|refuses to|fails to|want to) (?:\w+ )?"
    r"(?:go|come|turn|switch|power|start|wake)|^it won'?t$"
)
_WHOLE_SET = re.compile(
    r"\b(?:go|come|turn|switch|power|start)\w* (?:\w+ )?on\b|\bstart\b|\bwake\b|"
    r"want to (?:come|go|turn)"
)
_ALTERNATES = re.compile(
    rf"\b(?P<one>{_COLOUR})\b[^.]{{1,16}}\b(?:dark|off|out|{_COLOUR})\b[^.]{{1,16}}\b(?P=one)\b|"
    r"\bon\b[^.]{1,16}\b(?:dark|off|out)\b[^.]{1,16}\bon\b"
)
_PART = re.compile(
    r"\b(?:half|third|side|corner|part|edge|third|quarter|left|right|upper|lower|top|bottom)\b"
)
_PROVOKED = re.compile(
    r"\b(?:goes|turns|switch(?:es)?|shuts|cuts|powers|falls|drops|trips)(?: itself)? "
    r"(?:off|out|down|back) "
    r"(?:the (?:moment|instant|second)|as soon as|when|whenever|on|with|during|if)\b"
)
_BRIEF = re.compile(
    r"\b(?:seconds?|moment|instant|blink|flash(?:es)?|briefly|heartbeat|short(?:ly)?)\b"
)


def clauses(text: str) -> list[Clause]:
    """The clauses of a complaint in lower case, in their order."""
    found: list[Clause] = []
    waiting: frozenset[Thing] = frozenset()
    for words in _SPLIT.split(re.sub(r":(?= (?:yes|no)\b)", "", text)):  # “sound: yes”
        words = words.strip()
        if not words:
            continue
        things = _things(words, text)
        does = _does(words)
        if does is None and things and not re.search(r"\w+s\b \w", words):
            waiting |= things  # “sound and light are there”: the verb is still to come
            found.append(Clause(things, None, words))
            continue
        if does is not None and not things and found:
            of_set = does is Does.ABSENT and _WHOLE_SET.search(words)
            things = frozenset({Thing.SET}) if of_set else found[-1].things
        if does is not None and waiting and does in (Does.THERE, Does.COMES):
            things |= waiting
        waiting = frozenset()
        found.append(Clause(things, does, words))
    return found


def _things(words: str, text: str) -> frozenset[Thing]:
    found = {thing for thing, pattern in _THINGS if re.search(pattern, words)}
    if _LIGHT.search(words) and not found & {Thing.INDICATOR, Thing.BACKLIGHT}:
        beside = re.search(r"sound|picture|screen|hear|\bplays\b", text)
        found.add(Thing.BACKLIGHT if beside else Thing.INDICATOR)
    return frozenset(found if len(found) == 1 else found - {Thing.SET})


def _does(words: str) -> Does | None:
    for pattern, does in (
        (_ABSENT, Does.ABSENT),
        (_GOES, Does.GOES),
        (_COMES, Does.COMES),
        (_THERE, Does.THERE),
    ):
        if pattern.search(words):
            return does
    return None


def told(text: str) -> Told:
    """What follows from the clauses of a complaint in lower case."""
    said = clauses(text)
    kinds: dict[str, str] = {}
    not_meant: set[str] = set()
    provoked = _PROVOKED.search(text)
    if provoked:
        kinds["starts_then_stops"] = provoked[0]
    _course(said, kinds)
    _parts(said, kinds, not_meant)
    _alone(said, kinds, not_meant)
    changes = re.search(
        r"\b(?:blue|green|white|orange)\b.{0,40}\b(?:then|back|again|falls)\b.{0,16}\bred\b|"
        r"\bred\b.{0,40}\b(?:goes|turns|to) (?:white|green|blue|orange)\b.{0,16}"
        r"(?:then|nothing|back)",
        text,
    )
    if changes:
        kinds["starts_then_stops"] = changes[0]
        not_meant |= {"indicator_blinks", "backlight_flashes"}
    alternates = _ALTERNATES.search(text)
    if alternates:
        kinds["restarts"] = alternates[0]
        not_meant |= {"indicator_steady", "starts_then_stops"}
    return Told(kinds, frozenset(not_meant))


_BARE = re.compile(
    r"(?:after (?:that|which) |afterwards |from then on )?(?:it is |it's |all )?"
    r"(?:off|dark|dead|black|gone|out)"
)
_WHOLE = frozenset({Thing.SET, Thing.RELAY, Thing.INDICATOR})


def _course(said: Sequence[Clause], kinds: dict[str, str]) -> None:
    """What came and went again."""
    for number, clause in enumerate(said):
        if clause.does is not Does.COMES:
            continue
        stays = False
        for later in said[number + 1 :]:
            stays |= later.does is Does.THERE
            bare = _BARE.fullmatch(later.words)  # “lights up, plays, but black”: it has not gone
            gone = not stays if bare else later.does is Does.GOES
            if not gone:
                continue
            lit = {Thing.BACKLIGHT, Thing.PICTURE} & (clause.things | later.things)
            if lit and not later.things & {Thing.SET, Thing.RELAY}:
                kinds["backlight_flashes"] = f"{clause.words}, {later.words}"
            elif not later.things or later.things & _WHOLE:
                kinds["starts_then_stops"] = f"{clause.words}, {later.words}"
            break


def _parts(said: Sequence[Clause], kinds: dict[str, str], not_meant: set[str]) -> None:
    """A part of the picture, and what is there beside what is not."""
    there = {t for c in said if c.does in (Does.THERE, Does.COMES) for t in c.things}
    waiting = {t for c in said if c.does is None for t in c.things}
    absent = {t for c in said if c.does is Does.ABSENT for t in c.things}
    for clause in said:
        part = Thing.PICTURE in clause.things and _PART.search(clause.words)
        if part and re.search(r"\b(?:dark|black|dim)", clause.words):
            kinds["picture_dim"] = clause.words
            not_meant.add("picture_none")
            absent.discard(Thing.PICTURE)
        brief = Thing.BACKLIGHT in clause.things and clause.does is Does.GOES
        if brief and _BRIEF.search(clause.words):
            kinds["backlight_flashes"] = clause.words
            not_meant.add("backlight_none")
    bare = next((c.words for c in said if not c.things and _BARE.fullmatch(c.words)), "")
    if Thing.SOUND in there | waiting and bare and not absent & {Thing.BACKLIGHT}:
        kinds["picture_none"] = bare  # “dark, with sound”
    if Thing.SOUND in waiting and Thing.PICTURE in absent:
        kinds["sound_fine"] = next(c.words for c in said if Thing.SOUND in c.things)
    lit = Thing.BACKLIGHT in there | waiting and Thing.BACKLIGHT not in absent
    if Thing.PICTURE in absent and Thing.SOUND in there | waiting:
        dark = "picture_black_lit" if lit else "picture_none"
        kinds[dark] = next(c.words for c in said if Thing.PICTURE in c.things)
        if lit:
            not_meant |= {"picture_none", "backlight_none", "backlight_flashes"}


def _alone(said: Sequence[Clause], kinds: dict[str, str], not_meant: set[str]) -> None:
    """One thing that does not come, which is not the whole set."""
    for clause in said:
        if clause.does is not Does.ABSENT:
            continue
        things = clause.things
        if things == {Thing.SET} and _NOT_STARTING.search(clause.words):
            kinds["never_starts"] = clause.words
        if Thing.INDICATOR in things and not re.search(r"nothing", clause.words):
            kinds["indicator_none"] = clause.words
            not_meant.add("indicator_steady")
        if things and Thing.SET not in things and "dead" in clause.words:
            not_meant.add("dead_silent")
        if things == {Thing.SOUND}:
            kinds["sound_none"] = clause.words
            not_meant.add("clicks_none")
        if Thing.BACKLIGHT in things:
            not_meant.add("indicator_none")
        if things == {Thing.BACKLIGHT}:
            kinds["backlight_none"] = clause.words
