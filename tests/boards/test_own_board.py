"""A board of the technician's own: nothing is spoken of but what was typed."""

import re
import tempfile
import unittest
from pathlib import Path

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from loose_rail.app.clock import SystemClock
from loose_rail.app.guides.wake import WakeGuide
from loose_rail.app.legend import connector_of, legend_of_board, numbered_labels
from loose_rail.app.taking_in import Form, NewJob
from loose_rail.boards.by_pinout import by_pinout
from loose_rail.boards.cold_network import cold_network
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.probes import probes_of
from loose_rail.boards.profile import Board
from loose_rail.boards.validate import problems_of
from loose_rail.jobs import events as ev
from loose_rail.judgement.over_voltage import over_voltage
from loose_rail.judgement.safety import SafetyFacts, state_refusals
from loose_rail.judgement.transitions import instructions
from loose_rail.kernel.observation import value
from loose_rail.storage.board_book import BoardBook, without_example
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power, state_of
from tests.fakes.store import MemoryStore
from tests.shared import demo_records

PINOUT = "24V, 24V, GND, GND, 12V, 12V, 5VSB, GND, PS-ON, BL-ON"
KINDS = (
    "standby flyback, PFC, LLC, LED",
    "plasma",
    "adapter",
    "CCFL monitor",
    "standby and main flyback",
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
    ]
)
DESIGNATOR = re.compile(r"\b(?:CN|BD|RV|CX|CY|LF|NT|LS|LP|[CQRDUTLF])\d{1,4}\b")
PIN = re.compile(r"(\S.*?) pin (\d+)\b")


class Kept:
    """A board book that keeps in memory what it is given."""

    def __init__(self) -> None:
        self.board: Board | None = None

    def match(self, number: str) -> Board | None:
        return None

    def keep(self, board: Board, number: str, aliases: list[str]) -> Board:
        self.board = msgspec.structs.replace(board, id=number, aliases=aliases)
        return self.board


def made(kind: str, pinout: str, wake: str = "high") -> Board:
    """The board that the form makes of a kind and a pinout."""
    book = Kept()
    form = Form("A made-up set", "XQ-77", kind, pinout, wake, "It does not work.", "")
    number = NewJob(book, MemoryStore(demo_records()), SystemClock()).create(form)
    assert isinstance(number, int) and book.board is not None, number
    return book.board


def spoken(board: Board) -> list[str]:
    """Every word that a screen, a card or a netlist can take from a profile."""
    said = [part.ref for part in board.components] + [part.duty for part in board.components]
    said += [net.where for net in board.nets] + [one.title for one in board.sections]
    said += [one.subtitle for one in board.sections] + [rail.title for rail in board.rails]
    said += [one.ref for one in board.connectors] + [one.reason for one in board.co_failures]
    for probe in probes_of(board):
        said += [probe.title, probe.plus_words, probe.minus_words]
    for power in Power:
        for cable in (True, False):
            steps = instructions(board, UNPLUGGED, BoardState(power, cable, 60))
            said += [step.text for step in steps] if power is not Power.FORCED else []
    return said


