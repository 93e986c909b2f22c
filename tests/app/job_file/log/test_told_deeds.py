"""Deeds and notes that decide: good lamps in the place of the set's, strings on a tester, a signal
given by hand, a dummy load that is held, what a note tells beside its reading."""

import unittest

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.read import Case
from loose_rail.boards.barrier import reads_insulation
from loose_rail.diagnosis.inference.isolation import MOST_UNISOLATED
from loose_rail.diagnosis.proof.plan import proof_plan
from tests.app.job_file.log.test_told_by_itself import AMPLIFIER
from tests.app.job_file.log.test_told_pairs import case_of, leader

Log = dict[str, str]
DIMMED = (
    "standby 5 V, flyback 12 V, LED driver 72 V",
    [("CN1", 2, "5VSB PS-ON 12V 12V GND GND BL-ON ADJ"), ("CN2", 1, "LED+ LED-")],
    "high",
)
STRINGS = (
    "standby 5 V, PFC, LLC 12 V, two LED strings 118 V",
    [("CN6", 1, "LED1+ LED1- LED2+ LED2-"), ("CN1", 2, "5VSB PSON 12V 12V GND GND BLON PDIM")],
    "high",
)
TUBES = (
    "monitor flyback 14 V and 5 V, CCFL inverter with four lamp sockets on the same board",
    [("CN301", 1, "5V 5V GND GND 14V ON BRT"), ("CN302", 1, "LAMP1 LAMP2")],
    "none",
)
ON = {"state": "on, complete"}
DRAINED = {"state": "unplugged, drained"}
HIGH_AND_LOW = (("5.9", "21.3"), ("4.1", "14.6"))


def boards(case: Case) -> dict[str, float]:
    return {one["board"]: one["probability"] for one in answer(case, 1)["suspects"]["boards"]}


def chance(case: Case, words: str) -> float:
    parts = answer(case, 12)["suspects"]["parts"]
    return sum(float(one["probability"]) for one in parts if words in one["title"])


class Deeds(unittest.TestCase):
    def test_a_signal_given_by_hand_is_one_that_the_main_board_keeps_back(self) -> None:
        dark = [
            ON,
            {"read": "3.3 V", "at": "BL-ON"},
            {"read": "0.0 V", "at": "ADJ"},
            {"read": "12.0 V", "at": "CN1-3"},
        ]
        given = {"did": "forced", "what": "ADJ to 3.3 V through 1 k", "result": "light, even, 71 V"}
        before, after = case_of(DIMMED, *dark), case_of(DIMMED, *dark, given)
        self.assertGreater(boards(after).get("main board", 0.0), 0.7)
        self.assertLess(boards(before).get("main board", 0.0), 0.7)
        self.assertIn("brightness", leader(after))

    def test_strings_are_told_apart_on_a_tester(self) -> None:
        result = "string 2 lights at 117 V, string 1 stays dark"
        deed = {"did": "unplugged", "what": "CN6, string tester on each pair", "result": result}
        case = case_of(STRINGS, DRAINED, deed)
        self.assertEqual(leader(case).split(" one ")[0], "LED strips 1")
        turned = {**deed, "result": "string 1 lights at 117 V, string 2 stays dark"}
        self.assertEqual(
            leader(case_of(STRINGS, DRAINED, turned)).split(" one ")[0], "LED strips 2"
        )

    def test_a_good_tube_in_its_place_is_as_good_as_a_new_one(self) -> None:
        what = "lamp 1, a known good tube held in its place"
        cured = {"did": "unplugged", "what": what, "result": "light stays on"}
        same = {"did": "unplugged", "what": what, "result": "goes dark just the same"}
        self.assertIn("tubes", leader(case_of(TUBES, ON, cured)))
        self.assertLess(chance(case_of(TUBES, ON, same), "tubes"), 0.05)

    def test_a_supply_that_holds_a_dummy_load_is_hardly_bad(self) -> None:
        sags = [ON, {"read": "12.1 V, then 3 V, again and again", "at": "CN1-5"}]
        load = {"did": "loaded", "what": "12 V with 2.2 ohm, PSON to 5VSB by 1k, main board off"}
        held = case_of(AMPLIFIER, *sags, {**load, "result": "12.0 V for a quarter of an hour"})
        gave = case_of(AMPLIFIER, *sags, {**load, "result": "sags to 6 V"})
        self.assertLess(boards(held).get("power board", 0.0), 0.5 * boards(gave)["power board"])
        state = {"state": "forced, main cable off, 2.2 ohm 100 W across the 12 V"}
        read = [{"read": volts, "at": "CN1-5"} for volts in ("12.0 V", "6 V")]
        as_held, as_gave = (case_of(AMPLIFIER, *sags, state, one) for one in read)
        self.assertLess(boards(as_held)["power board"], 0.5 * boards(as_gave)["power board"])

    def test_the_board_behind_a_plug_of_its_own_is_none_of_the_main_board(self) -> None:
        log = [
            ON,
            {"read": "24 V falling to 11 V", "at": "CN5-1"},
            {"did": "unplugged", "what": "CN5", "result": "stays on, picture, no sound"},
            {"read": "24.2 V", "at": "CN5-1"},
            DRAINED,
            {"read": "2.2 ohm", "at": "24 V at the amplifier's end of that lead", "mode": "ohms"},
        ]
        self.assertIn("sound amplifier", leader(case_of(AMPLIFIER, *log)))


