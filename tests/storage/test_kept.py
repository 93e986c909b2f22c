"""What is kept stays kept: conflicts, locks, damage, other programs' files, copies, letters."""

import os
import random
import sqlite3
import stat
import subprocess
import sys
import tempfile
import unittest
from contextlib import closing
from pathlib import Path
from unittest import mock

from hypothesis import given, settings, strategies as st
from PIL import Image
from pypdf import PdfReader

from loose_rail.app.log import JobLog
from loose_rail.app.session import JobSession
from loose_rail.app.settings import CHOICES, Settings
from loose_rail.bootstrap import Workplace
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.kernel.errors import (
    JobError,
    PhotoError,
    StoreDamagedError,
    StoreError,
    StoreLockedError,
)
from loose_rail.kernel.files import write_durably
from loose_rail.practice.demo import fill_store
from loose_rail.reports.content import content_of
from loose_rail.reports.html import render_html
from loose_rail.screens.shared.paper import write_pdf
from loose_rail.shop import Options
from loose_rail.storage.backup import KEPT_DAYS, back_up, daily_backup
from loose_rail.storage.photos import PhotoFolder
from loose_rail.storage.places import places_of
from loose_rail.storage.settings import SettingsFile
from loose_rail.storage.store import SqliteStore
from loose_rail.vocabulary.board_state import UNPLUGGED, state_of
from tests.fakes.clock import FakeClock
from tests.screens.helper import application
from tests.shared import board, demo_session

LAMP = state_of("standby/bare/lamp60")


class Folder(unittest.TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)
        self.path = self.folder / "shop.sqlite"

    def store(self) -> SqliteStore:
        store = SqliteStore(self.path, 30)
        self.addCleanup(store.close)
        return store

    def filled(self) -> SqliteStore:
        store = self.store()
        fill_store(store)
        return store

    def session(self, store: SqliteStore, job: int = 1) -> JobSession:
        return JobSession(JobLog(store, job), board(), FakeClock())


