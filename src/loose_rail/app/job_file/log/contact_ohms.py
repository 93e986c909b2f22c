"""Ohms through a contact: from a pin on the board to its wire, past the plug."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.entries import Read
from loose_rail.app.job_file.log.points import Place
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.both_ends import NO_DROP

_THROUGH = re.compile(
    r"\b(pin|contact|solder|board side|track|pad)s?\b[^;]*\bto (the |its |their )?(own )?"
    r"(wire|crimp|lead|cable|strand|free end|far end|other end)s?\b(?! of)|"
    r"\b(wire|crimp|lead)s? to (the |its )?(pin|pad|board|track|solder)s?\b|"
    r"\b(through|across|over) (the |that |one |its )?(mated |plugged )?(contact|crimp|plug)\b|"
    r"\bcontact resistance\b",
    re.IGNORECASE,
)
_POOR_OHMS = 0.5
"""A sound contact has hundredths of an ohm; leads and tips add a few tenths [P]."""
_NO_CONTACT_OHMS = 1e3
"""A steady reading above it is of the rail, past a contact that does not matter [E]."""
_JUMPS = re.compile(r"\b(jump|chang|com(es|ing) and go|wander|differ|restless|moves?\b)", re.I)


def _called(ref: str, at: str) -> bool:
    return re.search(rf"\b{re.escape(ref)}\b", at, re.IGNORECASE) is not None


def contact_read(teller: Teller, entry: Read, place: Place, seen: Observation) -> bool:
    """A contact that lets too little through, or is sound. Whether it was one."""
    plugs = [r for r in place.parts if is_a(teller.board.component(r), Trait.CONNECTOR)]
    plugs = plugs or [c.ref for c in teller.board.connectors if _called(c.ref, entry.at)]
    if len(plugs) != 1 or seen.unit != "Ω" or not _THROUGH.search(f"{entry.at} {entry.note}"):
        return False
    if seen.form is Form.VALUE and seen.centre > _NO_CONTACT_OHMS:
        return False  # so much lies beside a contact, not in it
    moves = _JUMPS.search(f"{entry.text} {entry.note}") is not None
    poor = moves or seen.form is Form.OPEN or seen.centre > _POOR_OHMS
    if poor:
        teller.record(ev.ClueNoted("removed", plugs[0], "bad"))
    else:
        teller.record(ev.FindingNoted(plugs[0], NO_DROP))
    teller.sighted = plugs[0]
    said = "a poor contact" if poor else "a sound contact"
    teller.understand(f"{entry.text} at {entry.at}: {teller.name(plugs[0])}, {said}")
    return True
