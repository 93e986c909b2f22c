"""Random courses on every board: nothing unsafe is accepted or offered, nothing offered is refused.

The test keeps its own books of what it did to the board and holds the log against them. Where the
reservoirs are was written down here from the profiles' duties, not asked of the program.
"""

from __future__ import annotations

import math
import os
import random
import unittest
from collections import Counter
from dataclasses import dataclass, field
from typing import Any
from unittest import mock

import numpy as np

from loose_rail.app.guides.tests import TestGuide
from loose_rail.app.log import JobLog
from loose_rail.app.session import JobSession
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.unproved import unproved
from loose_rail.jobs import events as ev
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.observation import value
from loose_rail.screens.bench.present import _others
from loose_rail.screens.job.present import JobPresenter
from loose_rail.screens.shared.card.present import card_for
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power, state_of
from loose_rail.vocabulary.keys import is_ripple
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.fakes.clock import FakeClock
from tests.fakes.store import MemoryStore
from tests.material import some
from tests.shared import the
from tests.whole_jobs.test_jobs_on_boards import engine

COURSES = int(os.environ.get("LOOSE_RAIL_COURSES", str(some(600, 2400))))
SHORT, LONG, ONE_LONG_IN = 4, 14, 5
"""Acts of a course: most are short, each fifth goes deep."""
DRAINED = 10.0
DEAD = tuple(mode for mode in MeterMode if mode.needs_dead_board)
"""Read on a board without mains; a strip tester brings volts of its own."""
BULK = {"PB-4310-2": "C3"}
CHARGED = {
    "PB-2408-1": {"C501": 60},
    "PB-3206-1": {"C401": 26},
    "PB-3705-6": {"C401": 26, "C601": 88},
    "PB-3920-4": {"C701": 95},
    "PB-4270-1": {"C403": 195, "C501": 65},
    "PB-5012-3": {"C501": 125},
    "PB-6530-2": {"C401": 26, "C402": 26, "C403": 26, "C601": 160, "C701": 160},
}
"""Reservoirs beside the bulk: LED outputs at their clamps, sustain, address, 1000 µF at 24 V."""
ADAPTER_FED = {"PB-2211-1"}
CHEAP = ("PB-2211-1", "PB-1905-2", "PB-2408-1", "PB-2211-1", "PB-3920-4", "PB-1905-2")
"""Boards with few suspects, worked through more often."""
PLASMA = {"PB-4270-1"}
DRAWS = {"glows", "pulses", "bright"}
PATTERNS = ("dark", "flash_dark", "glows", "pulses", "bright")


