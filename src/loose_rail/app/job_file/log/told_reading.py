"""Where a told reading goes: into the ledger, or beside it where the part is out or a print tells.

A reading belongs to the board as it was then: its state, what is out, what is forced, whether the
fault was there.
"""

from __future__ import annotations

import math
import re
from dataclasses import replace

from loose_rail.app.job_file.log.against_its_print import (
    good_in_place,
    kept_in_place,
    print_told,
    told_ohms,
)
from loose_rail.app.job_file.log.beside_its_value import (
    moves_while_pressed,
    odd_one_of_a_chain,
    some_open,
    without_its_dips,
)
from loose_rail.app.job_file.log.contact_ohms import contact_read
from loose_rail.app.job_file.log.drives import chip_is_fed, gate_read, supply_read
from loose_rail.app.job_file.log.ends_of_a_cable import lost_on_the_way
from loose_rail.app.job_file.log.entries import Read
from loose_rail.app.job_file.log.human_value import HumanValue, human_value
from loose_rail.app.job_file.log.loading import held
from loose_rail.app.job_file.log.noted import TWICE, beside_it, seen_there
from loose_rail.app.job_file.log.points import Place, place_of
from loose_rail.app.job_file.log.situation import brought
from loose_rail.app.job_file.log.teller import DESIGNATOR, Teller
from loose_rail.app.job_file.log.unplaced import told_alone, unplaced
from loose_rail.boards.parts_named import names_a_kind
from loose_rail.boards.probes import Probe, boards_behind
from loose_rail.diagnosis.evidence.soft_evidence import (
    without_parts_clue,
)
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.plugged_loads import with_loads_clue
from loose_rail.diagnosis.model.candidates import RIPPLE_STATES
from loose_rail.jobs import events as ev
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.spread import reads_a_resistor
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from loose_rail.vocabulary.keys import is_ripple, stage_of
from loose_rail.vocabulary.meter_mode import MeterMode

STANDBY = BoardState(Power.STANDBY, True, 0)
_PIN_OF = re.compile(
    r"\b(?:pin|gate|leg|end|pad|input|output) of (?:the )?([^,;]+?)(?: to .*|[,;].*)?$",
    re.IGNORECASE,
)


_THERE_AGAIN = re.compile(
    r"(the )?same (pads|place|points?|pins?|two points|spot|legs)\b|there again|as before\b",
    re.IGNORECASE,
)
"""Where the last reading was taken."""


_ONE_BY_ONE = re.compile(
    r"^(?:the )?(?:(?:two|three|four|\d) )?(?:of them |each )?"
    r"(?:one (?:after|by) (?:the other|one)|each(?: by itself| of them)?|singly|in turn)$",
    re.IGNORECASE,
)


def _one_by_one(teller: Teller, entry: Read) -> bool:
    """“1.5 M, 1.5 M, OL” one after the other: the parts that were told together last, each with its
    value. Whether it was that."""
    values = [one.strip() for one in entry.text.split(",")]
    parts = teller.several
    if not _ONE_BY_ONE.match(entry.at.strip()) or len(values) != len(parts) or len(parts) < 2:
        return False
    for part, one in zip(parts, values, strict=True):
        seen = human_value(one, entry.mode, entry.note)
        teller.handled = ""
        if seen is not None:
            read_here(teller, replace(entry, text=one, at=part), seen)
    return True


def _without_the_finger(teller: Teller, entry: Read, found: HumanValue) -> HumanValue:
    """What fell while the board was pressed stands at what stood before."""
    seen = found.observation
    if not moves_while_pressed(teller, entry) or seen.form is not Form.FALLING:
        return found
    return replace(found, observation=replace(seen, form=Form.VALUE, low=seen.high))


