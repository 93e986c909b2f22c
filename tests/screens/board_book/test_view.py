"""Board book and board of a job through the window: mend, put back, name, learn, exchange."""

import tempfile
import unittest
from pathlib import Path

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

from loose_rail.boards.own.file import OwnBoardFile, encoded
from loose_rail.practice.sample_photo import sample_photo
from loose_rail.screens.board_book.view import BoardBookView
from loose_rail.screens.guides.view import GuideView
from loose_rail.screens.look_over.view import SurveyView
from loose_rail.screens.own_board.view import JobBoardView
from loose_rail.screens.photos.view import PhotoView
from tests.screens.helper import close_window, focus, open_window, press, settle, write
from tests.shared import OWN_BOARD, the

CONTROL = Qt.KeyboardModifier.ControlModifier


class Book(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.window = open_window(self.folder / "shop.sqlite")
        self.addCleanup(close_window, self.window)
        self.book = the(self.window.workplace).book  # type: ignore[attr-defined]
        self.book.keep_own(OWN_BOARD)

    def page(self) -> BoardBookView:
        press(Qt.Key.Key_B, CONTROL | Qt.KeyboardModifier.ShiftModifier)
        page = self.window.area("board_book")
        assert isinstance(page, BoardBookView)
        return page

    def test_a_board_is_found_mended_and_put_back_by_keys(self) -> None:
        self.window.shelf.rows.setFocus()
        page = self.page()
        self.assertIs(self.window.stack.currentWidget(), page)
        for letter in "qx1"[:2]:
            press(getattr(Qt.Key, f"Key_{letter.upper()}"))
        self.assertEqual([row.board_id for row in page._rows], ["QX-1"])
        press(Qt.Key.Key_Return)
        self.assertIs(focus(), page.panel.entry)
        write("C952 = 12 V reservoir 1000u 25V")
        self.assertIn("C952 is the 12 V reservoir", page._notice.text())
        self.assertEqual([row.ref for row in page.panel.state.parts if row.ref], ["C952"])
        write("CN8 pin 9 = GND")
        self.assertIn("no pin 9", page._notice.text())
        self.assertEqual(page.panel.entry.text(), "CN8 pin 9 = GND")
        press(Qt.Key.Key_Escape)
        press(Qt.Key.Key_Z, CONTROL)
        self.assertEqual(self.book.own_file("QX-1"), OWN_BOARD)
        press(Qt.Key.Key_F6)
        shown = the(page.panel.map._state)
        self.assertTrue(page.panel.map.isVisible())
        self.assertIn("12V", " ".join(shown.connector.pins))
        self.assertTrue(all(rail.title for rail in shown.rails))
        press(Qt.Key.Key_F6)
        self.assertFalse(page.panel.map.isVisible())
        write("copy as QX-2")
        self.assertEqual(the(self.book.own_file("QX-2")).connectors, OWN_BOARD.connectors)

    def test_files_of_another_shop_are_merged_and_what_contradicts_is_told(self) -> None:
        theirs = msgspec.structs.replace(
            OWN_BOARD,
            aliases=["ZZ-9"],
            wake="low",
            connectors=["CN8/2: 13V, 12V, 5VSB, GND, PS-ON, BL-ON", "CN9: LED+, LED-"],
        )
        path = self.folder / "theirs.json"
        path.write_bytes(encoded(theirs))
        page = self.page()
        page.take_file(path)
        told = page._notice.text()
        for words in ("also found as ZZ-9", "connector CN9", "start pin: theirs", "CN8: theirs"):
            self.assertIn(words, told)
        mine = the(self.book.own_file("QX-1"))
        self.assertEqual((mine.wake, mine.connectors[0]), (OWN_BOARD.wake, OWN_BOARD.connectors[0]))
        given = self.folder / "given.json"
        self.assertTrue(the(page.panel.desk).give_file(given).taken)
        self.assertEqual(msgspec.json.decode(given.read_bytes(), type=OwnBoardFile), mine)
        page.take_file(given)
        self.assertIn("nothing new", page._notice.text())
        (self.folder / "bad.json").write_text("{")
        page.take_file(self.folder / "bad.json")
        self.assertIn("bad.json", page._notice.text())

    def test_a_part_gets_its_name_at_the_card_and_a_sound_board_is_learned(self) -> None:
        self.window.take_in()
        for key, text in (("set_name", "Made-up 32"), ("numbers", "QX-1")):
            self.window.new_job.fields[key].setText(text)
        self.window.new_job._create()
        job = the(self.window.job)
        session = job.presenter.session
        settle(lambda: session.review is not None, 60)
        job.go("look_over")
        survey = job.page("look_over")
        assert isinstance(survey, SurveyView)
        survey.setFocus()
        looked_at = survey._in_front
        press(Qt.Key.Key_Equal)
        write("X")
        self.assertTrue(survey.name.isVisible())  # no designator: the line stays
        press(Qt.Key.Key_Escape)
        press(Qt.Key.Key_Equal)
        write("X901")
        self.assertIn(f"X901 is the {looked_at}", job.notice.text())
        self.assertFalse(survey.name.isVisible())
        settle(lambda: session.review is not None, 60)
        job.go("cold_checks")
        job.focus_work()
        part = "standby switch"
        table = the(session.engine).table
        session.choose(next(c for c in table.candidates if c.probe.part == part))
        for _ in range(12):
            if job.bench.card.phase == "reading":
                break
            press(Qt.Key.Key_B) if job.bench.card.phase == "state" else write("1.2")
        write("=Q77")
        self.assertIn(f"Q77 is the {part}", job.notice.text())
        settle(lambda: session.review is not None, 60)
        self.assertEqual(session.board.earlier_names[part], "Q77")
        press(Qt.Key.Key_B, CONTROL)
        panel = job.page_of(JobBoardView).panel
        panel.entry.setFocus()
        write("learn")
        self.assertIn("take at least", job.notice.text())
        for _ in range(2):  # empties the line, then leaves
            press(Qt.Key.Key_Escape)
        job.focus_work()
        press(Qt.Key.Key_K)
        guide = job.page_of(GuideView)
        rows = the(guide.guide).state().rows
        self.assertEqual(rows[0][2], "drained")
        self.assertLessEqual([row[2] for row in rows].index("direct, on, cable on"), len(rows) - 1)
        write("what")
        self.assertIn("type the number of a point", job.notice.text())
        write("2")
        self.assertEqual(the(session.reviewed.task).candidate.probe.title, rows[1][1])
        press(Qt.Key.Key_K)
        write("learn")
        self.assertIn("take at least", job.notice.text())
        press(Qt.Key.Key_Escape)
        table = the(session.engine).table
        for candidate in [c for c in table.candidates if not c.probe.live and not c.probe.lifted][
            :4
        ]:
            sound = float(table.low[0, table.index(candidate.key)])
            if sound < 1e6:
                self.read(candidate, sound)
        panel.entry.setFocus()
        write("learn")
        self.assertIn("1 sound board of this number", job.notice.text())
        settle(lambda: session.review is not None, 60)
        self.assertTrue(session.board.norms)

    def test_what_is_missing_is_told_beside_the_board_and_the_window_keeps_its_size(self) -> None:
        self.window.resize(1280, 800)
        self.window.shelf.rows.setFocus()
        page = self.page()
        press(Qt.Key.Key_F9)
        told: list[str] = []

        def there() -> bool:
            told[:] = [
                one.text() for one in page.findChildren(QLabel) if "own arithm" in one.text()
            ]
            return bool(told)

        settle(there, 60)
        self.assertRegex(told[0], r"shows at its best reading with \d+ %")
        for key in (Qt.Key.Key_F4, Qt.Key.Key_F4, Qt.Key.Key_F6, Qt.Key.Key_F6):
            press(key)
            settle()
            self.assertEqual((self.window.width(), self.window.height()), (1280, 800))

    def test_points_on_photographs_of_the_board_by_keys(self) -> None:
        """Added, marked, named, looked at, taken back; a job's photograph comes into the book."""
        picture = self.folder / "parts side.jpg"
        picture.write_bytes(sample_photo(True))
        self.window.shelf.rows.setFocus()
        page = self.page()
        page.choose("QX-1")
        press(Qt.Key.Key_F4)
        self.assertTrue(page.panel.photographs.isVisible())
        page.add_photographs([picture])
        photographs = page.panel.photographs
        settle(lambda: bool(the(photographs.album).photos), 20)
        self.assertIs(focus(), page.panel.entry)
        for _ in range(3):
            press(Qt.Key.Key_Left)
        write("C952 = 12 V reservoir 1000u 25V")
        press(Qt.Key.Key_Right)
        press(Qt.Key.Key_Down)
        write("CN8/3")
        spots = the(self.book.own_file("QX-1")).photos[0].spots
        self.assertEqual([spot.at for spot in spots], ["C952", "CN8/3"])
        self.assertLess(spots[0].x, 0.4)
        self.assertEqual(the(photographs.album).facts().title, "CN8 pin 3, 5VSB")
        press(Qt.Key.Key_Left)
        press(Qt.Key.Key_Up)
        self.assertIn("C952", the(photographs.album).facts().title)
        press(Qt.Key.Key_Z, CONTROL)
        self.assertEqual(len(the(self.book.own_file("QX-1")).photos[0].spots), 1)
        press(Qt.Key.Key_Escape)
        self.assertFalse(photographs.isVisible())
        page.left.emit()
        self.window.take_in()
        for key, text in (("set_name", "Made-up 32"), ("numbers", "QX-1")):
            self.window.new_job.fields[key].setText(text)
        self.window.new_job._create()
        job = the(self.window.job)
        settle(lambda: job.presenter.session.review is not None, 60)
        other = self.folder / "as it came.jpg"
        other.write_bytes(sample_photo(False))
        press(Qt.Key.Key_G, CONTROL)
        album = job.page_of(PhotoView)
        album.add_files([other])
        settle(lambda: bool(album.album.photos), 20)
        album.focus_work()
        album.entry.setText("Q77 = standby switch")
        press(Qt.Key.Key_F7)
        self.assertIn("Q77 is the standby switch", job.notice.text())
        self.assertIn("Marked: Q77", job.notice.text())
        album.entry.setText("somewhere warm")
        press(Qt.Key.Key_F7)
        press(Qt.Key.Key_F8)
        self.assertIn("No part or pin: somewhere warm", job.notice.text())
        kept = the(self.book.own_file("QX-1")).photos[-1]
        self.assertEqual((kept.caption, [s.at for s in kept.spots]), ("as it came", ["Q77"]))
        press(Qt.Key.Key_F8)
        self.assertIn("already", job.notice.text())

    def read(self, candidate: object, volts: float) -> None:
        from loose_rail.jobs.observations import reading_event
        from loose_rail.kernel.observation import value

        session = the(self.window.job).presenter.session
        probe, state = candidate.probe, candidate.state  # type: ignore[attr-defined]
        session.record(reading_event(probe.id, state, value(volts, probe.unit), "typed", ""))


if __name__ == "__main__":
    unittest.main()
