"""What was seen on a board or heard of a set: findings at parts, symptoms, or a set that works."""

from __future__ import annotations

import re
from dataclasses import replace

from loose_rail.app.job_file.log.beside_the_set import (
    cord_seen,
    seen_before_the_set,
    setting_seen,
)
from loose_rail.app.job_file.log.elsewhere import other_part
from loose_rail.app.job_file.log.entries import Seen
from loose_rail.app.job_file.log.limiter import limiter_seen
from loose_rail.app.job_file.log.on_a_tester import tried_on_a_tester
from loose_rail.app.job_file.log.seen_as_a_deed import seen_as_a_deed
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.unlisted import seen_at_unlisted
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.parts_named import OUTPUT_CHOKE
from loose_rail.diagnosis.evidence.customer_words import proposal_words, proposals
from loose_rail.diagnosis.evidence.soft_evidence import (
    cleared_clue,
    disconnected_clue,
    finding_clue,
    finding_key,
    findings,
    only_denied,
    works_clue,
)
from loose_rail.diagnosis.evidence.tapped import tapped_clue
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.supply_good import rail_reservoirs
from loose_rail.jobs import events as ev
from loose_rail.judgement.judge import Verdict
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.keys import stage_of


def tell_sight(teller: Teller, entry: Seen) -> None:
    """Tell a sight: at a part, at another board, of the whole set, or as a symptom."""
    by_itself = (
        *(limiter_seen, seen_before_the_set, cord_seen, setting_seen, _on_a_tester),
        *(_runs_without, seen_as_a_deed, _of_the_set),
    )
    if any(told(teller, entry) for told in by_itself):
        return
    looked_at = _parts_of(teller, entry)
    key = _seen_on(teller, entry.text, looked_at)
    parts = _that_show_it(teller, key, entry.at, looked_at)
    lit = bool(parts) and is_a(teller.board.component(parts[0]), Trait.BACKLIGHT)
    if not parts or (lit and not key):
        far = other_part(teller.board, entry.at)
        if far and key != "nothing_seen":
            touched = _TOUCH.search(entry.text) or _WHEN_TOUCHED.search(entry.text)
            bad = bool(key) or bool(
                touched
                or re.search(
                    r"dark|pink|late|not light|brown|out\b|\bhole\b|black|carbon|arc",
                    entry.text,
                    re.I,
                )
            )
            if bad:
                teller.aside(cleared_clue(teller.table, far, good=False), entry.number)
            teller.understand(f"“{entry.text}” at {teller.name(far)}")
            return
    if key and parts and key != "nothing_seen":
        clue = teller.spread([finding_clue(teller.table, part, key) for part in parts], entry.at)
        if len(parts) == 1:
            teller.record(ev.FindingNoted(parts[0], key))
            teller.sighted = parts[0]
        else:
            teller.aside(clue, entry.number)
        teller.understand(f"“{entry.text}” → {clue.words}")
        return
    if _works(entry.text):
        _shown_on(teller)
        teller.aside(works_clue(teller.table, f"{entry.at}: {entry.text}"), entry.number)
        teller.understand(f"“{entry.text}” at {entry.at} → it works")
        return
    if key == "nothing_seen" or _plainly_fine(entry.text) or only_denied(entry.text):
        where = parts[0] if len(parts) == 1 else ""
        if where:
            teller.record(ev.FindingNoted(where, "nothing_seen"))
        else:
            teller.aside(finding_clue(teller.table, "", "nothing_seen"), entry.number)
        teller.understand(f"“{entry.text}” → nothing to be seen there")
        return
    plain = _answers_to_touch(teller, entry) or _even_light(teller, entry)
    if plain or seen_at_unlisted(teller, entry.at, key, entry.number):
        return
    if not _symptoms_in(teller, entry) and not _noted(teller, entry):
        teller.leave(
            f"{entry.text} at {entry.at}", "not understood: say bulging, leaked, burnt, cracked…"
        )


def _of_the_set(teller: Teller, entry: Seen) -> bool:
    """What the set itself shows: no part of a board is looked at. Whether it was that."""
    of_it = _OF_THE_SET.match(entry.at.strip()) is not None
    return of_it and not _works(entry.text) and _symptoms_in(teller, entry)


