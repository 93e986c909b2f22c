"""One job as one file: it comes back as it went, in another shop too; whatever is done to the file
is told in a sentence and keeps nothing."""

import csv
import hashlib
import io
import json
import tempfile
import unittest
import zipfile
from importlib import resources
from pathlib import Path

import msgspec
from hypothesis import given, settings, strategies as st
from PIL import Image

from loose_rail.__main__ import main
from loose_rail.boards.own.file import SCHEMA as SCHEMA_OF_BOARD, OwnBoardFile
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.jobs.summary import summary_of
from loose_rail.kernel.errors import BundleError, LooseRailError, PhotoError
from loose_rail.practice.demo import demo_shop
from loose_rail.screens.main_window import MainWindow
from loose_rail.storage.board_book import BoardBook
from loose_rail.storage.bundle import SCHEMA, Manifest, read_bundle, write_bundle
from loose_rail.storage.give_job import give_job, take_job
from loose_rail.storage.photos import PhotoFolder
from loose_rail.storage.places import places_of
from loose_rail.storage.store import SqliteStore
from tests.screens.helper import close_window, open_window
from tests.shared import demo_records, the

OWN = OwnBoardFile(
    SCHEMA_OF_BOARD,
    "OB-77-1",
    kind="standby flyback, main flyback",
    connectors=["CN1: 12V, GND, 5VSB, PS-ON"],
)
NOW = "2026-11-28T09:00:00+00:00"


class Shop:
    """A shop in a folder of its own."""

    def __init__(self, folder: Path) -> None:
        self.path = folder / "shop.sqlite"
        self.store = SqliteStore(self.path)
        places = places_of(self.path)
        self.book, self.photos = BoardBook(places.boards), PhotoFolder(places.photos)

    def job(self, *events: ev.AnyEvent) -> int:
        """The demo job with more entries."""
        records = demo_records()
        start = len(records)
        for number, event in enumerate(events, start=start + 1):
            records.append(ev.Record(number, NOW, "bench 1", event))
        number = self.store.new_job_number()
        self.store.append(number, records, summary_of(number, records))
        return number

    def give(self, job: int, path: Path, with_name: bool = False) -> str:
        return give_job(self.store, self.book, self.photos, job, path, "<p>sheet</p>", with_name)

    def take(self, path: Path) -> int:
        return take_job(self.store, self.book, self.photos, path, NOW)[0]


