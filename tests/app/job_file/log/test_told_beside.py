"""What is told beside a value, by rarer places, and by parts that no list has."""

import unittest

import numpy as np
from benchmarks.heard import BOARDS

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.read import Case
from loose_rail.diagnosis.evidence.deed_clues import brightness_clue
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.pulses import overshot
from loose_rail.diagnosis.planning.assessment import Purpose
from loose_rail.kernel.observation import ticking
from tests.app.job_file.log.test_told_deeds import TUBES
from tests.app.job_file.log.test_told_pairs import case_of, leader

L = BOARDS["L"]
ON, DEAD = {"state": "on, complete"}, {"state": "unplugged, drained"}


def clues(case: Case) -> list[str]:
    return [one.words for one in review_of(case).dossier.clues]


class BesideAValue(unittest.TestCase):
    def test_a_capacitor_against_its_print_in_the_same_words(self) -> None:
        for text, says in (("14u, marked 150u", "bad"), ("140u (150u printed)", "good")):
            can = {"read": text, "at": "bulk capacitor", "mode": "capacitance"}
            found = " ".join(clues(case_of(L, DEAD, can)))
            self.assertIn(f"bulk capacitor measured {says}", found, text)

    def test_one_winding_that_is_not_like_its_twin(self) -> None:
        def told(left: str, right: str) -> Case:
            places = (("left", left), ("right", right))
            return case_of(
                TUBES,
                DEAD,
                *[
                    {
                        "read": ohms,
                        "at": f"secondary of the {side} lamp transformer",
                        "mode": "ohms",
                    }
                    for side, ohms in places
                ],
            )

        self.assertIn("transformer", leader(told("980 ohm", "415 ohm")))
        self.assertEqual(clues(told("980 ohm", "955 ohm")), [])
        two = [
            {"read": ohms, "at": f"primary of T{k}", "mode": "ohms"}
            for k, ohms in ((901, "2.1"), (902, "0.6"))
        ]
        self.assertEqual(clues(case_of(L, DEAD, *two)), [])

    def test_some_that_are_open_of_several_that_are_one_here(self) -> None:
        for read, at, mode, bad in (
            ("2.2 and two open", "LED current sense resistors", "ohms", True),
            ("0.52, the other OL", "12 V rectifier", "diode", False),
        ):
            case = case_of(L, DEAD, {"read": read, "at": at, "mode": mode})
            self.assertEqual(any("measured bad" in one for one in clues(case)), bad, read)

    def test_a_string_of_a_divider_is_no_strip_and_the_middle_one_is_a_part(self) -> None:
        place = "upper string of the boost feedback divider, three of 470 k"
        whole = {"read": "1.62 M", "at": place, "mode": "ohms"}
        one = {"read": "0.68 M", "at": "the middle one of them, marked 474", "mode": "ohms"}
        case = case_of(L, DEAD, whole, one)
        taken = [item.candidate for item in review_of(case).dossier.evidence]
        self.assertEqual(taken, ["boost feedback divider upper 2.ohms@unplugged"])
        self.assertEqual(case.notes.not_used, [])

    def test_a_reading_that_answers_to_a_press_is_a_contact(self) -> None:
        for text, moves in (
            ("12 V, drops out when the board is pressed near CN8", True),
            ("12 V, nothing moves when pressed", False),
            ("12 V, steady when the board is flexed", False),
            ("12 V, never drops when the board is flexed", False),
            ("12 V, drops out when the button is pressed", False),
        ):
            found = [one for one in clues(case_of(L, ON, {"read": text, "at": "CN8-5"}))]
            self.assertEqual(any("pressed" in one for one in found), moves, text)

    def test_this_boards_side_of_a_pin_is_no_other_boards(self) -> None:
        for at, part in (
            ("CN8-5 on the power board to gnd", "12 V reservoir"),
            ("CN8-5 on the main bd side to gnd", "main board"),
        ):
            case = case_of(L, DEAD, {"read": "2R2", "at": at, "mode": "ohms"})
            self.assertIn(part, " ".join([*case.notes.understood, *[t.words for t in case.told]]))

    def test_a_bulk_that_runs_up_too_high_is_its_boosts_loop(self) -> None:
        up = {"read": "320 to 455 V in a second, then back to 320", "at": "bulk"}
        now = review_of(case_of(L, ON, up))
        table, item = now.engine.table, now.dossier.evidence[0]
        column = column_of(table, table.index(item.candidate))
        log = column.log_likelihood(item.observation)
        loop = np.array(["boost feedback divider upper" in row.key for row in table.rows])
        drifted = loop & np.array(["drifted" in row.key for row in table.rows])
        self.assertGreater(log[drifted].min(), log[~loop].max() + 1.0)
        lamps = column_of(table, table.index("live.led@on/cable/direct"))
        self.assertFalse(overshot(lamps, ticking(24.0, 160.0, "V", 0.5)))


