"""Every event in a few words, for undo, redo and the history."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from loose_rail.jobs import events as ev
from loose_rail.jobs.event import Event
from loose_rail.jobs.observations import observation_of
from loose_rail.vocabulary.board_state import state_of


def _plain(name: str) -> str:
    return name.replace("_", " ")


def _reading(event: ev.ReadingTaken) -> str:
    return f"reading {observation_of(event).text()} at {event.probe.removeprefix('live.')}"


def _lamp(pattern: str) -> str:
    return f"lamp {_plain(pattern.replace('flash_', 'flash, then '))}"


def _clue(event: ev.ClueNoted) -> str:
    if event.clue == "lamp":
        return _lamp(event.answer)
    return f"{event.clue} {event.subject} {_plain(event.answer)}"


def _detail(event: ev.DetailNoted) -> str:
    return f"{_plain(event.detail)} {event.text}".strip()


PRIVATE = frozenset({"customer"})
"""Details that stand at the foot of no page: who stands at the bench may read them there."""
MOST_TOLD = 40
"""Letters of what was told that say which entry is meant."""
_WORDS: dict[type[Event], Callable[[Any], str]] = {
    ev.ReadingTaken: _reading,
    ev.BulkMeasured: lambda e: f"bulk reading {e.volts:g} V",
    ev.ReservoirMeasured: lambda e: f"{e.part} reading {e.volts:g} V",
    ev.HazardAcknowledged: lambda e: "acknowledgement of the stored energy",
    ev.StateConfirmed: lambda e: f"board state {state_of(e.state).label}",
    ev.ProbeSkipped: lambda e: f"can't reach {e.probe}",
    ev.ProbeChosen: lambda e: f"choice of {e.candidate.split('@')[0].removeprefix('live.')}",
    ev.VerdictAccepted: lambda e: f"verdict {e.title}",
    ev.WayChosen: lambda e: f"way on {e.title}",
    ev.ReplacementChosen: lambda e: f"replacement for {e.part}",
    ev.PartListed: lambda e: f"{e.part} on the list",
    ev.PartStruck: lambda e: f"{e.part} off the list",
    ev.OriginalTold: lambda e: f"what {e.part} was",
    ev.OfferTaken: lambda e: f"part for {e.part}",
    ev.ReworkStepDone: lambda e: f"rework step {e.step.replace('_', ' ')}",
    ev.MethodChosen: lambda e: f"{e.part} by {_plain(e.method)}",
    ev.PartFitted: lambda e: f"{e.part} fitted",
    ev.NoteWritten: lambda e: "note",
    ev.DetailNoted: lambda e: _plain(e.detail) if e.detail in PRIVATE else _detail(e),
    ev.PhotoAdded: lambda e: f"photograph {e.caption}".strip(),
    ev.PhotoPointed: lambda e: f"point {e.words} on a photograph",
    ev.SymptomNoted: lambda e: f"symptom {_plain(e.symptom)}",
    ev.HistoryNoted: lambda e: f"history {_plain(e.fact)}",
    ev.FindingNoted: lambda e: f"{e.part} {_plain(e.seen)}",
    ev.ClueNoted: _clue,
    ev.PinsConfirmed: lambda e: f"pins of the jumper at {e.connector} looked at",
    ev.EntryTold: lambda e: " ".join(e.entry.values())[:MOST_TOLD],
    ev.WakeFound: lambda e: f"PS-ON active {e.sense}",
    ev.LampSeen: lambda e: _lamp(e.pattern),
    ev.LoadRead: lambda e: f"{e.volts:g} V under {e.amps:g} A",
    ev.LightSeen: lambda e: f"light: {_plain(e.seen)}",
    ev.SoakStarted: lambda e: f"soak of {e.hours:g} h",
    ev.SoakLooked: lambda e: "look at the soak" if e.good else "look: not as it should",
    ev.SoakEnded: lambda e: "end of the soak",
    ev.ItemTicked: lambda e: f"{e.item.replace('_', ' ')} on the final list",
    ev.HandedBack: lambda e: "hand back",
    ev.LessonForgotten: lambda e: "forgetting what this job taught",
    ev.StripStep: lambda e: f"{e.count} {e.kind_words}",
    ev.LeftOver: lambda e: f"{e.count} {e.kind_words}",
    ev.PutBack: lambda e: f"step {e.step} put back",
}


def words_of(event: ev.AnyEvent) -> str:
    """An event in a few words."""
    words = _WORDS.get(type(event))
    return words(event) if words else _plain(str(event.__struct_config__.tag))
