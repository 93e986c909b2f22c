"""What is told of a board with its evidence: inductances, ripple without the load, kicks of a
supply that tries, a set that works, a part that is read before it is renewed."""

import json
import tempfile
import unittest
import unittest.mock
from pathlib import Path
from typing import Any

import numpy as np
from benchmarks.heard import BOARDS, RESONANT

from loose_rail import bootstrap
from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.read import Case, read_case
from loose_rail.bootstrap import ENGINES_KEPT, engine_for
from loose_rail.diagnosis.evidence.customer_words import proposals
from loose_rail.diagnosis.evidence.soft_evidence import BAD_WAYS
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import Form, ticking


def case_of(*log: dict[str, str]) -> Case:
    plugs = [{"name": n, "rows": r, "pins": pins.split()} for n, r, pins in BOARDS["L"][1]]
    document = {
        "schema": "loose-rail/case/2",
        "set": {"kind": "LED TV", "age_years": 6},
        "board": {"kind": RESONANT, "mains": 230, "wake": "high", "connectors": plugs},
        "log": list(log),
    }
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "job.json"
        path.write_text(json.dumps(document), encoding="utf-8")
        return read_case(path, engine_for)


def shares(found: dict[str, Any]) -> dict[str, float]:
    return {one["title"]: one["probability"] for one in found["suspects"]["parts"]}


class OtherVoices(unittest.TestCase):
    """What people who write by themselves, or in a language that is not theirs, leave out."""

    ON = ({"state": "on, everything connected"},)
    DEAD = ({"state": "unplugged, drained"},)

    def test_when_it_was_read_is_no_part_of_the_place(self) -> None:
        for place in ("CN8-1 when I press the button", "CN8-1 while pressing the remote key"):
            case = case_of(*self.ON, {"read": "0.02", "at": place, "mode": "dc volts"})
            (read,) = [r.event for r in case.records if isinstance(r.event, ev.ReadingTaken)]
            self.assertTrue(read.probe.startswith("live."), place)
            self.assertEqual(case.notes.not_used, [])

    def test_volts_of_a_result_stand_without_their_unit_and_times_are_none(self) -> None:
        forced = {"did": "forced", "what": "PS-ON to 5VSB, main cable pulled"}
        for result, volts in (
            ("24.1 and 12.2 are coming and stay", [24.1, 12.2]),
            ("24.1 V comes after 3.5 s", [24.1]),
            ("runs 1.5 hours at 2.4 A", []),
        ):
            case = case_of(*self.ON, {**forced, "result": result})
            read = [r.event.low for r in case.records if isinstance(r.event, ev.ReadingTaken)]
            self.assertEqual(read, volts, result)

    def test_words_that_fit_twenty_parts_are_booked_on_none(self) -> None:
        for at in ("resistor", "resistor of the third relay coil", "the thyristor resistor"):
            case = case_of(*self.DEAD, {"read": "OL", "at": at, "mode": "ohms"})
            self.assertEqual(len(case.notes.not_used), 1, at)
            self.assertEqual([r for r in case.records if isinstance(r.event, ev.ReadingTaken)], [])

    def test_what_points_back_to_a_part_that_is_not_known_is_no_other(self) -> None:
        read = {"read": "OL", "at": "the degauss resistor", "mode": "ohms"}
        out = {"did": "removed", "what": "that resistor", "result": "open, out as well"}
        case = case_of(*self.DEAD, read, out)
        self.assertGreaterEqual(len(case.notes.not_used), 1)
        self.assertEqual([r for r in case.records if isinstance(r.event, ev.ClueNoted)], [])

    def test_a_tester_at_the_plug_of_the_strips_tells_of_the_strips(self) -> None:
        for entry, good in (
            ({"did": "removed", "what": "the strip plug", "result": "tester: no light"}, False),
            ({"did": "removed", "what": "the strip plug", "result": "tester: lights up"}, True),
            ({"seen": "tester at each strip: the third stays dark", "at": "panel open"}, False),
        ):
            case = case_of(*self.DEAD, entry)
            told = [one.clue.words for one in case.besides]
            said = "good" if good else "bad"
            self.assertTrue(any(said in words for words in told), (entry, told))
            self.assertFalse(any("plug" in words for words in told), told)

    def test_leads_in_the_wrong_socket_are_a_slip_and_a_lead_in_its_jack_is_none(self) -> None:
        for note, counts in (
            ("leads were in the volts sockets", False),
            ("lead still in the 10 A jack", False),
            ("adapter lead in the jack", True),
            ("leads in the right sockets", True),
        ):
            read = {"read": "12.1", "at": "CN8-5", "mode": "dc volts", "note": note}
            case = case_of(*self.ON, read)
            found = [r for r in case.records if isinstance(r.event, ev.ReadingTaken)]
            self.assertEqual(len(found), counts, note)

    def test_only_what_is_left_on_the_bulk_makes_it_empty(self) -> None:
        """Ohms are read behind this: volts of any other can are none of it."""
        for state, volts in (
            ("unplugged, 0.5 V on the bulk", [0.5]),
            ("unplugged, 2 V left on the main cap", [2.0]),
            ("unplugged, 0.5 V on the can by the fan", []),
        ):
            case = case_of({"state": state})
            events = [r.event for r in case.records if isinstance(r.event, ev.BulkMeasured)]
            self.assertEqual([one.volts for one in events], volts, state)

    def test_what_it_reads_warm_is_the_fault(self) -> None:
        text = "5.1 cold, after 40 min 5.9 and rising"
        case = case_of(*self.ON, {"read": text, "at": "CN8-2", "mode": "dc volts"})
        (read,) = [r.event for r in case.records if isinstance(r.event, ev.ReadingTaken)]
        self.assertEqual(read.low, 5.9)


