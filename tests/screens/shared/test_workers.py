"""Work off the main thread, and the map's geometry for any board that could be drawn."""

import itertools
import threading
import time
import unittest
from typing import Any

from hypothesis import given, settings, strategies as st
from PyQt6.QtCore import QRectF, QThread
from PyQt6.QtWidgets import QApplication

from loose_rail.kernel.errors import MeterError
from loose_rail.screens.shared.dispatch import Dispatcher, Task
from loose_rail.screens.shared.rail_map.layout import lay_out
from loose_rail.screens.shared.rail_map.state import (
    BlockView,
    ConnectorView,
    RailMapState,
    RailView,
    StopView,
)
from loose_rail.screens.shared.rail_map.view import RailMap
from loose_rail.vocabulary.mark import Mark
from tests.screens.helper import application, settle


class Workers(unittest.TestCase):
    def setUp(self) -> None:
        application()
        self.dispatcher = Dispatcher()
        self.addCleanup(self.dispatcher.stop)
        self.answers: list[Any] = []
        self.errors: list[Any] = []

    def run_work(self, work: Any) -> Task:
        return self.dispatcher.run(work, self.answers.append, self.errors.append)

    def test_the_work_runs_elsewhere_and_answers_here(self) -> None:
        here = QThread.currentThread()
        places: list[Any] = []
        answered: list[Any] = []
        self.dispatcher.run(
            lambda task: places.append(threading.get_ident()) or 42,  # type: ignore[func-returns-value]
            lambda answer: answered.append((answer, QThread.currentThread() is here)),
            self.errors.append,
        )
        settle(lambda: bool(answered))
        self.assertEqual(answered, [(42, True)])
        self.assertNotEqual(places, [threading.get_ident()])
        settle(lambda: not self.dispatcher.busy)

    def test_errors_of_the_world_and_bugs_both_arrive(self) -> None:
        def off(task: Task) -> None:
            raise MeterError("The meter is off.", "Switch it on.")

        def bug(task: Task) -> None:
            raise ZeroDivisionError

        self.run_work(off)
        self.run_work(bug)
        settle(lambda: len(self.errors) == 2)
        self.assertEqual({type(e) for e in self.errors}, {MeterError, ZeroDivisionError})
        self.assertEqual(self.answers, [])

    def test_progress_arrives_in_order_and_cancelling_stops_the_work(self) -> None:
        seen: list[float] = []
        started, stopped = threading.Event(), threading.Event()

        def work(task: Task) -> str:
            started.set()
            try:
                for number in range(10_000):
                    task.progress(number / 10_000, "working")
                    time.sleep(0.001)
            finally:
                stopped.set()
            return "finished"

        task = self.dispatcher.run(
            work, self.answers.append, self.errors.append, lambda share, words: seen.append(share)
        )
        self.assertFalse(started.is_set())  # the page that asks is drawn first
        settle(started.is_set)
        settle(lambda: len(seen) > 3)
        task.cancel()
        self.assertTrue(stopped.wait(5))
        settle()
        self.assertEqual(seen, sorted(seen))
        self.assertEqual((self.answers, self.errors), ([], []))

    def test_a_cancelled_answer_is_dropped_though_the_work_ended(self) -> None:
        gate = threading.Event()
        task = self.run_work(lambda t: gate.wait(5) and "late")
        task.cancel()
        gate.set()
        time.sleep(0.1)
        QApplication.processEvents()
        self.assertEqual(self.answers, [])

    def test_stop_waits_for_what_is_running(self) -> None:
        begun, ended = threading.Event(), threading.Event()

        def work(task: Task) -> None:
            begun.set()
            while not task.cancelled:
                time.sleep(0.005)
            ended.set()

        self.run_work(work)
        settle(begun.is_set)
        self.dispatcher.stop()
        self.assertTrue(ended.is_set())
        self.run_work(work)  # not begun when all is stopped: never begun
        begun.clear()
        self.dispatcher.stop()
        settle(lambda: not self.dispatcher.busy)
        time.sleep(0.1)
        QApplication.processEvents()
        self.assertFalse(begun.is_set())
        self.assertFalse(self.dispatcher.busy)

    def test_at_once_runs_before_it_returns(self) -> None:
        dispatcher = Dispatcher(at_once=True)
        dispatcher.run(lambda task: "now", self.answers.append, self.errors.append)
        self.assertEqual(self.answers, ["now"])
        self.assertFalse(dispatcher.busy)


