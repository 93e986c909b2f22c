"""What every hypothesis predicts at every probe in every allowed state.

One table: `low`, `high` and `hertz` of shape `(n_rows, n_candidates)` in SI units. A steady value
has low = high and 0 Hz; an open cold reading is +inf. The row "outside the model" predicts nothing:
its entries are NaN and the likelihood gives it a flat density. `peak` is the highest that a point
stands at from plug-in on: a rail that comes up and then sags under its load has one above `high`.
`late` is how many seconds after plug-in it stood there.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.powered_board import plants_of
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.model.candidates import Candidate, candidates_of, live_states
from loose_rail.diagnosis.model.cold_predictions import beside, cold_probes
from loose_rail.diagnosis.model.hypotheses import OUTSIDE, hypotheses_of
from loose_rail.diagnosis.model.table import PredictionTable, moved
from loose_rail.powered.idle_stages import behaviour_of
from loose_rail.powered.plant import Plant, stack
from loose_rail.powered.record import LiveRecord, run
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.keys import job_of, ripple_of, stage_of
from loose_rail.vocabulary.roles import MAIN_SIGNAL, BoardRole, Job, role

Floats = NDArray[np.float64]
Progress = Callable[[float, str], None]

SHORT_SIEMENS = 1e-3
TICK_LEAST_SHARE = 0.04
TICK_LEAST_VOLTS = 0.06
UNNOTICED_SHARE, NOTICED_SIGMAS = 0.1, 2.0
"""What is left of the prior of a fault that moves no rail by twice its scatter [E]."""
LIVE_SHARE = 0.9
TABLE_STEP_SECONDS = 2e-3
"""Coarse steps do for the table: what differs from finer ones is hiccup at the edge of starting."""


def predict(board: Board, progress: Progress | None = None) -> PredictionTable:
    """Work out the whole table: cold solver for the drained board, live model beside it.

    `progress` is called with a share from 0 to 1 and a few words; it may raise to cancel.
    """
    say = progress or (lambda share, words: None)
    rows = hypotheses_of(board)
    candidates = candidates_of(board)
    shape = (len(rows), len(candidates))
    low, high, hertz, peak, late = (np.zeros(shape) for _ in range(5))
    say(0.02, "live behaviour")
    states = live_states(board)
    with beside(board) as cold:
        plants = [plants_of(board, row.faults, states) for row in rows]
        shorts = np.array([has_primary_short(of_row[0]) for of_row in plants])
        ticking, glow = _predict_live(
            states,
            plants,
            candidates,
            (low, high, hertz, peak, late),
            lambda share: say(0.02 + LIVE_SHARE * share, "live behaviour"),
        )
        say(LIVE_SHARE, "cold readings")
        column_of = {c.probe.id: k for k, c in enumerate(candidates) if not c.probe.live}
        columns = [column_of[probe.id] for probe in cold_probes(board)]
        low[:, columns] = high[:, columns] = peak[:, columns] = cold.readings()
    for number, row in enumerate(rows):
        if row.suspect == OUTSIDE:
            low[number] = high[number] = peak[number] = late[number] = np.nan
    say(1.0, "ready")
    table = PredictionTable(
        board=board,
        rows=rows,
        candidates=candidates,
        low=low,
        high=high,
        hertz=hertz,
        peak=peak,
        late=late,
        ticking_hertz=ticking,
        lamp_glow=glow,
        primary_short=shorts,
    )
    return as_noticed(table)


def as_noticed(table: PredictionTable) -> PredictionTable:
    """The table with the priors of sets that somebody brings in: a fault that no one can notice in
    use, because no rail moves, rarely comes to the bench by itself. The priors sum to 1."""
    seen = noticed(table) | np.array([not row.faults for row in table.rows])
    priors = np.array([row.prior for row in table.rows]) * np.where(seen, 1.0, UNNOTICED_SHARE)
    priors /= priors.sum()
    rows = zip(table.rows, priors.tolist(), strict=True)
    return replace(table, rows=tuple(replace(row, prior=prior) for row, prior in rows))


def noticed(table: PredictionTable) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` that move a live point away from a good board's in use or in standby."""
    return table.once("noticed", lambda: _noticed(table))


def _noticed(table: PredictionTable) -> NDArray[np.bool_]:
    found = np.zeros(len(table.rows), dtype=bool)
    for number, candidate in enumerate(table.candidates):
        used = candidate.state.main_cable and not candidate.state.lamp_watts
        hum = candidate.probe.observable == ripple_of(str(BoardRole.BULK))  # by `hums` alone
        if candidate.probe.live and used and not hum:
            found |= moved(table, number, NOTICED_SIGMAS)
    found |= elsewhere(table) | starts_late(table) | hums(table) | dims(table)
    return np.asarray(found[table.index_when_present] | found)


