"""Readings in the ledger: judged against a sound board, with the word on pairs of readings."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from loose_rail.app.results import judged
from loose_rail.app.session import JobSession
from loose_rail.boards.probes import Probe
from loose_rail.jobs.fold import Reading
from loose_rail.judgement.judge import Judgement, Verdict
from loose_rail.screens.rail_map.present import Shown
from loose_rail.screens.shared.rows import LedgerRow


def ledger_rows(session: JobSession) -> tuple[LedgerRow, ...]:
    """The whole ledger, oldest first; readings taken back stay, struck through."""
    rows: list[LedgerRow] = []
    partners: dict[tuple[str, bool], Judgement] = {}
    for reading in session.state.readings:
        probe, judgement = judged(session, reading)
        reason = judgement.reason
        if reading.voided:
            reason = "taken back"
        else:
            reason = pair_words(reading, judgement, partners) or reason
            if reading.state.plugged and not reading.after_repair:
                partners[(reading.probe, reading.state.main_cable)] = judgement
        state = f"{reading.state.words}, after" if reading.after_repair else reading.state.words
        rows.append(
            LedgerRow(
                str(reading.number),
                short_title(probe),
                state,
                reading.observation.text(),
                judgement.expected,
                str(judgement.verdict),
                reason,
                reading.voided,
            )
        )
    return tuple(rows)


def short_title(probe: Probe) -> str:
    """A probe in few words: part and setting for cold ones, the point for live ones."""
    if probe.live:
        return probe.title
    return f"{probe.part} {probe.title.partition(': ')[2] or probe.mode.words}"


def pair_words(
    reading: Reading, judgement: Judgement, partners: Mapping[tuple[str, bool], Judgement]
) -> str:
    """What the pair with the main cable on and off says, where this reading completes it.

    `partners` holds the last judgement of each probe before, with the cable on or off.
    """
    if not reading.state.plugged or reading.after_repair:
        return ""
    partner = partners.get((reading.probe, not reading.state.main_cable))
    if partner is None:
        if judgement.verdict is Verdict.DISAGREES and not reading.state.main_cable:
            return f"{judgement.reason}, cable off too"
        return ""
    bare, loaded = (partner, judgement) if reading.state.main_cable else (judgement, partner)
    if bare.verdict is Verdict.DISAGREES and loaded.verdict is Verdict.DISAGREES:
        return "cable makes no difference"
    if bare.verdict is Verdict.AGREES and loaded.verdict is Verdict.DISAGREES:
        return "good with the cable off"
    return ""


def shown_readings(session: JobSession, readings: Sequence[Reading]) -> list[Shown]:
    """Readings for the rail map."""
    return [Shown(judged(session, r)[0], r.observation, judged(session, r)[1]) for r in readings]
