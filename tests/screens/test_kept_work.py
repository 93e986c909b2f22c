"""Work that is not on the disk yet, another window's entries, late photographs, no predictions."""

import io
import sqlite3
import sys
import tempfile
import threading
import unittest
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any
from unittest import mock

from PIL import Image
from PyQt6.QtCore import Qt

from loose_rail.cli.running import said_in
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.photos.view import PhotoView
from loose_rail.storage.places import places_of
from loose_rail.storage.store import SqliteStore
from loose_rail.vocabulary.board_state import UNPLUGGED, state_of
from tests.fakes.qt_test import QTest
from tests.screens.helper import close_window, focus, open_window, press, settle
from tests.shared import the

LAMP = state_of("standby/bare/lamp60")


class Shop(unittest.TestCase):
    at_once = True

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "shop.sqlite"
        self.window = open_window(self.path, self.at_once)
        self.addCleanup(close_window, self.window)
        hook = sys.excepthook
        sys.excepthook = said_in(self.window)
        self.addCleanup(setattr, sys, "excepthook", hook)
        self.window.open_job(1)
        self.job = self.window.job
        assert self.job is not None
        settle(lambda: the(self.job).presenter.session.review is not None, 60)
        self.session = self.job.presenter.session

    @contextmanager
    def locked(self) -> Iterator[None]:
        self.session._log._store._busy = 20  # type: ignore[attr-defined]
        with closing(sqlite3.connect(self.path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            try:
                yield
            finally:
                other.execute("ROLLBACK")

    def notes(self) -> list[str]:
        store = SqliteStore(self.path)
        self.addCleanup(store.close)
        return [text for _, text, _ in fold(store.load(1)).notes]


class NotSavedYet(Shop):
    def leave_twice(self, leave: Any) -> list[Path]:
        folder = places_of(self.path).folder / "unsaved"
        with self.locked():
            the(self.job).presenter.add_note("typed while it was locked")
            before = set(folder.glob("*")) if folder.exists() else set()
            leave()
            self.assertIs(self.window.stack.currentWidget(), self.job)
            self.assertTrue(self.window.isVisible())
            for word in ("Not saved yet: 1", "waits", "once more"):
                self.assertIn(word, the(self.job).notice.text())
            self.assertEqual(set(folder.glob("*")) if folder.exists() else set(), before)
            leave()
        return list(places_of(self.path).folder.rglob("*unsaved*"))

    def test_another_job_waits_then_leaves_with_a_file_and_it_is_taken_up(self) -> None:
        self.leave_twice(lambda: self.window.open_job(4))
        self.assertEqual(the(self.window.job).presenter.session.job, 4)
        self.assertNotIn("typed while it was locked", self.notes())
        self.window.open_job(1)
        self.assertIn("typed while it was locked", self.notes())
        self.assertIn("taken up", the(self.window.job).presenter.frame().banner)

    def test_closing_waits_then_leaves_with_a_file(self) -> None:
        with mock.patch("sys.stderr", io.StringIO()) as said:
            self.leave_twice(self.window.close)
        self.assertFalse(self.window.isVisible())
        kept = said.getvalue()
        self.assertIn("unsaved entries of job 1 are kept in", kept)
        self.assertTrue(Path(kept.split(" are kept in ")[1].strip()).exists(), kept)

    def test_it_leaves_at_once_when_the_lock_has_gone(self) -> None:
        with self.locked():
            the(self.job).presenter.add_note("typed while it was locked")
            self.window.close()
            self.assertTrue(self.window.isVisible())
        self.window.close()
        self.assertFalse(self.window.isVisible())
        self.assertIn("typed while it was locked", self.notes())


class TwoWindows(Shop):
    def other_writes(self, event: ev.AnyEvent) -> None:
        store = SqliteStore(self.path)
        place = len(store.load(1)) + 1
        store.append(1, [ev.Record(place, "2026-11-05T12:00:00+01:00", "bench 2", event)])
        store.close()

    def test_what_contradicts_is_said_and_the_line_keeps_what_was_typed(self) -> None:
        if self.session.state.board_state != UNPLUGGED or not self.session.state.state_known:
            self.session.confirm_state(UNPLUGGED)
        the(self.job).go("cold_checks")
        table = the(self.session.engine).table
        self.session.choose(next(c for c in table.candidates if not c.state.plugged))
        the(self.job).focus_work()
        self.assertEqual(the(the(self.job).card).phase, "bulk")
        self.other_writes(ev.StateConfirmed(LAMP.key))
        for letter in "0.8":
            QTest.keyClick(focus(), letter)
        press(Qt.Key.Key_Return)
        self.assertEqual(the(the(self.job).card).entry.text(), "0.8")
        self.assertIn("another", the(self.job).notice.text())
        self.assertEqual(self.session.state.board_state, LAMP)
        store = SqliteStore(self.path)
        self.assertEqual(store.load(1)[-1].event, ev.StateConfirmed(LAMP.key))
        store.close()

    def test_a_refusal_of_any_command_is_said_in_the_window(self) -> None:
        the(self.job).go("cold_checks")
        self.other_writes(ev.LampSeen("bright"))
        with mock.patch.object(
            type(the(self.job).presenter), "make_safe", side_effect=self.conflicting
        ):
            press(Qt.Key.Key_U)
        self.assertIn("can't be stored", the(self.job).notice.text())

    def conflicting(self) -> None:
        self.session.record(ev.NoteWritten("parts", "\ud800"))

    def test_the_note_of_each_stands_and_open_again_shows_the_others(self) -> None:
        self.other_writes(ev.NoteWritten("parts", "by the other bench"))
        self.assertEqual(self.session.state.notes[-1:], self.session.state.notes[-1:])
        self.window.show_shelf()
        self.window.open_job(1)
        self.assertEqual(self.session.state.notes[-1][1], "by the other bench")
        self.other_writes(ev.NoteWritten("parts", "and once more"))
        the(self.job).presenter.add_note("by this one")
        self.assertEqual(self.notes()[-3:], ["by the other bench", "and once more", "by this one"])
        self.assertIn("another", the(self.job).presenter.frame().banner.lower())


class LatePhotographs(Shop):
    at_once = False

    def test_one_dropped_before_another_job_opens_arrives_at_its_own(self) -> None:
        picture = self.path.parent / "board.png"
        Image.new("RGB", (40, 30), "teal").save(picture)
        gate, keep = threading.Event(), type(the(self.job).page_of(PhotoView).album).keep_files

        def slow(album: Any, paths: Any) -> Any:
            gate.wait(20)
            return keep(album, paths)

        with mock.patch.object(type(the(self.job).page_of(PhotoView).album), "keep_files", slow):
            the(self.job).page_of(PhotoView).add_files([picture])
            self.window.open_job(4)
            settle(lambda: the(self.window.job).presenter.session.job == 4)
            gate.set()
            settle(lambda: any(isinstance(r.event, ev.PhotoAdded) for r in self.stored()))
            settle(lambda: the(self.window.job).notice.text().startswith("Job "))
        self.assertFalse(any(isinstance(r.event, ev.PhotoAdded) for r in self.stored(4)))

    def stored(self, job: int = 1) -> list[ev.Record]:
        store = SqliteStore(self.path)
        try:
            return store.load(job)
        finally:
            store.close()


class NoPredictions(unittest.TestCase):
    def test_why_is_said_work_goes_on_by_hand_and_enter_tries_again(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        window: MainWindow = open_window(Path(folder.name) / "shop.sqlite")
        self.addCleanup(close_window, window)
        real = window._predicting.engine_for

        def broken(board: Any, progress: Any) -> Any:
            raise MemoryError("no room for the table")

        window._predicting.engine_for = broken
        window.open_job(1)
        job = window.job
        the(job).go("cold_checks")
        the(job).focus_work()
        self.assertEqual(the(the(job).card).phase, "failed")
        self.assertIn("no room for the table", the(the(job).card)._caution.text())
        for stage in ev.STAGES:
            the(job).go(stage)
            press(Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
            self.assertIn("predictions", the(job).notice.text(), stage)
        the(job).presenter.add_note("by hand")
        self.assertIn("by hand", [text for _, text, _ in the(job).presenter.session.state.notes])
        the(job).go("verdict")
        notice = the(job).presenter.decide("C21 because it measures open")
        self.assertTrue(notice.taken, notice.text)
        self.assertIn("predictions", the(job).presenter.sheet_refusal())
        the(job).go("cold_checks")
        window._predicting.engine_for = real
        the(job).focus_work()
        press(Qt.Key.Key_Return)
        settle(lambda: the(job).presenter.session.review is not None, 60)
        self.assertNotIn(the(the(job).card).phase, ("failed", "waiting"))
