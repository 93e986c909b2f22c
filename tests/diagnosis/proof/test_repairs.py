"""From the verdict to the hand-back for every kind of part: parts, rework, power-up, sheet.

The readings are cut short: the verdict is put into the log, and what the screens make of a fuse, a
switch, a chip, a capacitor, a strip or a board behind a connector is looked at.
"""

import math
import unittest

from loose_rail.app.log import JobLog
from loose_rail.app.session import JobSession
from loose_rail.app.ways import choose_way, ways_of
from loose_rail.boards.barrier import reads_insulation
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.explain.ways_on import Kind
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.jobs import events as ev
from loose_rail.judgement.replacement.electrolytic import Fit, check_replacement, original_of
from loose_rail.judgement.safety import state_refusals
from loose_rail.kernel.errors import UnsafeStepError
from loose_rail.reports.content import content_of
from loose_rail.reports.html import render_html
from loose_rail.screens.job.present import JobPresenter
from loose_rail.vocabulary.board_state import UNPLUGGED
from tests.fakes.clock import FakeClock
from tests.fakes.store import MemoryStore
from tests.material import some_boards
from tests.shared import final_lines, the
from tests.whole_jobs.test_jobs_on_boards import engine

WORKED = ("PB-2211-1", "PB-2408-1")
MOST_STEPS = 12


def accepted(board_id: str, part: str, title: str) -> JobPresenter:
    """A job whose verdict has been accepted, with the board unplugged and drained."""
    events = (
        ev.JobOpened("0700", "A made-up set", board_id, "It does not work.", 25.0, "EUR"),
        ev.StateConfirmed(UNPLUGGED.key),
        ev.BulkMeasured(0.4),
        ev.VerdictAccepted(part, title, 0.95, "confirmed", ["nothing was seen running"]),
        ev.StageEntered("parts"),
    )
    records = [
        ev.Record(number, f"2026-11-06T09:00:{number:02d}", "bench 1", event)  # type: ignore[arg-type]
        for number, event in enumerate(events, start=1)
    ]
    board = shipped_board(board_id)
    session = JobSession(JobLog(MemoryStore(records), 1), board, FakeClock())
    session.set_engine(engine(board_id))
    return JobPresenter(
        session,
        (),
        lambda s, price: render_html(content_of(s, price)),
        lambda html, title, path: None,
    )


def measure_all(presenter: JobPresenter) -> None:
    """Measure every reservoir that the rework asks for."""
    while presenter.session.to_measure():
        assert presenter.submit("0.3").kind == "info"


def one_of_each_kind(board: Board) -> list[str]:
    """Designators, one for each kind of part on a board."""
    found: dict[str, str] = {}
    for part in board.components:
        found.setdefault(part.kind, part.ref)
    return list(found.values())


