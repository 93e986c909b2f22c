"""The presenter under whatever a person does, in any order: it answers, draws, and stays safe.

A hypothesis state machine presses the commands of the bench; after each the invariants must hold.
"""

import tempfile
import unittest
from dataclasses import replace
from pathlib import Path
from typing import Any

from hypothesis import HealthCheck, settings, strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from loose_rail.app.outcome import Outcome
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.judgement.limits import limit
from loose_rail.kernel.observation import value
from loose_rail.practice.demo import demo_shop
from loose_rail.reports.content import content_of
from loose_rail.reports.html import render_html
from loose_rail.screens.job.present import JobPresenter
from loose_rail.screens.shared.paper import write_pdf
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.fakes.store import MemoryStore
from tests.material import some
from tests.screens.helper import application
from tests.shared import demo_records, demo_session, the

TYPED = st.sampled_from(
    [
        *("4.98", "0", "-5.02", "0.6..3.9@1.1Hz", "OL", "short", "1k2", "0R05", "500", "161"),
        *("", "zork", "4..", "> 400k rising", "3.3 ohm", "12 V", "1e-9", "999999", "0.12"),
    ]
)
PATTERNS = st.sampled_from(["dark", "flash_dark", "glows", "pulses", "bright"])
OHMS_LIKE = (MeterMode.OHMS, MeterMode.DIODE, MeterMode.ESR, MeterMode.CAPACITANCE)


class Bench(RuleBasedStateMachine):
    """One job, its store in memory, a person who presses anything."""

    @initialize()
    def open(self) -> None:
        self.store = MemoryStore(demo_records())
        session = demo_session(self.store)
        self.presenter = JobPresenter(
            session,
            demo_shop().stock,
            lambda s, price: render_html(content_of(s, price)),
            write_pdf,
        )
        self.emitted = 0
        self.presenter.changed.subscribe(lambda _: self.count())

    def count(self) -> None:
        self.emitted += 1

    # ---- what a person can do --------------------------------------------------------------

    @rule(text=TYPED)
    def type_a_reading(self, text: str) -> None:
        echo = self.presenter.echo(text)
        before = len(self.presenter.session.records)
        notice = self.presenter.submit(text)
        self.said(notice)
        if text.strip() and echo.error:
            self.assertion(notice.kind == "problem", f"{text}: {echo} {notice}")
            self.assertion(len(self.presenter.session.records) == before, "an error was recorded")

    @rule()
    def confirm(self) -> None:
        self.said(self.presenter.confirm_state())

    @rule()
    def pull_the_plug(self) -> None:
        plugged = self.presenter.session.state.board_state.plugged
        self.said(self.presenter.make_safe())
        state = self.presenter.session.state
        self.assertion(not state.board_state.plugged, "still plugged")
        self.assertion(not plugged or state.bulk_volts is None, "an old bulk reading still counts")

    @rule()
    def skip(self) -> None:
        self.said(self.presenter.skip())

    @rule(number=st.integers(0, 8))
    def other(self, number: int) -> None:
        others = self.presenter.bench().others
        if others:
            self.said(self.presenter.choose(others[number % len(others)][0]))

    @rule()
    def take_back(self) -> None:
        before = replace_time(self.presenter)
        words = self.presenter.undo()
        self.said(words)
        if words.text.startswith("Taken back"):
            self.said(self.presenter.redo())
            self.assertion(replace_time(self.presenter) == before, "redo does not restore")
            self.presenter.undo()

    @rule()
    def put_back(self) -> None:
        self.said(self.presenter.redo())

    @rule(stage=st.sampled_from(ev.STAGES))
    def go(self, stage: str) -> None:
        self.presenter.go(stage)
        self.assertion(self.presenter.stage == stage, stage)

    @rule()
    def go_on(self) -> None:
        self.said(self.presenter.go_on())

    @rule(number=st.integers(-1, 6))
    def look_at_stock(self, number: int) -> None:
        self.presenter.select_stock(number)

    @rule(pattern=PATTERNS)
    def lamp(self, pattern: str) -> None:
        self.said(self.presenter.lamp_seen(pattern))

    @rule(text=st.sampled_from(["38.50", "", "abc", "-3", "5 V"]))
    def price(self, text: str) -> None:
        notice = self.presenter.set_price(text)
        self.assertion((notice.kind == "problem") == (text in ("abc", "-3", "5 V")), text)

    @rule(text=st.sampled_from(["a note", "  "]))
    def note(self, text: str) -> None:
        self.said(self.presenter.add_note(text))

    # ---- what always holds -----------------------------------------------------------------

    def assertion(self, holds: bool, words: str) -> None:
        if not holds:
            raise AssertionError(words)

    def said(self, notice: Outcome) -> None:
        self.assertion(notice.kind in ("info", "warning", "problem"), str(notice))

    @invariant()
    def every_screen_draws(self) -> None:
        if not hasattr(self, "presenter"):
            return
        p = self.presenter
        for state in (p.frame(), p.bench(), p.verdict(), p.parts(), p.rework()):
            self.assertion(state is not None, "nothing drawn")
        if p.stage in ev.STAGES[:3]:
            before = (p.take_in(), p.strip_down(), p.look_over())
            self.assertion(bool(before[0].suspects and before[2].rows), "no estimate at intake")
        self.assertion(p.power_up().title != "" and p.hand_back().html != "", "nothing drawn")

    @invariant()
    def what_is_offered_is_safe(self) -> None:
        if not hasattr(self, "presenter"):
            return
        session, card = self.presenter.session, self.presenter.bench().card
        task = self.presenter.session.reviewed.task
        if task is None or card.phase != "reading":
            return
        state = session.state
        if task.candidate.probe.mode in OHMS_LIKE:
            self.assertion(not state.board_state.plugged, "ohms on a plugged board")
            self.assertion(
                state.bulk_volts is not None and abs(state.bulk_volts) < limit("drained_volts"),
                "ohms on a charged board",
            )
        elif not state.board_state.lamp_watts:
            self.assertion(session.facts.primary_short_excluded, "full power without a limiter")

    @invariant()
    def everything_accepted_is_in_the_store_and_the_screens_know(self) -> None:
        if not hasattr(self, "presenter"):
            return
        session = self.presenter.session
        stored = self.store.logs[1]
        self.assertion(list(session.records) == stored, "store and session differ")
        self.assertion(fold(stored) == session.state, "the fold differs")
        live = len(session.state.live_readings)
        ledger = self.presenter.bench().ledger
        self.assertion(len([row for row in ledger if not row.struck]) == live, "ledger differs")
        total = sum(row.share for row in self.presenter.suspects())
        self.assertion(abs(total - 1.0) < 1e-6, f"suspects add to {total}")


