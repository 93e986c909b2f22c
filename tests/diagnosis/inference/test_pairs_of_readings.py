"""What readings say together that none says alone: right before a stage and low behind it, decided
in place, dead with the cable and right without, a shorted rail that keeps the board dead."""

import unittest

import numpy as np

from loose_rail.app.job_file.as_job import review_of
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.between_points import ELSEWHERE, agreement_between
from loose_rail.diagnosis.inference.decided_in_place import decided_in_place
from loose_rail.diagnosis.inference.load_pairs import RESERVOIR_DIES, agreement_of_load_pairs
from loose_rail.diagnosis.inference.posterior import bad_probabilities, posterior
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.while_shorted import while_shorted
from loose_rail.kernel.observation import Observation, open_circuit, short_circuit, ticking, value
from tests.app.job_file.log.test_told_pairs import case_of

SWITCHED = (
    "PFC, LLC 12 V, standby 5 V, panel switch on the power board, LED driver 120 V",
    [("CN1", 1, "5VSB PSON PNLON BLON GND GND 12V 12V"), ("CN2", 1, "VPNL VPNL GND GND")],
    "high",
)
TABLE = engine_for(case_of(SWITCHED).case_board.board).table


def read(point: str, state: str, seen: Observation, number: int = 1) -> Evidence:
    return Evidence(number=number, candidate=f"{point}@{state}", observation=seen)


def rows_of(table: PredictionTable, part: str, mode: str) -> list[int]:
    return [
        number
        for number, row in enumerate(table.rows)
        if row.part == part and len(row.faults) == 1 and row.faults[0].mode == mode
    ]


ON = "on/cable/direct"
SOURCE = read("live.main_pin", ON, value(12.05, "V"))
LOW = read("live.panel_pin", ON, value(1.2, "V"), 2)


class Between(unittest.TestCase):
    def test_the_fault_is_between_the_two_or_behind(self) -> None:
        log = agreement_between(TABLE, [SOURCE, LOW])
        for part, mode in (("TC", "drags"), ("panel rail switch", "open"), ("MB", "no_panel")):
            self.assertTrue((log[rows_of(TABLE, part, mode)] == 0.0).all(), part)
        for part, mode in (
            ("12 V reservoir", "dried"),
            ("MB", "drags"),
            ("5 V reservoir", "dried"),
        ):
            found = log[rows_of(TABLE, part, mode)]
            self.assertTrue(np.allclose(found, np.log(ELSEWHERE)), part)
        self.assertEqual(float(log[0]), 0.0)

    def test_nothing_where_the_source_is_not_read_right_or_in_another_state(self) -> None:
        low_source = read("live.main_pin", ON, value(6.0, "V"))
        elsewhere = read("live.main_pin", "forced/bare/direct", value(12.05, "V"))
        for one in (low_source, elsewhere):
            self.assertFalse(agreement_between(TABLE, [one, LOW]).any())
        self.assertFalse(agreement_between(TABLE, [LOW]).any())

    def test_a_board_that_pulls_a_switched_rail_leads(self) -> None:
        asked = read("live.panel_signal", ON, value(3.3, "V"), 3)
        bad = bad_probabilities(TABLE, posterior(TABLE, [SOURCE, LOW, asked], []))
        self.assertEqual(max(bad, key=lambda ref: bad[ref]), "TC")


class InPlace(unittest.TestCase):
    def test_a_number_that_only_its_part_makes_decides_and_no_ol(self) -> None:
        coupler = "main feedback optocoupler.ce"
        low = read(coupler, "unplugged", value(3.0, "Ω"))
        self.assertEqual(decided_in_place(TABLE, [low]), {"main feedback optocoupler"})
        pumps = read("live.main_pin", "forced/bare/direct", ticking(0.0, 3.0, "V", 2.0), 3)
        bad = bad_probabilities(TABLE, posterior(TABLE, [pumps, low], []))
        self.assertGreaterEqual(bad["main feedback optocoupler"], 0.6 - 1e-6)
        again = read(coupler, "unplugged", open_circuit("Ω"), 2)
        self.assertFalse(decided_in_place(TABLE, [low, again]))
        self.assertFalse(decided_in_place(TABLE, [read(coupler, "unplugged", short_circuit("Ω"))]))


class Cable(unittest.TestCase):
    def test_a_rail_that_dies_with_the_cable_speaks_less_for_its_reservoir(self) -> None:
        dead = read("live.main_pin", ON, value(0.0, "V"))
        right = read("live.main_pin", "forced/bare/direct", value(12.05, "V"), 2)
        log = agreement_of_load_pairs(TABLE, [dead, right])
        dried = rows_of(TABLE, "12 V reservoir", "dried")
        self.assertTrue(np.allclose(log[dried], np.log(RESERVOIR_DIES)))
        self.assertTrue((log[rows_of(TABLE, "MB", "drags_main")] == 0.0).all())
        sags = read("live.main_pin", ON, value(9.0, "V"))
        self.assertFalse(agreement_of_load_pairs(TABLE, [sags, right])[dried].any())


class Shorted(unittest.TestCase):
    def test_nobody_powers_a_shorted_rail_to_find_its_part(self) -> None:
        case = case_of(
            SWITCHED,
            {"state": "plugged in"},
            {"read": "0 to 0.2 V", "at": "5VSB", "note": "ticks"},
            {"state": "plugged in, cable off"},
            {"read": "0 to 0.2 V", "at": "5VSB", "note": "ticks"},
            {"state": "unplugged, drained"},
            {"read": "0.3 ohm", "at": "5VSB to ground", "mode": "ohms"},
        )
        found = review_of(case)
        step = found.assessment.next_step
        assert step is not None
        self.assertFalse(step.offer.candidate.probe.live)
        offers = found.assessment.others
        self.assertIsNone(while_shorted(found.table, [], offers))
        evidence = found.dossier.evidence
        free = read("5 V reservoir.ohms", "unplugged", value(2e3, "Ω"), 9)
        self.assertIsNotNone(while_shorted(found.table, evidence, offers))
        self.assertIsNone(while_shorted(found.table, [*evidence, free], offers))
        bulk = [read("bulk capacitor.ohms", "unplugged", value(0.2, "Ω"), 1)]
        self.assertIsNotNone(while_shorted(found.table, bulk, offers))


if __name__ == "__main__":
    unittest.main()
