"""The content of a job's report, worked out once for every form it is printed in.

The customer's name is on it only where that was asked for: it is the sheet that may be shared.
"""

from __future__ import annotations

import base64
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.app.album import RECORDING
from loose_rail.app.costing import cost_of
from loose_rail.app.hand_back_line import NAME, PHOTOS
from loose_rail.app.handing_over import final_points
from loose_rail.app.ports import Photos
from loose_rail.app.repair import action_of, done_words, method_words
from loose_rail.app.session import JobSession
from loose_rail.app.soaking import soak_now
from loose_rail.diagnosis.evidence.soft_evidence import SOAKED, Clue
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.unproved import left_open
from loose_rail.diagnosis.inference.judged import judged
from loose_rail.diagnosis.proof.standing import Proof, ProofStatus, load_troubles
from loose_rail.diagnosis.review import Review
from loose_rail.jobs.state import Reading
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.proof import ProofLevel
from loose_rail.judgement.rework import Action
from loose_rail.kernel.errors import JobError, PhotoError
from loose_rail.kernel.quantities import engineering, percent

MOST_PLOTS = 3
MOST_PICTURES = 6
"""On the sheet: a row of three, twice."""
MARKS = {Verdict.AGREES: "●", Verdict.DISAGREES: "◆", Verdict.DOUBTFUL: "▲"}


@dataclass(frozen=True, slots=True)
class Line:
    """One reading as it is printed."""

    number: int
    probe: str
    state: str
    reading: str
    expected: str
    verdict: str
    reason: str
    struck: bool
    after_repair: bool


@dataclass(frozen=True, slots=True)
class BeforeAfter:
    """The same point before and after the repair, in words."""

    probe: str
    state: str
    before: str
    after: str
    expected: str
    good: bool


@dataclass(frozen=True, slots=True)
class ReportContent:
    """Everything on the sheet, in words."""

    title: str
    board: str
    complaint: str
    dates: str
    verdict: str
    unproved: tuple[str, ...]
    work: tuple[str, ...]
    proof: ProofLevel
    price: str
    pairs: tuple[BeforeAfter, ...]
    lines: tuple[Line, ...]
    cautions: tuple[str, ...]
    customer: str = ""
    """Printed only where the person asked for it."""
    instruments: str = ""
    bench_times: tuple[str, ...] = ()
    final_list: tuple[tuple[str, str, str], ...] = ()
    """Points of the last look: words, what was measured or said, how it stands."""
    pictures: tuple[tuple[str, str], ...] = ()
    """Photographs that were asked for: their words, and the small picture as a data address."""
    plots: tuple[tuple[str, str], ...] = ()
    """Plots of readings in time: what they show, and the picture as a data address."""
    loads: tuple[str, ...] = ()
    """What the rails read under dummy loads."""
    promises: tuple[str, ...] = ()
    """Warranty, and when to ask again."""
    alarm: tuple[str, ...] = ()
    """What is printed in red: that the repair has failed and why, or that it is not shown."""

    watched: tuple[str, ...] = ()
    """What was seen of a set in which nothing was fitted."""
    fitted: bool = True

    @property
    def proof_words(self) -> str:
        """The level of proof with what it leaves open; none where none was shown, or nothing was
        fitted that could be proved."""
        if not self.fitted:
            return " ".join(["Nothing was fitted: no repair to prove.", *self.watched])
        if self.alarm:
            return "None: nothing after the repair shows that it works."
        title = self.proof.title
        return f"{title[:1].upper()}{title[1:]}. It does not cover: {self.proof.leaves_open}."


CAUTIONS = (
    "Readings were taken by the person who signs; the sheet states what was measured, no more.",
    "Local electrical safety rules come first: insulation and protective conductor are checked by "
    "licensed practice before the set goes back.",
)


