"""What an entry tells beside the value that was read: several that are one part here, of which some
are open; two windings that should be alike; a point that moves while the board is pressed."""

from __future__ import annotations

import re
from dataclasses import replace

from loose_rail.app.job_file.log.entries import Read
from loose_rail.app.job_file.log.human_value import HumanValue, human_value
from loose_rail.app.job_file.log.points import Place
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.unlisted import tapped_unlisted
from loose_rail.app.job_file.log.value_words import NUMBER, UNIT
from loose_rail.diagnosis.evidence.tapped import tapped_clue
from loose_rail.jobs import events as ev
from loose_rail.judgement.spread import RESISTORS
from loose_rail.kernel.negation import negated
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.roles import BoardRole

_SOME_OPEN = re.compile(
    r"^[\d.,]+ ?\w{0,5}(?: ohms?)?,?;? (?:and |but )?(?:one|two|three|four|the others?|some|"
    r"the rest|\d)(?: (?:is|are|reads?|of them))* (?:open|OL|infinite)\b",
    re.IGNORECASE,
)


def some_open(teller: Teller, entry: Read, place: Place) -> bool:
    """Whether several that are one part here were read, “2.2 and two open”: it is bad."""
    part = place.probe.part if place.probe is not None else next(iter(place.parts), "")
    if not part or not _SOME_OPEN.search(entry.text):
        return False
    if teller.board.component(part).kind not in RESISTORS:
        return False  # “0.52, the other way OL” is a good diode
    teller.record(ev.ClueNoted("removed", part, "bad"))
    teller.understand(f"{entry.text} at {entry.at}: {teller.name(part)}, some of it is open")
    return True


_ODD_ONE = re.compile(
    rf"^(?P<value>{NUMBER}) ?(?P<unit>{UNIT})?\b.*?\b"
    rf"(?P<which>first|second|third|middle|upper|lower|last|top|bottom|one)(?: one)?(?: of them)? "
    rf"(?:(?:is|reads?|at|has|only|shows) )*(?P<other>{NUMBER}) ?(?P<other_unit>{UNIT})?",
    re.IGNORECASE,
)
_PLACE_IN_ROW = {"first": 0, "upper": 0, "top": 0, "second": 1, "middle": 1, "third": 2}
ALIKE_SHARE = 0.1
"""Resistors of one chain that are printed alike read alike by so much [P]."""


def odd_one_of_a_chain(teller: Teller, entry: Read, place: Place, found: HumanValue) -> bool:
    """“1M8, three of them, the middle one 4M7”: one of several alike has another value. Whether it
    was that."""
    told = _ODD_ONE.search(entry.text)
    row = [ref for ref in place.parts if teller.board.component(ref).kind in RESISTORS]
    row = [ref for ref in row if "lower" not in teller.board.component(ref).duty] or row
    if told is None or len(row) < 2 or found.observation.unit != "Ω":
        return False
    values = [
        human_value(f"{told[number]} {told[unit] or told['unit'] or ''}", "ohms", "")
        for number, unit in (("value", "unit"), ("other", "other_unit"))
    ]
    if None in values:
        return False
    usual, odd = (one.observation.centre for one in values if one is not None)
    if not usual or abs(odd / usual - 1.0) < ALIKE_SHARE:
        return False
    which = _PLACE_IN_ROW.get(told["which"].lower(), -1 if told["which"] != "one" else None)
    if which is None or which >= len(row):
        return False
    part = row[which]
    teller.record(ev.ClueNoted("removed", part, "bad"))
    teller.understand(f"{entry.text} at {entry.at}: {teller.name(part)}, unlike the others")
    return True


_WINDING = re.compile(r"\b(secondar(?:y|ies)|primar(?:y|ies)|windings?)\b", re.IGNORECASE)
_TWIN = re.compile(
    r"\b(left|right|upper|lower|top|bottom|first|second|third|fourth|other|one|t\d+|[a-z]{2}\d+)\b",
    re.IGNORECASE,
)
_OF_LAMPS = re.compile(r"\b(inverter|lamps?|tubes?|ccfl|back ?light)\b", re.IGNORECASE)
"""Transformers that come in twins; those of two supplies are no twins, nor a transformer's two
windings."""
UNLIKE_TIMES = 1.3
"""Twin windings agree within a few per cent; one with shorted turns, or a broken strand, does not
[P]."""


HIGH_WINDING_OHMS = 100.0
"""A secondary that makes hundreds of volts for tubes reads more; those of a supply read less
[P]."""


