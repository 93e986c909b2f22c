"""Guides on every board: what they promise reads so, and every answer is understood or refused."""

import math
import unittest
from functools import cache

from hypothesis import given, settings, strategies as st

from loose_rail.app.guides.ends import EndsGuide
from loose_rail.app.guides.loads import LoadGuide
from loose_rail.app.guides.seen import SeenGuide
from loose_rail.app.guides.tests import TestGuide
from loose_rail.app.guides.wake import WakeGuide
from loose_rail.app.log import JobLog
from loose_rail.app.session import JobSession
from loose_rail.app.set_picture import FACTS, turn_answer
from loose_rail.boards.load import shipped_board
from loose_rail.bootstrap import engine_for, woken
from loose_rail.diagnosis.evidence.soft_evidence import findings
from loose_rail.diagnosis.evidence.symptoms import kinds
from loose_rail.diagnosis.model.candidates import loads_by_themselves
from loose_rail.jobs import events as ev
from loose_rail.judgement.limits import limit
from tests.fakes.clock import FakeClock
from tests.fakes.store import MemoryStore
from tests.material import some_boards
from tests.shared import demo_session, the


@cache
def session_of(board_id: str) -> JobSession:
    """A fresh job on a board, with its engine; shared, and never written to."""
    board = shipped_board(board_id)
    opened = ev.JobOpened("1", "Set", board_id, "dead", 0.0, "")
    store = MemoryStore([ev.Record(1, "2026-11-02T10:00:00.000+00:00", "bench 1", opened)])
    session = JobSession(JobLog(store, 1), board, FakeClock())
    session.set_engine(engine_for(board))
    return session


class ComponentTests(unittest.TestCase):
    def test_good_and_bad_of_every_part_are_told_apart_where_the_guide_says_so(self) -> None:
        """Each row of the guide against the prediction table: values named bad are not sound."""
        for board_id in ("PB-2408-1", "PB-4310-2", "PB-5012-3"):
            session = session_of(board_id)
            assert session.engine is not None
            table = session.engine.table
            rows = 0
            for part in session.board.components:
                guide = TestGuide(session)
                guide.enter(part.ref)
                state = guide.state()
                candidates = guide._candidates()
                self.assertEqual(len(state.rows), len(candidates))
                for row, candidate in zip(state.rows, candidates, strict=True):
                    column = table.index(candidate.key)
                    sound = float(table.low[0, column])
                    alike = "can't tell" in row[3]
                    own = [
                        float(table.low[k, column])
                        for k, r in enumerate(table.rows)
                        if len(r.faults) == 1 and r.faults[0].ref == part.ref
                    ]
                    apart = [
                        v
                        for v in own
                        if math.isinf(v) != math.isinf(sound)
                        or (math.isfinite(v) and abs(v - sound) > 0.1 * abs(sound))
                    ]
                    self.assertEqual(alike, not apart, f"{board_id} {row}")
                    rows += 1
            self.assertGreater(rows, 80)

    def test_a_removed_part_speaks_for_itself(self) -> None:
        session = demo_session()
        guide = TestGuide(session)
        guide.enter("C21")
        before = _chance(session, "C21")
        guide.enter("good")
        self.assertLess(_chance(session, "C21"), 0.2 * before)
        guide.enter("bad")  # measured again: the last answer counts
        self.assertGreater(_chance(session, "C21"), before)
        self.assertEqual(len(session.state.clues), 1)


def _chance(session: JobSession, part: str) -> float:
    return sum(s.probability for s in session.reviewed.assessment.suspects if s.part == part)


class LoadsAndEnds(unittest.TestCase):
    def test_every_load_with_its_own_cable_can_be_unplugged_and_read(self) -> None:
        for board_id in some_boards():
            session = session_of(board_id)
            guide = LoadGuide(session)
            apart = set(loads_by_themselves(session.board))
            for number, line in enumerate(guide._lines(), start=1):
                candidate = guide._candidate(line)
                if line.load in apart:
                    assert candidate is not None, (board_id, number)
                    self.assertEqual(candidate.state.without, line.load)
                    self.assertTrue(candidate.state.main_cable)
                elif candidate is not None:
                    self.assertFalse(candidate.state.main_cable)
            for bad in ("back", "0 back", "99 same", "1 maybe", ""):
                self.assertEqual(guide.enter(bad).kind, "problem", bad)
            self.assertEqual(guide.choose(99).kind, "problem")

    @settings(max_examples=80)
    @given(st.floats(1.0, 200.0), st.floats(0.0, 1.0))
    def test_a_drop_is_a_contact_above_the_limit_only(self, here: float, share: float) -> None:
        session = demo_session()
        there = here * (1 - share)
        notice = EndsGuide(session).enter(f"CN2 {here:.4f} {there:.4f}")
        drop = float(f"{here:.4f}") - float(f"{there:.4f}")
        bad = drop > max(limit("contact_drop_volts"), limit("contact_drop_share") * here)
        self.assertEqual(notice.kind, "warning" if bad else "info", (here, there))
        finding = session.state.findings[-1]
        self.assertEqual(finding.seen, "drops_volts" if bad else "no_drop")
        self.assertIn(finding.seen, findings())


class SeenAndWoken(unittest.TestCase):
    @staticmethod
    def counted(session: JobSession) -> set[str]:
        state = session.state
        return {one.symptom for one in state.symptoms} | {one.fact for one in state.history}

    def test_everything_on_the_list_counts_once_and_is_taken_back(self) -> None:
        session = demo_session()
        guide = SeenGuide(session)
        start = self.counted(session)
        answers = [a for place in the(guide.state().picture).places for a in place.answers]
        self.assertLessEqual({one.kind for one in answers} - FACTS, set(kinds()))
        for answer in answers:
            turn_answer(session, answer.kind)
            self.assertEqual(self.counted(session) ^ start, {answer.kind})
            turn_answer(session, answer.kind)
            self.assertEqual(self.counted(session), start)
        for bad in ("lamp bright", "hot Q99", "xyzzy"):
            self.assertEqual(guide.enter(bad).kind, "problem")
        self.assertEqual(guide.enter("cold u3").kind, "info")
        self.assertEqual(session.state.findings[-1], ev.FindingNoted("U3", "stays_cold"))

    @settings(max_examples=80)
    @given(st.floats(0, 6), st.floats(0, 6))
    def test_a_wake_sense_follows_from_two_voltages_or_from_nothing(
        self, asleep: float, awake: float
    ) -> None:
        session = demo_session()
        notice = WakeGuide(session).enter(f"{asleep:.3f} {awake:.3f}")
        high, low = limit("wake_high_volts"), limit("wake_low_volts")
        a, b = float(f"{asleep:.3f}"), float(f"{awake:.3f}")
        if a < low and b >= high:
            wanted = "high"
        elif a >= high and b < low:
            wanted = "low"
        else:
            self.assertEqual(notice.kind, "problem")
            self.assertIsNone(session.state.wake)
            return
        assert session.state.wake is not None
        self.assertEqual(session.state.wake.sense, wanted)
        self.assertEqual(
            woken(session.board, session.state).wake.sense, session.board.wake.sense
        )  # a board whose sense is known keeps it


if __name__ == "__main__":
    unittest.main()
