"""What an answer promises whatever the evidence: sums, safe steps, reasons, plain names."""

import json
import re
import tempfile
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import HealthCheck, given, settings, strategies as st

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.board_of import board_of
from loose_rail.app.job_file.notes import Notes
from loose_rail.app.job_file.read import KNOWN, read_case
from loose_rail.app.job_file.words import words
from loose_rail.app.outcome import Outcome
from loose_rail.app.taking_in import Form as JobForm, NewJob, numbers_of
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.profile import Board
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.evidence.history import history_facts
from loose_rail.diagnosis.evidence.soft_evidence import findings
from loose_rail.diagnosis.evidence.symptoms import kinds
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.storage.board_book import BoardBook
from loose_rail.vocabulary.board_state import state_of
from tests.fakes.clock import FakeClock
from tests.fakes.store import MemoryStore
from tests.shared import board, demo_records, engine, table

LEVELS = {
    "power board",
    "main board",
    "timing board",
    "lamps",
    "drive board",
    "mains cord",
    "other",
    "nothing wrong with the supply",
    "outside the model",
}


def answered(document: dict[str, Any], steps: int = 4) -> dict[str, Any]:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "job.json"
        path.write_text(json.dumps(document))
        case = read_case(path, lambda own: engine() if own.id == board().id else engine_for(own))
        return answer(case, steps)


def reading(seed: int, row: int) -> dict[str, Any]:
    """A reading of a row at one candidate of the demo board, as a file has it."""
    own = table()
    column = column_of(own, seed % len(own.candidates))
    candidate = own.candidates[seed % len(own.candidates)]
    low, high, hertz = (float(a[row]) for a in (column.low, column.high, column.hertz))
    said: dict[str, Any] = {"point": candidate.probe.id, "state": candidate.state.key}
    if not candidate.probe.live:
        said["mode"] = candidate.probe.mode.label
    if np.isnan(low) or np.isinf(low):
        return {**said, "value": "OL" if not candidate.probe.live else 0}
    if hertz:
        return {**said, "low": low, "high": high, "hertz": hertz}
    return {**said, "value": low}


class Promises(unittest.TestCase):
    @settings(max_examples=12, suppress_health_check=[HealthCheck.too_slow])
    @given(
        st.integers(0, len(table().rows) - 2),
        st.lists(st.integers(0, 10_000), max_size=6),
        st.lists(st.sampled_from(list(kinds())), max_size=3),
        st.lists(st.sampled_from(sorted(history_facts())), max_size=2),
        st.lists(st.sampled_from(sorted(findings())), max_size=2),
    )
    def test_whatever_the_evidence(
        self,
        row: int,
        seeds: list[int],
        symptoms: list[str],
        history: list[str],
        seen: list[str],
    ) -> None:
        found = answered(
            {
                "board": board().id,
                "symptoms": symptoms,
                "history": history,
                "findings": [{"part": "C21", "seen": key} for key in seen],
                "readings": [reading(seed, row) for seed in seeds],
            }
        )
        self.assertEqual(found["not_used"], [])
        boards = {one["board"]: one["probability"] for one in found["suspects"]["boards"]}
        self.assertLessEqual(set(boards), LEVELS)
        self.assertAlmostEqual(sum(boards.values()), 1.0, places=2)
        for part in found["suspects"]["parts"]:
            self.assertLessEqual(
                part["probability"], part["part_bad"] + 1e-3 if part["part"] else 1
            )
            self.assertTrue(all(one["log_odds"] > 0 for one in part["for"]))
            self.assertTrue(all(one["log_odds"] < 0 for one in part["against"]))
        for step in found["next"]:
            self._is_sound(step, found)
        probes = [step["probe"] for step in found["next"]]
        self.assertEqual(len(set(probes)), len(probes))
        self.assertTrue(found["unproved"])

    def _is_sound(self, step: dict[str, Any], found: dict[str, Any]) -> None:
        state = state_of(step["state"])
        self.assertTrue(step["why"] and step["red"] and step["black"] and step["expected_sound"])
        self.assertGreater(step["minutes"], 0.0)
        if state.plugged:
            self.assertTrue(any("plug" in one.lower() for one in step["before"]), step)
            self.assertTrue(step["cautions"], step)
            self.assertIn(step["setting"], ("DC volts", "AC volts"))
        else:
            self.assertNotIn(step["setting"], ("DC volts", "AC volts"))
            self.assertTrue(any("measure" in one for one in step["before"]), step)
        shorted = any("short on the primary" in one for one in found["warnings"])
        if state.plugged and shorted:
            self.assertTrue(state.lamp_watts, step)

    def test_more_steps_only_add(self) -> None:
        document = {"board": board().id, "complaint": "dead, no light"}
        few, many = answered(document, 2), answered(document, 9)
        self.assertEqual(few["next"], many["next"][:2])
        self.assertEqual(answered(document, 0)["next"], [])
        self.assertEqual(few["suspects"], many["suspects"])

    def test_good_and_bad_lead_to_different_suspects(self) -> None:
        found = answered({"board": board().id, "complaint": "ticks, no light"}, 6)
        for step in found["next"]:
            self.assertNotEqual(step["if_good"], step["if_bad"], step["title"])
        self.assertTrue(found["plan"])
        self.assertTrue(all(line.strip().startswith("If ") for line in found["plan"]))