class OneReading(unittest.TestCase):
    def test_a_signal_that_was_there_and_gone_is_read_a_third_time(self) -> None:
        """A main board is not blamed for one 0 V at a pin where 3.3 V stand."""
        pins = {"read": "24.0 V", "at": "CN8-7"}, {"read": "12.0 V", "at": "CN8-5"}
        gone, there = ({"read": volts, "at": "BL"} for volts in ("0.0 V", "3.3 V"))
        dark = {"said": "Sound, and a black picture; with a torch it is there."}
        step = review_of(case_of(L, dark, ON, *pins, gone, there)).assessment.next_step
        assert step is not None
        self.assertIs(step.purpose, Purpose.THIRD)
        self.assertEqual(step.offer.candidate.probe.observable, "lamps")
        after = case_of(L, dark, ON, *pins, gone, there, there)
        boards = {b["board"]: b["probability"] for b in answer(after, 1)["suspects"]["boards"]}
        once = case_of(L, dark, ON, *pins, gone)
        before = {b["board"]: b["probability"] for b in answer(once, 1)["suspects"]["boards"]}
        self.assertLess(boards.get("main board", 0.0), 0.4 * before["main board"])


class NoList(unittest.TestCase):
    def test_a_resistor_by_its_neighbours_a_tap_and_burnt_contacts(self) -> None:
        between = "resistor between that transistor and VCC of the main controller"
        high = {"read": "OL", "at": f"{between}, marked 4R7", "mode": "ohms"}
        case = case_of(L, DEAD, high)
        stop, finding = (answer(case, 1)[key] for key in ("stop", "finding"))
        self.assertEqual((stop["part"], stop["repair_now"]), (between, True))
        self.assertEqual(finding["part"], between)
        same = {"did": "replaced", "what": "that resistor", "result": "all rails there"}
        self.assertEqual(answer(case_of(L, DEAD, high, same), 1)["finding"]["part"], between)
        tap = {"did": "loaded", "what": "tapped the relay with a stick", "result": "set starts"}
        burnt = "40 to 900 ohm, jumps, with 12 V on its coil"
        contacts = {"read": burnt, "at": "relay contacts", "mode": "ohms"}
        for log, name in (((ON, tap), "relay"), ((DEAD, contacts), "relay contacts")):
            self.assertTrue(any(one.startswith(f"{name} ") for one in clues(case_of(L, *log))))
        at_rest = {**contacts, "read": "OL, no power on its coil"}
        self.assertEqual(clues(case_of(L, DEAD, at_rest)), [])

    def test_a_tap_that_changes_nothing_is_no_answer(self) -> None:
        for where in ("relay", "12 V reservoir"):
            tap = {"did": "loaded", "what": f"tapped the {where} with a stick"}
            for result in ("no change", "still dead", "nothing happens"):
                self.assertEqual(clues(case_of(L, ON, {**tap, "result": result})), [], result)
            for result in ("goes off", "set starts"):
                found = clues(case_of(L, ON, {**tap, "result": result}))
                self.assertTrue(any("tapped" in one for one in found), result)

    def test_dirt_that_was_taken_off_is_no_reset(self) -> None:
        wash = {"did": "reset", "what": "CN8 cleaned with alcohol", "result": "works again"}
        found = clues(case_of(L, ON, wash))
        self.assertIn("CN8 replaced: cured it", found)
        self.assertFalse(any("without mains" in one for one in found))

    def test_a_low_brightness_line_tells_more_where_the_menu_asks_for_all(self) -> None:
        table = review_of(case_of(L, ON)).engine.table
        kept = next(k for k, row in enumerate(table.rows) if row.key == "MB:no_dim:0")

        def ratio(volts: float, full: bool) -> float:
            log = brightness_clue(table, "MB", volts, "", full).log
            return float(log[kept] - log[0])

        self.assertGreater(ratio(0.2, True), ratio(0.2, False))
        self.assertGreater(ratio(0.2, False), 0.0)
        self.assertGreater(ratio(0.0, False), ratio(0.2, False))
        self.assertLess(ratio(3.0, True), -2.0)


if __name__ == "__main__":
    unittest.main()
