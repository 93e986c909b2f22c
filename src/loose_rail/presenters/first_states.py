"""The frozen states of the stages before the probes: taking in and looking over."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.presenters.states import RailMapState, SuspectRow


@dataclass(frozen=True, slots=True)
class BoardShare:
    """A board with the chance that the fault lies on it, as a share and in words."""

    name: str
    percent: str
    share: float


@dataclass(frozen=True, slots=True)
class NotedItem:
    """Something that counts: its key, its words, what it rests on, why it tells anything."""

    key: str
    words: str
    rests_on: str
    reason: str


@dataclass(frozen=True, slots=True)
class CheckItem:
    """A check before opening with its answers; `chosen` is the key of the one that stands."""

    title: str
    options: tuple[tuple[str, str], ...]
    chosen: str


@dataclass(frozen=True, slots=True)
class PaperField:
    """A line of the paperwork; `orders` where its number counts for ordering."""

    key: str
    title: str
    hint: str
    text: str
    orders: bool


@dataclass(frozen=True, slots=True)
class PapersState:
    """The paperwork and the text for asking a seller."""

    fields: tuple[PaperField, ...]
    order_words: str
    seller_text: str


@dataclass(frozen=True, slots=True)
class IntakeState:
    """Taking in: the set, what was said and how it was understood, the first estimate."""

    title: str
    set_text: str
    board_text: str
    complaint: str
    noted: tuple[NotedItem, ...]
    checks: tuple[CheckItem, ...]
    notes: tuple[tuple[str, str], ...]
    boards: tuple[BoardShare, ...]
    suspects: tuple[SuspectRow, ...]
    worth: tuple[str, ...]
    papers: PapersState
    reset_seconds: int
    action: str


@dataclass(frozen=True, slots=True)
class SurveyRow:
    """A part of the survey; `seen` is empty while it was not looked at."""

    ref: str
    words: str
    seen: str
    share: float
    odd: bool


@dataclass(frozen=True, slots=True)
class SurveyState:
    """Looking over: the part to look at now, what can be seen on it, and all parts."""

    title: str
    part: str
    part_words: str
    hint: str
    options: tuple[tuple[str, str], ...]
    chosen: str
    rows: tuple[SurveyRow, ...]
    selected: int
    rail_map: RailMapState
    boards: tuple[BoardShare, ...]
    suspects: tuple[SuspectRow, ...]
    done: str
    action: str


@dataclass(frozen=True, slots=True)
class Form:
    """What was typed. `labels` are printed at the connectors, parted by commas or semicolons."""

    set_name: str
    numbers: str
    topology: str
    labels: str
    wake: str
    complaint: str
    limit: str


@dataclass(frozen=True, slots=True)
class StripRow:
    """A step of the strip-down; `status` says how it stands at reassembly."""

    number: str
    words: str
    group: str
    status: str


@dataclass(frozen=True, slots=True)
class StripState:
    """The strip-down ledger; `back` while it is played in reverse."""

    title: str
    back: bool
    rows: tuple[StripRow, ...]
    current: int
    now: str
    caution: str
    totals: tuple[tuple[str, str], ...]
    account: tuple[str, ...]
    done: str
    warnings: tuple[str, ...]
    notes: tuple[str, ...]
    action: str