class NamesThatMeanSomething(unittest.TestCase):
    def test_no_designator_of_an_example_is_told_on_a_topology(self) -> None:
        """On every board known by its topology only."""
        for board_id in shipped_ids():
            own = shipped_board(board_id)
            names = Names(own, True)
            for part in own.components:
                told = names.part(part.ref)
                self.assertNotRegex(told, r"\b[A-Z]{1,2}\d{2,3}\b", f"{board_id} {part.ref}")
                self.assertTrue(told.strip())
            for point in own.live_points:
                self.assertNotRegex(names.text(point.title), r"\bCN\d+-\d+\b", point.title)

    def test_boards_behind_connectors_are_called_by_what_they_are(self) -> None:
        names = Names(board())
        self.assertEqual(
            names.text("MB never gives the start signal"), "main board never gives the start signal"
        )
        self.assertEqual(names.part("C21"), "C21 (5 V reservoir)")
        self.assertEqual(names.text("C21, 5 V reservoir: ESR"), "C21, 5 V reservoir: ESR")


class BoardsFromWords(unittest.TestCase):
    @settings(max_examples=150)
    @given(st.floats(3.5, 7.0), st.floats(9.0, 15.5), st.floats(19.0, 30.0))
    def test_printed_volts_become_the_board_s(self, low: float, mid: float, high: float) -> None:
        labels = [f"{low:.1f}V STANDBY", f"{mid:.1f}V", f"+{high:.1f} V"]
        given_board = {"topology": "standby flyback, PFC, LLC, LED", "rails": labels}
        notes = Notes()
        case = board_of(given_board, Path(), notes)
        self.assertEqual(notes.not_used, [])
        volts = {rail.id: rail.volts for rail in case.board.rails}
        self.assertAlmostEqual(volts["standby"], round(low, 1), places=6)
        self.assertAlmostEqual(volts["main"], round(mid, 1), places=6)
        self.assertAlmostEqual(volts["lamp"], round(high, 1), places=6)
        stages = {stage.id: stage.volts for stage in case.board.stages}
        self.assertAlmostEqual(stages["standby"], volts["standby"], places=6)

    def test_the_same_label_twice_is_the_same_rail(self) -> None:
        """Two pins carry 12 V: neither is taken for the next rail."""
        rails = ["5VSB", "12.5V", "12.5V", "19V"]
        notes = Notes()
        case = board_of({"topology": "standby, PFC, LLC, LED", "rails": rails}, Path(), notes)
        volts = {rail.id: rail.volts for rail in case.board.rails}
        self.assertEqual((volts["main"], volts["lamp"]), (12.5, 19.0))
        self.assertEqual(notes.not_used, [])

    def test_what_fits_no_rail_is_told(self) -> None:
        notes = Notes()
        board_of({"topology": "adapter", "rails": ["900V", "GND"], "mains": "lots"}, Path(), notes)
        gone = [one.what for one in notes.not_used]
        self.assertIn("900V", gone)
        self.assertNotIn("GND", gone)
        notes = Notes()
        case = board_of({"topology": "plasma", "mains": 100, "wake": "sideways"}, Path(), notes)
        self.assertEqual(case.board.mains.volts, 100.0)
        self.assertEqual(case.board.mains.hertz, 60.0)
        self.assertTrue(any("sideways" in one.what for one in notes.not_used))

    def test_every_pattern_of_the_word_table_compiles_and_is_lower_case(self) -> None:
        known = words()
        for patterns in (known.topologies, known.points, known.parts, known.stages):
            for pattern, meaning in patterns:
                re.compile(pattern)
                self.assertEqual(pattern, pattern.lower().replace("\\w", "\\w"), pattern)
                self.assertTrue(meaning)
        for _, board_id in known.topologies:
            self.assertIn(board_id, shipped_ids())

    def test_the_schema_names_what_is_read(self) -> None:
        from importlib import resources

        data = (
            resources.files("loose_rail.app.job_file")
            .joinpath("data/case.schema.json")
            .read_bytes()
        )
        schema = json.loads(data)
        self.assertEqual(set(schema["properties"]), set(KNOWN))


