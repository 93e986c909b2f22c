"""Guides and decisions through the real widgets: every letter of the bench, every answer counts."""

import unittest

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from loose_rail.diagnosis.planning.planner import reachable
from loose_rail.jobs import events as ev
from loose_rail.kernel.errors import UnsafeStepError
from loose_rail.screens.guides.view import GuideView
from loose_rail.screens.verdict.state import WayView
from loose_rail.screens.verdict.view import VerdictView
from loose_rail.vocabulary.board_state import UNPLUGGED
from tests.screens.helper import demo_job, focus, press, settle, write
from tests.shared import the


def _used_board(page: VerdictView) -> WayView:
    return next(way for way in page._ways._ways if way.title.endswith("power board, used"))


class Guides(unittest.TestCase):
    def setUp(self) -> None:
        self.job = demo_job(self, "cold_checks")
        self.window = self.job.window()
        self.session = self.job.presenter.session

    def chance(self, part: str) -> float:
        return sum(
            s.probability for s in self.session.reviewed.assessment.suspects if s.part == part
        )

    def cells(self) -> list[list[str]]:
        table = self.job.page_of(GuideView).table
        return [
            [the(table.item(row, column)).text() for column in range(table.columnCount())]
            for row in range(table.rowCount())
        ]

    def test_a_part_is_tested_by_number_and_a_removed_reading_counts(self) -> None:
        press(Qt.Key.Key_T)
        self.assertIs(self.job.pages.currentWidget(), self.job.page_of(GuideView))
        write("q1")
        self.assertIn("Q1", self.job.page_of(GuideView)._title.text())
        rows = self.cells()
        by_test = {row[1]: row for row in rows}
        self.assertIn("short 0.050 Ω", by_test["ohms D to S"][3])
        self.assertTrue(any("lifted" in row[1] for row in rows))
        before = self.chance("Q1")
        write("bad")
        self.assertGreater(self.chance("Q1"), before)
        self.assertIn("Ctrl+Z takes back: removed Q1 bad", self.job._undo_words.text())
        press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertAlmostEqual(self.chance("Q1"), before)
        write("1")
        self.assertIs(self.job.pages.currentWidget(), self.job.bench)
        self.assertIn("Q1", self.job.bench.card._title.text())
        self.assertIsInstance(self.session.records[-1].event, ev.ProbeChosen)
        press(Qt.Key.Key_T)
        write("q99")
        self.assertIn("no part of this board", self.job.notice.text())
        press(Qt.Key.Key_Escape)
        self.assertIs(focus(), self.job.bench.card.entry)

    def test_what_is_seen_heard_and_read_at_both_ends_counts(self) -> None:
        press(Qt.Key.Key_H)
        write("hums")
        self.assertIn("Counts", self.job.notice.text())
        known = len(self.session.state.symptoms)
        picture = self.job.page_of(GuideView).picture
        press(Qt.Key.Key_Tab)
        self.assertIs(focus(), picture)
        write_keys = {a.kind: a.key for place in picture._state.places for a in place.answers}
        self.assertEqual(len(set(write_keys.values())), len(write_keys))
        press(getattr(Qt.Key, f"Key_{write_keys['hum'].upper()}"))
        self.assertEqual(len(self.session.state.symptoms), known - 1)
        for second in (0.0, 0.5, 1.0, 2.0, 2.5, 3.0):  # one tap was missed
            picture.tap(second)
        picture._count()
        rates = {one.symptom: one.hertz for one in self.session.state.symptoms}
        self.assertEqual(rates["ticks"], 2.0)
        press(Qt.Key.Key_Escape)
        write("lamp bright")
        self.assertIn("No lamp", self.job.notice.text())
        before = self.chance("C27")
        write("hot c27")
        self.assertGreater(self.chance("C27"), before)
        press(Qt.Key.Key_Escape)
        press(Qt.Key.Key_E)
        before = self.chance("CN2")
        write("cn2 12.1 11.2")
        self.assertIn("0.90 V", self.job.notice.text())
        self.assertGreater(self.chance("CN2"), before)
        write("cn2 12.1")
        self.assertIn("two voltages", self.job.notice.text())

    def test_the_lamp_in_line_is_evidence_before_any_reading(self) -> None:
        self.session.confirm_state(next(s for s in self.states() if s.plugged and s.lamp_watts))  # type: ignore[no-untyped-call]
        self.job.focus_work()
        press(Qt.Key.Key_H)
        table = the(self.session.engine).table
        lights = np.array([not any(f.ref == "F1" for f in row.faults) for row in table.rows])
        shorts = table.primary_short & lights  # behind a blown fuse no lamp is bright

        def chance() -> float:
            return float(self.session.reviewed.assessment.probabilities[shorts].sum())

        before = chance()
        write("lamp bright")
        self.assertIn("Pull the plug", self.job.notice.text())
        self.assertGreater(chance(), 10 * before)

    def states(self):  # type: ignore[no-untyped-def]
        return dict.fromkeys(c.state for c in the(self.session.engine).table.candidates)

    def test_loads_one_by_one_on_a_board_with_drive_boards(self) -> None:
        the(self.window).take_in()  # type: ignore[attr-defined]
        form = the(self.window).new_job  # type: ignore[attr-defined]
        form.fields["set_name"].setText("Oakum 42P")
        form.fields["numbers"].setText("OK42-SMPS")
        form._create()
        job = the(self.window).job  # type: ignore[attr-defined]
        assert job is not None and job is not self.job
        settle(lambda: job.presenter.session.review is not None, 60)
        job.go("cold_checks")
        job.focus_work()
        QApplication.processEvents()
        press(Qt.Key.Key_L)
        table = job.page_of(GuideView).table
        rows = {table.item(r, 1).text(): r for r in range(table.rowCount())}
        drive = next(r for words, r in rows.items() if "(YB)" in words)
        main = next(r for words, r in rows.items() if "(MB)" in words)
        self.assertIn("demand", table.item(main, 5).text())
        session = job.presenter.session
        write(f"{main + 1} back")
        self.assertIn("takes the demand along", job.notice.text())
        before = session.reviewed.assessment.probabilities.copy()
        write(f"{drive + 1} back")
        self.assertGreater(abs(session.reviewed.assessment.probabilities - before).max(), 0.005)
        write(str(drive + 1))
        self.assertTrue(session.state.chosen.endswith("/no-YB"), session.state.chosen)

    def test_an_unknown_wake_is_measured_not_guessed(self) -> None:
        the(self.window).take_in()  # type: ignore[attr-defined]
        form = the(self.window).new_job  # type: ignore[attr-defined]
        for key, text in (
            ("set_name", "Fernlea 39"),
            ("numbers", "FL39-PSU"),
            ("kind", "standby flyback, PFC, LLC, LED driver"),
            ("connectors", "CN4: 5VSB, 13V, 24V, PS-ON, BL-ON"),
        ):
            form.fields[key].setText(text)
        form._create()
        job = the(self.window).job  # type: ignore[attr-defined]
        assert job is not None
        settle(lambda: job.presenter.session.review is not None, 60)
        job.go("cold_checks")
        job.focus_work()
        press(Qt.Key.Key_W)
        self.assertIn("Do not jumper", " ".join(job.page_of(GuideView).guide.state().intro))
        write("1")
        self.assertIn("Measure it", job.notice.text())
        write("3.1 3.2")
        self.assertIn("tells no sense", job.notice.text())
        write("0 3.2")
        self.assertIn("high", job.notice.text())
        number = job.presenter.session.job
        the(self.window).open_job(1)  # type: ignore[attr-defined]
        the(self.window).open_job(number)  # type: ignore[attr-defined]
        again = the(self.window).job  # type: ignore[attr-defined]
        assert again is not None
        settle(lambda: again.presenter.session.review is not None, 60)
        session = again.presenter.session
        self.assertEqual(session.board.wake.sense, "high")
        forced = next(c.state for c in session.engine.table.candidates if c.state.power == "forced")
        with self.assertRaisesRegex(UnsafeStepError, r"PS-ON \(CN4 pin 4\) and 5VSB \(CN4 pin 1\)"):
            session.confirm_state(forced)
        again.go("cold_checks")
        again.focus_work()
        press(Qt.Key.Key_W)
        guide = again.page_of(GuideView).guide.state()
        marked = [pin.number for row in guide.legend.rows for pin in row if pin.marked]
        self.assertEqual(marked, [1, 4])
        self.assertIn("do both labels stand there?", " ".join(guide.intro))
        write("yes")
        self.assertIn("Looked at", again.notice.text())
        self.assertTrue(session.facts.pins_confirmed)
        session.confirm_state(UNPLUGGED)
        self.assertTrue(reachable(session.board, forced, session.facts))

    def test_the_person_may_decide_otherwise_and_the_reason_is_printed(self) -> None:
        self.job.go("verdict")
        write("board 30, kit 9, hour 25, set 140")
        ways = self.job.page_of(VerdictView)._ways._ways
        self.assertIn("worth 140", ways[-1].words)
        dear = _used_board(self.job.page_of(VerdictView)).cost
        write("board 90")
        self.assertAlmostEqual(_used_board(self.job.page_of(VerdictView)).cost - dear, 60.0)
        write("c27 because so")
        self.assertIn("few words", self.job.notice.text())
        self.assertIsNone(self.session.state.verdict)
        write("c27 because its can is warm and the others are cold")
        verdict = self.session.state.verdict
        assert verdict is not None
        self.assertEqual((verdict.part, verdict.standing), ("C27", "overruled"))
        self.assertLess(verdict.probability, 0.2)
        self.assertIn("Against the evidence", self.job.page_of(VerdictView)._standing.text())
        self.assertIn("its can is warm", self.job.presenter.hand_back().html)
        press(Qt.Key.Key_Return)
        self.assertEqual(self.job.presenter.stage, "parts")
