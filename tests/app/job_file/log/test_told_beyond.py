"""What lies beyond the points of a model: parts of other boards, settings, contacts, chains, cans
side by side. Each is booked where it belongs, and clears or condemns nothing else."""

import unittest

from benchmarks.heard import BOARDS

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.read import Case
from loose_rail.boards.parts_named import parts_named
from loose_rail.jobs import events as ev
from loose_rail.screens.verdict.present import verdict_state
from tests.app.job_file.log.test_told_off_the_board import chance
from tests.app.job_file.log.test_told_pairs import PLASMA, case_of, leader
from tests.whole_jobs.test_jobs_on_boards import presenter_for

L, C = BOARDS["L"], BOARDS["C"]
ON, DEAD = {"state": "on, complete"}, {"state": "unplugged, drained"}


def on_boards(case: Case, board: str) -> float:
    found = {one["board"]: one["probability"] for one in answer(case, 1)["suspects"]["boards"]}
    return float(found.get(board, 0.0))


def repairs(case: Case) -> str:
    advice = answer(case, 1)["stop"]
    return str(advice["part"]) if advice and advice["repair_now"] else ""


class OtherBoards(unittest.TestCase):
    def test_a_switch_of_the_scan_board_is_no_boost_switch(self) -> None:
        what = "the two switches on the scan board's heatsink"
        out = {"did": "removed", "what": what, "result": "one is short between its outer legs"}
        case = case_of(PLASMA, DEAD, out)
        self.assertIn("Y drive board", leader(case))
        self.assertGreater(on_boards(case, "drive board"), 0.8)
        self.assertEqual(case.notes.not_used, [])

    def test_what_makes_a_drive_boards_volts_stands_on_this_board(self) -> None:
        fuse = {"read": "open", "at": "fuse in front of the address converter", "mode": "ohms"}
        short = {"read": "0.3 ohm", "at": "switch of the address converter", "mode": "ohms"}
        self.assertEqual(repairs(case_of(PLASMA, DEAD, fuse)), "")  # something opened it
        both = case_of(PLASMA, DEAD, fuse, short)
        self.assertEqual(repairs(both), "switch of the address converter")
        self.assertLess(on_boards(both, "drive board"), 0.05)

    def test_a_cable_is_called_by_what_is_printed_at_its_pins(self) -> None:
        off = case_of(PLASMA, ON, {"state": "on, VA cable off"}, {"read": "0 V", "at": "P4-1"})
        states = [reading.state for reading in review_of(off).readings]
        self.assertEqual([state.without for state in states], ["AB"])

    def test_ohms_of_a_signal_clear_no_board(self) -> None:
        dark = {"read": "0 V", "at": "CN8-9"}
        label = L[1][0][2].split()[8]
        free = {"read": "9.6 k", "at": f"{label} at the main board's socket to its ground"}
        told, bare = case_of(L, ON, dark, DEAD, {**free, "mode": "ohms"}), case_of(L, ON, dark)
        self.assertAlmostEqual(on_boards(told, "main board"), on_boards(bare, "main board"), 2)

    def test_what_stays_plugged_is_not_what_was_unplugged(self) -> None:
        out = {
            "did": "unplugged",
            "what": "inverter plug only, main cable on",
            "result": "the same",
        }
        self.assertNotIn("main cable off", " ".join(case_of(C, ON, out).notes.understood))
        out = {"did": "unplugged", "what": "main cable on CN3", "result": "the same"}
        self.assertIn("main cable off", " ".join(case_of(C, ON, out).notes.understood))
        hour = {"did": "unplugged", "what": "set from the mains for an hour", "result": "the same"}
        self.assertIn("reset: no change", case_of(C, ON, hour).notes.understood)