class Pins(unittest.TestCase):
    @settings(max_examples=120)
    @given(
        st.sampled_from(KINDS),
        st.lists(LABELS, max_size=14),
        st.sampled_from(["", "CN8", "P801"]),
        st.sampled_from(["high", "low", ""]),
    )
    def test_every_pin_that_is_named_is_a_typed_one_with_its_label(
        self, kind: str, labels: list[str], name: str, wake: str
    ) -> None:
        pinout = (f"{name}: " if name else "") + ", ".join(labels)
        board = made(kind, pinout, wake)
        self.assertEqual(problems_of(board), [])
        typed = numbered_labels(connector_of(pinout)[1])
        plug = name or "main plug"
        self.assertEqual({pin.number: pin.label for pin in board.connectors[0].pins}, typed)
        self.assertEqual(board.connectors[0].ref, plug)
        for words in spoken(board):
            self.assertFalse(set(DESIGNATOR.findall(words)) - {plug}, words)
            for where, number in PIN.findall(words):
                if where.endswith(plug):
                    self.assertIn(int(number), typed, words)
        for probe in probes_of(board):
            for number in (int(n) for w, n in PIN.findall(probe.title) if w.endswith(plug)):
                self.assertTrue(probe.title.startswith(f"{typed[number]}, "), probe.title)
                self.assertIn(f"{plug} pin {number}", probe.plus_words)
        for other in board.connectors[1:]:
            self.assertEqual(other.pins, [])

    def test_the_board_of_the_audit_names_its_own_pins_and_offers_no_jumper(self) -> None:
        board = made(KINDS[0], PINOUT)
        by_id = {probe.id: probe for probe in probes_of(board)}
        self.assertEqual(by_id["live.standby_pin"].plus_words, "main plug pin 7")
        self.assertEqual(by_id["live.start"].plus_words, "main plug pin 9")
        self.assertEqual(by_id["live.main_pin"].title, "12V, main plug pin 5")
        self.assertIn("main plug pin 3, ground", by_id["live.main_pin"].minus_words)
        for sense in ("high", "low"):
            woken = msgspec.structs.replace(
                board, wake=msgspec.structs.replace(board.wake, sense=sense)
            )
            refusals = state_refusals(
                woken, state_of("forced/bare/lamp60"), SafetyFacts(UNPLUGGED, 1.0, True)
            )
            self.assertEqual([one.code for one in refusals], ["unproved_pins"])
        text = str(WakeGuide(Job(board)).state())  # type: ignore[arg-type]
        self.assertNotIn("Jumper:", text)
        self.assertIn("main plug pin 9", text)
        untyped = str(WakeGuide(Job(made(KINDS[0], "12V, GND"))).state())  # type: ignore[arg-type]
        self.assertIn("No start pin was typed", untyped)
        legend = legend_of_board(board, False)
        self.assertEqual([pin.label for row in legend.rows for pin in row].count("24V"), 2)

    def test_labels_set_the_volts_that_parts_and_rails_are_called_by(self) -> None:
        board = made(KINDS[0], "CN4: 18V, GND, 5VSB, PS-ON")
        refs = [part.ref for part in board.components]
        self.assertTrue(any(ref.startswith("18 V") for ref in refs), refs)
        self.assertFalse([ref for ref in refs if ref.startswith("24 V")], refs)

    def test_a_rail_that_reads_its_own_label_is_no_over_voltage(self) -> None:
        """The example's ratings say nothing of a board with other volts."""
        for label in ("18V", "26V", "19V"):
            board = made(KINDS[0], f"CN4: {label}, GND, 5VSB, PS-ON")
            probe = next(p for p in probes_of(board) if p.title.startswith(label))
            volts = float(label.removesuffix("V"))
            self.assertIsNone(over_voltage(board, probe, value(volts, "V")), label)
            self.assertIsNotNone(over_voltage(board, probe, value(2.2 * volts, "V")), label)

    def test_every_example_can_be_told_without_its_own_pins_and_still_computes(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            own = by_pinout(board, "", {})
            self.assertEqual(problems_of(own), [], board_id)
            self.assertEqual(len({part.ref for part in own.components}), len(board.components))
            self.assertEqual(len(cold_network(own).elements), len(cold_network(board).elements))


class EarlierProfiles(unittest.TestCase):
    def test_a_copy_of_the_example_that_an_earlier_version_kept_loses_its_pins(self) -> None:
        example = shipped_board("PB-5012-3")
        copied = msgspec.structs.replace(
            example, id="XQ-77", title=f"Board of {example.topology}", aliases=[]
        )
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "XQ-77.json"
            path.write_bytes(msgspec.json.encode(copied))
            found = BoardBook(Path(folder)).board("XQ-77")
        self.assertEqual(found.known_by, "pinout")
        self.assertEqual(found.connectors[0].pins, [])
        self.assertFalse([w for w in spoken(found) if DESIGNATOR.search(w)])
        mine = msgspec.structs.replace(copied, title="Harrow 50E, measured by us")
        self.assertEqual(without_example(mine), mine)


class Job:
    """What the wake guide asks of a session."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.state = State()


class State:
    wake: ev.WakeFound | None = None
