"""A told job, entry by entry, as events of a job and clues beside them, in their order.

The events are those of the window, so that a job is the same wherever it was entered. A reading
belongs to the board as it was then; a repair that helped ends a round, and what is read after it
says nothing of the fault that was repaired.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from loose_rail.app.job_file.log.beside_the_set import says_nothing
from loose_rail.app.job_file.log.deeds import tell_deed
from loose_rail.app.job_file.log.elsewhere import Other, other_reading, start_at_main
from loose_rail.app.job_file.log.ends_of_a_cable import far_end
from loose_rail.app.job_file.log.entries import Brought, Did, Entry, Read, Said, Seen
from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.job_file.log.on_a_tester import tried_on_a_tester
from loose_rail.app.job_file.log.sights import tell_sight
from loose_rail.app.job_file.log.situation import brought
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.told_reading import read_here
from loose_rail.boards.parts_named import volts_named
from loose_rail.boards.probes import probes_of
from loose_rail.diagnosis.evidence.customer_words import proposal_words, proposals
from loose_rail.diagnosis.evidence.runs import runs_clue
from loose_rail.diagnosis.evidence.soft_evidence import (
    cleared_clue,
)
from loose_rail.diagnosis.inference.judged import judged
from loose_rail.jobs import events as ev
from loose_rail.judgement.judge import Verdict
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.board_state import UNPLUGGED, Power

_RUNS = re.compile(r"\b(playing|plays|film|picture|with sound|running|in operation)\b", re.I)
_NO_PICTURE = re.compile(r"\b(no|without|dark|black|tries|asked)\b", re.IGNORECASE)


def tell(teller: Teller, entries: Sequence[Entry]) -> None:
    """Tell every entry in order."""
    for entry in entries:
        if isinstance(entry, Said):
            _said(teller, entry)
        elif isinstance(entry, Seen):
            tell_sight(teller, entry)
        elif isinstance(entry, Brought):
            _state(teller, entry)
        elif isinstance(entry, Read):
            _read(teller, entry)
        elif isinstance(entry, Did):
            tell_deed(teller, entry)


def _said(teller: Teller, entry: Said) -> None:
    found = proposals(entry.text)
    for one in found:
        teller.notes.understood.append(proposal_words(one))
        if one.is_history:
            teller.record(ev.HistoryNoted(one.kind, one.phrase))
        elif one.kind not in teller.symptoms:
            teller.symptoms.add(one.kind)
            teller.record(ev.SymptomNoted(one.kind, one.phrase, one.hertz))
    if not says_nothing(teller, entry.text) and not found:
        teller.leave(entry.text, "no words in it are known here yet: say what is seen and heard")


_ON_TESTER = re.compile(r"\btester\b", re.IGNORECASE)
COMES_ON = frozenset(
    {
        *("restarts", "starts_then_stops", "hangs", "dies_warm", "fine_once_on", "sound_fine"),
        *("backlight_fine", "backlight_flashes", "picture_by_torch", "picture_lines"),
        *("picture_wrong", "picture_black_lit", "picture_menu"),
    }
)
"""What only a set shows that comes on, for a while at least."""


def _state(teller: Teller, entry: Brought) -> None:
    starts = bool(teller.symptoms & COMES_ON)
    found = brought(teller.board, teller.situation, entry.text, starts=starts)
    if found is None:
        teller.leave(
            entry.text,
            "the state is not clear: say standby, on or unplugged, and which cables are on",
        )
        return
    teller.situation = found
    teller.on_tester = bool(_ON_TESTER.search(entry.text))
    state = found.known
    if state is not None:
        teller.record(ev.StateConfirmed(teller.nearest(state).key))
        teller.notes.understood.append(f"“{entry.text}” → {state.label}")
    # without a board it may run that fails with it
    on = state is not None and state.power is Power.ON and not teller.situation.without
    if (
        on
        and _RUNS.search(entry.text)
        and not _NO_PICTURE.search(entry.text.replace("dark picture", "picture"))
    ):
        lit = "picture" in entry.text.lower()
        teller.aside(runs_clue(teller.table, entry.text, lit), entry.number)
    bulk = _BULK_STANDS_AT.search(entry.text)
    if state is not None and state.power is Power.UNPLUGGED and bulk:
        teller.record(ev.BulkMeasured(float(bulk[1] or bulk[2])))


_BULK_STANDS_AT = re.compile(
    r"(?:bulk|cap|can|measured)[^,;\d]*(\d+(?:\.\d+)?) ?v\b|"
    r"(\d+(?:\.\d+)?) ?v (?:left |is |still )*(?:on|at|across|in) (?:the )?"
    r"(?:bulk|(?:main|big) (?:cap|can))",
    re.IGNORECASE,
)
"""What is left on the drained bulk, said before or after it."""


# ---- read ------------------------------------------------------------------------------------


_HENRIES = re.compile(r"(\d+(?:[.,]\d+)?)\s?([µumn])h\b", re.IGNORECASE)
SHORTED_SHARE, WHOLE_SHARE = 0.5, 0.7
"""Of a sound one's inductance: below, turns are shorted; above, none are [P]."""


