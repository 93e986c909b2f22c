"""The stores against the list of a repair on every board: what is judged fit covers it, never more
than there is, and a line that fits nowhere is not taken."""

import math
import unittest
from decimal import Decimal

from loose_rail.app.log import JobLog
from loose_rail.app.parts import enter_line
from loose_rail.app.session import JobSession
from loose_rail.app.stores.desk import StoresDesk
from loose_rail.app.stores.for_job import open_places, plan_for
from loose_rail.app.stores.stock import Line, Stores
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.own.file import SCHEMA, OwnBoardFile, board_of_file
from loose_rail.boards.profile import Board, Component
from loose_rail.jobs import events as ev
from loose_rail.judgement.replacement.electrolytic import Fit, original_of
from loose_rail.judgement.replacement.judge_offer import judge_offer
from loose_rail.kernel.errors import StoreReadOnlyError
from tests.fakes.clock import FakeClock
from tests.fakes.store import MemoryStore

MOST = 5


def listed(board: Board, refs: list[str]) -> JobSession:
    """A job whose list are these parts; no predictions are needed for it."""
    events: list[ev.AnyEvent] = [
        ev.JobOpened("0700", "A made-up set", board.id, "It does not work.", 25.0, ""),
        ev.VerdictAccepted(refs[0], f"{refs[0]} failed", 0.95, "confirmed", []),
        *(ev.PartListed(ref, "with it") for ref in refs[1:]),
    ]
    records = [
        ev.Record(number, f"2026-11-28T09:00:{number:02d}+00:00", "bench 1", event)
        for number, event in enumerate(events, start=1)
    ]
    return JobSession(JobLog(MemoryStore(records), 1), board, FakeClock())


class Disk:
    """Where stores are kept, as long as there is room."""

    is_full = False

    def keep(self, stores: Stores) -> None:
        """Keep them; raises StoreReadOnlyError."""
        if self.is_full:
            raise StoreReadOnlyError("The disk is full.")


def words_of(part: Component) -> str:
    """The ratings of a can as it was, as they are typed."""
    was = original_of(part)
    words = f"{was.farads * 1e6:g}u {was.volts:g}V {was.celsius:g}C esr={was.esr_ohms:.4g}"
    if math.isnan(was.diameter_mm):  # the profile does not know its size
        return words
    return f"{words} {was.diameter_mm:g}x{was.height_mm:g} p{was.pitch_mm:g}"


class EveryBoard(unittest.TestCase):
    def test_a_can_as_it_was_covers_its_own_place_and_no_more_than_there_are(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            cans = [part for part in board.components if part.kind == "electrolytic"][:MOST]
            session = listed(board, [part.ref for part in cans])
            self.assertEqual(set(open_places(session)), {part.ref for part in cans})
            stores = Stores()
            for part in cans:
                stores = stores.with_line(Line(0, words_of(part), 1, Decimal("0.50"), "A1"))
            stores = stores.with_line(Line(0, "1u 3V 85C general", 99, Decimal("0.01")))
            plan = plan_for(session, stores)
            with self.subTest(board=board_id):
                self.assertEqual(plan.cover.missing, ())
                self.assertEqual(plan.cover.total, Decimal("0.50") * len(cans))
                for one in plan.sources:
                    assert one.line is not None
                    self.assertIsNot(judge_offer(board, one.ref, one.line.words).fit, Fit.NO)
                disk = Disk()
                desk = StoresDesk(stores, disk.keep)
                desk.session = session
                disk.is_full = True
                self.assertIn("disk is full", desk.take().text)
                self.assertEqual(len(open_places(session)), len(cans))  # the job took nothing
                disk.is_full = False
                self.assertTrue(desk.take().taken)
                self.assertEqual([one.count for one in desk.stores.lines], [0] * len(cans) + [99])
                self.assertEqual(open_places(session), ())
                self.assertFalse(desk.take().taken)


class SetAside(unittest.TestCase):
    def test_from_the_drawer_into_the_set_or_back(self) -> None:
        board = shipped_board("PB-4310-2")
        cans = [part for part in board.components if part.kind == "electrolytic"][:2]
        session = listed(board, [part.ref for part in cans])
        stores = Stores()
        for part in cans:
            stores = stores.with_line(Line(0, words_of(part), 2, Decimal("0.50"), "A1"))
        desk = StoresDesk(stores, Disk().keep)
        desk.follow(session)
        desk.take()
        self.assertEqual([one.state for one in desk.stores.orders], ["reserved", "reserved"])
        session.fit_part(cans[0].ref)
        self.assertIsNone(desk.follow(session))
        self.assertEqual([one.state for one in desk.stores.orders], ["fitted", "reserved"])
        self.assertFalse(desk.enter(f"returned 0700 {cans[0].ref}").taken)
        counts = [line.count for line in desk.stores.lines]
        self.assertTrue(desk.enter(f"returned 0700 {cans[1].ref}").taken)
        self.assertEqual([one.state for one in desk.stores.orders], ["fitted", "returned"])
        self.assertEqual(sum(line.count for line in desk.stores.lines), sum(counts) + 1)

    def test_a_whole_donor_gives_what_it_still_has_but_no_aged_can_and_no_fuse(self) -> None:
        board = shipped_board("PB-4310-2")
        session = listed(board, ["Q1", "C21", "F1", "U2", "R12"])
        desk = StoresDesk(Stores(), Disk().keep)
        desk.follow(session)
        for line in ("donor PB-9999 @D1", "donor PB-4310-2 without U2 @D2"):
            self.assertTrue(desk.enter(line).taken, line)
        self.assertFalse(desk.enter("from North: donor PB-4310-2").taken)
        plan = plan_for(session, desk.stores)
        there = {one.ref for one in plan.sources if one.line is not None}
        self.assertEqual(there, {"Q1", "R12"})
        self.assertTrue(desk.take().taken)
        offer = session.state.offer_for("Q1")
        assert offer is not None
        self.assertIn("off PB-4310-2", offer.offer)
        self.assertIn("read it before it goes in", " ".join(offer.notes))
        donor = desk.stores.lines[1]
        self.assertEqual(set(donor.gone), {"U2", "Q1", "R12"})
        self.assertIn("without U2, Q1, R12", donor.words)
        self.assertTrue(desk.enter("returned 0700 Q1").taken)
        self.assertEqual(set(desk.stores.lines[1].gone), {"U2", "R12"})

    def test_what_stood_there_decides_for_a_fuse_of_a_board_nobody_knows(self) -> None:
        own = OwnBoardFile(
            SCHEMA, "QX-1", kind="standby flyback, main flyback", connectors=["CN8: 12V, 5VSB, GND"]
        )
        session = listed(board_of_file(own), ["main fuse"])
        stores = Stores().with_line(Line(0, "T3.15AH250V", 3, Decimal("0.60"), "F1"))
        self.assertEqual(plan_for(session, stores).cover.missing, ("main fuse",))
        self.assertFalse(enter_line(session, "main fuse", "was some glass").taken)
        self.assertTrue(enter_line(session, "main fuse", "was T3.15AH250V").taken)
        self.assertEqual(plan_for(session, stores).cover.missing, ())
        larger = Stores().with_line(Line(0, "T5AH250V", 3, Decimal("0.60"), "F1"))
        self.assertEqual(plan_for(session, larger).cover.missing, ("main fuse",))
        desk = StoresDesk(stores, Disk().keep)
        desk.follow(session)
        self.assertTrue(desk.take().taken)
        offer = session.state.offer_for("main fuse")
        assert offer is not None
        self.assertEqual(offer.original, "T3.15AH250V")


if __name__ == "__main__":
    unittest.main()
