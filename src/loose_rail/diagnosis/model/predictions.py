"""What every hypothesis predicts at every probe in every allowed state.

One table: `low`, `high` and `hertz` of shape `(n_rows, n_candidates)` in SI units. A steady value
has low = high and 0 Hz; an open cold reading is +inf. The row "outside the model" predicts nothing:
its entries are NaN and the likelihood gives it a flat density. `peak` is the highest that a point
stands at from plug-in on: a rail that comes up and then sags under its load has one above `high`.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect, Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.parallels import in_parallel
from loose_rail.boards.powered_board import plants_of
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.model.candidates import Candidate, candidates_of, live_states
from loose_rail.diagnosis.model.cold_predictions import beside, cold_probes
from loose_rail.diagnosis.model.hypotheses import (
    OUTSIDE,
    Hypothesis,
    hypotheses_of,
    while_present_rows,
)
from loose_rail.judgement.spread import sigma
from loose_rail.powered.plant import Plant, stack
from loose_rail.powered.record import LiveRecord, run
from loose_rail.vocabulary.board_state import BoardState
from loose_rail.vocabulary.keys import job_of
from loose_rail.vocabulary.roles import BoardRole

Floats = NDArray[np.float64]
Progress = Callable[[float, str], None]

SHORT_SIEMENS = 1e-3
TICK_LEAST_SHARE = 0.04
TICK_LEAST_VOLTS = 0.06
ALIKE_SHARE = 0.01
UNNOTICED_SHARE = 0.1
NOTICED_SIGMAS = 2.0
DISTURBED_SIGMAS = 3.5
"""What is left of the prior of a fault that moves no rail by twice its scatter [E]."""
LIVE_SHARE = 0.9
TABLE_STEP_SECONDS = 2e-3
"""Coarse steps do for the table: what differs from finer ones is hiccup at the edge of starting."""


MODES_OF_DEGREE = ("drags", "drags_main", "overdraws", "dried", "leaky", "warm", "drifted", "weak")
"""Failure modes that come in any degree, of which a few are worked out."""


LEAST_LEAK_OHMS = 1.0
"""What conducts at fewer ohms is a short, whatever it reads."""


@dataclass(frozen=True, eq=False)
class PredictionTable:
    """Predictions of every row for every candidate, and the lamp's glow per live state.

    `primary_short` `(n_rows,)` marks rows with a short across the mains or the bulk, whether or
    not a fuse has opened in front of it. Rows whose fault comes and goes hold what is read while it
    is away; `blend_intermittent` brings in what is read while it is there.
    """

    board: Board
    rows: tuple[Hypothesis, ...]
    candidates: tuple[Candidate, ...]
    low: Floats
    high: Floats
    hertz: Floats
    peak: Floats
    ticking_hertz: dict[str, Floats]
    lamp_glow: dict[str, Floats]
    primary_short: NDArray[np.bool_]

    @cached_property
    def shares(self) -> Floats:
        """Share of the time that each row's fault is there, `(n_rows,)`."""
        return np.array([row.share for row in self.rows])

    @cached_property
    def comes_and_goes(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` whose fault is away for most of the time."""
        return np.asarray(self.shares < 1.0)

    @cached_property
    def index_when_present(self) -> NDArray[np.intp]:
        """The row that each row is like while its fault is there, `(n_rows,)`."""
        return while_present_rows(self.rows)

    def blend_intermittent(self, values: Floats) -> Floats:
        """Chances per row `(n_rows, ...)`, those that come and go between being there and not."""
        there = self.shares.reshape(-1, *[1] * (values.ndim - 1))
        return there * values[self.index_when_present] + (1.0 - there) * values

    def indistinguishable_from(self, row: int) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` that no reading tells from this one: within a hundredth everywhere."""
        if row not in self._alike:
            self._alike[row] = self._like(row)
        return self._alike[row]

    @cached_property
    def _alike(self) -> dict[int, NDArray[np.bool_]]:
        return {}

    def _like(self, row: int) -> NDArray[np.bool_]:
        with np.errstate(invalid="ignore"):
            near = np.ones(len(self.rows), dtype=bool)
            for values in (self.low, self.high, self.hertz):
                own = values[row]
                same = np.abs(values - own) <= ALIKE_SHARE * np.abs(own) + 1e-9
                near &= (same | (np.isinf(values) & np.isinf(own))).all(axis=1)
        return near

    @cached_property
    def disturbed(self) -> NDArray[np.bool_]:
        """Where a row's fault moves the powered board, `(n_rows, n_candidates)`: all readings of a
        state in which any point is away from a good board's."""
        found = np.zeros(self.low.shape, dtype=bool)
        columns: dict[BoardState, list[int]] = {}
        for number, candidate in enumerate(self.candidates):
            if candidate.probe.live:
                columns.setdefault(candidate.state, []).append(number)
        for numbers in columns.values():
            stirred = np.zeros(len(self.rows), dtype=bool)
            for number in numbers:
                stirred |= moved(self, number, DISTURBED_SIGMAS)
            found[:, numbers] = stirred[:, None]
        return found

    @cached_property
    def masked_by_parallel(self) -> dict[str, bool]:
        """Parts whose short can't be told in place from one in a part beside them, and which can be
        lifted to tell."""
        lifted = {c.probe.part for c in self.candidates if c.probe.lifted}
        return {ref: bool(in_parallel(self.board, ref)) for ref in lifted}

    @cached_property
    def cause_marks(self) -> tuple[frozenset[str], ...]:
        """By what a table of rates may name the cause of each row: any, kind:…, mode:…, role:…;
        nothing for rows without a part."""
        jobs: dict[str, set[str]] = {}
        for role, refs in self.board.roles.items():
            for ref in refs:
                jobs.setdefault(ref, set()).add(f"role:{job_of(role)}")
        found: list[frozenset[str]] = []
        for row in self.rows:
            if not row.part:
                found.append(frozenset())
                continue
            cause = row.faults[0]
            own = {"any", f"kind:{self.board.component(cause.ref).kind}", f"mode:{cause.mode}"}
            found.append(frozenset(own | jobs.get(cause.ref, set())))
        return tuple(found)

    @cached_property
    def on_other_boards(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` whose cause lies behind a connector: another board, strips or tubes."""
        cords = self.board.roles.get(BoardRole.CORD, [])
        refs = {
            part.ref
            for part in self.board.components
            if (is_a(part, Trait.BOARD) and part.ref not in cords) or is_a(part, Trait.BACKLIGHT)
        }
        return np.array([row.part in refs for row in self.rows])

    @cached_property
    def on_lamps(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` whose cause lies in the strips or tubes."""
        refs = {part.ref for part in self.board.components if is_a(part, Trait.BACKLIGHT)}
        return np.array([row.part in refs for row in self.rows])

    @cached_property
    def on_this_board(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` whose cause is a part of the supply itself."""
        return np.array([bool(row.part) for row in self.rows]) & ~self.on_other_boards

    @cached_property
    def log_prior(self) -> Floats:
        """Logarithms of the prior probabilities, `(n_rows,)`."""
        return np.asarray(np.log(np.array([row.prior for row in self.rows])))

    @cached_property
    def rows_with(self) -> dict[str, NDArray[np.bool_]]:
        """Rows `(n_rows,)` in which a suspect's fault is there, as cause or as consequence, by the
        suspect's key."""
        found: dict[str, NDArray[np.bool_]] = {}
        for number, row in enumerate(self.rows):
            for key in {row.suspect, *(fault.suspect for fault in row.faults)}:
                found.setdefault(key, np.zeros(len(self.rows), dtype=bool))[number] = True
        return found

    @cached_property
    def bad_parts(self) -> tuple[tuple[str, ...], NDArray[np.float64]]:
        """Parts with a fault in some row, and in which rows each is bad `(n_parts, n_rows)`."""
        rows = [{fault.ref for fault in row.faults} for row in self.rows]
        refs = tuple(dict.fromkeys(ref for row in self.rows for ref in (f.ref for f in row.faults)))
        return refs, np.array([[float(ref in bad) for bad in rows] for ref in refs])

    @cached_property
    def prepared(self) -> dict[int, Any]:
        """What `likelihood.column_of` has worked out for candidates, by number."""
        return {}

    @cached_property
    def single(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` with one fault."""
        return np.array([len(row.faults) == 1 for row in self.rows])

    @cached_property
    def of_degree(self) -> tuple[int, ...]:
        """Suspects, by number, whose fault is a matter of degree: single faults of these modes."""
        rows = [row for row in self.rows if len(row.faults) == 1]
        keys = {row.suspect for row in rows if row.faults[0].mode in MODES_OF_DEGREE}
        return tuple(k for k, key in enumerate(self.suspects.keys) if key in keys)

    @cached_property
    def dead_degrees(self) -> tuple[tuple[str, NDArray[np.bool_]], ...]:
        """Suspects whose fault is a matter of degree on the dead board, with their rows `(n_rows,)`
        in which nothing else has failed."""
        found: dict[str, NDArray[np.bool_]] = {}
        for number, row in enumerate(self.rows):
            if len(row.faults) == 1 and _of_degree_when_dead(row.faults[0]):
                rows = found.setdefault(row.suspect, np.zeros(len(self.rows), dtype=bool))
                rows[number] = True
        return tuple(found.items())

    @cached_property
    def suspects(self) -> SuspectIndex:
        """Which suspect, and which part as the cause, each row belongs to."""
        return SuspectIndex(self.rows)

    def index(self, candidate_key: str) -> int:
        """Column of a candidate. Raises KeyError for an unknown one."""
        return self._index[candidate_key]

    def column_or_none(self, candidate_key: str) -> int | None:
        """Column of a candidate, None for an unknown one."""
        return self._index.get(candidate_key)

    @cached_property
    def elsewhere_main(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` in which the main board does not do its work."""
        main = set(self.board.roles.get(BoardRole.MAIN_LOAD, []))
        return np.array(
            [
                any(f.effect is Effect.ELSEWHERE and f.ref in main for f in r.faults)
                for r in self.rows
            ]
        )

    @cached_property
    def _index(self) -> dict[str, int]:
        return {candidate.key: number for number, candidate in enumerate(self.candidates)}


def _of_degree_when_dead(fault: Fault) -> bool:
    conducts = fault.effect is Effect.BRIDGE and fault.ohms >= LEAST_LEAK_OHMS
    return conducts or fault.effect in (Effect.SCALE, Effect.RESISTIVE)


class SuspectIndex:
    """Rows gathered into suspects: `of_row` `(n_rows,)` numbers them in order of the rows."""

    def __init__(self, rows: Sequence[Hypothesis]) -> None:
        first: dict[str, Hypothesis] = {}
        for row in rows:
            first.setdefault(row.suspect, row)
        self.keys = tuple(first)
        self.titles = tuple(row.title for row in first.values())
        self.parts = tuple(row.part for row in first.values())
        number = {key: k for k, key in enumerate(self.keys)}
        self.of_row = np.array([number[row.suspect] for row in rows], dtype=np.intp)

    def sums(self, probabilities: Floats) -> Floats:
        """Probability of each suspect `(n_suspects,)`."""
        return np.asarray(np.bincount(self.of_row, probabilities, len(self.keys)), dtype=float)


def predict(board: Board, progress: Progress | None = None) -> PredictionTable:
    """Work out the whole table: cold solver for the drained board, live model beside it.

    `progress` is called with a share from 0 to 1 and a few words; it may raise to cancel.
    """
    say = progress or (lambda share, words: None)
    rows = hypotheses_of(board)
    candidates = candidates_of(board)
    shape = (len(rows), len(candidates))
    low, high, hertz, peak = (np.zeros(shape) for _ in range(4))
    say(0.02, "live behaviour")
    states = live_states(board)
    with beside(board) as cold:
        plants = [plants_of(board, row.faults, states) for row in rows]
        shorts = np.array([has_primary_short(of_row[0]) for of_row in plants])
        ticking, glow = _predict_live(
            states,
            plants,
            candidates,
            (low, high, hertz, peak),
            lambda share: say(0.02 + LIVE_SHARE * share, "live behaviour"),
        )
        say(LIVE_SHARE, "cold readings")
        column_of = {c.probe.id: k for k, c in enumerate(candidates) if not c.probe.live}
        columns = [column_of[probe.id] for probe in cold_probes(board)]
        low[:, columns] = high[:, columns] = peak[:, columns] = cold.readings()
    for number, row in enumerate(rows):
        if row.suspect == OUTSIDE:
            low[number] = high[number] = peak[number] = np.nan
    say(1.0, "ready")
    table = PredictionTable(
        board=board,
        rows=rows,
        candidates=candidates,
        low=low,
        high=high,
        hertz=hertz,
        peak=peak,
        ticking_hertz=ticking,
        lamp_glow=glow,
        primary_short=shorts,
    )
    return as_noticed(table)


def as_noticed(table: PredictionTable) -> PredictionTable:
    """The table with the priors of sets that somebody brings in: a fault that no one can notice in
    use, because no rail moves, rarely comes to the bench by itself. The priors sum to 1."""
    seen = noticed(table)
    seen |= np.array([not row.faults for row in table.rows])
    priors = np.array([row.prior for row in table.rows]) * np.where(seen, 1.0, UNNOTICED_SHARE)
    priors /= priors.sum()
    rows = zip(table.rows, priors.tolist(), strict=True)
    return replace(table, rows=tuple(replace(row, prior=prior) for row, prior in rows))


def noticed(table: PredictionTable) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` that move a live point away from a good board's in use or in standby."""
    found = np.zeros(len(table.rows), dtype=bool)
    for number, candidate in enumerate(table.candidates):
        if candidate.probe.live and candidate.state.main_cable and not candidate.state.lamp_watts:
            found |= moved(table, number, NOTICED_SIGMAS)
    return found[table.index_when_present] | found | elsewhere(table)


def elsewhere(table: PredictionTable) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` whose fault is on another board and shows in picture, sound or behaviour."""
    return np.array(
        [any(fault.effect is Effect.ELSEWHERE for fault in row.faults) for row in table.rows]
    )


def moved(table: PredictionTable, number: int, sigmas: float) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` that read away from a good board at a live candidate."""
    low, high = table.low[:, number], table.high[:, number]
    width = sigmas * float(sigma(table.board, table.candidates[number].probe, low[0]))
    return np.asarray((np.abs(low - low[0]) > width) | (np.abs(high - high[0]) > width))


def has_primary_short(plant: Plant) -> bool:
    """Whether a board shorts the mains or the bulk: what blows fuses at full power."""
    return bool(
        plant.input.input_short_siemens > 0
        or plant.input.bridge_short_share > 0
        or plant.input.bulk_short_siemens > SHORT_SIEMENS
    )


def _predict_live(
    states: Sequence[BoardState],
    of_rows: Sequence[Sequence[Plant]],
    candidates: Sequence[Candidate],
    tables: tuple[Floats, Floats, Floats, Floats],
    watch: Callable[[float], None],
) -> tuple[dict[str, Floats], dict[str, Floats]]:
    n_rows = len(of_rows)
    record, place = simulate_unique(
        [plants[number] for number in range(len(states)) for plants in of_rows], watch
    )
    columns_of = {state: place[k * n_rows : (k + 1) * n_rows] for k, state in enumerate(states)}
    low, high, hertz, peak = tables
    for number, candidate in enumerate(candidates):
        if candidate.probe.live:
            point, columns = candidate.probe.observable, columns_of[candidate.state]
            low[:, number], high[:, number], hertz[:, number] = meter_view(record, point, columns)
            peak[:, number] = np.maximum(record.peaks[point][columns], high[:, number])
    ticking = {state.key: record.restarts("")[columns_of[state]] for state in states}
    glow = {state.key: record.lamp_glow[columns_of[state]] for state in states}
    return ticking, glow


def simulate_unique(
    plants: list[Plant], watch: Callable[[float], None] | None = None
) -> tuple[LiveRecord, NDArray[np.intp]]:
    """Run equal plants once; returns the record and each plant's column in it."""
    seen: dict[Plant, int] = {}
    unique: list[Plant] = []
    place = np.empty(len(plants), dtype=np.intp)
    for number, plant in enumerate(plants):
        if plant not in seen:
            seen[plant] = len(unique)
            unique.append(plant)
        place[number] = seen[plant]
    return run(stack(unique), step_seconds=TABLE_STEP_SECONDS, watch=watch), place


def meter_view(
    record: LiveRecord, observable: str, columns: NDArray[np.intp]
) -> tuple[Floats, Floats, Floats]:
    """Lowest and highest meter reading and the rate, for some columns of a record.

    Movement too small to be seen on a meter counts as steady; the rate is that of the converter
    whose restarts move the point.
    """
    windows = record.windows[observable][:, columns]
    low, high = windows.min(axis=0), windows.max(axis=0)
    middle = windows.mean(axis=0)
    rate = record.restarts(observable)[columns]
    moves = (high - low > TICK_LEAST_SHARE * np.abs(high)) & (high - low > TICK_LEAST_VOLTS)
    ticks = moves & (rate > 0)
    settled = np.where(moves & ~ticks, windows[-1], middle)
    return (
        np.where(ticks, low, settled),
        np.where(ticks, high, settled),
        np.where(ticks, rate, 0.0),
    )
