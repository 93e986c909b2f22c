"""The gates on the way of a job, each held shut and then opened: state, drain, rework, hand back.

A gate that is taken out fails here; `tests/mutants.py` takes each of them out.
"""

import unittest
from typing import Any

from loose_rail.app.log import JobLog
from loose_rail.app.session import JobSession
from loose_rail.boards.load import shipped_board
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.unproved import covered, unproved
from loose_rail.jobs import events as ev
from loose_rail.jobs.observations import reading_event
from loose_rail.kernel.errors import UnsafeStepError
from loose_rail.kernel.observation import value
from loose_rail.reports.content import content_of
from loose_rail.reports.html import render_html
from loose_rail.screens.job.present import JobPresenter
from loose_rail.vocabulary.board_state import UNPLUGGED, state_of
from tests.diagnosis.proof.test_repairs import accepted, measure_all
from tests.fakes.clock import FakeClock, StoppedClock
from tests.fakes.store import MemoryStore
from tests.shared import final_lines, the
from tests.whole_jobs.test_jobs_on_boards import engine, presenter_for

BARE, CABLE = state_of("standby/bare/lamp60"), state_of("standby/cable/lamp60")
DRAINS = {
    "PB-4310-2": "3:27",  # 470 kΩ, 150 µF, 186.7 V to 10 V: 70.5 s · 2.93
    "PB-4270-1": "8:28",  # 470 kΩ beside 3.925 MΩ, 330 µF, 390 V: 138.5 s · 3.66
    "PB-3206-1": "2:49",  # 470 kΩ, 100 µF, 357.8 V: 47 s · 3.58
    "PB-2211-1": "0:30",  # 22 kΩ, 330 µF, 20 V: 5 s, and never less than half a minute
}
"""By hand from the parts: R·C·ln(V/10 V)."""


def logged(board_id: str, *events: ev.AnyEvent, clock: Any = None) -> JobPresenter:
    """A job with these events, its engine at hand."""
    opened = ev.JobOpened("0801", "A made-up set", board_id, "Dead.", 25.0, "EUR")
    records = [
        ev.Record(number, "2026-11-02T10:00:00.000+00:00", "bench 1", event)
        for number, event in enumerate((opened, *events), start=1)
    ]
    board = shipped_board(board_id)
    session = JobSession(JobLog(MemoryStore(records), 1), board, clock or FakeClock())
    session.set_engine(engine(board_id))
    return JobPresenter(
        session, (), lambda s, p: render_html(content_of(s, p)), lambda html, title, path: None
    )


class States(unittest.TestCase):
    def test_a_reading_belongs_to_the_state_that_the_board_is_in(self) -> None:
        presenter = presenter_for("PB-4310-2")
        session = presenter.session
        session.confirm_state(UNPLUGGED)
        session.confirm_state(BARE)
        table = the(session.engine).table
        wrong = table.candidates[table.index(f"live.5vs@{CABLE.key}")]
        right = table.candidates[table.index(f"live.5vs@{BARE.key}")]
        before = len(session.records)
        with self.assertRaisesRegex(UnsafeStepError, "needs"):
            session.take_reading(wrong, value(5.0, "V"), "typed")
        self.assertEqual(len(session.records), before)
        session.take_reading(right, value(5.0, "V"), "typed")
        self.assertEqual(len(session.records), before + 1)

    def test_b_confirms_nothing_while_a_reading_is_asked_for(self) -> None:
        presenter = presenter_for("PB-4310-2")
        for _ in range(12):
            if presenter.entry.phase() == "reading":
                break
            presenter.submit("2" if presenter.entry.phase() == "lamp" else "0.6")
            presenter.confirm_state()
        self.assertEqual(presenter.entry.phase(), "reading")
        before = len(presenter.session.records)
        self.assertIn("already", presenter.confirm_state().text)
        self.assertEqual(len(presenter.session.records), before)


