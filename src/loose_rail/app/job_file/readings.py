"""The readings of a job file as evidence; what can't be used is named with its reason."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from loose_rail.app.job_file.board_of import CaseBoard
from loose_rail.app.job_file.entries import mode_in, observation_of, state_in, value_text
from loose_rail.app.job_file.notes import Notes, shown
from loose_rail.app.job_file.points import probe_of
from loose_rail.boards.probes import Probe
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.limits import limit
from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from loose_rail.vocabulary.meter_mode import MeterMode

PLAIN_STANDBY = BoardState(Power.STANDBY, True, 0)
POINT_KEYS = ("point", "probe", "at", "part", "rail", "pin", "where")
NO_METER = "no meter goes to an inverter's high-voltage winding: tell what the tubes do"
MODE_UNITS = {"Ω": MeterMode.OHMS, "F": MeterMode.CAPACITANCE}


@dataclass(frozen=True)
class Told:
    """One reading in words, as the answer repeats it."""

    number: int
    words: str


def readings_of(
    case: CaseBoard, table: PredictionTable, given: object, notes: Notes
) -> tuple[list[Evidence], list[Told]]:
    """The evidence and its words, numbered from 1 in the order of the file."""
    evidence: list[Evidence] = []
    told: list[Told] = []
    if given is None:
        return evidence, told
    if not isinstance(given, list):
        notes.leave(given, "readings are a list, one entry for each reading")
        return evidence, told
    for number, entry in enumerate(given, start=1):
        if not isinstance(entry, Mapping):
            notes.leave(entry, "a reading has a point, a mode, a state and a value")
            continue
        try:
            found = _reading(case, table, entry, notes)
        except BadEntryError as error:
            notes.leave(entry, f"{error.message} {error.hint}".strip())
            continue
        if found is None:
            continue
        candidate, seen, probe, state = found
        evidence.append(Evidence(number, candidate, seen))
        told.append(Told(number, f"{probe.title}, {state.label}: {seen.text()}"))
    return evidence, told


def _reading(
    case: CaseBoard, table: PredictionTable, entry: Mapping[str, object], notes: Notes
) -> tuple[str, Observation, Probe, BoardState] | None:
    point = next((str(entry[k]) for k in POINT_KEYS if entry.get(k)), "")
    if not point:
        notes.leave(entry, "it names no point")
        return None
    mode = _mode(entry, point)
    state = _state(case, entry, mode, notes)
    if state is None:
        return None
    live = state.plugged
    if live and mode is not None and mode.needs_dead_board:
        notes.leave(entry, f"{mode.label} is read on a drained board only, not in this state")
        notes.warn(
            f"Never {mode.label} on a plugged-in board: unplug, drain, measure the bulk, then read."
        )
        return None
    if not live and mode in (MeterMode.DC_VOLTS, MeterMode.AC_VOLTS):
        mode = MeterMode.DIODE if _could_be_diode(entry) else mode
    probe = _probe(case, entry, point, mode, live)
    if probe is None:
        notes.leave(entry, _unknown_point(case, point, mode, live))
        return None
    if not probe.meter:
        notes.leave(entry, NO_METER)
        notes.warn(f"{probe.title}: never a meter there.")
        return None
    state = _nearest(case, probe, state, notes)
    candidate = f"{probe.id}@{state.key}"
    seen = observation_of(entry, probe.mode, notes)
    _warn_of_the_impossible(table, candidate, seen, notes)
    return candidate, seen, probe, state


def _mode(entry: Mapping[str, object], point: str) -> MeterMode | None:
    said = str(entry.get("mode") or entry.get("setting") or "")
    mode = mode_in(said) if said else None
    if mode is None:
        mode = mode_in(point) if any(w in point.lower() for w in ("esr", "ohm", "diode")) else None
    unit = str(entry.get("unit") or "")
    text = value_text(entry)
    if mode is None:
        for letter, of_unit in MODE_UNITS.items():
            if unit.endswith(letter) or text.endswith(letter) or "ohm" in f"{unit}{text}".lower():
                return of_unit
        if unit.upper().endswith("V") or text.upper().endswith("V"):
            return MeterMode.DC_VOLTS
        if text.lower() in ("ol", "open", "short", "beep", "shorted"):
            return MeterMode.OHMS
    return mode


def _could_be_diode(entry: Mapping[str, object]) -> bool:
    text = value_text(entry).rstrip("Vv")
    try:
        return 0.0 <= float(text) < 3.0
    except ValueError:
        return text.upper() == "OL"


def _state(
    case: CaseBoard, entry: Mapping[str, object], mode: MeterMode | None, notes: Notes
) -> BoardState | None:
    given = entry.get("state")
    text = shown(given) if given else ""
    extra = " ".join(str(entry[k]) for k in ("cable", "limiter", "load") if entry.get(k))
    state = state_in(f"{text} {extra}".strip(), case.board) if text or extra else None
    if state is not None:
        return state
    dead = mode is not None and mode.needs_dead_board
    state = UNPLUGGED if dead else PLAIN_STANDBY
    if (text or extra) and not dead:
        notes.leave(
            entry, f"the state “{text or extra}” is not clear: say standby or on, cable on or off"
        )
        return None
    if not dead:
        notes.warn(
            "Some readings name no state: taken in standby, main cable on. A reading means little "
            "without the state of the board."
        )
    return state


def _probe(
    case: CaseBoard, entry: Mapping[str, object], point: str, mode: MeterMode | None, live: bool
) -> Probe | None:
    """The point, and where it means nothing here, any other words that the entry has for it."""
    for words in (point, *(str(entry[k]) for k in ("place", "what", "label") if entry.get(k))):
        found = probe_of(case, words, mode, live)
        if found is not None:
            return found
    return None


def _unknown_point(case: CaseBoard, point: str, mode: MeterMode | None, live: bool) -> str:
    setting = f" with {mode.label}" if mode else ""
    where = "a powered" if live else "a drained"
    if case.generic:
        return (
            f"“{point}” is no point{setting} that is known on {where} board of this topology; say "
            "what it does, such as “12 V reservoir” or “standby rail”"
        )
    return f"{case.board.id} has no point “{point}”{setting} on {where} board"


def _nearest(case: CaseBoard, probe: Probe, state: BoardState, notes: Notes) -> BoardState:
    """The state itself, or the nearest that the model knows, with a warning."""
    if not probe.live or state in live_states(case.board):
        return state if probe.live else UNPLUGGED
    near = max(
        live_states(case.board),
        key=lambda one: (
            one.power is state.power,
            one.main_cable == state.main_cable,
            one.lamp_watts == state.lamp_watts,
        ),
    )
    notes.warn(f"“{state.label}” is not modelled on this board: read as {near.label}.")
    return near


def _warn_of_the_impossible(
    table: PredictionTable, candidate: str, seen: Observation, notes: Notes
) -> None:
    column = column_of(table, table.index(candidate))
    most = limit("absurd_times") * column.highest
    if seen.form is Form.VALUE and seen.unit == "V" and seen.low > max(most, 1.0):
        notes.warn(
            f"{column.probe.title}: {seen.text()} is more than this point can show. Misread, a "
            "wrong range, or not this board?"
        )
