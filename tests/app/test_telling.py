"""A job told in the window, line by line, is the job of the file: the same posterior, entry for
entry, through the real form and the real guide."""

import json
import tempfile
import unittest
from pathlib import Path

import numpy as np
from benchmarks.told_cases import CASES, TOLD
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.read import read_case
from loose_rail.app.papers import note_detail
from loose_rail.app.session import JobSession
from loose_rail.app.settings import MAINS_DETAIL
from loose_rail.app.telling import entry_of
from loose_rail.bootstrap import Workplace, engine_for
from loose_rail.diagnosis.evidence.customer_words import age_fact
from loose_rail.jobs import events as ev
from loose_rail.screens.guides.view import GuideView
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.shop import Options
from tests.material import WHOLE
from tests.screens.helper import application, close_window, press, settle

SIX = (
    "05-reservoir-sags-lamp-lit",
    "16-inverter-switch-and-cap",
    "20-bulk-dried-monitor",
    "23-standby-controller-supply-pin",
    "36-timing-board-fuse",
    "46-zero-read-with-set-off",
)
IN_THE_WINDOW = SIX if WHOLE else SIX[::2]
"""Told in the window as well as in a file."""


def line_of(entry: dict[str, str]) -> str:
    """An entry of a file as a person types it at the guide."""
    kind = next(iter(entry))
    if kind == "did":
        return f"{entry['did']} {entry['what']}: {entry.get('result', '')}"
    if kind == "read":
        mode, note = entry.get("mode", ""), entry.get("note", "")
        return (
            f"read {entry['read']}{f' {mode}' if mode else ''} at {entry['at']}"
            f"{f' ({note})' if note else ''}"
        )
    return f"{kind} {entry[kind]}{' at ' + entry['at'] if entry.get('at') else ''}"


class AsInTheFile(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        application()
        self.window = MainWindow(Dispatcher(True))
        self.window.show()
        shop = Workplace(Options(False, self.folder / "shop.sqlite"))
        self.window.set_workplace(shop, engine_for)
        self.window.activateWindow()
        settle(self.window.isActiveWindow)
        self.addCleanup(close_window, self.window)

    def take_in(self, case: dict[str, dict[str, object]], number: str) -> JobSession:
        """The set through the form; its board is not in the book."""
        board = case["board"]
        self.window.take_in()
        form = self.window.new_job
        plugs = [
            f"{plug['name']}/{plug.get('rows', 1)}: {', '.join(plug['pins'])}"
            for plug in board["connectors"]  # type: ignore[attr-defined]
        ]
        for key, text in (
            ("set_name", case["set"].get("kind", "set")),
            ("numbers", number),
            ("kind", board["kind"]),
            ("connectors", "\n".join(plugs)),
            ("wake", board.get("wake", "")),
        ):
            form.fields[key].setText(str(text))
        form._create()
        job = self.window.job
        assert job is not None
        session = job.presenter.session
        settle(lambda: session.review is not None, 90)
        return session

    def test_cases_give_the_posterior_of_their_files(self) -> None:
        for name in IN_THE_WINDOW:
            with self.subTest(name):
                case = json.loads((CASES / f"{name}.json").read_text(encoding="utf-8"))
                path = self.folder / "case.json"
                path.write_text(json.dumps({key: case[key] for key in TOLD}), encoding="utf-8")
                wanted = review_of(read_case(path, engine_for)).assessment.probabilities
                session = self.take_in(case, f"XQ-{name[:2]}")
                self.on_its_mains(session, case["board"].get("mains", 230))
                wake = session.board.wake
                if wake.sense in ("high", "low"):
                    session.record(ev.PinsConfirmed(wake.connector, wake.pin, wake.source_pin))
                years = case["set"].get("age_years")
                lines = [f"said {years} years old"] if years and age_fact(years) else []
                for line in (*lines, *map(line_of, case["log"])):
                    self.assertEqual(self.tell(line), "", line)
                found = session.reviewed.assessment.probabilities
                np.testing.assert_allclose(found, wanted, atol=1e-12)

    def on_its_mains(self, session: JobSession, volts: float) -> None:
        """A set that came from elsewhere: its mains on the page of numbers and papers."""
        if volts != session.board.mains.volts:
            self.assertTrue(note_detail(session, MAINS_DETAIL, f"{volts:g}").taken)
            settle(lambda: session.review is not None, 90)
            self.assertEqual(session.board.mains.volts, volts)

    def tell(self, line: str) -> str:
        """D, the line, Enter; what is left in the line."""
        job = self.window.job
        assert job is not None
        job.front.show_guide("told")
        guide = job.page_of(GuideView)
        guide.entry.setText(line)
        guide.entry.setFocus()
        press(Qt.Key.Key_Return)
        QApplication.processEvents()
        return guide.entry.text()

    def test_what_is_not_understood_stays_in_the_line_and_a_told_deed_is_taken_back(self) -> None:
        self.window.take_in()
        for key, text in (("set_name", "Brindle 43K"), ("numbers", "PB-4310-2")):
            self.window.new_job.fields[key].setText(text)
        self.window.new_job._create()
        job = self.window.job
        assert job is not None
        session = job.presenter.session
        settle(lambda: session.review is not None, 60)
        before, known = session.reviewed.assessment.probabilities.copy(), len(session.records)
        for line in ("hello", "state upside down", "replaced the frobnicator: hm"):
            self.assertEqual(self.tell(line), line)
            self.assertEqual(len(session.records), known)
        self.assertIn("counts for nothing", job.notice.text())
        self.assertEqual(self.tell("heated C21: starts at once"), "")
        self.assertGreater(abs(session.reviewed.assessment.probabilities - before).max(), 0.01)
        job.tell(job.presenter.undo())
        np.testing.assert_allclose(session.reviewed.assessment.probabilities, before)


class Lines(unittest.TestCase):
    def test_every_entry_of_every_case_is_a_line_that_reads_back(self) -> None:
        for path in sorted(CASES.glob("[0-9]*.json")):
            for entry in json.loads(path.read_text(encoding="utf-8"))["log"]:
                wanted = {key: str(text) for key, text in entry.items() if text}
                line = line_of(entry)
                found = {key: text for key, text in (entry_of(line) or {}).items() if text}
                self.assertEqual(found, wanted, line)


if __name__ == "__main__":
    unittest.main()