def _wound(teller: Teller, entry: Read) -> bool:
    """An inductance beside that of a sound one of its kind; False where none is told."""
    scale = {"µ": 1e-6, "u": 1e-6, "m": 1e-3, "n": 1e-9}
    both = [
        float(one[1].replace(",", ".")) * scale[one[2].lower()]
        for one in (_HENRIES.search(entry.text), _HENRIES.search(entry.note))
        if one is not None
    ]
    parts = teller.parts(entry.at)
    if not _HENRIES.search(entry.text) or not parts:
        return False
    share = both[0] / both[1] if len(both) == 2 and both[1] > 0 else None
    good = None if share is None else share > WHOLE_SHARE
    if share is not None and (share < SHORTED_SHARE or good):
        teller.record(ev.ClueNoted("removed", parts[0], "good" if good else "bad"))
    told = {True: "whole", False: "turns shorted or lost", None: "a sound one's is not told"}[good]
    teller.understand(f"{entry.text} at {entry.at}: {teller.name(parts[0])}, {told}")
    return True


_AS_BEFORE = re.compile(
    r"\bstill (ticks|ticking|pulses|pulsing|the same|jumps|hunts|swings)\b|"
    r"^(the )?same( (as before|again|here|there|value|reading))?$|"
    r"^(unchanged|no change|as before)$",
    re.IGNORECASE,
)


_THAT_ONE = re.compile(
    r"\b(that|this|its|the same) (\w+ )?(fuse|rail|pin|supply|coil|chip|point)\b", re.IGNORECASE
)
_ON_A_BOARD = re.compile(
    r"(of|on|at) (the )?((left|right|upper|lower) )?(\w+ ?board|t-?con)\b", re.IGNORECASE
)


_WHEN_AT = re.compile(
    r",? (?P<when>(?:when|while|as soon as) (?:i|we|you|one|it|the|set|pressing|asked)\b.*)$",
    re.IGNORECASE,
)
"""“CN4-8 when I press the button”: when it was read is no part of the place."""


def _read(teller: Teller, entry: Read) -> None:
    if when := _WHEN_AT.search(entry.at):
        note = f"{entry.note}, {when['when']}".lstrip(", ")
        entry = replace(entry, at=entry.at[: when.start()], note=note)
    if _wound(teller, entry):
        return
    at = f"{entry.at} on the tester" if teller.on_tester else entry.at
    if tried_on_a_tester(teller, at, f"{entry.text}, {entry.note}", entry.number):
        return
    found = human_value(entry.text, entry.mode, entry.note)
    place = entry.at.strip().lower()
    if found is None and _AS_BEFORE.search(entry.text):
        found = teller.read_at.get(place)  # “still ticks”: what it read there the last time
    if found is None and _as_printed(teller, entry):
        return
    if found is None:
        teller.leave(
            f"{entry.text} at {entry.at}", "no reading in it: a number with its unit, OL, beeps"
        )
        return
    if found.slip:
        teller.understand(
            f"{entry.text} at {entry.at}: a slip by its own note, it counts for nothing"
        )
        return
    teller.read_at[place] = found
    if _at_the_jack(teller, entry.at, found.observation):
        entry = replace(entry, at="DC input of the board")
    at = entry.at
    if teller.elsewhere and _THAT_ONE.search(at):
        at = f"{at} {teller.elsewhere}"  # “behind that fuse”: of the board that was read just now
    other = other_reading(teller.board, at, entry.note, found.observation, found.mode)
    named = _ON_A_BOARD.search(at)
    teller.elsewhere = named[0] if other is not None and named else ""
    if other is not None and other.far_end and far_end(teller, entry, other, found.observation):
        return
    if other is not None:
        _elsewhere(teller, entry, other, found.observation)
        return
    read_here(teller, entry, found)


