"""The frozen states that views draw: words and plain numbers, decided before they get there."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.kernel.quantities import percent

MOST_FOOT = 44


@dataclass(frozen=True, slots=True)
class StageDot:
    """A stop of the stage track; `status` is done, current or ahead."""

    key: str
    title: str
    status: str


@dataclass(frozen=True, slots=True)
class Token:
    """A token of the board-state strip; `role` is solid, plain, warn or todo."""

    text: str
    role: str


@dataclass(frozen=True, slots=True)
class JobFrame:
    """What stands around every stage of a job."""

    ticket: str
    set_text: str
    complaint: str
    right_text: str
    stages: tuple[StageDot, ...]
    tokens: tuple[Token, ...]
    bulk_text: str
    warning: str
    save_problem: str
    undo_words: str
    redo_words: str
    told: str = ""
    """What another window did to this job, or what of it is lost: lasting."""

    @property
    def banner(self) -> str:
        """Everything that lasts until it is mended, in one line; empty where all is well."""
        waiting = f"Not saved yet: {self.save_problem} Trying again." if self.save_problem else ""
        return " ".join(part for part in (waiting, self.told) if part)

    @property
    def foot_text(self) -> str:
        """What undo and redo would do, with their keys."""
        said = []
        if self.undo_words:
            said.append(f"Ctrl+Z takes back: {_short(self.undo_words)}")
        if self.redo_words:
            said.append(f"Ctrl+Shift+Z puts back: {_short(self.redo_words)}")
        return "   ".join(said)


def _short(words: str) -> str:
    return words if len(words) <= MOST_FOOT else f"{words[: MOST_FOOT - 1].rstrip()}…"


@dataclass(frozen=True, slots=True)
class StopView:
    """A stop of the rail map; `verdict` is agrees, disagrees, doubtful or unread."""

    part: str
    label: str
    reading: str
    verdict: str
    suspicion: float
    is_next: bool


@dataclass(frozen=True, slots=True)
class BlockView:
    """A section of the hot side; `lane` counts from the top, `depth` from the inlet."""

    id: str
    title: str
    subtitle: str
    lane: int
    depth: int
    suspicion: float
    is_next: bool
    reading: str
    verdict: str
    before: tuple[StopView, ...] = ()
    after: tuple[StopView, ...] = ()
    parent: str = ""
    crosses: bool = False


@dataclass(frozen=True, slots=True)
class RailView:
    """An output rail; `verdict` is good, wrong or unread, `fails_at` the stop where it breaks."""

    id: str
    title: str
    verdict: str
    source_lane: int
    stops: tuple[StopView, ...]
    fails_at: int
    pin_reading: str
    pin_verdict: str


@dataclass(frozen=True, slots=True)
class ConnectorView:
    """A connector with its legend and the suspicion of what hangs behind it."""

    ref: str
    title: str
    pins: tuple[str, ...]
    suspicion: float
    is_next: bool


@dataclass(frozen=True, slots=True)
class RailMapState:
    """The whole rail map."""

    blocks: tuple[BlockView, ...]
    rails: tuple[RailView, ...]
    connector: ConnectorView
    next_label: str
    summary: str
    mains_side: bool = True


@dataclass(frozen=True, slots=True)
class SuspectRow:
    """A suspect with its probability as a share and in words, and what speaks for it; the last row
    stands for `count` suspects together."""

    percent: str
    title: str
    why: str
    share: float
    count: int = 1


def fitting(rows: tuple[SuspectRow, ...], room: int) -> tuple[SuspectRow, ...]:
    """The rows that there is room for; the others join the last one, so that what is shown adds
    up."""
    if len(rows) <= room or not rows:
        return rows
    kept, folded = rows[: max(room - 1, 0)], rows[max(room - 1, 0) :]
    share, count = sum(r.share for r in folded), sum(r.count for r in folded)
    words = percent(share).removesuffix(" %")
    return (*kept, SuspectRow(words, rows[-1].title, f"{count} more", share, count))


@dataclass(frozen=True, slots=True)
class LedgerRow:
    """A reading in the ledger; `verdict` as for stops, `struck` where it was taken back."""

    number: str
    probe: str
    state: str
    reading: str
    expected: str
    verdict: str
    reason: str
    struck: bool


@dataclass(frozen=True, slots=True)
class CardState:
    """The next-probe card. `phase` says what the entry takes: reading, bulk, state or nothing."""

    phase: str
    header: str
    title: str
    red: str = ""
    black: str = ""
    setting: str = ""
    todo: tuple[str, ...] = ()
    caution: str = ""
    unit: str = ""
    expect: str = ""
    replace: str = ""
    why: str = ""
    action: str = ""
    drain_seconds: float = 0.0
    drain_words: str = ""
    branch: tuple[str, ...] = ()
    alarm: bool = False
    """Drawn as a warning: the repair has failed, or is not shown."""


@dataclass(frozen=True, slots=True)
class BenchState:
    """Cold and live checks."""

    rail_map: RailMapState
    card: CardState
    suspects_title: str
    suspects: tuple[SuspectRow, ...]
    ledger: tuple[LedgerRow, ...]
    others: tuple[tuple[str, str], ...]
    meter: str = ""


@dataclass(frozen=True, slots=True)
class EntryEcho:
    """What an entry was understood as, or why it was not; `error` picks the colour."""

    text: str
    error: bool


@dataclass(frozen=True, slots=True)
class BalanceBar:
    """One piece of evidence on the balance of a suspect, in log-odds (nats), above zero for it."""

    words: str
    log_odds: float


@dataclass(frozen=True, slots=True)
class BalanceColumn:
    """A suspect on the balance."""

    title: str
    percent: str
    bars: tuple[BalanceBar, ...]


@dataclass(frozen=True, slots=True)
class RouteView:
    """A way on: cost in the job's currency, chance of a cure, and both in words."""

    title: str
    cost: float
    chance: float
    figures: str
    words: str