class Told(unittest.TestCase):
    def test_an_inductance_is_held_against_a_sound_one(self) -> None:
        for read, note, answers in (
            ("8 uH", "a sound one has 900 uH", ["bad"]),
            ("870 uH", "a sound one has 900 uH", ["good"]),
            ("560 uH", "a sound one has 900 uH", []),
            ("8 uH", "", []),
        ):
            case = case_of({"read": read, "at": "standby transformer primary", "note": note})
            clues = [r.event for r in case.records if isinstance(r.event, ev.ClueNoted)]
            self.assertEqual([clue.answer for clue in clues], answers, read)
            self.assertEqual(case.notes.not_used, [], read)

    def test_a_complete_set_that_comes_on_is_on_and_deeds_have_other_words(
        self,
    ) -> None:
        for said, state in (
            ("Shows its logo, goes dark, shows its logo, over and over.", "on/cable/direct"),
            ("Dead, no light at all.", "standby/cable/direct"),
        ):
            case = case_of({"said": said}, {"state": "set complete"}, {"read": "12 V", "at": "12V"})
            taken = [r.event for r in case.records if isinstance(r.event, ev.ReadingTaken)]
            self.assertEqual([one.state for one in taken], [state], said)
        for one, part in (("first", "1"), ("second", "2"), ("last", "2")):
            read = {"read": "OL of 390k", "at": f"{one} of the chain", "mode": "ohms"}
            both = {"read": "0.8 M", "at": "standby start resistors, 2 x 390k", "mode": "ohms"}
            case = case_of({"state": "unplugged"}, both, read)
            taken = [r.event for r in case.records if isinstance(r.event, ev.ReadingTaken)]
            self.assertIn(f"standby start-up resistor {part}.", taken[-1].probe, one)
        swapped = case_of({"did": "swapped", "what": "12 V reservoir", "result": "works"})
        self.assertIn("12 V reservoir", swapped.notes.understood[-1])
        unknown = case_of({"did": "prayed", "what": "12 V reservoir", "result": "works"})
        self.assertIn("known deeds are", unknown.notes.not_used[0].why)

    def test_ripple_without_the_load_is_the_least_there_is_under_it(self) -> None:
        off = {"state": "plugged in, main cable off"}
        high = case_of(off, {"read": "0.35 V", "at": "5VSB", "mode": "ac volts"})
        taken = [r.event for r in high.records if isinstance(r.event, ev.ReadingTaken)]
        self.assertEqual([one.state for one in taken], ["standby/cable/direct"])
        self.assertEqual((taken[0].form, taken[0].low), (Form.ABOVE, 0.35))
        dried = shares(answer(high, 1))
        leader = max(dried, key=lambda title: dried[title])
        self.assertIn("5 V reservoir dried", leader)
        low = case_of(off, {"read": "4 mV", "at": "5VSB", "mode": "ac volts"})
        self.assertFalse([r for r in low.records if isinstance(r.event, ev.ReadingTaken)])
        self.assertEqual(low.notes.not_used, [])

    def test_a_supply_that_tries_into_a_short_may_kick_its_rail(self) -> None:
        table = engine_for(case_of().case_board.board).table
        column = column_of(table, table.index("live.standby_pin@standby/bare/direct"))
        likely = column.likelihood(ticking(0.0, 0.4, "V", None))
        number = {row.key: k for k, row in enumerate(table.rows)}
        short = likely[number["5 V rectifier:short:0"]]
        self.assertGreater(short, 20 * likely[number["source sense resistor:open:0"]])
        self.assertGreater(short, 20 * likely[0])
        high = column.likelihood(ticking(0.0, 3.0, "V", None))
        self.assertLess(high[number["5 V rectifier:short:0"]], 0.2 * short)

    def test_a_set_that_works_as_it_should(self) -> None:
        works = case_of({"seen": "picture, sound and light as they should be", "at": "set"})
        self.assertEqual([one.clue.family for one in works.besides], ["works"])
        not_so = case_of({"seen": "picture is not as it should be", "at": "set"})
        self.assertFalse([one for one in not_so.besides if one.clue.family == "works"])

    def test_another_adapter_that_runs_it(self) -> None:
        for text, meant in (
            ("works on my mother's adapter", True),
            ("with another adapter it runs", True),
            ("does not work with another adapter", False),
        ):
            heard = "other_adapter" in {one.kind for one in proposals(text)}
            self.assertIs(heard, meant, text)

    def test_a_part_is_read_before_it_is_renewed(self) -> None:
        found = answer(
            case_of(
                {"said": "No sign of life, but I can hear a faint chirp."},
                {"state": "plugged, main unplugged"},
                {"read": "0.4 V, kicks a bit", "at": "5VSB"},
                {"read": "9 to 15 V, up and down", "at": "VCC standby controller"},
            ),
            1,
        )
        self.assertFalse(found["stop"]["repair_now"], found["stop"])
        self.assertNotIn("indicator_dim", found["understood"]["symptoms"])