_PIN = re.compile(r"^(?P<plug>[A-Za-z]{1,4}\d*)[- ](?:pin )?\d+$")


def _at_the_jack(teller: Teller, at: str, seen: Observation) -> bool:
    """A pin of a connector that is none of the outputs, with the adapter's volts: the jack that
    brings them."""
    pin = _PIN.match(at.strip())
    known = {one.ref.lower() for one in teller.board.connectors}
    if pin is None or not teller.board.adapter_fed or pin["plug"].lower() in known:
        return False
    volts = next((one.volts for one in teller.board.stages if one.kind == "adapter"), 0.0)
    return bool(volts) and abs(seen.centre / volts - 1.0) < NEAR


_AS_PRINTED = re.compile(
    r"^\W*(?:all |both |each )?(?:as|like|what(?: it)? is|to|by) (?:is |the |their |its )?"
    r"(?:printed|marked|labell?ed|print|bands?|code|sleeve)(?: says?)?\W*$",
    re.IGNORECASE,
)
"""A value that nobody wrote down because it was right."""


def _as_printed(teller: Teller, entry: Read) -> bool:
    """Parts that read what is printed on them: they are good. Whether it was that."""
    if not _AS_PRINTED.match(entry.text):
        return False
    parts = teller.parts(entry.at)
    several = re.search(r"\b(both|all|each|every|pair)\b", f"{entry.text} {entry.at}".lower())
    for part in parts if several else parts[:1]:
        teller.record(ev.ClueNoted("removed", part, "good"))
    names = ", ".join(teller.name(ref) for ref in (parts if several else parts[:1]))
    teller.understand(f"{entry.text} at {entry.at} → {names or 'no part that is known'}: good")
    return bool(parts)


def _elsewhere(teller: Teller, entry: Read, other: Other, seen: Observation) -> None:
    """A reading that is none of this board's counts for what it was taken at."""
    if start_at_main(teller.board, entry.at) and seen.form is Form.VALUE:
        teller.at_main = (teller.situation, abs(seen.centre))
    if other.fact:
        teller.record(ev.HistoryNoted(other.fact, entry.text))
    if other.made and other.good is False and not _fed(teller):
        other = replace(other, good=None)
    pin = _supply_pin(teller, entry, other.part) if other.supply and other.good is not None else ""
    if pin:
        teller.read(pin, UNPLUGGED, seen, entry.number)
    elif other.part and other.good is not None and not (other.supply and other.good):
        teller.aside(cleared_clue(teller.table, other.part, good=other.good), entry.number)
    teller.understand(f"{entry.text} at {entry.at} → {other.words}")


def _supply_pin(teller: Teller, entry: Read, part: str) -> str:
    """The probe of a board's supply pin that a reading is of: the one whose volts are named, or the
    only one; empty where that is not told."""
    probes = [p for p in probes_of(teller.board) if p.part == part and p.unplugged]
    named = volts_named(entry.at)
    volts = {rail.net: rail.volts for rail in teller.board.rails}
    fitting = [p for p in probes if named and abs(volts.get(p.plus, 0.0) / named - 1.0) < NEAR]
    found = fitting or (probes if named is None else [])
    return found[0].id if len(found) == 1 else ""


NEAR = 0.1
"""By how much the volts that a pin is called by may differ from its rail's [E]."""


def _fed(teller: Teller) -> bool:
    """Whether a rail was read right in this state: what the other board makes of it is its own."""
    return any(
        reading.state == teller.situation.known
        and teller.board.rail_of(teller.rail_read(reading.probe)) is not None
        and judged(teller.table, reading)[1].verdict is Verdict.AGREES
        for reading in teller.job.live_readings
    )
