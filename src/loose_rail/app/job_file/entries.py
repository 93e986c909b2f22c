"""States, settings and values of a job file's readings, read as people write them."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping

from loose_rail.app.job_file.notes import Notes
from loose_rail.app.job_file.words import words
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.kernel.entry import read_entry
from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from loose_rail.vocabulary.meter_mode import MeterMode

_DEAD = re.compile(
    r"unplug|drain|dead|cold|discharged|no (power|mains)|power(ed)? ?(off|down)|removed"
)
_FORCED = re.compile(r"forc|jumper|bypass|start (signal )?(given|high|pulled)")
_ON = re.compile(r"\bon\b|running|operating|switched ?on|power(ed)? ?on|awake|full")
_AWAY = (
    r"(off|out|unplugged|disconnected|removed|pulled|detached|free|not (connected|plugged( in)?))"
)
_BARE = re.compile(
    rf"(cable|board|main|connector|plug)s? (is |was |are )?{_AWAY}|"
    r"without( (the|its|any))?( main)?( (cable|board|connector|load)s?)?|"
    r"unloaded|no load|bare|disconnected|alone|unplugged from|nothing connected|uncabled"
)
_CABLE_ON = re.compile(r"(?<!no )(cable|main board|connector)s? (is |was )?(on|in|connected)\b")
_CABLE = re.compile(r"\b(cable|connector)s?\b")
_LAMP = re.compile(r"lamp|bulb|limiter|series")
_STANDBY = re.compile(r"stand.?by|stb|(?<!un)plugged|mains (on|in|applied)|live|powered|ac applied")

MODES = (
    (r"esr", MeterMode.ESR),
    (r"diode|drop|forward|v?f\b", MeterMode.DIODE),
    (r"cap|farad|[µun]f\b", MeterMode.CAPACITANCE),
    (r"ohm|Ω|ω|resist|contin|beep", MeterMode.OHMS),
    (r"ac", MeterMode.AC_VOLTS),
    (r"volt|\bv\b|dc", MeterMode.DC_VOLTS),
)
UNITS = {"ohm": "Ω", "ohms": "Ω", "Ω": "Ω", "ω": "Ω", "r": "Ω", "v": "V", "volt": "V", "volts": "V"}
UNITS |= {"vdc": "V", "vac": "V", "f": "F", "farad": "F", "farads": "F", "dcv": "V", "acv": "V"}
NO_NUMBER = {"open", "ol", "short", "shorted", "beep", "beeps", "rising", "falling"}
TICKING = ("tick", "puls", "hiccup", "cycl", "flick", "blink")
WANDERING = ("wander", "unsteady", "unstable", "nois", "drift", "jump", "fluctuat", "interm")


def state_in(text: str, board: Board) -> BoardState | None:
    """The state that words mean, None where they say nothing about it, or where it is not clear
    whether the main cable is on."""
    lowered = text.lower().strip()
    for state in (UNPLUGGED, *live_states(board)):
        if lowered == state.key.lower():
            return state
    for state in live_states(board):
        if state.without and _is_without(lowered, board, state.without):
            return state
    bare = bool(_BARE.search(lowered))
    rest = _CABLE_ON.sub(" ", _BARE.sub(" ", lowered))
    if _CABLE.search(rest):
        return None  # something about the cable that is neither on nor off
    lamp = 60 if _LAMP.search(rest) and not board.adapter_fed else 0
    if _FORCED.search(rest):
        return BoardState(Power.FORCED, False, lamp)
    if _STANDBY.search(rest):
        return BoardState(Power.STANDBY, not bare, lamp)
    if _ON.search(rest):
        return None if bare else BoardState(Power.ON, True, 0)
    if _DEAD.search(lowered):
        return UNPLUGGED
    if bare or lamp or _CABLE_ON.search(lowered):
        return BoardState(Power.STANDBY, not bare, lamp)
    return None


def _is_without(text: str, board: Board, load: str) -> bool:
    duty, levels = board.component(load).duty, words().levels
    alike = [name for name, level in levels.items() if level == levels.get(duty)]
    names = "|".join(re.escape(name.lower()) for name in (duty, load, *alike))
    names = f"({names})"
    off = r"(off|out|unplugged|disconnected|removed)"
    return bool(re.search(rf"{names} (is |was )?{off}|without (the )?{names}", text))


def mode_in(text: str) -> MeterMode | None:
    """The meter setting that words mean, None where they mean none."""
    lowered = text.lower()
    for pattern, mode in MODES:
        if re.search(pattern, lowered):
            return mode
    return None


def value_text(entry: Mapping[str, object]) -> str:
    """The reading as one line of the entry grammar, empty where there is none.

    Knows a `value` with its `unit`, a `range`, `low` and `high`, `hertz`, and a `behaviour`.
    """
    unit = _unit(entry.get("unit"))
    behaviour = str(entry.get("behaviour") or entry.get("behavior") or "").lower()
    value = entry.get("value", entry.get("reading", entry.get("shows")))
    limits = entry.get("range")
    if isinstance(value, list):
        value, limits = None, value
    if limits is None and "low" in entry and "high" in entry:
        limits = [entry["low"], entry["high"]]
    if isinstance(limits, list) and len(limits) == 2:
        text = f"{_with_unit(limits[0], unit)}..{_with_unit(limits[1], unit)}"
        hertz = entry.get("hertz") or entry.get("hz")
        return f"{text}@{hertz}Hz" if hertz and not isinstance(hertz, bool) else text
    if value is None:
        first = re.split(r"[ ,;]", behaviour.strip())[0]
        return first if first in NO_NUMBER else ""
    return _with_unit(value, unit)


def _unit(given: object) -> str:
    text = str(given or "").strip()
    if text.lower() in UNITS:
        return UNITS[text.lower()]
    prefixed = re.fullmatch(r"([pnuµmkKM])\s*(\w+|Ω)", text)
    if prefixed and prefixed[2].lower() in UNITS:
        return f"{prefixed[1].replace('u', 'µ')}{UNITS[prefixed[2].lower()]}"
    return text


def _with_unit(value: object, unit: str) -> str:
    if isinstance(value, bool) or value is None:
        return ""
    if isinstance(value, int | float):
        return f"{value:.9g}{unit}" if math.isfinite(value) else "OL"
    text = str(value).strip()
    return f"{text}{unit}" if re.fullmatch(r"[-+]?\d+(?:[.,]\d+)?", text) else text


_SPELLED = ((r"\bohms?\b", "Ω"), (r"\bvolts?\b|\bv ?[da]c\b", "V"), (r"\bhz\b", "Hz"))


def observation_of(entry: Mapping[str, object], mode: MeterMode, notes: Notes) -> Observation:
    """What was read, in the probe's unit. Raises BadEntryError in words."""
    text = value_text(entry)
    for pattern, plain in _SPELLED:
        text = re.sub(pattern, plain, text, flags=re.IGNORECASE)
    text = re.sub(r"(?<=\d) (?=[pnuµmkKMΩVF])", "", text)
    if text.lower() in ("shorted", "beeps", "beep"):
        text = "short"
    if not text:
        raise BadEntryError("The reading has no value.", "Give a value, a range or a behaviour.")
    if mode.unit == "V" and mode.needs_dead_board and text.lower() in ("short", "0"):
        text = "0"
    read = read_entry(text, mode.unit)
    if read.swapped:
        notes.warn(f"{read.echo} The sign is taken as swapped leads.")
    return _as_behaves(read.observation, entry)


def _as_behaves(seen: Observation, entry: Mapping[str, object]) -> Observation:
    """A range is ticking or wandering as its behaviour says; a bare one ticks only with a rate."""
    behaviour = str(entry.get("behaviour") or entry.get("behavior") or "").lower()
    if seen.form is Form.RANGE and any(word in behaviour for word in TICKING):
        return Observation(Form.TICKING, seen.low, seen.high, seen.unit, seen.hertz)
    if seen.form is Form.TICKING and any(word in behaviour for word in WANDERING):
        return Observation(Form.RANGE, seen.low, seen.high, seen.unit)
    return seen
