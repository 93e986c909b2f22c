"""Told repair cases, whole: the board composed, the log in order, the answer marked.

All are marked by `python -m benchmarks.told_cases`; here those that are told in the window too and
each eighth beside, for a board of its own takes ten seconds of processor time to predict:
LOOSE_RAIL_WHOLE=1 marks every one.
"""

import json
import tempfile
import unittest
from functools import cache
from pathlib import Path

from benchmarks.told_cases import CASES, TOLD, marks_of

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.read import read_case
from loose_rail.bootstrap import engine_for
from tests.app.test_telling import IN_THE_WINDOW
from tests.material import some

EACH = some(8, 1)
HERE = ("05-reservoir-sags-lamp-lit", "46-zero-read-with-set-off")


@cache
def told(name: str) -> dict[str, object]:
    case = json.loads((CASES / f"{name}.json").read_text(encoding="utf-8"))
    return {key: case[key] for key in TOLD}


class Told(unittest.TestCase):
    def test_the_right_part_and_nothing_forbidden(self) -> None:
        for name in HERE:
            marks = list(marks_of(CASES / f"{name}.json", engine_for))
            for mark in marks:
                self.assertTrue(mark.three, mark)
                self.assertEqual(mark.not_used, 0, mark)
            self.assertTrue(marks[-1].first, marks[-1])
            self.assertEqual(marks[-1].forbidden, [], marks[-1])

    def test_the_first_cases_hold_their_figures(self) -> None:
        """In one process: right board or rightly withheld, causes elsewhere than on the power
        board, first place, first three, next step, and nothing forbidden."""
        every, elsewhere = [], []
        paths = sorted(CASES.glob("*.json"))
        self.assertEqual(len(paths), 48)
        chosen = {*paths[EACH // 4 :: EACH], *(CASES / f"{name}.json" for name in IN_THE_WINDOW)}
        for path in sorted(chosen):
            truth = json.loads(path.read_text(encoding="utf-8"))["truth"]["board"]
            marks = list(marks_of(path, engine_for))
            every += marks
            if truth != "power":
                elsewhere.append(marks[-1].board and marks[-1].lead)
        self.assertGreaterEqual(sum(elsewhere), 0.9 * len(elsewhere))
        for figure, least in (("board", 0.95), ("first", 0.8), ("three", 0.95), ("step", 0.75)):
            right = sum(getattr(mark, figure) for mark in every)
            self.assertGreaterEqual(right, least * len(every), figure)
        self.assertEqual([mark for mark in every if mark.forbidden], [])
        self.assertLessEqual(sum(mark.not_used for mark in every), 2)

    def test_the_first_entries_are_a_job_of_their_own(self) -> None:
        """Told up to an entry, and the log cut there, are the same."""
        whole = told(HERE[0])
        log = list(whole["log"])  # type: ignore[call-overload]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "job.json"
            for after in (0, 4, 9):
                path.write_text(json.dumps(whole), encoding="utf-8")
                first = answer(read_case(path, engine_for, after), 2)
                path.write_text(json.dumps({**whole, "log": log[:after]}), encoding="utf-8")
                self.assertEqual(first, answer(read_case(path, engine_for), 2), after)

    def test_what_is_no_log_is_said_and_nothing_is_lost(self) -> None:
        bad = [{"red": "5 V"}, 7, {"did": "danced", "what": "R1"}, {"read": "hm", "at": "CN5-3"}]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "job.json"
            path.write_text(json.dumps({**told(HERE[0]), "log": bad}), encoding="utf-8")
            found = answer(read_case(path, engine_for), 1)
            self.assertEqual(len(found["not_used"]), len(bad))
            path.write_text(json.dumps({**told(HERE[0]), "log": "none"}), encoding="utf-8")
            self.assertEqual(len(answer(read_case(path, engine_for), 1)["not_used"]), 1)


if __name__ == "__main__":
    unittest.main()