_OF_THE_SET = re.compile(
    r"^(?:the |its )?(?:screen|front|set|tv|telly|monitor|picture|panel front)$", re.IGNORECASE
)
"""Where it is the set that is looked at, and no part of a board."""
_STAYS = re.compile(
    r"\b(sound|audio|picture|set|it|backlight|light|screen|standby light|volts?|rail)\b"
    r"[^.;,]{0,12}\b(stays?|remains?|plays?|keeps? (on|going|running)|lit|goes on|holds?)\b(?! "
    r"(off|dark|dead|black|out|away|red))|^(it |set )?(stays|keeps) (on|running|up)\b|"
    r"\bno longer (shuts|switches|goes|trips) (off|down|out)\b",
    re.IGNORECASE,
)
_WENT_OFF = frozenset({"starts_then_stops", "restarts", "dies_warm"})


def _runs_without(teller: Teller, entry: Seen) -> bool:
    """A set that went off, and stays on while one of its boards is unplugged: what it drew was too
    much. Whether it was that."""
    loads = teller.situation.without
    failed = bool(teller.symptoms & _WENT_OFF) or teller.fell_in is not None
    if not loads or not failed or not _STAYS.search(entry.text) or _NOT_ON.search(entry.text):
        return False
    clues = [disconnected_clue(teller.table, one, True, True) for one in sorted(loads)]
    teller.aside(teller.spread(clues, entry.text), entry.number)
    teller.understand(f"“{entry.text}” → it stays on without {teller.name(min(loads))}")
    return True


_NOT_ON = re.compile(r"\b(not|never|no sound|then|until|but)\b|n't\b", re.IGNORECASE)


def _shown_on(teller: Teller) -> None:
    """A set that was plugged in, complete, and is seen playing, is on from then on."""
    state = teller.situation.state
    if state is None or state.power is not Power.STANDBY or not state.main_cable:
        return
    if not state.lamp_watts and not teller.situation.without:
        on = replace(state, power=Power.ON)
        teller.situation = replace(teller.situation, state=on, forced=False)
        if not teller.follows:
            _read_while_on(teller, state, on)


def _read_while_on(teller: Teller, was: BoardState, on: BoardState) -> None:
    """What was read since it was plugged in was read of the set that is seen to be on, where its
    start stood: “3.3 V at the start pin, 12.1 V; picture and sound”."""
    stay = max(
        (r.sequence for r in teller.records if isinstance(r.event, ev.StateConfirmed)), default=0
    )
    here = [r for r in teller.job.live_readings if r.state == was and r.sequence > stay]
    keys = [f"{r.probe}@{on.key}" for r in here]
    if not here or not all(key in teller.keys for key in keys):
        return
    columns = [column_of(teller.table, teller.table.index(key)) for key in keys]
    if any(
        column.judged(reading.observation).verdict is Verdict.DISAGREES
        for column, reading in zip(columns, here, strict=True)
    ):
        return
    for reading in here:
        teller.record(ev.Voided(reading.sequence, "read while the set was on"))
        teller.read(reading.probe, on, reading.observation, reading.sequence)


_EVEN_LIGHT = re.compile(
    r"\b(even|full|uniform)(ly)?,? (and )?(bright |white |back ?)*light\b|"
    r"\b(back ?)?light\b[^.;]{0,30}\b(even|uniform)(ly)?\b|"
    r"\b(back ?light|screen|panel|lamps?|strips?) (is |are |comes? )?(lit|lights?)( up)? "
    r"(even|full)\w*|\blights? (up )?evenly\b",
    re.IGNORECASE,
)
_NO_LIGHT = re.compile(
    r"n't\b|\b(no|not|un|without|half|one side|patch\w*|flicker\w*|but|except|"
    r"then|once|briefly|second|moment|dark|dim|off)\b",
    re.IGNORECASE,
)


def _even_light(teller: Teller, entry: Seen) -> bool:
    """Even light over the whole screen: the lamps are whole, whoever asked them to light."""
    if not _EVEN_LIGHT.search(entry.text) or _NO_LIGHT.search(entry.text):
        return False
    own = [one.ref for one in teller.board.components if is_a(one, Trait.BACKLIGHT)]
    lamps = own or [ref for ref in (other_part(teller.board, "lamps"),) if ref]
    if not lamps:
        return False
    for ref in lamps:
        teller.aside(cleared_clue(teller.table, ref, good=True), entry.number)
    teller.understand(f"“{entry.text}” → the lamps are whole")
    return True


def _on_a_tester(teller: Teller, entry: Seen) -> bool:
    return tried_on_a_tester(teller, entry.at, entry.text, entry.number)


_BESIDE = re.compile(
    r"\b(beside|next to|near|close to|around|behind|in front of|by)\b", re.IGNORECASE
)


def _seen_on(teller: Teller, words: str, parts: list[str]) -> str:
    """The finding that words mean; where the parts cannot show it, another that they can."""
    key = finding_key(words)
    kinds = {teller.board.component(ref).kind for ref in parts}
    fits = not key or not findings()[key].kinds or findings()[key].kinds & kinds
    return key if fits else finding_key(words, kinds)


