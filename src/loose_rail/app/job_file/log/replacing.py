"""A new part: it cured the set, it changed nothing, or that is not plain; and what was renewed
that is none of this board."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from loose_rail.app.job_file.log.boards_behind import loads_named
from loose_rail.app.job_file.log.came_of_it import by_cable, came_of, read_in_result, right_again
from loose_rail.app.job_file.log.elsewhere import is_mains_switch, of_another_board, other_part
from loose_rail.app.job_file.log.entries import Did
from loose_rail.app.job_file.log.outlet_words import OUTLET
from loose_rail.app.job_file.log.rectifier_halves import both_halves
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.unlisted import (
    renewed_unlisted,
)
from loose_rail.diagnosis.evidence.soft_evidence import (
    Clue,
    board_swapped_clue,
    cleared_clue,
    replaced_clue,
    works_clue,
)
from loose_rail.diagnosis.proof.plan import SWITCHED_ON
from loose_rail.jobs import events as ev
from loose_rail.kernel.negation import plain_match
from loose_rail.vocabulary.light import Light
from loose_rail.vocabulary.roles import BoardRole

_OF_WHAT = re.compile(r"\b(of|in|at|on|from) (the|its|that) .+$", re.IGNORECASE)


def several(teller: Teller, what: str) -> list[str]:
    """The parts that words mean, those of “both switches and the fuse” too."""
    pieces = re.split(r"\band\b|,|\+|/", what)
    where = _OF_WHAT.search(pieces[-1])
    if len(pieces) > 1 and where is not None:  # “switch and fuse of the address converter”
        pieces = [p if _OF_WHAT.search(p) else f"{p} {where[0]}" for p in pieces]
    each = [teller.parts(piece) for piece in pieces] if len(pieces) > 1 else []
    listed = list(dict.fromkeys(ref for refs in each for ref in refs))
    if each and all(each):
        return listed
    return teller.parts(what) or listed  # of a list, what is known


def replaced(teller: Teller, deed: Did) -> None:
    """A new part: cured, changed nothing, or it is not plain. What helped ends the round."""
    helped = came_of(teller, deed.result)
    what = deed.what
    if re.search(r"solder|reflow|joint", what.lower()):
        what = re.sub(r"solder\w*|reflow\w*|joints?|pins?", " ", what)
        what = re.sub(r"^\W*(?:of|at|on|under) (?:the )?", "", what).strip()
    beyond = of_another_board(deed.what) or OUTLET.search(deed.what) is not None
    parts = [] if beyond else several(teller, what)
    of_cabinet = is_mains_switch(teller.board, what) and "power switch" not in what.lower()
    if of_cabinet or (teller.board.adapter_fed and _ADAPTER.search(what)):
        parts = teller.board.roles.get(BoardRole.CORD, [])[:1]
    parts = parts or _plug_of(teller, deed.what)
    if not parts:
        _replaced_elsewhere(teller, deed, helped)
        return
    whole = both_halves(teller.board, parts, what)
    new = replaced_clue(teller.table, whole[0], bool(helped), whole) if len(whole) > 1 else None
    another = helped is False and _ANOTHER_FAULT.search(deed.result) is not None
    if by_cable(deed.result):
        helped, another = None, False  # right without the main board, and not with it
    elif (helped is None or another) and right_again(teller, deed.result):
        helped = True  # it cured that; what is still there is another fault
    if helped is False:
        teller.aside(new or _new_parts(teller, deed, parts, False), deed.number)
        teller.understand(f"{_said_of(teller, deed, parts)} replaced: changed nothing")
        return
    if helped:
        teller.aside(new or _new_parts(teller, deed, parts, True), deed.number)
    unnamed = len(parts) > 1 and len(whole) < 2 and not _TOGETHER.search(deed.what)
    for part in (whole or parts) if helped or not unnamed else ():  # one of them is new: which?
        teller.record(ev.PartFitted(part))
    left = seen_of(deed.result)
    if helped and left is not None:
        read_in_result(teller, deed.result, deed.number, SWITCHED_ON)
        teller.record(ev.LightSeen(left))
        teller.understand(f"“{deed.result}” → still wrong: {left.label}")
    teller.situation = replace(teller.situation, out=teller.situation.out - set(parts))
    if helped is None:
        read_in_result(teller, deed.result, deed.number)
    came = "cured it" if helped else "what came of it is not plain"
    teller.understand(f"{_said_of(teller, deed, parts)} replaced: {came}")


def _said_of(teller: Teller, deed: Did, parts: Sequence[str]) -> str:
    """The part, or what was said of one that may be any of several alike."""
    if len(parts) == 1 or _TOGETHER.search(deed.what):
        return teller.name(parts[0])
    return f"{deed.what}, one of {len(parts)} parts,"


_CONTACTS = re.compile(
    r"\b(crimps?|plugs?|connectors?|housings?|cables?|harness)\b"
    r"[^,;]{0,24}\b(of|on|at|to|for)\b|\b(cable|plug|connector|harness)$",
    re.IGNORECASE,
)


def _plug_of(teller: Teller, what: str) -> list[str]:
    """The connector of the board whose cable or contacts were renewed: “both crimps of the inverter
    cable”. None where the board itself was."""
    if _CONTACTS.search(what) is None:
        return []
    roles = teller.board.roles
    plugs = [
        ref
        for load in loads_named(teller.board, what)
        for ref in roles.get(f"{load}.connector", [])
    ]
    return plugs[:1]


_ANOTHER_FAULT = re.compile(
    r"^(?!.*\b(dead|as before|again|same|no change|fuse|blow\w*|blew|bang|ticks?|then)\b)"
    r".*\b(?:still|but)\b[^,;]*\b"
    r"(flicker\w*|dim|dark|black|lines?|stripes?|no (picture|sound|backlight))\b",
    re.IGNORECASE,
)
"""What a set does that runs again and has another fault: never what a dead one does."""
_LIGHTS = (
    (Light.FLICKERS, r"flicker\w*|puls\w*"),
    (Light.NO_PICTURE, r"no picture|black picture|lines?|stripes?"),
    (Light.DIM, r"dim|uneven|(?:half|side|corner|part|edge)\b[^,;]*\bdark"),
    (Light.DARK, r"no (?:back ?)?light|dark|black"),
)
_OTHER_LAMP = re.compile(r"\b(lamp|bulb|limiter|indicator|dot)\b", re.IGNORECASE)


def seen_of(result: str) -> Light | None:
    """What light and picture still do, said with a “still” or a “but”; None where that
    is not told, is denied (“still no flicker”), or is of the lamp in line."""
    clauses = [one for one in re.split(r"[,;]", result.lower()) if not _OTHER_LAMP.search(one)]
    for light, words in _LIGHTS:
        for clause in clauses:
            if re.search(r"\bstill\b|^ ?but\b", clause) and plain_match(
                rf"\b(?:{words})\b", clause
            ):
                return light
    return None


_TOGETHER = re.compile(r"\b(and|both|all|each|two|three|four|pair)\b|[,+/]", re.IGNORECASE)
"""Words by which several parts are replaced; else one of several is meant."""


def _new_parts(teller: Teller, deed: Did, parts: Sequence[str], helped: bool) -> Clue:
    if _TOGETHER.search(deed.what):
        return replaced_clue(teller.table, parts[0], helped, parts)
    return teller.spread([replaced_clue(teller.table, one, helped) for one in parts], deed.what)


_ADAPTER = re.compile(
    r"^(the |its )?(power )?(adapter|brick|external supply)\b(?! (jack|socket|plug))", re.IGNORECASE
)


_WHOLE_BOARD = re.compile(
    r"^(the )?(whole )?(power|supply|psu)( supply)?[ -]?(board|unit|pcb)?\b"
    r"(?! (switch|cord|plug|on))",
    re.IGNORECASE,
)


def _replaced_elsewhere(teller: Teller, deed: Did, helped: bool | None) -> None:
    if _WHOLE_BOARD.search(deed.what) and helped is not None:
        teller.aside(board_swapped_clue(teller.table, helped), deed.number)
        came = "cured it" if helped else "changed nothing"
        teller.understand(f"the whole supply exchanged: {came}")
        return
    far = other_part(teller.board, deed.what)
    swapped = re.search(r"swapped|exchanged", deed.what.lower())
    if far and swapped:
        moved = re.search(r"now|moves|goes with|wanders", deed.result.lower())
        if moved:
            teller.aside(cleared_clue(teller.table, far, good=False), deed.number)
        teller.understand(f"“{deed.what}”: the fault {'moves along' if moved else 'stays'}")
        return
    if far and helped is not None:
        teller.aside(replaced_clue(teller.table, far, helped), deed.number)
        teller.understand(
            f"{teller.name(far)} replaced: {'cured it' if helped else 'changed nothing'}"
        )
        return
    if renewed_unlisted(teller, deed.what, helped, deed.number):
        return
    if helped:
        said = f"{deed.what} replaced, and it works"
        teller.aside(works_clue(teller.table, said, soaked=True), deed.number)
    if helped is not None:
        teller.understand(f"“{deed.what}” is none of this board: {deed.result}")
        return
    teller.leave(
        f"replaced {deed.what}: {deed.result}", "which part, and did it help? Both in plain words"
    )