class BrightLamp(unittest.TestCase):
    def told(self, *patterns: str, readings: tuple[tuple[str, float, str], ...] = ()) -> Any:
        """A job on the demo board: the lamp seen, then dead readings."""
        seen = [ev.ClueNoted("lamp", BARE.key, pattern) for pattern in patterns]
        read = [
            reading_event(probe, UNPLUGGED, value(number, unit), "typed", "")
            for probe, number, unit in readings
        ]
        events = (ev.StateConfirmed(BARE.key), *seen, ev.StateConfirmed(UNPLUGGED.key), *read)
        return logged("PB-4310-2", *events).session  # type: ignore[arg-type]

    def test_after_a_lamp_that_was_full_bright_there_is_no_power_at_all(self) -> None:
        session = self.told("bright")
        with self.assertRaisesRegex(UnsafeStepError, "full bright"):
            session.confirm_state(BARE)
        offers = (session.reviewed.step.offer, *session.reviewed.assessment.others)
        self.assertFalse([o.candidate.key for o in offers if o.candidate.state.plugged])
        self.told("pulses").confirm_state(BARE)
        self.told("bright", "flash_dark").confirm_state(BARE)  # told again: it was a slip

    def test_the_dead_primary_read_free_of_shorts_gives_the_lamp_back_and_a_short_does_not(
        self,
    ) -> None:
        good = (("C3.ohms", 180e3, "Ω"), *((f"BD1.d{n}", 0.48, "V") for n in (1, 2, 3, 4)))
        self.told("bright", readings=good).confirm_state(BARE)
        for readings in (good[:3], (("C3.ohms", 0.4, "Ω"), *good[1:]), (*good[:4], good[4])):
            session = self.told("bright", readings=readings[:4])
            with self.assertRaisesRegex(UnsafeStepError, "full bright"):
                session.confirm_state(BARE)

    def test_on_the_card_it_says_to_pull_the_plug_before_anything_else(self) -> None:
        presenter = logged(
            "PB-4310-2", ev.StateConfirmed(BARE.key), ev.ClueNoted("lamp", BARE.key, "bright")
        )
        card = presenter.bench().card
        self.assertIn("The lamp was full bright", card.caution)
        self.assertTrue(card.todo[0].startswith("Unplug"), card.todo)


class Cautions(unittest.TestCase):
    def test_the_drain_timer_follows_the_parts_that_are_there(self) -> None:
        for board_id, left in DRAINS.items():
            presenter = logged(board_id, ev.StateConfirmed(UNPLUGGED.key), clock=StoppedClock())
            self.assertIn(f"{left} left", presenter.drain_words(), board_id)

    def test_a_standby_rail_not_read_with_the_cable_off_is_said_as_unproved(self) -> None:
        def told(*events: ev.AnyEvent) -> str:
            presenter = logged("PB-4310-2", ev.StateConfirmed(BARE.key), *events)
            review = presenter.session.reviewed
            return " ".join(unproved(review, Names(review.table.board)))

        self.assertIn("not read with the main cable off", told())
        bare = ev.ReadingTaken("live.5vs", BARE.key, "value", "V", 4.99, 4.99)
        self.assertNotIn("not read with the main cable off", told(bare))
        self.assertIn("not read with the main cable on", told(bare))

    def test_plugging_in_says_that_the_hot_side_is_live(self) -> None:
        for board_id, words in (
            ("PB-4310-2", "hot side is live"),
            ("PB-4270-1", "hot side is live"),
            ("PB-2211-1", "mains inside the adapter"),
        ):
            presenter = logged(
                board_id,
                ev.HazardAcknowledged("stored_energy"),
                ev.StateConfirmed(UNPLUGGED.key),
            )
            table = the(presenter.session.engine).table
            live = next(c for c in table.candidates if c.state.plugged)
            presenter.choose(live.key)
            card = presenter.bench().card
            self.assertEqual(card.phase, "state", board_id)
            self.assertIn(words, card.caution, board_id)

    def test_full_mains_asks_for_an_isolation_transformer_or_a_residual_current_device(
        self,
    ) -> None:
        presenter = logged(
            "PB-4310-2",
            ev.StateConfirmed(BARE.key),
            ev.ClueNoted("lamp", BARE.key, "flash_dark"),
            reading_event("live.5vs", BARE, value(5.0, "V"), "typed", "5"),
        )
        table = the(presenter.session.engine).table
        direct = next(c for c in table.candidates if c.state.key == "standby/bare/direct")
        self.assertTrue(presenter.session.facts.primary_short_excluded)
        presenter.choose(direct.key)
        self.assertIn("residual-current", presenter.bench().card.caution)


