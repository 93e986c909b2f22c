"""What is told round a stage: its gate and its supply, its switch in place, a signal held from
outside, what was fitted before the first power, where it was touched, warmed and cooled."""

import unittest

import numpy as np
from benchmarks.heard import BOARDS
from hypothesis import given, strategies as st

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.read import Case
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.evidence.drive_clue import drive_clue, driven_stage
from loose_rail.diagnosis.inference.found_first import KNOWN, UNREAD, read_first
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.stood_still import still_clue
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import open_circuit, value
from tests.app.job_file.log.test_told_pairs import case_of, leader

ON = {"state": "on, all connected"}
DRAINED = {"state": "unplugged, drained"}
DARK = {"said": "Sound, no light. With a torch there is a picture."}
FED = {"read": "24.1 V", "at": "24V"}


def share(case: Case, words: str) -> float:
    """The sum of the suspects whose part is named so."""
    parts = answer(case, 12)["suspects"]["parts"]
    return float(sum(one["probability"] for one in parts if words in str(one["part"])))


def board(case: Case, name: str) -> float:
    boards = answer(case, 1)["suspects"]["boards"]
    return float(next((one["probability"] for one in boards if one["board"] == name), 0.0))


def table() -> PredictionTable:
    return engine_for(case_of(BOARDS["L"]).case_board.board).table


class RoundAController(unittest.TestCase):
    def test_an_undriven_gate_speaks_for_the_chip_and_a_driven_one_against_it(self) -> None:
        chip = "LED driver chip"
        gate = {"at": "gate of the LED boost switch"}
        plain = share(case_of(BOARDS["L"], DARK, ON, FED), chip)
        still = share(case_of(BOARDS["L"], DARK, ON, FED, {"read": "0.0 V", **gate}), chip)
        driven = share(case_of(BOARDS["L"], DARK, ON, FED, {"read": "2.6 V", **gate}), chip)
        self.assertGreater(still, 1.2 * plain)
        self.assertLess(driven, 0.5 * plain)
        here = table()
        self.assertEqual(driven_stage(here.board, "LED boost switch"), "led")
        self.assertRaises(ValueError, drive_clue, here, "bridge rectifier", True, "")

    def test_the_supply_of_a_lamp_driver_is_not_the_rail_of_its_stage(self) -> None:
        pin = {"at": "supply pin of the LED driver chip"}
        case = case_of(BOARDS["L"], ON, {"read": "12.0 V", **pin})
        self.assertFalse([r for r in case.records if isinstance(r.event, ev.ReadingTaken)])
        self.assertIn("it is fed", " ".join(case.notes.understood))
        dead = case_of(BOARDS["L"], ON, {"read": "0.2 V", **pin})
        self.assertTrue([r for r in dead.records if isinstance(r.event, ev.ReadingTaken)])

    def test_what_an_enable_does_when_it_is_held_is_no_reading_of_the_set(self) -> None:
        held = {"did": "forced", "what": "BL-ON through 1 k to 5VSB", "result": "light comes on"}
        after = {"read": "12.1 V", "at": "12V", "note": "BL-ON held"}
        low = {"read": "7.0 V", "at": "12V", "note": "BL-ON held"}
        for read, counts in ((after, False), (low, True)):
            case = case_of(BOARDS["L"], DARK, ON, held, read)
            taken = [r for r in case.records if isinstance(r.event, ev.ReadingTaken)]
            self.assertIs(bool(taken), counts, read)


