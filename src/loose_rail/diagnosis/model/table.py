"""The prediction table of one board, and what follows from its rows alone.

`low`, `high`, `hertz`, `peak` and `late` (seconds from plug-in until a point stands) have the shape
`(n_rows, n_candidates)`, in SI units.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect, Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.parallels import across
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.hypotheses import Hypothesis, while_present_rows
from loose_rail.judgement.spread import sigma
from loose_rail.vocabulary.board_state import BoardState
from loose_rail.vocabulary.keys import job_of
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.roles import BoardRole

Floats = NDArray[np.float64]
T = TypeVar("T")

ALIKE_SHARE = 0.01
"""Rows whose readings are within a hundredth everywhere read alike."""
SAME_PLACE_SHARE, SAME_PLACE_OHMS = 1e-2, 5.0
"""Two candidates across the same two nets are one place where no row tells them apart by more: a
track's ohms are no part [E]."""
DISTURBED_SIGMAS = 3.5
"""A reading this far from a good board's says that a powered board is disturbed [E]."""


MODES_OF_DEGREE = (
    "drags",
    "drags_main",
    "drags_second",
    "overdraws",
    "dried",
    "leaky",
    "warm",
    "drifted",
    "weak",
    "early",
    "short",
    "loose",
)
"""Failure modes that come in any degree, of which a few are worked out."""


LEAST_LEAK_OHMS = 4.5
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
    late: Floats
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
        away = np.flatnonzero(self.comes_and_goes)
        there = self.shares[away].reshape(-1, *[1] * (values.ndim - 1))
        present = values[self.index_when_present[away]]
        blended = values.copy()
        blended[away] = there * present + (1.0 - there) * values[away]
        return blended

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
    def liftable(self) -> frozenset[str]:
        """Parts that can be read with a leg out of the board."""
        return frozenset(c.probe.part for c in self.candidates if c.probe.lifted)

    def hiding(self, number: int) -> tuple[str, ...]:
        """Parts that may be what reads low at a candidate at a part of the dead board, beside that
        part: all across the same two nets; for a part that can't be lifted itself, those that can
        be. Nothing lies beside what is read off the board."""
        probe = self.candidates[number].probe
        if probe.unplugged:
            return ()
        beside = tuple(r for r in across(self.board, probe.plus, probe.minus) if r != probe.part)
        if probe.part in self.liftable:
            return beside
        return tuple(ref for ref in beside if ref in self.liftable)

    @cached_property
    def place_of(self) -> tuple[int, ...]:
        """For each candidate the number of the first one that is electrically the same: a reading
        of the dead board in place, with one setting, across the same two nets, of which every row
        predicts the same. Any other is a place of its own."""
        first: dict[tuple[frozenset[str], str], list[int]] = {}
        found: list[int] = []
        for number, candidate in enumerate(self.candidates):
            probe = candidate.probe
            if probe.live or not probe.in_place or probe.mode is MeterMode.DIODE:
                found.append(number)
                continue
            key = (frozenset((probe.plus, probe.minus)), probe.mode.value)
            known = first.setdefault(key, [])
            same = (k for k in known if self._reads_alike(k, number))
            place = next(same, number)
            if place == number:
                known.append(number)
            found.append(place)
        return tuple(found)

    def _reads_alike(self, one: int, other: int) -> bool:
        a, b = self.low[:, one], self.low[:, other]
        return bool(np.allclose(a, b, rtol=SAME_PLACE_SHARE, atol=SAME_PLACE_OHMS, equal_nan=True))

    @cached_property
    def cause_marks(self) -> tuple[frozenset[str], ...]:
        """By what a table of rates may name the cause of each row: any, kind:…, mode:…, role:…,
        and asks for what passes the wish to start on; nothing for rows without a part."""
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
            part = self.board.component(cause.ref)
            own = {"any", f"kind:{part.kind}", f"mode:{cause.mode}"}
            own |= {"asks"} & set(part.params)
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
    def by_rows(self) -> dict[Hashable, Any]:
        """What was worked out of the rows alone, whatever was read, by a name."""
        return {}

    def once(self, key: Hashable, make: Callable[[], T]) -> T:
        """What `make` works out of the rows alone, worked out at the first call under `key`; an
        array of it is for reading only."""
        if key not in self.by_rows:
            made = make()
            if isinstance(made, np.ndarray):
                made.setflags(write=False)
            self.by_rows[key] = made
        found: T = self.by_rows[key]
        return found

    @cached_property
    def kept(self) -> dict[object, Floats]:
        """What was worked out for several readings together, by these."""
        return {}

    @cached_property
    def weighed(self) -> dict[object, Floats]:
        """What `posterior.log_likelihoods` has worked out for all readings of a job, by these."""
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


def moved(table: PredictionTable, number: int, sigmas: float) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` that read away from a good board at a live candidate."""
    return table.once(("moved", number, sigmas), lambda: _moved(table, number, sigmas))


def _moved(table: PredictionTable, number: int, sigmas: float) -> NDArray[np.bool_]:
    low, high = table.low[:, number], table.high[:, number]
    width = sigmas * float(sigma(table.board, table.candidates[number].probe, low[0]))
    return np.asarray((np.abs(low - low[0]) > width) | (np.abs(high - high[0]) > width))