class WhichBoard(unittest.TestCase):
    def words(self, bare: str, cable: str) -> str:
        board = shipped_board("PB-4310-2")
        events: list[ev.AnyEvent] = []
        for state, volts in ((BARE, bare), (CABLE, cable)):
            if volts:
                events.append(ev.StateConfirmed(state.key))
                seen = value(float(volts), "V")
                events.append(reading_event("live.5vs", state, seen, "typed", volts))
        self.assertTrue(board.standby_rail)
        return " ".join(covered(logged("PB-4310-2", *events).session.reviewed))

    def test_it_is_the_power_board_only_where_the_rail_is_wrong_without_the_cable(self) -> None:
        for bare, cable, said in (
            ("0.8", "0.8", "it is the power board"),
            ("0.8", "", "it is the power board"),
            ("5.0", "0.8", "look at the main board"),
            ("5.0", "5.0", ""),
            ("5.0", "", ""),
            ("", "0.8", ""),
        ):
            words = self.words(bare, cable)
            self.assertEqual("it is the power board" in words, said.startswith("it is"), words)
            self.assertEqual("look at the main board" in words, said.startswith("look"), words)


class Rework(unittest.TestCase):
    def test_the_first_step_waits_until_everything_is_measured_empty(self) -> None:
        for board_id, part in (("PB-2211-1", "C101"), ("PB-5012-3", "C501")):
            presenter = accepted(board_id, part, f"{part} dried")
            presenter.go("rework")
            for volts in (None, "48"):
                if volts is not None:
                    presenter.submit(volts)
                self.assertIn("Not drained", presenter.go_on().text, board_id)
                self.assertEqual(presenter.session.state.rework_done, ())
            measure_all(presenter)
            self.assertEqual(presenter.go_on().kind, "info")
            self.assertEqual(presenter.session.state.rework_done, ("open",))

    def test_no_step_is_done_on_a_board_that_is_plugged_in(self) -> None:
        presenter = accepted("PB-4310-2", "C21", "C21 dried")
        presenter.go("rework")
        measure_all(presenter)
        presenter.go_on()
        presenter.session.confirm_state(BARE)
        self.assertIn("Pull the plug", presenter.go_on().text)
        self.assertEqual(presenter.session.state.rework_done, ("open",))
        presenter.make_safe()
        presenter.go_on()
        self.assertEqual(presenter.session.state.rework_done, ("open", "mark"))


