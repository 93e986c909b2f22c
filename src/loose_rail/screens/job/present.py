"""The presenter of one open job: commands in, frozen states out. Knows no Qt."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from pathlib import Path

from loose_rail.app.ports import Hands, Meter, Photos
from loose_rail.app.session import JobSession
from loose_rail.app.stream import OnSample, OnWords, StreamLoop
from loose_rail.diagnosis.inference.posterior import Suspect
from loose_rail.jobs import events as ev
from loose_rail.jobs.events import STAGES
from loose_rail.judgement.replacement.electrolytic import Candidate as Capacitor
from loose_rail.judgement.replacement.electrolytic import original_of
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.quantities import parse_quantity
from loose_rail.kernel.signal import Signal
from loose_rail.screens.bench.present import bench_state, job_frame, suspect_rows
from loose_rail.screens.bench.state import BenchState
from loose_rail.screens.card.entry_desk import EntryDesk
from loose_rail.screens.card.present import (
    ACKNOWLEDGE,
    AS_IT_SHOULD,
    BULK,
    LAMP,
    READING,
    STATE,
    Task,
    drain_left_words,
    state_to_confirm,
    task_of_step,
)
from loose_rail.screens.guides.ends import EndsGuide
from loose_rail.screens.guides.loads import LoadGuide
from loose_rail.screens.guides.seen import SeenGuide
from loose_rail.screens.guides.state import Guide
from loose_rail.screens.guides.tests import TestGuide
from loose_rail.screens.guides.wake import WakeGuide
from loose_rail.screens.hand_back.present import hand_back_state
from loose_rail.screens.hand_back.state import HandBackState
from loose_rail.screens.job import going_on as actions
from loose_rail.screens.job.before import BeforeTheProbes
from loose_rail.screens.job.state import JobFrame
from loose_rail.screens.live.present import LiveDesk
from loose_rail.screens.parts.present import parts_state
from loose_rail.screens.parts.state import PartsState
from loose_rail.screens.photos.present import Album
from loose_rail.screens.power_up.present import ForecastKeeper, power_up_screen
from loose_rail.screens.power_up.proof_plan import proof_task
from loose_rail.screens.power_up.state import PowerUpState
from loose_rail.screens.recording.present import TraceDesk
from loose_rail.screens.rework.present import rework_state
from loose_rail.screens.rework.state import ReworkState
from loose_rail.screens.shared.notice import EntryEcho, Notice
from loose_rail.screens.shared.rows import SuspectRow
from loose_rail.screens.verdict.decision import decide
from loose_rail.screens.verdict.present import verdict_state
from loose_rail.screens.verdict.state import VerdictState
from loose_rail.vocabulary.board_state import UNPLUGGED

MOST_LETTERS = 8
BENCH_STAGES = ("cold_checks", "live_checks")

MakeLoop = Callable[[OnSample, OnWords, OnWords], StreamLoop]
RenderHtml = Callable[[JobSession, float | None], str]
WritePdf = Callable[[JobSession, Path], str | None]
"""Writes the sheet; returns the letters that it could not print."""


class JobPresenter:
    """Everything that the screens of one job show and do.

    `meter` is None where none is connected; `hands` stand at the simulated bench in the demo.
    """

    def __init__(
        self,
        session: JobSession,
        stock: Sequence[Capacitor],
        render_html: RenderHtml,
        write_pdf: WritePdf,
        meter: Callable[[], Meter] | None = None,
        hands: Hands | None = None,
        meter_clock: Callable[[], Callable[[], float]] = lambda: time.monotonic,
        photos: Photos | None = None,
        known_warnings: Sequence[str] = (),
        streams: Sequence[MakeLoop] = (),
    ) -> None:
        self.session = session
        self._stock = tuple(stock)
        self.changed: Signal[None] = Signal()
        self.selected_stock = 0
        self.price: float | None = None
        self._render_html = render_html
        self._write_pdf = write_pdf
        self.before = BeforeTheProbes(session, lambda: self.changed.emit(None), known_warnings)
        self.album = Album(session, photos, self.before.part_in_front)
        self.forecast = ForecastKeeper()
        self.streams = tuple(streams)
        self.entry = EntryDesk(session, lambda: self.task, meter, hands, meter_clock)
        self.live = LiveDesk(self.entry, self._reach, len(streams) > 1)
        self.trace = TraceDesk(self.live)
        session.changed.subscribe(lambda _: self.changed.emit(None))

    # ---- states ----------------------------------------------------------------------------

    @property
    def stage(self) -> str:
        """Key of the current stage."""
        return self.session.state.stage

    @property
    def stock(self) -> tuple[Capacitor, ...]:
        """What there is to choose from; without a stock list, the part as it was."""
        verdict = self.session.state.verdict
        if self._stock or verdict is None:
            return self._stock
        part = self.session.board.component(verdict.part)
        return (original_of(part),) if part.kind == "electrolytic" else ()

    @property
    def task(self) -> Task | None:
        """What the card is about: proof after a repair, else the offered probe."""
        if self.session.engine is None:
            return None
        if self.session.state.fitted and not self.session.repair_failed:
            return proof_task(self.session)
        step = self.session.step
        return task_of_step(self.session, step) if step else None

    def predictions_failed(self, why: str) -> None:
        """The predictions could not be worked out, or (empty) are tried again."""
        self.session.prediction_problem = why
        self.changed.emit(None)

    def sheet_refusal(self) -> str:
        """Why the sheet can't be written now, empty where it can."""
        if self.session.engine is not None:
            return ""
        return (
            "The sheet needs the predictions, which are not there yet: try again in a moment, or "
            "have them worked out again on the bench."
        )

    def frame(self) -> JobFrame:
        """What stands around every stage."""
        return job_frame(self.session, self.task)

    def drain_words(self) -> str:
        """How long the board's own bleeder still needs; empty while plugged in or measured."""
        return drain_left_words(self.session)

    def bench(self) -> BenchState:
        """Cold and live checks."""
        return bench_state(self.session, self.task, self.has_meter)

    def suspects(self) -> tuple[SuspectRow, ...]:
        """The leading suspects, and all others as one row."""
        return suspect_rows(self.session)

    def verdict(self) -> VerdictState:
        """The verdict screen."""
        return verdict_state(self.session)

    def parts(self) -> PartsState:
        """The replacement screen."""
        return parts_state(self.session, self.stock, self.selected_stock)

    def rework(self) -> ReworkState:
        """The rework screen."""
        return rework_state(self.session)

    def power_up(self) -> PowerUpState:
        """The first power-up."""
        return power_up_screen(self.session, self.task, self.forecast)

    def hand_back(self) -> HandBackState:
        """The sheet."""
        html = self._render_html(self.session, self.price) if self.session.engine else ""
        return hand_back_state(self.session, html)

    # ---- entry and meters ------------------------------------------------------------------

    def echo(self, text: str) -> EntryEcho:
        """What the entry line understands so far."""
        return self.entry.echo(text)

    def submit(self, text: str) -> Notice:
        """Enter: accept what was typed."""
        return self.entry.submit(text)

    @property
    def has_meter(self) -> bool:
        """Whether a meter is connected."""
        return self.entry.has_meter

    def _reach(self) -> None:
        """Both probes go to the next point: told to the simulated hands."""
        try:
            self.entry.reach()
        except LooseRailError as error:
            self.live.troubled(error.one_line())

    def guide(self, letter: str) -> Guide:
        """The guide behind a letter: tests, loads, heard and seen, cable ends, waking."""
        if letter == "tests":
            task = self.task
            probed = task.candidate.probe.part if task else ""
            leading = next((s.part for s in self._leading() if s.part), "")
            part = probed or leading or self.session.board.components[0].ref
            return TestGuide(self.session, part)
        makers: dict[str, Callable[[JobSession], Guide]] = {
            "loads": LoadGuide,
            "seen": SeenGuide,
            "ends": EndsGuide,
            "wake": WakeGuide,
        }
        return makers[letter](self.session)

    def _leading(self) -> Sequence[Suspect]:
        return self.session.assessment.suspects if self.session.assessment else ()

    def foot(self) -> Notice | None:
        """The foot switch does what is next: confirm the state, hold, or go on; None where the
        meter is to be read."""
        phase = self.entry.phase()
        if phase in (STATE, ACKNOWLEDGE):
            return self.confirm_state()
        if phase == LAMP:
            return self.lamp_seen(AS_IT_SHOULD)
        if phase in (READING, BULK):
            return self.live.hold() if self.live.on else None
        return self.go_on()

    # ---- commands --------------------------------------------------------------------------

    def confirm_state(self) -> Notice:
        """B: the board is as the card says."""
        task, phase = self.task, self.entry.phase()
        if phase == ACKNOWLEDGE:
            self.session.acknowledge()
            return Notice("Acknowledged for this job. Every reservoir is measured before hands.")
        if task is None or phase != STATE:
            return Notice("The board's state is already as it should be.")
        target = state_to_confirm(self.session, task.candidate.state)
        try:
            self.session.confirm_state(target)
        except LooseRailError as error:
            return Notice(f"{error.message} {error.hint}", "problem")
        if self.stage in BENCH_STAGES:
            self.session.enter_stage("live_checks" if target.plugged else "cold_checks")
        self.live.mark(target.words)
        return Notice(f"Board state confirmed: {target.words}.")

    def make_safe(self) -> Notice:
        """The plug was pulled, whatever was going on."""
        self.session.confirm_state(UNPLUGGED)
        return Notice("Unplugged. The bulk is unknown until it is measured.")

    def skip(self) -> Notice:
        """N: can't reach."""
        task = self.task
        proving = bool(self.session.state.fitted) and not self.session.repair_failed
        if task is None or proving:
            return Notice("There is no probe to leave out.", "problem")
        self.session.skip(task.candidate.probe)
        return Notice(f"{task.candidate.probe.title}: left out. Ctrl+Z takes that back.")

    def choose(self, key: str) -> Notice:
        """O: another probe."""
        assert self.session.engine is not None
        table = self.session.engine.table
        self.session.choose(table.candidates[table.index(key)])
        return Notice("Your choice is on the card.")

    def undo(self) -> Notice:
        """Z: take back."""
        words = self.session.undo()
        return Notice(f"Taken back: {words}." if words else "There is nothing to take back.")

    def redo(self) -> Notice:
        """Put back what was taken back."""
        words = self.session.redo()
        return Notice(f"Put back: {words}." if words else "There is nothing to put back.")

    def go(self, stage: str) -> None:
        """Go to a stage."""
        if stage in STAGES:
            self.session.enter_stage(stage)

    def go_on(self) -> Notice:
        """The one action of the current stage."""
        return actions.go_on(self)

    def select_stock(self, number: int) -> None:
        """Look at another candidate in stock."""
        if 0 <= number < len(self.stock):
            self.selected_stock = number
            self.changed.emit(None)

    def lamp_seen(self, pattern: str) -> Notice:
        """How the lamp in line behaved."""
        return self.entry.see_lamp(pattern)

    def decide(self, text: str) -> Notice:
        """A typed line of the verdict page."""
        return decide(self.session, text)

    def set_price(self, text: str) -> Notice:
        """The price on the sheet, empty for none."""
        if not text.strip():
            self.price = None
            return Notice("")
        found = parse_quantity(text)
        if found is None or found.unit or found.value < 0:
            return Notice(f"“{text}” is not a price: type a number such as 38.50.", "problem")
        self.price = found.value
        self.changed.emit(None)
        return Notice("")

    def add_note(self, text: str) -> Notice:
        """A note at the current stage."""
        if not text.strip():
            return Notice("The note is empty.", "problem")
        self.session.record(ev.NoteWritten(self.stage, text.strip()))
        return Notice("Note kept.")

    def export(self, path: Path) -> Notice:
        """Write the report to a file: PDF or HTML by its ending."""
        refusal = self.sheet_refusal()
        if refusal:
            return Notice(refusal, "problem")
        missing = ""
        try:
            if path.suffix.lower() == ".pdf":
                missing = self._write_pdf(self.session, path) or ""
            else:
                path.write_text(self._render_html(self.session, None), encoding="utf-8")
        except OSError as error:
            return Notice(
                f"{path} can't be written: {error.strerror}. Choose another place.", "problem"
            )
        if missing:
            named = ", ".join(f"{one} (U+{ord(one):04X})" for one in missing[:MOST_LETTERS])
            return Notice(
                f"Report written to {path}. No font here prints {named}: they stand as empty "
                "boxes. The HTML file shows them.",
                "warning",
            )
        return Notice(f"Report written to {path}.")

    def retry_save(self) -> None:
        """Try again to write what could not be written."""
        self.session.retry_save()

    def close(self) -> None:
        """The window closes; everything is on disk already."""
        self.changed = Signal()