@dataclass
class Books:
    """What was done to the board, by the person who did it."""

    board: str
    known: bool = False
    state: BoardState = UNPLUGGED
    volts: dict[str, float] = field(default_factory=dict)
    acknowledged: bool = False
    lamps: dict[str, str] = field(default_factory=dict)
    dead_reads: set[str] = field(default_factory=set)
    too_high: bool = False
    proved: bool = False
    fitted: bool = False

    @property
    def bulk(self) -> str:
        return BULK.get(self.board, "C101")

    def empty(self, part: str) -> bool:
        return abs(self.volts.get(part, math.inf)) < DRAINED

    def wrong(self, event: ev.AnyEvent, session: JobSession) -> str:
        """Why this event should never have been accepted, empty where it may."""
        plasma = self.board in PLASMA and not self.acknowledged
        if isinstance(event, ev.ReadingTaken):
            if plasma:
                return "a plasma board was read before its energy was acknowledged"
            return self._wrong_reading(event, session)
        if isinstance(event, ev.StateConfirmed):
            return self._wrong_state(state_of(event.state), plasma)
        measured = isinstance(event, ev.BulkMeasured | ev.ReservoirMeasured)
        if measured and (self.state.plugged or not self.known):
            return "drained was measured on a board that is not confirmed as unplugged"
        if isinstance(event, ev.ReworkStepDone):
            hot = self.state.plugged or not self.known
            full = [p for p in (self.bulk, *CHARGED.get(self.board, {})) if not self.empty(p)]
            if hot or (event.step == "open" and full):
                return f"rework with {full} not measured, plugged {hot}"
        if isinstance(event, ev.HandedBack):
            if self.state.plugged:
                return "handed back while plugged in"
            if event.repaired and (not self.proved or DRAWS & set(self.lamps.values())):
                return "handed back as repaired without a proof"
        return ""

    def _wrong_reading(self, event: ev.ReadingTaken, session: JobSession) -> str:
        table = the(session.engine).table
        probe = next(c.probe for c in table.candidates if c.probe.id == event.probe)
        if event.state != self.state.key:
            return f"read in {event.state}, the board is in {self.state.key}"
        if not probe.meter:
            return "a meter at a kilovolt point"
        if probe.mode not in DEAD:
            sides = {session.board.net(n).side for n in (probe.plus, probe.minus)}
            if probe.live and len(sides) > 1:
                return "a reference across the barrier"
            return "" if self.state.plugged else "volts on an unplugged board"
        if self.state.plugged or not self.known:
            return "ohms on a board that is not confirmed as unplugged"
        at = {probe.part}
        if probe.mode.of_lamps:  # its plug sits at the lamps' output: LS501 at C501
            at.add(f"C{probe.part.removeprefix('LS')}")
        near = [self.bulk, *(at & set(CHARGED.get(self.board, {})))]
        full = [part for part in near if not self.empty(part)]
        return f"{probe.id} with {full} not measured empty" if full else ""

    def _wrong_state(self, target: BoardState, plasma: bool) -> str:
        if not target.plugged:
            return ""
        if plasma:
            return "a plasma board was plugged in before its energy was acknowledged"
        if self.too_high:
            return "plugged in after an over-voltage"
        was, will = self.state.power is Power.FORCED, target.power is Power.FORCED
        if self.state.plugged and was != will:
            return "a jumper with the plug in"
        if target.lamp_watts or self.board in ADAPTER_FED:
            return ""
        lamps = set(self.lamps.values())
        read = {f"{self.bulk}.ohms"} | {f"{self.bridge}.d{n}" for n in (1, 2, 3, 4)}
        if lamps & DRAWS:
            return f"full mains though the lamp {lamps}"
        if not lamps and not read <= self.dead_reads:
            return "full mains with nothing excluded"
        return ""

    @property
    def bridge(self) -> str:
        return "BD1" if self.board in BULK else "BD101"

    def note(self, event: ev.AnyEvent) -> None:
        """Keep what was accepted."""
        if isinstance(event, ev.StateConfirmed):
            self.state, self.known = state_of(event.state), True
            self.volts = {}
        elif isinstance(event, ev.BulkMeasured):
            self.volts[self.bulk] = event.volts
        elif isinstance(event, ev.ReservoirMeasured):
            self.volts[event.part] = event.volts
        elif isinstance(event, ev.HazardAcknowledged):
            self.acknowledged = True
        elif isinstance(event, ev.LampSeen):
            self.lamps[self.state.key if self.state.lamp_watts else ""] = event.pattern
        elif isinstance(event, ev.ClueNoted) and event.clue == "lamp":
            self.lamps[event.subject] = event.answer
        elif isinstance(event, ev.PartFitted):
            self.lamps, self.dead_reads, self.too_high = {}, set(), False
            self.fitted, self.proved = True, False
        elif isinstance(event, ev.ReadingTaken):
            self._note_reading(event)

    def _note_reading(self, event: ev.ReadingTaken) -> None:
        self.dead_reads.add(event.probe)
        self.proved = self.proved or (self.fitted and self.state.plugged)
        at_bulk = event.probe.startswith("live.bulk") and not is_ripple(event.probe)
        if at_bulk and event.low is not None and event.low > 410:
            self.too_high = True


