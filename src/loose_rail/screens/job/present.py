"""The presenter of one open job: commands in, frozen states out. Knows no Qt."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from loose_rail.app.album import Album
from loose_rail.app.board_desk import BoardDesk, binding_text, names_the_part
from loose_rail.app.first_power import ForecastKeeper
from loose_rail.app.first_stages import FirstStages
from loose_rail.app.going_on import Choices, go_on
from loose_rail.app.guides.guide import Guide
from loose_rail.app.guides.registry import GUIDES
from loose_rail.app.hand_back_line import enter_hand_back_line
from loose_rail.app.job_board import JobBoard
from loose_rail.app.limiting import as_it_should
from loose_rail.app.live_reading import LiveDesk
from loose_rail.app.metered_entry import MeteredEntry
from loose_rail.app.other_jobs import OtherJobs
from loose_rail.app.outcome import Echo, Outcome
from loose_rail.app.parts import candidates_for, chosen_ref, enter_line, line_echo, repair_list
from loose_rail.app.ports import Hands, Meter, Photos
from loose_rail.app.power_line import enter_power_line
from loose_rail.app.recording import TraceDesk
from loose_rail.app.repair import choose_method, next_action
from loose_rail.app.report_file import WritePdf, write_label, write_report
from loose_rail.app.session import JobSession
from loose_rail.app.settings import KeepSetting
from loose_rail.app.soaking import look_due
from loose_rail.app.stream import MakeLoop
from loose_rail.app.ways import enter_decision
from loose_rail.jobs import events as ev
from loose_rail.jobs.state import JobState
from loose_rail.judgement.replacement.electrolytic import Candidate as Capacitor
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.quantities import parse_quantity
from loose_rail.kernel.signal import Signal
from loose_rail.screens.bench.present import bench_state
from loose_rail.screens.bench.state import BenchState
from loose_rail.screens.hand_back.present import hand_back_state
from loose_rail.screens.hand_back.state import HandBackState
from loose_rail.screens.job.frame_present import job_frame
from loose_rail.screens.job.state import JobFrame
from loose_rail.screens.look_over.present import survey_state
from loose_rail.screens.look_over.state import SurveyState
from loose_rail.screens.parts.present import parts_state
from loose_rail.screens.parts.state import PartsState
from loose_rail.screens.power_up.present import power_up_state
from loose_rail.screens.power_up.state import PowerUpState
from loose_rail.screens.rework.present import rework_state
from loose_rail.screens.rework.state import ReworkState
from loose_rail.screens.shared.card.present import CONFIRM_FIRST, drain_left_words
from loose_rail.screens.shared.rows import SuspectRow
from loose_rail.screens.shared.suspect_rows import suspect_rows
from loose_rail.screens.strip_down.present import strip_state
from loose_rail.screens.strip_down.state import StripState
from loose_rail.screens.take_in.present import intake_state
from loose_rail.screens.take_in.state import IntakeState
from loose_rail.screens.verdict.present import verdict_state
from loose_rail.screens.verdict.state import VerdictState
from loose_rail.vocabulary.board_state import UNPLUGGED
from loose_rail.vocabulary.lamp_pattern import LampPattern
from loose_rail.vocabulary.light import Light
from loose_rail.vocabulary.phase import Phase
from loose_rail.vocabulary.stage import Stage

RenderHtml = Callable[[JobSession, float | None], str]


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
        others: OtherJobs | None = None,
        streams: Sequence[MakeLoop] = (),
        desk_of: Callable[[str], BoardDesk] | None = None,
        keep_setting: KeepSetting | None = None,
        label: Callable[[JobState], bytes] = lambda state: b"",
    ) -> None:
        self.session = session
        self._keep_setting, self._label = keep_setting, label
        self._stock = tuple(stock)
        self.changed: Signal[None] = Signal()
        self.selected_stock = 0
        self.part_in_front = self.part_typed = ""
        self.price: float | None = None
        self._render_html = render_html
        self._write_pdf = write_pdf
        self.others = others or OtherJobs()
        warned = self.others.warnings(session.state)
        self.first = FirstStages(session, self.changed, warned)
        self.album = Album(session, photos, self.first.part_in_front)
        self.board = JobBoard(session, self.album, desk_of)
        self.forecast = ForecastKeeper()
        self.streams = tuple(streams)
        self.entry = MeteredEntry(session, meter, hands, meter_clock)
        self.live = LiveDesk(self.entry, self._reach, len(streams) > 1)
        self.trace = TraceDesk(self.live)
        session.changed.subscribe(lambda _: self.changed.emit(None))

    # ---- states ----------------------------------------------------------------------------

    @property
    def stage(self) -> Stage:
        """The current stage."""
        return Stage(self.session.state.stage)

    @property
    def stock(self) -> tuple[Capacitor, ...]:
        """What there is to choose from."""
        return candidates_for(self.session, self._stock)

    def frame(self) -> JobFrame:
        """What stands around every stage."""
        return job_frame(self.session)

    def drain_words(self) -> str:
        """How long the board's own bleeder still needs; empty while plugged in or measured."""
        return drain_left_words(self.session)

    def look_due(self) -> str:
        """That a look at the soak is due, empty while none is."""
        return look_due(self.session)

    def take_in(self) -> IntakeState:
        """Take in."""
        return intake_state(self.session, self.others.followed(self.session))

    def strip_down(self) -> StripState:
        """Strip down, or reassembly."""
        first = self.first
        return strip_state(self.session, first.putting_back, first.known_warnings)

    def look_over(self) -> SurveyState:
        """Look over."""
        return survey_state(self.session, self.first.looking_at)

    def bench(self) -> BenchState:
        """Cold and live checks."""
        return bench_state(self.session, self.has_meter)

    def suspects(self) -> tuple[SuspectRow, ...]:
        """The leading suspects, and all others as one row."""
        return suspect_rows(self.session.review)

    def suspects_title(self) -> str:
        """What the list of suspects is: once a part is fitted, and has not failed, it is past."""
        review = self.session.review
        past = review is not None and review.proving
        return "Suspected before the repair" if past else "Suspects now"

    def verdict(self) -> VerdictState:
        """The verdict screen."""
        return verdict_state(self.session)

    def parts(self) -> PartsState:
        """The replacement screen."""
        return parts_state(
            self.session, self.stock, self.selected_stock, self.part_in_front, self.part_typed
        )

    def rework(self) -> ReworkState:
        """The rework screen."""
        return rework_state(self.session)

    def power_up(self) -> PowerUpState:
        """The first power-up."""
        return power_up_state(self.session, self.forecast, self.has_meter, self.live.trace)

    def hand_back(self) -> HandBackState:
        """The sheet."""
        sheet = self.sheet() if self.session.engine else ""
        return hand_back_state(self.session, sheet, self.others.summaries())

    def sheet(self) -> str:
        """The report as HTML, as it stands on the screen. Raises JobError without predictions."""
        return self._render_html(self.session, self.price)

    def sheet_title(self) -> str:
        """What the sheet is called in a list of documents."""
        return f"Job {self.session.state.ticket}"

    # ---- predictions -----------------------------------------------------------------------

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

    # ---- entry and meters ------------------------------------------------------------------

    def echo(self, text: str) -> Echo:
        """What the entry line understands so far."""
        if names_the_part(text):
            return self.board.desk().echo(binding_text(text, self._part_on_card()))
        return self.entry.echo(text)

    def submit(self, text: str) -> Outcome:
        """Enter: accept what was typed; “=C952 1000u 25V” names the part on the card."""
        if names_the_part(text):
            return self.board.name_part(text, self._part_on_card())
        outcome = self.entry.submit(text)
        proposal = self.board.label_proposal() if outcome.taken else ""
        return replace(outcome, text=f"{outcome.text} {proposal}".strip()) if proposal else outcome

    def _part_on_card(self) -> str:
        task = self.entry.task
        return task.candidate.probe.part if task is not None else ""

    def nothing_typed(self) -> Outcome | None:
        """Enter with an empty line: what to do instead, None where the page's action is meant."""
        phase = self.entry.phase()
        if phase is Phase.NOTHING:
            return None
        if phase is Phase.STATE:
            return Outcome.refused(CONFIRM_FIRST)
        return Outcome.refused("Type the reading, or press Space for the meter.")

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

    def guide(self, key: str) -> Guide:
        """A guide of the registry, opened on this job."""
        return GUIDES[key].open(self.session)

    def foot(self) -> Outcome | None:
        """The foot switch does what is next: confirm the state, hold, or go on; None where the
        meter is to be read."""
        phase = self.entry.phase()
        if phase in (Phase.STATE, Phase.ACKNOWLEDGE):
            return self.confirm_state()
        if phase is Phase.LAMP:
            return self.lamp_seen(as_it_should(self.session))
        if phase is Phase.LIGHT:
            return self.entry.see_light(Light.RIGHT)
        if phase in (Phase.READING, Phase.RESERVOIR):
            return self.live.hold() if self.live.on else None
        return self.go_on()

    # ---- commands --------------------------------------------------------------------------

    def confirm_state(self) -> Outcome:
        """B: the board is as the card says."""
        outcome, target = self.entry.confirm_state()
        if target is not None:
            if self.stage.checks:
                self.session.enter_stage(Stage.LIVE_CHECKS if target.plugged else Stage.COLD_CHECKS)
            self.live.mark(target.label)
        return outcome

    def make_safe(self) -> Outcome:
        """The plug was pulled, whatever was going on."""
        self.session.confirm_state(UNPLUGGED)
        return Outcome("Unplugged. The bulk is unknown until it is measured.")

    def skip(self) -> Outcome:
        """N: can't reach."""
        review = self.session.review
        if review is None or review.task is None or review.proving:
            return Outcome.refused("There is no probe to leave out.")
        probe = review.task.candidate.probe
        self.session.skip(probe)
        return Outcome(f"{probe.title}: left out. Ctrl+Z takes that back.")

    def choose(self, key: str) -> Outcome:
        """O: another probe."""
        assert self.session.engine is not None
        table = self.session.engine.table
        self.session.choose(table.candidates[table.index(key)])
        return Outcome("Your choice is on the card.")

    def undo(self) -> Outcome:
        """Z: take back."""
        words = self.session.undo()
        return Outcome(f"Taken back: {words}." if words else "There is nothing to take back.")

    def redo(self) -> Outcome:
        """Put back what was taken back."""
        words = self.session.redo()
        return Outcome(f"Put back: {words}." if words else "There is nothing to put back.")

    def go(self, stage: str) -> None:
        """Go to a stage."""
        if stage in list(Stage):
            self.session.enter_stage(stage)

    def go_on(self) -> Outcome:
        """The one action of the current stage."""
        before = self.session.state.handed_back
        outcome = go_on(
            self.session, Choices(self.stock, self.selected_stock, self.part_in_front, self.price)
        )
        handed = self.session.state.handed_back
        if before is None and handed is not None and handed.repaired and self.board.has_book:
            learned = self.board.learn()
            if learned.taken:
                return Outcome(f"{outcome.text} {learned.text}", outcome.kind)
        return outcome

    def select_stock(self, number: int) -> None:
        """Look at another candidate in stock."""
        if 0 <= number < len(self.stock):
            self.selected_stock = number
            self.changed.emit(None)

    def type_part(self, text: str) -> Echo:
        """Something is typed on the page of parts: its window lines follow."""
        front = self._front_part()
        named = text.strip().startswith(("+", "-")) or bool(chosen_ref(self.session, text))
        self.part_typed = "" if named else text.strip()
        self.changed.emit(None)
        return line_echo(self.session, front, text) if front else Echo("")

    def enter_part(self, text: str) -> Outcome:
        """A line of the page of parts: the list, the part in front, or what is fitted for it."""
        front = self._front_part()
        if not front:
            return Outcome.refused("No verdict has been accepted yet.")
        if named := chosen_ref(self.session, text):
            self.show_part(named)
            return Outcome(f"{named} is in front.")
        outcome = enter_line(self.session, front, text)
        if outcome.taken:
            self.part_typed = ""
            ahead = [one for one in repair_list(self.session) if not one.chosen]
            self.part_in_front = ahead[0].part.ref if ahead else front
            self.changed.emit(None)
        return outcome

    def show_part(self, ref: str) -> None:
        """A part of the list comes in front."""
        self.part_in_front, self.part_typed = ref, ""
        self.changed.emit(None)

    def _front_part(self) -> str:
        refs = [one.part.ref for one in repair_list(self.session)]
        return self.part_in_front if self.part_in_front in refs else (refs[0] if refs else "")

    def lamp_seen(self, pattern: str) -> Outcome:
        """How the lamp in line behaved."""
        return self.entry.see_lamp(LampPattern(pattern))

    def choose_method(self, name: str) -> Outcome:
        """How the part in hand comes off."""
        return choose_method(self.session, name)

    def next_action(self) -> Outcome:
        """Replace, reflow or tighten the part in hand: the next of them."""
        return next_action(self.session)

    def decide(self, text: str) -> Outcome:
        """A typed line of the verdict page."""
        return enter_decision(self.session, text, self._keep_setting)

    def power_line(self, text: str) -> Outcome:
        """A typed line of the power-up page."""
        return enter_power_line(self.session, text, self._keep_setting)

    def final_line(self, text: str) -> Outcome:
        """A typed line of the hand-back page."""
        return enter_hand_back_line(self.session, text, self.others)

    def set_price(self, text: str) -> Outcome:
        """The price on the sheet, empty for none."""
        if not text.strip():
            self.price = None
            return Outcome("")
        found = parse_quantity(text)
        if found is None or found.unit or found.value < 0:
            return Outcome.refused(f"“{text}” is not a price: type a number such as 38.50.")
        self.price = found.value
        self.changed.emit(None)
        return Outcome("")

    def add_note(self, text: str) -> Outcome:
        """A note at the current stage."""
        if not text.strip():
            return Outcome.refused("The note is empty.")
        self.session.record(ev.NoteWritten(self.stage, text.strip()))
        return Outcome("Note kept.")

    def export(self, path: Path) -> Outcome:
        """Write the report to a file, PDF or HTML, or the job as a bundle: by the ending."""
        refusal = self.sheet_refusal()
        if refusal:
            return Outcome.refused(refusal)
        if path.suffix.lower() == ".zip":
            return self.others.give(path, self.sheet())
        if path.suffix.lower() == ".svg":
            return write_label(path, self._label(self.session.state))
        return write_report(path, self.sheet(), self.sheet_title(), self._write_pdf)

    def retry_save(self) -> None:
        """Try again to write what could not be written."""
        self.session.retry_save()

    def close(self) -> None:
        """The window closes; everything is on disk already."""
        self.changed = Signal()
