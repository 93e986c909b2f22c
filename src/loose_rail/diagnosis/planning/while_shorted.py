"""While a rail or the bulk reads as a short nobody powers the board to find the part: it is looked
for dead."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.planner import Offer
from loose_rail.judgement.judge import Verdict
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.roles import BoardRole

SHORT_OHMS = 5.0
"""A rail that reads less to its ground is shorted, whatever hangs on it [P]."""
TELLS_NATS = 0.1
"""A dead reading that tells less than this is not waited for."""


def while_shorted(
    table: PredictionTable, evidence: Sequence[Evidence], offers: Sequence[Offer]
) -> Offer | None:
    """The best reading of the dead board, where a rail or the bulk was read as a short last; else
    None."""
    if not any(_is_short(item.observation) for item in _across_rails(table, evidence).values()):
        return None
    dead = (one for one in offers if not one.candidate.probe.live)
    return next((one for one in dead if one.information >= TELLS_NATS), None)


def _across_rails(table: PredictionTable, evidence: Sequence[Evidence]) -> dict[str, Evidence]:
    """The last wrong reading in ohms from each rail, and from the bulk, to its ground."""
    ends = {rail.net: table.board.cold_ground for rail in table.board.rails}
    for ref in table.board.roles.get(BoardRole.BULK, [])[:1]:
        pins = table.board.component(ref).pins
        ends.setdefault(pins.get("plus", ""), pins.get("minus", ""))
    found: dict[str, Evidence] = {}
    for item in evidence:
        number = table.index(item.candidate)
        probe = table.candidates[number].probe
        ohms = probe.mode in (MeterMode.OHMS, MeterMode.CONTINUITY)
        if not probe.in_place or not ohms or ends.get(probe.plus) != probe.minus:
            continue
        found.pop(probe.plus, None)
        if column_of(table, number).judged(item.observation).verdict is Verdict.DISAGREES:
            found[probe.plus] = item
    return found


def _is_short(observation: Observation) -> bool:
    return observation.form is Form.SHORT or (
        observation.form is Form.VALUE and observation.centre < SHORT_OHMS
    )
