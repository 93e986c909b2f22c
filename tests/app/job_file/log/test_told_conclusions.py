"""What a telling reading or deed decides whatever else was read: bad by itself, above its print, a
cure by one part, a supply under load; and what a fault that nobody notices counts."""

import unittest

import numpy as np
from benchmarks.heard import BOARDS
from hypothesis import given, strategies as st

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.log.entries import Did, Read, entries_of
from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.job_file.notes import Notes
from loose_rail.app.job_file.read import Case
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.inference.posterior import log_prior
from loose_rail.diagnosis.inference.supply_good import in_use
from loose_rail.diagnosis.model.symptom_predicates import unnoticed
from loose_rail.diagnosis.planning.stopping import ShopCosts
from loose_rail.jobs import events as ev
from tests.app.job_file.log.test_told_pairs import case_of

DRAINED = {"state": "unplugged, drained"}
ON = {"state": "on, all connected"}


def bad(case: Case, part: str) -> float:
    """How sure the answer is that a part is bad, whatever the cause is called."""
    parts = answer(case, 1)["suspects"]["parts"]
    return max((float(one["part_bad"]) for one in parts if one["part"] == part), default=0.0)


class Known(unittest.TestCase):
    def test_what_measured_bad_by_itself_is_bad_whatever_was_read(self) -> None:
        odd = {"read": "390 V, then 165 V", "at": "bulk"}
        for what, result in (
            ("boost diode", "300 k backward by itself, 0.41 V forward"),
            ("12 V rectifier", "shorted both ways"),
            ("LED boost switch", "0.3R between all legs, 24V line 1k8"),
        ):
            lifted = {"did": "lifted", "what": what, "result": result}
            case = case_of(BOARDS["L"], ON, odd, DRAINED, lifted)
            self.assertGreaterEqual(bad(case, what), 0.85, what)
        good = {"did": "lifted", "what": "boost diode", "result": "OL backward, 0.41 V forward"}
        self.assertLess(bad(case_of(BOARDS["L"], ON, odd, DRAINED, good), "boost diode"), 0.05)

    def test_above_a_told_print_a_resistor_is_bad_and_below_it_is_not(self) -> None:
        ticks = {"read": "0 to 12 V", "at": "12V", "note": "in step"}
        part = "standby start-up resistor 1"
        for read, note, sure in (
            ("2.9 M", "470 k printed", True),
            ("460 k", "470 k printed", False),
            ("120 k", "470 k printed", False),  # what lies beside it lowers it
            ("OL", "470 k printed", False),  # a lead that does not touch reads so, too
        ):
            start = {"read": read, "at": "first standby start resistor", "mode": "ohms"}
            case = case_of(BOARDS["L"], ON, ticks, DRAINED, {**start, "note": note})
            self.assertIs(bad(case, part) >= 0.85, sure, (read, note))

    def test_one_new_part_that_cures_was_it_and_two_share_it(self) -> None:
        new = {"did": "replaced", "what": "boost controller", "result": "392 V, runs for an hour"}
        odd = {"read": "0 to 8 V", "at": "24V", "note": "pumps"}
        self.assertGreaterEqual(
            bad(case_of(BOARDS["L"], ON, odd, new), "boost controller"), 0.8 - 1e-3
        )
        cans = [
            {"read": "1.9 ohm", "at": "1000 uF 10 V of the 5 V", "mode": "esr"},
            {"read": "0.9 ohm", "at": "1000 uF 35 V of the 24 V", "mode": "esr"},
            {"read": "0.04 ohm", "at": "1000 uF 16 V of the 12 V", "mode": "esr"},
            {
                "did": "replaced",
                "what": "1000 uF 10 V and 1000 uF 35 V",
                "result": "starts at once",
            },
        ]
        case = case_of(BOARDS["L"], DRAINED, *cans)
        fitted = [r.event.part for r in case.records if isinstance(r.event, ev.PartFitted)]
        self.assertEqual(fitted, ["5 V reservoir", "24 V reservoir"])

    def test_an_adapter_that_reads_right_unloaded_may_be_weak(self) -> None:
        weak = {"read": "8 to 13 V", "at": "adapter socket", "note": "jumps about"}
        pulled = {"did": "unplugged", "what": "adapter from the monitor"}
        load = {"did": "loaded", "what": "adapter plug with 10 ohm"}

        def adapter(*log: dict[str, str]) -> float:
            shares = answer(case_of(BOARDS["A"], ON, weak, *log), 1)["suspects"]["boards"]
            return next((one["probability"] for one in shares if one["board"] == "other"), 0.0)

        plain = adapter()
        open_circuit = adapter({**pulled, "result": "19.2 V at its plug, still"})
        bent = adapter({**pulled, "result": "19.2 V at its plug whatever I bend"})
        gives_way = adapter({**load, "result": "falls to 6 V"})
        holds = adapter({**load, "result": "19.0 V, holds"})
        self.assertGreater(open_circuit, 0.3 * plain)
        self.assertLess(max(bent, holds), 0.3 * plain)
        self.assertGreater(gives_way, 0.9)


class ShortHand(unittest.TestCase):
    @given(st.integers(0, 399), st.integers(0, 99))
    def test_the_short_hand_of_prints_is_the_number_spelled_out(
        self, whole: int, part: int
    ) -> None:
        for unit, mode in (("V", "dc volts"), ("k", "ohms"), ("R", "ohms")):
            plain = f"{whole}.{part:02d} {'ohm' if unit == 'R' else unit}"
            entries = [
                {"read": f"{whole}{unit}{part:02d}", "at": "x"},
                {"did": "lifted", "what": "x", "result": f"{whole}{unit}{part:02d} by itself"},
            ]
            read, did = entries_of(entries, None, Notes())
            assert isinstance(read, Read)
            assert isinstance(did, Did)
            self.assertEqual(human_value(read.text, mode, ""), human_value(plain, mode, ""))
            self.assertEqual(did.result, f"{plain} by itself")


class Unnoticed(unittest.TestCase):
    def test_it_leaves_every_rail_in_use_where_it_is_and_counts_less(self) -> None:
        table = engine_for(case_of(BOARDS["L"]).case_board.board).table
        quiet = unnoticed(table)
        self.assertTrue(quiet.any())
        self.assertFalse(quiet[0])
        for number in range(len(table.candidates)):
            state = table.candidates[number].state.key
            if not in_use(table, number) or state != "on/cable/direct":
                continue
            sound = float(table.low[0, number])
            off = np.abs(table.low[quiet, number] - sound)
            self.assertTrue(np.all(off <= 0.1 * abs(sound) + 1e-9), table.candidates[number].key)
        now, before = np.exp(log_prior(table)), np.exp(table.log_prior)
        self.assertAlmostEqual(float(now.sum()), 1.0)
        times = now / before
        np.testing.assert_allclose(times[quiet], 0.2 * times[0])

    def test_a_board_costs_more_to_exchange_in_vain_than_a_part(self) -> None:
        costs = ShopCosts()
        self.assertGreater(costs.in_vain(costs.board), 3 * costs.wrong_repair)


if __name__ == "__main__":
    unittest.main()