class InPlace(unittest.TestCase):
    def test_a_sound_switch_may_read_open_and_a_shorted_one_does_not(self) -> None:
        here = table()
        for part in ("boost switch", "standby switch"):
            column = column_of(here, here.index(f"{part}.ds@unplugged"))
            likely = column.likelihood(open_circuit("Ω"))
            short = [k for k, row in enumerate(here.rows) if row.part == part]
            short = [k for k in short if here.rows[k].faults[0].mode == "short"]
            self.assertGreater(likely[0], 0.25, part)
            self.assertLess(max(likely[k] for k in short), 0.02 * likely[0] + 0.01, part)
        resistor = column_of(here, here.index("half-bridge sense resistor.ohms@unplugged"))
        self.assertLess(resistor.likelihood(open_circuit("Ω"))[0], 0.02)  # what conducts does not

    def test_what_was_read_is_named_before_what_may_have_taken_it(self) -> None:
        bang = {"said": "Bang, dead."}
        fuse = {"read": "OL", "at": "main fuse", "mode": "ohms"}
        arm = {"read": "0.00", "at": "bridge, ~1 to +", "mode": "diode", "note": "both ways"}
        self.assertIn("bridge", leader(case_of(BOARDS["L"], bang, DRAINED, fuse, arm)))
        both = {"read": "0.2 ohm", "at": "boost switch, drain to source", "mode": "ohms"}
        case = case_of(BOARDS["L"], bang, DRAINED, fuse, arm, both)
        self.assertIn("boost switch", leader(case))  # both were read: what took it leads

    @given(st.integers(0, 2**32 - 1), st.integers(0, 6))
    def test_naming_keeps_the_sum_and_holds_the_unread_down(self, seed: int, count: int) -> None:
        here = TABLE
        rng = np.random.default_rng(seed)
        chances = rng.dirichlet(np.full(len(here.rows), 0.02))
        refs = sorted({row.part for row in here.rows if row.part})
        read = set(rng.choice(refs, count, replace=False))
        moved = read_first(here, chances, read)
        self.assertAlmostEqual(float(moved.sum()), 1.0, places=9)
        self.assertTrue((moved >= 0.0).all())
        for ref in read:
            has = np.array([any(f.ref == ref for f in row.faults) for row in here.rows])
            kind = here.board.component(ref).kind
            own = np.array([row.part == ref for row in here.rows])
            if kind in ("fuse", "resistor") or chances[has].sum() < KNOWN or not own.any():
                continue
            unread = has & np.array([row.part not in read for row in here.rows])
            most = max(UNREAD, float(moved[own].sum()))
            self.assertLessEqual(float(moved[unread].sum()), most + 1e-9)
            self.assertGreaterEqual(float(moved[own].sum()), float(chances[own].sum()) - 1e-12)

    def test_farads_by_themselves_are_held_to_the_print_in_their_name(self) -> None:
        for told, good in (("6 nF by itself", False), ("32 nF by itself", True)):
            lifted = {"did": "removed", "what": "resonant capacitor 33 nF 630 V", "result": told}
            case = case_of(BOARDS["L"], DRAINED, lifted)
            clues = [r.event for r in case.records if isinstance(r.event, ev.ClueNoted)]
            self.assertEqual([one.answer for one in clues], ["good" if good else "bad"], told)


class BeforePower(unittest.TestCase):
    def test_new_parts_named_with_the_lamp_in_line_are_fitted(self) -> None:
        out = {"did": "removed", "what": "bridge rectifier", "result": "short by itself"}
        for what, fitted in (
            ("new bridge, new T5A, 60 W lamp in line", True),
            ("60 W lamp in line, new fuse", False),
            ("100 W lamp in line", False),
        ):
            lamp = {"did": "limiter", "what": what, "result": "flash, then dark"}
            case = case_of(BOARDS["L"], DRAINED, out, lamp)
            new = [r.event.part for r in case.records if isinstance(r.event, ev.PartFitted)]
            self.assertIs("bridge rectifier" in new, fitted, what)

    def test_the_switch_of_the_cabinet_is_no_silicon(self) -> None:
        new = {"did": "replaced", "what": "mains switch", "result": "runs"}
        case = case_of(BOARDS["L"], {"state": "plugged in"}, {"read": "0 V", "at": "bulk"}, new)
        self.assertGreater(board(case, "other"), 0.8)


class Touched(unittest.TestCase):
    def test_pushing_on_a_part_tells_of_its_joint(self) -> None:
        jumps = {"read": "312 to 391 V", "at": "bulk", "note": "jumps"}
        push = {"did": "loaded", "what": "pushed on the PFC coil with a stick"}
        plain = share(case_of(BOARDS["L"], ON, jumps), "boost choke")
        holds = {**push, "result": "391 V and stays while it is pushed"}
        self.assertGreater(share(case_of(BOARDS["L"], ON, jumps, holds), "boost choke"), 3 * plain)

    def test_warmth_on_another_board_is_that_boards_and_the_same_place_is_kept(self) -> None:
        dips = {"read": "12.1 V, then 7 V for a moment", "at": "12V"}
        warm = {
            "did": "heated",
            "what": "main board, near the big chip",
            "result": "reboots at once",
        }
        cold = {"did": "cooled", "what": "the same place", "result": "runs again"}
        case = case_of(BOARDS["L"], ON, dips, warm, cold)
        self.assertFalse(case.notes.not_used)
        told = [one.clue.key for one in case.besides if one.clue.key.startswith("thermal")]
        self.assertEqual(told, ["thermal:MB:warmed", "thermal:MB:cooled"])
        self.assertGreater(board(case, "main board"), 0.85)

    def test_a_point_that_is_called_steady_does_not_tick(self) -> None:
        here = table()
        key = "live.standby_pin@standby/bare/direct"
        column, seen = column_of(here, here.index(key)), value(2.2, "V")
        log = still_clue(here, key, seen, "2.2 V, steady").log
        caught = column.caught_between(2.2) > 0.5 * column.likelihood(seen)
        self.assertTrue(caught.any())
        self.assertLess(float(log[caught].max()), -0.5)
        self.assertAlmostEqual(float(log[column.steady].min()), 0.0, places=6)


TABLE = table()

if __name__ == "__main__":
    unittest.main()
