"""The plugs: the SQLite store, the SCPI meter over a real socket, parts by rule, reports."""

import io
import math
import os
import socket
import sqlite3
import subprocess
import sys
import tempfile
import threading
import unittest
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from hypothesis import given, strategies as st
from PIL import Image
from pypdf import PdfReader

from loose_rail.app.album import Album
from loose_rail.app.hand_back_line import enter_hand_back_line
from loose_rail.app.measure import COLD_SAMPLES, take_series
from loose_rail.app.other_jobs import OtherJobs
from loose_rail.instruments.visa_meter import VisaMeter
from loose_rail.jobs import events as ev
from loose_rail.judgement.replacement.electrolytic import (
    Candidate,
    Fit,
    check_replacement,
    original_of,
)
from loose_rail.kernel.errors import (
    MeterError,
    StoreDamagedError,
    StoreError,
    StoreLockedError,
    StoreNewerError,
    StoreReadOnlyError,
)
from loose_rail.kernel.observation import Form, Observation
from loose_rail.practice.bench import SimulatedBench
from loose_rail.practice.demo import demo_shop, fill_store
from loose_rail.practice.hands import BenchHands, SimulatedBenchProcess
from loose_rail.practice.meter_server import ScpiMeter, VirtualClock
from loose_rail.reports.content import content_of
from loose_rail.reports.html import render_html
from loose_rail.screens.shared.paper import write_pdf
from loose_rail.storage.migrate import SCHEMA_VERSION
from loose_rail.storage.photos import PhotoFolder
from loose_rail.storage.store import SqliteStore
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.screens.helper import application
from tests.shared import board, demo_records, demo_session, the


class Folder(unittest.TestCase):
    def setUp(self) -> None:
        self._folder = tempfile.TemporaryDirectory()
        self.addCleanup(self._folder.cleanup)
        self.folder = Path(self._folder.name)
        self.path = self.folder / "shop.sqlite"