def content_of(
    session: JobSession, price: float | None = None, photos: Photos | None = None
) -> ReportContent:
    """Gather the content. Raises JobError without the predictions, which it rests on."""
    review = session.review
    if review is None:
        raise JobError("The sheet needs the predictions.", "Wait until they are worked out.")
    state, board = session.state, session.board
    lines = tuple(_line(review, reading) for reading in state.readings)
    return ReportContent(
        title=f"Job {state.ticket} · {state.set_name}",
        board=f"{board.title}, {board.id}",
        complaint=state.complaint,
        dates=f"taken in {state.opened_at[:10]}, printed after work of {state.last_at[:10]}",
        verdict=_verdict_words(session),
        unproved=left_open(review, Names(board)),
        work=_work(session),
        proof=review.proof.level,
        price=_price(session, price),
        customer=state.detail("customer") if state.detail(NAME) else "",
        instruments=_instruments(state.live_readings),
        bench_times=_bench_times(session),
        final_list=tuple(
            (one.item.words, one.bad or (one.words if one.settled else "not done"), one.status)
            for one in final_points(session)
        ),
        pictures=_pictures(session, photos) if session.state.detail(PHOTOS) else (),
        plots=_plots(session, photos),
        promises=_promises(session),
        pairs=before_after(review),
        loads=_loads(session),
        lines=lines,
        cautions=CAUTIONS,
        alarm=_alarm(review.proof),
        watched=_watched(review.dossier.clues),
        fitted=review.proof.status is not ProofStatus.NONE,
    )


def _watched(clues: Sequence[Clue]) -> tuple[str, ...]:
    """What was seen of the set at its work, each in its own words."""
    seen = [clue.words for clue in clues if clue.key in ("works", SOAKED)]
    return tuple(f"{words[:1].upper()}{words[1:]}." for words in dict.fromkeys(seen))


def _alarm(found: Proof) -> tuple[str, ...]:
    if found.status is ProofStatus.FAILED:
        return ("Not repaired: the repair has failed.", *found.failures)
    if found.status is ProofStatus.NOT_SHOWN:
        return ("The repair is not shown: no reading after it that a dead board would not give.",)
    return ()


def _loads(session: JobSession) -> tuple[str, ...]:
    """The rails under their dummy loads, a line each, with what is wrong there."""
    said = []
    for one, title, wrong in load_troubles(session.board, session.state):
        ripple = f", {engineering(one.ripple, 'V', 2)} AC" if one.ripple is not None else ""
        stands = "; ".join(wrong) if wrong else "holds"
        said.append(f"{title} under {one.amps:.2g} A: {one.volts:g} V{ripple}, {stands}")
    return tuple(said)


def before_after(review: Review) -> tuple[BeforeAfter, ...]:
    """The pairs in words."""
    return tuple(
        BeforeAfter(
            probe=pair.probe.title,
            state=pair.after.state.label,
            before=pair.before.observation.text(),
            after=pair.after.observation.text(),
            expected=pair.judgement.expected,
            good=pair.good,
        )
        for pair in review.pairs
    )


def _line(review: Review, reading: Reading) -> Line:
    probe, judgement = judged(review.table, reading)
    return Line(
        number=reading.number,
        probe=probe.title,
        state=reading.state.label,
        reading=reading.observation.text(),
        expected=judgement.expected,
        verdict=MARKS[judgement.verdict],
        reason="taken back" if reading.voided else judgement.reason,
        struck=reading.voided,
        after_repair=reading.after_repair,
    )


def _verdict_words(session: JobSession) -> str:
    verdict = session.state.verdict
    if verdict is None:
        return "No verdict was accepted."
    if verdict.reason:
        return f"{verdict.title}: decided by the technician, because {verdict.reason}."
    standing = "confirmed at the part" if verdict.standing == "confirmed" else "best match"
    return f"{verdict.title}: {standing}, {percent(verdict.probability)} sure."