def read_here(teller: Teller, entry: Read, found: HumanValue) -> None:
    if _one_by_one(teller, entry):
        return
    if _THERE_AGAIN.match(entry.at.strip()) and teller.last:
        _repeat(teller, entry, *teller.last, found.observation)
        return
    if DESIGNATOR.fullmatch(entry.at.strip()) and names_a_kind(entry.note):
        teller.parts(f"{entry.at} {entry.note}")  # “D601”, noted “double diode on the 12 V”: bound
    place = place_of(teller.board, teller.parts, entry.at, entry.note, found.mode)
    if place.probe is None and not place.parts and place.pin is None:
        place = _at_its_part(teller, entry, found, place)
    seen = without_its_dips(entry, place, found.observation)
    found = replace(found, observation=seen)
    seen_there(teller, entry, place)
    value = told_ohms(f"{entry.note}; {entry.text}") or told_ohms(entry.at)
    if value and len(place.parts) == 1:
        teller.markings[place.parts[0]] = value
    found = _without_the_finger(teller, entry, found)
    if some_open(teller, entry, place) or odd_one_of_a_chain(teller, entry, place, found):
        return
    told = (gate_read, chip_is_fed, supply_read, contact_read)
    if any(one(teller, entry, place, found.observation) for one in told):
        return
    if place.probe is None:
        unplaced(teller, entry, found, place)
        return
    state = _state_of(teller, entry, found)
    if state is None:
        teller.leave(
            f"{entry.text} at {entry.at}",
            "in which state? Say standby or on, and which cables are on",
        )
        return
    if _of_unplugged_lamps(teller, place.probe):
        teller.understand(
            f"{entry.text} at {entry.at}: without the lamps, noted; a driver that has none runs up "
            "to its limit and stops"
        )
        return
    if teller.situation.cabled and place.probe.observable in {s.id for s in teller.board.signals}:
        teller.understand(
            f"{entry.text} at {entry.at}: given by the main board while the start is forced; it "
            "says nothing of this board"
        )
        return
    _read_at(teller, entry, found, place, state)


def _of_unplugged_lamps(teller: Teller, probe: Probe) -> bool:
    """Whether a probe reads what feeds the lamps while they are unplugged: the model knows it with
    them only."""
    lamps = {p.ref for p in teller.board.components if p.kind in ("led_strip", "tubes")}
    stage = teller.board.stage(stage_of(probe.observable))
    feeds = stage is not None and stage.kind in ("led", "ccfl")
    return probe.live and feeds and bool(lamps & teller.situation.without)


def _read_at(
    teller: Teller, entry: Read, found: HumanValue, place: Place, state: BoardState
) -> None:
    """A reading of a probe: in the ledger, or a clue where the part is out or its print tells."""
    assert place.probe is not None
    candidate = f"{place.probe.id}@{state.key}"
    seen = found.observation
    if place.probe.mode is MeterMode.DIODE and found.mode is not MeterMode.DIODE:
        seen = replace(seen, unit="V")
    bare = not state.main_cable
    if candidate not in teller.keys and is_ripple(place.probe.observable):
        candidate, state, seen = _under_load(teller, place.probe, state, seen)
        if candidate in teller.keys and bare:
            _not_of_the_loads(teller, entry, candidate, seen)
    if candidate not in teller.keys:
        teller.understand(f"{entry.text} at {entry.at}: noted; it is not read in this state here")
        return
    here = {place.probe.part} & teller.situation.out
    out = teller.situation.out - {place.probe.part}
    alone = place.alone or bool(here)
    words = f"{place.probe.title}, {state.label}: {seen.text()}"
    if alone and not place.probe.lifted and not place.probe.live:
        told_alone(teller, entry, place, seen)
        return
    if out and not place.probe.lifted:
        column = column_of(teller.table, teller.table.index(candidate))
        clue = without_parts_clue(
            teller.table, f"{entry.number}", words, column.likelihood(seen), sorted(out)
        )
        teller.aside(clue, entry.number)
        teller.understand(f"{words}, with {', '.join(sorted(out))} out")
        return
    if _BOARDS_ON.search(f"{entry.at} {entry.note}") and boards_behind(teller.board, place.probe):
        teller.aside(with_loads_clue(teller.table, place.probe, candidate, seen), entry.number)
        teller.understand(f"{words}, with its boards plugged")
        return
    told = (
        (told_ohms(f"{entry.note}; {entry.text}; {entry.at}") or _named_ohms(entry.at))
        if _own(teller)
        else None
    )
    if told and reads_a_resistor(teller.board, place.probe) and seen.unit == "Ω":
        seen = replace(seen, printed=told)
    by_print = _by_print(entry, seen) if _own(teller) else None
    if by_print is not None and not place.probe.live:
        teller.record(ev.ClueNoted("removed", place.probe.part, "good" if by_print else "bad"))
        said = "good" if by_print else "bad"
        teller.understand(f"{words}, against what is printed on it: {said}")
        return
    for extra in _ripple_in(entry):
        ripple = f"{place.probe.id}.ripple@{state.key}"
        if ripple in teller.keys:
            teller.read(f"{place.probe.id}.ripple", state, extra, entry.number)
    _in_the_ledger(teller, entry, place.probe, state, seen)


