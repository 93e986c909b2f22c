"""The bulk's band: a boosted one is held by its divider, an unboosted one follows the mains."""

import unittest

from hypothesis import given, settings, strategies as st

from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.probes import BULK_POINT, Probe, probes_of
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.proof.standing import ProofStatus, proof_of
from loose_rail.jobs import events as ev
from loose_rail.jobs.observations import reading_event
from loose_rail.judgement.judge import Verdict, expected_reading, judge
from loose_rail.kernel.observation import value
from loose_rail.vocabulary.board_state import BoardState, Power
from tests.app.test_gates import logged
from tests.shared import the

ON = BoardState(Power.ON, True)
BOOSTED = [
    name for name in shipped_ids() if any(s.kind == "boost" for s in shipped_board(name).stages)
]
PLAIN = [
    name for name in shipped_ids() if name not in BOOSTED and not shipped_board(name).adapter_fed
]


def bulk_probe(board: Board) -> Probe:
    return next(one for one in probes_of(board) if one.observable == BULK_POINT)


def verdict(board: Board, set_point: float, read: float) -> Verdict:
    probe = bulk_probe(board)
    return judge(probe, value(read, "V"), expected_reading(board, probe, set_point)).verdict


def boost_volts(board: Board) -> float:
    return next(stage.volts for stage in board.stages if stage.kind == "boost")


class BulkBand(unittest.TestCase):
    def test_there_are_boards_of_both_kinds(self) -> None:
        self.assertGreaterEqual(len(BOOSTED), 3)
        self.assertGreaterEqual(len(PLAIN), 2)

    @given(st.sampled_from(BOOSTED), st.floats(0.9, 1.1))
    @settings(deadline=None, max_examples=120)
    def test_a_boosted_bulk_is_held_within_three_per_cent(self, name: str, share: float) -> None:
        board = shipped_board(name)
        volts = boost_volts(board)
        found = verdict(board, volts, share * volts)
        if abs(share - 1.0) < 0.025:
            self.assertIs(found, Verdict.AGREES, share)
        if abs(share - 1.0) > 0.06:
            self.assertIs(found, Verdict.DISAGREES, share)

    @given(st.sampled_from(PLAIN), st.floats(0.92, 1.08))
    @settings(deadline=None, max_examples=60)
    def test_without_a_boost_it_follows_the_mains_by_a_tenth(self, name: str, share: float) -> None:
        board = shipped_board(name)
        crest = 2.0**0.5 * board.mains.volts
        self.assertIs(verdict(board, crest, share * crest), Verdict.AGREES, share)

    @given(st.sampled_from(BOOSTED), st.floats(0.8, 0.93))
    @settings(deadline=None, max_examples=60)
    def test_a_bulk_that_is_not_boosted_here_goes_with_the_mains(
        self, name: str, share: float
    ) -> None:
        """Asleep the boost rests: the same board has the wide band at the crest of its mains."""
        board = shipped_board(name)
        crest = 2.0**0.5 * board.mains.volts
        if crest < 0.9 * boost_volts(board):
            self.assertIs(verdict(board, crest, (share + 0.14) * crest), Verdict.AGREES)

    def test_a_dead_boost_on_a_high_mains_is_not_called_repaired(self) -> None:
        """What passed before: 356 V is 252 V of mains, and within a tenth of 390 V."""
        for read, status in ((389.0, ProofStatus.SHOWN), (356.0, ProofStatus.FAILED)):
            presenter = logged(
                "PB-5012-3",
                ev.StateConfirmed("unplugged"),
                ev.BulkMeasured(0.4),
                ev.VerdictAccepted("U101", "U101 dead", 0.95, "confirmed", []),
                ev.PartFitted("U101"),
                ev.StateConfirmed(ON.key),
            )
            session = presenter.session
            table = the(session.engine).table
            probe = bulk_probe(table.board)
            self.assertAlmostEqual(table.low[0, table.index(f"{probe.id}@{ON.key}")], 390, delta=4)
            session.record(reading_event(probe.id, ON, value(read, "V"), "hand", ""))
            self.assertIs(proof_of(table, session.state).status, status, read)


if __name__ == "__main__":
    unittest.main()
