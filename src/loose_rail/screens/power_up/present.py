"""The first power-up: what is predicted, what was seen, readings before and after."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from loose_rail.app.entry import MEANS, MEANS_OF_A_RESISTOR
from loose_rail.app.first_power import ForecastKeeper, first_state
from loose_rail.app.limiting import bench_limiters, limiter_words
from loose_rail.app.proving import proof
from loose_rail.app.session import JobSession
from loose_rail.app.start_curve import DEAD_SHARE, READY_SHARE, after, against, start_curve
from loose_rail.app.trace import Trace
from loose_rail.diagnosis.in_line import limiter_of
from loose_rail.diagnosis.model.forecast import FORECAST_SECONDS, Floats, Forecast
from loose_rail.diagnosis.proof.standing import Proof, ProofStatus
from loose_rail.judgement.limiter import Limiter
from loose_rail.judgement.proof import LOADED
from loose_rail.kernel.quantities import engineering, fixed
from loose_rail.screens.power_up.soak_present import soak_view
from loose_rail.screens.power_up.state import NO_POINTS, PowerUpState
from loose_rail.screens.shared.card.present import card_for, failed_card
from loose_rail.screens.shared.card.state import CardState
from loose_rail.screens.shared.pair_views import pair_views
from loose_rail.vocabulary.board_state import BoardState
from loose_rail.vocabulary.lamp_pattern import LampPattern, patterns_of
from loose_rail.vocabulary.phase import Phase

COOL_CLEARS_NOTHING = (
    "Full mains stays closed: a resistor that stays cool does not rule out a short. Pull the plug, "
    "drain, and read the bulk's ohms and each diode of the bridge."
)
NOT_SHOWN_WORDS = {
    ProofStatus.NONE: "nothing was fitted",
    ProofStatus.NOT_SHOWN: "none yet: no reading shows more than a dead board would give",
    ProofStatus.FAILED: "none: not repaired",
}


def power_up_state(
    session: JobSession,
    keeper: ForecastKeeper,
    has_meter: bool = False,
    trace: Trace | None = None,
) -> PowerUpState:
    """The prediction in time beside what was seen and read; the lamp first, then what proves the
    repair."""
    state, proved, first = session.state, proof(session), first_state(session)
    cable = "on" if first.main_cable else "off"
    in_line = limiter_of(state, first.lamp_watts)
    limiter = f"through a {in_line.words}" if in_line else "on its adapter"
    lamp = in_line is None or in_line.is_lamp
    patterns = tuple(
        (str(one), one.of_limiter(lamp), one == state.lamp_seen) for one in patterns_of(lamp)
    )
    means = MEANS if lamp else MEANS_OF_A_RESISTOR
    unfitted = "The part is not fitted yet: finish the rework first."
    soak = soak_view(session, proved)
    found = PowerUpState(
        title="Soak" if soak else _title(session, f"First power {limiter}, main cable {cable}"),
        sentence="Predicting the first power-up" if state.verdict else "No verdict yet",
        card=_card(session, proved),
        proof=_proof_words(proved),
        patterns=patterns if first.lamp_watts else (),
        seen_words=means.get(LampPattern(state.lamp_seen), "") if state.lamp_seen else "",
        pairs=pair_views(session.review),
        message="" if state.fitted else unfitted,
        has_meter=has_meter,
        failed=" ".join(proved.failures),
        limiters=_limiters(session, in_line) if not state.lamp_seen else (),
        soak=soak,
    )
    predicted = keeper.get(session)
    if predicted is None:
        return found
    said = limiter_words(session, in_line) if in_line is not None else ()
    drawn = _with_forecast(found, predicted, first, in_line, said)
    return drawn if trace is None else _with_measured(drawn, predicted, trace)


def _title(session: JobSession, first: str) -> str:
    """What is being done: the first power, until the board stands on the mains itself."""
    state = session.state
    now = state.board_state
    direct = state.state_known and now.plugged and not now.lamp_watts
    if not direct or session.board.adapter_fed or not state.fitted:
        return first
    return f"On full mains, main cable {'on' if now.main_cable else 'off'}"


def _with_measured(found: PowerUpState, predicted: Forecast, trace: Trace) -> PowerUpState:
    """With what the meters showed of the last start, over the prediction."""
    curves, said = [], []
    plugged_in: float | None = None
    for name, final, course in (
        ("Bulk", predicted.bulk_volts, predicted.sound.bulk),
        ("Standby", predicted.standby_volts, predicted.sound.standby),
    ):
        curve = start_curve(trace.channels, final, FORECAST_SECONDS)
        if curve is None:
            curves.append(NO_POINTS)
            continue
        begins, ready = _reaches(predicted, course, DEAD_SHARE), _reaches(predicted, course)
        late = curve.begin - plugged_in if plugged_in is not None else begins
        curve = after(curve, late if 0.0 <= late <= FORECAST_SECONDS else begins)
        plugged_in = curve.begin if name == "Bulk" else plugged_in
        curves.append((tuple(curve.seconds.tolist()), tuple(curve.volts.tolist())))
        said.append(against(name, curve, final, ready))
    words = (*found.course, *said)
    return replace(found, measured_bulk=curves[0], measured_standby=curves[1], course=words)


def _reaches(predicted: Forecast, course: Floats, share: float = READY_SHARE) -> float:
    """When a predicted course gets to a share of where it ends, in seconds."""
    there = predicted.seconds[np.flatnonzero(course >= share * course[-1])[:1]]
    return float(there[0]) if len(there) else 0.0


def _limiters(session: JobSession, now: Limiter | None) -> tuple[tuple[str, str, bool], ...]:
    if now is None:
        return ()
    known = bench_limiters(session)
    known = known if now in known else (now, *known)
    return tuple((one.text, one.words, one == now) for one in known)


def _with_forecast(
    found: PowerUpState,
    predicted: Forecast,
    first: BoardState,
    limiter: Limiter | None,
    said: tuple[str, ...],
) -> PowerUpState:
    input_words = "bulk" if first.lamp_watts else "input"
    lamp = limiter is None or limiter.is_lamp
    return replace(
        found,
        seconds=tuple(predicted.seconds.tolist()),
        bulk=tuple(predicted.sound.bulk.tolist()),
        standby=tuple(predicted.sound.standby.tolist()),
        glow=tuple(predicted.sound.glow.tolist()),
        faulty_bulk=tuple(predicted.faulty.bulk.tolist()),
        faulty_standby=tuple(predicted.faulty.standby.tolist()),
        faulty_glow=tuple(predicted.faulty.glow.tolist()),
        heat=() if lamp else tuple(predicted.sound.heat.tolist()),
        faulty_heat=() if lamp else tuple(predicted.faulty.heat.tolist()),
        pull_seconds=predicted.pull_seconds,
        sentence=f"Repaired, the {input_words} rises to {engineering(predicted.bulk_volts, 'V')} "
        f"and the standby rail stands at {engineering(predicted.standby_volts, 'V')} after "
        f"{fixed(predicted.ready_seconds, 2)} s; the broken line shows what the fault did.",
        course=(*_course_words(predicted, first, lamp), _in_one(said)),
    )


def _card(session: JobSession, proved: Proof) -> CardState:
    review = session.review
    if review is not None and review.repair_failed:
        return failed_card(review)
    done = review is not None and review.task is None and review.facts.acknowledged
    if done and session.state.fitted:
        end = _end_card(proved)
        limiter = limiter_of(session.state, first_state(session).lamp_watts)
        behind_resistor = limiter is not None and not limiter.is_lamp
        if behind_resistor and not session.facts.primary_short_excluded:
            return replace(end, caution=COOL_CLEARS_NOTHING)
        return end
    return card_for(session)


def _end_card(proved: Proof) -> CardState:
    """Every reading of the plan is taken or out of reach: shown, or not shown."""
    if proved.status is ProofStatus.SHOWN:
        return CardState(
            phase=Phase.NOTHING,
            header="Nothing left to prove here",
            title="The repaired rail has been read",
            why="More hours and more load prove more; a soak is the next level.",
            action="Go to hand back",
        )
    return CardState(
        phase=Phase.NOTHING,
        header="The repair is not shown",
        title="No reading yet that a dead board would not give",
        caution="Do not call it repaired.",
        why="What is left of the plan can't be reached, or safety does not allow it yet. Choose "
        "another reading under power with O on the bench, or undo what was left out.",
        action="Back to power up",
        alarm=True,
    )


def _proof_words(proved: Proof) -> str:
    if proved.status is not ProofStatus.SHOWN:
        return NOT_SHOWN_WORDS[proved.status]
    level = proved.level
    loads = " R: dummy loads on the board alone." if level.rank < LOADED else ""
    return f"{level.title}; open: {level.leaves_open}.{loads} Ctrl+0 hands back at this level"


def _in_one(said: tuple[str, ...]) -> str:
    words = "; ".join(said)
    return f"{words[:1].upper()}{words[1:]}"


def _course_words(found: Forecast, state: BoardState, lamp: bool) -> tuple[str, ...]:
    ready = (
        f"{fixed(found.ready_seconds, 2)} s: the standby rail stands at "
        f"{engineering(found.standby_volts, 'V')}, not pulsing"
    )
    if not state.lamp_watts:
        return (ready, "If the rail is not there by then, or anything smells, pull the plug")
    if not lamp:
        pull = f"{fixed(found.pull_seconds, 2)} s: pull the plug if the bulk has not risen"
        return (ready, f"{pull}: half of what the resistor bears into a short")
    if found.flash_seconds > 0:
        flash = f"0 s: the lamp flashes for about {fixed(found.flash_seconds, 2)} s, then dark"
    else:
        flash = "0 s: the lamp stays dark or shows a dull red for a moment: this bulk is small"
    return (
        flash,
        ready,
        f"{fixed(found.pull_seconds, 2)} s: if the lamp still glows, pull the plug",
    )
