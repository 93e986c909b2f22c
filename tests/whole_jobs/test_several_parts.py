"""A repair of several parts through the window, by keyboard: the list, what is fitted for each by
its ratings, each reworked, all of them on the sheet."""

import tempfile
import unittest
from pathlib import Path

from PyQt6.QtCore import Qt

from loose_rail.app.parts import companions, repair_list
from loose_rail.app.repair import action_of, methods_now, repair_steps
from loose_rail.app.scope import scopes
from loose_rail.boards.whole_board import WHOLE_BOARD
from loose_rail.diagnosis.proof.standing import ProofStatus
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.screens.hand_back.present import hand_back_state
from loose_rail.screens.job.view import JobView
from loose_rail.screens.parts.view import PartsView
from loose_rail.screens.rework.view import ReworkView
from loose_rail.screens.verdict.view import VerdictView
from loose_rail.storage.store import SqliteStore
from tests.fakes.qt_test import QTest
from tests.screens.helper import (
    close_window,
    focus,
    open_window,
    press,
    prove,
    rework_all,
    rework_one,
    settle,
    write,
)
from tests.shared import the

CHAIN = (
    ("Q1", "650V 4A N rds=1.8 qg=18n insulated to-220f", "the verdict"),
    ("R12", "1R 1% 2W make=Fernholt", "burnt with it"),
    ("F1", "T3.15AH250V", "opened"),
)


