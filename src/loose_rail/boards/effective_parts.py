"""The effective values of a board's parts under a set of faults, asked for by role."""

from __future__ import annotations

import math
from collections.abc import Sequence

from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect, Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.boards.typical import bias_share, part_esr_ohms, part_farads
from loose_rail.kernel.quantities import component_value

OPEN_FARADS = 1e-7
OPEN_ESR_OHMS = 100.0
"""What is left of a capacitor that has gone open."""
GATE = "gate"
"""The mode of a switch whose gate is shorted to its source."""
INTERRUPTS = (Effect.OPEN, Effect.CONTACT, Effect.DEAD)
"""What breaks the path of its part."""


class Health:
    """A role names the parts that do one job; every answer is for all of them together."""

    def __init__(self, board: Board, faults: Sequence[Fault]) -> None:
        self.board = board
        self.faults = tuple(faults)
        self._faults: dict[str, list[Fault]] = {}
        for fault in faults:
            self._faults.setdefault(fault.ref, []).append(fault)
        self._touched = {
            role for role, refs in board.roles.items() if not self._faults.keys().isdisjoint(refs)
        }

    def refs(self, role: str) -> list[str]:
        """The parts in a role, none where the topology has no such role."""
        return self.board.roles.get(role, [])

    def faults_in(self, role: str) -> list[Fault]:
        """Every fault of the parts in a role."""
        if role not in self._touched:
            return []
        return [fault for ref in self.refs(role) for fault in self._faults.get(ref, [])]

    def faults_at(self, ref: str) -> list[Fault]:
        """Every fault of one part."""
        return self._faults.get(ref, [])

    def failed(self, role: str, mode: str) -> bool:
        """Whether a part in the role has failed in this mode."""
        return role in self._touched and any(f.mode == mode for f in self.faults_in(role))

    def is_open(self, role: str) -> bool:
        """Whether any part in the role interrupts the path: open, cracked or dead contact."""
        return role in self._touched and any(f.effect in INTERRUPTS for f in self.faults_in(role))

    def bridged_siemens(self, role: str, mode: str = "") -> float:
        """Conductance of shorts and leaks across the parts of a role, or of one mode of them. A
        shorted gate is none: it keeps a switch from conducting."""
        faults = [f for f in self.faults_in(role) if f.effect is Effect.BRIDGE and f.mode != GATE]
        return sum(1.0 / f.ohms for f in faults if mode in ("", f.mode))

    def open_share(self, role: str) -> float:
        """Share of the parts in a role that interrupt their path, 0 where the role is empty."""
        refs = self.refs(role)
        broken = {f.ref for f in self.faults_in(role) if f.effect in INTERRUPTS}
        return len(broken) / len(refs) if refs else 0.0

    def lost_share(self, role: str) -> float:
        """What is left of the value of the parts in a role, 1 where all are sound."""
        return math.prod(f.value_scale for f in self.faults_in(role))

    def series_ohms(self, role: str) -> float:
        """Sum of the resistances in a role, infinite where one is open."""
        if self.is_open(role):
            return math.inf
        return sum(self._ohms(ref) for ref in self.refs(role))

    def _ohms(self, ref: str) -> float:
        part = self.board.component(ref)
        contact = self.contact_ohms(ref)
        text = part.params.get("ohms", part.value)
        if not text or is_a(part, Trait.CAPACITOR):
            return contact
        scale = math.prod(f.value_scale for f in self._faults.get(ref, []))
        return component_value(text.split()[0]) * scale

    def contact_ohms(self, ref: str) -> float:
        """What a poor contact adds in series."""
        return sum(f.ohms for f in self._faults.get(ref, []) if f.effect is Effect.RESISTIVE)

    def nominal_ohms(self, role: str) -> float:
        """Printed resistance of the parts in a role."""
        parts = [self.board.component(ref) for ref in self.refs(role)]
        return sum(component_value(p.params.get("ohms", p.value).split()[0]) for p in parts)

    def capacitor(
        self, role: str, bias_volts: float = 0.0, beside: str = ""
    ) -> tuple[float, float]:
        """Capacitance and ESR of the parts in a role, in parallel; a trace is left of an open one.

        `bias_volts` takes from large ceramics what they lose at their working voltage. `beside` is
        a second role that counts too. Nothing but a trace where the roles are empty.
        """
        farads, siemens = 0.0, 0.0
        for ref in (*self.refs(role), *self.refs(beside)):
            if not is_a(self.board.component(ref), Trait.CAPACITOR):
                continue
            own, esr = self._capacitor(ref)
            own *= bias_share(self.board.component(ref), bias_volts)
            farads, siemens = farads + own, siemens + 1.0 / esr
        return (farads, 1.0 / siemens) if siemens else (OPEN_FARADS, OPEN_ESR_OHMS)

    def _capacitor(self, ref: str) -> tuple[float, float]:
        part = self.board.component(ref)
        farads = part_farads(part)
        esr = part_esr_ohms(part) if is_a(part, Trait.ELECTROLYTIC) else 0.03
        for fault in self._faults.get(ref, []):
            if fault.effect in (Effect.OPEN, Effect.CONTACT):
                return OPEN_FARADS, OPEN_ESR_OHMS
            farads, esr = farads * fault.value_scale, esr * fault.esr_scale
        return farads, esr
