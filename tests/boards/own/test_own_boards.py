"""Boards composed from what is printed: a sound one reads its labels, and no pin is invented."""

import unittest
from pathlib import Path

from hypothesis import given, settings, strategies as st

from loose_rail.boards.own.board import Composed, own_board
from loose_rail.boards.own.make_up import OwnBoard, OwnConnector
from loose_rail.boards.own.pin_label import PinJob, pin_meaning
from loose_rail.boards.powered_board import plant_of
from loose_rail.powered.record import run
from loose_rail.vocabulary.board_state import state_of

STANDBY_LABELS = {"3V3SB": 3.3, "5VSB": 5.0, "STB5": 5.0, "SB6V": 6.0, "9VS": 9.0, "12VS": 12.0}
STANDBY_LABELS |= {"18.6VSB": 18.6, "STB20V": 20.0}
MAIN_LABELS = {"10V": 10.0, "12V": 12.0, "+13V": 13.0, "16V": 16.0, "24V": 24.0, "26V": 26.0}
KINDS = (
    "standby flyback, main flyback",
    "standby flyback, PFC, LLC",
    "standby flyback, PFC, LLC, LED driver 88 V",
    "small standby converter, main flyback, LED driver",
)
LIT = (
    ("single flyback 5 V and 24 V, inverter from 24 V", "5V 5V GND GND 24V 24V BLON DIM", "none"),
    ("flyback 5 V and 16 V, inverter for four tubes", "5V 5V GND GND 16V 16V BRT BLON", "none"),
    ("single flyback 12 V, LED boost", "12V 12V GND GND BL PWM", "none"),
    ("standby flyback 5 V, PFC, LLC 12 V and LED", "5VS 5VS GND GND 12V 12V PS_ON BL_ON", "high"),
    ("standby flyback, PFC, LLC 24 V, inverter", "5VS GND 24V 24V 12V GND PSON BLON", "high"),
    ("adapter 19 V, step-down 5 V, LED boost", "5V 5V GND GND ON DIM", "none"),
)
"""Make-up, legend and start of boards with lamps of their own, small and large."""


def composed(words: str, pins: tuple[str, ...], mains: float, wake: str = "high") -> Composed:
    plugs = (OwnConnector("CN77", 1, pins),)
    return own_board(OwnBoard("own", words, "LED 43 inch", plugs, mains, wake))


class Labels(unittest.TestCase):
    def test_what_makers_print(self) -> None:
        """Written down from what boards print, before the grammar was asked."""
        lines = Path(__file__).with_name("labels.txt").read_text(encoding="utf-8").splitlines()
        rows = [line.split("|") for line in lines if line and not line.startswith("#")]
        self.assertGreater(len(rows), 180)
        for label, job, volts in rows:
            found = pin_meaning(label.strip())
            wanted = float(volts) if volts.strip() else None
            self.assertEqual((found.job, found.volts), (PinJob(job.strip()), wanted), label)

    @settings(max_examples=8, deadline=None)
    @given(
        st.sampled_from(sorted(STANDBY_LABELS)),
        st.lists(st.sampled_from(sorted(MAIN_LABELS)), min_size=1, max_size=2, unique=True),
        st.sampled_from(KINDS),
        st.sampled_from((100.0, 120.0, 230.0)),
        st.randoms(use_true_random=False),
    )
    def test_a_sound_board_reads_its_labels(
        self, standby: str, main: list[str], words: str, mains: float, random: object
    ) -> None:
        wanted = {standby: STANDBY_LABELS[standby]} | {one: MAIN_LABELS[one] for one in main}
        pins = [*wanted, "GND", "GND", "PS-ON", "BL-ON"]
        random.shuffle(pins)  # type: ignore[attr-defined]
        made = composed(words, tuple(pins), mains)
        board = made.board
        asleep, awake = (
            run(plant_of(board, (), state_of(f"{state}/cable/direct")))
            for state in ("standby", "on")
        )
        labels = {pin.label: pin.net for pin in board.connectors[0].pins}
        for label, volts in wanted.items():
            points = [p for p in board.live_points if p.plus == labels[label]]
            self.assertTrue(points, f"{label} is no point of {pins}")
            for record in (asleep, awake) if label == standby else (awake,):
                windows = record.windows[points[-1].observable][-4:, 0]
                self.assertLess(abs(windows.mean() / volts - 1.0), 0.06, (label, words, mains))
                self.assertLess(windows.max() - windows.min(), 0.05 * volts, (label, words))

    @settings(max_examples=14, deadline=None)
    @given(
        st.sampled_from(LIT),
        st.sampled_from((15, 19, 24, 26, 32, 40, 55, 75)),
        st.sampled_from((120.0, 230.0)),
    )
    def test_a_sound_board_lights_its_lamps(
        self, kind: tuple[str, str, str], inches: int, mains: float
    ) -> None:
        words, pins, wake = kind
        plugs = (OwnConnector("CN77", 2, tuple(pins.split())),)
        set_words = f"LED {inches} inch"
        board = own_board(OwnBoard("own", words, set_words, plugs, mains, wake)).board
        record = run(plant_of(board, (), state_of("on/cable/direct")))
        for stage in board.stages:
            if stage.kind in ("led", "ccfl"):
                stands = float(record.windows[f"{stage.id}.out"][-1, 0])
                self.assertLess(abs(stands / stage.volts - 1.0), 0.1, (words, inches, mains))

    def test_a_standby_without_a_pin_of_its_own_is_read_at_its_reservoir(self) -> None:
        for words, pins in (
            ("standby flyback 12 V, PFC, LLC 24 V, LED boost", "24V 24V GND GND PSON BLON"),
            ("standby flyback 5 V, PFC, LLC 12 V and LED", "STBY STBY GND GND 12V 12V PS_ON BL_ON"),
        ):
            made = composed(words, tuple(pins.split()), 230.0)
            points = {point.observable for point in made.board.live_points}
            self.assertIn(made.board.standby_point, points, words)

    @settings(max_examples=20, deadline=None)
    @given(st.permutations(("5VSB", "12V", "12V", "GND", "PSON", "BLON", "X1", "DIM")))
    def test_no_pin_but_the_printed_ones_is_named(self, pins: list[str]) -> None:
        """A pin whose label says nothing hangs on nothing; the jumper joins start and standby."""
        board = composed(KINDS[1], tuple(pins), 230.0).board
        (plug,) = [one for one in board.connectors if one.ref == "CN77"]
        self.assertEqual([pin.label for pin in plug.pins], pins)
        nets = {pin.label: pin.net for pin in plug.pins}
        used = {
            net
            for part in board.components
            if part.kind != "connector"
            for net in part.pins.values()
        }
        used -= {net for p in board.components if p.ref == "MB" for net in p.pins.values()}
        for label in ("X1", "DIM"):
            self.assertNotIn(nets[label], used, label)
        self.assertEqual(pins[board.wake.pin - 1], "PSON")
        self.assertEqual(pins[board.wake.source_pin - 1], "5VSB")
        for point in board.live_points:
            if "CN77-" in point.title:
                number = int(point.title.rpartition("-")[2])
                self.assertTrue(point.title.startswith(pins[number - 1]), point.title)

    def test_an_unknown_start_is_never_jumpered(self) -> None:
        for wake, pins in (("unknown", ("5VSB", "12V", "GND", "PSON")), ("high", ("12V", "GND"))):
            board = composed(KINDS[1], pins, 230.0, wake).board
            self.assertIn(board.wake.sense, ("unknown", "none"))


if __name__ == "__main__":
    unittest.main()