class Measured(unittest.TestCase):
    def test_every_part_of_the_list(self) -> None:
        told = Path(__file__).with_name("measured.txt").read_text(encoding="utf-8").splitlines()
        rows = [[part.strip() for part in line.split("|")] for line in told if line[0] != "#"]
        for what, deed, result, wanted in rows:
            case = case_of({"did": deed, "what": what, "result": result})
            clues = [r.event for r in case.records if isinstance(r.event, ev.ClueNoted)]
            found = clues[0].answer if clues else "none"
            found = BAD_WAYS[0] if found in BAD_WAYS else found
            self.assertEqual(found, wanted, f"{what}: {result}")

    def test_a_clause_of_another_part_does_not_turn_it_round(self) -> None:
        case = case_of(
            {
                "did": "removed",
                "what": "boost switch",
                "result": "dead short; gate resistor 10 ohm reads open",
            }
        )
        clues = [r.event for r in case.records if isinstance(r.event, ev.ClueNoted)]
        self.assertEqual([(c.subject, c.answer) for c in clues], [("boost switch", "bad")])

    def test_the_name_of_a_rail_is_no_reading_of_it(self) -> None:
        case = case_of(
            {"state": "in the set, on"},
            {
                "did": "unplugged",
                "what": "CN8, PS-ON jumpered to 5VSB",
                "result": "12V still nothing",
            },
        )
        taken = [r.event for r in case.records if isinstance(r.event, ev.ReadingTaken)]
        self.assertEqual([(one.low, one.state) for one in taken], [(0.0, "forced/bare/direct")])

    def test_where_it_answers_to_a_touch(self) -> None:
        here = case_of(
            {
                "seen": "tapping round the standby transformer brings the light back",
                "at": "board",
            }
        )
        self.assertEqual([b.clue.key for b in here.besides], ["tapped:standby transformer"])
        anywhere = case_of({"seen": "flexing the board makes it go off", "at": "board"})
        noted = [r.event.symptom for r in anywhere.records if isinstance(r.event, ev.SymptomNoted)]
        self.assertIn("tapping_helps", noted)


class Kept(unittest.TestCase):
    def test_the_last_engines_stay_and_no_more(self) -> None:
        first = case_of().engine
        self.assertIs(first, case_of().engine)
        board = first.table.board
        others = {b"%d" % k: first for k in range(ENGINES_KEPT)}
        with unittest.mock.patch.object(bootstrap, "_ENGINES", others):
            again = engine_for(board)
            self.assertIsNot(again, first)
            self.assertEqual(len(others), ENGINES_KEPT)
            self.assertIs(engine_for(board), again)
        np.testing.assert_array_equal(again.table.low, first.table.low)


if __name__ == "__main__":
    unittest.main()
