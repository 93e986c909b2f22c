"""What a set with each hypothesis would be like in use, as masks over the rows.

Worked out from the live predictions: whether the standby rail lights an indicator, whether it
stands, ticks or is missing, whether the outputs and the lamps run. Symptoms are told by these.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect, Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.diagnosis.model.hypotheses import NOTHING, Hypothesis
from loose_rail.diagnosis.model.predictions import dims, elsewhere, hums, start_open, starts_late
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.vocabulary.keys import is_ripple, stage_of
from loose_rail.vocabulary.roles import BoardRole

Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]
Holds = Callable[[Hypothesis], bool]

ONE_OF_SEVERAL = "secondary"
"""The mode of a transformer whose winding for one of several lamps is open."""
IN_USE = "on/cable/direct"
PLUGGED_IN = "standby/cable/direct"
TOO_FAST_TO_HEAR_APART_HERTZ = 6.0
LIT_SHARE = 0.6
STANDS_SHARE = 0.93
MISSING_SHARE = 0.85
WEAK_LAMPS_SHARE = 0.93
STAYS_DARK_SHARE = 0.8
"""Four fifths of a standby rail light the indicator, but not the processor [P]."""
ASLEEP_SHARE = 0.3
"""Of what a rail is in use: below it, it sleeps in standby, and no two-level supply's [E]."""
LAMP_KINDS = ("led", "ccfl")


@dataclass(frozen=True)
class Features:
    """Named masks `(n_rows,)` and the ticking rate in hertz, 0 where nothing ticks."""

    masks: dict[str, Mask]
    hertz: Floats

    def first_of(self, chances: Sequence[tuple[str, float]]) -> Floats:
        """For every row the chance behind the first condition that holds, 0 where none does."""
        found = np.zeros(len(self.hertz))
        free = np.ones(len(self.hertz), dtype=bool)
        for name, chance in chances:
            here = free & self.masks[name]
            found[here] = chance
            free &= ~here
        return found


def features_of(table: PredictionTable) -> Features:
    """The features of every row of a table."""
    return table.once("features", lambda: _features(table))


def _features(table: PredictionTable) -> Features:
    n_rows = len(table.rows)
    standby = _column(table, table.board.standby_point)
    sound = float(table.high[0, standby])
    low = np.nan_to_num(table.low[:, standby])
    high = np.nan_to_num(table.high[:, standby])
    rates = np.maximum(table.ticking_hertz[IN_USE], table.ticking_hertz[PLUGGED_IN])
    ticking = (rates > 0) & (rates < TOO_FAST_TO_HEAR_APART_HERTZ)
    lit = high >= LIT_SHARE * sound
    stands = (low >= STANDS_SHARE * sound) & (table.hertz[:, standby] == 0)
    outputs, lamps_out, lamps_weak, lamps_pulse = _outputs(table)
    never_lit = _never_lit(table)
    panel_off = _panel_off(table)  # sound and light are there
    masks = {
        "any": np.ones(n_rows, dtype=bool),
        "dark": ~lit & ~ticking,
        "stays_dark": low < STAYS_DARK_SHARE * sound,
        "ticking": ticking,
        "ticking_fast": rates >= TOO_FAST_TO_HEAR_APART_HERTZ,
        "trips_slow": (rates > 0) & (rates < 0.3),
        "weak": lit & ~stands,
        "outputs_missing": stands & outputs & ~panel_off,
        "lamps_out": stands & ~outputs & lamps_out,
        "lamps_never": stands & ~outputs & lamps_out & never_lit,
        "lamps_weak": stands & ~outputs & (lamps_weak | dims(table)),
        "lamps_pulse": stands & ~outputs & lamps_pulse,
        "lamps_fed_weakly": _lamps_fed_weakly(table),
        "primary_short": table.primary_short,
        "load_mute": _has(table, lambda row: any(f.mode == "never_asserts" for f in row.faults)),
        "inlet_contact": _has(table, lambda row: _of_inlet(table, row)),
        "runs_unasked": _runs_unasked(table),
        "drags": _has(table, lambda row: any(f.loads_a_rail for f in row.faults)),
        "elsewhere": elsewhere(table),
        "main_itself": table.elsewhere_main,
        "lamps_itself": _has(table, lambda row: _of_far_lamps(table, row)),
        "keys_mute": _has(table, lambda row: _of_keys(table, row)),
        "lamps_part": _has(table, lambda row: _of_lit_part(table, row)),
        "sound": _has(table, lambda row: not row.faults and row.suspect == NOTHING),
        "timing": _has(table, lambda row: _of_timing(table, row)),
        "panel_off": stands & panel_off,
        "high": _high(table),
        "warms": _has(table, lambda row: any(f.mode in WARMS for f in row.faults)),
        "dried": _has(table, lambda row: any(f.mode == "dried" for f in row.faults)),
        "starts_late": starts_late(table),
        "start_open": start_open(table),
        "hums": hums(table),
        "comes_and_goes": table.shares < 1.0,
        "contact": _has(table, lambda row: _of_contact(table, row)),
        "burst": _has(table, lambda row: _may_burst(table, row)),
    }
    return Features(masks, rates)


