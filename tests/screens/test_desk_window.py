"""The window on a desk: size, place, theme, folders, faults of the program, tables that stay."""

import tempfile
import unittest
from pathlib import Path
from unittest import mock

from PyQt6.QtCore import QRect
from PyQt6.QtGui import QColor, QPalette
from PyQt6.QtWidgets import QApplication, QFileDialog

from loose_rail.app.window_state import WindowState
from loose_rail.cli.running import said_in
from loose_rail.jobs import events as ev
from loose_rail.kernel.errors import MeterError
from loose_rail.kernel.files import TooLargeError, read_bounded
from loose_rail.kernel.signal import Signal
from loose_rail.screens.desk_window import START_SIZE, DeskWindow
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.shared import files, theme
from loose_rail.screens.shared.desktop import desktop_theme, kept_name, wear
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.doorbell import Doorbell, bell_of, ring
from loose_rail.screens.shared.table_rows import Cell, show_rows
from loose_rail.screens.shared.unexpected import UnexpectedError
from loose_rail.screens.shared.widgets import plain_table
from loose_rail.storage.window_state import read_window_state, write_window_state
from tests.screens.helper import application, close_window, open_window, settle


class Desk(unittest.TestCase):
    def setUp(self) -> None:
        self.app = application()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.addCleanup(wear, self.app, theme.DAYLIGHT)

    def test_size_and_place_come_back_where_the_screen_is_still_there(self) -> None:
        first = DeskWindow()
        first.setGeometry(QRect(40, 60, 700, 640))
        kept = first.geometry_kept()
        second = DeskWindow()
        second.restore_geometry(kept)
        self.assertEqual(second.size(), first.size())
        far = DeskWindow()
        far.setGeometry(QRect(90_000, 90_000, 900, 640))
        third = DeskWindow()
        third.restore_geometry(far.geometry_kept())
        screen = third.screen()
        assert screen is not None
        self.assertTrue(screen.availableGeometry().intersects(third.geometry()))
        for rubbish in ("", "not base64 !", "QUJD"):
            fourth = DeskWindow()
            fourth.restore_geometry(rubbish)
            self.assertLessEqual(fourth.width(), START_SIZE[0])

    def test_the_state_is_kept_and_rubbish_is_a_fresh_start(self) -> None:
        path = self.folder / "state" / "window.json"
        self.assertEqual(read_window_state(path), WindowState())
        state = WindowState("QUJD", "night", "/tmp")
        write_window_state(path, state)
        self.assertEqual(read_window_state(path), state)
        for data in (b"", b"{", b"\xff\xfe", b'{"theme": 4}', b"[" * 5000):
            path.write_bytes(data)
            self.assertEqual(read_window_state(path), WindowState())

    def test_a_theme_reaches_what_the_style_sheet_does_not(self) -> None:
        window = MainWindow(Dispatcher(at_once=True))
        self.addCleanup(close_window, window)
        told: list[str] = []
        window.theme_chosen.connect(lambda: told.append(kept_name(theme.current())))
        window.wear(theme.DAYLIGHT)
        window.toggle_theme()
        ground = QApplication.palette().color(QPalette.ColorRole.Window)
        ink = QApplication.palette().color(QPalette.ColorRole.WindowText)
        self.assertEqual(ground, QColor(theme.NIGHT.panel))
        self.assertGreater(abs(ground.lightness() - ink.lightness()), 100)
        window.toggle_theme()
        wanted = [kept_name(theme.NIGHT), kept_name(theme.DAYLIGHT)]
        self.assertEqual(told, wanted)
        self.assertEqual(kept_name(desktop_theme()), "")  # as the desktop has it: it is followed

    def test_files_begin_where_the_last_one_was(self) -> None:
        told: list[str] = []
        files.remember(str(self.folder), told.append)
        self.addCleanup(files.remember, "", lambda folder: None)
        other = self.folder / "other"
        other.mkdir()
        with mock.patch.object(QFileDialog, "getSaveFileName") as asked:
            asked.return_value = (str(other / "sheet"), "PDF (*.pdf)")
            found = files.to_save(DeskWindow(), "Save", "job.pdf", "PDF (*.pdf)")
            self.assertEqual(found, other / "sheet.pdf")
            self.assertEqual(asked.call_args[0][2], str(self.folder / "job.pdf"))
            (other / "sheet.pdf").write_text("there already, and nobody was asked about it")
            again = files.to_save(DeskWindow(), "Save", "job.pdf", "PDF (*.pdf)")
            self.assertEqual(again, other / "sheet-2.pdf")
            asked.return_value = ("", "")
            self.assertIsNone(files.to_save(DeskWindow(), "Save", "job.pdf", "PDF (*.pdf)"))
        with mock.patch.object(QFileDialog, "getOpenFileName") as opened:
            opened.return_value = (str(other / "a.json"), "")
            self.assertEqual(files.to_open(DeskWindow(), "Open", "x"), other / "a.json")
            self.assertEqual(opened.call_args[0][2], str(other))
        self.assertEqual(told[-1], str(other))

    def test_a_fault_of_the_program_is_shown_once_and_one_of_the_world_in_its_place(self) -> None:
        window = MainWindow(Dispatcher(at_once=True))
        self.addCleanup(close_window, window)
        window.show()
        said = said_in(window, self.folder / "x.log")
        for _ in range(3):
            error = ZeroDivisionError("a bug")
            said(type(error), error, None)
        dialogs = window.findChildren(UnexpectedError)
        self.assertEqual(len(dialogs), 1)
        text = dialogs[0].text.toPlainText()
        self.assertEqual(text.count("ZeroDivisionError: a bug"), 1)
        self.assertIn("Loose Rail", text)
        dialogs[0].close()
        world = MeterError("The meter is off.", "Switch it on.")
        said(type(world), world, None)
        self.assertIn("The meter is off", window.shelf._summary.text())

    def test_the_bell_brings_the_first_window_to_the_front(self) -> None:
        shop = self.folder / "my shop.sqlite"
        rung: list[tuple[str, str]] = []
        self.assertNotEqual(bell_of(shop), bell_of(self.folder / "other.sqlite"))
        self.assertFalse(ring(shop))
        bell = Doorbell(shop, lambda token, file: rung.append((token, file)))
        self.addCleanup(bell.take_down)
        from PyQt6.QtNetwork import QLocalSocket

        caller = QLocalSocket()
        caller.connectToServer(bell_of(shop))
        caller.write(b"token\n/tmp/board.json\n")
        caller.flush()
        settle(lambda: bool(rung), 10)
        self.assertEqual(rung, [("token", "/tmp/board.json")])

    def test_a_second_start_with_a_board_puts_it_into_the_book(self) -> None:
        window = open_window(self.folder / "shop.sqlite")
        self.addCleanup(close_window, window)
        broken = self.folder / "b.board.json"
        broken.write_text('{"schema": "loose-rail/own-board/1"}')
        window.rung("", str(broken))
        notice = window.area("board_book")._notice.text()  # type: ignore[attr-defined]
        self.assertTrue(notice)

    def test_rows_of_a_table_stay_the_same_items(self) -> None:
        table = plain_table(("a", "b"), "a table", 1)
        show_rows(table, [[Cell("1"), Cell("x", "quiet")], [Cell("2", right=True), Cell("y")]])
        kept = table.item(1, 1)
        show_rows(table, [[Cell("1"), Cell("<b>")], [Cell("3"), Cell("y")]])
        self.assertIs(table.item(1, 1), kept)
        item = table.item(0, 1)
        assert item is not None
        self.assertEqual(item.text(), "<b>")
        self.assertNotIn("<b>", item.toolTip())
        show_rows(table, [])
        self.assertEqual(table.rowCount(), 0)


