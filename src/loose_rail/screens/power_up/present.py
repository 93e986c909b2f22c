"""The first power-up: what is predicted, what was seen, readings before and after."""

from __future__ import annotations

from loose_rail.app.proof import ProofStatus
from loose_rail.app.results import pairs_of, proof
from loose_rail.app.session import JobSession
from loose_rail.boards.faults import fault_from_key
from loose_rail.diagnosis.model.forecast import Forecast, forecast
from loose_rail.kernel.quantities import engineering, fixed
from loose_rail.screens.card.present import (
    NOTHING,
    PATTERNS,
    Task,
    card_for,
    failed_card,
    lamp_words,
)
from loose_rail.screens.card.state import CardState
from loose_rail.screens.power_up.proof_plan import first_power, proof_candidates
from loose_rail.screens.power_up.state import PowerUpState
from loose_rail.screens.shared.pairs import PairView
from loose_rail.vocabulary.board_state import BoardState

NOT_SHOWN_WORDS = {
    ProofStatus.NOT_SHOWN: "none yet: no reading shows more than a dead board would give",
    ProofStatus.FAILED: "none: not repaired",
}


def first_state(session: JobSession) -> BoardState:
    """The state of the first power-up: that of the first reading of the proof, always limited."""
    if session.engine is None:
        return first_power(session)
    return proof_candidates(session)[0][0].state


class ForecastKeeper:
    """The forecast of the accepted verdict, worked out once for each verdict.

    It takes some seconds: `missing` says when to work it out off the window's thread.
    """

    def __init__(self) -> None:
        self._key = ""
        self._forecast: Forecast | None = None

    def get(self, session: JobSession) -> Forecast | None:
        """The forecast that fits the present verdict, None while it is missing."""
        return self._forecast if self._key == self._wanted(session) else None

    def _wanted(self, session: JobSession) -> str:
        verdict = session.state.verdict
        return f"{verdict.part}/{verdict.title}" if verdict else ""

    def missing(self, session: JobSession) -> bool:
        """Whether there is a verdict without its forecast."""
        return bool(self._wanted(session)) and self.get(session) is None

    def work_out(self, session: JobSession) -> tuple[str, Forecast]:
        """Compute the forecast (slow, pure): safe on another thread."""
        verdict = session.state.verdict
        assert verdict is not None
        faults = []
        if session.assessment is not None and session.engine is not None:
            rows = session.engine.table.rows
            own = [k for k, row in enumerate(rows) if row.part == verdict.part]
            if own:
                best = max(own, key=lambda k: session.assessment.probabilities[k])  # type: ignore[union-attr]
                faults = [fault_from_key(session.board, f.key) for f in rows[best].faults]
        return self._wanted(session), forecast(session.board, first_state(session), faults)

    def keep(self, found: tuple[str, Forecast]) -> None:
        """Keep what was worked out."""
        self._key, self._forecast = found


def power_up_screen(session: JobSession, task: Task | None, keeper: ForecastKeeper) -> PowerUpState:
    """The screen with its card: the lamp first, then what proves the repair."""
    state = session.state
    card = card_for(session, task)
    if session.repair_failed:
        card = failed_card(session)
    elif session.engine is not None and state.fitted and task is None and session.acknowledged:
        card = _end_card(session)
    return power_up_state(session, keeper, card)


def _end_card(session: JobSession) -> CardState:
    """Every reading of the plan is taken or out of reach: shown, or not shown."""
    if proof(session).status is ProofStatus.SHOWN:
        return CardState(
            NOTHING,
            "Nothing left to prove here",
            "The repaired rail has been read",
            why="More hours and more load prove more; a soak is the next level.",
            action="Go to hand back",
        )
    return CardState(
        NOTHING,
        "The repair is not shown",
        "No reading yet that a dead board would not give",
        caution="Do not call it repaired.",
        why="What is left of the plan can't be reached, or safety does not allow it yet. Choose "
        "another reading under power with O on the bench, or undo what was left out.",
        action="Back to power up",
        alarm=True,
    )


def power_up_state(session: JobSession, keeper: ForecastKeeper, card: CardState) -> PowerUpState:
    """The prediction in time beside what was seen and read."""
    found = keeper.get(session)
    first = first_state(session)
    cable = "on" if first.main_cable else "off"
    limiter = f"through a {first.lamp_watts} W lamp" if first.lamp_watts else "on its adapter"
    title = f"First power {limiter}, main cable {cable}"
    patterns = tuple((key, words, key == session.state.lamp_seen) for key, words in PATTERNS)
    if not first.lamp_watts:
        patterns = ()
    proved = proof(session)
    failed = " ".join(proved.failures)
    seen = lamp_words(session.state.lamp_seen) if session.state.lamp_seen else ""
    input_words = "bulk" if first.lamp_watts else "input"
    message = "" if session.state.fitted else "The part is not fitted yet: finish the rework first."
    level = proved.level
    words_of_proof = f"{level.title}; open: {level.leaves_open}. Ctrl+0 hands back at this level"
    if proved.status is not ProofStatus.SHOWN:
        words_of_proof = NOT_SHOWN_WORDS.get(proved.status, "nothing was fitted")
    pairs = pair_views(session)
    if found is None:
        words = "Predicting the first power-up" if keeper.missing(session) else "No verdict yet"
        return PowerUpState(
            title,
            (),
            (),
            (),
            (),
            (),
            (),
            (),
            0.0,
            words,
            (),
            patterns,
            seen,
            card,
            pairs,
            words_of_proof,
            message,
            failed,
        )
    return PowerUpState(
        title,
        tuple(found.seconds.tolist()),
        tuple(found.sound.bulk.tolist()),
        tuple(found.sound.standby.tolist()),
        tuple(found.sound.glow.tolist()),
        tuple(found.faulty.bulk.tolist()),
        tuple(found.faulty.standby.tolist()),
        tuple(found.faulty.glow.tolist()),
        found.pull_seconds,
        f"Repaired, the {input_words} rises to {engineering(found.bulk_volts, 'V')} and the "
        f"standby rail stands at {engineering(found.standby_volts, 'V')} "
        f"after {fixed(found.ready_seconds, 2)} s; "
        "the broken line shows what the fault did.",
        _course_words(found, first),
        patterns,
        seen,
        card,
        pairs,
        words_of_proof,
        message,
        failed,
    )


def _course_words(found: Forecast, state: BoardState) -> tuple[str, ...]:
    ready = (
        f"{fixed(found.ready_seconds, 2)} s: the standby rail stands at "
        f"{engineering(found.standby_volts, 'V')}, no ticking"
    )
    if not state.lamp_watts:
        return (ready, "If the rail is not there by then, or anything smells, pull the plug")
    if found.flash_seconds > 0:
        flash = f"0 s: the lamp flashes for about {fixed(found.flash_seconds, 2)} s, then dark"
    else:
        flash = "0 s: the lamp stays dark or shows a dull red for a moment: this bulk is small"
    return (
        flash,
        ready,
        f"{fixed(found.pull_seconds, 2)} s: if the lamp still glows, pull the plug",
    )


def pair_views(session: JobSession) -> tuple[PairView, ...]:
    """Points read before and after the repair."""
    return tuple(
        PairView(
            f"{pair.probe.title} · {pair.after.state.words}",
            pair.before.observation.text(),
            pair.after.observation.text(),
            pair.judgement.expected,
            pair.probe.unit,
            pair.before_span,
            pair.after_span,
            pair.expected_span,
            pair.good,
        )
        for pair in pairs_of(session)
    )