PLAIN_SIGNS = ("dark", "ticking", "outputs_missing", "lamps_out", "load_mute")
"""Masks of sets that nobody calls a working one."""


def plainly_fails(table: PredictionTable) -> Mask:
    """Rows `(n_rows,)` in which a set has no rail, no light or no start: it does not play."""
    masks = features_of(table).masks
    return np.asarray(np.any([masks[name] for name in PLAIN_SIGNS], axis=0))


def unnoticed(table: PredictionTable) -> Mask:
    """Rows `(n_rows,)` whose fault shows in nothing that a set does: every point of it stands where
    it should in every state, it starts in time, nothing hums, flickers, warms, comes and goes, or
    has burst. A bulk that is never boosted shows with a bright picture."""
    return table.once("unnoticed", lambda: _unnoticed(table))


def _unnoticed(table: PredictionTable) -> Mask:
    shown = [mask for name, mask in features_of(table).masks.items() if name not in NO_SIGN]
    seen = np.any(shown, axis=0) | table.on_lamps | table.on_other_boards
    live = [
        number
        for number, one in enumerate(table.candidates)
        if one.probe.live and not is_ripple(one.probe.observable)
    ]
    low, sound = np.nan_to_num(table.low[:, live]), np.nan_to_num(table.low[0, live])
    moved = np.abs(low - sound) > STANDS_OFF_SHARE * np.abs(sound) + LEAST_OFF_VOLTS
    seen |= (moved | (table.hertz[:, live] > 0)).any(axis=1)
    return np.asarray(~seen & ~np.isnan(table.low[:, 0]))


STANDS_OFF_SHARE, LEAST_OFF_VOLTS = 0.07, 0.3
"""From here on a point stands elsewhere than in a sound set [E]."""
NO_SIGN = ("any", "dried")
"""Masks that are nothing to be seen or heard."""
WARMS = ("warm", "intermittent", "leaky", "weak", "early")
"""Modes that come with warmth and go with it."""
HIGH_SHARE = 1.12
"""A rail this far above its own is noticed: lamps too bright, what is plugged in dies [E]."""


WEAKENS = frozenset({"dried", "joint", "weak", "weak_drive", "intermittent", "warm"})
"""Modes of a part in the way of the lamps' current that let it through unevenly."""


def _lamps_fed_weakly(table: PredictionTable) -> Mask:
    """Rows in which a part of the lamps' driver, or of the rail that feeds it, lets their current
    through unevenly."""
    drivers = [stage for stage in table.board.stages if stage.kind in LAMP_KINDS]
    stages = {stage.id for stage in drivers} | {stage.source for stage in drivers}
    roles = table.board.roles
    own = {ref for job, refs in roles.items() if stage_of(job) in stages for ref in refs}
    return _has(table, lambda row: any(f.ref in own and f.mode in WEAKENS for f in row.faults))


def _of_far_lamps(table: PredictionTable, row: Hypothesis) -> bool:
    """Lamps, or their inverter board, that the supply does not feed itself."""
    return any(
        fault.effect is Effect.ELSEWHERE
        and table.board.component(fault.ref).duty.startswith("lamps")
        for fault in row.faults
    )


def _of_contact(table: PredictionTable, row: Hypothesis) -> bool:
    """Contacts and joints of the set; a knock on it does not move its cord."""
    cord = table.board.roles.get(BoardRole.CORD, [])
    return any(f.effect is Effect.CONTACT and f.ref not in cord for f in row.faults)


def _of_lit_part(table: PredictionTable, row: Hypothesis) -> bool:
    return any(is_a(table.board.component(f.ref), Trait.BACKLIGHT) for f in row.faults)


def _of_keys(table: PredictionTable, row: Hypothesis) -> bool:
    return any("keys" in table.board.component(f.ref).duty.lower() for f in row.faults)


def _of_timing(table: PredictionTable, row: Hypothesis) -> bool:
    return any(
        is_a(table.board.component(f.ref), Trait.BOARD)
        and re.search(r"timing|t-con", table.board.component(f.ref).duty, re.IGNORECASE) is not None
        for f in row.faults
    )


def _panel_off(table: PredictionTable) -> Mask:
    """Rows where the panel's rail is missing while the set is on and its other rails stand."""
    found, others = (np.zeros(len(table.rows), dtype=bool) for _ in range(2))
    lamps = {stage.id for stage in table.board.stages if stage.kind in LAMP_KINDS}
    for number, candidate in enumerate(table.candidates):
        point = candidate.probe.observable
        if candidate.state.key != IN_USE or not candidate.probe.rail or stage_of(point) in lamps:
            continue
        gone = np.nan_to_num(table.low[:, number]) < MISSING_SHARE * float(table.low[0, number])
        if point == "panel.out":
            found |= gone
        else:
            others |= gone
    return found & ~others


