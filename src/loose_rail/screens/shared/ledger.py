"""Readings in the ledger: judged against a good board, with the word on pairs of readings."""

from __future__ import annotations

from collections.abc import Mapping

from loose_rail.boards.probes import Probe
from loose_rail.diagnosis.inference.judged import judged
from loose_rail.diagnosis.review import Review
from loose_rail.jobs.state import Reading
from loose_rail.judgement.judge import Judgement, Verdict
from loose_rail.screens.shared.rail_map.present import Shown
from loose_rail.screens.shared.rows import LedgerRow
from loose_rail.vocabulary.mark import Mark


def ledger_rows(review: Review) -> tuple[LedgerRow, ...]:
    """The whole ledger, oldest first; readings taken back stay, struck through."""
    rows: list[LedgerRow] = []
    partners: dict[tuple[str, bool], Judgement] = {}
    for reading in review.job.readings:
        probe, judgement = judged(review.table, reading)
        reason = judgement.reason
        if reading.voided:
            reason = "taken back"
        else:
            reason = pair_words(reading, judgement, partners) or reason
            if reading.state.plugged and not reading.after_repair:
                partners[(reading.probe, reading.state.main_cable)] = judgement
        state = reading.state.label
        rows.append(
            LedgerRow(
                number=str(reading.number),
                probe=short_title(probe),
                state=f"after: {state}" if reading.after_repair else state,
                reading=reading.observation.text(),
                expected=judgement.expected,
                verdict=Mark(judgement.verdict),
                reason=reason,
                struck=reading.voided,
            )
        )
    return tuple(rows)


def short_title(probe: Probe) -> str:
    """A probe in few words: part and setting for cold ones, the point for live ones."""
    if probe.live:
        return probe.title
    return f"{probe.part} {probe.title.partition(': ')[2] or probe.mode.label}"


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


def shown_readings(review: Review) -> list[Shown]:
    """The readings that count, for the rail map."""
    found = ((judged(review.table, r), r.observation) for r in review.readings)
    return [Shown(probe, seen, judgement) for (probe, judgement), seen in found]
