"""What gives way to a good load, and what an ESR meter cannot see, before others are blamed."""

import unittest

import numpy as np

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.finding import finding_of
from loose_rail.diagnosis.inference.supply_good import told_by_ripple
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.before_verdict import Closing
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.diagnosis.planning.gives_way import bulk_of_a_boost, sense_of_the_dragged
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.kernel.observation import Observation, open_circuit, ticking, value
from loose_rail.vocabulary.board_state import UNPLUGGED
from tests.shared import the
from tests.whole_jobs.test_jobs_on_boards import engine as engine_of_board, table_of

FACTS = SafetyFacts(UNPLUGGED, 1.0, True)


def shown(table: PredictionTable, row: int, column: int) -> Observation:
    """What a meter shows of a row."""
    low, high = float(table.low[row, column]), float(table.high[row, column])
    unit = table.candidates[column].probe.unit
    if np.isinf(low):
        return open_circuit(unit)
    if table.hertz[row, column] > 0:
        return ticking(max(low, 0.0), high, unit, float(table.hertz[row, column]))
    return value(low, unit)


def led_to(engine: Engine, row: int, most: int) -> list[str]:
    """The plan followed on a set that reads just as a row predicts: what was read, and at last the
    part that is found, empty where none is."""
    table, evidence = engine.table, list[Evidence]()
    while len(evidence) < most:
        found = engine.assess(evidence, (), FACTS)
        if found.next_step is None:
            break
        offer = found.next_step.offer
        seen = shown(table, row, offer.column)
        evidence.append(Evidence(len(evidence) + 1, offer.candidate.key, seen))
    keys = [item.candidate for item in evidence]
    return [*keys, found.finding.part if found.finding else ""]


def certain(table: PredictionTable, key: str) -> np.ndarray:
    """All the chances on one row."""
    chances = np.zeros(len(table.rows))
    chances[[row.key for row in table.rows].index(key)] = 1.0
    return chances


SENSES = (
    ("PB-1905-2", "MB:drags:0", "R205"),  # a winding of the converter that has it
    ("PB-2211-1", "MB:drags:0", ""),  # a step-down converter without one
    ("PB-4310-2", "MB:drags:0", "R12"),
    ("PB-4310-2", "MB:drags_main:0", "R32"),
    ("PB-6530-2", "MB:drags:0", "R205"),
    ("PB-6530-2", "TC:drags:0", "R305"),  # behind a switch on the 12 V
    ("PB-6530-2", "MB:elsewhere:0", ""),
)


class GivesWay(unittest.TestCase):
    def test_the_current_sense_is_read_before_a_board_that_drags_is_blamed(self) -> None:
        """A sense resistor that has gone high lets a supply give up under its usual load."""
        for board_id, key, ref in SENSES:
            engine, table = engine_of_board(board_id), table_of(board_id)
            chances = certain(table, key)
            found = the(finding_of(table, chances, ()))
            closing = Closing(engine.planner, chances, FACTS, {}, ())
            column = sense_of_the_dragged(closing, found)
            said = "" if column is None else table.candidates[column].key
            self.assertEqual(said, f"{ref}.ohms@unplugged" if ref else "", (board_id, key))
            read = Closing(engine.planner, chances, FACTS, {said: 1} if said else {}, ())
            self.assertIsNone(sense_of_the_dragged(read, found), (board_id, key))

    def test_the_bulk_is_read_in_use_where_a_stage_boosts_it(self) -> None:
        used, bulk = "live.standby_pin@on/cable/direct", "live.bulk@on/cable/direct"
        for board_id, boosts in (("PB-6530-2", True), ("PB-1905-2", False)):
            engine, table = engine_of_board(board_id), table_of(board_id)
            chances = np.array([row.prior for row in table.rows])
            for taken, wanted in (((), False), ((used,), boosts), ((used, bulk), False)):
                counts = dict.fromkeys(taken, 1)
                column = bulk_of_a_boost(Closing(engine.planner, chances, FACTS, counts, ()))
                self.assertEqual(column is not None, wanted, (board_id, taken))
                if column is not None:
                    self.assertEqual(table.candidates[column].key, bulk)

    def test_a_can_that_an_esr_meter_cannot_see_is_found_by_the_ac_volts_of_its_rail(self) -> None:
        """Dried to the last, beside a ceramic that takes over: in place it reads as new."""
        engine, table = engine_of_board("PB-2211-1"), table_of("PB-2211-1")
        esr = table.index("C202.esr@unplugged")
        own = [k for k, r in enumerate(table.rows) if r.suspect == "C202:dried" and table.single[k]]
        row = min(own, key=lambda k: float(table.low[k, esr]))
        self.assertLess(float(table.low[row, esr]), float(table.low[0, esr]))
        ripples = {table.candidates[k].key for k in told_by_ripple(table)}
        *read, part = led_to(engine, row, 60)
        self.assertEqual(part, "C202", read)
        self.assertTrue(ripples & set(read), read)

    def test_what_the_plan_comes_to_where_a_sense_resistor_has_gone_far_up(self) -> None:
        engine, table = engine_of_board("PB-6530-2"), table_of("PB-6530-2")
        row = max(
            (k for k, r in enumerate(table.rows) if r.suspect == "R205:drifted"),
            key=lambda k: table.rows[k].faults[0].value_scale,
        )
        *read, part = led_to(engine, row, 60)
        self.assertEqual(part, "R205", read)


if __name__ == "__main__":
    unittest.main()
