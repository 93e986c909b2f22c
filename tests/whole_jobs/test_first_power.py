"""From the rework on through the window, by keyboard: a resistor in line, a first power that fails
and is diagnosed on, a soak across a restart."""

import tempfile
import unittest
from datetime import datetime, timedelta
from pathlib import Path

from hypothesis import given, strategies as st
from PyQt6.QtCore import Qt

from loose_rail.app.soaking import look_due, plan_now
from loose_rail.diagnosis.evidence.soak import (
    clean_share,
    cycles_needed,
    hours_to_leave,
    left_after,
    rate_at_most,
    shows_within,
)
from loose_rail.diagnosis.inference.short_excluded import proof_keys
from loose_rail.diagnosis.proof.standing import ProofStatus
from loose_rail.jobs import events as ev
from loose_rail.jobs.soak import GRACE, Look, Soak
from loose_rail.kernel.entry import read_entry
from loose_rail.screens.job.view import JobView
from loose_rail.screens.power_up.view import PowerUpView
from loose_rail.screens.shelf.present import shelf_state
from tests.screens.helper import (
    close_window,
    measured_empty,
    open_window,
    press,
    prove,
    rework_all,
    settle,
    sound_reading,
    write,
)
from tests.shared import the


class Later:
    """A clock that goes on by so many minutes for each time it is pushed."""

    def __init__(self) -> None:
        self.minutes = 0.0

    def now(self) -> str:
        hours, minutes = divmod(int(self.minutes), 60)
        return f"2026-11-28T{8 + hours:02d}:{minutes:02d}:00+00:00"