VERDICTS = st.sampled_from([m for m in Mark if m is not Mark.STRUCK])
READINGS = st.sampled_from(["", "5.0 V", "0–0.75 V pulsing 1.0 Hz", "18 kΩ", "open (OL)"])


@st.composite
def maps(draw: st.DrawFn) -> RailMapState:
    """Any map: up to three converter lanes, up to seven rails with one to five stops each."""
    lanes = draw(st.integers(1, 3))

    def stop(name: str) -> StopView:
        return StopView(name, name, draw(READINGS), draw(VERDICTS), draw(st.floats(0, 1)), False)

    blocks = [BlockView("in", "Fuse", "F101", 0, 0, 0.1, False, "", Mark.UNREAD, (stop("CN1"),))]
    blocks.append(
        BlockView(
            "rect",
            "Bridge",
            "BD101",
            0,
            1,
            0.0,
            False,
            "",
            Mark.UNREAD,
            (stop("BD1"),),
            (stop("C1"),),
            "in",
        )
    )
    for lane in range(lanes):
        title = ("Standby", "Main", "Sustain")[lane]
        blocks.append(
            BlockView(
                f"c{lane}", title, "Q1", lane, 2, 0.2, False, "", Mark.UNREAD, (), (), "rect", True
            )
        )
    rails = []
    count = draw(st.integers(lanes, 7))
    for number in range(count):
        lane = min(number, lanes - 1) if number < lanes else lanes - 1
        stops = tuple(stop(f"C{number}{k}") for k in range(draw(st.integers(1, 5))))
        verdict = draw(st.sampled_from([Mark.AGREES, Mark.DISAGREES, Mark.UNREAD]))
        fails = draw(st.integers(0, len(stops) - 1)) if verdict is Mark.DISAGREES else -1
        rails.append(
            RailView(
                f"r{number}",
                f"Rail {number} 12 V",
                verdict,
                lane,
                stops,
                fails,
                draw(READINGS),
                Mark.AGREES,
            )
        )
    pins = tuple(f"{k} PIN{k}" for k in range(1, draw(st.integers(3, 12))))
    connector = ConnectorView("CN9", "to the main board", pins, draw(st.floats(0, 1)), True)
    return RailMapState(
        tuple(blocks), tuple(rails), connector, "next: here", "words", draw(st.booleans())
    )


class AnyMap(unittest.TestCase):
    @given(maps(), st.sampled_from([(700, 380), (792, 414), (1400, 700)]))
    @settings(max_examples=60)
    def test_no_piece_covers_another(self, state: RailMapState, size: tuple[int, int]) -> None:
        width, height = size
        layout = lay_out(state, width, height)
        boxes = [box for _, box in layout.blocks] + [layout.connector]
        for box in boxes:
            self.assertTrue(QRectF(0, 0, width, height).contains(box))
        for one, other in itertools.combinations(boxes, 2):
            self.assertFalse(one.intersects(other))
        ys = [place.y for place in layout.rails]
        self.assertTrue(all(b - a > 30 for a, b in itertools.pairwise(ys)))
        for place in layout.rails:
            self.assertTrue(place.left < place.stop_xs[0] and place.stop_xs[-1] < place.right)
            gaps = [b - a for a, b in itertools.pairwise(place.stop_xs)]
            self.assertTrue(all(gap > 20 for gap in gaps))

    @given(maps())
    @settings(max_examples=25)
    def test_any_map_draws_and_is_told_in_words(self, state: RailMapState) -> None:
        application()
        widget = RailMap()
        widget.resize(792, 414)
        widget.show_state(state)
        picture = widget.grab().toImage()
        self.assertEqual((picture.width(), picture.height()), (792, 414))
        self.assertEqual(widget.accessibleDescription(), "words")
        colours = {picture.pixel(x, y) for x in range(0, 792, 9) for y in range(0, 414, 9)}
        self.assertGreater(len(colours), 3)


if __name__ == "__main__":
    unittest.main()
