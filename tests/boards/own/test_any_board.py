"""Any board: what is said of it are the typed pins and the bound parts, and no other."""

import re
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from hypothesis import example, given, settings, strategies as st

from loose_rail.app.board_desk import BoardDesk
from loose_rail.app.clock import SystemClock
from loose_rail.app.guides.wake import WakeGuide
from loose_rail.app.legend import legend_of_connector
from loose_rail.app.taking_in import Form, NewJob
from loose_rail.boards.own.edit import edited
from loose_rail.boards.own.file import (
    SCHEMA,
    OwnBoardFile,
    board_of_file,
    decoded,
    encoded,
    with_line,
)
from loose_rail.boards.own.typed_pinout import pinout_text, typed_pinout
from loose_rail.boards.probe_ends import ends_of
from loose_rail.boards.probes import probes_of
from loose_rail.boards.profile import Board
from loose_rail.boards.validate import problems_of
from loose_rail.diagnosis.model.cache import cache_key
from loose_rail.diagnosis.settled_facts import pins_confirmed
from loose_rail.jobs import events as ev
from loose_rail.jobs.renamed import renamed_records
from loose_rail.jobs.state import JobState
from loose_rail.jobs.summary import Summary
from loose_rail.judgement.over_voltage import over_voltage
from loose_rail.judgement.safety import SafetyFacts, state_refusals
from loose_rail.kernel.errors import BoardFileError
from loose_rail.kernel.observation import value
from loose_rail.kernel.quantities import component_value
from loose_rail.storage.board_book import BoardBook
from loose_rail.vocabulary.board_state import UNPLUGGED, state_of
from tests.boards.own.spoken import spoken
from tests.fakes.store import MemoryStore
from tests.shared import demo_records

KINDS = (
    ("boost", "resonant", "led"),
    ("plasma",),
    ("adapter", "led"),
    ("single", "tubes"),
    ("flyback",),
    (),
)
LABELS = st.sampled_from(
    [
        "24V",
        "12V",
        "13V",
        "5VSB",
        "5V",
        "3.3V",
        "GND",
        "GND",
        "PS-ON",
        "BL-ON",
        "DIM",
        "FAULT",
        "VS",
        "",
        "N.C.",
        "X7",
        "18V",
    ]
)
PINOUTS = st.lists(
    st.tuples(st.lists(LABELS, max_size=14), st.integers(1, 2), st.booleans()), max_size=3
)
DESIGNATOR = re.compile(r"\b(?:CN|BD|RV|CX|CY|LF|NT|LS|LP|[CQRDUTLF])\d{1,4}\b")
PIN = re.compile(r"([^\s(]+) pin (\d+)\b")
TWO_RAILS = "CN8/2: 24V, 24V, GND, GND, 12V, 12V, 5VSB, GND, PS-ON, BL-ON"


def own(*connectors: str, kind: str = "standby flyback, LLC", wake: str = "high") -> OwnBoardFile:
    return OwnBoardFile(SCHEMA, "XQ-77", kind=kind, wake=wake, connectors=list(connectors))


def with_lines(own: OwnBoardFile, lines: list[str]) -> OwnBoardFile:
    for line in lines:
        own, _ = with_line(own, line)
    return own


def taken_in(folder: Path, seen: tuple[str, ...], lines: str, wake: str) -> Board:
    """The board that the form makes of what is seen and typed."""
    form = Form("Made-up 43", "XQ-77", "", lines, wake, "It does not work.", "", seen)
    book = BoardBook(folder)
    number = NewJob(book, MemoryStore(demo_records()), SystemClock()).create(form)
    assert isinstance(number, int), number
    return book.board("XQ-77")


