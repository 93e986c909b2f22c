"""Rails under dummy loads: what is asked for, what passes, and what it does to a repair."""

import unittest

from hypothesis import given, settings, strategies as st

from loose_rail.app.guides.dummy import DummyGuide
from loose_rail.app.session import JobSession
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.diagnosis.proof.standing import ProofStatus, proof_of
from loose_rail.jobs import events as ev
from loose_rail.judgement.load_steps import (
    MOST_VOLTS,
    TRIANGLE,
    LoadStep,
    UnderLoad,
    car_lamps,
    ceramic_celsius,
    covered,
    steps_of,
    troubles,
)
from loose_rail.vocabulary.board_state import BoardState, Power
from tests.shared import demo_session, the

ALONE = BoardState(Power.FORCED)


class LoadSteps(unittest.TestCase):
    def test_resistors_heat_and_lamps_by_hand(self) -> None:
        """Electrical reference section 10: 12 V 2 A is 6 Ω, 24 W, rated 50 W; 10 W in a bare
        ceramic is 275 °C; a 12 V 21 W lamp draws 1.75 A."""
        one = LoadStep("m", "12 V", 12.0, 1.0, 2.0, False)
        self.assertIn(one.ohms, (5.6, 6.8))
        self.assertAlmostEqual(one.watts, 144.0 / one.ohms)
        self.assertAlmostEqual(one.rated_watts, 2.0 * one.watts)
        self.assertEqual(car_lamps(LoadStep("m", "12 V", 12.0, 1.0, 3.5, False)), 2)
        ten = LoadStep("m", "10 V", 10.0, 1.0, 1.0, False)
        self.assertAlmostEqual(ceramic_celsius(ten), 275.0)
        self.assertAlmostEqual(one.most_ripple * TRIANGLE, 0.12)  # 120 mV peak to peak on 12 V

    def test_what_gives_way_ripples_or_stands_elsewhere(self) -> None:
        full = LoadStep("m", "12 V", 12.0, 1.0, 2.0, False)
        light = UnderLoad("m", 0.2, 12.15)
        for volts, ripple, wrong in (
            (11.98, None, ()),  # gives way by 1.4 %
            (11.98, 0.02, ()),
            (11.5, None, ("gives way by 5.7 %",)),
            (11.2, None, ("11.4 to 12.6 V", "gives way")),
            (11.98, 0.2, ("ripple of 0.20 V",)),
            (0.0, None, ("0 V under 2 A", "gives way by 100.0 %")),
        ):
            seen = UnderLoad("m", 2.0, volts, ripple)
            found = troubles(full, seen, [light, seen])
            self.assertEqual(len(found), len(wrong), found)
            for words, told in zip(wrong, found, strict=True):
                self.assertIn(words, told)
        loose = LoadStep("s", "24 V", 24.0, 1.0, 1.0, True)
        self.assertEqual(troubles(loose, (seen := UnderLoad("s", 1.0, 22.0)), [seen]), [])

    @given(st.sampled_from(shipped_ids()), st.floats(-0.03, 0.03))
    @settings(deadline=None, max_examples=40)
    def test_every_board_asks_only_for_what_a_resistor_may_load(
        self, board_id: str, off: float
    ) -> None:
        board = shipped_board(board_id)
        steps, lines = steps_of(board), {rail.id: rail for rail in board.rails}
        read = []
        for one in steps:
            self.assertLessEqual(one.volts, MOST_VOLTS)
            self.assertNotEqual(lines[one.rail].kind, "led_string")
            seen = UnderLoad(one.rail, one.amps, one.volts * (1.0 + off), 0.5 * one.most_ripple)
            read.append(seen)
            self.assertEqual(troubles(one, seen, read), [])
        self.assertEqual(covered(board, read), bool(steps))
        self.assertFalse(covered(board, read[:-1]))

    def repaired(self, state: BoardState) -> JobSession:
        session = demo_session()
        session.record(ev.VerdictAccepted("C21", "C21 dried out", 0.95, "confirmed", []))
        session.record(ev.PartFitted("C21"))
        session.record(ev.StateConfirmed(state.key))
        return session

    def test_by_keys_to_the_level_of_the_loaded_board_and_to_a_failed_repair(self) -> None:
        session = self.repaired(ALONE)
        guide = DummyGuide(session)
        steps = steps_of(session.board)
        self.assertEqual(len(guide.state().rows), len(steps))
        for refused in ("9999", "1", "1 what", "77 5"):
            self.assertFalse(guide.enter(refused).taken, refused)
        before = proof_of(the(session.engine).table, session.state)
        self.assertEqual((before.status, before.level.rank), (ProofStatus.NOT_SHOWN, 0))
        for number, one in enumerate(steps, start=1):
            self.assertIn("Ω", guide.choose(number).text)
            self.assertTrue(guide.enter(f"{number} {one.volts * 0.995:.4g} 5m").taken)
            if number < len(steps):  # it ran on the mains, and not every rail under its load
                part = proof_of(the(session.engine).table, session.state)
                self.assertEqual((part.status, part.level.rank), (ProofStatus.SHOWN, 2))
        proof = proof_of(the(session.engine).table, session.state)
        self.assertEqual((proof.status, proof.level.rank), (ProofStatus.SHOWN, 3))
        last = len(steps)
        told = guide.enter(f"{last} {0.7 * steps[-1].volts:.4g}")
        self.assertIn("Not repaired", told.text)
        proof = proof_of(the(session.engine).table, session.state)
        self.assertEqual(proof.status, ProofStatus.FAILED)
        self.assertIn("dummy load", proof.failures[0])
        session.undo()
        self.assertEqual(proof_of(the(session.engine).table, session.state).level.rank, 3)
        session.record(ev.PartFitted("C22"))  # another repair: nothing of it was loaded yet
        self.assertEqual(session.state.loads_read, ())

    def test_no_load_beside_the_set_behind_a_limiter_or_without_power(self) -> None:
        for state, words in (
            (BoardState(Power.UNPLUGGED), "under power"),
            (BoardState(Power.ON, True), "main cable is on"),
            (BoardState(Power.FORCED, False, 60), "limiter is in line"),
        ):
            told = DummyGuide(self.repaired(state)).enter("1 5.0")
            self.assertFalse(told.taken)
            self.assertIn(words, told.text)


if __name__ == "__main__":
    unittest.main()
