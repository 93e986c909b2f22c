"""What a told job finds between two boards: volts that leave and do not arrive, a set that runs
without one of its boards, and a set that was on while it was read."""

import unittest

from benchmarks.heard import BOARDS

from loose_rail.app.job_file.as_job import review_of
from loose_rail.boards.parts_named import parts_named
from loose_rail.jobs import events as ev
from tests.app.job_file.log.test_told_beyond import DEAD, on_boards
from tests.app.job_file.log.test_told_by_itself import AMPLIFIER, PANEL
from tests.app.job_file.log.test_told_deeds import DIMMED, TUBES, chance
from tests.app.job_file.log.test_told_pairs import case_of, leader

ON = {"state": "on, complete"}
LEAVES = {"read": "24.1 V", "at": "CN5-1"}


class BothEnds(unittest.TestCase):
    def test_volts_that_leave_and_do_not_arrive_are_lost_in_the_plug(self) -> None:
        at = "24 V input at the amplifier board's plug"
        lost = case_of(AMPLIFIER, ON, LEAVES, {"read": "17 to 21, jumping", "at": at})
        arrives = case_of(AMPLIFIER, ON, LEAVES, {"read": "24.0 V", "at": at})
        self.assertIn("CN5", leader(lost))
        self.assertLess(chance(arrives, "CN5"), 0.02)

    def test_what_is_seen_there_stands_beside_it_and_a_new_crimp_cures_the_plug(self) -> None:
        at = "24 V input at the amplifier board's plug"
        lost = {"read": "17 to 21, jumping", "at": at}
        brown = {"seen": "brown plastic and dull pins", "at": "CN5, its amplifier end"}
        crimps = {
            "did": "replaced",
            "what": "both crimps of the amplifier cable",
            "result": "24.0 V there, sound for an hour",
        }
        case = case_of(AMPLIFIER, ON, LEAVES, lost, brown, crimps)
        found = [r.event for r in case.records if isinstance(r.event, ev.FindingNoted)]
        self.assertEqual((found[0].part, found[0].seen), ("CN5", "drops_volts"))
        self.assertEqual({one.part for one in found}, {"CN5"})
        self.assertIn("CN5", leader(case))

    def test_a_pin_of_the_jack_brings_the_adapter(self) -> None:
        case = case_of(BOARDS["A"], ON, {"read": "19.2 V", "at": "J9-1"})
        self.assertEqual(case.notes.not_used, [])
        self.assertEqual(len(review_of(case).readings), 1)
        odd = case_of(BOARDS["A"], ON, {"read": "3.2 V", "at": "J9-1"})
        self.assertEqual(len(odd.notes.not_used), 1)


class Without(unittest.TestCase):
    def test_a_set_that_stays_on_without_a_board_went_off_for_it(self) -> None:
        falls = {"read": "12.1 falling to 8.9, then 0", "at": "CN1-7"}
        off = {"state": "on, ribbon cables to the timing board off"}
        steady = {"read": "12.1 V, steady", "at": "CN1-7"}
        told = "Comes on for three seconds, then off again."
        log = ({"said": told}, ON, falls, off, steady)
        plain = case_of(PANEL, *log)
        stays = case_of(PANEL, *log, {"seen": "sound stays, screen lit grey", "at": "front"})
        dark = case_of(PANEL, *log, {"seen": "sound stays for a second, then off", "at": "front"})
        self.assertGreater(on_boards(stays, "timing board"), 2 * on_boards(plain, "timing board"))
        self.assertLessEqual(on_boards(dark, "timing board"), on_boards(plain, "timing board"))

    def test_what_was_read_of_a_set_that_is_seen_playing_was_read_while_it_was_on(self) -> None:
        plays = {"seen": "picture and sound, at once", "at": "front"}
        plugged = {"state": "plugged in at my bench"}
        start = {"read": "3.3 V", "at": "CN1-2"}
        log = (plugged, {"read": "5.1 V", "at": "CN1-1"}, start, {"read": "12.1 V", "at": "CN1-7"})
        case = case_of(PANEL, *log, plays)
        states = {r.state.label for r in review_of(case).readings if not r.voided}
        self.assertEqual(len(states), 1)
        self.assertGreater(on_boards(case, "nothing wrong with the supply"), 0.5)
        asks = case_of(PANEL, {"state": "standby, main cable on"}, *log[1:])
        self.assertLess(on_boards(asks, "nothing wrong with the supply"), 0.1)


