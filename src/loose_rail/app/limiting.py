"""What stands in line at the first power of a job: chosen from the bench's own list, or typed."""

from __future__ import annotations

from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.app.settings import KeepSetting
from loose_rail.diagnosis.in_line import LIMITER_DETAIL, limiter_of
from loose_rail.diagnosis.proof.plan import first_power
from loose_rail.jobs import events as ev
from loose_rail.judgement.limiter import Limiter, read_limiter
from loose_rail.kernel.errors import BadEntryError
from loose_rail.vocabulary.lamp_pattern import LampPattern, patterns_of

ALWAYS = "always"
MOST_KEPT = 8


def limiter_now(session: JobSession) -> Limiter | None:
    """What stands in line in the state that the board is in; None where nothing does."""
    return limiter_of(session.state, session.state.board_state.lamp_watts)


def limiter_for(session: JobSession) -> Limiter | None:
    """What stands in line at the first power of this job; None where nothing does."""
    return limiter_of(session.state, first_power(session.board, session.state).lamp_watts)


def patterns_now(session: JobSession) -> tuple[LampPattern, ...]:
    """What can be told of what stands in line now, in the order of the keys."""
    found = limiter_now(session)
    return patterns_of(found is None or found.is_lamp)


def as_it_should(session: JobSession) -> LampPattern:
    """What it does in line with a sound board."""
    told = patterns_now(session)
    return LampPattern.FLASH_DARK if LampPattern.FLASH_DARK in told else LampPattern.DARK


def bench_limiters(session: JobSession) -> tuple[Limiter, ...]:
    """The bench's own list; the one of this job is among them."""
    texts = [*session.limiters, session.state.detail(LIMITER_DETAIL)]
    return tuple(dict.fromkeys(read_limiter(text) for text in texts if text))


def choose_limiter(session: JobSession, text: str, keep: KeepSetting | None = None) -> Outcome:
    """This one stands in line from now on; after `always` it goes onto the bench's list as well.
    Raises StoreError where that can't be kept."""
    words = text.split()
    always = words[:1] == [ALWAYS]
    try:
        found = read_limiter(" ".join(words[1:] if always else words))
    except BadEntryError as error:
        return Outcome.refused(error.one_line())
    if session.state.board_state.plugged and session.state.board_state.lamp_watts:
        return Outcome.refused("Pull the plug first (U): what stands in line is live.")
    session.record(ev.DetailNoted(LIMITER_DETAIL, found.text))
    if always and keep is not None:
        session.limiters = tuple(dict.fromkeys((*session.limiters, found.text)))[-MOST_KEPT:]
        keep("limiters", session.limiters)
    return Outcome(f"In line: {found.words}.")


def limiter_words(session: JobSession, found: Limiter) -> tuple[str, ...]:
    """With this board: what a short behind it takes, how long it bears that, what still runs."""
    volts = session.board.mains.volts
    said = [f"a short behind it takes {found.short_watts(volts):.0f} W"]
    bears = found.bears_seconds(volts)
    if bears is not None:
        said.append(f"it bears that for {bears:.1f} s")
    said.append(f"up to {found.most_load_watts(volts):.0f} W of load run behind it")
    if bears is not None:
        said.append("it shows nothing: read the bulk at once")
    return tuple(said)
