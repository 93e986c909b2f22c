"""Whether a repair that failed is ever called proved, and whether a right one gets there.

For every single fault of every board that some point under power shows to a meter beyond doubt, or
that eyes tell (a tube that stays dark, a picture that is none): another part is replaced, the plan
of the first power and the proof is followed with what the board really reads and shows, and the job
is handed back. Then the right part, with what a sound board reads. `--noise SEED` lets parts and
meter scatter. Readings come from the program's own table: this measures the plan of the proof, not
the model.
Aims: no wrong repair handed back as repaired; every right one shown to a level.
Run: .venv/bin/python -m benchmarks.repairs [BOARD ...] [--every K] [--noise SEED]
"""

from __future__ import annotations

import argparse
import sys
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from tests.fakes.clock import FakeClock
from tests.fakes.store import MemoryStore
from tests.shared import final_lines, lamp_pattern, light_seen

from benchmarks.found_faults import answer
from loose_rail.app.log import JobLog
from loose_rail.app.session import JobSession
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.diagnosis.model.cache import table_for
from loose_rail.diagnosis.model.predictions import hums
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.diagnosis.proof.coverage import odd_at
from loose_rail.diagnosis.proof.plan import IN_THE_SET, SWITCHED_ON
from loose_rail.diagnosis.proof.standing import ProofStatus
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import Form, Observation
from loose_rail.screens.job.present import JobPresenter
from loose_rail.vocabulary.board_state import UNPLUGGED
from loose_rail.vocabulary.keys import ripple_of
from loose_rail.vocabulary.phase import Phase
from loose_rail.vocabulary.roles import BoardRole

MOST_STEPS = 60


@dataclass(frozen=True, slots=True)
class Repaired:
    """How a repair ended: its status, the level, the readings it took, why the plan stopped."""

    status: ProofStatus
    handed_back_as_repaired: bool
    readings: int
    failure: str


def repaired(engine: Engine, row: int, part: str, seed: int) -> Repaired:
    """Replace a part on a board that then reads as this row of the table does; follow the plan."""
    table, rng = engine.table, np.random.default_rng(1000 * seed + row)
    presenter = _fitted(engine, part)
    session = presenter.session
    for _ in range(MOST_STEPS):
        if session.state.stage != "power_up":
            break
        card = presenter.power_up().card
        if card.phase is Phase.NOTHING:
            presenter.go_on()
            break
        if card.phase is Phase.LAMP:
            presenter.lamp_seen(lamp_pattern(table, row, session.state.board_state.key))
        elif card.phase is Phase.LIGHT:
            presenter.submit(light_seen(table, row).label)
        elif card.phase is Phase.ACKNOWLEDGE:
            session.acknowledge()
        elif card.phase is Phase.STATE:
            presenter.confirm_state()
        elif card.phase is Phase.RESERVOIR:
            presenter.submit("0.3")
        else:
            task = session.reviewed.task
            assert task is not None
            column = table.index(task.candidate.key)
            presenter.submit(_typed(answer(table, column, row, rng, float(seed > 0))))
    found = session.reviewed.proof
    presenter.make_safe()
    presenter.go("hand_back")
    for line in final_lines(session):
        presenter.final_line(line)
    presenter.go_on()
    handed = session.state.handed_back
    return Repaired(
        found.status,
        bool(handed and handed.repaired),
        len(session.state.proof_readings),
        found.failures[0] if found.failures else "",
    )


def _fitted(engine: Engine, part: str) -> JobPresenter:
    """A job in which this part has just been replaced."""
    table = engine.table
    events = (
        ev.JobOpened("0700", "A made-up set", table.board.id, "It does not work.", 25.0, ""),
        ev.StateConfirmed(UNPLUGGED.key),
        ev.BulkMeasured(0.4),
        ev.VerdictAccepted(part, f"{part} failed", 0.95, "confirmed", []),
        ev.PartFitted(part),
        ev.StageEntered("power_up"),
    )
    records = [
        ev.Record(number, f"2026-11-06T09:00:{number:02d}", "bench 1", event)  # type: ignore[arg-type]
        for number, event in enumerate(events, start=1)
    ]
    session = JobSession(JobLog(MemoryStore(records), 1), table.board, FakeClock())
    session.set_engine(engine)
    return JobPresenter(session, (), lambda s, price: "", lambda html, title, path: None)


def _typed(seen: Observation) -> str:
    """A reading as a person types it."""
    if seen.form is Form.OPEN:
        return "OL"
    if seen.form is Form.TICKING:
        return f"{seen.low:.4g}..{seen.high:.4g}@{seen.hertz or 1.0:.2f}Hz"
    return f"{seen.low:.5g}"


def noticed_rows(table: PredictionTable) -> list[int]:
    """Single steady faults that put a point under power out of range for a meter, or that show to
    the eye. AC volts on the bulk count from where the set hums: with less nobody brings it in."""
    shown = hums(table)
    hum = ripple_of(str(BoardRole.BULK))
    for number, one in enumerate(table.candidates):
        used = one.probe.live and one.probe.meter and one.state in (IN_THE_SET, SWITCHED_ON)
        if used and one.probe.observable != hum:
            shown |= odd_at(table, number)
    steady = [
        k
        for k, row in enumerate(table.rows)
        if len(row.faults) == 1 and not row.faults[0].comes_and_goes
    ]
    return [k for k in steady if shown[k] or light_seen(table, k).is_bad]


def another_part(table: PredictionTable, row: int, seed: int) -> str:
    """A part that has nothing to do with the fault of this row."""
    guilty = {fault.ref for fault in table.rows[row].faults}
    refs = [part.ref for part in table.board.components if part.ref not in guilty]
    return refs[int(np.random.default_rng(31 * seed + row).integers(len(refs)))]


def main() -> int:
    """Print a line for each board and every wrong repair that passed; 1 where an aim is missed."""
    parser = argparse.ArgumentParser(description=(__doc__ or "").splitlines()[0])
    parser.add_argument("boards", nargs="*")
    parser.add_argument("--every", type=int, default=1, metavar="K")
    parser.add_argument("--noise", type=int, default=0, metavar="SEED")
    options = parser.parse_args()
    missed = 0
    for board_id in options.boards or shipped_ids():
        engine = Engine(table_for(shipped_board(board_id), Path(".venv/predictions")))
        rows = noticed_rows(engine.table)[:: options.every]
        passed, reached, short = [], 0, []
        for row in rows:
            wrong = another_part(engine.table, row, options.noise)
            if repaired(engine, row, wrong, options.noise).handed_back_as_repaired:
                passed.append(f"{engine.table.rows[row].key} with {wrong} replaced")
            right = repaired(engine, 0, engine.table.rows[row].faults[0].ref, options.noise)
            reached += right.handed_back_as_repaired
            if not right.handed_back_as_repaired:
                short.append(f"{engine.table.rows[row].key}: {right.status} {right.failure}")
        missed += len(passed) + len(short)
        print(
            f"{board_id}: {len(rows)} faults; wrong part and called repaired {len(passed)}, right "
            f"part and shown {reached}"
        )
        for words in (*passed, *short):
            print(f"    {words}")
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main())
