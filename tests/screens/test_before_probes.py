"""Taking in and looking over, by keyboard through the real widgets, over several boards."""

import tempfile
import unittest
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from loose_rail.app.disassembling import next_step
from loose_rail.practice.demo import demo_shop
from loose_rail.screens.look_over.view import SurveyView
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.strip_down.view import StripView
from loose_rail.screens.take_in.view import IntakeView
from loose_rail.storage.board_book import BoardBook
from loose_rail.storage.places import places_of
from tests.fakes.qt_test import QTest
from tests.screens.helper import close_window, focus, open_window, press, settle
from tests.shared import the

INTAKES = (
    ("Wickfield 24L", "PB2408", "ticks about once a second, no light", "power board"),
    ("Sedge 19M", "1905-2", "goes off after two seconds", "power board"),
    ("Brindle 43K", "4310-2 REV B", "red light on but does not switch on, no click", "main board"),
    ("Harrow 50E", "5012-3", "no backlight but you can see a picture with a torch", "power board"),
    (
        "Tarn 39H",
        "3920-4",
        "dead after a storm, the breaker tripped, there was a bang",
        "power board",
    ),
    ("Oakum 42P", "OK42-SMPS", "starts then goes off again, it hums", "power board"),
)


def type_line(text: str) -> int:
    """Type into whatever has the focus and press Enter; returns the keystrokes."""
    for letter in text:
        QTest.keyClick(focus(), letter)
    press(Qt.Key.Key_Return)
    return len(text) + 1


