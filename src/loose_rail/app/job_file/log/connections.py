"""What a phrase says of cables: which board is plugged and which is not, clause by clause.

A clause has a subject (“the panel cable”, “ribbon”, “CN8”, “Z board”, “strips and main cable”) and
a way it is in (“unplugged”, “off”, “still in”). The subject decides whether it is the main cable, a
board behind another connector, or the mains plug; whatever is left of the phrase speaks of power.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from loose_rail.app.job_file.log.boards_behind import lamps_named, loads_named
from loose_rail.boards.profile import Board
from loose_rail.vocabulary.roles import BoardRole

_AWAY = (
    r"(?:not (?:yet )?(?:connected|plugged(?: in| on)?|attached|fitted|seated|in|on)\b|"
    r"(?:left |lying |hanging )?(?:off|out|unplugged|undone|loose|free|aside)\b|"
    r"(?:pulled|taken|slid|drawn)(?: off| out| away)?\b|"
    r"not$|(?:dis|un)connected\b|removed\b|detached\b|gone\b|unhooked\b|hanging\b)"
)
_THERE = (
    r"(?:(?:re)?connected\b|attached\b|fitted\b|seated\b|mated\b|in place\b|hooked up\b|"
    r"(?:plugged|put|clipped)(?: back)?(?: in| on)?(?: again)?\b|"
    r"(?:back |still )?(?:on|in)\b(?! (?:the|a|an|its|my|mains|bench|stand|line|series|circuit)\b)|"
    r"back\b)"
)
_IS = r"(?: is| are| was| were| still| now| left| kept| all| both)*"
_BOARD_WORDS = (
    r"main ?board|mainboard|logic board|signal board|t-?con|timing board|lvds|inverter|panel|"
    r"glass|amp(?:lifier)?|speakers?|key ?board|keypad|buffers?|"
    r"(?:[xyzw]|drive|address|sustain|led|driver)[- ]?(?:board|sus|main|buffer|drive)s?"
)
_LINE_WORDS = r"cables?|ribbons?|flats?|foils?|harness(?:es)?|looms?|connectors?|wires|wiring"
_PLUG_WORDS = r"plugs?|leads?"
_REF = r"(?:cn|con|p|j|x|k|m)\d{1,4}"
_SUBJECT = re.compile(
    rf"\b(?:{_LINE_WORDS}|{_PLUG_WORDS}|{_BOARD_WORDS}|{_REF}|main|strips?|tubes|loads?|"
    r"light bars?|lamps|leds?|back ?lights?)\b"
)
_MAINS_PLUG = re.compile(
    r"^(?:the |its |mains |power |own |wall )*(?:plug|cord|lead|flex|adapter|brick)$"
)
_NOT_A_CABLE = re.compile(
    r"\b(?:mains|power|wall|own|test|meter|jump(?:er)?|scope|bulb|series|limit\w*|dummy|"
    r"electronic) (?:\w+ )?"
    r"(?:cables?|leads?|plugs?|cords?|connectors?|loads?|lamps?)\b|\bmain (?:fuse|switch|"
    r"capacitor|can|transformer|supply|rail|heat)|\bpanel (?:open|off the)|"
    r"\b(?:inverter|panel|strips?|tubes|led|main)s? (?:enable|supply|rail|signal|voltage|light)"
)
_CLAUSE = re.compile(rf"^(?P<subject>.+?){_IS} (?P<way>(?P<away>{_AWAY})|(?P<there>{_THERE}))")
_BEFORE_IT = re.compile(
    r"^(?:(?P<away>unplugged|disconnected|pulled|removed|without|no|after (?:pulling|unplugging)|"
    r"with no|minus)|(?P<there>plugged|connected)):? (?P<subject>.+)$"
)
_PIECES = re.compile(r"\s*[,;()]\s*|\s+(?:while|with)\s+|\s+(?=without\s)|\s+and\s+(?=plugged in$)")
_TWO = re.compile(rf"^(?P<first>.+?{_IS} (?:{_AWAY}|{_THERE})),? (?:and|but) (?P<second>.+)$")
_MOST = re.compile(
    rf"^(?:every ?thing|all(?: the| other)?(?: cables| boards| plugs| connectors)?){_IS} "
    rf"(?:(?P<away>{_AWAY})|(?P<there>{_THERE}))(?: again)? "
    r"(?:but|except|apart from|save)(?: for)? (?P<what>.+)$"
)


_PLAINLY = re.compile(
    r"not$|plugged|connected|pulled|removed|detached|attached|\boff (their|its|the) (plugs?|"
    r"connectors?)"
)
"""A board that is none of this set's is plugged or not where that is plainly said; “panel off” may
be dark."""


@dataclass(frozen=True, slots=True)
class Connections:
    """Whether the main cable is on (None where it is not said), the loads that are off and those
    that are said to be on, and what the phrase says beside that."""

    main: bool | None
    off: frozenset[str]
    on: frozenset[str]
    rest: str


def connections(board: Board, words: str) -> Connections:
    """What a phrase, in small letters, says of the cables of a board."""
    main: bool | None = None
    off: set[str] = set()
    on: set[str] = set()
    rest: list[str] = []
    mains_load = set(board.roles.get(BoardRole.MAIN_LOAD, []))
    for piece in _pieces(words):
        told = _told(board, piece)
        if not told:
            rest.append(piece)
        for subject, there in told:
            subject = _THE_PANEL.sub("panel cable", subject)
            named = {*loads_named(board, subject), *lamps_named(board, subject)}
            named = named or _behind_label(board, subject)
            if named & mains_load or (not named and _is_main_cable(subject)):
                main = there if main is None else main
            (on if there else off).update(named - mains_load)
    return Connections(main, frozenset(off), frozenset(on - off), ", ".join(rest))


_THE_PANEL = re.compile(r"^(?:the )?(?:panel|glass|screen|display)$")
"""Unplugged it is by its cable."""
_LABELLED = re.compile(rf"^(?:the )?(?P<label>[\w.+/-]+)[ -](?:{_LINE_WORDS}|{_PLUG_WORDS})$")


def _behind_label(board: Board, subject: str) -> set[str]:
    """The boards that a cable feeds which is called by what is printed at its pins: “VA cable”."""
    found = _LABELLED.match(subject)
    if found is None:
        return set()
    nets = {
        pin.net
        for connector in board.connectors
        for pin in connector.pins
        if pin.label.lower() == found["label"]
    }
    rails = {rail.id for rail in board.rails if rail.net in nets}
    return {load.part for load in board.loads if load.rail in rails}


def _pieces(words: str) -> list[str]:
    """The clauses of a phrase: at commas, and at an “and” between two that each say a way."""
    found: list[str] = []
    for piece in _PIECES.split(words):
        if _MOST.match(piece.strip()):
            found.append(piece)
            continue
        while two := _TWO.match(piece):
            found.append(two["first"])
            piece = two["second"]
        found.append(piece)
    return [piece for piece in (one.strip(" .") for one in found) if piece]


def _told(board: Board, piece: str) -> list[tuple[str, bool]]:
    """The subjects of a clause and whether they are plugged; none where it speaks of no cable."""
    most = _MOST.match(piece)
    if most is not None:
        there = most["away"] is None
        if re.match(r"(?:the )?mains\b", most["what"]):
            return [("main board", there)]
        return [(most["what"], not there), ("main board", there)]
    piece = re.sub(r"^with (?!no\b)", "", piece)
    denied = re.match(r"(?:without|no|with no|minus)\b", piece)
    for pattern in (_BEFORE_IT, _CLAUSE) if denied else (_CLAUSE, _BEFORE_IT):
        found = pattern.match(piece)
        if found is None:
            continue
        subject = found["subject"].strip()
        if _NOT_A_CABLE.search(subject) or _MAINS_PLUG.match(subject):
            return []
        plainly = (denied or _PLAINLY.search(piece)) and re.search(
            rf"\b(?:{_BOARD_WORDS})$", subject
        )
        lit = lamps_named(board, subject) and not _PLAINLY.search(piece)
        things = rf"\b(?:{_LINE_WORDS}|{_PLUG_WORDS}|strips?|light bars?|tubes)\b"
        if lit and not re.search(things, subject):
            return []  # lamps that are off are dark
        if _SUBJECT.search(subject) and (plainly or _names_a_line(board, subject)):
            return [(subject, found["away"] is None)]
    return []


def _names_a_line(board: Board, subject: str) -> bool:
    """Whether a subject is a cable or a board behind one: a “plug” or a “board” alone is none."""
    if loads_named(board, subject) or lamps_named(board, subject):
        return True
    return bool(
        re.search(
            rf"\b(?:{_LINE_WORDS}|main ?board|mainboard|main (?:lead|plug))\b|\bmain$", subject
        )
    )


def _is_main_cable(subject: str) -> bool:
    """“Cable”, “ribbon”, “harness”: the one to the main board, where no other board is named."""
    other = re.search(rf"\b(?:{_BOARD_WORDS}|{_REF}|strips?|tubes|led|back ?light)\b", subject)
    named_main = re.search(r"\bmain\b|main ?board|logic board|signal board", subject)
    return bool(named_main) or other is None