def _of_lamps(teller: Teller, entry: Read, place: Place, seen: Observation) -> list[str]:
    """The transformers of the inverter that a winding belongs to; none where it is a supply's. A
    “left” and a “right” one with a high winding are its, whatever they are called."""
    named = [r for r in place.parts if _OF_LAMPS.search(f"{entry.at} {teller.name(r)}")]
    if named or not _SIDE.search(entry.at) or seen.centre < HIGH_WINDING_OHMS:
        return named
    every = teller.board.components
    return [p.ref for p in every if p.kind == "transformer" and _OF_LAMPS.search(p.duty or p.ref)]


_SIDE = re.compile(r"\b(left|right|upper|lower|top|bottom)\b", re.IGNORECASE)


def unlike_its_twin(teller: Teller, entry: Read, place: Place, seen: Observation) -> bool:
    """Whether a winding was read that its twin, read before, should be like and is not: one of the
    two is bad."""
    winding = _WINDING.search(entry.at)
    kinds = {teller.board.component(ref).kind for ref in place.parts}
    if winding is None or kinds != {"transformer"} or seen.form is not Form.VALUE:
        return False
    parts = _of_lamps(teller, entry, place, seen)
    if not parts or not _TWIN.search(entry.at):
        return False
    if not seen.centre:
        return False
    plain = re.sub(r"[,&]|\band\b", " ", _TWIN.sub(" ", entry.at.lower()))
    which = re.sub(r"\btransformers\b", "transformer", " ".join(plain.split()))
    before = [ohms for at, kind, ohms in teller.windings if kind == which and at != entry.at]
    teller.windings.append((entry.at, which, seen.centre))
    unlike = [one for one in before if max(one, seen.centre) > UNLIKE_TIMES * min(one, seen.centre)]
    if not unlike:
        return False
    for part in parts[:1]:
        teller.record(ev.ClueNoted("removed", part, "bad"))
        teller.understand(
            f"{entry.text} at {entry.at}: {teller.name(part)}, not like its twin, which is the same"
        )
    return True


_WITH_THE_PICTURE = re.compile(
    r"\b(?:dips?|sags?|drops?|gives way|goes down)\b[^,;]*\b(?:on|in|with|during|when|while)\b"
    r"[^,;]*\b(?:bright|white|scenes?|loud|bass|volume)\b",
    re.IGNORECASE,
)
DIPS_SHARE = 0.25
"""A bulk that no boost holds gives way by less than this under a full load [E]."""


def without_its_dips(entry: Read, place: Place, seen: Observation) -> Observation:
    """A bulk that gives way with bright scenes stands at what it comes back to: no boost holds it.
    Every other reading as it is."""
    bulk = place.probe is not None and stage_of(place.probe.observable) == str(BoardRole.BULK)
    falls = seen.form is Form.FALLING and seen.low > (1.0 - DIPS_SHARE) * seen.high
    if not bulk or not falls or not _WITH_THE_PICTURE.search(f"{entry.text}, {entry.note}"):
        return seen
    return replace(seen, form=Form.VALUE, low=seen.high)


_PLACE = r"(?: (?:at|on|near|round|against|by|beside)\b[^,;]*)"
_WHILE_PRESSED = re.compile(
    r"(?<!nothing )\b(drops?|dips?|goes|falls|jumps?|changes?|moves?|comes?|dies|"
    r"cuts|flickers?|returns?|dead|dark)\b[^,;]{0,24}\b(?:when|while|as|if)\b "
    r"(?:the |it |i |you |we |is |its |a )*(?:(?:board|pcb|part|plug|connector|joint|cable|wires?|"
    r"can|coil|choke|transformer) (?:is |are )?(?:press|push|touch|mov|lift)\w*|"
    rf"(?:press|push|touch|lean)\w*(?={_PLACE})|"
    r"(?:[\w ]{0,20}\b)?(?:tapp|knock|flex|bend|bent|wiggl|twist|squeez)\w*)"
    r"(?P<where>[^,;]*)",
    re.IGNORECASE,
)
"""The board, or a place of it: a button that is pressed is another matter."""
_KEY = re.compile(r"\b(button|key|remote|switch)\b", re.IGNORECASE)


def moves_while_pressed(teller: Teller, entry: Read) -> bool:
    """A reading that comes and goes as the board is pressed or tapped: a contact, here or near.
    Whether it was one."""
    words = f"{entry.text}, {entry.note}"
    found = _WHILE_PRESSED.search(words)
    if found is None or _KEY.search(found[0]) or negated(words.lower(), found.start()):
        return False
    where = re.sub(r"^( (at|on|the|near|round|against|by|in))+", "", found["where"]).strip()
    parts = teller.parts(where) if where else []
    if not parts and tapped_unlisted(teller, where, found[0].strip(), entry.number):
        return True
    teller.aside(tapped_clue(teller.table, parts, found[0]), entry.number)
    teller.understand(f"“{found[0].strip()}”: a contact that moves")
    return True