class TwoWriters(Folder):
    @settings(max_examples=25)
    @given(st.lists(st.tuples(st.integers(0, 1), st.text("abc", min_size=1)), max_size=30))
    def test_notes_of_two_windows_are_all_on_disk_in_the_order_they_were_made(
        self, typed: list[tuple[int, str]]
    ) -> None:
        with tempfile.TemporaryDirectory() as folder:
            self.path = Path(folder) / "shop.sqlite"
            store = self.filled()
            before = len(store.load(1))
            windows = [self.session(store), self.session(SqliteStore(self.path, 30))]
            for number, text in typed:
                windows[number].record(ev.NoteWritten("parts", text))
                self.assertEqual((windows[number].unsaved, windows[number].save_problem), (0, ""))
            stored = store.load(1)
            self.assertEqual([r.event.text for r in stored[before:]], [text for _, text in typed])  # type: ignore[union-attr]
            self.assertEqual([r.sequence for r in stored], list(range(1, len(stored) + 1)))
            for window in windows:
                window.reload()
                self.assertEqual(list(window.records), stored)
                self.assertEqual(window.state, fold(stored))
            store.close()

    def test_what_contradicts_the_other_window_is_said_and_stays_with_who_typed_it(self) -> None:
        store = self.filled()
        first, second = self.session(store), self.session(store)
        first.confirm_state(UNPLUGGED)
        second.reload()
        first.confirm_state(LAMP)
        with self.assertRaisesRegex(JobError, "another state"):
            second.measure_bulk(1.0)
        self.assertIn("lamp", second.conflict)
        self.assertEqual(second.state.board_state, LAMP)
        self.assertFalse([r for r in store.load(1) if r.event == ev.BulkMeasured(1.0)])
        second.record(ev.NoteWritten("parts", "still works"))
        self.assertEqual(second.conflict, "")
        self.assertEqual(store.load(1)[-1].event, ev.NoteWritten("parts", "still works"))

    def test_what_was_taken_back_is_the_right_entry_after_another_wrote(self) -> None:
        store = self.filled()
        first, second = self.session(store), self.session(store)
        with closing(sqlite3.connect(self.path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            second.record(ev.NoteWritten("parts", "mine, not saved yet"))
            second.undo()
            self.assertEqual(second.unsaved, 2)
            other.execute("ROLLBACK")
        first.record(ev.NoteWritten("parts", "theirs"))
        second.retry_save()
        texts = [text for _, text, _ in fold(store.load(1)).notes]
        self.assertIn("theirs", texts)
        self.assertNotIn("mine, not saved yet", texts)

    def test_a_lesson_forgotten_on_the_command_line_while_its_job_is_open(self) -> None:
        store = self.filled()
        session = self.session(store)
        place = len(store.load(1)) + 1
        store.append(1, [ev.Record(place, "2026-11-05", "bench 1", ev.LessonForgotten("x"))])
        session.record(ev.NoteWritten("parts", "typed after it"))
        self.assertEqual(store.load(1)[-1].event, ev.NoteWritten("parts", "typed after it"))
        self.assertTrue(session.state.forgotten)


class Aside(Folder):
    def test_a_job_never_teaches_itself(self) -> None:
        self.filled().close()
        place = Workplace(Options(False, self.path))
        self.addCleanup(place.close)
        taught = [one for one in place.store.jobs() if one.teaches]
        self.assertTrue(taught)
        for one in place.store.jobs():
            known = len(place.open_job(one.job).session.closed_jobs)
            self.assertEqual(known, len(taught) - (one in taught))

    def test_what_could_not_be_saved_is_set_aside_and_taken_up_again(self) -> None:
        store = self.filled()
        session, window = self.session(store), self.session(store)
        with closing(sqlite3.connect(self.path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            session.record(ev.NoteWritten("parts", "while it was locked"))
            self.assertEqual(session.unsaved, 1)
            (where,) = places_of(self.path).unsaved.iterdir()  # at once: it may be killed now
            self.assertEqual(session.set_aside(), str(where))
            other.execute("ROLLBACK")
        window.record(ev.NoteWritten("parts", "by another window"))
        again = self.session(store)
        self.assertIn("unsaved", again.conflict)
        texts = [text for _, text, _ in fold(store.load(1)).notes][-2:]
        self.assertEqual(texts, ["by another window", "while it was locked"])
        self.assertFalse(where.exists())
        session.retry_save()  # the one that typed it lives on: nothing stands there twice
        self.assertEqual(session.unsaved, 0)
        self.assertEqual([text for _, text, _ in fold(store.load(1)).notes][-2:], texts)

    def test_a_letter_that_cannot_be_stored_is_refused_and_poisons_nothing(self) -> None:
        session = self.session(self.filled())
        with self.assertRaisesRegex(JobError, "can't be stored"):
            session.record(ev.NoteWritten("parts", "half \ud800 of a pair"))
        session.record(ev.NoteWritten("parts", "whole"))
        self.assertEqual(session.unsaved, 0)


class Damage(Folder):
    def spoil(self, job: int, sequence: int, payload: bytes) -> None:
        with closing(sqlite3.connect(self.path)) as raw:
            raw.execute(
                "UPDATE events SET payload = CAST(? AS TEXT) WHERE job = ? AND sequence = ?",
                (payload, job, sequence),
            )
            raw.commit()

    def test_a_changed_event_is_told_and_everything_else_opens(self) -> None:
        store = self.filled()
        sound = {job.job: store.load(job.job) for job in store.jobs()}
        row = next(r for r in sound[3] if isinstance(r.event, ev.ReadingTaken))
        for payload in (
            b"{cut",
            b"\xff\xfe not text",
            ev.encode_event(ev.NoteWritten("parts", "something else")).encode(),
            b'{"kind":"state_confirmed","state":""}',
        ):
            self.spoil(3, row.sequence, payload)
            found = store.load(3)
            self.assertIsInstance(found[row.sequence - 1].event, ev.Unreadable)
            state = fold(found)
            self.assertEqual(len(state.damaged), 1)
            self.assertIn(f"Entry {row.sequence} (reading taken) is lost", state.damaged[0])
            others = [r for r in found if r.sequence != row.sequence]
            self.assertEqual(others, [r for r in sound[3] if r.sequence != row.sequence])
            for job, records in sound.items():
                self.assertEqual(job == 3 or store.load(job) == records, True)

    def test_a_lost_opening_loses_one_job_and_the_shelf_says_so(self) -> None:
        self.filled().close()
        self.spoil(2, 1, b"gone")
        place = Workplace(Options(False, self.path))
        self.addCleanup(place.close)
        rows = {row.job: row for row in place.shelf().rows}
        self.assertEqual(rows[2].waits_for, "damaged")
        self.assertIn("opening", rows[2].complaint)
        self.assertEqual(sorted(rows), [1, 2, 3, 4, 5, 6])
        with self.assertRaises(JobError):
            place.open_job(2)
        for job in (1, 3, 4, 5, 6):
            self.assertTrue(place.open_job(job).frame().ticket)
        self.assertTrue(place.find("dead").rows or place.find("clicks").rows)

    def test_three_hundred_damaged_shops_never_end_in_a_traceback_or_read_otherwise(self) -> None:
        """Pages flipped, zeroed, cut: what opens reads as it was, or says what is lost."""
        self.filled().close()
        whole = self.path.read_bytes()
        rng = random.Random(300)
        sound = {job: list(records) for job, records in self.every().items()}
        seen = {"opened": 0, "refused": 0, "told": 0}
        for _ in range(300):
            data = bytearray(whole)
            kind, place = rng.randrange(3), rng.randrange(100, len(data))
            length = rng.choice((1, 16, 512, 4096))
            if kind == 0:
                data[place] ^= 1 << rng.randrange(8)
            elif kind == 1:
                data[place : place + length] = bytes(len(data[place : place + length]))
            else:
                del data[place:]
            for left in self.folder.glob("shop.sqlite-*"):
                left.unlink()
            self.path.write_bytes(bytes(data))
            try:
                found = self.every()
            except (StoreDamagedError, JobError):
                seen["refused"] += 1
                continue
            seen["opened"] += 1
            for job, records in found.items():
                lost = [r for r in records if isinstance(r.event, ev.Unreadable)]
                seen["told"] += bool(lost)
                known = {r.sequence: r for r in sound.get(job, [])}
                for record in records:
                    if record not in lost:
                        self.assertEqual(record, known[record.sequence])
        self.assertGreater(seen["opened"], 100, seen)
        self.assertGreater(seen["told"], 20, seen)

    def every(self) -> dict[int, list[ev.Record]]:
        """Every job that a store still finds; a job that can't be read is left out by its error."""
        store = SqliteStore(self.path, 30)
        try:
            found = {}
            for one in store.jobs():
                try:
                    found[one.job] = store.load(one.job)
                except StoreError:
                    continue
            return found
        finally:
            store.close()

    def test_a_shop_of_the_version_before_is_copied_then_brought_up_to_date(self) -> None:
        store = self.filled()
        wanted = {job.job: store.load(job.job) for job in store.jobs()}
        store.close()
        with closing(sqlite3.connect(self.path)) as raw:
            raw.execute("ALTER TABLE events DROP COLUMN checksum")
            raw.execute("UPDATE events SET version = 1")
            raw.execute("PRAGMA user_version=1")
            raw.commit()
        again = self.store()
        self.assertEqual({job.job: again.load(job.job) for job in again.jobs()}, wanted)
        copy = places_of(self.path).backups / "before-version-2.sqlite"
        with closing(sqlite3.connect(copy)) as raw:
            self.assertEqual(raw.execute("PRAGMA user_version").fetchone()[0], 1)
            count = raw.execute("SELECT count(*) FROM events").fetchone()[0]
        self.assertEqual(count, sum(map(len, wanted.values())))


class Copies(Folder):
    def test_a_copy_of_an_open_shop_is_whole_and_a_closed_one_can_be_copied_plainly(self) -> None:
        store = self.filled()
        session = self.session(store)
        for number in range(300):
            session.record(ev.NoteWritten("parts", f"note {number}"))
        wanted = store.load(1)
        target = self.folder / "copy.sqlite"
        command = [sys.executable, "-m", "loose_rail", "--data", str(self.path), "backup"]
        done = subprocess.run([*command, str(target)], capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)
        again = subprocess.run([*command, str(target)], capture_output=True, text=True, check=False)
        self.assertEqual(again.returncode, 2)
        plain = self.folder / "plain.sqlite"
        store.close()
        plain.write_bytes(self.path.read_bytes())
        for path in (target, plain):
            copied = SqliteStore(path, 30)
            self.assertEqual(copied.load(1), wanted)
            copied.close()

    def test_seven_days_are_kept_and_a_damaged_shop_pushes_none_out(self) -> None:
        self.filled().close()
        for day in range(1, 11):
            self.assertEqual(daily_backup(self.path, f"2026-11-{day:02d}"), "")
            self.assertEqual(daily_backup(self.path, f"2026-11-{day:02d}"), "")
        folder = places_of(self.path).backups
        kept = sorted(path.name for path in folder.iterdir())
        self.assertEqual(kept, [f"shop-2026-11-{day:02d}.sqlite" for day in range(4, 11)])
        self.assertEqual(len(kept), KEPT_DAYS)
        data = bytearray(self.path.read_bytes())
        data[4096:12288] = os.urandom(8192)
        self.path.write_bytes(bytes(data))
        try:
            self.assertIn("damaged", daily_backup(self.path, "2026-11-11"))
        except StoreDamagedError as error:
            self.assertIn("backups", error.hint)
        self.assertEqual(sorted(path.name for path in folder.iterdir()), kept)

    def test_a_copy_that_cannot_be_made_says_why_and_leaves_nothing(self) -> None:
        self.filled().close()
        with self.assertRaisesRegex(Exception, "can't be written"):
            back_up(self.path, self.folder / "no" / "such" / "place.sqlite")
        self.assertEqual(list(self.folder.glob("*.partial")), [])

    def test_what_is_written_is_on_the_disk_before_its_name_is(self) -> None:
        order: list[str] = []
        fsync, rename = os.fsync, Path.replace
        with (
            mock.patch("os.fsync", lambda fd: (order.append("sync"), fsync(fd))[1]),  # type: ignore[func-returns-value]
            mock.patch.object(
                Path,
                "replace",
                lambda one, to: (order.append("name"), rename(one, to))[1],  # type: ignore[func-returns-value]
            ),
        ):
            write_durably(self.folder / "x.json", b"{}")
            PhotoFolder(self.folder / "photos").add(picture(), "a.png")
            SettingsFile(self.folder / "settings.json").write(Settings(meter="a"))
        self.assertEqual(order, ["sync", "name", "sync"] * 3)

    def test_every_connection_waits_for_the_disk(self) -> None:
        store = self.store()
        for _ in range(3):
            with store._engine.connect() as connection:
                found = connection.exec_driver_sql("PRAGMA synchronous").scalar()
                self.assertEqual(found, 2)


class OthersFiles(Folder):
    def test_nothing_beside_a_named_shop_is_touched(self) -> None:
        strangers = {
            "settings.json": b'{"editor": "theme \xfc"}',
            "meters/m.json": b"not ours",
            "boards/b.json": b'{"schema": "other"}',
            "photos/holiday.jpg": b"jpeg",
        }
        for name, data in strangers.items():
            target = self.folder / name
            target.parent.mkdir(exist_ok=True)
            target.write_bytes(data)
        place = Workplace(Options(False, self.path))
        self.assertEqual(place.problem, "")
        place.meter_desk().turn(CHOICES[0])
        place.close()
        for name, data in strangers.items():
            self.assertEqual((self.folder / name).read_bytes(), data, name)
        beside = {path.name for path in self.folder.iterdir()}
        self.assertEqual(
            beside, {"settings.json", "meters", "boards", "photos", "shop.sqlite", "shop.sqlite.d"}
        )

    def test_a_shop_is_its_owners_alone(self) -> None:
        old = os.umask(0o022)
        self.addCleanup(os.umask, old)
        deep = self.folder / "a" / "b" / "shop.sqlite"
        store = SqliteStore(deep, 30)
        fill_store(store)
        modes = {p: stat.S_IMODE(p.stat().st_mode) for p in (deep, deep.parent, deep.parent.parent)}
        self.assertEqual(list(modes.values()), [0o600, 0o700, 0o700], modes)
        store.close()
        deep.chmod(0o644)
        SqliteStore(deep, 30).close()
        self.assertEqual(stat.S_IMODE(deep.stat().st_mode) & 0o007, 0)

    def test_a_path_with_marks_of_an_address_is_the_file_that_it_names(self) -> None:
        for name in ("a?mode=ro", "b%41 ü", "c#d"):
            path = self.folder / name
            SqliteStore(path, 30).close()
            self.assertTrue(path.is_file(), name)

    def test_a_byte_that_is_no_text_is_named_set_aside_and_the_shop_opens(self) -> None:
        places = places_of(self.path)
        places.meters.mkdir(parents=True)
        places.settings.write_bytes(b'{"meter": "B\xfcro"}')
        (places.meters / "mine.json").write_bytes(b'{"schema": "loose-rail/meter/1\xff"}')
        place = Workplace(Options(False, self.path))
        self.addCleanup(place.close)
        self.assertIn("settings.json", place.problem)
        self.assertIn("mine.json", place.problem)
        self.assertTrue(place.profiles)
        self.assertTrue(places.settings.with_suffix(".damaged-1.json").exists())
        places.settings.write_bytes(b"again \xff")
        with self.assertRaises(StoreError) as told:
            SettingsFile(places.settings).read()
        self.assertIn("damaged-2", told.exception.one_line())
        self.assertEqual(
            places.settings.with_suffix(".damaged-1.json").read_bytes(), b'{"meter": "B\xfcro"}'
        )


def picture() -> bytes:
    """A small PNG."""
    with tempfile.NamedTemporaryFile(suffix=".png") as file:
        Image.new("RGB", (8, 8), "teal").save(file.name)
        return Path(file.name).read_bytes()


class Pictures(Folder):
    def test_a_damaged_photograph_heals_when_it_is_added_again(self) -> None:
        photos = PhotoFolder(self.folder / "photos")
        digest = photos.add(picture(), "a.png")
        photos.path(digest).write_bytes(b"")
        with self.assertRaisesRegex(PhotoError, "changed"):
            photos.path(digest)
        self.assertEqual(photos.add(picture(), "a.png"), digest)
        self.assertGreater(photos.path(digest).stat().st_size, 20)


class Letters(Folder):
    def test_every_letter_of_a_name_is_on_the_sheet_or_is_named(self) -> None:
        application()
        session = demo_session()
        words = "Żółty Świt 43, ąęćłńśźż ŠČŘŽ ğışİ Телевизор Ψηφιακή עברית"
        session.record(ev.VerdictAccepted("C21", f"C21 {words}", 0.97, "confirmed", []))
        path = self.folder / "sheet.pdf"
        self.assertEqual(write_pdf(render_html(content_of(session)), "Sheet", path), "")
        text = "".join(page.extract_text() for page in PdfReader(path).pages)
        self.assertEqual([one for one in words if not one.isspace() and one not in text], [])
        lacking = "\U0001e900\U0001e901"  # Adlam: no font of a usual desktop has it
        session.record(ev.VerdictAccepted("C21", f"C21 {lacking}", 0.97, "confirmed", []))
        self.assertEqual(write_pdf(render_html(content_of(session)), "Sheet", path), lacking)


class Locked(Folder):
    def test_a_lock_is_told_and_nothing_is_called_kept(self) -> None:
        store = self.filled()
        with closing(sqlite3.connect(self.path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            with self.assertRaises(StoreLockedError):
                store.append(1, [ev.Record(999, "t", "b", ev.LampSeen("dark"))])
            other.execute("ROLLBACK")