def _by_print(entry: Read, seen: Observation) -> bool | None:
    """Whether a capacitor in place keeps what is printed on it, in the note, the name of the place
    or the reading itself: “21 nF, printed 39 nF”. What lies beside it only adds: it clears none."""
    told = print_told(entry.note, entry.at)
    kept = good_in_place(seen, told)
    if kept is None and seen.unit == "F" and kept_in_place(seen, entry.text, told) is False:
        return False
    return kept


_BOARDS_ON = re.compile(
    r"\b(?:plugs?|cables?|connectors?|loads?|boards?|everything|all|harness)\b"
    r"(?: (?:is|are|was|were))?"
    r"(?: still| yet| all)? (?:on\b(?! (?:the )?bench)|in\b|connected|plugged(?: in| on)?)|"
    r"\bstill (?:connected|plugged|on)\b|\bwith (?:the |its |all )?(?:\w+ ){0,2}(?:plugs?|cables?|"
    r"boards?|loads?) (?:on|in|connected|plugged)\b",
    re.IGNORECASE,
)
"""Ohms of a rail with the boards that hang on it."""


def _in_the_ledger(
    teller: Teller, entry: Read, probe: Probe, state: BoardState, seen: Observation
) -> None:
    if _better_than_its_twin(teller, entry, probe, state, seen):
        return
    if teller.situation.tied and _as_sound(teller, f"{probe.id}@{state.key}", seen):
        words = f"{probe.title}, {teller.situation.tied} held from outside: {seen.text()}"
        teller.understand(f"{words}, as it should be")  # the deed has told it already
        return
    teller.read(probe.id, state, seen, entry.number)
    lost_on_the_way(teller, entry, probe, seen)
    if TWICE.search(f"{entry.note} {entry.text}") and seen.form is not Form.VALUE:
        teller.read(probe.id, state, seen, entry.number)  # no slip of a lead, then
    if seen.form in (Form.FALLING, Form.TICKING) and probe.live:
        teller.fell_in = teller.situation
    if probe.live:
        beside_it(teller, entry, f"{probe.id}@{state.key}", state, seen)
    if teller.situation.loaded and probe.live and seen.form is Form.VALUE:
        words = f"{entry.text} under a dummy load {entry.note}".strip()
        held(teller, teller.board.rail_of(probe.rail), seen.centre, words, entry.number)


_ONE_OF_THEM = re.compile(
    r"\b(first|second|third|fourth|other|next|left|right|upper|lower|last)\b", re.IGNORECASE
)


def _better_than_its_twin(
    teller: Teller, entry: Read, probe: Probe, state: BoardState, seen: Observation
) -> bool:
    """Whether this is the ESR of one of several cans that are one part here, of which another read
    worse: the worst of them is what the part does. Whether it was that."""
    if probe.mode is not MeterMode.ESR or not _ONE_OF_THEM.search(entry.at):
        return False
    key, now = f"{probe.id}@{state.key}", teller.job.round
    before = [r for r in teller.job.readings if r.candidate == key and r.round == now]
    if not before or not _ONE_OF_THEM.search(teller.last_esr_at) or seen.form is not Form.VALUE:
        teller.last_esr_at = entry.at
        return False
    worst = max(r.observation.centre for r in before)
    if teller.last_esr_at == entry.at or seen.centre > worst:
        teller.last_esr_at = entry.at
        return False
    teller.understand(f"{entry.text} at {entry.at}: better than the one before; that one counts")
    return True


def _under_load(
    teller: Teller, probe: Probe, state: BoardState, seen: Observation
) -> tuple[str, BoardState, Observation]:
    """Ripple that was read with less than the set's load: with it there is at least as much. What
    is within its limit says nothing of the loaded rail."""
    for loaded in RIPPLE_STATES:
        key = f"{probe.id}@{loaded.key}"
        if key in teller.keys and (loaded.power is Power.ON) == (state.power is not Power.STANDBY):
            sound = float(teller.table.high[0, teller.table.index(key)])
            if seen.form is Form.VALUE and seen.low > RIPPLE_TIMES * max(sound, LEAST_RIPPLE_VOLTS):
                return key, loaded, replace(seen, form=Form.ABOVE, high=math.inf)
    return "", state, seen


