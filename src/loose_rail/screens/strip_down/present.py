"""Strip down and reassembly: the ledger forward, then in reverse with everything accounted for."""

from __future__ import annotations

from loose_rail.app.disassembling import following, next_step
from loose_rail.app.session import JobSession
from loose_rail.jobs.disassembly import CAUTIONS, Step, account_of, totals_of
from loose_rail.screens.strip_down.state import StripRow, StripState

WARNINGS = (
    "Big glass needs two people; lay it on a flat soft ground, screen down.",
    "Hidden short leads: lift the back a hand's width and look before it comes away.",
)


def strip_state(
    session: JobSession, back: bool, known_warnings: tuple[str, ...] = ()
) -> StripState:
    """The ledger as it stands; `back` plays it in reverse. `known_warnings` come from earlier
    sets of this kind."""
    steps = session.state.steps
    current = next_step(steps) if back else None
    ordered = steps[::-1] if back else steps
    rows = tuple(
        StripRow(
            number=str(step.number),
            words=step.words + _pictures(session, step),
            group=step.event.group,
            status=_status(step, back, current),
        )
        for step in ordered
    )
    done = sum(step.back is not None for step in steps)
    account = account_of(steps, session.state.left_over)
    complete = back and bool(steps) and done == len(steps) and not account
    if complete:
        account = ["Everything is back: nothing missing, nothing surplus."]
    caution = CAUTIONS.get(current.event.group, "") if current else ""
    counts = f"{done} of {len(steps)} put back" if back else f"{len(steps)} steps"
    return StripState(
        title="Putting back, last step first" if back else "Taking apart",
        back=back,
        rows=rows,
        current=next((k for k, step in enumerate(ordered) if step is current), len(rows) - 1),
        now=f"Step {current.number}: {current.words}" if current else "",
        caution=caution,
        totals=tuple((kind, str(count)) for kind, count in totals_of(steps)),
        account=tuple(account),
        complete=complete,
        done=counts,
        warnings=(*known_warnings, *(WARNINGS if not steps else ())) if not back else (),
        notes=tuple(text for stage, text, _ in session.state.notes if stage == "strip_down"),
        action="It is back" if current else f"Go to {following(session).replace('_', ' ')}",
    )


def _pictures(session: JobSession, step: Step) -> str:
    count = sum(one.about == f"step:{step.number}" for one in session.state.photos)
    return f"  · {count} photo{'' if count == 1 else 's'}" if count else ""


def _status(step: Step, back: bool, current: Step | None) -> str:
    if not back:
        return ""
    if step is current:
        return "now"
    if step.back is None:
        return "waits"
    return f"{step.missing} missing" if step.missing else "back"
