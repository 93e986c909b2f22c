"""Simulated benches told through job files: what a meter shows on them, written as people would, is
diagnosed as the engine does with the same readings."""

import json
import tempfile
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np
from benchmarks.simulated_sets import SimulatedSet, simulated_sets
from benchmarks.technician import by_plan, work_through

from loose_rail.__main__ import main
from loose_rail.app.job_file.read import read_case
from loose_rail.boards.load import shipped_board
from loose_rail.boards.probes import Probe
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.posterior import posterior, suspects_of
from loose_rail.diagnosis.planning.assessment import Assessment
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.kernel.observation import Form, Observation
from tests.shared import board, engine, table

SEED = 5
FAULTS = ("C21:dried:1", "Q1:short:0", "R12:open:0", "MB:never_asserts:0", "D9:short:0")
STATE_WORDS = {
    "unplugged": "unplugged, drained",
    "standby/cable/lamp60": "standby, main cable on, through a lamp",
    "standby/bare/lamp60": "plugged in, main cable off, series lamp",
    "standby/cable/direct": "standby",
    "standby/bare/direct": "standby with the main board unplugged",
    "forced/bare/lamp60": "start pin jumpered, cable off, lamp",
    "forced/bare/direct": "start pin jumpered, cable off",
    "on/cable/direct": "switched on",
}


def as_typed(seen: Observation, probe: Probe) -> dict[str, Any]:
    """A reading as a person would write it into a file."""
    if seen.form is Form.OPEN:
        return {"value": "OL"}
    if seen.form is Form.TICKING:
        return {"range": [seen.low, seen.high], "hertz": seen.hertz, "behaviour": "ticking"}
    units = {"Ω": "ohm", "F": "farad", "V": "volts"}
    return {"value": seen.low, "unit": units[probe.unit]}


def entry_of(candidate: str, seen: Observation) -> dict[str, Any]:
    probe = table().candidates[table().index(candidate)].probe
    point = probe.title if probe.live else probe.id
    said = {"point": point, "state": STATE_WORDS[candidate.split("@")[1]]}
    mode = {} if probe.live else {"mode": probe.mode.label}
    return {**said, **mode, **as_typed(seen, probe)}


def sets() -> list[SimulatedSet]:
    from loose_rail.boards.faults import fault_from_key

    known = [(fault_from_key(board(), key),) for key in FAULTS]
    return simulated_sets(board(), known, np.random.default_rng(SEED))


class ThroughFiles(unittest.TestCase):
    def test_files_say_what_the_bench_said(self) -> None:
        """Five sets worked through; their readings as a file give the same posterior."""
        for one in sets():
            rng = np.random.default_rng(SEED)
            heard: list[Evidence] = []

            class Listening(Engine):
                def weigh(  # type: ignore[override]
                    self, chances: Any, evidence: Any, *args: Any, **named: Any
                ) -> Assessment:
                    heard[:] = list(evidence)  # noqa: B023 - used within the loop only
                    return super().weigh(chances, evidence, *args, **named)

            work_through(Listening(table()), one, [], by_plan, rng, 0.0)
            readings = [entry_of(item.candidate, item.observation) for item in heard]
            with tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / "job.json"
                path.write_text(json.dumps({"board": board().id, "readings": readings}))
                case = read_case(path, lambda _: engine())
            with self.subTest(one.faults[0].key):
                self.assertEqual(case.notes.not_used, [])
                self.assertEqual(
                    [item.candidate for item in case.evidence],
                    [item.candidate for item in heard],
                )
                ours = posterior(table(), heard, [])
                theirs = posterior(table(), case.evidence, [])
                np.testing.assert_allclose(theirs, ours, atol=1e-6)
                first = suspects_of(table(), theirs)[0]
                self.assertEqual(first.part, one.faults[0].ref)

    def test_the_order_of_the_file_does_not_matter(self) -> None:
        rows = [
            {"point": "C21", "mode": "esr", "value": 1.7, "unit": "ohm"},
            {"point": "fuse", "mode": "ohms", "value": 0.1, "unit": "ohm"},
            {"point": "Q1", "mode": "ohms", "value": "310k"},
        ]
        found = []
        with tempfile.TemporaryDirectory() as folder:
            for order in (rows, rows[::-1]):
                path = Path(folder) / "job.json"
                path.write_text(json.dumps({"board": "PB-4310-2", "readings": order}))
                case = read_case(path, lambda _: engine())
                found.append(posterior(table(), case.evidence, []))
        np.testing.assert_allclose(found[0], found[1], atol=1e-12)

    def test_following_the_answers_of_the_command_finds_the_fault(self) -> None:
        """The file grows by what the answer asks for first, until it has its verdict."""
        one = sets()[0]
        readings: list[dict[str, Any]] = []
        for _ in range(14):
            step = self._next(readings)
            if step is None:
                break
            key = f"{step['probe']}@{step['state']}"
            low = float(one.low[0, table().index(key)])
            high = float(one.high[0, table().index(key)])
            hertz = float(one.hertz[0, table().index(key)])
            reading: dict[str, Any] = {"point": step["probe"], "state": step["state"]}
            reading["mode"] = step["setting"]
            if hertz:
                reading |= {"low": low, "high": high, "hertz": hertz}
            else:
                reading["value"] = low if np.isfinite(low) else "OL"
            readings.append(reading)
        self.assertEqual(self.answer["finding"]["part"].split()[0], "C21")
        self.assertEqual(self.answer["finding"]["standing"], "confirmed")
        self.assertLess(len(readings), 14)

    def _next(self, readings: list[dict[str, Any]]) -> dict[str, Any] | None:
        import contextlib
        import io

        out = io.StringIO()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "job.json"
            path.write_text(json.dumps({"board": "PB-4310-2", "readings": readings}))
            same = mock.patch("loose_rail.cli.diagnose._engine", lambda _: engine())
            with same, contextlib.redirect_stdout(out):
                main(["diagnose", str(path), "--json", "--steps", "1"])
        self.answer = json.loads(out.getvalue())
        return self.answer["next"][0] if self.answer["next"] else None


class OtherBoards(unittest.TestCase):
    def test_an_answer_never_offers_what_its_board_can_not_take(self) -> None:
        """No lamp on an adapter, no forced start without a start pin, nothing unplugged twice."""
        from loose_rail.app.job_file.answer import answer

        for board_id in ("PB-2211-1", "PB-1905-2"):
            own = shipped_board(board_id)
            with tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / "job.json"
                path.write_text(json.dumps({"board": board_id, "complaint": "dead"}))
                from loose_rail.bootstrap import engine_for

                found = answer(read_case(path, engine_for), 20)
            states = {step["state"] for step in found["next"]}
            self.assertTrue(states)
            if own.adapter_fed:
                self.assertFalse(any("lamp" in state for state in states))
            self.assertFalse(any("forced" in state for state in states))


if __name__ == "__main__":
    unittest.main()