def _high(table: PredictionTable) -> Mask:
    """Rows where an output stands too high in use."""
    found = np.zeros(len(table.rows), dtype=bool)
    for number, candidate in enumerate(table.candidates):
        if candidate.state.key != IN_USE or not candidate.probe.rail:
            continue
        if candidate.probe.observable.startswith(("led", "tubes")):
            continue
        sound = float(table.high[0, number])
        found |= (sound > 1.0) & (np.nan_to_num(table.high[:, number]) > HIGH_SHARE * sound)
    return found


def _of_inlet(table: PredictionTable, row: Hypothesis) -> bool:
    """Whether a contact of the mains cord, the inlet or the adapter's jack comes and goes."""
    board = table.board
    first = {*board.roles.get(BoardRole.CORD, []), *board.roles.get(BoardRole.INPUT_PATH, [])}
    return any(
        fault.comes_and_goes
        and fault.ref in first
        and board.component(fault.ref).kind in ("cord", "adapter", "connector")
        for fault in row.faults
    )


def _runs_unasked(table: PredictionTable) -> Mask:
    """Rows where a rail that a sound board makes only in use stands as soon as it is plugged in."""
    column_of = {(c.probe.id, c.state.key): number for number, c in enumerate(table.candidates)}
    found = np.zeros(len(table.rows), dtype=bool)
    for (probe, state), number in column_of.items():
        used = column_of.get((probe, IN_USE))
        if state != PLUGGED_IN or used is None or not table.candidates[number].probe.rail:
            continue
        full = float(table.low[0, used])
        if float(table.high[0, number]) < ASLEEP_SHARE * full:
            found |= np.nan_to_num(table.low[:, number]) > MISSING_SHARE * full
    return found


def _has(table: PredictionTable, holds: Holds) -> Mask:
    return np.array([holds(row) for row in table.rows])


def _may_burst(table: PredictionTable, row: Hypothesis) -> bool:
    return any(
        fault.mode in ("short", "burst") and is_a(table.board.component(fault.ref), Trait.BURSTS)
        for fault in row.faults
    )


def _column(table: PredictionTable, observable: str, state: str = IN_USE) -> int:
    for number, candidate in enumerate(table.candidates):
        if candidate.probe.observable == observable and candidate.state.key == state:
            return number
    raise KeyError(f"{observable} is not read in {state}")


FLASH_SHARE = 0.6
"""Lamps that never get this much of their volts or current do not light for a moment either [E]."""


def _never_lit(table: PredictionTable) -> Mask:
    """Rows in which the lamps' driver never gives enough for a flash; lamps that are bad themselves
    and a winding of one of several lamps may flash before it gives up."""
    behind = np.array(
        [
            any(
                is_a(table.board.component(f.ref), Trait.BACKLIGHT) or f.mode == ONE_OF_SEVERAL
                for f in row.faults
            )
            for row in table.rows
        ]
    )
    lit = np.zeros(len(table.rows), dtype=bool)
    drivers = [stage.id for stage in table.board.stages if stage.kind in LAMP_KINDS]
    for number, candidate in enumerate(table.candidates):
        name, _, point = candidate.probe.observable.partition(".")
        if candidate.state.key == IN_USE and name in drivers and point == "out":
            peak = np.nan_to_num(table.peak[:, number])
            lit |= peak > FLASH_SHARE * float(table.low[0, number])
    return np.asarray(~lit & ~behind)


def _outputs(table: PredictionTable) -> tuple[Mask, Mask, Mask, Mask]:
    """Rows where a rail other than the lamps' is missing; where lamps are out, weak, pulsing."""
    n_rows = len(table.rows)
    missing, out, weak, pulse = (np.zeros(n_rows, dtype=bool) for _ in range(4))
    drivers = [stage.id for stage in table.board.stages if stage.kind in LAMP_KINDS]
    lamps = {f"{name}.{point}" for name in drivers for point in ("out", "feed")}
    for number, candidate in enumerate(table.candidates):
        point = candidate.probe.observable
        if candidate.state.key != IN_USE or not candidate.probe.rail:
            continue
        sound = float(table.low[0, number])
        if sound <= 0:
            continue
        low, high = np.nan_to_num(table.low[:, number]), np.nan_to_num(table.high[:, number])
        if point in lamps:
            ticks = table.hertz[:, number] > 0
            far = (low < MISSING_SHARE * sound) | (high > sound / MISSING_SHARE)
            out |= far | ticks
            pulse |= ticks
            weak |= far | (low < WEAK_LAMPS_SHARE * sound)
        else:
            missing |= low < MISSING_SHARE * sound
    return missing, out, weak, pulse
