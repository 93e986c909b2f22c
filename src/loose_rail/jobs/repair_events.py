"""Events from the verdict to the hand-back: what is decided, replaced, proved, and given back."""

from __future__ import annotations

from loose_rail.jobs.event import Event


class VerdictAccepted(Event, tag="verdict_accepted", frozen=True):
    """The person accepts a verdict. `unproved` says what it does not cover; `reason` why the person
    decided otherwise than the evidence leads, empty where it is followed."""

    part: str
    title: str
    probability: float
    standing: str
    unproved: list[str]
    suspect: str = ""
    reason: str = ""


class WayChosen(Event, tag="way_chosen", frozen=True):
    """How the job goes on: repair, kit, exchange, pair, give_back or hand_back. `parts` are what is
    replaced, the power board as a whole included; cost in the job's currency and chance of a cure
    are what they were estimated at then."""

    way: str
    title: str
    parts: list[str]
    cost: float
    chance: float
    outlay: float = 0.0
    """Of the cost, what is paid for parts and boards."""


class ReplacementChosen(Event, tag="replacement_chosen", frozen=True):
    """A replacement electrolytic, in SI units and millimetres; `notes` from the rules."""

    part: str
    farads: float
    volts: float
    celsius: float
    esr_ohms: float
    diameter_mm: float
    height_mm: float
    pitch_mm: float
    verdict: str
    notes: list[str]


class PartListed(Event, tag="part_listed", frozen=True):
    """One more part is to be replaced in this repair, and why."""

    part: str
    why: str


class PartStruck(Event, tag="part_struck", frozen=True):
    """A part that was put on the list stays where it is after all."""

    part: str


class OfferTaken(Event, tag="offer_taken", frozen=True):
    """What is fitted for a part, in the words of its ratings; `original` says what stood there, as
    far as it was read, `notes` what the rules had to say, `make` whose it is where that was
    typed."""

    part: str
    offer: str
    original: str
    verdict: str
    notes: list[str]
    make: str = ""


class ReworkStepDone(Event, tag="rework_step_done", frozen=True):
    """One step of the rework of a part."""

    part: str
    step: str


class OriginalTold(Event, tag="original_told", frozen=True):
    """What stands on the old part, by its ratings."""

    part: str
    words: str


class MethodChosen(Event, tag="method_chosen", frozen=True):
    """How a part is taken off: braid, pump, hot_air, tweezers, low_melt, warm_below, exchange."""

    part: str
    method: str


class PartFitted(Event, tag="part_fitted", frozen=True):
    """The part has been replaced: readings from here on are after the repair."""

    part: str


class LampSeen(Event, tag="lamp_seen", frozen=True):
    """How the lamp behaved at the first power-up: flash_dark, dark, glows, bright, pulses."""

    pattern: str


class LightSeen(Event, tag="light_seen", frozen=True):
    """What the light and the picture of the repaired set do, switched on: right, dark, moment,
    flickers, dim, no_picture, unseen."""

    seen: str


class LoadRead(Event, tag="load_read", frozen=True):
    """A rail under a dummy load: volts, and AC volts where they were read."""

    rail: str
    amps: float
    volts: float
    ripple: float | None = None


class SoakStarted(Event, tag="soak_started", frozen=True):
    """The repaired set is left running for hours, somebody there, looked at every so many
    minutes."""

    hours: float
    every_minutes: float


class SoakLooked(Event, tag="soak_looked", frozen=True):
    """A look at the running set: whether it runs as it should, and what was seen where not."""

    good: bool
    words: str = ""


class SoakEnded(Event, tag="soak_ended", frozen=True):
    """The soak is over; what was attended up to the last look counts."""


class ItemTicked(Event, tag="item_ticked", frozen=True):
    """A point of the final list before a set leaves: done, or with `words` its figure or why it was
    left out; empty `words` and not `done` takes the tick off."""

    item: str
    done: bool
    words: str = ""


class HandedBack(Event, tag="handed_back", frozen=True):
    """The job is finished at a level of proof; `price` is None where none was named. A set that
    goes back as it is, its repair failed or not shown, is not `repaired` and teaches nothing."""

    level_of_proof: str
    price: float | None = None
    repaired: bool = True