class EveryKind(unittest.TestCase):
    def test_each_can_be_replaced_powered_and_handed_back(self) -> None:
        for board_id in WORKED:
            board = shipped_board(board_id)
            for ref in one_of_each_kind(board):
                with self.subTest(board=board_id, part=ref):
                    self.repair(accepted(board_id, ref, f"{ref} failed"), ref)

    def repair(self, presenter: JobPresenter, ref: str) -> None:
        part = presenter.session.board.component(ref)
        parts = presenter.parts()
        if part.kind == "electrolytic":
            self.assertGreaterEqual(len(parts.lines), 4)
            self.assertIn(ref, parts.title)
            for number in range(len(presenter.stock)):
                presenter.select_stock(number)
                if presenter.parts().can_choose:
                    break
            self.assertTrue(presenter.parts().can_choose, ref)
        else:
            self.assertIn(ref, parts.title)
            self.assertTrue(parts.can_choose)
        presenter.go_on()
        self.assertEqual(presenter.stage, "rework")
        rework = presenter.rework()
        self.assertEqual(rework.shape == "can", part.kind == "electrolytic")
        self.assertTrue(rework.asks_bulk)  # what was measured in another sitting no longer counts
        self.assertEqual(presenter.go_on().kind, "problem")
        measure_all(presenter)
        self.assertFalse(presenter.rework().asks_bulk)
        for _ in range(MOST_STEPS):
            if presenter.stage == "rework":
                self.assertEqual(presenter.go_on().kind, "info")
        self.assertEqual(presenter.stage, "power_up")
        self.assertEqual(presenter.session.state.fitted, (ref,))
        self.prove(presenter)
        presenter.make_safe()
        presenter.go("hand_back")
        for line in final_lines(presenter.session):
            self.assertEqual(presenter.final_line(line).kind, "info", line)
        self.assertEqual(presenter.go_on().kind, "info")
        self.assertIsNotNone(presenter.session.state.handed_back)
        sheet = presenter.hand_back().html
        self.assertIn(ref, sheet)
        self.assertNotIn("nothing was seen running", sheet)  # what stood open at the verdict
        self.assertNotIn("Not seen running since", sheet)  # every rail has been read

    def prove(self, presenter: JobPresenter) -> None:
        """Read what is asked for as a good board would read; the lamp stays dark."""
        table = the(presenter.session.engine).table
        for _ in range(20):
            card = presenter.power_up().card
            if card.phase == "nothing":
                break
            if card.phase == "lamp":
                presenter.lamp_seen("dark")
            elif card.phase == "light":
                presenter.submit("1")
            elif card.phase in ("state", "acknowledge"):
                self.assertEqual(presenter.confirm_state().kind, "info")
            elif card.phase == "bulk":
                presenter.submit("0.3")
            else:
                column = table.index(the(presenter.session.reviewed.task).candidate.key)
                self.assertEqual(presenter.submit(f"{table.low[0, column]:.5g}").kind, "info")
        self.assertEqual(presenter.power_up().card.phase, "nothing")
        self.assertTrue(presenter.session.state.proof_readings)

    def test_every_way_on_of_every_board_leads_to_the_hand_back(self) -> None:
        """A kit and an exchange need a reason before the evidence settles; each has its flow."""
        for board_id in some_boards():
            ways = ways_of(accepted(board_id, "none", "none").session)
            for number, way in enumerate(ways, start=1):
                board = way.kind is Kind.EXCHANGE and way.title.endswith("power board, used")
                if not (board or "lamps" in way.boards or way.kind in (Kind.KIT, Kind.GIVE_BACK)):
                    continue
                with self.subTest(board=board_id, way=way.title):
                    self.take(board_id, number, way.title)

    def take(self, board_id: str, number: int, title: str) -> None:
        presenter = accepted(board_id, "none", "none")
        session = presenter.session
        while session.state.verdict is not None:
            presenter.undo()
        gives_back = title.startswith("Give")
        if not gives_back:
            self.assertFalse(choose_way(session, number).taken, title)
        self.assertTrue(choose_way(session, number, "it is wanted back tonight").taken, title)
        presenter.go("verdict")
        self.assertTrue(next(one for one in presenter.verdict().ways if one.chosen))
        if gives_back:
            presenter.go_on()
            self.assertEqual(presenter.stage, "hand_back")
            return
        presenter.go("parts")
        self.assertTrue(presenter.parts().title)
        presenter.go("rework")
        measure_all(presenter)
        for _ in range(MOST_STEPS * len(session.state.to_replace)):
            if presenter.stage == "rework":
                self.assertNotEqual(presenter.go_on().kind, "problem")
        self.assertEqual(set(session.state.fitted), set(session.state.to_replace))
        self.prove(presenter)
        presenter.make_safe()
        presenter.go("hand_back")
        for line in final_lines(session):
            presenter.final_line(line)
        self.assertIn(f"Way on: {title}", presenter.hand_back().html)
        self.assertEqual(presenter.go_on().kind, "info")

    def test_full_power_waits_for_the_lamp_on_a_mains_board(self) -> None:
        presenter = accepted("PB-2408-1", "Q201", "Q201 shorted")
        presenter.go_on()
        measure_all(presenter)
        for _ in range(MOST_STEPS):
            if presenter.stage == "rework":
                presenter.go_on()
        board = presenter.session.board
        self.assertTrue(
            reads_insulation(board, the(presenter.session.reviewed.task).candidate.probe)
        )
        presenter.submit("4k7")  # a bridged barrier puts the outputs at mains
        refused = state_refusals(board, live_states(board)[0], presenter.session.facts)
        self.assertEqual([one.code for one in refused], ["barrier"])
        with self.assertRaisesRegex(UnsafeStepError, "joined by 4.7 kΩ"):
            presenter.session.confirm_state(live_states(board)[0])
        presenter.undo()
        presenter.submit("OL")
        first = the(presenter.session.reviewed.task).candidate.state
        self.assertEqual(first.lamp_watts, 60)
        presenter.confirm_state()
        self.assertEqual(presenter.power_up().card.phase, "lamp")
        self.assertEqual(len(presenter.power_up().patterns), 5)
        self.assertIn("Pull the plug", presenter.lamp_seen("bright").text)
        self.assertFalse(presenter.session.facts.primary_short_excluded)

    def test_without_a_verdict_every_screen_says_what_is_missing(self) -> None:
        presenter = accepted("PB-2211-1", "U201", "U201 dead")
        presenter.undo()
        presenter.undo()
        self.assertIsNone(presenter.session.state.verdict)
        self.assertIn("No verdict", presenter.parts().message)
        self.assertIn("No verdict", presenter.rework().message)
        presenter.go("power_up")
        self.assertEqual(presenter.go_on().kind, "problem")


class Originals(unittest.TestCase):
    def test_every_electrolytic_of_every_board_fits_its_own_place(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            for part in board.components:
                if part.kind != "electrolytic":
                    continue
                original = original_of(part)
                found = check_replacement(board, part.ref, original)
                self.assertIsNot(found.fit, Fit.NO, f"{board_id} {part.ref} {found.notes}")
                known = not math.isnan(original.diameter_mm)
                self.assertEqual(len(found.checks), 7 if known else 4)

    def test_a_shop_without_a_stock_list_is_offered_the_part_as_it_was(self) -> None:
        presenter = accepted("PB-2408-1", "C201", "C201 dried out")
        self.assertEqual([row.name for row in presenter.parts().stock], ["as C201 was"])
        self.assertTrue(presenter.parts().can_choose)
        self.assertEqual(accepted("PB-2408-1", "Q201", "Q201 shorted").stock, ())


if __name__ == "__main__":
    unittest.main()
