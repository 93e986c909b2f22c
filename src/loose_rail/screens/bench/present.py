"""The frame around every stage and the bench screen: rail map, card, suspects, ledger."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.boards.profile import Side
from loose_rail.diagnosis.inference.posterior import part_probabilities
from loose_rail.kernel.quantities import engineering, percent
from loose_rail.screens.bench.state import BenchState
from loose_rail.screens.card.present import Task, card_for
from loose_rail.screens.job.state import JobFrame
from loose_rail.screens.rail_map.present import MapBuilder
from loose_rail.screens.shared.ledger import ledger_rows, shown_readings
from loose_rail.screens.shared.rows import SuspectRow
from loose_rail.screens.shared.sentences import stage_dots, state_tokens, warning_for
from loose_rail.screens.verdict.present import suspect_why

MOST_SUSPECTS = 5
MOST_OTHERS = 9
MOST_DAMAGED = 3
PROBING_STAGES = ("cold_checks", "live_checks", "power_up")


def job_frame(session: JobSession, task: Task | None) -> JobFrame:
    """What stands around every stage."""
    state = session.state
    side = task.candidate.probe.side if task else None
    bulk_volts = session.facts.bulk_volts
    bulk = "not measured" if bulk_volts is None else engineering(bulk_volts, "V")
    wanted = task.candidate.state if task and state.stage in PROBING_STAGES else None
    return JobFrame(
        state.ticket,
        f"{state.set_name} · board {session.board.id}",
        f"“{state.complaint}”",
        f"{counted(len(state.live_readings))} · limit {state.spending_limit:.2f}",
        stage_dots(state),
        state_tokens(session.board, state, wanted, not session.to_measure()),
        _live_bulk(session) or bulk,
        _warning(session, side),
        session.save_problem,
        state.undo_words,
        state.redo_words,
        " ".join(part for part in (session.conflict, *state.damaged[:MOST_DAMAGED]) if part),
    )


def _warning(session: JobSession, side: Side | None) -> str:
    """The caution of the frame: an over-voltage and a failed repair before the state's own."""
    state = session.state
    if session.over_volts is not None:
        return "over-voltage: plug out"
    if session.bright_lamp:
        return "lamp full bright: plug out"
    if session.repair_failed:
        return f"not repaired; {state.fitted[-1]} is known good"
    return warning_for(session.board, state, side if side is Side.HOT else None)


def _live_bulk(session: JobSession) -> str:
    """The last bulk reading in the present plugged-in state."""
    for reading in reversed(session.state.live_readings):
        if reading.probe == "live.bulk" and reading.state == session.state.board_state:
            return reading.observation.text()
    return ""


def bench_state(session: JobSession, task: Task | None, has_meter: bool) -> BenchState:
    """Cold and live checks."""
    if session.engine is None or session.assessment is None:
        builder = MapBuilder(session.board, (), {}, None)
        return BenchState(builder.build(), card_for(session, None), "Suspects", (), (), ())
    parts = part_probabilities(session.engine.table, session.assessment.probabilities)
    readings = session.readings
    builder = MapBuilder(
        session.board,
        shown_readings(session, readings),
        parts,
        task.candidate.probe if task else None,
    )
    count = len(session.readings)
    title = f"Suspects after {counted(count)} · sure enough to repair at 90 %"
    return BenchState(
        builder.build(),
        card_for(session, task),
        title,
        suspect_rows(session),
        ledger_rows(session),
        _others(session, task),
        "connected" if has_meter else "",
    )


def suspect_rows(session: JobSession) -> tuple[SuspectRow, ...]:
    """The leading suspects, and all others as one row."""
    if session.assessment is None or session.engine is None:
        return ()
    suspects = session.assessment.suspects
    rows = [
        SuspectRow(
            percent(s.probability).removesuffix(" %"),
            s.title.replace("MB ", "Main board "),
            suspect_why(session, s),
            s.probability,
        )
        for s in suspects[:MOST_SUSPECTS]
    ]
    rest = suspects[MOST_SUSPECTS:]
    share = sum(s.probability for s in rest)
    words = percent(share).removesuffix(" %")
    return (*rows, SuspectRow(words, "Everything else", f"{len(rest)} more", share, len(rest)))


def _others(session: JobSession, task: Task | None) -> tuple[tuple[str, str], ...]:
    """Other probes to choose from: key, and words with their worth."""
    assert session.assessment is not None
    current = task.candidate.key if task else ""
    offers = [o for o in session.assessment.others if o.candidate.key != current]
    return tuple(
        (
            o.candidate.key,
            f"{o.candidate.probe.title} · {o.candidate.state.words} · {o.minutes:.0f} min",
        )
        for o in offers[:MOST_OTHERS]
    )


def counted(number: int) -> str:
    """A number of readings in words."""
    return f"{number} reading{'' if number == 1 else 's'}"
