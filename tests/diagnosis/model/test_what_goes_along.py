"""What fails along with what, by the rules of chance, on every board."""

import unittest

from loose_rail.boards.co_failures import co_failures_of
from loose_rail.boards.faults import Fault, faults_of
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.model.hypotheses import hypotheses_of
from loose_rail.vocabulary.roles import BoardRole

BLOWS = 0.9
"""Of the fuse, where a switch on the bulk is shorted: co_failures.json."""


def switches(board: Board) -> set[str]:
    """Switches whose short blows the fuse."""
    fuse = board.roles.get(BoardRole.INPUT_FUSE, [])
    links = co_failures_of(board)
    return {one.cause for one in links if one.effect in fuse and one.cause_mode == "short"}


class GoesAlong(unittest.TestCase):
    def test_a_shorted_switch_takes_the_fuse_whatever_took_the_switch(self) -> None:
        asked = 0
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            fuses = set(board.roles.get(BoardRole.INPUT_FUSE, []))
            rows = hypotheses_of(board)
            for ref in switches(board):
                kind = board.component(ref).kind
                if not kind.startswith("mosfet"):
                    continue
                causes = {r.suspect for r in rows if ref in {f.ref for f in r.faults}}
                for cause in causes - {f"{ref}:short"}:
                    own = [
                        r
                        for r in rows
                        if r.suspect == cause
                        and any(f.ref == ref and f.mode == "short" for f in r.faults)
                    ]
                    if not own:
                        continue
                    blown = sum(r.prior for r in own if fuses & {f.ref for f in r.faults})
                    whole = sum(r.prior for r in own) - blown
                    asked += 1
                    self.assertGreater(blown, 0.7 * BLOWS * (blown + whole), (board_id, cause))
        self.assertGreater(asked, 30)

    def test_two_reservoirs_have_gone_together_as_likely_told_from_either(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            stress = {part.ref: part.stress for part in board.components}
            links = [one for one in co_failures_of(board) if one.reason.startswith("same age")]
            both = {(one.cause, one.effect): stress[one.cause] * one.probability for one in links}
            for (cause, effect), chance in both.items():
                if cause != effect and (effect, cause) in both:
                    self.assertAlmostEqual(chance, both[effect, cause], places=9)

    def test_nothing_goes_along_without_its_cause(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            links = {(one.effect, one.cause) for one in co_failures_of(board)}
            for row in hypotheses_of(board):
                refs = [fault.ref for fault in row.faults]
                for ref in refs[1:]:
                    self.assertTrue(any((ref, other) in links for other in refs), row.key)

    def test_degrees_that_are_met_by_themselves_take_nothing_from_what_goes_along(self) -> None:
        """A degree of no weight stands alone in its row; with the others it shares out just what a
        fault by itself has, and what goes along keeps its own."""
        asked = 0
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            for part in board.components:
                by_mode: dict[str, list[Fault]] = {}
                for fault in faults_of(part):
                    by_mode.setdefault(fault.mode, []).append(fault)
                for mode, faults in by_mode.items():
                    whole, alone = (
                        sum(f.rate for f in faults),
                        sum(f.rate_alone for f in faults),
                    )
                    self.assertAlmostEqual(alone, whole, places=6, msg=(part.ref, mode))
            for row in hypotheses_of(board):
                if any(fault.rate == 0.0 for fault in row.faults):
                    self.assertEqual(len(row.faults), 1, row.key)
                    asked += 1
        self.assertGreater(asked, 300)