def _that_show_it(teller: Teller, key: str, at: str, parts: list[str]) -> list[str]:
    """Of the parts that a place means those that can look so: a choke has no top that bulges. Where
    it is one of a can and none is one, “beside the output coils” is where it was seen, and the cans
    of the outputs are meant."""
    kinds = findings()[key].kinds if key else ()
    fitting = [ref for ref in parts if teller.board.component(ref).kind in kinds]
    where = bool(parts) or OUTPUT_CHOKE.search(at)
    if "electrolytic" not in kinds or not where or fitting or not _BESIDE.search(at):
        return fitting or parts
    cans = [ref for ref in rail_reservoirs(teller.board) if "bulk" not in _roles(teller, ref)]
    stages = {stage_of(name) for ref in parts for name in _roles(teller, ref)}
    own = [ref for ref in cans if stages & {stage_of(name) for name in _roles(teller, ref)}]
    return own or cans  # beside the 24 V rectifier it is the 24 V can


def _roles(teller: Teller, ref: str) -> set[str]:
    return {name for name, refs in teller.board.roles.items() if ref in refs}


_DAMAGED = re.compile(
    r"dark|pink|late|not light|brown|out\b|\bhole\b|black|carbon|arc(s|ed|ing)\b", re.IGNORECASE
)
"""What is wrong where another board or its lamps are looked at."""


def _parts_of(teller: Teller, entry: Seen) -> list[str]:
    """The parts that a sight is of. Where the place is a section, a connector or none, the sight
    may name the part itself: “blue disc burst” at the mains inlet."""
    plug = _PLUG.match(entry.at.strip())
    refs = [p.ref for p in teller.board.connectors if plug and p.ref.lower() == plug[0].lower()]
    if refs and finding_key(entry.text):
        return refs  # “CN2, its inverter end”
    parts = teller.parts(entry.at)
    beside = teller.parts(entry.text) if _BESIDE.match(entry.at.strip()) else []
    if len(beside) == 1 and beside != parts:
        return beside  # “blue round part burst”, next to the fuse
    plugs = all(is_a(teller.board.component(ref), Trait.CONNECTOR) for ref in parts)
    if len(parts) == 1 and not plugs:
        return parts
    text = _WHERE_A_LAMP_SITS.sub("", entry.text)
    disc = _A_DISC.match(text.strip())
    named = teller.parts(_DISC if disc and _AT_THE_MAINS.search(f"{entry.at} {text}") else text)
    if len(named) == 1 and not is_a(teller.board.component(named[0]), Trait.CONNECTOR):
        return named
    if parts or OUTPUT_CHOKE.search(entry.at):
        return parts
    return teller.parts(f"{entry.at} {entry.text}")


_PLUG = re.compile(r"[A-Za-z]{1,4}\d{1,4}\b")
_DISC = "varistor"
_A_DISC = re.compile(
    r"^(?:the |a |small |big )*(?:(?:blue|red|yellow|orange|round|flat) )*disc\b"
    r"(?! (?:drive|player))",
    re.IGNORECASE,
)
"""A disc that split or burnt at the mains is the suppressor: “disc next to the fuse”."""
_AT_THE_MAINS = re.compile(r"\b(mains|inlet|entry|fuse|input|live|neutral)\b", re.IGNORECASE)
_WHERE_A_LAMP_SITS = re.compile(
    r"\b(upper|lower|left|right|top|bottom|middle|outer|inner)\b "
    r"(?=(\w+ )?(tubes?|lamps?|strips?|bars?)\b)",
    re.IGNORECASE,
)
"""“Lower left tube”: which of them is not told apart here."""
_TOUCH = re.compile(
    r"\b(?:tap|knock|flex|press|push|bend|wiggl|touch|mov|prod)\w*\b(?: (?:round|around|on|at|near|"
    r"against|the))* (?P<where>[^,;]*?)\b(?:brings|makes|gives|lets|starts|stops|changes|switches|"
    r"turns|sets)\b",
    re.IGNORECASE,
)
_WHEN_TOUCHED = re.compile(
    r"\b(?:when|while|if|as soon as) (?:i |one |you |it is )?"
    r"(?!press(?:ed|ing)? (?:the |its )?(?:power |on |start |standby )?(?:button|key))(?:tap|"
    r"knock|flex|press|push|bend|"
    r"wiggl|"
    r"touch|mov|prod)\w*\b(?P<where>.*)|\b(?:is|are) (?:touched|moved|pressed|pushed|"
    r"bent)\b(?P<w>)",
    re.IGNORECASE,
)