class Pins(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @example(("single", "tubes"), [(["24V", "12V"], 1, False)], "high")  # no logic rail is printed
    @given(st.sampled_from(KINDS), PINOUTS, st.sampled_from(["high", "low", "none", ""]))
    def test_every_pin_that_is_named_is_a_typed_one_with_its_label(
        self, seen: tuple[str, ...], plugs: list[tuple[list[str], int, bool]], wake: str
    ) -> None:
        lines = [
            f"P{k}0{k}/{rows}{' around' if around else ''}: {', '.join(x or '?' for x in labels)}"
            for k, (labels, rows, around) in enumerate(plugs, start=1)
            if labels
        ]
        with tempfile.TemporaryDirectory() as folder:
            board = taken_in(Path(folder), seen, "\n".join(lines), wake)
        self.assertEqual(problems_of(board), [])
        typed = {
            f"P{k}0{k}": dict(enumerate(labels, start=1))
            for k, (labels, _, _) in enumerate(plugs, start=1)
        }
        for words in spoken(board, forced=board.wake.sense in ("high", "low")):
            self.assertFalse(DESIGNATOR.findall(words), words)
            for plug, number in PIN.findall(words):
                self.assertIn(int(number), typed.get(plug, {}), words)
        for probe in probes_of(board):
            for end in ends_of(board, probe):
                if end.connector in typed:
                    self.assertEqual(end.label, typed[end.connector][end.pin], probe.id)
        for plug in board.connectors:
            legend = legend_of_connector(board, plug)
            drawn = {pin.number: pin.label for row in legend.rows for pin in row if pin.label}
            kept = {n: label for n, label in typed.get(plug.ref, {}).items() if label}
            self.assertEqual(drawn, kept)
        self.check_jumper(board, typed)

    def check_jumper(self, board: Board, typed: dict[str, dict[int, str]]) -> None:
        """Only between confirmed pins, and those are a start and a standby or ground pin."""
        wake = board.wake
        if wake.sense not in ("high", "low"):
            return
        self.assertEqual(typed[wake.connector][wake.pin], "PS-ON")
        if wake.sense == "high":
            self.assertIn(typed[wake.connector][wake.source_pin], ("5VSB", "5V", "3.3V"))
        forced = state_of("forced/bare/lamp60")
        job = JobState(board_id=board.id)
        for pins, refused in (
            (None, True),
            (ev.PinsConfirmed(wake.connector, wake.pin, wake.source_pin + 1), True),
            (ev.PinsConfirmed(wake.connector, wake.pin, wake.source_pin), False),
        ):
            sure = pins_confirmed(board, replace(job, pins=pins))
            facts = SafetyFacts(UNPLUGGED, 1.0, True, pins_confirmed=sure)
            codes = [one.code for one in state_refusals(board, forced, facts)]
            self.assertEqual("unconfirmed_pins" in codes, refused)

    def test_the_board_of_the_audit_speaks_of_its_own_pins(self) -> None:
        board = board_of_file(own(TWO_RAILS, kind="standby flyback, PFC, LLC, LED driver"))
        by_id = {probe.id: probe for probe in probes_of(board)}
        self.assertEqual(by_id["live.standby_pin"].plus_words, "CN8 pin 7")
        self.assertEqual(by_id["live.start"].plus_words, "CN8 pin 9")
        self.assertTrue(by_id["live.main_pin"].title.startswith("12V, CN8-5"))
        text = str(WakeGuide(Job(board)).state())  # type: ignore[arg-type]
        self.assertIn("PS-ON (CN8 pin 9) and 5VSB (CN8 pin 7)", text)
        self.assertNotIn("Jumper: ", text)

    def test_what_is_called_on_switches_the_lamps_of_a_supply_that_nothing_wakes(self) -> None:
        for wake, signal in (("none", "lamps"), ("high", "start")):
            plugs = ("CN1: 5V, 5V, GND, ON, DIM", "CN2: LED+, LED-")
            made = own(*plugs, kind="adapter 19 V: step-down 5 V, LED boost", wake=wake)
            board = board_of_file(made)
            pin = next(p for c in board.connectors for p in c.pins if p.label == "ON")
            read = {p.observable for p in board.live_points if p.plus == pin.net}
            self.assertEqual(read, {signal}, wake)

    def test_one_plug_of_two_drivers_has_the_outputs_of_both(self) -> None:
        """“LED2+” is the second driver's; of one driver with two strings both are its own."""
        for kind, outputs in (("two LED drivers from 24 V", 2), ("LED driver from 24 V", 1)):
            plugs = ("CN1/2: 5VSB, PS-ON, GND, 24V, BL-ON, DIM", "CN5: LED1+, LED1-, LED2+, LED2-")
            board = board_of_file(own(*plugs, kind=f"standby flyback, LLC 24 V, {kind}"))
            pins = [p for c in board.connectors for p in c.pins if p.label.endswith("+")]
            self.assertEqual([pin.label for pin in pins], ["LED1+", "LED2+"])
            nets = [pin.net for pin in pins]
            self.assertEqual(len(set(nets)), outputs, kind)
            plus = {p.plus for p in board.live_points if p.observable.startswith("led")}
            self.assertLessEqual(set(nets), plus)

    def test_a_rail_that_reads_its_own_label_is_no_over_voltage(self) -> None:
        for label in ("18V", "26V", "19V"):
            board = board_of_file(own(f"CN4: {label}, GND, 5VSB, PS-ON"))
            probe = next(p for p in probes_of(board) if p.title.startswith(label))
            volts = float(label.removesuffix("V"))
            self.assertIsNone(over_voltage(board, probe, value(volts, "V")), label)
            self.assertIsNotNone(over_voltage(board, probe, value(2.2 * volts, "V")), label)

    @given(PINOUTS)
    def test_a_pinout_is_read_back_as_it_was_written(
        self, plugs: list[tuple[list[str], int, bool]]
    ) -> None:
        for labels, rows, around in plugs:
            line = f"CN3/{rows}{' around' if around else ''}: {', '.join(x or '?' for x in labels)}"
            once = typed_pinout(line).connector()
            again = typed_pinout(pinout_text(once)).connector()
            self.assertEqual((again, once.pins), (once, tuple(labels)))


class Parts(unittest.TestCase):
    """Places bound to printed designators, neighbours, values, and a label that is mended later."""

    def setUp(self) -> None:
        self.own = own("CN8: 12V, 12V, 5VSB, GND, PS-ON, BL-ON", kind="standby, main flyback")

    def test_what_is_bound_is_called_by_its_designator_everywhere(self) -> None:
        mine = with_lines(
            self.own,
            ["C952 = 12 V reservoir 1000u 25V x2", "Q7 = standby switch", "C953 with C952 470u"],
        )
        board = board_of_file(mine)
        for words in spoken(board):
            self.assertNotIn("12 V reservoir 2", words)
            self.assertFalse(set(DESIGNATOR.findall(words)) - {"C952", "C953", "Q7", "CN8"}, words)
        self.assertEqual(board.roles["main.reservoir"], ["C952", "C952 twin", "C953"])
        self.assertEqual(board.roles["standby.switch"], ["Q7"])
        self.assertEqual(board.component("C952").params["volts"], "25")
        self.assertEqual(component_value(board.component("C953").value), 470e-6)
        self.assertEqual(board.earlier_names, {"12 V reservoir": "C952", "standby switch": "Q7"})
        self.assertEqual(decoded(encoded(mine), "x"), mine)

    def test_a_name_alone_costs_no_prediction_and_a_value_does(self) -> None:
        before = cache_key(board_of_file(self.own))
        named = board_of_file(with_lines(self.own, ["C952 = 12 V reservoir", "F1 = main fuse"]))
        valued = board_of_file(with_lines(self.own, ["C952 = 12 V reservoir 330u 25V"]))
        self.assertEqual(cache_key(named), before)
        self.assertNotEqual(cache_key(valued), before)

    def test_a_divider_keeps_its_rail_as_its_resistors_become_known(self) -> None:
        mine = with_lines(self.own, ["R21 = main rail 12 V feedback divider upper 47k"])
        board = board_of_file(mine)
        upper, lower = (
            component_value(board.component(board.roles[f"main.{end}"][0]).value)
            for end in ("upper", "lower")
        )
        self.assertAlmostEqual(2.495 * (1 + upper / lower), 12.0, delta=0.1)
        with self.assertRaisesRegex(BoardFileError, "volts of its label"):
            with_lines(mine, ["R22 = main rail 12 V feedback divider lower 4k7"])

    def test_a_marking_typed_for_a_value_is_read_by_what_the_part_is(self) -> None:
        for typed, ref, meant in (
            ("C952 = 12 V reservoir 477 25V", "C952", 470e-6),  # a power of ten, as on a can
            ("R21 = main rail 12 V feedback divider upper 473", "R21", 47e3),
            ("R21 = main rail 12 V feedback divider upper 4702", "R21", 47e3),
            ("R21 = main rail 12 V feedback divider upper 47k", "R21", 47e3),
        ):
            board = board_of_file(with_lines(self.own, [typed]))
            self.assertAlmostEqual(component_value(board.component(ref).value) / meant, 1.0)

    def test_lines_that_can_not_be_meant_are_refused_with_what_to_type(self) -> None:
        for text, words in (
            ("no bulk capacitor", "works without"),
            ("C1 = wobble", "has no “wobble”"),
            ("C1 = 12 V reservoir 4k7", "farads"),
            ("R9 = divider upper", "may be"),
            ("CN8 pin 9 = GND", "no pin 9"),
            ("CN8/3: 12V", "rows"),
            ("start sideways", "high, low, none"),
            ("mains lots", "no mains"),
            ("drop 3", "no line 3"),
            ("hello", "binds nothing"),
        ):
            with self.assertRaisesRegex(BoardFileError, words):
                edited(self.own, text)

    def test_what_a_job_wrote_before_follows_the_part_through_every_change(self) -> None:
        """The binding survives a mended label; entries under older names speak of the same part."""
        mine = self.own
        for line in ("C952 = 12 V reservoir", "12V stands at 12.8", "CN8: 13V, 13V, 5VSB, GND"):
            mine, _ = edited(mine, line)
        board = board_of_file(mine)
        self.assertEqual(board.roles["main.reservoir"], ["C952"])
        written = [
            ev.Record(1, "", "b", ev.FindingNoted("12 V reservoir", "domed")),
            ev.Record(2, "", "b", ev.ProbeSkipped("12V8 rectifier.vf")),
            ev.Record(3, "", "b", ev.NoteWritten("look_over", "12 V reservoir")),
        ]
        part, probe, note = (
            record.event for record in renamed_records(written, board.earlier_names)
        )
        self.assertEqual(part, ev.FindingNoted("C952", "domed"))
        self.assertEqual(probe, ev.ProbeSkipped("13 V rectifier.vf"))
        self.assertEqual(note, ev.NoteWritten("look_over", "12 V reservoir"))

    def test_the_book_keeps_every_change_and_puts_them_back_one_by_one(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            book = BoardBook(Path(folder))
            book.keep_own(self.own)
            desk = BoardDesk(book, "XQ-77", SystemClock())
            files = [book.own_file("XQ-77")]
            for line in ("C952 = 12 V reservoir", "also ZZ-9", "CN8 pin 6 = DIM"):
                self.assertTrue(desk.enter(line).taken)
                files.append(book.own_file("XQ-77"))
            self.assertFalse(desk.enter("C952 = nothing here").taken)
            self.assertEqual(len(BoardBook(Path(folder)).changes("XQ-77")), 3)
            self.assertEqual(the_id(book.match("zz9")), "XQ-77")
            for wanted in reversed(files[:-1]):
                self.assertTrue(desk.put_back().taken)
                self.assertEqual(book.own_file("XQ-77"), wanted)
            self.assertIn("no change", desk.put_back().text)

    def test_what_sound_boards_read_follows_a_part_that_gets_its_name(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            book = BoardBook(Path(folder))
            book.keep_own(self.own)
            book.learn("XQ-77", {"12 V reservoir.esr@unplugged": 0.03, "live.main_pin@x": 12.1})
            self.assertEqual(book.learn("XQ-77", {"live.main_pin@x": 12.2}), 2)
            desk = BoardDesk(book, "XQ-77", SystemClock())
            self.assertTrue(desk.enter("C952 = 12 V reservoir").taken)
            norms = {"C952.esr@unplugged": [0.03], "live.main_pin@x": [12.1, 12.2]}
            self.assertEqual(BoardBook(Path(folder)).board("XQ-77").norms, norms)
            self.assertIn(("Learned", "2 points from 2 sound boards"), desk.state().facts)
            ended = [
                Summary(job=number, events=1, ticket=f"000{number}", part=part, title="dried out")
                for number, part in enumerate(("12 V reservoir", "C952", "C952"), start=1)
            ]
            weak = BoardDesk(book, "XQ-77", SystemClock(), ended)
            self.assertIn(("Failed here before", "C952 3×"), weak.state().facts)
            self.assertEqual(weak.ended_at("C952")[0], "job 0003: dried out")
            self.assertTrue(desk.forget().taken)
            self.assertEqual(book.board("XQ-77").norms, {})


def the_id(board: Board | None) -> str:
    return board.id if board else ""


class Job:
    """What the wake guide asks of a session."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.state = JobState(board_id=board.id)


class PlugNames(unittest.TestCase):
    @settings(max_examples=25, deadline=None)
    @given(st.sampled_from(KINDS), st.sampled_from(("CN", "P", "JP")), st.integers(100, 999))
    @example(KINDS[0], "CN", 101)
    def test_a_plug_may_be_called_anything(
        self, kind: tuple[str, ...], letters: str, number: int
    ) -> None:
        """A plug that is printed CN101 is the plug, not the mains inlet of the composed board."""
        name = f"{letters}{number}"
        boards = [
            board_of_file(
                OwnBoardFile(
                    SCHEMA, "OB-1", kind=" ".join(kind), connectors=[TWO_RAILS.replace("CN8", one)]
                )
            )
            for one in ("CN8", name)
        ]
        plain, called = boards
        self.assertEqual(len(plain.components), len(called.components))
        refs = {"CN8": name}
        self.assertEqual(
            [refs.get(part.ref, part.ref) for part in plain.components],
            [part.ref for part in called.components],
        )
        self.assertEqual(
            {key: [refs.get(ref, ref) for ref in parts] for key, parts in plain.roles.items()},
            called.roles,
        )


if __name__ == "__main__":
    unittest.main()