class FirstPower(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "shop.sqlite"
        self.clock = Later()
        self.job = self.opened()
        session = self.job.presenter.session
        session.record(ev.VerdictAccepted("C21", "C21 dried out", 0.9, "confirmed", [], ""))
        self.job.go("rework")
        self.job.focus_work()
        rework_all(self.job)
        self.assertEqual(self.job.presenter.stage, "power_up")

    def opened(self) -> JobView:
        """The demo job in a new window on the same shop, on this test's clock."""
        window = open_window(self.path)
        self.addCleanup(close_window, window)
        window.resize(1024, 768)
        window.open_job(1)
        job = the(window.job)
        job.presenter.session._clock = self.clock
        settle(lambda: job.presenter.session.review is not None, 90)
        measured_empty(job)
        job.focus_work()
        return job

    def page(self) -> PowerUpView:
        return self.job.page_of(PowerUpView)

    def test_a_resistor_in_line_has_its_own_questions_and_forecast(self) -> None:
        job, presenter = self.job, self.job.presenter
        settle(lambda: bool(presenter.power_up().seconds), 30)
        self.assertEqual(presenter.power_up().heat, ())
        press(Qt.Key.Key_F4)
        write("5R 1W")
        self.assertIn("10 Ω to 2.2 kΩ", job.notice.text())
        write("always 220R 25W")
        settle(lambda: bool(presenter.power_up().heat), 30)
        self.assertIn("220R 25W", presenter.session.limiters)
        self.assertIn("220 Ω 25 W resistor", self.page()._title.text())
        job.focus_work()
        self.assertIn("in the fuse's place", " ".join(presenter.power_up().card.todo))
        press(Qt.Key.Key_B)
        self.assertEqual(presenter.power_up().card.phase, "lamp")
        write("4")  # a resistor has three answers
        self.assertIn("1 to 3", job.notice.text())
        the(job.card).entry.clear()
        press(Qt.Key.Key_F9)  # what is live is not changed
        self.assertIn("Pull the plug first", job.notice.text())
        write("1")  # cool, which shows less than a dark lamp
        settle(lambda: presenter.session.state.lamp_last == "dark", 30)
        self.assertFalse(presenter.session.facts.primary_short_excluded)
        press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        write("3")
        self.assertIn("Hot: a short behind it", job.notice.text())
        self.assertIs(presenter.session.reviewed.proof.status, ProofStatus.FAILED)

    def test_behind_a_resistor_full_mains_waits_for_the_dead_board(self) -> None:
        job, session = self.job, self.job.presenter.session
        press(Qt.Key.Key_F4)
        write("220R 25W")
        prove(job, "dark")  # stays cool
        self.assertEqual(session.reviewed.proof.level.rank, 1)
        self.assertIn("Full mains stays closed", job.presenter.power_up().card.caution)
        press(Qt.Key.Key_U)
        session.measure_bulk(1.0)
        table = session.reviewed.table
        for key in proof_keys(session.board):
            one = table.candidates[table.index(key)]
            typed = ">400k rising" if one.probe.unit == "Ω" else "0.48"
            session.take_reading(one, read_entry(typed, one.probe.unit).observation, "typed")
        prove(job, "dark")
        self.assertEqual(session.reviewed.proof.level.rank, 5)
        self.assertEqual(job.presenter.power_up().card.caution, "")

    def test_a_failed_first_power_is_diagnosed_on(self) -> None:
        job, session = self.job, self.job.presenter.session
        press(Qt.Key.Key_B)
        write("5")  # full bright
        self.assertIs(session.reviewed.proof.status, ProofStatus.FAILED)
        self.assertIn("Not repaired", self.page()._failed.text())
        job.go_on()
        self.assertIn("Not repaired", job.notice.text())
        self.assertEqual(job.presenter.stage, "cold_checks")
        suspects = {one.key.split(":")[0] for one in session.reviewed.assessment.suspects[:8]}
        self.assertNotIn("C21", suspects)  # it is new: known good
        job.go("hand_back")
        press(Qt.Key.Key_U)
        self.assertIn("failed", job.presenter.hand_back().failed)

    def test_a_soak_goes_on_across_a_restart_and_raises_the_level(self) -> None:
        job, session = self.job, self.job.presenter.session
        press(Qt.Key.Key_F5)
        self.assertIn("First the proof", job.notice.text())
        job.focus_work()
        prove(job)
        self.assertEqual(session.reviewed.proof.level.rank, 5)
        before = plan_now(session).left
        press(Qt.Key.Key_F4)
        write("soak 2 h every 30")
        self.assertIn("Never unattended", job.notice.text())
        self.clock.minutes += 29
        self.assertEqual(look_due(session), "")
        self.clock.minutes += 2
        self.assertIn("look at it since", look_due(session))
        press(Qt.Key.Key_F5)
        the(job.window()).close()
        self.job = job = self.opened()  # the program was started again
        session = job.presenter.session
        self.assertTrue(the(session.state.soak).running)
        rows = shelf_state("shop", [the(the(job.window()).workplace).store.jobs()[0]]).rows  # type: ignore[attr-defined]
        self.assertIn("on soak until", rows[0].waits_for)
        self.clock.minutes += 30
        press(Qt.Key.Key_F6)  # the same point once more, by hand
        write(sound_reading(session))
        self.clock.minutes += 200  # nobody was there: no more than half an hour and half counts
        press(Qt.Key.Key_F5)
        press(Qt.Key.Key_F7)
        hours = plan_now(session).done
        self.assertAlmostEqual(hours, (31 + 30 + GRACE * 30) / 60.0, places=2)
        level = session.reviewed.proof.level
        self.assertEqual((level.rank, level.title), (6, f"soak of {hours:.1f} h"))
        self.assertLess(plan_now(session).left, before)
        press(Qt.Key.Key_U)
        job.go("hand_back")
        self.assertIn(f"Soak of {hours:.1f} h", job.presenter.hand_back().html)
        self.assertEqual(the(job.window()).width(), 1024)  # no page on the way was wider

    def test_a_bad_look_fails_the_repair(self) -> None:
        job, session = self.job, self.job.presenter.session
        prove(job)
        press(Qt.Key.Key_F5)
        press(Qt.Key.Key_F4)
        write("bad")
        self.assertIn("Say what is not", job.notice.text())
        write("bad flickers when warm")
        self.assertIs(session.reviewed.proof.status, ProofStatus.FAILED)
        self.assertIn("flickers when warm", self.page()._failed.text())
        press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertIs(session.reviewed.proof.status, ProofStatus.SHOWN)


class Figures(unittest.TestCase):
    """The reference's figures on soaks (section 10)."""

    def test_they_are_met(self) -> None:
        for hours, mean, share in ((3, 1, 0.95), (8, 8, 0.63), (8, 24, 0.28)):
            self.assertAlmostEqual(shows_within(hours, mean), share, delta=0.005)
        self.assertEqual(cycles_needed(0.1, 0.95), 29)
        self.assertAlmostEqual(left_after(0.3, 1 - shows_within(6, 2)), 0.021, delta=0.0005)
        both = (1 - shows_within(4, 4)) * (1 - 0.15) ** 10
        self.assertAlmostEqual(left_after(0.3, both), 0.030, delta=0.0005)
        for hours, left in ((1, 0.18), (2, 0.14), (4, 0.10), (8, 0.065), (24, 0.027)):
            self.assertAlmostEqual(left_after(0.3, clean_share(hours)), left, delta=0.006)
        self.assertAlmostEqual(rate_at_most(8), 0.374, delta=0.001)

    @given(st.floats(0.01, 0.9), st.floats(0.01, 0.5))
    def test_the_hours_that_are_named_bring_it_down_to_the_aim(self, p: float, aim: float) -> None:
        hours = hours_to_leave(p, aim)
        self.assertLessEqual(left_after(p, clean_share(hours)), max(aim, 1e-9) + 1e-6)
        if hours:
            self.assertGreater(left_after(p, clean_share(0.99 * hours)), aim - 1e-9)

    @given(st.lists(st.tuples(st.integers(1, 300), st.booleans()), max_size=8))
    def test_no_more_counts_than_was_attended(self, looks: list[tuple[int, bool]]) -> None:
        soak, minute = Soak("2026-11-28T00:00:00+00:00", 8.0, 30.0, 1), 0
        for minutes, good in looks:
            minute += minutes
            at = (datetime.fromisoformat(soak.started_at) + timedelta(minutes=minute)).isoformat()
            soak = soak.looked(Look(at, good))
        first_bad = next((k for k, one in enumerate(soak.looks) if not one.good), len(looks))
        most = sum(min(minutes, GRACE * 30) for minutes, _ in looks[:first_bad]) / 60.0
        self.assertAlmostEqual(soak.attended_hours, most, places=6)


if __name__ == "__main__":
    unittest.main()