class ASetComesIn(unittest.TestCase):
    def form(self, **given_fields: str) -> JobForm:
        empty = dict.fromkeys(JobForm.__dataclass_fields__, "")
        return JobForm(**{**empty, "seen": (), **given_fields})  # type: ignore[arg-type]

    def test_the_job_opens_with_what_the_words_say(self) -> None:
        store = MemoryStore(demo_records())
        with tempfile.TemporaryDirectory() as folder:
            new = NewJob(BoardBook(Path(folder)), store, FakeClock())
            number = new.create(
                self.form(
                    set_name="Fernlea",
                    numbers="4310-2 REV B, X-1",
                    complaint="ticks once a second, nine years old",
                    limit="12.50",
                )
            )
            self.assertIsInstance(number, int)
            events = [record.event for record in store.logs[int(number)]]  # type: ignore[arg-type]
            self.assertEqual(events[0].board_id, "PB-4310-2")  # type: ignore[union-attr]
            self.assertEqual(events[0].ticket, "0413")  # type: ignore[union-attr]
            self.assertEqual(events[0].spending_limit, 12.5)  # type: ignore[union-attr]
            kinds = {getattr(e, "symptom", getattr(e, "fact", "")) for e in events[1:]}
            self.assertLessEqual({"ticks", "old"}, kinds)

    @settings(max_examples=30)
    @given(st.text(max_size=20), st.text(max_size=20), st.text(max_size=8))
    def test_any_form_is_taken_or_told_what_is_missing(
        self, name: str, numbers: str, limit: str
    ) -> None:
        store = MemoryStore(demo_records())
        with tempfile.TemporaryDirectory() as folder:
            new = NewJob(BoardBook(Path(folder)), store, FakeClock())
            form = self.form(set_name=name, numbers=numbers, limit=limit, kind="adapter")
            self.assertTrue(new.board_echo(form).text)
            made = new.create(form)
            if isinstance(made, Outcome):
                self.assertEqual(made.kind, "problem")
                self.assertTrue(made.text)
                self.assertEqual(len(store.logs), 1)
            else:
                self.assertTrue(name.strip() and numbers_of(numbers))
                kept: Board | None = BoardBook(Path(folder)).match(numbers_of(numbers)[0])
                self.assertTrue(kept is not None or store.logs[made])


if __name__ == "__main__":
    unittest.main()