def replace_time(presenter: JobPresenter) -> Any:
    """The job's state without what undo and redo themselves leave behind."""
    return replace(presenter.session.state, undo_words="", redo_words="", last_at="")


Bench.TestCase.settings = settings(
    max_examples=some(12, 40),
    stateful_step_count=25,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much],
)
AnyOrder = Bench.TestCase


class Exports(unittest.TestCase):
    def test_a_report_can_be_written_at_any_stage_and_a_bad_place_is_said(self) -> None:
        application()
        session = demo_session()
        presenter = JobPresenter(
            session,
            demo_shop().stock,
            lambda s, price: render_html(content_of(s, price)),
            write_pdf,
        )
        with tempfile.TemporaryDirectory() as folder:
            for stage in ev.STAGES:
                presenter.go(stage)
                for name in (f"{stage}.html", f"{stage}.pdf"):
                    self.assertEqual(presenter.export(Path(folder) / name).kind, "info")
                    self.assertGreater((Path(folder) / name).stat().st_size, 900)
            missing = Path(folder) / "no" / "such" / "place.pdf"
            self.assertEqual(presenter.export(missing).kind, "problem")
            self.assertEqual(presenter.export(missing.with_suffix(".html")).kind, "problem")

    def test_a_stale_meter_reading_is_dropped(self) -> None:
        session = demo_session()
        presenter = JobPresenter(session, (), lambda s, p: "", lambda html, title, path: None)
        key = the(presenter.session.reviewed.task).candidate.key
        presenter.skip()
        notice = presenter.entry.meter_reading(key, value(4.7e3, "Ω"), "meter")
        self.assertEqual(notice.kind, "problem")
        self.assertIn("too late", notice.text)
        self.assertEqual(session.state.live_readings, ())


if __name__ == "__main__":
    unittest.main()
