"""A board of one's own from the command line, through every command that takes a board."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

from loose_rail.__main__ import main

LEGEND = "CN8/2: 24V, 24V, GND, GND, 12V, 12V, 5VSB, GND, PS-ON, BL-ON, WOBBLE, ?"


def run(*arguments: str) -> tuple[int, str, str]:
    """Exit code, what was printed, and the line on standard error."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(list(arguments))
    return code, out.getvalue(), err.getvalue()


class MakeBoard(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.file = self.folder / "XQ-77.json"

    def make(self, *more: str) -> tuple[int, str, str]:
        return run(
            *("make-board", "--number", "XQ-77", "--alias", "4C-1187"),
            *("--kind", "standby flyback, LLC", "--connector", LEGEND, "--start", "high"),
            *("--out", str(self.file), *more),
        )

    def test_what_was_understood_is_told_and_every_command_takes_the_file(self) -> None:
        code, told, _ = self.make(
            *("--bind", "C952 = 12 V reservoir 1000u 25V x2", "--bind", "C9 = frobnicator"),
            *("--volts", "12V: standby 0, on 12.8", "--json"),
        )
        self.assertEqual(code, 0)
        answer = json.loads(told)
        means = {pin["pin"]: pin["means"] for pin in answer["pins"]}
        self.assertEqual(
            [means[k] for k in (1, 3, 7, 9, 10, 11)],
            ["rail", "ground", "standby", "start", "lamps_enable", "unknown"],
        )
        self.assertIn("resonant half-bridge (LLC), 12.8 V", answer["understood"])
        missed = " ".join(answer["not_understood"])
        self.assertIn("WOBBLE", missed)
        self.assertIn("frobnicator", missed)
        self.assertEqual((answer["wake"]["pin"], answer["wake"]["source_pin"]), (9, 7))
        self.assertIn("C952", [part["ref"] for part in answer["parts"]])

        code, told, _ = run("check-board", str(self.file))
        self.assertEqual((code, told.split(":")[0]), (0, "XQ-77"))
        _, told, _ = run(
            *("read", str(self.file), "--probe", "live.standby_pin"),
            *("--state", "standby", "--json"),
        )
        reading = json.loads(told)
        self.assertEqual(reading["red"], {"connector": "CN8", "pin": 7, "label": "5VSB"})
        self.assertEqual(reading["black"]["label"], "GND")
        self.assertAlmostEqual(reading["reading"], 5.0, delta=0.2)
        _, told, _ = run(
            *("read", str(self.file), "--probe", "live.main_pin", "--state", "on", "--json")
        )
        self.assertAlmostEqual(json.loads(told)["reading"], 12.8, delta=0.3)
        _, told, _ = run(
            *("read", str(self.file), "--probe", "C952.esr", "--state", "unplugged", "--json")
        )
        self.assertEqual(json.loads(told)["red"], {"part": "C952", "pin": "plus"})

    def test_a_told_job_may_name_the_file(self) -> None:
        self.make()
        job = self.folder / "job.json"
        log = [
            {"said": "dead, no standby light"},
            {"state": "standby, main cable on"},
            {"read": "0 V", "at": "CN8-7"},
        ]
        job.write_text(
            json.dumps({"schema": "loose-rail/case/2", "board": "XQ-77.json", "log": log})
        )
        code, told, _ = run("diagnose", str(job), "--json")
        self.assertEqual(code, 0)
        answer = json.loads(told)
        self.assertEqual((answer["board"]["id"], answer["board"]["known_by"]), ("XQ-77", "own"))
        self.assertEqual(answer["not_used"], [])
        self.assertEqual(len(answer["understood"]["readings"]), 1)
        legend = LEGEND.partition(":")[2].split(",")
        for step in answer["next"]:
            for end in (step["red_at"], step["black_at"]):
                if end.get("connector") == "CN8":
                    self.assertEqual(legend[end["pin"] - 1].strip(), end["label"])

    def test_what_can_not_be_meant_ends_with_one_line(self) -> None:
        for more, words in (
            (("--connector", "CN8: 5V"), "Two connectors are called CN8"),
            (("--connector", "CN9/4: 5V"), "a plug has one or two"),
            (("--mains", "12"), "Mains of 12 V"),
        ):
            code, told, line = self.make(*more)
            self.assertEqual((code, told), (2, ""), more)
            self.assertIn(words, line)
            self.assertEqual(line.count("\n"), 1)
        self.file.mkdir()
        code, _, line = self.make()
        self.assertEqual(code, 2)
        self.assertIn("can't be written", line)

    def test_the_words_name_every_pin_and_what_to_look_at(self) -> None:
        _, told, _ = self.make()
        for words in (
            "CN8 pin 7  5VSB: standby rail, 5 V",
            "CN8 pin 12  ?: not known",
            "start pin: CN8 pin 9, active high",
            "to look at:",
        ):
            self.assertIn(words, told)


if __name__ == "__main__":
    unittest.main()