def _not_of_the_loads(teller: Teller, entry: Read, candidate: str, seen: Observation) -> None:
    """What is read with the main cable off is no doing of the boards behind it."""
    column = column_of(teller.table, teller.table.index(candidate))
    loads = sorted({load.part for load in teller.board.loads})
    clue = without_parts_clue(
        teller.table, f"{entry.number}", "ripple without the boards", column.likelihood(seen), loads
    )
    teller.aside(clue, entry.number)


RIPPLE_TIMES, LEAST_RIPPLE_VOLTS = 3.0, 0.02
"""So much more than a sound loaded rail has is ripple that no meter and no lead makes [P]."""


_NAMED_OHMS = re.compile(r"(?<![\w.])(\d+(?:\.\d+)?) ?([kM])(?:ohm|Ω)?\b|\b(\d+[kMR]\d+)\b")


def _named_ohms(at: str) -> float | None:
    """The ohms that a place names its resistor by: “R120, the 1 M at the sense pin”."""
    found = _NAMED_OHMS.search(at)
    return None if found is None else Teller.marked(found[3] or f"{found[1]}{found[2]}")


def _own(teller: Teller) -> bool:
    return teller.board.known_by == "own"


def _at_its_part(teller: Teller, entry: Read, found: HumanValue, place: Place) -> Place:
    """“Supply pin of the boost controller”: where no probe reads the pin, the part is meant."""
    of = _PIN_OF.search(entry.at)
    return place if of is None else replace(place, parts=tuple(teller.parts(of[1])))


def _state_of(teller: Teller, entry: Read, found: HumanValue) -> BoardState | None:
    """The state of the board at a reading: dead for ohms, else as it was brought."""
    if found.mode.needs_dead_board:
        return UNPLUGGED
    here = brought(teller.board, teller.situation, entry.note) if _says_cable(entry.note) else None
    asked = _WHILE_ASKED.search(f"{entry.note} {entry.text}") and teller.situation.known
    if asked and asked.power is Power.STANDBY and asked.main_cable:
        return teller.nearest(BoardState(Power.ON, True, 0))
    state = (here or teller.situation).known
    if state is None:
        teller.notes.warn(
            "Some readings name no state: taken in standby, main cable on. A reading means little "
            "without the state of the board."
        )
        return teller.nearest(STANDBY)
    if state.power is Power.UNPLUGGED:
        return teller.nearest(STANDBY) if abs(found.observation.centre) > 60.0 else None
    return teller.nearest(state)


_WHILE_ASKED = re.compile(
    r"\b(while|when|also|even)\b[^,;]{0,16}\b(press\w*|switch\w* (it )?on|asked|remote|key|"
    r"button|power"
    r"(ed|ing)? (it )?on|turn\w* (it )?on)\b|"
    r"\b(change|reaction|difference|response|move)\b[^,;]{0,6}\b(with|on|to|at) (the |a )?(power |"
    r"start )?(key|button|remote|press)",
    re.IGNORECASE,
)
"""Read at the moment when the set is asked to come on."""


def _says_cable(note: str) -> bool:
    return bool(re.search(r"\b(cn\d+|cable|strips?|board) off\b", note.lower()))


def _as_sound(teller: Teller, key: str, seen: Observation) -> bool:
    column = column_of(teller.table, teller.table.index(key))
    return column.judged(seen).verdict is Verdict.AGREES


def _repeat(teller: Teller, entry: Read, probe: str, state: BoardState, seen: Observation) -> None:
    column = column_of(teller.table, teller.table.index(f"{probe}@{state.key}"))
    out = sorted(teller.situation.out)
    words = f"{column.probe.title}, {state.label}: {seen.text()}"
    if out:
        likely = column.likelihood(seen)
        teller.aside(
            without_parts_clue(teller.table, f"{entry.number}", words, likely, out), entry.number
        )
        teller.understand(f"{words}, with {', '.join(out)} out")
    else:
        teller.read(probe, state, seen, entry.number)


def _ripple_in(entry: Read) -> list[Observation]:
    """AC volts that a note tells beside the DC reading."""
    found = re.search(r"(\d+(?:\.\d+)?) ?(m?)v (?:on the )?ac\b", entry.note.lower())
    if not found or entry.mode:
        return []
    volts = float(found[1]) * (1e-3 if found[2] else 1.0)
    return [Observation(Form.VALUE, volts, volts, "V")]