def _answers_to_touch(teller: Teller, entry: Seen) -> bool:
    """A fault that comes or goes with a touch, at a part where one is named."""
    found = _TOUCH.search(entry.text) or _WHEN_TOUCHED.search(entry.text)
    if found is None or re.search(r"\b(nothing|no)\b", entry.text, re.IGNORECASE):
        return False
    parts = teller.parts(found["where"] or "") or teller.parts(entry.at)
    if parts:
        teller.aside(tapped_clue(teller.table, parts, entry.text), entry.number)
        teller.understand(f"“{entry.text}” → it answers to a touch at {teller.name(parts[0])}")
    elif "tapping_helps" not in teller.symptoms:
        teller.symptoms.add("tapping_helps")
        teller.record(ev.SymptomNoted("tapping_helps", entry.text))
        teller.understand(f"“{entry.text}” → tapping or moving it changes it")
    return True


def _symptoms_in(teller: Teller, entry: Seen) -> bool:
    words = [one for one in proposals(f"{entry.text} {entry.at}") if not one.is_history]
    for one in words:
        if one.kind not in teller.symptoms:
            teller.symptoms.add(one.kind)
            teller.record(ev.SymptomNoted(one.kind, one.phrase, one.hertz))
        teller.understand(proposal_words(one))
    return bool(words)


def _noted(teller: Teller, entry: Seen) -> bool:
    if re.search(r"\d ?v\b|label|legend|printed|marked|divider|number", entry.text.lower()):
        teller.understand(f"“{entry.text}” at {entry.at}: noted, nothing follows from it by itself")
        return True
    return False


_ALL = re.compile(r"[ ,]+|\band\b")
_WORKING_WORDS = frozenset(
    (
        *(
            "picture",
            "image",
            "menu",
            "menus",
            "opens",
            "with",
            "remote",
            "shown",
            "sound",
            "audio",
            "light",
            "backlight",
            "film",
            "set",
            "all",
            "lit",
        ),
        *("there", "good", "fine", "ok", "okay", "even", "normal", "right", "bright", "clear"),
        *("runs", "running", "plays", "playing", "works", "working", "is", "are", "on", "the"),
        *("steady", "starts", "start", "comes", "at", "first", "attempt", "try", "once", "and"),
    )
)
_PLAYS = frozenset(("picture", "image", "runs", "running", "plays", "playing", "works", "working"))


def _works(text: str) -> bool:
    """Whether the words say that it does what it should, or no more than that picture, sound and
    light are there, or that it runs."""
    if _AS_IT_SHOULD.search(text) and not re.search(r"\bnot\b|n't|\bbut\b", text):
        return True
    plain = _SO_LONG.sub(" ", _BY_KEY.sub(" ", text.lower())).strip(" .")
    words = [word for word in _ALL.split(plain) if word]
    return bool(words) and set(words) <= _WORKING_WORDS and bool(set(words) & _PLAYS)


_SO_LONG = re.compile(
    r"\b(?:for|since|over|after|all|the whole) (?:(?:an?|one|two|three|four|half an?|several|"
    r"\d+) )?"
    r"(?:minutes?|min|hours?|h|days?|evening|night|day|morning|switching on|start)\b|"
    r"\b(?:perfect|perfectly|steady|fine|normal(?:ly)?)\b"
)
"""For how long it works, and how well."""
_BY_KEY = re.compile(
    r"\b(dot|lamp|led|eye|indicator|red|green) (is )?(lit|on)\b|"
    r"\b(with|by|from|on) (the |its )?(own )?(key|button|remote|handset)s?"
    r"( and (the )?(key|button|remote)s?)?\b"
)
"""How it was started, and that its lamp is lit: said beside picture and sound."""
_AS_IT_SHOULD = re.compile(
    r"\bas (it|they|all) should|(picture|sound|light)\b.{0,30}\b(all|both) (there|right|good|"
    r"fine|normal)|"
    r"\b(menu|(own|built-in|test) pictures?)\b.{0,30}\b(is|are) (perfect|fine|good|right|there)\b|"
    r"\b(menu|film|picture)\b.{0,30}\bwithout (a |any )?(fault|trouble|flaw)|"
    r"(works|working|runs|plays) (well|fine|normally|perfectly)|everything (works|is (fine|right))",
    re.IGNORECASE,
)
"""The set was seen to do its work."""


def _plainly_fine(text: str) -> bool:
    return bool(
        re.search(
            r"looks (fine|good|ok)|\bflat\b|\bclean\b|nothing(?! (?:else|but|more))|not (domed|"
            r"burnt|bulging)",
            text,
            re.I,
        )
    )