def elsewhere(table: PredictionTable) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` whose fault is on another board and shows in picture, sound or behaviour."""
    return np.array(
        [any(fault.effect is Effect.ELSEWHERE for fault in row.faults) for row in table.rows]
    )


HUMS_TIMES, HUMS_VOLTS = 1.7, 8.0
"""A bulk with so many times a sound one's AC volts, and no less, leaves nothing for bright scenes
and hums [E]."""


def hums(table: PredictionTable) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` whose bulk carries far more ripple in use than a good board's: an arm of the
    bridge or most of the capacitor is missing, though every rail may still stand."""
    key = f"live.{ripple_of(str(BoardRole.BULK))}@{BoardState(Power.ON, True, 0).key}"
    column = table.column_or_none(key)
    if column is None:
        return np.zeros(len(table.rows), dtype=bool)
    ripple = np.nan_to_num(table.high[:, column])
    return np.asarray(ripple > max(HUMS_TIMES * float(ripple[0]), HUMS_VOLTS))


DIMS_TIMES = 1.2
"""A current sense of the lamps that is so much too high leaves plainly less light [E]."""


def dims(table: PredictionTable) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` in which the lamps' driver is told too much current: its volts hardly move,
    the light does."""
    drivers = [stage.id for stage in table.board.stages if stage.kind == "led"]
    sense = {r for name in drivers for r in table.board.roles.get(role(name, Job.SENSE), [])}
    return np.array(
        [any(f.ref in sense and f.value_scale > DIMS_TIMES for f in r.faults) for r in table.rows]
    )


LATE_TIMES = 1.6
"""A start-up resistor that has gone up by less makes a start that nobody finds late: the time goes
with the ohms of the whole chain [E]."""


def starts_late(table: PredictionTable) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` in which a supply pin climbs for long before its controller starts: a
    start-up resistor has gone high by `LATE_TIMES`, or what it gives leaks away."""
    late = {(ref, "drifted") for ref in _start_resistors(table)} | {
        (ref, "leaky")
        for name, refs in table.board.roles.items()
        if job_of(name) == Job.VCC and stage_of(name) != MAIN_SIGNAL
        for ref in refs
    }
    return np.array(
        [
            any(
                (f.ref, f.mode) in late and not 1.0 < f.value_scale < LATE_TIMES for f in row.faults
            )
            for row in table.rows
        ]
    )


def _start_resistors(table: PredictionTable) -> frozenset[str]:
    """The resistors that feed a controller before it starts."""
    return frozenset(
        ref
        for name, refs in table.board.roles.items()
        if job_of(name) == Job.START and stage_of(name) != MAIN_SIGNAL
        for ref in refs
    )


def start_open(table: PredictionTable) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` in which a start-up resistor has parted: it climbs first, so the set took
    longer and longer before it died."""
    feeds = _start_resistors(table)
    return np.array(
        [any(f.ref in feeds and f.effect is Effect.OPEN for f in r.faults) for r in table.rows]
    )


def has_primary_short(plant: Plant) -> bool:
    """Whether a board shorts the mains or the bulk: what blows fuses at full power."""
    return bool(
        plant.input.input_short_siemens > 0
        or plant.input.bridge_short_share > 0
        or plant.input.bulk_short_siemens > SHORT_SIEMENS
        or any(converter.shoot_siemens > 0 for converter in plant.converters)
    )


def _predict_live(
    states: Sequence[BoardState],
    of_rows: Sequence[Sequence[Plant]],
    candidates: Sequence[Candidate],
    tables: tuple[Floats, Floats, Floats, Floats, Floats],
    watch: Callable[[float], None],
) -> tuple[dict[str, Floats], dict[str, Floats]]:
    n_rows = len(of_rows)
    record, place = simulate_unique(
        [plants[number] for number in range(len(states)) for plants in of_rows], watch
    )
    columns_of = {state: place[k * n_rows : (k + 1) * n_rows] for k, state in enumerate(states)}
    low, high, hertz, peak, late = tables
    for number, candidate in enumerate(candidates):
        if candidate.probe.live:
            point, columns = candidate.probe.observable, columns_of[candidate.state]
            low[:, number], high[:, number], hertz[:, number] = meter_view(record, point, columns)
            peak[:, number] = np.maximum(record.peaks[point][columns], high[:, number])
            late[:, number] = record.late_seconds[point][columns]
    ticking = {state.key: record.restarts("")[columns_of[state]] for state in states}
    glow = {state.key: record.lamp_glow[columns_of[state]] for state in states}
    return ticking, glow


def simulate_unique(
    plants: list[Plant], watch: Callable[[float], None] | None = None
) -> tuple[LiveRecord, NDArray[np.intp]]:
    """Run plants that behave alike once; returns the record and each plant's column in it."""
    seen: dict[Hashable, int] = {}
    unique: list[Plant] = []
    place = np.empty(len(plants), dtype=np.intp)
    for number, plant in enumerate(plants):
        column = seen.setdefault(behaviour_of(plant), len(unique))
        if column == len(unique):
            unique.append(plant)
        place[number] = column
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
