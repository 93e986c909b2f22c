"""Where a reading was taken: a printed pin, a part by its job, the bulk, a controller's supply."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from loose_rail.app.job_file.log.live_points import VCC, at_net, live_place, plain, vcc
from loose_rail.app.job_file.log.situation import place_alone
from loose_rail.boards.parts_named import (
    MOST_MEANT,
    names_a_kind,
)
from loose_rail.boards.probes import Probe, probes_of
from loose_rail.boards.profile import Board, Pin
from loose_rail.kernel.number_words import NUMBER_WORDS
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.roles import BoardRole

Namer = Callable[[str], list[str]]
RESISTANCES = (MeterMode.OHMS, MeterMode.CONTINUITY)
_PIN = re.compile(
    r"\b([A-Z]{1,3}\d{1,4})(?:\s?(?:[-.:/#,_]|,?\s?(?:pins?|p)\s?(?:no\.?|number|nr\.?)?\s?)\s?|"
    r"\s\(?)(\d{1,2})(?![\d.,]*\s?v)\b",
    re.IGNORECASE,
)
_PIN_IN_WORDS = re.compile(rf"\bpin ({'|'.join(NUMBER_WORDS)})\b", re.IGNORECASE)
_PIN_FIRST = re.compile(
    r"\b(?:pins? ?)?(\d{1,2})(?:(?:st|nd|rd|th) pin)?(?:(?: ?(?:and|&|,|/|"
    r"\+) ?\d{1,2})*),? (?:(?:of|on|at|in) )?(?:the )?"
    r"(?:plug |connector )?([A-Z]{1,3}\d{1,4})\b",
    re.IGNORECASE,
)
_REVERSE = re.compile(r"drain to source|\bd to s\b|revers|backward|\bk to a\b|black on a", re.I)
_THE_OTHER_WAY = re.compile(
    r"\b(ol|open|nothing|none|blocks|no reading)\b,? (when |if |in )?"
    r"(reversed?|backwards?|the other (way|direction))\b|"
    r"\brevers(ed|e)?:? (it )?(is |reads )?(ol|open|nothing)\b",
    re.IGNORECASE,
)
"""What the other way round reads is another reading."""
_CLOSED_CONTACT = re.compile(
    r"contacts?\b.*\b(coil|energi[sz]ed|pulled in|driven|fed)\b|\bcoil\b.*\bcontacts?\b", re.I
)
_CHIP_INPUT = re.compile(r"\binput\b", re.IGNORECASE)
"""A converter's input is not its output."""
_SWAPPED = re.compile(r"(leads|probes) (swapped|reversed|changed)|other (way|direction)", re.I)
_ENDS_NAMED = re.compile(r"drain to source|\bd to s\b", re.I)
_LIFTED = re.compile(
    r"lifted|by itself|\bleg (is )?(out|off|up|free)|one leg|removed|out of (the )?board|"
    r"by themselves|desoldered",
    re.I,
)
_ACROSS_MAINS = re.compile(
    r"(across|between|over|at) (the )?(mains|a\.?c\.?|line|inlet|L)\b"
    r"(?! (choke|filter|fuse|switch))|"
    r"\bL (and|to|/) ?N\b|\ba\.?c\.? (input|pins?|terminals?|side|to a\.?c)|"
    r"\bmains (inlet|input|pins|terminals)\b",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class Place:
    """What a place means: a probe, or a part that has no probe for this setting; the printed pin
    where it is one. `vague` where it may be any of too many parts."""

    probe: Probe | None
    parts: tuple[str, ...] = ()
    pin: Pin | None = None
    alone: bool = False
    vague: bool = False


def pin_of(board: Board, text: str) -> tuple[str, Pin] | None:
    """The printed pin that words name, by connector and number."""
    text = _PIN_IN_WORDS.sub(lambda found: f"pin {NUMBER_WORDS[found[1].lower()]}", text)
    named = [(found[1], found[2]) for found in _PIN.finditer(text)]
    named += [(found[2], found[1]) for found in _PIN_FIRST.finditer(text)]
    for name, number in named:
        for connector in board.connectors:
            if connector.ref.lower() == name.lower():
                for pin in connector.pins:
                    if pin.number == int(number):
                        return connector.ref, pin
    return None


_GROUND = re.compile(r"^(?P<label>\S+) (?:pin )?to (?:the )?(?:cold )?(?:gnd|ground|minus)\b", re.I)


def _to_ground(board: Board, at: str) -> tuple[str, Pin] | None:
    """“PSON to GND, supply side”: the pin whose printed label is named first."""
    found = _GROUND.match(at.strip())
    pin = _labelled(board, found["label"]) if found else None
    return None if pin is None else ("", pin)


def place_of(board: Board, named: Namer, at: str, note: str, mode: MeterMode) -> Place:
    """What a place means with a setting; `Place(None)` where it is none of this board. `named`
    finds the parts that words mean."""
    at = place_alone(at)
    live = not mode.needs_dead_board
    here = (p for p in probes_of(board) if mode.of_lamps or not p.unplugged)
    fitting = [p for p in here if p.live == live and _fits(p, mode)]
    alone = bool(_LIFTED.search(f"{at} {note}"))
    pin = pin_of(board, at) or (None if live else _to_ground(board, at))
    if pin is not None:
        probe = at_net(board, pin[1].net, fitting, live)
        return Place(probe, (), pin[1])
    if live:
        if before := _BEFORE_A_SWITCH.search(at):
            parts = tuple(named(at))
            fed = before[2].lower() in ("collector", "input", "feed") and not parts
            source = vcc(board, "standby controller", fitting) if fed else None
            return Place(source, parts, _labelled(board, at))
        return Place(live_place(board, at, fitting), tuple(named(at)), _labelled(board, at))
    across = not _PART_ACROSS.match(at)
    if (
        across
        and mode in RESISTANCES
        and (way_in := _of_the_way_in(board, at, fitting)) is not None
    ):
        return way_in
    parts = tuple(named(at))
    if not parts and VCC.search(at) and not _BETWEEN.search(at):
        probe = vcc(board, at, [p for p in probes_of(board) if p.live])
        if probe is not None:
            return Place(at_net(board, probe.plus, fitting, live=False))
    if not parts and not _CHIP_INPUT.search(at) and not _names_a_part(board, at):
        rail = live_place(board, at, [p for p in probes_of(board) if p.live])
        if rail is not None:
            return Place(at_net(board, rail.plus, fitting, live=False))
    return _at_parts(parts, at, note, mode, fitting, alone) if parts else Place(None)


_PART_ACROSS = re.compile(
    r"^(?:the )?(?:mov|ntc|thermistor|inrush \w+|varistor|vdr|suppressor|x2?[- ](?:cap\w*)|"
    r"discharge resistors?|"
    r"bleeder)\b",
    re.I,
)
"""A part that lies across the mains, called by its kind."""
_BETWEEN = re.compile(r"\bbetween\b", re.IGNORECASE)
_BEFORE_A_SWITCH = re.compile(
    r"^(the )?(collector|drain|emitter|source|input|feed|base|gate) (of|at) [^,;]*"
    r"\b(transistor|switch)\b[^,;]*\b(that|which|switch\w*)\b[^,;]*"
    r"\b(vcc|vdd|supply|feeds? (the )?(\w+ )?(controllers?|chips?|ics?))\b",
    re.IGNORECASE,
)
"""A terminal of what switches a supply pin on: not that pin."""
IN_A_ROW = re.compile(
    r"\b(divider|resistors?)\b.*\b(string|chain|row|in series|end to end|"
    r"all (two|three|four|of them)|"
    r"(two|three|four) of (?=\d))|\b(string|chain|row) of [^,;]*\b(divider|resistors)\b",
    re.IGNORECASE,
)
"""Several resistors one behind the other, read from end to end."""


def _at_parts(
    parts: tuple[str, ...],
    at: str,
    note: str,
    mode: MeterMode,
    fitting: Sequence[Probe],
    alone: bool,
) -> Place:
    """What is read at parts of the dead board."""
    if len(parts) > MOST_MEANT:
        return Place(None, parts, vague=True)
    if len(parts) > 1 and IN_A_ROW.search(at):
        return Place(None, parts)  # their sum is no reading of one of them
    if _CLOSED_CONTACT.search(at):
        return Place(None, parts, alone=True)  # no probe drives its coil
    if re.search(r"\bsecondar(y|ies)\b(?!( side)? (cap|can|diode|rect|elec))", at, re.IGNORECASE):
        return Place(None, parts, alone=alone)  # the probe of a transformer reads its primary
    note = _THE_OTHER_WAY.sub(" ", note)
    backward = _REVERSE.search(f"{at} {note}") or _SWAPPED.search(note)
    if mode is MeterMode.DIODE and backward and not _ENDS_NAMED.search(at):
        return Place(None, parts, alone=alone)  # a diode test reads forward
    own = [p for p in fitting if p.part in parts and p.lifted == alone]
    own = own or [p for p in fitting if p.part in parts and not p.lifted]
    return Place(_end(own, at), parts, alone=alone)


_BEHIND_THE_BRIDGE = re.compile(
    r"\b(behind|after) the bridge\b(?! (fuse|choke|film|capacitor|diode))|"
    r"\bbridge output\b|\bplus (to|and) minus of the bridge\b",
    re.IGNORECASE,
)


_A_PART = re.compile(r"^(?:the )?([A-Z]{1,3}\d{2,4})\b|\bd ?[-/] ?s\b|\bdrain\b", re.IGNORECASE)


def _names_a_part(board: Board, at: str) -> bool:
    """Whether a place is a part, though none that is known: “Q803 of the 5 V standby” is not that
    rail."""
    found = _A_PART.search(at.strip())
    plug = found is not None and any(
        c.ref.lower() == (found[1] or "").lower() for c in board.connectors
    )
    return names_a_kind(at) or (found is not None and not plug)


def _of_the_way_in(board: Board, at: str, fitting: Sequence[Probe]) -> Place | None:
    """Ohms across the mains, or behind the bridge; None where words mean neither."""
    if _ACROSS_MAINS.search(at) and "bridge" not in at.lower():
        across = board.roles.get(BoardRole.INPUT_ACROSS, [])
        own = [p for p in fitting if p.part in across and not p.lifted]
        return Place(
            next((p for p in own if board.component(p.part).kind == "film"), _end(own, at))
        )
    if _BEHIND_THE_BRIDGE.search(at):
        return Place(_across_rectified(board, fitting))
    return None


def _across_rectified(board: Board, fitting: Sequence[Probe]) -> Probe | None:
    """The ohms from plus to minus behind the bridge: at its film capacitor, or at the bulk."""
    bulk = board.roles.get(BoardRole.BULK, [])
    own = [p for p in fitting if not p.lifted and p.part]
    film = [p for p in own if "behind the bridge" in _called(board, p.part)]
    return next(iter([*film, *(p for p in own if p.part in bulk)]), None)


def _called(board: Board, part: str) -> str:
    return f"{part} {board.component(part).duty}".lower()


def _labelled(board: Board, at: str) -> Pin | None:
    """The pin whose printed label is all that words say."""
    words = plain(at)
    pins = (pin for connector in board.connectors for pin in connector.pins)
    return next((pin for pin in pins if words and plain(pin.label) == words), None)


def _fits(probe: Probe, mode: MeterMode) -> bool:
    if mode in RESISTANCES:
        return probe.mode in RESISTANCES
    if mode is MeterMode.AC_VOLTS:
        return probe.mode is mode
    return probe.mode is mode


_ARMS = {("1", "plus"): "d1", ("2", "plus"): "d2", ("1", "minus"): "d3", ("2", "minus"): "d4"}
"""Diodes of a bridge by the ends that are touched."""
_NTH = (
    ("d1", r"\b(first|1st|one|left)\b|\bd1\b"),
    ("d2", r"\b(second|2nd|another|other)\b|\bd2\b"),
    ("d3", r"\b(third|3rd)\b|\bd3\b"),
    ("d4", r"\b(fourth|4th|last)\b|\bd4\b"),
)
"""The same where they are only counted."""
_ARM = re.compile(
    r"(?:ac|~) ?([12])\b.*?(plus|minus|\+|[-−])|(plus|minus|\+|[-−]).*?(?:ac|~) ?([12])\b"
)


def _arm(at: str) -> str:
    """The diode of a bridge that a place names by its ends; empty where it names none."""
    found = _ARM.search(at.lower())
    if found is None:
        counted = re.search(r"\b(diode|arm|leg)s?\b", at.lower()) and "bridge" in at.lower()
        return next((d for d, p in _NTH if counted and re.search(p, at.lower())), "")
    side = {"+": "plus", "-": "minus", "−": "minus"}.get(found[2] or found[3], found[2] or found[3])
    return _ARMS[found[1] or found[4], side]


def _end(probes: Sequence[Probe], at: str) -> Probe | None:
    across = re.search(r"\bbridge\b", at, re.I) and _ACROSS_MAINS.search(at)
    for probe in probes:
        if across and probe.id.removesuffix(".out").endswith(".ac"):
            return probe
    arm = _arm(at)
    for probe in probes:
        if arm and probe.id.removesuffix(".out").endswith(f".{arm}"):
            return probe
    backward = bool(_REVERSE.search(at))
    for probe in probes:
        if backward and probe.id.removesuffix(".out").endswith((".rev", ".ka", ".ds")):
            return probe
    return probes[0] if probes else None
