"""A reading of the ledger with its probe, judged against a good board."""

from __future__ import annotations

from loose_rail.boards.probes import Probe
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs.state import Reading
from loose_rail.judgement.judge import Judgement


def judged(table: PredictionTable, reading: Reading) -> tuple[Probe, Judgement]:
    """The probe that was read, and what the reading says of it."""
    column = column_of(table, table.index(reading.candidate))
    return column.probe, column.judged(reading.observation)