class BeforeTheProbes(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.data = Path(self.folder.name) / "shop.sqlite"
        self.window: MainWindow = open_window(self.data)

    def tearDown(self) -> None:
        close_window(self.window)
        self.folder.cleanup()

    def take_in(self, *lines: str) -> int:
        """F3, then the lines; returns the keystrokes until the job is open."""
        QTest.keyClick(self.window, Qt.Key.Key_F3)
        QApplication.processEvents()
        strokes = 1 + sum(type_line(line) for line in lines)
        settle(lambda: self.window.stack.currentWidget() is self.window.job)
        return strokes

    def job(self):  # type: ignore[no-untyped-def]
        assert self.window.job is not None
        return self.window.job

    def test_six_complaints_over_six_boards_rank_what_they_should(self) -> None:
        """Name, number, complaint and limit are enough; the ranking is of this very complaint."""
        seen = {}
        for name, number, complaint, wanted in INTAKES:
            self.take_in(name, number, complaint, "")
            session = self.job().presenter.session  # type: ignore[no-untyped-call]
            settle(lambda session=session: session.review is not None, 60)  # type: ignore[misc]
            self.assertEqual(session.state.set_name, name)
            self.assertTrue(session.state.symptoms or session.state.history, complaint)
            state = self.job().presenter.take_in()  # type: ignore[no-untyped-call]
            first = [one.name.lower() for one in state.boards[:2]]
            self.assertTrue(any(wanted in one for one in first), (complaint, first))
            self.assertTrue(state.worth)
            seen[number] = tuple(one.title for one in state.suspects[:3])
        self.assertEqual(len(set(seen.values())), len(INTAKES))

    def test_a_board_is_made_from_its_legend_alone(self) -> None:
        """Under two minutes of typing: at 150 keys a minute that is 300 strokes."""
        strokes = self.take_in(
            "Fernlea 39",
            "FL39-PSU, 7C-220",
            "256",
            "",
            "CN4: 5VSB, 13V, 24V, PS-ON, BL-ON",
            "",
            "",
            "no backlight",
            "40",
        )
        self.assertLess(strokes, 300)
        session = self.job().presenter.session  # type: ignore[no-untyped-call]
        settle(lambda: session.review is not None, 60)
        self.assertEqual(session.board.id, "FL39-PSU")
        self.assertEqual({r.volts for r in session.board.rails} & {13.0, 24.0}, {13.0, 24.0})
        self.assertEqual(session.board.topology, "standby-flyback+boost+resonant+led")
        self.assertEqual(session.board.wake.sense, "unknown")
        step = session.reviewed.step
        assert step is not None
        self.assertFalse(
            step.offer.candidate.state.plugged and not step.offer.candidate.state.lamp_watts
        )
        self.assertFalse(
            any("forced" in o.candidate.key for o in session.reviewed.assessment.others)
        )
        book = BoardBook(places_of(self.data).boards)
        again = book.match("7c220")
        self.assertEqual(again.id if again else "", "FL39-PSU")
        self.take_in("Fernlea 39", "7C-220", "dead", "")
        self.assertEqual(self.job().presenter.session.board.id, "FL39-PSU")  # type: ignore[no-untyped-call]

    def test_words_propose_and_the_person_confirms_and_takes_back(self) -> None:
        self.take_in("Brindle 43K", "PB-4310-2", "does not come on", "")
        job = self.job()  # type: ignore[no-untyped-call]
        job.go("take_in")
        session = job.presenter.session
        settle(lambda: session.review is not None, 60)
        before = session.reviewed.assessment.probabilities.copy()
        QTest.keyClicks(focus(), "ticks every two seconds, nine years old")
        self.assertIn("→", job.page_of(IntakeView)._echo.text())
        press(Qt.Key.Key_Return)
        self.assertEqual(job.page_of(IntakeView).entry.text(), "")
        self.assertIn("ticks", {s.symptom for s in session.state.symptoms})
        self.assertIn("old", {h.fact for h in session.state.history})
        self.assertGreater(abs(session.reviewed.assessment.probabilities - before).max(), 0.01)
        press(Qt.Key.Key_Down)
        for _ in range(job.page_of(IntakeView).noted.count()):
            press(Qt.Key.Key_Delete)
        self.assertEqual(session.state.symptoms, ())
        self.assertEqual(session.state.history, ())
        both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
        for _ in range(2):
            QTest.keyClick(job, Qt.Key.Key_Z, both)
        self.assertEqual(len(session.state.symptoms) + len(session.state.history), 2)

    def test_a_set_of_elsewhere_and_a_bench_of_elsewhere_have_their_own_mains(self) -> None:
        """Typed at Take in, or turned for the shop: bulk, lamp and card follow, and come back."""
        self.window.open_job(1)
        job = self.job()  # type: ignore[no-untyped-call]
        session, first = job.presenter.session, job.presenter.first

        def bulk() -> float:
            settle(lambda: session.review is not None, 60)
            table = session.reviewed.table
            return float(table.low[0, table.index("live.bulk@standby/bare/direct")])

        self.assertAlmostEqual(bulk(), 120 * 2**0.5, delta=4)
        self.assertIn("is no mains", first.note_detail("mains", "12").text)
        self.assertTrue(first.note_detail("mains", "230").taken)
        self.assertAlmostEqual(bulk(), 230 * 2**0.5, delta=6)
        self.assertEqual(session.board.mains.volts, 230)
        first.note_detail("mains", "")
        self.assertAlmostEqual(bulk(), 120 * 2**0.5, delta=4)
        control = Qt.KeyboardModifier.ControlModifier
        QTest.keyClick(self.window, Qt.Key.Key_M, control)
        for _ in range(2):  # 100 V at 50 Hz, then at 60
            QTest.keyClick(focus(), Qt.Key.Key_L, control)
        self.assertEqual(the(self.window.workplace).settings.mains, "100/60")
        press(Qt.Key.Key_Escape)
        self.assertAlmostEqual(bulk(), 100 * 2**0.5, delta=4)

    def test_checks_before_opening_are_one_of_two_and_count(self) -> None:
        self.window.open_job(1)
        job = self.job()  # type: ignore[no-untyped-call]
        job.go("take_in")
        session = job.presenter.session
        for fact in [h.fact for h in session.state.history]:
            job.presenter.first.drop_noted(f"history:{fact}")
        job.focus_work()
        press(Qt.Key.Key_F6)
        self.assertEqual([h.fact for h in session.state.history], ["outlet_dead"])
        dead = float(session.reviewed.assessment.probabilities[0])
        press(Qt.Key.Key_F5)
        self.assertEqual([h.fact for h in session.state.history], ["outlet_tried"])
        self.assertLess(float(session.reviewed.assessment.probabilities[0]), dead)
        press(Qt.Key.Key_F5)
        self.assertEqual(session.state.history, ())

    def test_looking_over_moves_the_suspects_and_undoes_by_name(self) -> None:
        self.window.open_job(1)
        job = self.job()  # type: ignore[no-untyped-call]
        job.go("look_over")
        job.focus_work()
        session = job.presenter.session
        first = job.presenter.look_over().part
        before = session.reviewed.assessment.probabilities.copy()
        QTest.keyClick(job.page_of(SurveyView), "1")
        self.assertEqual(session.state.findings[0].part, first)
        self.assertEqual(session.state.findings[0].seen, "domed")
        self.assertGreater(abs(session.reviewed.assessment.probabilities - before).max(), 0.02)
        self.assertNotEqual(job.presenter.look_over().part, first)
        QTest.keyClick(job.page_of(SurveyView), "0")
        self.assertEqual(session.state.findings[-1].seen, "nothing_seen")
        QTest.keyClick(job.page_of(SurveyView), "a")
        self.assertEqual(session.state.findings[-1].part, "")
        self.assertIn("nothing seen", session.state.undo_words)
        for _ in range(3):
            QTest.keyClick(job, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(session.state.findings, ())
        self.assertAlmostEqual(abs(session.reviewed.assessment.probabilities - before).max(), 0.0)
        job.page_of(SurveyView).noted.emit(40)
        self.assertIn("things to choose", job.notice.text())
        QTest.keyClick(job.page_of(SurveyView), Qt.Key.Key_Down)
        self.assertNotEqual(job.presenter.look_over().part, first)

    def test_forty_steps_come_off_and_go_back_with_one_missing_and_one_left(self) -> None:
        """A line and Enter for each step; reassembly in reverse names what does not add up."""
        self.window.open_job(1)
        job = self.job()  # type: ignore[no-untyped-call]
        job.go("strip_down")
        job.focus_work()
        kinds = ("long M4 edge", "short M3 board", "clips top", "foil tapes ribbon", "ribbon CN7")
        for number in range(39):
            type_line(f"{1 + number % 4} {kinds[number % len(kinds)]}")
        type_line("+")
        steps = job.presenter.session.state.steps
        self.assertEqual(len(steps), 40)
        self.assertEqual(steps[39].event, steps[38].event)
        came_off = sum(step.event.count for step in steps)
        self.assertEqual(came_off, sum(int(n) for _, n in job.presenter.strip_down().totals))
        type_line("0 screws")
        self.assertIn("can't be counted", job.notice.text())
        job.page_of(StripView).entry.clear()
        press(Qt.Key.Key_F9)
        order = []
        of_kind = [step for step in steps if step.event.kind_words == "short M3"]
        short = next(step for step in of_kind if step.event.count > 1)
        while (now := next_step(job.presenter.session.state.steps)) is not None:
            order.append(now.number)
            if now.number == short.number:
                type_line(str(now.event.count + 3))
                self.assertIn("came off", job.notice.text())
                job.page_of(StripView).entry.clear()
                type_line(str(now.event.count - 1))
            else:
                press(Qt.Key.Key_Return)
        self.assertEqual(order, list(range(40, 0, -1)))
        type_line("left 1 short M3")
        state = job.presenter.strip_down()
        self.assertEqual(len(state.account), 2)
        self.assertIn(f"1 short M3 missing at step {short.number}", state.account[0])
        self.assertIn(f"it belongs to step {short.number}", state.account[1])
        self.assertEqual(state.done, "40 of 40 put back")
        QTest.keyClick(job, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(len(job.presenter.strip_down().account), 1)

    def test_a_form_with_gaps_says_what_is_missing_and_keeps_what_was_typed(self) -> None:
        view = self.window.new_job
        self.window.take_in()
        for fill, words in (
            ({}, "What set is it"),
            ({"set_name": "Fernlea"}, "number that stands on the board"),
            ({"set_name": "Fernlea", "numbers": "PB-4310-2", "limit": "lots"}, "no amount"),
            ({"set_name": "Fernlea", "numbers": "///"}, "needs a number"),
        ):
            for key, field in view.fields.items():
                field.setText(fill.get(key, ""))
            view.went_on.emit()
            self.assertIn(words, view._problem.text())
            self.assertEqual(view.fields["set_name"].text(), fill.get("set_name", ""))
        jobs = len(the(self.window.workplace).store.jobs())  # type: ignore[attr-defined]
        QTest.keyClick(view.fields["limit"], Qt.Key.Key_Escape)
        self.assertIs(self.window.stack.currentWidget(), self.window.shelf)
        self.assertEqual(len(the(self.window.workplace).store.jobs()), jobs)  # type: ignore[attr-defined]

    def test_words_are_found_across_the_shop(self) -> None:
        """Said, noted, seen and read; taken-back words are found no more; Escape shows all."""
        self.take_in("Fernlea 24", "PB2408", "it hums and smells of fish", "")
        job = self.job()  # type: ignore[no-untyped-call]
        number = job.presenter.session.job
        job.presenter.add_note("Remote with a cracked corner")
        self.window.show_shelf()
        every = [row.job for row in self.window.shelf.rows._rows]
        self.assertEqual(len(every), len(demo_shop().jobs) + 1)
        QTest.keyClick(self.window.shelf.rows, "/")
        for text, wanted in (
            ("fish", [number]),
            ("crack corner", [number]),
            ("ticks once", [1]),
            ("latch marked", [1]),
            ("fern", [number]),
            ("zebra", []),
            ("\"'(* -", every),
        ):
            self.window.shelf.find_line.setText(text)
            found = [row.job for row in self.window.shelf.rows._rows]
            self.assertEqual(sorted(found), sorted(wanted), text)
        self.window.shelf.find_line.setText("corner")
        self.assertIn("corner", self.window.shelf.rows._rows[0].complaint)
        job.presenter.undo()
        self.window.shelf.find_line.setText("corner ")
        self.assertEqual(self.window.shelf.rows._rows, ())
        QTest.keyClick(self.window.shelf.find_line, Qt.Key.Key_Escape)
        self.assertEqual([row.job for row in self.window.shelf.rows._rows], every)
        QTest.keyClick(self.window.shelf.rows, "/")
        QTest.keyClicks(focus(), "fish")
        press(Qt.Key.Key_Return)
        press(Qt.Key.Key_Return)
        self.assertIs(self.window.stack.currentWidget(), self.window.job)
        self.assertEqual(self.job().presenter.session.job, number)  # type: ignore[no-untyped-call]


class TheBook(unittest.TestCase):
    def test_damaged_and_unwritable_boards_are_told_by_name(self) -> None:
        from loose_rail.boards.own.file import SCHEMA, OwnBoardFile
        from loose_rail.kernel.errors import BoardFileError

        with tempfile.TemporaryDirectory() as folder:
            book = BoardBook(Path(folder) / "boards")
            mine = OwnBoardFile(SCHEMA, "A/1 x", ["9-9"], connectors=["CN1: 12V, GND"])
            kept = book.keep_own(mine)
            self.assertEqual(kept.id, "A-1-x")
            self.assertEqual(book.own_ids(), ["A-1-x"])
            found = book.match("9.9")
            self.assertEqual(found.id if found else "", "A-1-x")
            (Path(folder) / "boards" / "A-1-x.json").write_text("{")
            with self.assertRaises(BoardFileError) as caught:
                book.match("9-9")
            self.assertIn("A-1-x.json", caught.exception.message)
            blocked = BoardBook(Path(folder) / "boards" / "A-1-x.json" / "deeper")
            with self.assertRaises(BoardFileError):
                blocked.keep_own(mine)


if __name__ == "__main__":
    unittest.main()