class BesideTheList(unittest.TestCase):
    def test_a_setting_is_no_fault_and_the_plug_is_no_setting(self) -> None:
        menu = {"did": "reset", "what": "picture menu to its defaults", "result": "bright again"}
        plug = {"did": "reset", "what": "plug out for a minute", "result": "bright again"}
        set_, out = case_of(L, ON, menu), case_of(L, ON, plug)
        keys = [one.key for one in review_of(set_).dossier.clues]
        self.assertFalse([key for key in keys if "reset" in key], keys)
        self.assertGreater(
            on_boards(set_, "nothing wrong with the supply"),
            on_boards(out, "nothing wrong with the supply"),
        )
        timer = {"seen": "sleep timer set to 23:00", "at": "menu"}
        cleared = {"seen": "sleep timer is off", "at": "menu"}
        nothing = "nothing wrong with the supply"
        self.assertGreater(
            on_boards(case_of(L, timer), nothing), on_boards(case_of(L, cleared), nothing)
        )

    def test_a_contact_in_ohms(self) -> None:
        at = "CN8 pin 1, solder side to wire"
        for text, poor in (("3.8 ohm, jumps when moved", True), ("0.05 ohm", False)):
            case = case_of(L, DEAD, {"read": text, "at": at, "mode": "ohms"})
            self.assertEqual("CN8" in leader(case), poor, text)
            words = str((answer(case, 1)["finding"] or {}).get("words", ""))
            self.assertNotIn("off the set", words)  # it was read where it is

    def test_one_of_a_chain_that_is_unlike_the_others(self) -> None:
        at = "sense chain of the PFC at the bulk"
        case = case_of(
            L, DEAD, {"read": "1M8, three of them, the middle one 4M7", "at": at, "mode": "ohms"}
        )
        self.assertIn("upper 2", leader(case))
        alike = case_of(
            L, DEAD, {"read": "1M8, three of them, the middle one 1M8", "at": at, "mode": "ohms"}
        )
        self.assertNotIn("upper 2", leader(alike))

    def test_the_worst_of_several_cans_is_what_they_do(self) -> None:
        good = {"read": "0.05", "at": "12 V reservoir, the second", "mode": "esr"}
        bad = {"read": "3.4", "at": "12 V reservoir, the first", "mode": "esr"}
        both = case_of(C, DEAD, bad, good)
        self.assertIn("12 V reservoir", leader(both))
        self.assertEqual([r.observation.low for r in review_of(both).readings], [3.4])
        new = {"did": "replaced", "what": "12 V reservoir", "result": "12.1 V, all well"}
        after = case_of(C, DEAD, bad, new, DEAD, good)  # the new ones are read for themselves
        lows = [
            r.observation.low for r in review_of(after).job.readings if r.observation.unit == "Ω"
        ]
        self.assertEqual(lows, [3.4, 0.05])

    def test_start_resistors_in_line_are_upper_and_lower(self) -> None:
        board = case_of(L).case_board.board
        upper = parts_named(board, "start resistor, upper one")
        lower = parts_named(board, "start resistor, lower one")
        self.assertEqual(len(upper), 1)
        self.assertNotEqual(upper, lower)
        divider = parts_named(board, "upper resistor of the 12 V divider")
        self.assertFalse(set(upper) & set(divider))

    def test_twins_of_an_inverter_are_told_by_their_side(self) -> None:
        left = {"read": "1210 ohm", "at": "left transformer secondary", "mode": "ohms"}
        for ohms, unlike in (("880 ohm", True), ("1180 ohm", False)):
            right = {"read": ohms, "at": "right transformer secondary", "mode": "ohms"}
            self.assertEqual(
                "inverter transformer" in leader(case_of(C, DEAD, left, right)), unlike
            )


class OffTheBoard(unittest.TestCase):
    def test_bad_by_itself_needs_no_reading_in_its_place(self) -> None:
        fuse = {"read": "open", "at": "main fuse", "mode": "ohms"}
        short = {"read": "0.0", "at": "boost switch, drain to source", "mode": "ohms"}
        out = {"did": "removed", "what": "boost switch", "result": "reads short by itself"}
        told = case_of(L, DEAD, fuse, short, out)
        self.assertEqual(answer(told, 1)["finding"]["standing"], "confirmed")
        step = review_of(told).assessment.next_step
        taken = parts_named(told.case_board.board, "boost switch")
        self.assertFalse(step and step.offer.candidate.probe.part in taken)

    def test_the_verdict_says_what_confirms_it_without_a_reading(self) -> None:
        session = presenter_for("PB-4310-2").session
        session.record(ev.ClueNoted("removed", "C21", "bad"))
        headline, words = (state := verdict_state(session)).headline, state.standing
        self.assertIn("C21", headline)
        self.assertNotIn("reading  at", words)
        self.assertIn("it measured bad", words)
        first, other = state.columns[0], next(c for c in state.columns if "C21" not in c.title)
        self.assertTrue(
            first.title.endswith("as the first to fail")
        )  # 82 %, of 98 % that it is bad
        self.assertNotIn("first to fail", other.title)

    def test_a_rail_that_comes_back_alone_leaves_little_outside_the_list(self) -> None:
        low = {"read": "0.7 V", "at": "CN3-8"}
        right = {"read": "5.1 V", "at": "CN3-8"}
        on, off = {"state": "standby, cable on"}, {"state": "standby, cable off"}
        wrong = review_of(case_of(C, on, low)).assessment.probabilities[-1]
        back = review_of(case_of(C, on, low, off, right)).assessment.probabilities[-1]
        self.assertLessEqual(back, 0.03)
        self.assertLessEqual(back, wrong)

    def test_a_start_resistor_of_megohms_leaves_its_chip_at_some_volts(self) -> None:
        at = "VCC of the standby controller to bulk minus"
        alone = {"state": "mains on, board alone"}
        chances = {
            volts: sum(
                chance(
                    case_of(C, alone, {"read": "0 V", "at": "CN3-8"}, {"read": volts, "at": at}),
                    ref,
                    "open",
                )
                for ref in parts_named(case_of(C).case_board.board, "standby start-up resistor")
            )
            for volts in ("3.1 V", "26 V")
        }
        self.assertGreater(chances["3.1 V"], 3 * chances["26 V"])


if __name__ == "__main__":
    unittest.main()
