"""Both ends of a cable or ribbon: the volts that leave must arrive."""

from __future__ import annotations

import re

from loose_rail.app.guides.guide import GuideState
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.jobs import events as ev
from loose_rail.judgement.limits import limit
from loose_rail.kernel.quantities import engineering, parse_quantity
from loose_rail.vocabulary.both_ends import DROPS_VOLTS, NO_DROP


class EndsGuide:
    """Connectors, and what was read at both ends of their cables."""

    def __init__(self, session: JobSession) -> None:
        self._session = session

    def state(self) -> GuideState:
        """The connectors as they stand."""
        words = {DROPS_VOLTS: "drops volts", NO_DROP: "arrives"}
        findings = self._session.state.findings
        seen = {one.part: one.seen for one in findings if one.seen in words}
        rows = tuple(
            (str(n), c.ref, c.load or c.title, words.get(seen.get(c.ref, ""), "not read"))
            for n, c in enumerate(self._session.board.connectors, start=1)
        )
        return GuideState(
            title="Both ends of a cable",
            intro=(
                "The same pin on this board and at the far board, under load, black on the output "
                "ground of this board for both.",
                "Then ground to ground: the return may drop as much as the feed.",
                "A ribbon: lift the latch, look for torn or pale fingers, press it home, again.",
            ),
            caution="Two probes on neighbouring pins short them: clip one end, hold the other "
            "still.",
            columns=("", "Connector", "To", "Volts"),
            rows=rows,
            hint="Connector, volts here, volts there: CN2 12.1 11.4",
            stretched=2,
        )

    def choose(self, number: int) -> Outcome:
        """Says how to enter it."""
        connectors = self._session.board.connectors
        if not 1 <= number <= len(connectors):
            return Outcome.refused("There is no connector with that number.")
        return Outcome(f"Type {connectors[number - 1].ref}, the volts here, the volts there.")

    def enter(self, text: str) -> Outcome:
        """Both readings of one cable."""
        found = re.fullmatch(r"\s*(\S+)\s+(\S+)\s+(\S+)\s*", text)
        refs = {c.ref.lower(): c.ref for c in self._session.board.connectors}
        ref = refs.get(found.group(1).lower()) if found else None
        here = parse_quantity(found.group(2)) if found else None
        there = parse_quantity(found.group(3)) if found else None
        if ref is None or here is None or there is None:
            first = next(iter(refs.values()), "CN2")
            return Outcome.refused(f"Connector and two voltages: {first} 12.1 11.4")
        drop = abs(here.value) - abs(there.value)
        least = max(limit("contact_drop_volts"), limit("contact_drop_share") * abs(here.value))
        bad = drop > least
        self._session.record(ev.FindingNoted(ref, DROPS_VOLTS if bad else NO_DROP))
        said = f"{ref} drops {engineering(drop, 'V', 2)}"
        if bad:
            return Outcome.warned(f"{said}: the contact, not the supply.")
        return Outcome(f"{said}: what leaves arrives.")