class Several(unittest.TestCase):
    def test_a_chain_that_is_open_and_its_resistors_one_after_the_other(self) -> None:
        part = "boost feedback divider upper"
        at = f"{part}, the three resistors from end to end"
        chain = {"read": "OL", "at": at, "mode": "ohms"}
        each = {"read": "1.5 M, 1.5 M, OL", "at": "one after the other", "mode": "ohms"}
        low = {"read": "325 V", "at": "bulk"}
        whole = case_of(AMPLIFIER, ON, low, DEAD, chain)
        told = case_of(AMPLIFIER, ON, low, DEAD, chain, each)
        one_of_three = [chance(whole, f"{part} {number}") for number in (1, 2, 3)]
        self.assertLess(max(one_of_three) - min(one_of_three), 0.02)
        self.assertGreater(chance(told, f"{part} 3"), 3 * one_of_three[2])
        self.assertEqual(told.notes.not_used, [])

    def test_volts_with_the_cable_on_and_off_in_one_result_are_two_readings(self) -> None:
        pulses = {"read": "2.6 to 4.4 V, pulsing", "at": "5VSB"}
        new = {
            "did": "replaced",
            "what": "5 V reservoir",
            "result": "cable off 5.08 V; cable on 3.6 V steady, no start",
        }
        case = case_of(BOARDS["L"], {"state": "standby, cables on"}, pulses, new)
        cables = [r.state.main_cable for r in review_of(case).readings][-2:]
        self.assertEqual(sorted(cables), [False, True])
        same = case_of(
            BOARDS["L"], {"state": "standby, cables on"}, pulses, {**new, "result": "no change"}
        )
        self.assertGreater(on_boards(case, "main board"), 1.1 * on_boards(same, "main board"))

    def test_what_a_main_board_should_pass_on_and_does_not_is_its_own(self) -> None:
        rails = (ON, {"read": "12.1 V", "at": "CN1-5"})
        at = "panel supply at the main board's LVDS plug"
        none, there = (
            case_of(AMPLIFIER, *rails, {"read": volts, "at": at}) for volts in ("0 V", "12.0 V")
        )
        self.assertGreater(on_boards(none, "main board"), 0.7)
        self.assertLess(on_boards(there, "main board"), 0.4)


class Seen(unittest.TestCase):
    def test_a_disc_at_the_mains_is_the_suppressor_and_not_what_it_sits_beside(self) -> None:
        split = {"seen": "disc next to the fuse split in two, soot", "at": "mains entry"}
        ohms = {"read": "0.4 ohm", "at": "suppressor disc", "mode": "ohms"}
        out = {"did": "removed", "what": "suppressor disc"}
        free = "bridge side of the fuse now open, pads clean"
        case = case_of(BOARDS["L"], DEAD, split, ohms, {**out, "result": free})
        found = next(r.event for r in case.records if isinstance(r.event, ev.FindingNoted))
        self.assertEqual(case.case_board.board.component(found.part).kind, "surge_suppressor")
        self.assertIn("varistor", leader(case))

    def test_one_transformer_that_is_not_like_the_others_of_its_inverter(self) -> None:
        place = "secondary of inverter transformer"
        three = {"read": "1.04 k", "at": f"{place}s T3, T4 and T6", "mode": "ohms"}
        one = {"read": "0.71 k", "at": f"{place} T5", "mode": "ohms"}
        alike = case_of(TUBES, DEAD, three, {**one, "read": "1.02 k"})
        odd = case_of(TUBES, DEAD, three, one)
        self.assertGreater(chance(odd, "transformer"), 0.9)
        self.assertLess(chance(alike, "transformer"), 0.3)


class Answers(unittest.TestCase):
    def test_what_falls_under_the_finger_is_a_joint_there_and_no_course(self) -> None:
        pressed = {"read": "24.2 V, drops to 11 when I press near the output coil", "at": "CN5-1"}
        ring = {"seen": "grey ring around both legs", "at": "output coil L804"}
        fresh = {
            "did": "replaced",
            "what": "solder on L804, fresh",
            "result": "tapped everywhere, 24.2 stays, two evenings",
        }
        case = case_of(AMPLIFIER, ON, pressed, DEAD, ring, fresh)
        self.assertEqual([r.observation.text() for r in review_of(case).readings], ["24.2 V"])
        self.assertIn("output coil", leader(case))
        self.assertEqual(parts_named(case.case_board.board, "output coil"), [])

    def test_a_part_that_makes_the_fault_less_when_it_is_warm_has_answered(self) -> None:
        high = {"read": "6.9 then 0 then 6.9, over and over", "at": "5VSB"}
        warm = {"did": "heated", "what": "standby optocoupler"}
        part = "standby feedback optocoupler"
        plain, slower, same = (
            chance(case_of(AMPLIFIER, ON, high, *({**warm, "result": r} for r in told)), part)
            for told in ((), ("chirp gets slower, 6.1 V",), ("chirps as before",))
        )
        self.assertGreater(slower, 1.2 * plain)
        less = case_of(AMPLIFIER, ON, high, {**warm, "result": "chirp gets slower, 6.1 V"})
        self.assertIn("made it less", " ".join(less.notes.understood))  # it cured nothing
        self.assertLess(same, 1.1 * plain)

    def test_strips_are_on_the_tester_from_the_state_on(self) -> None:
        state = {"state": "off, led tester on each bar"}
        told = {"at": "the four bars, one after the other"}
        dark = case_of(DIMMED, state, {**told, "read": "bars 1, 2, 4 light, bar 3 stays dark"})
        lit = case_of(DIMMED, state, {**told, "read": "all four light, bright"})
        self.assertGreater(chance(dark, "LED strip"), 0.9)
        self.assertLess(chance(lit, "LED strip"), 0.1)
        self.assertEqual(dark.notes.not_used + lit.notes.not_used, [])


if __name__ == "__main__":
    unittest.main()
