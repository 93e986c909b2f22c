"""One open job on the screen: frame, the page of its stage, and every key that belongs to it.

Owns its presenter. All state comes from there; this view decides only which page is in front and
where the focus goes.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TypeVar

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QKeyEvent, QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from loose_rail.app.guides.registry import GUIDES
from loose_rail.app.outcome import Echo, Kind, Outcome
from loose_rail.app.settings import Settings
from loose_rail.screens.bench.view import BenchView
from loose_rail.screens.job.frame import Banner, StageTrack, StateStrip, TitleStrip
from loose_rail.screens.job.front_pages import FrontPages
from loose_rail.screens.job.job_paper import JobPaper
from loose_rail.screens.job.measuring import Measuring
from loose_rail.screens.job.present import JobPresenter
from loose_rail.screens.job.soak_timer import SoakTimer
from loose_rail.screens.job.stages import STAGE_PAGES
from loose_rail.screens.live.control import LiveControl
from loose_rail.screens.live.state import LiveState
from loose_rail.screens.photos.view import PhotoView
from loose_rail.screens.recording.view import TraceView
from loose_rail.screens.shared.card.view import NextProbeCard
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.keys import keys_of
from loose_rail.screens.shared.page import StagePage
from loose_rail.screens.shared.session_bus import note
from loose_rail.screens.shared.widgets import Pages, label, scrolled, set_role, tip
from loose_rail.vocabulary.phase import Phase
from loose_rail.vocabulary.stage import Stage

RETRY_MILLISECONDS = 3000
P = TypeVar("P", bound=StagePage)


class JobView(QWidget):
    """A job with its pages, one for each view of the registry of stages."""

    left = pyqtSignal()
    predictions_asked = pyqtSignal()

    def __init__(self, presenter: JobPresenter, dispatcher: Dispatcher) -> None:
        super().__init__()
        self.presenter = self.desks = presenter
        self.dispatcher = dispatcher
        self.measuring = Measuring(self, presenter.entry)
        self.paper = JobPaper(self, self, presenter)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        self._title = TitleStrip()
        self._banner = Banner()
        self._track = StageTrack()
        self.state_strip = StateStrip()
        self.pages = Pages()
        for widget in (self._title, self._banner, self._track, self.state_strip):
            layout.addWidget(widget)
        layout.addWidget(scrolled(self.pages), 1)
        layout.addLayout(self._foot())
        self._by_stage = self._make_pages()
        self.front = FrontPages(self, self.pages, lambda: presenter.stage)
        self.live = LiveControl(self, presenter.live, presenter.streams)
        self.setAcceptDrops(True)
        self._make_shortcuts()
        self._retry = self._timer(RETRY_MILLISECONDS, presenter.retry_save)
        self._drain = self._timer(1000, self._show_drain)
        self._soak = SoakTimer(self, self.presenter.look_due, self.say)
        self._track.chosen.connect(self.go)
        presenter.changed.subscribe(lambda _: self.refresh())

    def _foot(self) -> QHBoxLayout:
        foot = QHBoxLayout()
        foot.setSpacing(0)
        self.notice = label()
        self.notice.setObjectName("notice")
        self.notice.setAccessibleName("What just happened")
        self.notice.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._undo_words = label(role="foot")
        self._undo_words.setAccessibleName("What can be taken back")
        foot.addWidget(self.notice, 1)
        foot.addWidget(self._undo_words)
        return foot

    def _make_pages(self) -> dict[Stage, StagePage]:
        made: dict[type[StagePage], StagePage] = {}
        for entry in STAGE_PAGES.values():
            if entry.view not in made:
                page = made[entry.view] = entry.view()
                page.attach(self)
                self.pages.addWidget(page)
        return {stage: made[entry.view] for stage, entry in STAGE_PAGES.items()}

    def _make_shortcuts(self) -> None:
        actions: dict[str, Callable[[], object]] = {
            "undo": lambda: self.tell(self.presenter.undo()),
            "redo": lambda: self.tell(self.presenter.redo()),
            "print": self.paper.ask_print,
            "save": self.paper.ask_export,
            "note": self.paper.write_note,
            "photos": lambda: self.front.show("photos"),
            "trace": lambda: self.front.show("trace"),
            "board": lambda: self.front.show("board"),
            "foot": self.foot,
            **{f"stage:{one}": partial(self.go, one) for one in Stage},
        }
        for key in keys_of("job"):
            shortcut = QShortcut(QKeySequence(key.sequence), self)
            shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            shortcut.activated.connect(actions[key.action])
            if key.action == "foot":
                self._foot_shortcut = shortcut

    def _timer(self, milliseconds: int, act: Callable[[], object]) -> QTimer:
        timer = QTimer(self)
        timer.setInterval(milliseconds)
        timer.timeout.connect(act)
        return timer

    def use_settings(self, settings: Settings) -> None:
        """What the person chose on the meters page."""
        self.presenter.session.use_bench(
            settings.not_read, settings.lamp, settings.prices, settings.limiters
        )
        self._foot_shortcut.setKey(QKeySequence(settings.foot_key))
        self.live.sounds.tones, self.live.sounds.speech = settings.tones, settings.speech

    # ---- pages -----------------------------------------------------------------------------

    def page(self, stage: str) -> StagePage:
        """The page of a stage."""
        return self._by_stage[Stage(stage)]

    def page_of(self, kind: type[P]) -> P:
        """The page of a view; one in front of the stages is made where it is not yet."""
        for page in self._by_stage.values():
            if isinstance(page, kind):
                return page
        return next(page for page in self.front.pages if isinstance(page, kind))

    @property
    def bench(self) -> BenchView:
        """The page of the checks."""
        return self.page_of(BenchView)

    @property
    def photos(self) -> PhotoView:
        """The album."""
        page = self.front["photos"]
        assert isinstance(page, PhotoView)
        return page

    @property
    def trace(self) -> TraceView:
        """The recording of the meters."""
        page = self.front["trace"]
        assert isinstance(page, TraceView)
        return page

    @property
    def current(self) -> StagePage:
        """The page in front."""
        page = self.pages.currentWidget()
        assert isinstance(page, StagePage)
        return page

    @property
    def card(self) -> NextProbeCard | None:
        """The card on the page in front, if it has one."""
        return self.current.card

    @property
    def words_in_front(self) -> str:
        """What the card in front asks for, with what it expects; empty without one that reads."""
        card = self.card
        return card.words_asked if card is not None and card.phase == Phase.READING else ""

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
            if not words:
                note("The bulk should be drained by now", "Measure it before you touch anything.")

    def _show_page(self) -> None:
        if self.front.stay():
            return
        stage, before = self.presenter.stage, self.pages.currentWidget()
        page = self.page(stage)
        page.show_state(STAGE_PAGES[stage].present(self.presenter))
        self.pages.setCurrentWidget(page)
        if page is not before:
            self.focus_work()

    def focus_work(self) -> None:
        """Focus goes to the entry line or the action of the page."""
        self.current.focus_work()

    def restyle(self) -> None:
        """The theme changed."""
        for page in self._by_stage.values():
            page.restyle()
        if self.front.made("trace") is not None:
            self.trace.restyle()
        self.refresh()

    def show_progress(self, share: float, words: str) -> None:
        """Predictions are being worked out."""
        self.bench.card.show_progress(share, words)

    def show_live(self, state: LiveState) -> None:
        """What the meters show, beside the ledger and in the frame."""
        self.bench.show_live(state)
        self.state_strip.show_watched(state.watched)
        if self.pages.currentWidget() is self.front.made("trace"):
            self.trace.draw_again()

    def tell(self, outcome: Outcome) -> None:
        """Say what an action came to, at the foot of the window."""
        set_role(self.notice, outcome.kind, "kind")
        self.notice.setText(outcome.text)
        self.notice.setToolTip(tip(outcome.text))

    def say(self, text: str, kind: Kind = Kind.DONE) -> None:
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

    def typed(self, text: str) -> None:
        """Something is typed at the card."""
        if self.card is not None:
            self.card.show_echo(self.presenter.echo(text))

    def choose_probe(self, key: str) -> None:
        """Another probe than the offered one."""
        self.tell(self.presenter.choose(key))

    def select_stock(self, number: int) -> None:
        """Look at another candidate in stock."""
        self.presenter.select_stock(number)

    def type_part(self, text: str) -> Echo:
        """Something is typed on the page of parts."""
        return self.presenter.type_part(text)

    def enter_part(self, text: str) -> Outcome:
        """A line of the page of parts."""
        outcome = self.presenter.enter_part(text)
        self.tell(outcome)
        return outcome

    def show_part(self, ref: str) -> None:
        """A part of the list comes in front."""
        self.presenter.show_part(ref)

    def see_lamp(self, pattern: str) -> None:
        """How the lamp in line behaved."""
        self.tell(self.presenter.lamp_seen(pattern))

    def choose_method(self, name: str) -> None:
        """How the part in hand comes off."""
        self.tell(self.presenter.choose_method(name))

    def enter_volts(self, text: str) -> bool:
        """Volts across the reservoir that is asked for; whether they were taken."""
        outcome = self.presenter.submit(text)
        self.tell(outcome)
        return outcome.taken

    def decide(self, text: str) -> Outcome:
        """A typed line of the verdict page."""
        return self.presenter.decide(text)

    def power_line(self, text: str) -> Outcome:
        """A typed line or key of the power-up page."""
        return self.presenter.power_line(text)

    def final_line(self, text: str) -> Outcome:
        """A typed line of the hand-back page."""
        return self.presenter.final_line(text)

    def name_price(self, text: str) -> None:
        """The price on the sheet."""
        self.tell(self.presenter.set_price(text))

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
            card = self.card
            assert card is not None
            card.offer_others(self.presenter.bench().others)
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
            self._enter_nothing()
            return
        outcome = self.presenter.submit(text)
        if outcome.taken:
            card.clear_entry()
        self.tell(outcome)
        card.entry.setFocus()

    def _enter_nothing(self) -> None:
        if self.presenter.entry.phase() is Phase.FAILED:
            self.presenter.predictions_failed("")
            self.predictions_asked.emit()
            return
        outcome = self.presenter.nothing_typed()
        if outcome is None:
            self.go_on()
        else:
            self.tell(outcome)

    def foot(self) -> None:
        """The foot switch: confirm, hold, read or go on, whatever is next."""
        if self.card is None:
            self.go_on()
            return
        outcome = self.presenter.foot()
        if outcome is None:
            self.measure()
        else:
            self.live.acted(outcome)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter does the page's action wherever the focus is."""
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.card is None:
            self.go_on()
            return
        if event.text().lower() == "u":
            self.tell(self.presenter.make_safe())
            self.focus_work()
            return
        super().keyPressEvent(event)

    def measure(self) -> None:
        """Take the reading from the meter; a second call cancels it."""
        self.measuring.turn()

    # ---- photographs and paper --------------------------------------------------------------

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Files and pictures may be dropped on any page."""
        data = event.mimeData() if event is not None else None
        if event is not None and data is not None and (data.hasUrls() or data.hasImage()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """They belong to the step, part or reading that is being worked at."""
        assert event is not None
        if self.photos.add_mime(event.mimeData()):
            event.acceptProposedAction()
        else:
            self.say("What was dropped is no file and no picture.", Kind.REFUSED)

    def export(self, path: Path) -> None:
        """Write the report to a file."""
        self.paper.export(path)

    def close_job(self) -> None:
        """The window closes or another job comes."""
        self._retry.stop()
        self._drain.stop()
        self._soak.stop()
        self.live.close()
        self.photos.gone = True
        self.measuring.cancel()
        self.presenter.close()