class HandBack(unittest.TestCase):
    def repaired(self) -> JobPresenter:
        presenter = accepted("PB-4310-2", "C21", "C21 dried")
        presenter.session.fit_part("C21")
        return presenter

    def test_nothing_is_handed_back_while_it_is_plugged_in(self) -> None:
        presenter = self.repaired()
        presenter.session.confirm_state(BARE)
        presenter.go("hand_back")
        self.assertIn("pull the plug", presenter.go_on().text)
        self.assertIsNone(presenter.session.state.handed_back)
        presenter.make_safe()
        self.assertIn("final list", presenter.go_on().text)
        for line in final_lines(presenter.session):
            self.assertTrue(presenter.final_line(line).taken, line)
        presenter.go_on()
        self.assertIsNotNone(presenter.session.state.handed_back)

    def test_a_lamp_that_draws_after_the_repair_is_not_repaired_though_the_rail_reads_well(
        self,
    ) -> None:
        for pattern, words in (("glows", "glows steadily"), ("pulses", "pulses"), ("dark", "")):
            presenter = self.repaired()
            session = presenter.session
            session.confirm_state(BARE)
            session.see_lamp(pattern)
            table = the(session.engine).table
            rail = table.candidates[table.index(f"live.5vs@{BARE.key}")]
            session.take_reading(rail, value(5.0, "V"), "typed")
            presenter.go("power_up")
            said = presenter.go_on().text
            self.assertEqual("Not repaired" in said, bool(words), said)
            self.assertIn(words, said)
            self.assertEqual('class="alarm"' in presenter.hand_back().html, bool(words))

    def test_without_a_proof_reading_it_is_not_passed_on_as_repaired(self) -> None:
        presenter = self.repaired()
        presenter.go("power_up")
        self.assertIn("Not shown yet", presenter.go_on().text)
        self.assertEqual(presenter.stage, "power_up")
        presenter.go("hand_back")
        for line in final_lines(presenter.session):
            presenter.final_line(line)
        presenter.go_on()
        handed = presenter.session.state.handed_back
        self.assertFalse(the(handed).repaired)
        sheet = presenter.hand_back().html
        self.assertNotIn("works again", sheet)
        self.assertIn("The repair is not shown", sheet)


class AnotherBoardThanBefore(unittest.TestCase):
    def test_what_the_log_says_of_parts_that_the_board_has_not_is_told_and_counts_for_nothing(
        self,
    ) -> None:
        strange: tuple[ev.AnyEvent, ...] = (
            ev.FindingNoted("C999", "domed"),
            ev.StateConfirmed(UNPLUGGED.key),
            reading_event("C999.esr", UNPLUGGED, value(3.0, "Ω"), "typed", ""),
            ev.ClueNoted("removed", "Q999", "bad"),
            ev.ClueNoted("lamp", UNPLUGGED.key, "bright"),
            ev.ProbeChosen("live.zork@unplugged"),
            ev.VerdictAccepted("C999", "C999 dried", 0.9, "confirmed", [], "C999:dried"),
        )
        good = reading_event("C21.esr", UNPLUGGED, value(1.7, "Ω"), "typed", "")
        fitted = ev.PartFitted("C999")
        presenter = logged("PB-4310-2", *strange, good)
        plain = logged("PB-4310-2", ev.StateConfirmed(UNPLUGGED.key), good)
        self.assertEqual(
            presenter.session.reviewed.assessment.probabilities.tolist(),
            plain.session.reviewed.assessment.probabilities.tolist(),
        )
        banner = presenter.frame().banner
        for words in ("C999", "Q999", "reading 1", "the verdict on C999", "counts for nothing"):
            self.assertIn(words, banner)
        for stage in ev.STAGES:
            presenter.go(stage)
            for draw in (presenter.frame, presenter.bench, presenter.verdict, presenter.parts):
                self.assertIsNotNone(draw())
            for draw in (presenter.rework, presenter.power_up, presenter.hand_back):  # type: ignore[assignment]
                self.assertIsNotNone(draw())
        presenter.session.record(fitted)
        self.assertTrue(presenter.power_up().title and presenter.hand_back().html)
        presenter.undo()
        presenter.go("cold_checks")
        for _ in range(4):
            presenter.undo()
            presenter.redo()
        self.assertEqual([row.number for row in presenter.bench().ledger], ["2"])


class OnPaper(unittest.TestCase):
    def test_what_was_taken_back_is_struck_through(self) -> None:
        presenter = logged("PB-4310-2", ev.StateConfirmed(BARE.key))
        for volts in (0.8, 5.0):
            presenter.session.record(
                reading_event("live.5vs", BARE, value(volts, "V"), "typed", "")
            )
        presenter.undo()
        sheet = render_html(content_of(presenter.session, None))
        rows = [line for line in sheet.splitlines() if "<tr" in line and "standby" in line]
        self.assertEqual([("struck" in row) for row in rows], [False, True], rows)


if __name__ == "__main__":
    unittest.main()