class Small(unittest.TestCase):
    def test_a_held_signal_speaks_once(self) -> None:
        told: list[int] = []
        signal: Signal[int] = Signal()
        signal.subscribe(told.append)
        with signal.held():
            signal.emit(1)
            with signal.held():
                signal.emit(2)
            self.assertEqual(told, [])
        self.assertEqual(told, [2])
        with self.assertRaises(ValueError), signal.held():
            signal.emit(3)
            raise ValueError
        signal.emit(4)
        self.assertEqual(told, [2, 3, 4])

    def test_nothing_is_read_that_is_no_plain_file_or_too_large(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            path = folder / "a"
            path.write_bytes(b"12345")
            self.assertEqual(read_bounded(path, 5), b"12345")
            with self.assertRaises(TooLargeError):
                read_bounded(path, 4)
            with self.assertRaises(IsADirectoryError):
                read_bounded(folder, 10)
            pipe = folder / "pipe"
            import os

            os.mkfifo(pipe)
            with self.assertRaisesRegex(OSError, "plain file"):
                read_bounded(pipe, 10)

    def test_a_customer_s_name_stands_in_no_word_of_undo(self) -> None:
        from loose_rail.jobs.event_words import words_of

        self.assertNotIn("Ferrow", words_of(ev.DetailNoted("customer", "Mx Ferrow")))
        self.assertIn("S-1", words_of(ev.DetailNoted("number_sticker", "S-1")))


if __name__ == "__main__":
    unittest.main()
