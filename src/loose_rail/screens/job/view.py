"""One open job on the screen: frame, the view of its stage, and every key that belongs to it.

Owns its presenter. All state comes from there; this view decides only which page is in front and
where the focus goes.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QKeyEvent, QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from loose_rail.app.outcome import Outcome
from loose_rail.screens.bench.view import BenchView
from loose_rail.screens.card.view import NextProbeCard
from loose_rail.screens.hand_back.view import HandBackView
from loose_rail.screens.job.first_stages import FirstStages
from loose_rail.screens.job.frame import Banner, StageTrack, StateStrip, TitleStrip
from loose_rail.screens.job.front_pages import FrontPages
from loose_rail.screens.job.live_control import LiveControl
from loose_rail.screens.parts.view import PartsView
from loose_rail.screens.power_up.view import PowerUpView
from loose_rail.screens.rework.view import ReworkView
from loose_rail.screens.shared.dispatch import Dispatcher, Task
from loose_rail.screens.shared.keys import KEYS
from loose_rail.screens.shared.sentences import STAGE_TITLES
from loose_rail.screens.shared.widgets import Pages, label, scrolled, set_role
from loose_rail.screens.verdict.view import VerdictView

RETRY_MILLISECONDS = 3000
GUIDES = ("tests", "loads", "seen", "ends", "wake")
STAGES = tuple(STAGE_TITLES)


class JobView(QWidget):
    """A job; `presenter` is a `presenters.job.JobPresenter`."""

    left = pyqtSignal()
    predictions_asked = pyqtSignal()

    def __init__(self, presenter: Any, dispatcher: Dispatcher) -> None:
        super().__init__()
        self.presenter = presenter
        self._dispatcher = dispatcher
        self._measuring: Task | None = None
        self._forecasting = False
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        self._title = TitleStrip()
        self._banner = Banner()
        self._track = StageTrack()
        self.state_strip = StateStrip()
        self.pages = Pages()
        self.notice = label()
        self.notice.setObjectName("notice")
        self.notice.setAccessibleName("What just happened")
        self.notice.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        for widget in (self._title, self._banner, self._track, self.state_strip):
            layout.addWidget(widget)
        layout.addWidget(scrolled(self.pages), 1)
        foot = QHBoxLayout()
        foot.setSpacing(0)
        foot.addWidget(self.notice, 1)
        self._undo_words = label(role="foot")
        self._undo_words.setAccessibleName("What can be taken back")
        foot.addWidget(self._undo_words)
        layout.addLayout(foot)
        self._make_pages()
        self._make_shortcuts()
        self._retry = QTimer(self)
        self._retry.setInterval(RETRY_MILLISECONDS)
        self._retry.timeout.connect(lambda: self.presenter.retry_save())
        self.live = LiveControl(self)
        self._drain = QTimer(self)
        self._drain.setInterval(1000)
        self._drain.timeout.connect(self._show_drain)
        self._track.chosen.connect(self.go)
        presenter.changed.subscribe(lambda _: self.refresh())

    def _make_pages(self) -> None:
        self.bench, self.verdict = BenchView(), VerdictView()
        self.parts, self.rework = PartsView(), ReworkView()
        self.power_up, self.hand_back = PowerUpView(), HandBackView()
        self.first = FirstStages(self)
        self.intake, self.strip, self.survey = (
            self.first.intake,
            self.first.strip,
            self.first.survey,
        )
        for page in (self.verdict, self.parts, self.rework, self.hand_back):
            page.went_on.connect(self.go_on)
        for page in (
            self.bench,
            self.verdict,
            self.parts,
            self.rework,
            self.power_up,
            self.hand_back,
        ):
            self.pages.addWidget(page)
        self.front = FrontPages(self, self._dispatcher)
        self.photos, self.trace, self.guide = (
            self.front.photos,
            self.front.trace,
            self.front.guide,
        )
        self.setAcceptDrops(True)
        self.verdict.decided.connect(self._decide)
        self.parts.selected.connect(lambda n: self.presenter.select_stock(n))
        self.hand_back.export_asked.connect(self.ask_export)
        self.hand_back.price_named.connect(lambda text: self.tell(self.presenter.set_price(text)))
        self.rework.bulk_entered.connect(self._enter_bulk)
        self.rework.meter_asked.connect(self.measure)
        self.power_up.lamp_seen.connect(lambda p: self.tell(self.presenter.lamp_seen(p)))
        for card in (self.bench.card, self.power_up.card):
            card.commanded.connect(self.command)
            card.typed.connect(lambda text, c=card: self._typed(c, text))
            card.other_chosen.connect(lambda key: self.tell(self.presenter.choose(key)))

    def _decide(self, text: str) -> None:
        notice = self.presenter.decide(text)
        self.verdict.entry.answered(notice.taken)
        self.tell(notice)

    def _make_shortcuts(self) -> None:
        actions: dict[str, Callable[[], None]] = {
            "undo": lambda: self.tell(self.presenter.undo()),
            "redo": lambda: self.tell(self.presenter.redo()),
            "print": self.ask_export,
            "note": self.write_note,
            "photos": lambda: self.front.show_photos(),
            "trace": lambda: self.front.show_trace(),
            "foot": lambda: self.live.foot(),
            **{f"stage_{k}": (lambda key=key: self.go(key)) for k, key in enumerate(STAGES)},
        }
        for key in KEYS:
            if key.scope == "job":
                shortcut = QShortcut(QKeySequence(key.sequence), self)
                shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
                shortcut.activated.connect(actions[key.action])
                if key.action == "foot":
                    self._foot_shortcut = shortcut

    def use_settings(
        self, foot_key: str, tones: bool, speech: bool, lacks: Sequence[str] = ()
    ) -> None:
        """What the person chose on the meters page."""
        self.presenter.session.use_bench(lacks)
        self._foot_shortcut.setKey(QKeySequence(foot_key))
        self.live.sounds.tones, self.live.sounds.speech = tones, speech

    # ---- drawing ---------------------------------------------------------------------------

    def refresh(self) -> None:
        """Draw the present state: the frame and the page in front."""
        frame = self.presenter.frame()
        self._title.show_state(frame)
        self._track.show_state(frame.stages)
        self.state_strip.show_state(frame)
        self._undo_words.setText(frame.foot_text)
        self._banner.show_words(frame.banner)
        if bool(frame.save_problem) != self._retry.isActive():
            self._retry.start() if frame.save_problem else self._retry.stop()
        self._show_page()
        self._show_drain()
        self.live.ask()

    def _show_drain(self) -> None:
        """The drain timer in the state strip, second by second while it runs."""
        words = self.presenter.drain_words()
        self.state_strip.show_drain(words)
        if bool(words) != self._drain.isActive():
            self._drain.start() if words else self._drain.stop()

    def _show_page(self) -> None:
        stage = self.presenter.stage
        if self.front.stay(stage):
            return
        before = self.pages.currentWidget()
        if stage in ("cold_checks", "live_checks"):
            self.bench.show_state(self.presenter.bench())
            self.pages.setCurrentWidget(self.bench)
        elif stage == "power_up":
            self.power_up.show_state(self.presenter.power_up(), self.presenter.has_meter)
            self.pages.setCurrentWidget(self.power_up)
            self._start_forecast()
        else:
            page, state = {
                "take_in": (self.intake, self.presenter.before.intake),
                "strip_down": (self.strip, self.presenter.before.strip),
                "look_over": (self.survey, self.presenter.before.survey),
                "verdict": (self.verdict, self.presenter.verdict),
                "parts": (self.parts, self.presenter.parts),
                "rework": (self.rework, self.presenter.rework),
                "hand_back": (self.hand_back, self.presenter.hand_back),
            }[stage]
            page.show_state(state())
            self.pages.setCurrentWidget(page)
            self.first.drawn(page)
        if self.pages.currentWidget() is not before:
            self.focus_work()

    def focus_work(self) -> None:
        """Focus goes to the entry line or the action of the page."""
        card = self.card
        if card is not None:
            card.entry.setFocus()
        else:
            self.pages.currentWidget().focus_work()

    @property
    def card(self) -> NextProbeCard | None:
        """The card on the page in front, if it has one."""
        page = self.pages.currentWidget()
        return page.card if page in (self.bench, self.power_up) else None

    def restyle(self) -> None:
        """The theme changed."""
        self.power_up.restyle()
        self.bench.live.restyle()
        self.trace.chart.restyle()
        self.trace.below.restyle()
        self.refresh()

    def show_progress(self, share: float, words: str) -> None:
        """Predictions are being worked out."""
        self.bench.card.show_progress(share, words)

    def tell(self, notice: Outcome) -> None:
        set_role(self.notice, notice.kind, "kind")
        self.notice.setText(notice.text)
        self.notice.setToolTip(notice.text)

    def say(self, text: str, kind: str = "info") -> None:
        """Say a sentence at the foot of the window."""
        self.tell(Outcome(text, kind))

    # ---- doing -----------------------------------------------------------------------------

    def go(self, stage: str) -> None:
        """Go to a stage."""
        self.say("")
        self.presenter.go(stage)

    def go_on(self) -> None:
        """The one action of the page."""
        self.tell(self.presenter.go_on())
        self.focus_work()

    def _typed(self, card: NextProbeCard, text: str) -> None:
        card.show_echo(self.presenter.echo(text))

    def command(self, command: str) -> None:
        """A key or button of the card."""
        if command == "enter":
            self._enter()
        elif command in GUIDES:
            self.front.show_guide(command)
        elif command == "live":
            self.live.turn()
        elif command == "meter":
            self.live.hold() if self.presenter.live.on else self.measure()
        elif command == "other":
            self.bench.offer_others()
        else:
            action = {
                "confirm": self.presenter.confirm_state,
                "skip": self.presenter.skip,
                "undo": self.presenter.undo,
                "unplugged": self.presenter.make_safe,
            }[command]
            self.tell(action())
            self.focus_work()

    def _enter(self) -> None:
        card = self.card
        assert card is not None
        text = card.entry.text()
        if not text.strip():
            phase = card.phase
            if phase == "nothing":
                self.go_on()
            elif phase == "failed":
                self.presenter.predictions_failed("")
                self.predictions_asked.emit()
            elif phase == "state":
                self.say("Do what the card says, then press B.", "problem")
            else:
                self.say("Type the reading, or press Space for the meter.", "problem")
            return
        notice = self.presenter.submit(text)
        if notice.taken:
            card.clear_entry()
        self.tell(notice)
        card.entry.setFocus()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter does the page's action wherever the focus is; digits name the lamp pattern."""
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.card is None:
            self.go_on()
            return
        if event.text().lower() == "u":
            self.tell(self.presenter.make_safe())
            self.focus_work()
            return
        super().keyPressEvent(event)

    # ---- meter -----------------------------------------------------------------------------

    def measure(self) -> None:
        """Take the reading from the meter; a second call lets go of it."""
        if self._measuring is not None:
            self._measuring.cancel()
            self._measuring = None
            self.say("The meter was let go.")
            return
        request = self.presenter.entry.request()
        if isinstance(request, Outcome):
            self.tell(request)
            return
        self._show_measuring("reading the meter …")
        key = request[3]
        self._measuring = self._dispatcher.run(
            lambda task: self.presenter.entry.measure(request, task),
            lambda answer: self._measured(key, answer),
            self._measure_failed,
            lambda share, words: self._show_measuring(words),
        )
        if not self._dispatcher.busy:
            self._measuring = None

    def _show_measuring(self, words: str) -> None:
        card = self.card
        if card is not None:
            card.show_measuring(words)
        else:
            self.say(words)

    def _enter_bulk(self, text: str) -> None:
        notice = self.presenter.submit(text)
        if notice.taken:
            self.rework.bulk.clear()
        self.tell(notice)
        self.focus_work()

    def _measured(self, key: str, answer: Any) -> None:
        self._measuring = None
        if answer is None:
            return
        seen, name = answer
        card = self.card
        if card is not None and not card.entry.text():
            card.show_measuring("")
        self.tell(self.presenter.entry.meter_reading(key, seen, name))
        self.focus_work()

    def _measure_failed(self, error: Exception) -> None:
        self._measuring = None
        card = self.card
        if card is not None:
            card.show_measuring("")
        message, hint = getattr(error, "message", str(error)), getattr(error, "hint", "")
        self.say(f"{message} {hint}".strip(), "problem")

    # ---- forecast --------------------------------------------------------------------------

    def _start_forecast(self) -> None:
        keeper, session = self.presenter.forecast, self.presenter.session
        if self._forecasting or not keeper.missing(session):
            return
        self._forecasting = True
        self._dispatcher.run(
            lambda task: keeper.work_out(session), self._forecast_done, self._forecast_failed
        )

    def _forecast_done(self, found: Any) -> None:
        self._forecasting = False
        self.presenter.forecast.keep(found)
        self.refresh()

    def _forecast_failed(self, error: Exception) -> None:
        self._forecasting = False
        self.say(f"The prediction failed: {error}", "problem")

    # ---- photographs and readings in time ---------------------------------------------------

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Files and pictures may be dropped on any page."""
        data = event.mimeData() if event is not None else None
        if event is not None and data is not None and (data.hasUrls() or data.hasImage()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """They hang on what is being worked at."""
        assert event is not None
        if self.photos.add_mime(event.mimeData()):
            event.acceptProposedAction()
        else:
            self.say("What was dropped is no file and no picture.", "problem")

    # ---- paper -----------------------------------------------------------------------------

    def write_note(self) -> None:
        """Write a note at this stage."""
        text, ok = QInputDialog.getMultiLineText(self, "Note", "Note at this stage")
        if ok:
            self.tell(self.presenter.add_note(text))

    def ask_export(self) -> None:
        """Ask where the report goes, then write it."""
        refusal = self.presenter.sheet_refusal()
        if refusal:
            self.say(refusal, "problem")
            return
        ticket = self.presenter.frame().ticket
        start = str(Path.home() / f"job-{ticket}.pdf")
        name, _ = QFileDialog.getSaveFileName(
            self, "Save the report", start, "PDF (*.pdf);;HTML (*.html)"
        )
        if name:
            self.export(Path(name))

    def export(self, path: Path) -> None:
        """Write the report to a file."""
        self.tell(self.presenter.export(path))

    def close_job(self) -> None:
        """The window closes or another job comes."""
        self._retry.stop()
        self._drain.stop()
        self.live.close()
        self.photos.gone = True
        if self._measuring is not None:
            self._measuring.cancel()
        with contextlib.suppress(RuntimeError):
            self.presenter.close()