def _work(session: JobSession) -> tuple[str, ...]:
    state, work = session.state, []
    parts = {part.ref: part for part in session.board.components}
    if state.way is not None:
        work.append(f"Way on: {state.way.title}.")
    for part in state.fitted:
        known = parts.get(part)
        duty = known.duty if known is not None else ""
        offer = state.offer_for(part)
        by = f" by {offer.offer}" if offer else ""
        stood = known.value if known is not None and session.board.is_read(part) else ""
        old = offer.original if offer and offer.original else stood
        was = f" (it was {old})" if old else ""
        what = f"{part} ({duty})" if duty else part
        if action_of(session, part) is not Action.REPLACE:
            work.append(f"{what}: {done_words(session, part)}")
            continue
        work.append(f"{what} replaced{by}{was}{method_words(session, part)}")
    if state.replacement is not None:
        work += [f"Replacement for {state.replacement.part}: {state.replacement.verdict}"]
        work += state.replacement.notes
    return tuple(work)


def _instruments(readings: Sequence[Reading]) -> str:
    """What read, each once, and how many it read."""
    names = {"typed": "hand, off the meter"}
    counted = Counter(names.get(one.instrument, one.instrument) for one in readings)
    return ", ".join(f"{name} ({count})" for name, count in counted.most_common())


def _bench_times(session: JobSession) -> tuple[str, ...]:
    """When it came, when it was repaired, how long it was worked on and soaked."""
    state, cost = session.state, cost_of(session)
    said = [f"Taken in {state.opened_at[:10]}"]
    if state.fitted_at:
        said.append(f"repaired {state.fitted_at[:10]}")
    if cost.hours:
        said.append(f"{cost.hours:.2f} h of work")
    soak = soak_now(session)
    if soak is not None and soak.attended_hours:
        said.append(f"{soak.attended_hours:.1f} h on soak, attended")
    return tuple(said)


def _pictures(session: JobSession, photos: Photos | None) -> tuple[tuple[str, str], ...]:
    """Small pictures of the job's photographs, the captioned ones first; one that is gone from the
    disk is told in its place."""
    if photos is None:
        return ()
    taken = [one for one in session.state.photos if one.about != RECORDING]
    found = []
    for one in sorted(taken, key=lambda one: not one.caption)[:MOST_PICTURES]:
        words = one.caption or one.about.replace(":", " ")
        try:
            data = photos.thumbnail(one.photo).read_bytes()
        except (PhotoError, OSError) as error:
            found.append((f"{words}: {error}", ""))
            continue
        found.append((words, f"data:image/jpeg;base64,{base64.b64encode(data).decode()}"))
    return tuple(found)


def _plots(session: JobSession, photos: Photos | None) -> tuple[tuple[str, str], ...]:
    """Plots of readings in time that were put on the sheet, the newest last; one that is gone from
    the disk is told in its place."""
    if photos is None:
        return ()
    found = []
    for one in [one for one in session.state.photos if one.about == RECORDING][-MOST_PLOTS:]:
        try:
            data = photos.path(one.photo).read_bytes()
        except (PhotoError, OSError) as error:
            found.append((f"{one.caption}: {error}", ""))
            continue
        found.append((one.caption, f"data:image/png;base64,{base64.b64encode(data).decode()}"))
    return tuple(found)


def _promises(session: JobSession) -> tuple[str, ...]:
    warranty, again = session.state.detail("warranty"), session.state.detail("follow_up")
    said = [f"Warranty: {warranty}"] if warranty else []
    return (*said, f"To be asked again on {again}") if again else tuple(said)


def _price(session: JobSession, price: float | None) -> str:
    handed = session.state.handed_back
    amount = handed.price if handed is not None else price
    if amount is None:
        return ""
    cost = cost_of(session)
    carriage = f", carriage {cost.carriage:.2f}" if cost.carriage else ""
    together = round(amount, 2) == cost.total
    of = f": parts {cost.parts:.2f}{carriage}, {cost.hours:.2f} h at {cost.rate:.2f}"
    return f"{amount:.2f} {session.state.currency}".strip() + (of if together else "")