class SeveralParts(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "shop.sqlite"
        self.window = open_window(self.path)
        self.addCleanup(close_window, self.window)
        self.window.open_job(1)
        job = self.window.job
        assert isinstance(job, JobView)
        self.job = job
        self.session = job.presenter.session
        settle(lambda: self.session.review is not None, 90)
        title = "Q1 shorted drain to source"
        self.session.record(ev.VerdictAccepted("Q1", title, 0.95, "confirmed", [], "Q1:short"))

    def typed(self, text: str) -> str:
        """Type a line on the page in front and press Enter; what is left in the line."""
        page = self.job.page_of(PartsView)
        page.entry.setFocus()
        QTest.keyClicks(page.entry, text)
        press(Qt.Key.Key_Return)
        return page.entry.text()

    def test_a_chain_of_three_from_the_list_to_the_sheet(self) -> None:
        self.job.go("parts")
        self.assertIn("R12", {one.part.ref for one in companions(self.session)})
        self.assertEqual(self.typed("+R12 burnt with it"), "")
        self.assertEqual(self.typed("+F1 opened"), "")
        self.assertEqual(self.typed("+C22 same batch"), "")
        self.assertEqual(self.typed("-C22"), "")
        self.assertEqual(self.typed("-Q1"), "-Q1")  # the verdict's own part stays
        self.assertEqual(self.typed("+Q999"), "+Q999")
        self.assertEqual(self.typed("500V 1A P"), "500V 1A P")  # judged, and not for this place
        self.assertIn("Not for Q1", self.job.notice.text())
        listed = [(one.part.ref, one.why) for one in repair_list(self.session)]
        self.assertEqual(listed, [(ref, why) for ref, _, why in CHAIN])
        for ref, offer, _ in CHAIN:
            self.assertEqual(self.typed(ref), "")
            self.assertEqual(self.typed(offer), "", self.job.notice.text())
        self.assertEqual(self.typed("T5AL250V"), "T5AL250V")  # F1 is in front: never a larger one
        self.job.page_of(PartsView).entry.clear()
        press(Qt.Key.Key_Return)
        self.assertEqual(self.job.presenter.stage, "rework")
        while self.session.state.part_in_hand == "Q1":
            rework_one(self.job)
        album = self.job.presenter.album
        self.session.record(ev.PhotoAdded("a" * 64, album.subject_now(), "burnt"))
        asked = [one.text for one in self.job.presenter.rework().steps if one.key == "mark"]
        self.assertIn("Ctrl+G: 1 photograph of it so far", asked[0])  # of R12, which is in hand
        rework_all(self.job)
        self.assertEqual(self.session.state.fitted, ("Q1", "R12", "F1"))
        self.assertEqual([one.about for one in self.session.state.photos], ["part:R12"])
        self.assertEqual({one.round for one in self.session.state.fits}, {1})
        self.assertEqual(self.job.presenter.stage, "power_up")
        store = SqliteStore(self.path)
        self.addCleanup(store.close)
        kept = fold(store.load(1))
        self.assertEqual([(one.part, one.offer) for one in kept.offers], [c[:2] for c in CHAIN])
        self.assertEqual(kept.makes, ("Fernholt",))
        told = hand_back_state(self.session, "", store.jobs()).came_back
        self.assertIn("With Fernholt parts: none so far.", told)
        sheet = self.job.presenter.sheet()
        for ref, offer, _ in CHAIN:
            self.assertIn(ref, sheet)
            self.assertIn(offer, sheet)

    def test_a_cracked_joint_is_reflowed_and_a_loose_plug_tightened_on_the_sheet(self) -> None:
        press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        title = "T1 cracked joint at the primary"
        self.session.record(ev.VerdictAccepted("T1", title, 0.95, "confirmed", [], "T1:joint"))
        self.session.record(ev.PartListed("CN2", "loose"))
        self.job.go("rework")
        view = self.job.page_of(ReworkView)
        self.assertIn("Reflow T1", view._title.text())
        kept = [step.key for step in repair_steps(self.session)]
        self.assertEqual(kept, ["open", "old_solder", "flow", "rings", "joint", "neighbours"])
        for wanted in ("replace", "reflow"):  # F9 goes round, also past what the fault asks for
            press(Qt.Key.Key_F9)
            self.assertEqual(action_of(self.session, "T1"), wanted)
        while self.session.state.part_in_hand == "T1":
            rework_one(self.job)
        press(Qt.Key.Key_F9)
        press(Qt.Key.Key_F9)
        self.assertIn("Tighten CN2", view._title.text())
        rework_one(self.job)
        rework_one(self.job)
        press(Qt.Key.Key_F9)  # too late: the work has begun
        rework_all(self.job)
        self.assertEqual(action_of(self.session, "CN2"), "tighten")
        sheet = self.job.presenter.sheet()
        self.assertIn("joints reflowed", sheet)
        self.assertIn("contacts cleaned and tightened", sheet)
        self.assertNotIn("replaced", sheet.partition("joints reflowed")[0][-60:])

    def test_a_board_exchange_by_its_number_to_the_proof_and_the_sheet(self) -> None:
        press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)  # no verdict: the way brings one
        self.assertIsNone(self.session.state.verdict)
        self.job.go("verdict")
        ways = self.job.page_of(VerdictView)._ways._ways
        used = 1 + [way.title for way in ways].index("Exchange the power board, used")
        self.job.focus_work()
        write(str(used))
        self.assertIn("main cable off", self.job.notice.text())  # not before the pair is read
        self.assertIsNone(self.session.state.way)
        write(f"{used} because the customer wants it tonight")
        self.assertEqual(self.session.state.to_replace, (WHOLE_BOARD,))
        press(Qt.Key.Key_Return)
        self.assertEqual(self.job.presenter.stage, "parts")
        self.assertEqual(self.typed("PB-4310-3"), "PB-4310-3")  # another revision
        self.assertEqual(self.typed("-power board"), "-power board")
        self.assertEqual(self.typed("PB-4310-2 rev2"), "")
        press(Qt.Key.Key_Return)
        steps = [step.key for step in repair_steps(self.session)]
        self.assertEqual(steps[:4], ["open", "numbers", "plugs", "moved"])
        self.assertNotIn("solder", steps)
        rework_all(self.job)
        self.assertEqual(self.session.state.fitted, (WHOLE_BOARD,))
        prove(self.job)
        self.assertIs(self.session.reviewed.proof.status, ProofStatus.SHOWN)
        press(Qt.Key.Key_U)
        self.job.go("hand_back")
        sheet = self.job.presenter.hand_back().html
        self.assertIn("Way on: Exchange the power board, used", sheet)
        self.assertIn("power board replaced by PB-4310-2 rev2", sheet)
        self.assertNotIn("Unproved: The standby rail was not read", sheet)  # read since

    def test_how_a_part_comes_off_is_chosen_and_printed_and_a_set_is_given_back(self) -> None:
        self.job.go("rework")
        page = self.job.page_of(ReworkView)
        for _ in range(12):
            if methods_now(self.session):
                break
            if self.session.to_measure():
                the(focus()).setText("0.4")  # type: ignore[attr-defined]
                press(Qt.Key.Key_Return)
            elif self.session.state.board_state.plugged or not self.session.state.state_known:
                press(Qt.Key.Key_U)
            else:
                self.job.go_on()
        names = list(methods_now(self.session))
        page.setFocus()
        press(Qt.Key.Key_2)
        self.assertEqual(self.session.state.method_for("Q1"), names[1])
        rework_all(self.job)
        self.assertIn(f"taken off by {names[1]}", self.job.presenter.sheet())
        self.job.go("verdict")
        self.job.focus_work()
        write(str(len(self.job.page_of(VerdictView)._ways._ways)))
        self.assertIn("unrepaired", self.job.notice.text())
        press(Qt.Key.Key_Return)
        self.assertEqual(self.job.presenter.stage, "hand_back")
        self.assertIn("Given back", self.job.presenter.hand_back().open_points[0])

    def test_how_far_the_repair_goes_with_its_cost_and_come_backs(self) -> None:
        self.session.record(ev.VerdictAccepted("C21", "C21 dried out", 0.95, "confirmed", []))
        self.job.go("parts")
        found = {one.name: one for one in scopes(self.session)}
        self.assertEqual(set(found), {"minimum", "batch", "rail"})
        least, batch, rail = (found[name] for name in ("minimum", "batch", "rail"))
        self.assertTrue(least.current)
        self.assertLess(set(least.parts), set(batch.parts))
        self.assertLess(least.cost, batch.cost)
        self.assertGreater(least.comeback, batch.comeback)
        self.assertIn("C22", rail.parts)  # the other end of the filter has the same rail
        self.assertEqual(self.typed("Q1"), "Q1")  # no part of the list, and no offer
        self.job.page_of(PartsView).entry.clear()
        self.assertEqual(self.typed("batch"), "")
        self.assertEqual(set(self.session.state.to_replace), set(batch.parts))
        self.assertEqual(self.typed("+R12 burnt"), "")
        self.assertEqual(self.typed("minimum"), "")
        self.assertEqual(self.session.state.to_replace, ("C21", "R12"))  # what was added stays

    def test_undo_takes_the_list_back_and_a_stock_part_is_chosen_by_number(self) -> None:
        self.session.record(ev.VerdictAccepted("C21", "C21 dried out", 0.95, "confirmed", []))
        self.job.go("parts")
        page = self.job.page_of(PartsView)
        self.assertEqual(self.typed("+C27 same age and heat"), "")
        press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual([one.part.ref for one in repair_list(self.session)], ["C21"])
        page.entry.setFocus()
        press(Qt.Key.Key_Down)
        self.assertEqual(self.job.presenter.selected_stock, 1)
        QTest.keyClicks(page.entry, "1000u 6.3V")
        self.assertIn("NO", page._headline.text())  # window lines follow what is typed
        page.entry.clear()
        self.assertEqual(self.typed("1000u 16V 105C low-esr 10x20 p5"), "")
        self.assertIn("1000u 16V", repair_list(self.session)[0].chosen)


if __name__ == "__main__":
    unittest.main()
