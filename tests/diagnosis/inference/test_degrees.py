"""How far a rail may stand from its volts by the degree of a fault: a load or its own can leave it
anywhere, what lies behind the barrier leaves it right or stops it; a can comes before the board."""

import unittest

import numpy as np
from hypothesis import given, strategies as st

from loose_rail.app.job_file.as_job import review_of
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.runs import runs_clue
from loose_rail.diagnosis.evidence.tapped import tapped_clue
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.inference.in_fault import in_fault_clue
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.odd_parts import LOOKED_AT_AGAIN, with_odd_parts
from loose_rail.diagnosis.inference.posterior import agreement_of_live_degrees
from loose_rail.diagnosis.model.predictions import UNNOTICED_SHARE
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.observation import open_circuit, value
from tests.app.job_file.log.test_told_evidence import case_of
from tests.shared import table as demo_table, the

STANDBY = "live.standby_pin@standby/cable/direct"


def table() -> PredictionTable:
    return case_of().engine.table


class Degrees(unittest.TestCase):
    def test_between_its_volts_and_nothing(self) -> None:
        here = table()
        number = {row.key: k for k, row in enumerate(here.rows)}
        likely = column_of(here, here.index(STANDBY)).likelihood(value(1.9, "V"))
        for key in ("MB:drags:0", "5 V reservoir:dried:0"):
            for other in ("varistor (MOV):short:0", "standby controller:short:0"):
                # a slip of a lead reads below a rail rather than above: 1.9 V is no proof
                self.assertGreater(likely[number[key]], 2 * likely[number[other]], (key, other))

    def test_a_mild_degree_leaves_another_rail_right(self) -> None:
        here = table()
        number = {row.key: k for k, row in enumerate(here.rows)}
        main = column_of(here, here.index("live.main_pin@on/cable/direct"))
        likely = main.likelihood(value(float(here.low[0, main.number]), "V"))
        dried = likely[number["5 V reservoir:dried:1"]]
        self.assertGreater(dried, 15 * likely[number["standby controller:short:0"]])
        self.assertLess(dried, 0.3 * likely[0])

    def test_a_can_that_is_bad_comes_before_the_board_on_its_rail(self) -> None:
        here = table()
        condemned = Finding("MB", 0.98, Standing.CONFIRMED, (), confirmed_by=(), companions=())
        read = [Evidence(n, "5 V reservoir.esr@unplugged", value(2.6, "Ω")) for n in (1, 2)]
        weights = np.array([row.prior for row in here.rows])
        found = the(with_odd_parts(here, condemned, weights, read, False))
        self.assertEqual(found.part, "5 V reservoir")
        self.assertEqual(dict(found.companions)["MB"], LOOKED_AT_AGAIN)

    def test_one_degree_for_all_rails_and_ripple_goes_with_it(self) -> None:
        """A 12 V that sags and ripples is its reservoir's doing, dried to any degree: both readings
        are paid for once, and in either order."""
        case = case_of(
            {"state": "on, all connected"},
            {"read": "9.1 V", "at": "12V"},
            {"read": "1.2 V", "at": "12V", "mode": "ac volts"},
        )
        here, read = case.engine.table, list(review_of(case).dossier.evidence)
        number = {row.key: k for k, row in enumerate(here.rows)}
        own = number["12 V reservoir:dried:1"]
        together = agreement_of_live_degrees(here, read)
        self.assertGreater(together[own], 0.2)
        self.assertEqual(together[own], agreement_of_live_degrees(here, read[::-1])[own])
        self.assertFalse(agreement_of_live_degrees(here, read[:1]).any())
        self.assertFalse(together[number["varistor (MOV):short:0"]])
        ripple = column_of(here, here.index("live.main_pin.ripple@on/cable/direct"))
        likely = ripple.likelihood(value(1.2, "V"))
        self.assertGreater(likely[own], 3 * likely[number["5 V reservoir:dried:1"]])

    def test_what_leaves_the_bulk_alone_makes_no_hum_on_it(self) -> None:
        here = table()
        number = {row.key: k for k, row in enumerate(here.rows)}
        bulk, cold = number["bulk capacitor:dried:2"], number["12 V reservoir:dried:1"]
        column = column_of(here, here.index("live.bulk.ripple@on/cable/direct"))
        hum = column.likelihood(value(46.0, "V"))
        self.assertGreater(hum[bulk], 10 * hum[cold])


class AtTheEdge(unittest.TestCase):
    @given(st.floats(2.5, 2.6), st.sampled_from(("BD1.d1", "D6.fwd", "Q1.sd.out")))
    def test_the_top_of_a_diode_range_is_ol(self, volts: float, probe: str) -> None:
        """A meter that shows 2.59 V and one that shows OL say the same of an open junction."""
        column = column_of(demo_table(), demo_table().index(f"{probe}@unplugged"))
        shown, over = column.likelihood(value(volts, "V")), column.likelihood(open_circuit("V"))
        gone = np.flatnonzero(column.open)[0]
        self.assertGreater(float(shown[gone] / shown[0]), 50.0)
        self.assertGreater(float(over[gone] / over[0]), 50.0)
        low = column.likelihood(value(0.45, "V"))
        self.assertLess(float(low[gone] / low[0]), 0.1)

    def test_a_start_that_nobody_finds_late_brings_no_set_in(self) -> None:
        """A quarter more in one of two start-up resistors against twice as much."""
        by_key = {row.key: row.prior for row in demo_table().rows}
        for ref in ("R8", "R9"):
            mild, much = by_key[f"{ref}:drifted:0"], by_key[f"{ref}:drifted:1"]
            self.assertAlmostEqual(mild / much, UNNOTICED_SHARE)


class Moments(unittest.TestCase):
    def test_read_while_the_fault_was_there(self) -> None:
        here = table()
        goes = here.shares < 1.0
        key = next(k for k, row in enumerate(here.rows) if row.key == "mains cord:intermittent:0")
        clue = in_fault_clue(here, "live.bulk@standby/cable/direct", value(322.0, "V"), "1", "")
        self.assertTrue(np.all(clue.log[~goes] == 0.0))
        self.assertLess(clue.log[key], -3.0)  # the bulk stood: the cord was whole

    def test_a_set_that_runs_has_its_rails_and_light(self) -> None:
        here = table()
        number = {row.key: k for k, row in enumerate(here.rows)}
        heard, seen = runs_clue(here, "playing", False), runs_clue(here, "picture there", True)
        for key in ("MB:never_asserts:0", "5 V rectifier:short:0"):
            self.assertLess(heard.log[number[key]], heard.log[0] - 2.0, key)
        unlit = number["LED boost switch:open:0"]
        self.assertLess(seen.log[unlit], heard.log[unlit] - 1.0)

    def test_a_contact_answers_most_where_it_is_tapped(self) -> None:
        here = table()
        number = {row.key: k for k, row in enumerate(here.rows)}
        log = tapped_clue(here, ["standby transformer"], "tapped").log
        order = ("standby transformer:intermittent:0", "resonant transformer:intermittent:0")
        self.assertGreater(log[number[order[0]]], log[number[order[1]]] + 1.0)
        self.assertGreater(log[number[order[1]]], log[number["5 V rectifier:short:0"]] + 1.0)


if __name__ == "__main__":
    unittest.main()
