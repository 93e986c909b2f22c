"""What is told of boards that come in pairs, of parts that were replaced together, and of rails
that read lower than a bare board."""

import json
import tempfile
import unittest
from pathlib import Path

from benchmarks.heard import BOARDS

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.read import Case, read_case
from loose_rail.boards.own.board import own_board
from loose_rail.boards.own.make_up import OwnBoard, OwnConnector
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import value
from loose_rail.vocabulary.roles import BoardRole

PLASMA = (
    "plasma supply: standby 5 V, PFC, 15 V, VA 60 V, VS 190 V",
    [
        ("P1", 1, "5VSB RLY VS_ON GND"),
        ("P2", 1, "VS GND"),
        ("P3", 1, "VS GND"),
        ("P4", 1, "VA GND 15V"),
    ],
    "high",
)


def case_of(board: tuple[str, list[tuple[str, int, str]], str], *log: dict[str, str]) -> Case:
    plugs = [{"name": n, "rows": r, "pins": pins.split()} for n, r, pins in board[1]]
    document = {
        "schema": "loose-rail/case/2",
        "set": {"kind": "LED TV", "age_years": 6},
        "board": {"kind": board[0], "mains": 230, "wake": board[2], "connectors": plugs},
        "log": list(log),
    }
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "job.json"
        path.write_text(json.dumps(document), encoding="utf-8")
        return read_case(path, engine_for)


def the_cord(case: Case) -> str:
    return case.case_board.board.roles[BoardRole.CORD][0]


def leader(case: Case) -> str:
    return str(answer(case, 1)["suspects"]["parts"][0]["title"])


class Pairs(unittest.TestCase):
    def test_one_of_two_that_reads_good_clears_neither(self) -> None:
        left = {"read": "6 ohm", "at": "VA of the left address buffer board", "mode": "ohms"}
        right = {"read": "9 k", "at": "VA of the right address buffer board", "mode": "ohms"}
        for log in ((left, right), (right, left)):
            case = case_of(PLASMA, {"state": "unplugged, drained"}, *log)
            read = review_of(case).dossier.evidence
            self.assertEqual([one.observation.low for one in read], [6.0])
            self.assertIn("address drive boards", leader(case))

    def test_what_is_plugged_again_is_not_off_and_its_twin_tells_more(self) -> None:
        on = {"state": "set complete, on"}
        sags = {"read": "190 V, then sags to 90", "at": "P2-1"}
        twin = {"did": "unplugged", "what": "board at P3", "result": "the same"}
        helps = {"did": "unplugged", "what": "board at P2, P3 plugged again", "result": "VS stays"}
        case = case_of(PLASMA, on, sags, twin, helps)
        families = [one.clue.family for one in case.besides]
        self.assertEqual(families, ["unplugged:ZB", "unplugged:YB"])
        self.assertIn("Y drive board", leader(case))
        apart = [one.clue.log for one in case_of(PLASMA, on, sags, helps).besides][-1]
        together = case.besides[-1].clue.log
        self.assertLess(float(together.min()), float(apart.min()))

    def test_what_is_pointed_back_to_is_the_part_that_was_named(self) -> None:
        can = {
            "read": "14 ohm",
            "at": "small electrolytic at the VCC pin of the standby chip",
            "mode": "esr",
            "note": "22 uF 50 V",
        }
        for words in ("that 22 uF", "the 22 uF 50 V", "22uF", "it", "the dried one", "that can"):
            new = {"did": "replaced", "what": words, "result": "starts at once"}
            case = case_of(BOARDS["L"], {"state": "unplugged, drained"}, can, new)
            fitted = [r.event.part for r in case.records if isinstance(r.event, ev.PartFitted)]
            self.assertEqual(fitted, ["standby controller supply capacitor"], words)
        switch = {"read": "0.3 ohm", "at": "Q803 of the 5 V standby, D-S", "mode": "ohms"}
        sense = {"read": "OL", "at": "R811, 0.47R in its source", "mode": "ohms"}
        read = case_of(BOARDS["L"], {"state": "not plugged in, caps empty"}, switch, sense).told
        self.assertEqual(
            [one.words.partition(":")[0] for one in read],
            ["standby switch", "source sense resistor"],
        )

    def test_parts_replaced_together_and_the_limiter_that_goes_out(self) -> None:
        log = [
            {"state": "unplugged, drained"},
            {"read": "OL", "at": "main fuse", "mode": "beep"},
            {"did": "replaced", "what": "varistor and main fuse", "result": "series lamp goes out"},
        ]
        self.assertIn("varistor", leader(case_of(BOARDS["L"], *log)))
        log[-1]["what"] = "main fuse"
        self.assertNotIn("varistor", leader(case_of(BOARDS["L"], *log)))

    def test_a_film_capacitor_against_its_print(self) -> None:
        for note, bad in (("print 33 nF", True), ("printed 33n", True), ("print 9n2", False)):
            read = {"read": "9 nF", "at": "resonant capacitor", "mode": "capacitance"}
            case = case_of(BOARDS["L"], {"state": "unplugged"}, {**read, "note": note})
            self.assertIs("resonant capacitor" in leader(case), bad, note)


