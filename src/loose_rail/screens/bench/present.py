"""Cold and live checks: rail map, card, suspects, ledger."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.diagnosis.inference.posterior import part_probabilities
from loose_rail.diagnosis.review import Review
from loose_rail.judgement.limits import limit
from loose_rail.kernel.quantities import percent
from loose_rail.screens.bench.state import BenchState
from loose_rail.screens.shared.card.present import card_for
from loose_rail.screens.shared.ledger import ledger_rows, shown_readings
from loose_rail.screens.shared.rail_map.present import MapBuilder
from loose_rail.screens.shared.suspect_rows import suspect_rows

MOST_OTHERS = 9


def bench_state(session: JobSession, has_meter: bool) -> BenchState:
    """The page as it stands."""
    review = session.review
    meter = "connected" if has_meter else ""
    if review is None:
        return BenchState(
            rail_map=MapBuilder(session.board, (), {}, None).build(),
            card=card_for(session),
            suspects_title="Suspects",
            suspects=(),
            ledger=(),
            others=(),
        )
    parts = part_probabilities(review.table, review.assessment.probabilities)
    probe = review.task.candidate.probe if review.task else None
    sure = percent(limit("verdict_probability"))
    return BenchState(
        rail_map=MapBuilder(session.board, shown_readings(review), parts, probe).build(),
        card=card_for(session),
        suspects_title=f"Suspects after {counted(len(review.readings))} · sure enough to repair a "
        f"part at {sure}",
        suspects=suspect_rows(review),
        ledger=ledger_rows(review),
        others=_others(review),
        meter=meter,
    )


def _others(review: Review) -> tuple[tuple[str, str], ...]:
    """Other probes to choose from: key, and words with their worth."""
    current = review.task.candidate.key if review.task else ""
    offers = [o for o in review.assessment.others if o.candidate.key != current]
    return tuple(
        (
            o.candidate.key,
            f"{o.candidate.probe.title} · {o.candidate.state.label} · "
            f"{max(1, round(o.minutes))} min",
        )
        for o in offers[:MOST_OTHERS]
    )


def counted(number: int) -> str:
    """A number of readings in words."""
    return f"{number} reading{'' if number == 1 else 's'}"
