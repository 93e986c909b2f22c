"""A connector's printed legend as the eye sees it: two rows of pins, with volts asleep and awake.

Two countings are met: across (odd numbers in one row, even in the other) and around (along one row
and back along the other). Taking one for the other puts the probe on the wrong pin.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from loose_rail.boards.own.board import KNOWN_BY as OWN, Composed
from loose_rail.boards.own.make_up import OwnConnector
from loose_rail.boards.own.pin_label import PinJob, pin_meaning
from loose_rail.boards.profile import Board, Connector, Rail
from loose_rail.kernel.quantities import engineering
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.roles import BoardRole

FEWEST_FOR_TWO_ROWS = 6
LINES = ("printed", "standby", "on")
_ENABLES = (PinJob.LAMPS_ENABLE, PinJob.PANEL_ENABLE, PinJob.SUSTAIN_ENABLE)
UNKNOWN_WAKE = ("unknown:", "no jumper")
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
    marked: bool = False
    """Whether a hand goes to this one."""


@dataclass(frozen=True, slots=True)
class LegendState:
    """A connector: its title, and one or two rows of pins from left to right."""

    title: str
    rows: tuple[tuple[LegendPin, ...], ...]
    words: str


def legend_of_board(board: Board, around: bool = False) -> LegendState:
    """The legend of a known board's connector to the main board, as it is counted there; `around`
    turns the counting."""
    refs = board.roles.get(BoardRole.CONNECTOR, [])
    connector = next((c for c in board.connectors if c.ref in refs), None)
    if connector is None:
        return LegendState("", (), "")
    return legend_of_connector(board, connector, around)


def legend_of_connector(board: Board, connector: Connector, around: bool = False) -> LegendState:
    """One connector as it is counted on the board; `around` turns the counting."""
    rails = {rail.net: rail for rail in board.rails}
    pins = {
        pin.number: _pin(board, pin.number, pin.label, rails.get(pin.net)) for pin in connector.pins
    }
    rows = connector.rows or (2 if len(pins) >= FEWEST_FOR_TWO_ROWS else 1)
    plug = OwnConnector(connector.ref, rows, (), connector.around != around)
    title = f"{connector.ref} · {connector.title}"
    return LegendState(title, _rows(pins, rows, plug.around), _words(plug))


def with_jumper(legend: LegendState, board: Board) -> LegendState:
    """The legend with the two pins of the jumper marked."""
    wake = board.wake
    ends = {wake.pin, wake.source_pin}
    if wake.sense == "low":
        grounds = [
            pin.number
            for one in board.connectors
            for pin in one.pins
            if one.ref == wake.connector and pin.net == board.cold_ground
        ]
        ends = {wake.pin, *grounds[:1]}
    rows = tuple(
        tuple(replace(pin, marked=pin.number in ends) for pin in row) for row in legend.rows
    )
    return replace(legend, rows=rows)


def legend_of_plug(made: Composed, plug: OwnConnector, which: str = "") -> LegendState:
    """A connector of an own board as it is seen, with what each pin reads by its make-up."""
    rails = {rail.net: rail for rail in made.board.rails}
    nets = {
        (connector.ref, pin.number): pin.net
        for connector in made.board.connectors
        for pin in connector.pins
    }
    pins = {
        number: _pin(made.board, number, text, rails.get(nets.get((plug.name, number), "")))
        for number, text in enumerate(plug.pins, start=1)
    }
    return LegendState(f"{plug.name}{which}", _rows(pins, plug.rows, plug.around), _words(plug))


def _nothing(number: int) -> LegendPin:
    return LegendPin(number, "", "", "")


def _pin(board: Board, number: int, text: str, rail: Rail | None) -> LegendPin:
    """A pin with what it reads by its rail, or by what its label says."""
    if rail is not None:
        return LegendPin(number, text, *rail_volts(board, rail))
    job = pin_meaning(text).job
    if job is PinJob.GROUND:
        return LegendPin(number, text, "0 V", "0 V")
    if job is PinJob.START:
        return LegendPin(number, text, *WAKE_WORDS.get(board.wake.sense, UNKNOWN_WAKE))
    if job in _ENABLES:
        return LegendPin(number, text, "0 V", "about 3 V")
    if job is PinJob.UNKNOWN and text and board.known_by == OWN:
        return LegendPin(number, text, "not", "known")
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


def _rows(pins: dict[int, LegendPin], rows: int, around: bool) -> tuple[tuple[LegendPin, ...], ...]:
    if not pins:
        return ()
    count = max(pins)
    every = [pins.get(k, _nothing(k)) for k in range(1, count + 1)]
    if rows < 2:
        return (tuple(every),)
    if count % 2:
        every.append(_nothing(count + 1))
    if around:
        half = len(every) // 2
        return tuple(every[:half]), tuple(reversed(every[half:]))
    return tuple(every[0::2]), tuple(every[1::2])


def _words(plug: OwnConnector) -> str:
    if plug.rows < 2:
        return "One row. Find pin 1 by its mark on the board."
    how = (
        "around: along one row and back along the other"
        if plug.around
        else "across: odd above, even below"
    )
    return f"Counted {how}. Find pin 1 by its mark on the board."
