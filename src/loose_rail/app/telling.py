"""What is told in words in the window: the same entries as in a job file, told by the same teller.

The log keeps the entry itself; the events and clues that follow from it are worked out each time
the job is read, so that a part that gets its name later is the same part.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.app.job_file.log.entries import DEEDS, entries_of
from loose_rail.app.job_file.log.tell import tell
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.notes import Notes
from loose_rail.diagnosis.dossier import Beside
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import voided_sequences

_DEED = re.compile(rf"^\s*({'|'.join(DEEDS)})\b\s*(.*?)\s*(?::\s*(.*?)\s*)?$", re.IGNORECASE)
_HEAD = re.compile(r"^\s*(said|seen|state|read)\b[:\s]\s*(.+?)\s*$", re.IGNORECASE)
_READ_AT = re.compile(r"^(.*?)\s+(?:at|on|across)\s+(.+)$", re.IGNORECASE)
_SEEN_AT = re.compile(r"^(.*?)\s+at\s+(.+)$|^(.*?)\s+on\s+(.+)$", re.IGNORECASE)
"""A display shows few words; what is seen may have many, its place stands last."""
_NOTE = re.compile(r"\s*\(([^()]*)\)\s*$")
_MODE = re.compile(
    r"\b(dc volts|ac volts|ohms|diode|esr|capacitance|continuity|beep)\b", re.IGNORECASE
)


@dataclass(frozen=True, slots=True)
class Expanded:
    """The log with what follows from the told entries, the clues beside it, and what was made of
    the last entry: understood, or not used and why."""

    records: tuple[ev.Record, ...]
    besides: tuple[Beside, ...] = ()
    understood: tuple[str, ...] = ()
    not_used: tuple[str, ...] = ()


def entry_of(text: str) -> dict[str, str] | None:
    """A typed line as an entry: “replaced C952: no change”, “state standby, cable off”, “read 4.9 V
    at CN8 pin 7 (wanders)”, “seen bulging at C952”, “said it ticks”. None where it is none."""
    deed = _DEED.match(text)
    if deed:
        return {"did": deed[1].lower(), "what": deed[2], "result": deed[3] or ""}
    head = _HEAD.match(text)
    if head is None:
        return None
    kind, words = head[1].lower(), head[2]
    if kind in ("said", "state"):
        return {kind: words}
    note = _NOTE.search(words) if kind == "read" else None
    words = words[: note.start()] if note else words
    mode = _MODE.search(words) if kind == "read" else None
    words = _MODE.sub("", words, count=1).strip() if mode else words
    place = (_READ_AT if kind == "read" else _SEEN_AT).match(words)
    what, at = [one for one in place.groups() if one is not None] if place else (words, "")
    entry = {kind: what, "at": at}
    if kind == "read":
        entry |= {"mode": mode[1].lower() if mode else "", "note": note[1] if note else ""}
    return entry


def is_told(records: Sequence[ev.Record]) -> bool:
    """Whether anything in a log was told in words."""
    return any(isinstance(record.event, ev.EntryTold) for record in records)


def expanded(table: PredictionTable, records: Sequence[ev.Record]) -> Expanded:
    """The log with every told entry followed by what it says."""
    gone = voided_sequences(records)
    notes = Notes()
    teller = Teller(table, notes, records[0])
    found = [records[0]]
    understood = not_used = readings = 0
    for record in records[1:]:
        found.append(record)
        if record.sequence in gone or isinstance(record.event, ev.Voided | ev.Restored):
            continue
        if not isinstance(record.event, ev.EntryTold):
            teller.follow(record)
            continue
        understood, not_used = len(notes.understood), len(notes.not_used)
        readings = len(teller.told)
        teller.sequence, teller.at = record.sequence, record.at
        before = len(teller.records)
        for entry in entries_of([record.event.entry], None, notes):
            tell(teller, [entry])
        found += teller.records[before:]
    return Expanded(
        records=tuple(found),
        besides=tuple(teller.besides),
        understood=(
            *notes.understood[understood:],
            *(one.words for one in teller.told[readings:]),
        ),
        not_used=tuple(f"{one.what}: {one.why}" for one in notes.not_used[not_used:]),
    )