class AfterACure(unittest.TestCase):
    def test_the_set_that_runs_is_read_with_its_load_and_no_part_is_advised_again(self) -> None:
        log = [
            ON,
            {"read": "0 to 4 V, pulsing", "at": "CN1-3"},
            DRAINED,
            {"read": "3 ohm", "at": "12 V reservoir", "mode": "esr"},
        ]
        new = {"did": "replaced", "what": "12 V reservoir", "result": "cured, ran all evening"}
        found = answer(case_of(DIMMED, *log, new), 3)
        self.assertEqual(found["next"][0]["state"], "on/cable/direct")
        self.assertIn("12V", found["next"][0]["title"])
        self.assertFalse((found["stop"] or {}).get("repair_now"))

    def test_a_cord_from_outside_asks_for_no_insulation(self) -> None:
        for what, asked in (("mains cord", False), ("bridge rectifier", True)):
            case = case_of(DIMMED, {"did": "replaced", "what": what, "result": "works again"})
            board = case.engine.table.board
            plan = proof_plan(case.engine.table, review_of(case).job)
            reads = [reads_insulation(board, point.candidate.probe) for point in plan]
            self.assertEqual(any(reads), asked, what)


class Notes(unittest.TestCase):
    def test_what_a_note_sees_and_which_can_is_meant_later(self) -> None:
        seen = {"seen": "top pushed up", "at": "bulk capacitor"}
        esr = {"read": "11 ohm", "at": "the domed can", "mode": "esr"}
        case = case_of(STRINGS, seen, DRAINED, esr)
        self.assertIn("bulk capacitor", leader(case))
        split = {"read": "7 ohm", "at": "blue disc", "mode": "ohms", "note": "body split"}
        plain = {**split, "note": ""}
        log = [DRAINED, {"read": "OL", "at": "main fuse", "mode": "ohms"}]
        told, untold = case_of(STRINGS, *log, split), case_of(STRINGS, *log, plain)
        self.assertGreater(chance(told, "varistor"), chance(untold, "varistor"))

    def test_leads_set_anew_rule_out_a_slip(self) -> None:
        open_arm = {"read": "OL", "at": "bridge, AC 2 to plus", "mode": "diode"}
        once = case_of(STRINGS, DRAINED, open_arm)
        twice = case_of(STRINGS, DRAINED, {**open_arm, "note": "both directions"})
        self.assertGreater(chance(twice, "bridge"), chance(once, "bridge"))

    def test_of_parts_of_one_age_the_one_that_was_measured_is_named(self) -> None:
        lost = {"read": "0.2 uF", "at": "LED output capacitor", "mode": "capacitance"}
        case = case_of(DIMMED, DRAINED, {**lost, "note": "22 uF printed"})
        self.assertIn("LED output capacitor", leader(case))

    def test_a_spent_remote_may_be_all(self) -> None:
        log = [
            {"said": "Does not turn on any more."},
            {"state": "plugged in, complete"},
            {
                "did": "reset",
                "what": "the button on the set",
                "result": "starts, picture and sound",
            },
        ]
        remote = {"seen": "leaked", "at": "batteries of the remote"}
        before, after = case_of(DIMMED, *log), case_of(DIMMED, *log, remote)
        sound = "nothing wrong with the supply"
        self.assertGreater(boards(after)[sound], boards(before)[sound])

    def test_a_rail_as_wrong_as_before_says_that_the_new_part_was_not_it(self) -> None:
        """And one that is right again that it was; volts of another rail say neither."""
        high = ({"state": "lamp in series, standby, main cable off"}, {"read": "7.4", "at": "5VSB"})
        for result, words in (
            ("7.3 V", "changed nothing"),
            ("7.9 V", "changed nothing"),
            ("5.06 V", "cured it"),
            ("5.2 V at first", "not plain"),
        ):
            deed = {"did": "replaced", "what": "shunt regulator of the standby", "result": result}
            told = case_of(STRINGS, *high, deed).notes.understood[-1]
            self.assertIn(words, told, result)

    def test_warm_air_that_brings_the_fault_is_no_cure_and_not_nothing(self) -> None:
        for result, words in (
            ("5 V collapses within a minute, every time", "brought the fault"),
            ("rail sags at once", "brought the fault"),
            ("no change", "no change"),
        ):
            deed = {"did": "heated", "what": "a regulator on the main board", "result": result}
            told = case_of(STRINGS, {"state": "on, complete"}, deed).notes.understood[-1]
            self.assertIn(words, told, result)

    def test_the_fuse_in_the_plug_is_the_cords(self) -> None:
        dead = {"said": "Stone dead since we moved."}
        fuse = {"read": "open", "at": "cartridge fuse in the plug", "mode": "ohms"}
        new = {"did": "replaced", "what": "the fuse in the plug, 3 A", "result": "starts, picture"}
        for log in ((dead, fuse), (dead, fuse, new)):
            found = boards(case_of(STRINGS, *log))
            self.assertEqual(max(found, key=lambda one: found[one]), "other", found)

    def test_what_a_resistor_should_be_is_told_with_its_reading(self) -> None:
        high = ({"state": "standby, main cable off"}, {"read": "5.9", "at": "5VSB"}, DRAINED)
        at = {"at": "upper divider resistor of the standby, one leg lifted", "mode": "ohms"}
        off = case_of(STRINGS, *high, {**at, "read": "12.9k, should be 10k"})
        right = case_of(STRINGS, *high, {**at, "read": "10.1k, should be 10k"})
        self.assertGreater(chance(off, "feedback divider upper"), 0.8)
        self.assertLess(chance(right, "feedback divider upper"), 0.2)

    def test_a_rail_that_stands_too_high_is_no_other_boards_doing(self) -> None:
        plugs = [("CN2", 1, "18V 18V GND GND 5V 5V ON DIM")]
        monitor = ("flyback 18 V and 5 V", plugs, "none")
        both = [({"read": a, "at": "CN2-5"}, {"read": b, "at": "CN2-1"}) for a, b in HIGH_AND_LOW]
        high, low = (boards(case_of(monitor, ON, *pair))["power board"] for pair in both)
        self.assertGreater(high, 0.9)
        self.assertLess(low, MOST_UNISOLATED + 0.01)


if __name__ == "__main__":
    unittest.main()