class Bundles(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        (self.folder / "there").mkdir()
        (self.folder / "here").mkdir()
        self.there, self.here = Shop(self.folder / "there"), Shop(self.folder / "here")
        self.addCleanup(self.there.store.close)
        self.addCleanup(self.here.store.close)
        self.file = self.folder / "job.zip"

    def picture(self, shop: Shop) -> str:
        made = io.BytesIO()
        Image.effect_noise((64, 48), 50).save(made, "JPEG")
        return shop.photos.add(made.getvalue())

    def test_it_comes_back_as_it_went_without_the_name(self) -> None:
        digest = self.picture(self.there)
        job = self.there.job(
            ev.DetailNoted("customer", "Mrs Made Up"),
            ev.PhotoAdded(digest, "step:1", "the back"),
            ev.NoteWritten("look_over", "=SUM(A1)"),
        )
        self.assertIn("without the customer's name", self.there.give(job, self.file))
        self.assertNotIn(b"Made Up", b"".join(contents(self.file).values()))
        taken = self.here.take(self.file)
        ours, theirs = fold(self.here.store.load(taken)), fold(self.there.store.load(job))
        self.assertEqual(ours.detail("customer"), "")
        self.assertEqual(ours.readings, theirs.readings)
        self.assertEqual(ours.photos, theirs.photos)
        self.assertEqual(ours.notes, theirs.notes)
        self.assertEqual(
            self.here.photos.path(digest).read_bytes(), self.there.photos.path(digest).read_bytes()
        )
        again = self.here.take(self.file)
        tickets = [fold(self.here.store.load(one)).ticket for one in (taken, again)]
        self.assertEqual(tickets, [theirs.ticket, f"{theirs.ticket}-2"])
        self.there.give(job, self.file, with_name=True)
        self.assertEqual(
            fold(self.here.store.load(self.here.take(self.file))).detail("customer"), "Mrs Made Up"
        )
        table = list(csv.reader(io.StringIO(contents(self.file)["readings.csv"].decode())))
        self.assertEqual(len(table) - 1, len(theirs.readings))

    def test_the_same_job_makes_the_same_file_as_the_published_schema_says(self) -> None:
        shipped = resources.files("loose_rail.storage").joinpath("data/bundle.schema.json")
        self.assertEqual(json.loads(shipped.read_bytes()), msgspec.json.schema(Manifest))
        job = self.there.job()
        other = self.folder / "other.zip"
        self.there.give(job, self.file)
        self.there.give(job, other)
        self.assertEqual(self.file.read_bytes(), other.read_bytes())

    def test_an_own_board_goes_with_it_and_a_board_that_nobody_brings_is_asked_for(self) -> None:
        own = self.there.book.keep_own(OWN)
        opened = opened_on(demo_records()[0], own.id)
        self.there.store.append(9, [opened], summary_of(9, [opened]))
        self.there.give(9, self.file)
        taken = fold(self.here.store.load(self.here.take(self.file)))
        self.assertEqual(self.here.book.board(taken.board_id).id, taken.board_id)
        write_bundle(self.file, [opened_on(demo_records()[0], "XX-0-0")], {})
        with self.assertRaisesRegex(BundleError, "XX-0-0, which this shop has not"):
            self.here.take(self.file)

    def test_tricks_and_bombs_are_refused_and_keep_nothing(self) -> None:
        self.there.give(self.there.job(), self.file)
        good = contents(self.file)
        before = len(self.here.store.jobs())
        line, lines = good["events.jsonl"].splitlines()[0], good["events.jsonl"].count(b"\n")
        other_kind = good["job.json"].replace(SCHEMA.encode(), b"loose-rail/bundle/9")
        for words, changed in (
            ("belongs to no job", {**good, "../outside.txt": b"x"}),
            ("belongs to no job", {**good, "/etc/passwd": b"x"}),
            ("belongs to no job", {**good, "photographs/../../a.jpg": b"x"}),
            ("unpacks to more", {**good, "sheet.html": b"0" * 100_000_001}),
            ("not whole", {**good, f"photographs/{'a' * 64}.jpg": b"x"}),
            ("damaged", {**good, "events.jsonl": good["events.jsonl"] + line}),
            ("not said", {**good, "job.json": b"{}"}),
            ("of the kind", {**good, "job.json": other_kind}),
            ("version 99", resealed(good, {}, version=99)),
            ("out of its order", resealed(good, {"events.jsonl": good["events.jsonl"] + line}, 1)),
            ("entries of", resealed(good, {"events.jsonl": line})),
            ("make no job", resealed(good, {"events.jsonl": b""}, -lines)),
            ("another one", resealed(good, {f"photographs/{'a' * 64}.jpg": b"x"})),
        ):
            packed(self.file, changed)
            with self.assertRaisesRegex(BundleError, words):
                self.here.take(self.file)
        data = b"no picture"
        name = f"photographs/{hashlib.sha256(data).hexdigest()}.jpg"
        packed(self.file, resealed(good, {name: data}))
        with self.assertRaises(PhotoError):
            self.here.take(self.file)
        self.assertEqual(len(self.here.store.jobs()), before)
        self.assertEqual(
            sorted(p.name for p in self.folder.iterdir()), ["here", "job.zip", "there"]
        )

    @settings(max_examples=60)
    @given(st.integers(0, 10**6), st.binary(min_size=1, max_size=9), st.booleans())
    def test_damaged_bytes_are_told_or_change_nothing(self, at: int, put: bytes, cut: bool) -> None:
        path = self.folder / "damaged.zip"
        write_bundle(path, demo_records(), {})
        whole = path.read_bytes()
        at %= len(whole)
        path.write_bytes(whole[:at] if cut else whole[:at] + put + whole[at + len(put) :])
        try:
            found = read_bundle(path)
        except LooseRailError as error:
            self.assertTrue(error.one_line())
        else:
            self.assertEqual(list(found.records), demo_records())

    def test_by_command_and_by_a_file_given_to_the_window(self) -> None:
        job = self.there.job()
        ticket = fold(self.there.store.load(job)).ticket
        there, here = str(self.there.path), str(self.here.path)
        self.assertEqual(main(["--data", there, "bundle", ticket, str(self.file)]), 0)
        self.assertNotEqual(main(["--data", there, "bundle", ticket, str(self.file)]), 0)
        self.assertEqual(main(["--data", here, "unbundle", str(self.file)]), 0)
        self.assertEqual([one.ticket for one in self.here.store.jobs()], [ticket])
        window: MainWindow = open_window(self.folder / "demo.sqlite")
        self.addCleanup(close_window, window)
        before = len(demo_shop().jobs)
        window.take_file(str(self.file))
        opened = the(window.job)
        self.assertIn("entries", opened.notice.text())
        self.assertGreater(opened.presenter.session.job, before)
        self.assertTrue(opened.presenter.session.state.ticket.startswith(ticket))
        self.file.write_bytes(b"PK nothing")
        window.take_file(str(self.file))
        self.assertIn("no whole job bundle", window.shelf._summary.text())


def contents(path: Path) -> dict[str, bytes]:
    with zipfile.ZipFile(path) as opened:
        return {name: opened.read(name) for name in opened.namelist()}


def packed(path: Path, parts: dict[str, bytes]) -> None:
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as made:
        for name, data in parts.items():
            made.writestr(name, data)


def resealed(
    good: dict[str, bytes], changed: dict[str, bytes], more: int = 0, version: int = 0
) -> dict[str, bytes]:
    """Parts changed, and the manifest made to fit them."""
    parts = {**good, **changed}
    manifest = json.loads(parts.pop("job.json"))
    manifest["files"] = {name: hashlib.sha256(data).hexdigest() for name, data in parts.items()}
    manifest["events"] += more
    manifest["version"] = version or manifest["version"]
    return {"job.json": json.dumps(manifest).encode(), **parts}


def opened_on(record: ev.Record, board_id: str) -> ev.Record:
    """An opening of a job on another board."""
    opened = record.event
    assert isinstance(opened, ev.JobOpened)
    event = ev.JobOpened("0900", opened.set_name, board_id, opened.complaint, 0.0, "")
    return ev.Record(1, record.at, record.bench, event)


if __name__ == "__main__":
    unittest.main()