class Store(Folder):
    def open(self, busy: int = 50) -> SqliteStore:
        store = SqliteStore(self.path, busy)
        self.addCleanup(store.close)
        return store

    def test_what_is_appended_comes_back_after_reopening(self) -> None:
        store = self.open()
        fill_store(store)
        store.close()
        again = self.open()
        self.assertEqual(again.load(1), demo_records())
        numbers = list(range(1, len(demo_shop().jobs) + 1))
        self.assertEqual(sorted(s.job for s in again.jobs()), numbers)
        self.assertEqual(again.new_job_number(), numbers[-1] + 1)
        self.assertEqual(again.load(99), [])

    def test_the_file_is_in_wal_and_of_this_version(self) -> None:
        self.open()
        with closing(sqlite3.connect(self.path)) as raw:
            self.assertEqual(raw.execute("PRAGMA journal_mode").fetchone()[0], "wal")
            self.assertEqual(raw.execute("PRAGMA user_version").fetchone()[0], SCHEMA_VERSION)

    def test_the_same_sequence_twice_is_refused_and_nothing_is_written(self) -> None:
        store = self.open()
        fill_store(store)
        taken = ev.Record(2, "t", "b", ev.NoteWritten("parts", "x"))
        with self.assertRaises(StoreError):
            store.append(1, [ev.Record(99, "t", "b", ev.LampSeen("dark")), taken])
        self.assertEqual(store.load(1), demo_records())

    def test_locked(self) -> None:
        store = self.open()
        fill_store(store)
        with closing(sqlite3.connect(self.path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            with self.assertRaises(StoreLockedError):
                store.append(1, [ev.Record(99, "t", "b", ev.LampSeen("dark"))])
            self.assertEqual(len(store.load(1)), len(demo_records()))
            other.execute("ROLLBACK")
        store.append(1, [ev.Record(99, "t", "b", ev.LampSeen("dark"))])

    def test_newer_foreign_and_damaged_files_are_refused_and_kept(self) -> None:
        self.open().close()
        with closing(sqlite3.connect(self.path)) as raw:
            raw.execute(f"PRAGMA user_version={SCHEMA_VERSION + 1}")
        with self.assertRaises(StoreNewerError):
            SqliteStore(self.path)
        foreign = self.folder / "other.sqlite"
        with closing(sqlite3.connect(foreign)) as raw:
            raw.execute("CREATE TABLE x (y)")
        damaged = self.folder / "damaged.sqlite"
        damaged.write_bytes(b"this is no database at all " * 50)
        for path in (foreign, damaged):
            content = path.read_bytes()
            with self.assertRaises(StoreDamagedError):
                SqliteStore(path)
            self.assertEqual(path.read_bytes(), content)

    def test_a_folder_that_cannot_be_written(self) -> None:
        with self.assertRaises(StoreReadOnlyError):
            SqliteStore(Path("/proc/loose-rail/shop.sqlite"))

    def test_a_killed_writer_loses_nothing_it_had_accepted(self) -> None:
        script = (
            "import sys, os, pathlib\n"
            "from loose_rail.storage.store import SqliteStore\n"
            "from loose_rail.practice.demo import fill_store\n"
            "from loose_rail.jobs import events as ev\n"
            "s = SqliteStore(pathlib.Path(sys.argv[1])); fill_store(s)\n"
            "n = len(s.load(1)) + 1\n"
            "s.append(1, [ev.Record(n, 't', 'b', ev.LampSeen('dark'))])\n"
            "os.kill(os.getpid(), 9)\n"
        )
        done = subprocess.run([sys.executable, "-c", script, str(self.path)], check=False)
        self.assertEqual(done.returncode, -9)
        self.assertEqual(self.open().load(1)[-1].event, ev.LampSeen("dark"))


class Scpi(unittest.TestCase):
    def meter(self, *faults: str) -> ScpiMeter:
        from loose_rail.boards.faults import fault_from_key

        clock = VirtualClock()
        found = [fault_from_key(board(), key) for key in faults]
        return ScpiMeter(SimulatedBench(board(), found, clock), clock.sleep)

    def test_dialogue(self) -> None:
        meter = self.meter("C21:dried:1")
        self.assertIn("Loose Rail", meter.handle("*IDN?"))  # type: ignore[arg-type]
        self.assertIsNone(meter.handle("CONF:ESR"))
        self.assertEqual(meter.handle("READ?"), "+9.90000000E+37")
        meter.handle("BENCH:PROBE 5VA,GND,")
        self.assertAlmostEqual(float(meter.handle("READ?")), 1.66, delta=0.15)  # type: ignore[arg-type]
        self.assertIsNone(meter.handle("NONSENSE 1"))
        self.assertIn("-113", meter.handle("SYST:ERR?"))  # type: ignore[arg-type]
        self.assertIn("No error", meter.handle("SYST:ERR?"))  # type: ignore[arg-type]
        meter.handle("BENCH:STATE nowhere")
        self.assertIn("-224", meter.handle("SYST:ERR?"))  # type: ignore[arg-type]
        meter.handle("BENCH:FIT C21")
        meter.handle("BENCH:PROBE 5VA,GND,")
        self.assertLess(float(meter.handle("MEAS:ESR?")), 0.06)  # type: ignore[arg-type]

    def test_a_part_read_by_itself(self) -> None:
        meter = self.meter("C22:leaky:0")
        meter.handle("CONF:RES")
        meter.handle("BENCH:PROBE 5VA,GND,lifted:C21")
        self.assertGreater(float(meter.handle("READ?")), 1e5)  # type: ignore[arg-type]
        meter.handle("BENCH:PROBE 5VS,GND,lifted:C22")
        self.assertAlmostEqual(float(meter.handle("READ?")), 22, delta=3)  # type: ignore[arg-type]

    def test_process_visa_and_hands_together(self) -> None:
        process = SimulatedBenchProcess(board().id, ["C21:dried:1"], quick=True)
        self.addCleanup(process.close)
        hands = BenchHands(process)
        self.addCleanup(hands.close)
        hands.probe("5VA", "GND", "")
        hands.settle()
        stranger = VisaMeter(process.address, 500)  # who it is may be asked by anybody
        self.addCleanup(stranger.close)
        with self.assertRaisesRegex(MeterError, "LR701|answer"):
            stranger.read("ohms")
        meter = VisaMeter(process.address, unlock=process.unlock)
        self.addCleanup(meter.close)
        self.assertEqual(meter.name, "Simulated bench meter")
        counted: list[int] = []
        seen = take_series(
            meter, MeterMode.ESR, False, lambda: False, lambda n, of, v: counted.append(n)
        )
        self.assertEqual((the(seen).form, counted), (Form.VALUE, list(range(1, COLD_SAMPLES + 1))))
        hands.put("standby/bare/lamp60")
        hands.probe("5VS", "GND", "standby.out")
        hands.settle()
        ticks = iter(range(1000))
        seen = take_series(
            meter, MeterMode.DC_VOLTS, True, lambda: False, None, lambda: 0.2 * next(ticks)
        )
        self.assertEqual(the(seen).form, Form.TICKING)
        self.assertAlmostEqual(the(seen).hertz, 1.0, delta=0.2)  # type: ignore[type-var]
        self.assertIsNone(take_series(meter, MeterMode.DC_VOLTS, True, lambda: True))


class Played:
    """A meter that shows a course in time, five samples a second."""

    name = "played"

    def __init__(self, volts: Callable[[float], float]) -> None:
        self.volts, self.seconds = volts, -0.2

    def clock(self) -> float:
        return self.seconds

    def read(self, mode: MeterMode) -> float:
        self.seconds += 0.2
        return self.volts(self.seconds)

    def close(self) -> None:
        pass


class ComingUp(unittest.TestCase):
    def seen(self, volts: Callable[[float], float]) -> Observation:
        meter = Played(volts)
        found = take_series(meter, MeterMode.DC_VOLTS, True, lambda: False, None, meter.clock)  # type: ignore[arg-type]
        assert found is not None
        return found

    @given(st.floats(3.0, 200.0), st.floats(0.3, 2.2), st.floats(0.0, 0.9))
    def test_a_rail_that_comes_up_reads_what_it_came_up_to(
        self, level: float, after: float, first: float
    ) -> None:
        found = self.seen(lambda t: level * min(1.0, first + (1 - first) * t / after))
        self.assertEqual(found.form, Form.VALUE, found)
        self.assertAlmostEqual(found.low / level, 1.0, delta=0.002)

    @given(st.floats(3.0, 200.0), st.floats(0.5, 3.5), st.floats(0.0, 0.8))
    def test_a_rail_that_was_there_and_went_is_never_a_plain_value(
        self, level: float, until: float, left: float
    ) -> None:
        found = self.seen(lambda t: level if t < until else left * level)
        self.assertNotEqual(found.form, Form.VALUE)
        self.assertAlmostEqual(found.high / level, 1.0, delta=0.002)


class BadMeters(unittest.TestCase):
    def serve(self, answers: dict[bytes, bytes]) -> str:
        """A listener that answers some commands and is silent at the others."""
        listener = socket.create_server(("127.0.0.1", 0))
        self.addCleanup(listener.close)

        def work() -> None:
            try:
                connection, _ = listener.accept()
            except OSError:
                return
            with connection, connection.makefile("rb") as lines:
                for line in lines:
                    if line.strip() in answers:
                        connection.sendall(answers[line.strip()])

        threading.Thread(target=work, daemon=True).start()
        return f"TCPIP::127.0.0.1::{listener.getsockname()[1]}::SOCKET"

    def test_off_silent_rubbish_and_overload(self) -> None:
        with self.assertRaises(MeterError):
            VisaMeter("TCPIP::127.0.0.1::1::SOCKET", 300)
        with self.assertRaises(MeterError):
            VisaMeter(self.serve({}), 300)
        named = {b"*IDN?": b"Maker,Model,1,1\n"}
        for reply, words in (
            (b"hello\n", "no whole number"),
            (b"nan\n", "no reading"),
            (b"9.91E37\n", "no reading"),
        ):
            meter = VisaMeter(self.serve({**named, b"READ?": reply}), 500)
            with self.assertRaises(MeterError) as caught:
                meter.read("ohms")
            self.assertIn(words, caught.exception.message)
            meter.close()
        meter = VisaMeter(self.serve({**named, b"READ?": b"9.9E37\n"}), 500)
        self.assertEqual(meter.read("ohms"), math.inf)
        with self.assertRaises(MeterError):
            meter.read("temperature")
        meter.close()
        silent = VisaMeter(self.serve(named), 300)
        with self.assertRaises(MeterError):
            silent.read("dc_volts")
        silent.close()


class Parts(unittest.TestCase):
    def candidate(self, **changes: float) -> Candidate:
        values = {
            "farads": 1e-3,
            "volts": 10.0,
            "celsius": 105.0,
            "esr_ohms": 0.04,
            "diameter_mm": 10.0,
            "height_mm": 20.0,
            "pitch_mm": 5.0,
        }
        return Candidate("x", **{**values, **changes})

    def test_rules_of_the_standby_output(self) -> None:
        """Electrical reference section 9: C 0.9–2.0, V 1.0–1.6, ESR and temperature not worse."""
        cases = [
            ({}, Fit.OK),
            ({"volts": 16.0}, Fit.OK),
            ({"volts": 25.0}, Fit.NOTE),
            ({"volts": 6.3}, Fit.NO),
            ({"farads": 0.8e-3}, Fit.NO),
            ({"farads": 2.0e-3}, Fit.NOTE),
            ({"farads": 2.2e-3}, Fit.NO),
            ({"celsius": 85.0}, Fit.NO),
            ({"esr_ohms": 0.2}, Fit.NO),
            ({"esr_ohms": 0.07}, Fit.NOTE),
            ({"esr_ohms": 0.005}, Fit.NOTE),
            ({"diameter_mm": 16.0}, Fit.NO),
            ({"height_mm": 24.0}, Fit.NOTE),
            ({"pitch_mm": 3.5}, Fit.NOTE),
        ]
        for changes, fit in cases:
            check = check_replacement(board(), "C21", self.candidate(**changes))
            self.assertIs(check.fit, fit, f"{changes}: {check.notes}")
            self.assertEqual(bool(check.notes), fit is not Fit.OK)

    def test_a_part_always_fits_its_own_place(self) -> None:
        for ref in ("C21", "C22", "C27", "C31"):
            own = original_of(board().component(ref))
            self.assertIs(check_replacement(board(), ref, own).fit, Fit.OK, ref)
        with self.assertRaises(ValueError):
            original_of(board().component("R8"))

    def test_the_demo_stock_has_one_clear_answer(self) -> None:
        fits = [check_replacement(board(), "C21", item).fit for item in demo_shop().stock]
        self.assertEqual(fits, [Fit.OK, Fit.NO, Fit.NOTE, Fit.NO])


class Reports(Folder):
    def test_html_and_pdf_carry_the_same_readings(self) -> None:
        from loose_rail.kernel.entry import read_entry

        session = demo_session()
        session.measure_bulk(1.0)
        cold = the(session.engine).table
        one = cold.candidates[cold.index("Q1.ds@unplugged")]
        session.take_reading(one, read_entry("17k", "Ω").observation, "typed")
        session.record(
            ev.VerdictAccepted("C21", "C21 dried out <hours> & heat", 0.97, "confirmed", [])
        )
        content = content_of(session, 38.5)
        html = render_html(content)
        path = self.folder / "report.pdf"
        application()
        write_pdf(html, content.title, path)
        text = "".join("".join(p.extract_text() for p in PdfReader(path).pages).split())
        for words in ("Job 0412", "17.0 kΩ", "C21 dried out", "38.50", "ticks about once"):
            self.assertIn(words, html)
            self.assertIn("".join(words.split()), text)
        self.assertIn("&lt;hours&gt; &amp; heat", html)
        self.assertIn("<hours>&heat", text)
        self.assertNotIn("http", html.replace("http-equiv", ""))
        fonts = {f for p in PdfReader(path).pages for f in p["/Resources"]["/Font"].values()}  # type: ignore[index]
        names = {str(f.get_object()["/BaseFont"]) for f in fonts}
        self.assertTrue(any("B612" in name for name in names), names)
        self.assertTrue(os.path.getsize(path) < 400_000)

    def test_a_plot_of_readings_is_printed_once_it_is_put_on_the_sheet(self) -> None:
        session, photos = demo_session(), PhotoFolder(self.folder / "photos")
        album = Album(session, photos)
        made = io.BytesIO()
        Image.effect_noise((900, 420), 60).convert("RGB").save(made, "PNG")
        self.assertNotIn("Readings in time", render_html(content_of(session, None, photos)))
        words = "5 V standby: steady, mean 5.02 V"
        for said in ("On the sheet", "already"):
            kept = album.keep_bytes(made.getvalue(), "readings")
            self.assertIn(said, album.record_plot(kept, words).text)
        refused = album.record_plot(album.keep_bytes(b"no picture", "readings"), words)
        self.assertEqual(refused.kind, "problem")
        content = content_of(session, None, photos)
        html = render_html(content)
        self.assertIn(words, html)
        self.assertIn("data:image/png;base64,", html)
        self.assertEqual(content.pictures, ())  # a plot is none of the photographs
        application()
        path = self.folder / "plot.pdf"
        write_pdf(html, content.title, path)
        self.assertEqual(sum(len(page.images) for page in PdfReader(path).pages), 1)
        photos.path(session.state.photos[-1].photo).unlink()
        self.assertIn("is not in", render_html(content_of(session, None, photos)))

    def test_photographs_are_printed_where_they_are_asked_for_and_missing_ones_told(self) -> None:
        session, photos = demo_session(), PhotoFolder(self.folder / "photos")
        made = io.BytesIO()
        Image.effect_noise((320, 240), 60).convert("RGB").save(made, "JPEG")
        digest = photos.add(made.getvalue())
        session.record(ev.PhotoAdded(digest, "part:C21", "C21 as found"))
        session.record(ev.PhotoAdded("f" * 64, "step:1"))
        self.assertNotIn("Photographs", render_html(content_of(session, None, photos)))
        for text, words in (("photos on", "2 photographs"), ("photos lots", "no point")):
            told = enter_hand_back_line(session, text, OtherJobs())
            self.assertIn(words, told.text)
        content = content_of(session, None, photos)
        html = render_html(content)
        self.assertIn("C21 as found", html)
        self.assertIn("data:image/jpeg;base64,", html)
        self.assertIn("is not in", html)  # told in its place
        application()
        path = self.folder / "report.pdf"
        write_pdf(html, content.title, path)
        self.assertEqual(sum(len(page.images) for page in PdfReader(path).pages), 1)
