"""The state of a job: what a screen needs to know of it, as its log folds to it (`fold`)."""

from __future__ import annotations

from dataclasses import dataclass, replace

from loose_rail.jobs import events as ev
from loose_rail.jobs.disassembly import Step
from loose_rail.jobs.soak import Look, Soak
from loose_rail.kernel.observation import Observation
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState

LIVE_BULK = "live.bulk"
"""The probe across the bulk of a powered board."""


@dataclass(frozen=True, slots=True)
class Reading:
    """A reading in the ledger: `number` counts from 1 and never changes, voided ones included.

    `round` is 0 before the first repair and counts the repairs that readings came after.
    """

    number: int
    sequence: int
    at: str
    probe: str
    state: BoardState
    observation: Observation
    instrument: str
    round: int
    voided: bool

    @property
    def after_repair(self) -> bool:
        """Whether it was taken after a part had been fitted."""
        return self.round > 0

    @property
    def candidate(self) -> str:
        """Key of the candidate that was read."""
        return f"{self.probe}@{self.state.key}"

    @property
    def of_bulk(self) -> bool:
        """Whether it was taken across the bulk under power."""
        return self.probe == LIVE_BULK


@dataclass(frozen=True, slots=True)
class Measured:
    """Volts at a reservoir's own leads since the plug was pulled; `part` is empty for the bulk."""

    part: str
    volts: float
    sequence: int
    at: str


@dataclass(frozen=True, slots=True)
class Noted:
    """A clue seen beside the meter, and the repair round that it belongs to."""

    event: ev.ClueNoted
    round: int


@dataclass(frozen=True, slots=True)
class Fitted:
    """A part that was replaced: readings of `round` and later were taken with it in place."""

    part: str
    round: int


