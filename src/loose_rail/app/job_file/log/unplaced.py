"""A reading that no probe of the model takes: of a part by itself, of a part without such a probe,
of a brightness line, or of a point that is not known."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.against_its_print import kept_in_place, print_told
from loose_rail.app.job_file.log.alone import alone_good
from loose_rail.app.job_file.log.beside_its_value import (
    unlike_its_twin,
)
from loose_rail.app.job_file.log.entries import Read
from loose_rail.app.job_file.log.human_value import HumanValue
from loose_rail.app.job_file.log.points import IN_A_ROW, Place
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.unlisted import read_unlisted
from loose_rail.boards.own.pin_label import PinJob, pin_meaning
from loose_rail.boards.parts_named import names_a_kind
from loose_rail.diagnosis.evidence.deed_clues import brightness_clue
from loose_rail.diagnosis.evidence.soft_evidence import cleared_clue
from loose_rail.jobs import events as ev
from loose_rail.judgement.spread import RESISTORS
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.roles import BoardRole


def _its_twin(teller: Teller, entry: Read) -> bool:
    """The other of two that are one part here. Whether it was that."""
    if not teller.is_its_twin(entry.at):
        return False
    words = f"{entry.text} at {entry.at}: the twin of {teller.name(teller.sighted)}"
    teller.understand(f"{words}, which is one part here; the worse of them counts")
    return True


def _a_chain_is_open(teller: Teller, entry: Read, found: HumanValue, place: Place) -> bool:
    """Several resistors from end to end that read open: one of them is. Whether it was that."""
    chain = [ref for ref in place.parts if teller.board.component(ref).kind in RESISTORS]
    all_of_it = len(chain) > 1 and chain == list(place.parts) and IN_A_ROW.search(entry.at)
    if found.observation.form is not Form.OPEN or not all_of_it:
        return False
    clues = [cleared_clue(teller.table, ref, good=False) for ref in chain]
    teller.aside(teller.spread(clues, entry.at), entry.number)
    teller.several = chain
    teller.understand(f"{entry.text} at {entry.at}: one of the {len(chain)} is open")
    return True


def unplaced(teller: Teller, entry: Read, found: HumanValue, place: Place) -> None:
    """A point that no probe reads: a part by itself, a part without such a probe, or unknown."""
    if _its_twin(teller, entry) or _a_chain_is_open(teller, entry, found, place):
        return
    if place.vague:
        teller.referents.mention_unknown(entry.at)
        teller.leave(
            f"{entry.text} at {entry.at}",
            f"it may be any of {len(place.parts)} here: say what the part does, or its rail",
        )
        return
    if place.parts and place.alone:
        told_alone(teller, entry, place, found.observation)
        return
    if unlike_its_twin(teller, entry, place, found.observation):
        return
    wound = len(place.parts) == 1 and teller.board.component(place.parts[0]).kind == "transformer"
    if wound and found.observation.form is Form.OPEN:
        teller.record(ev.ClueNoted("removed", place.parts[0], "bad"))
        teller.understand(
            f"{entry.text} at {entry.at}: {teller.name(place.parts[0])}, a winding is open"
        )
        return
    if found.observation.unit == "F" and len(place.parts) == 1:
        keeps = kept_in_place(found.observation, entry.text, print_told(entry.note, entry.at))
        if keeps is not None:
            teller.record(ev.ClueNoted("removed", place.parts[0], "good" if keeps else "bad"))
            said = "keeps what is printed on it" if keeps else "has lost what is printed on it"
            teller.understand(f"{entry.text} at {entry.at}: {teller.name(place.parts[0])} {said}")
            return
    if _brightness(teller, entry, found, place):
        return
    if place.parts or place.pin is not None:
        where = ", ".join(teller.name(ref) for ref in place.parts[:3]) or entry.at
        teller.understand(
            f"{entry.text} at {entry.at}: noted at {where}; it is judged by no reading here"
        )
        return
    if found.mode.needs_dead_board and read_unlisted(
        teller, entry.at, f"{entry.text}, {entry.note}", entry.number
    ):
        return
    if names_a_kind(entry.at):
        teller.referents.mention_unknown(entry.at)
    teller.leave(
        f"{entry.text} at {entry.at}",
        "no such point is known on this board: say a printed pin, or what the part does",
    )


_FULL_LIGHT = re.compile(
    r"\b(menu|setting|slider|backlight|brightness)\b[^;.]*\b(100|full|max\w*|highest)\b|"
    r"\b(full|max\w*|100 ?%?) (brightness|backlight|light)\b|"
    r"\bturned (all the way |right |fully )?up\b",
    re.IGNORECASE,
)
"""What the menu asks for while the line is read."""


def _brightness(teller: Teller, entry: Read, found: HumanValue, place: Place) -> bool:
    """A brightness line that was read while the set is on. Whether it was one."""
    state = teller.situation.known
    value = found.observation
    if place.pin is None or pin_meaning(place.pin.label).job is not PinJob.DIM:
        return False
    if state is None or state.power is not Power.ON or value.unit != "V":
        return False
    words = f"{entry.at}: {value.text()} with the set on"
    for part in teller.board.roles.get(BoardRole.MAIN_LOAD, [])[:1]:
        full = bool(_FULL_LIGHT.search(f"{entry.text} {entry.note}"))
        clue = brightness_clue(teller.table, part, value.centre, words, full)
        teller.aside(clue, entry.number)
    teller.understand(f"{words}: the brightness that the main board asks for")
    return True


def told_alone(teller: Teller, entry: Read, place: Place, seen: Observation) -> None:
    """A part measured by itself, by its own kind: a short where there should be none, an open, or a
    value away from what is printed."""
    good = alone_good(teller, place.parts, seen, f"{entry.at} {entry.note}")
    for part in place.parts[:1]:
        if good is not None:
            teller.record(ev.ClueNoted("removed", part, "good" if good else "bad"))
        told = {True: "good", False: "bad", None: "told, but not good or bad by itself"}[good]
        teller.understand(f"{entry.text} at {entry.at}: {teller.name(part)} by itself, {told}")
