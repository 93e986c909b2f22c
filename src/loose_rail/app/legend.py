"""A connector's printed legend as the eye sees it: two rows of pins, with volts asleep and awake.

Two countings are met: across (odd numbers in one row, even in the other) and around (along one row
and back along the other). Taking one for the other puts the probe on the wrong pin.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from loose_rail.app.job_file.words import plain
from loose_rail.boards.profile import Board, Rail
from loose_rail.kernel.quantities import engineering
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.roles import BoardRole

GROUND = re.compile(r"^(gnd|sgnd|agnd|dgnd|ground|0v|com)\d*$", re.IGNORECASE)
NAMED = re.compile(r"^\s*([A-Za-z]{1,6}[-_ ]?\d{1,4}[A-Za-z]?)\s*:\s*")
NUMBERED = re.compile(r"^(\d{1,2})\s*[:=]\s*(.+)$")
FEWEST_FOR_TWO_ROWS = 6
MOST_PINS = 40
LINES = ("printed", "standby", "on")
OTHER_SIGNALS = ("lamps_signal", "enable")
WAKE_WORDS = {
    "high": ("0 V", "2.6 to 5 V"),
    "low": ("standby volts", "0 V"),
    "none": ("not used", "not used"),
}


@dataclass(frozen=True, slots=True)
class LegendPin:
    """A pin with its printed label and what it reads asleep and awake; empty where not known."""

    number: int
    label: str
    standby: str
    awake: str


@dataclass(frozen=True, slots=True)
class LegendState:
    """A connector: its title, and one or two rows of pins from left to right."""

    title: str
    rows: tuple[tuple[LegendPin, ...], ...]
    words: str


def numbered_labels(labels: list[str]) -> dict[int, str]:
    """Pin numbers of labels: “3: GND” names its pin, the others follow the one before."""
    found: dict[int, str] = {}
    at = 0
    for text in labels:
        match = NUMBERED.match(text.strip())
        at = int(match.group(1)) if match else at + 1
        if 1 <= at <= MOST_PINS:
            found[at] = match.group(2).strip() if match else text.strip()
    return found


def connector_of(text: str) -> tuple[str, list[str]]:
    """A typed pinout as the connector's name, empty where none was typed, and its labels in order:
    “CN8: 24V, 24V, GND” names the connector, “7: 24V” a pin."""
    match = NAMED.match(text)
    name, rest = (match.group(1), text[match.end() :]) if match else ("", text)
    return name, [part.strip() for part in re.split(r"[,;]", rest) if part.strip()]


def bare_label(text: str) -> str:
    """A label without its pin number."""
    match = NUMBERED.match(text.strip())
    return match.group(2).strip() if match else text.strip()


def legend_of_board(board: Board, around: bool) -> LegendState:
    """The legend of a known board's connector to the main board."""
    refs = board.roles.get(BoardRole.CONNECTOR, [])
    connector = next((c for c in board.connectors if c.ref in refs), None)
    if connector is None:
        return LegendState("", (), "")
    rails = {rail.net: rail for rail in board.rails}
    pins = {
        pin.number: _pin(board, pin.number, pin.label, rails.get(pin.net)) for pin in connector.pins
    }
    return LegendState(f"{connector.ref} · {connector.title}", _rows(pins, around), _words(around))


def legend_of_labels(
    board: Board,
    labels: dict[int, str],
    meaning: Mapping[str, str],
    around: bool,
    name: str = "",
) -> LegendState:
    """The legend as it is typed; `meaning` maps plain labels to rails and signals of `board`."""
    by_id = {rail.id: rail for rail in board.rails}
    pins = {}
    for number, text in labels.items():
        means = meaning.get(plain(text), "")
        if means in OTHER_SIGNALS:
            pins[number] = LegendPin(number, text, "0 V", "about 3 V")
        else:
            pins[number] = _pin(board, number, text, by_id.get(means))
    title = f"{name} as typed" if name else "Connector as typed"
    return LegendState(title, _rows(pins, around), _words(around))


def _pin(board: Board, number: int, text: str, rail: Rail | None) -> LegendPin:
    if rail is not None:
        return LegendPin(number, text, *rail_volts(board, rail))
    if GROUND.match(text):
        return LegendPin(number, text, "0 V", "0 V")
    if board.wake.pin == number or re.match(r"^(ps[-_ ]?on|start|stb|power[-_ ]?on)", text, re.I):
        return LegendPin(number, text, *WAKE_WORDS.get(board.wake.sense, ("unknown:", "no jumper")))
    return LegendPin(number, text, "", "")


def rail_volts(board: Board, rail: Rail) -> tuple[str, str]:
    """What a rail reads asleep and awake, in words: its own volts, a share of them, or nothing."""
    awake = engineering(rail.volts, "V")
    point = next((p for p in board.live_points if p.rail == rail.id), None)
    stage = board.stage(stage_of(point.observable)) if point else None
    share = 1.0
    seen: set[str] = set()
    while stage is not None and stage.id not in seen:
        seen.add(stage.id)
        if stage.signal:
            share *= float(stage.params.get("standby_share", "0"))
        stage = board.stage(stage.source)
    asleep = engineering(rail.volts * share, "V") if share else "0 V"
    return asleep, awake


def _rows(pins: dict[int, LegendPin], around: bool) -> tuple[tuple[LegendPin, ...], ...]:
    if not pins:
        return ()
    count = max(pins)
    every = [pins.get(k, LegendPin(k, "", "", "")) for k in range(1, count + 1)]
    if count < FEWEST_FOR_TWO_ROWS:
        return (tuple(every),)
    if count % 2:
        every.append(LegendPin(count + 1, "", "", ""))
    if around:
        half = len(every) // 2
        return tuple(every[:half]), tuple(reversed(every[half:]))
    return tuple(every[0::2]), tuple(every[1::2])


def _words(around: bool) -> str:
    how = "around: along one row and back along the other" if around else "across: odd above, even"
    return f"Counted {how}{'' if around else ' below'}. Find pin 1 by its mark on the board."