class Course:
    """One job on one board, a person who follows the card or does not."""

    def __init__(self, board_id: str, seed: int, counts: Counter[str]) -> None:
        self.rng, self.counts, self.books = random.Random(seed), counts, Books(board_id)
        opened = ev.JobOpened("0501", "A made-up set", board_id, "Dead.", 25.0, "EUR")
        record = ev.Record(1, "2026-11-02T09:00:00+00:00", "bench 1", opened)
        self.store = MemoryStore([record])
        self.seen = 1
        self.clock = FakeClock()
        self.open()
        self.repairs = seed % 3 == 0
        if self.repairs:
            part = self.rng.choice(self.session.board.components).ref
            self.session.overrule(part, f"{part} decided by hand", "", 0.5, "it looks burnt")

    def open(self) -> None:
        """The job is opened, for the first time or again: nothing counts as drained any more."""
        self.session = JobSession(
            JobLog(self.store, 1), shipped_board(self.books.board), self.clock
        )
        self.session.set_engine(engine(self.books.board))
        self.presenter = JobPresenter(self.session, (), lambda s, p: "", lambda *sheet: None)
        self.books.volts = {}
        self.voided = False

    def check(self) -> None:
        """Hold what came into the log against the books."""
        for record in self.store.logs[1][self.seen :]:
            event = record.event
            if isinstance(event, ev.Voided | ev.Restored):
                self.voided = True
            wrong = self.books.wrong(event, self.session)
            if wrong and not self.voided:
                raise AssertionError(f"{wrong}: {event}")
            self.books.note(event)
            self.counts[type(event).__name__] += 1
        self.seen = len(self.store.logs[1])

    def compare(self) -> None:
        """Opened again, the job gives the same answer and shows the same card, but that what was
        measured empty in this sitting is measured again."""
        again = JobSession(JobLog(self.store, 1), self.session.board, self.clock)
        again.set_engine(engine(self.books.board))
        here, there = self.session.reviewed, again.reviewed
        self.counts["opened again"] += 1
        for name in ("task", "proof", "readings", "out_of_reach", "finding"):
            if getattr(here, name) != getattr(there, name):
                raise AssertionError(f"opened again, another {name}")
        if not np.array_equal(here.assessment.probabilities, there.assessment.probabilities):
            raise AssertionError("opened again, other suspects")
        if unproved(here, Names(here.table.board)) != unproved(there, Names(here.table.board)):
            raise AssertionError("opened again, something else is unproved")
        if there.reservoir is None or self.session.to_measure() == again.to_measure():
            self.counts["same card"] += 1
            if card_for(self.session) != card_for(again):
                raise AssertionError(
                    f"opened again, another card: {card_for(self.session)} {card_for(again)}"
                )

    # ---- what a person does ----------------------------------------------------------------

    def value(self) -> str:
        """A reading: right by a row of the table, wrong, absurd."""
        task = self.presenter.session.reviewed.task
        if task is not None and task.candidate.probe.unit == "F":
            return self.rng.choice(("470u", "1n", "OL"))
        if task is None or self.rng.random() < 0.15:
            return self.rng.choice(("0", "OL", "455", "1.2", "0.4", "500 k"))
        table = the(self.session.engine).table
        column = table.index(task.candidate.key)
        row = self.rng.choice((0, self.rng.randrange(len(table.rows))))
        low = float(table.low[row, column])
        return "OL" if math.isinf(low) or math.isnan(low) else f"{max(low, 0.0):.4g}"

    def follow(self) -> None:
        """Do what the card asks for: it may ask back, and never refuses."""
        phase = self.presenter.entry.phase()
        self.counts[f"offered {phase}"] += 1
        if phase in ("state", "acknowledge"):
            self.taken(self.presenter.confirm_state(), phase)
        elif phase == "lamp":
            self.taken(self.presenter.submit(self.rng.choice("1222222345")), phase)
        elif phase == "light":
            self.taken(self.presenter.submit(self.rng.choice("1111111234567")), phase)
        elif phase == "bulk":
            volts = self.rng.choice(("0.4", "1.2", "3", "9", "48", "320"))
            self.taken(self.presenter.submit(volts), phase)
        elif phase == "reading":
            text = self.value()
            notice = self.presenter.submit(text)
            if not notice.taken:  # asked back: once more keeps it
                notice = self.presenter.submit(text)
            self.taken(notice, f"{phase} {text}")
        elif phase == "nothing":
            self.presenter.go_on()

    def taken(self, notice: Any, what: str) -> None:
        if not notice.taken:
            task = self.presenter.session.reviewed.task
            raise AssertionError(
                f"offered, then refused ({what}): {notice.text} "
                f"{task.candidate.key if task else ''} in {self.session.state.board_state.key}"
            )

    def choose(self) -> None:
        """Another probe, from the list or a part's guide."""
        others = _others(self.session.reviewed)
        if others and self.rng.random() < 0.7:
            self.presenter.choose(self.rng.choice(others)[0])
            return
        part = self.rng.choice(self.session.board.components).ref
        guide = TestGuide(self.session)
        guide.enter(part)
        found = guide._candidates()
        if found:
            guide.choose(self.rng.randint(1, len(found)))

    def intrude(self) -> None:
        """Go straight at the core with anything at all."""
        table, rng = the(self.session.engine).table, self.rng
        states = sorted({c.state.key for c in table.candidates} | {UNPLUGGED.key})
        candidate = rng.choice(table.candidates)
        volts = rng.choice((0.3, 1.0, 25.0, 325.0))
        parts = [self.books.bulk, *CHARGED.get(self.books.board, {})]
        rng.choice(
            (
                lambda: self.session.take_reading(candidate, value(1.0, candidate.probe.unit), "x"),
                lambda: self.session.take_reading(candidate, value(420.0, "V"), "x"),
                lambda: self.session.confirm_state(state_of(rng.choice(states))),
                lambda: self.session.measure_bulk(volts),
                lambda: self.session.measure_reservoir(rng.choice(parts), volts),
                lambda: self.session.see_lamp(rng.choice(PATTERNS)),
                lambda: self.session.prepare_probe(candidate.probe),
            )
        )()

    def repair(self) -> None:
        """The pages after the verdict, pressed through."""
        stage = self.rng.choice(("verdict", "parts", "rework", "power_up", "hand_back"))
        self.presenter.go(stage)
        for _ in range(self.rng.randint(1, 9)):
            self.presenter.go_on()
            self.check()

    def drain(self) -> None:
        """Pull the plug and measure everything empty."""
        self.session.acknowledge()
        self.session.confirm_state(UNPLUGGED)
        for part in (self.books.bulk, *CHARGED.get(self.books.board, {})):
            self.session.measure_reservoir(part, self.rng.choice((0.5, 0.5, 0.5, 4.0, 25.0)))

    def step(self) -> None:
        rng = self.rng
        often = 25 if self.repairs else 3
        act = rng.choices(
            (
                *(self.follow, self.choose, self.intrude, self.repair, self.open),
                *(self.presenter.make_safe, self.presenter.undo, self.presenter.skip, self.drain),
            ),
            (70, 8, 10, often, 3, 4, 2, 3, often),
        )[0]
        try:
            act()
        except LooseRailError as error:
            if act == self.follow:
                raise AssertionError("a refusal left the card") from error
            self.counts["refused"] += 1
        self.check()
        if rng.random() < 0.06:
            self.compare()


def no_way(*_: Any) -> tuple[()]:
    """In place of the look-ahead, which decides nothing and takes half of the time."""
    return ()


class Courses(unittest.TestCase):
    def test_nothing_unsafe_is_accepted_and_nothing_offered_is_refused(self) -> None:
        counts: Counter[str] = Counter()
        boards = [*shipped_ids(), *CHEAP]
        with mock.patch("loose_rail.diagnosis.review.look_ahead", no_way):
            for number in range(COURSES):
                board_id = boards[number % len(boards)]
                course = Course(board_id, number, counts)
                with self.subTest(board=board_id, course=number):
                    for _ in range(SHORT if number % ONE_LONG_IN else LONG):
                        course.step()
        self.assertGreater(counts["ReadingTaken"], COURSES // 2, counts)
        self.assertGreater(counts["same card"], COURSES // 12, counts)
        for kind in ("StateConfirmed", "BulkMeasured", "PartFitted", "refused"):
            self.assertGreater(counts[kind], COURSES // 200, counts)
        self.assertGreater(counts["LampSeen"], 0, counts)  # the end of a whole repair: rare
        if os.environ.get("LOOSE_RAIL_TELL"):
            print(dict(counts))


if __name__ == "__main__":
    unittest.main()