@dataclass(frozen=True, slots=True)
class JobState:
    """Everything a screen needs to know of a job."""

    ticket: str = ""
    set_name: str = ""
    board_id: str = ""
    complaint: str = ""
    spending_limit: float = 0.0
    currency: str = ""
    opened_at: str = ""
    last_at: str = ""
    stage: str = "take_in"
    visited: frozenset[str] = frozenset()
    symptoms: tuple[ev.SymptomNoted, ...] = ()
    history: tuple[ev.HistoryNoted, ...] = ()
    findings: tuple[ev.FindingNoted, ...] = ()
    noted: tuple[Noted, ...] = ()
    wake: ev.WakeFound | None = None
    pins: ev.PinsConfirmed | None = None
    details: tuple[ev.DetailNoted, ...] = ()
    details_told: tuple[ev.DetailNoted, ...] = ()
    """All of them in their order, also those that a later one replaced."""
    photos: tuple[ev.PhotoAdded, ...] = ()
    photo_points: tuple[ev.PhotoPointed, ...] = ()
    notes: tuple[tuple[str, str, str], ...] = ()
    board_state: BoardState = UNPLUGGED
    state_known: bool = False
    measured: tuple[Measured, ...] = ()
    acknowledged: frozenset[str] = frozenset()
    readings: tuple[Reading, ...] = ()
    skipped: tuple[str, ...] = ()
    chosen: str = ""
    verdict: ev.VerdictAccepted | None = None
    verdict_round: int = 0
    replacement: ev.ReplacementChosen | None = None
    way: ev.WayChosen | None = None
    listed: tuple[ev.PartListed, ...] = ()
    offers: tuple[ev.OfferTaken, ...] = ()
    originals: tuple[ev.OriginalTold, ...] = ()
    """What stands on old parts, the last of each."""
    reworked: tuple[tuple[str, str], ...] = ()
    """Steps of the rework that are done, each with its part."""
    methods: tuple[ev.MethodChosen, ...] = ()
    fits: tuple[Fitted, ...] = ()
    fitted_at: str = ""
    lamp_seen: str = ""
    lamp_last: str = ""
    loads_read: tuple[ev.LoadRead, ...] = ()
    """Rails under dummy loads after the last repair, the last of each load."""
    light: str = ""
    """What light and picture did after the last repair, switched on; empty where nobody said."""
    soaks: tuple[Soak, ...] = ()
    ticked: tuple[ev.ItemTicked, ...] = ()
    handed_back: ev.HandedBack | None = None
    forgotten: bool = False
    damaged: tuple[str, ...] = ()
    """Entries that can't be read, each in a sentence; the others stand."""
    steps: tuple[Step, ...] = ()
    left_over: tuple[ev.LeftOver, ...] = ()
    undo_words: str = ""
    redo_words: str = ""

    def detail(self, name: str) -> str:
        """A detail of the paperwork, empty where it was not noted."""
        return next((one.text for one in self.details if one.detail == name), "")

    @property
    def live_readings(self) -> tuple[Reading, ...]:
        """Readings that count: not taken back."""
        return tuple(reading for reading in self.readings if not reading.voided)

    @property
    def bulk_volts(self) -> float | None:
        """The last bulk reading since the plug was pulled, None where there is none."""
        return next((one.volts for one in self.measured if not one.part), None)

    @property
    def clues(self) -> tuple[ev.ClueNoted, ...]:
        """What was seen beside the meter, of every round."""
        return tuple(one.event for one in self.noted)

    @property
    def fitted(self) -> tuple[str, ...]:
        """Every part that was replaced, in order."""
        return tuple(one.part for one in self.fits)

    @property
    def to_replace(self) -> tuple[str, ...]:
        """The parts of this repair in order: those of the way that was chosen, else the verdict's,
        then what was put on the list."""
        if self.verdict is None:
            return ()
        listed = (one.part for one in self.listed)
        first = tuple(self.way.parts) if self.way and self.way.parts else (self.verdict.part,)
        return tuple(dict.fromkeys((*first, *listed)))

    def fitted_since_verdict(self, part: str) -> bool:
        """Whether a part was replaced after the verdict that its rework belongs to."""
        return any(one.part == part and one.round > self.verdict_round for one in self.fits)

    @property
    def soak(self) -> Soak | None:
        """The last soak of the board as it is now, None where there was none."""
        last = self.soaks[-1] if self.soaks else None
        return last if last is not None and last.round == self.round else None

    @property
    def running_soak(self) -> Soak | None:
        """A soak that runs, each reading taken meanwhile counting as a look; None without one."""
        soak = self.soak
        if soak is None or not soak.running:
            return None
        looks = [Look(r.at, True) for r in self.live_readings if r.at >= soak.started_at]
        every = sorted((*soak.looks, *looks), key=lambda one: one.at)
        return replace(soak, looks=tuple(every))

    @property
    def part_in_hand(self) -> str:
        """The first part of the list that is not replaced yet, the last one where all are."""
        parts = self.to_replace
        ahead = (part for part in parts if not self.fitted_since_verdict(part))
        return next(ahead, parts[-1] if parts else "")

    @property
    def rework_done(self) -> tuple[str, ...]:
        """Steps that are done of the part in hand."""
        hand = self.part_in_hand
        return tuple(step for part, step in self.reworked if part == hand)

    @property
    def makes(self) -> tuple[str, ...]:
        """Makes of the parts that were fitted, each once, where they were typed."""
        found = (one.make for one in self.offers if one.make and one.part in self.fitted)
        return tuple(dict.fromkeys(found))

    def offer_for(self, part: str) -> ev.OfferTaken | None:
        """What was chosen for a part by its ratings."""
        return next((one for one in self.offers if one.part == part), None)

    def original_for(self, part: str) -> str:
        """What stands on the old part as it was told, by itself or with an offer; empty where
        nobody has."""
        told = next((one.words for one in self.originals if one.part == part), "")
        offer = self.offer_for(part)
        return told or (offer.original if offer else "")

    def method_for(self, part: str) -> str:
        """How a part is taken off, empty where nobody has said."""
        return next((one.method for one in self.methods if one.part == part), "")

    @property
    def round(self) -> int:
        """How many repairs have been made: parts fitted with no reading between them are one."""
        return self.fits[-1].round if self.fits else 0

    def readings_in(self, number: int) -> tuple[Reading, ...]:
        """Readings of one repair round that were not taken back."""
        return tuple(r for r in self.live_readings if r.round == number)

    @property
    def lamps(self) -> tuple[str, ...]:
        """What the lamp in line did with the board as it is now, the newest of each state of the
        board."""
        told = [
            n.event.answer for n in self.noted if n.event.clue == "lamp" and n.round == self.round
        ]
        return (*told, self.lamp_last) if self.lamp_last else tuple(told)

    @property
    def proof_readings(self) -> tuple[Reading, ...]:
        """Readings after the last repair."""
        return self.readings_in(self.round) if self.fits else ()