class Elsewhere(unittest.TestCase):
    def test_an_adapter_that_is_pulled_is_read_by_itself(self) -> None:
        for result, families in (
            ("19.2 V at its plug, steady", ["removed:adapter"]),
            ("7 V at its plug", ["removed:adapter"]),
            ("0 V at the input of the board", []),  # nothing of the adapter
        ):
            pulled = {"did": "unplugged", "what": "adapter from the monitor", "result": result}
            case = case_of(BOARDS["A"], {"said": "No light at all."}, pulled)
            cord = the_cord(case)
            found = [one.clue.family.replace(cord, "adapter") for one in case.besides]
            self.assertEqual(found, families, result)
            if families:
                own = next(k for k, row in enumerate(case.engine.table.rows) if row.part == cord)
                speaks_for = case.besides[0].clue.log[own] > case.besides[0].clue.log[0]
                self.assertIs(bool(speaks_for), "7 V" in result)

    def test_current_fed_into_another_board_heats_a_chip_there(self) -> None:
        fed = {"did": "injected", "what": "1 V 2 A into the main board's 5 V"}
        hot = case_of(BOARDS["L"], {**fed, "result": "a small chip on it gets hot at once"})
        self.assertEqual([one.clue.family for one in hot.besides], ["removed:MB"])
        self.assertEqual(hot.notes.not_used, [])
        cold = case_of(BOARDS["L"], {**fed, "result": "nothing gets hot"})
        self.assertFalse(cold.besides)
        at_plug = "1 V 2 A into the 12 V pin of the main board's plug"
        here = case_of(BOARDS["L"], {**fed, "what": at_plug, "result": "12 V rectifier gets hot"})
        self.assertIn("located:12 V rectifier", [one.clue.family for one in here.besides])

    def test_a_rail_that_tries_and_shuts_down_is_read(self) -> None:
        on = {"state": "set complete, on"}
        forced = {"did": "forced", "what": "PS-ON with 1k from 5VSB, main cable off"}
        tries = {**forced, "result": "12V up to 7 V and shuts down"}
        case = case_of(BOARDS["L"], on, tries)
        taken = [r.event for r in case.records if isinstance(r.event, ev.ReadingTaken)]
        self.assertEqual([(one.low, one.high) for one in taken], [(0.0, 7.0)])
        self.assertIn("forced/bare", taken[0].state)
        loaded = {"state": "set complete, on, 12V loaded with 1k"}
        case = case_of(BOARDS["L"], loaded, {"read": "12.0 V", "at": "12V rail"})
        taken = [r.event for r in case.records if isinstance(r.event, ev.ReadingTaken)]
        self.assertNotIn("forced", taken[-1].state)

    def test_the_other_resistor_of_a_name_has_the_other_designator(self) -> None:
        first = {"read": "3.9 M", "at": "first start resistor R11", "mode": "ohms"}
        second = {"read": "480 k", "at": "start resistor R12", "mode": "ohms"}
        new = {"did": "replaced", "what": "R12", "result": "the same"}
        case = case_of(BOARDS["L"], {"state": "unplugged"}, first, second, new)
        taken = [r.event for r in case.records if isinstance(r.event, ev.ReadingTaken)]
        self.assertEqual(len({one.probe for one in taken}), 2)
        replaced = [one.clue.family for one in case.besides if "replaced" in one.clue.family]
        self.assertEqual(replaced, [f"replaced:{taken[1].probe.removesuffix('.ohms')}"])

    def test_lamps_of_another_board_are_no_inverter_here(self) -> None:
        words = "standby 5 V, PFC, LLC 24 V and 12 V"
        pins = ("5VSB", "PS_ON", "GND", "12V", "24V", "GND", "BL_ON")
        plugs = (OwnConnector("CN1", 1, pins),)
        for more, kinds in (
            ("inverter-free, LED driver board beside", set()),
            ("without inverter", set()),
            ("CCFL inverter", {"ccfl"}),
            ("LED driver 96 V", {"led"}),
        ):
            own = OwnBoard("own", f"{words}, {more}", "", plugs, 230.0, "high")
            board = own_board(own).board
            found = {stage.kind for stage in board.stages} & {"led", "ccfl"}
            self.assertEqual(found, kinds, more)


class Rows(unittest.TestCase):
    def test_a_jumper_in_the_pins_stands_before_a_cracked_joint(self) -> None:
        table = engine_for(case_of(BOARDS["L"]).case_board.board).table
        low = table.low[:, table.index("live.main@forced/bare/direct")]
        number = {row.key: k for k, row in enumerate(table.rows)}
        self.assertLess(low[number["CN8:joint:0"]], 1.0)
        self.assertGreater(low[number["CN8:loose:1"]], 0.9 * low[0])

    def test_two_shorted_diodes_of_the_bridge_take_the_fuse(self) -> None:
        table = engine_for(case_of(BOARDS["L"]).case_board.board).table
        prior = {row.key: row.prior for row in table.rows}
        for pair in range(6):
            alone = f"bridge rectifier:short_pair:{pair}"
            self.assertGreater(prior[f"{alone}+main fuse:open:0"], 10 * prior[alone])

    def test_a_rail_of_a_board_that_nobody_knows_may_be_loaded(self) -> None:
        table = engine_for(case_of(BOARDS["L"]).case_board.board).table
        column = column_of(table, table.index("12 V reservoir.ohms@unplugged"))
        number = {row.key: k for k, row in enumerate(table.rows)}
        short = number["12 V rectifier:short:0"]
        loaded = column.likelihood(value(1600.0, "Ω"))
        self.assertGreater(loaded[0], 20 * loaded[short])
        shorted = column.likelihood(value(0.4, "Ω"))
        self.assertGreater(shorted[short], 100 * shorted[0])


if __name__ == "__main__":
    unittest.main()