@dataclass(frozen=True, slots=True)
class VerdictState:
    """The verdict screen; `can_accept` is false while nothing leads clearly."""

    headline: str
    standing: str
    columns: tuple[BalanceColumn, ...]
    covered: tuple[str, ...]
    unproved: tuple[str, ...]
    action: str
    can_accept: bool
    accepted: bool
    reasoning: tuple[tuple[str, str], ...] = ()
    levels: str = ""
    routes: tuple[RouteView, ...] = ()


@dataclass(frozen=True, slots=True)
class WindowLine:
    """One attribute of a replacement: positions are shares of the line from 0 to 1, or None."""

    name: str
    window_low: float
    window_high: float
    original: float
    candidate: float
    original_text: str
    candidate_text: str
    window_text: str
    fit: str
    words: str


@dataclass(frozen=True, slots=True)
class StockRow:
    """A candidate in stock with its overall verdict."""

    name: str
    fit: str
    words: str


@dataclass(frozen=True, slots=True)
class PartsState:
    """Choosing the replacement; `message` explains where there is nothing to choose."""

    title: str
    subtitle: str
    stock: tuple[StockRow, ...]
    selected: int
    lines: tuple[WindowLine, ...]
    headline: str
    action: str
    can_choose: bool
    chosen: str
    message: str = ""


@dataclass(frozen=True, slots=True)
class ReworkStep:
    """A step of the rework; `status` is done, current or ahead."""

    key: str
    text: str
    caution: str
    status: str


@dataclass(frozen=True, slots=True)
class ReworkState:
    """Rework of the accepted part, with what its polarity drawing shows."""

    title: str
    part: str
    part_words: str
    plus_words: str
    minus_words: str
    polarised: bool
    steps: tuple[ReworkStep, ...]
    action: str
    message: str = ""
    safety: str = ""
    asks_bulk: bool = False


@dataclass(frozen=True, slots=True)
class PairView:
    """A before and after pair on its number line (SI values)."""

    title: str
    before: str
    after: str
    expected: str
    unit: str
    before_span: tuple[float, float]
    after_span: tuple[float, float]
    expected_span: tuple[float, float]
    good: bool = True
    """Whether the point reads right now: only then is it drawn as mended."""


@dataclass(frozen=True, slots=True)
class PowerUpState:
    """The first power-up: prediction in time, what was seen, readings after the repair."""

    title: str
    seconds: tuple[float, ...]
    bulk: tuple[float, ...]
    standby: tuple[float, ...]
    glow: tuple[float, ...]
    faulty_bulk: tuple[float, ...]
    faulty_standby: tuple[float, ...]
    faulty_glow: tuple[float, ...]
    pull_seconds: float
    sentence: str
    course: tuple[str, ...]
    patterns: tuple[tuple[str, str, bool], ...]
    seen_words: str
    card: CardState
    pairs: tuple[PairView, ...]
    proof: str
    message: str = ""
    failed: str = ""
    """Why the repair has failed, empty where it has not: said in red."""


@dataclass(frozen=True, slots=True)
class HandBackState:
    """The sheet as it will print, and what is left to do."""

    html: str
    proof: str
    price: str
    open_points: tuple[str, ...]
    handed_back: bool
    action: str
    pairs: tuple[PairView, ...]
    failed: str = ""


@dataclass(frozen=True, slots=True)
class ShelfRow:
    """A job on the shelf; `position` is its stage from 0 to 9."""

    job: int
    ticket: str
    set_text: str
    complaint: str
    waits_for: str
    next_step: str
    position: int
    age: str


@dataclass(frozen=True, slots=True)
class ShelfState:
    """All jobs, the one to pick next on top."""

    shop: str
    rows: tuple[ShelfRow, ...]
    summary: str


@dataclass(frozen=True, slots=True)
class Notice:
    """A sentence for the person; `kind` is info, warning (taken, and bad news) or problem (not
    taken: what was typed stays in its line)."""

    text: str
    kind: str = "info"

    @property
    def taken(self) -> bool:
        """Whether what was typed is in the log."""
        return self.kind != "problem"
