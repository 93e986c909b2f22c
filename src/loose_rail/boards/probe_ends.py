"""Where each lead of a probe goes, as data: a printed pin, or a lead of a part."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board


@dataclass(frozen=True, slots=True)
class ProbeEnd:
    """One lead: connector, pin number and printed label, or part and pin; empty where it is none of
    these."""

    connector: str = ""
    pin: int = 0
    label: str = ""
    part: str = ""
    lead: str = ""

    def as_json(self) -> dict[str, object]:
        """What is known of it."""
        if self.connector:
            return {"connector": self.connector, "pin": self.pin, "label": self.label}
        return {"part": self.part, "pin": self.lead} if self.part else {}


def ends_of(board: Board, probe: Probe) -> tuple[ProbeEnd, ProbeEnd]:
    """Where red and black go."""
    if probe.part and not probe.live and not is_a(board.component(probe.part), Trait.CONNECTOR):
        return _at_part(board, probe.part, probe.plus), _at_part(board, probe.part, probe.minus)
    return _of_net(board, probe.plus), _of_net(board, probe.minus)


def _at_part(board: Board, ref: str, net: str) -> ProbeEnd:
    pins = board.component(ref).pins
    return ProbeEnd(part=ref, lead=next((pin for pin, at in pins.items() if at == net), ""))


def _of_net(board: Board, net: str) -> ProbeEnd:
    """The printed pin that the net's words name, else the first one on it, else a capacitor."""
    where = board.net(net).where
    on_it = [(c.ref, pin) for c in board.connectors for pin in c.pins if pin.net == net]
    named = [(ref, pin) for ref, pin in on_it if where.startswith(f"{ref} pin {pin.number}")]
    for ref, pin in (*named, *on_it):
        return ProbeEnd(connector=ref, pin=pin.number, label=pin.label)
    for part in board.components:
        if is_a(part, Trait.CAPACITOR) and net in part.pins.values():
            return _at_part(board, part.ref, net)
    return ProbeEnd()
