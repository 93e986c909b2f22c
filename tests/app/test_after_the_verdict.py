"""What is typed after the verdict is taken or told; hours, costs, come-backs and what stays open
are counted as a second way of counting does."""

import unittest
from datetime import UTC, datetime, timedelta

import msgspec
from hypothesis import given, settings, strategies as st

from loose_rail.app.comebacks import FEW, returned_by
from loose_rail.app.costing import PAUSE_MINUTES, bench_hours, cost_of
from loose_rail.app.hand_back_line import enter_hand_back_line
from loose_rail.app.handing_over import final_points, keeps_it_here
from loose_rail.app.limiting import bench_limiters, limiter_for, limiter_words
from loose_rail.app.other_jobs import OtherJobs
from loose_rail.app.power_line import enter_power_line
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.unproved import left_open
from loose_rail.jobs import events as ev
from loose_rail.jobs.summary import Summary, summary_of
from loose_rail.judgement.final_list import final_items
from loose_rail.judgement.limiter import Limiter
from loose_rail.screens.shelf.present import shelf_state
from tests.shared import demo_session, final_lines, the

START = datetime(2026, 11, 28, 9, 0, tzinfo=UTC)
LEVELS = ("in the set, in standby", "in the set, switched on", "soak of 4.0 h")
SAID = """
soak; soak 4 h; ok; bad; bad flickers when warm; end; again; next; 100R 50W; always 150W; 5R;
insulation 20M; insulation low; earth none; rest; parts 6.20; hours x; warranty 6 months;
follow 2027-01-15; follow soon; name on; photos off; 2; 99; inputs skip because no source;
inputs skip because; second no sound
"""
LINE_WORDS = st.sampled_from(["", *(" ".join(one.split()) for one in SAID.split(";"))])


def repaired() -> JobSession:
    """The demo job with a part fitted."""
    session = demo_session()
    session.record(ev.VerdictAccepted("C21", "C21 dried out", 0.95, "confirmed", [], "C21:dried"))
    session.record(ev.PartFitted("C21"))
    return session


class Typed(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.one_of(LINE_WORDS, st.text(max_size=16)), max_size=6))
    def test_any_line_is_taken_or_told_and_nothing_else_happens(self, lines: list[str]) -> None:
        session = repaired()
        for text in lines:
            for at_power_up in (True, False):
                before = len(session.records)
                outcome = (
                    enter_power_line(session, text)
                    if at_power_up
                    else enter_hand_back_line(session, text, OtherJobs())
                )
                self.assertTrue(outcome.text, text)
                if not outcome.taken and "is below" not in outcome.text:
                    self.assertEqual(len(session.records), before, text)

    def test_the_day_to_ask_again_is_a_day_and_stands_on_the_shelf(self) -> None:
        session = repaired()
        for text, taken in (
            ("follow 2027-01-15", True),
            ("follow 2027-02-30", False),
            ("follow 15.1.2027", False),
            ("follow soon", False),
        ):
            self.assertIs(enter_hand_back_line(session, text, OtherJobs()).taken, taken, text)
        summary = msgspec.structs.replace(
            summary_of(session.job, session.records), proved="in standby"
        )
        (row,) = shelf_state("Shop", [summary]).rows
        self.assertIn("ask again on 2027-01-15", row.next_step)

    def test_the_bench_s_own_limiter_and_what_it_does(self) -> None:
        session = repaired()
        self.assertEqual(the(limiter_for(session)), Limiter(60.0))
        session.limiters = ("60W", "100R 50W")
        self.assertTrue(enter_power_line(session, "next").taken)
        self.assertEqual(the(limiter_for(session)).text, "100R 50W")
        words = "; ".join(limiter_words(session, the(limiter_for(session))))
        for part in ("144 W", "8.7 s", "33 W"):  # 120 V: V²/R, 25 J/W, 0.23·V²/R
            self.assertIn(part, words)
        self.assertEqual([one.text for one in bench_limiters(session)], ["60W", "100R 50W"])

    def test_the_final_list_asks_less_of_a_set_that_goes_back_as_it_is(self) -> None:
        session = repaired()
        asked = {one.item.key for one in final_points(session)}
        self.assertLessEqual(asked, {one.key for one in final_items() if one.safety})
        self.assertNotIn("came_back", asked)
        self.assertIn("insulation", keeps_it_here(session).lower() + " ".join(asked))
        for line in final_lines(session):
            enter_hand_back_line(session, line, OtherJobs())
        self.assertEqual(keeps_it_here(session), "")
        enter_hand_back_line(session, "earth 0.5", OtherJobs())
        self.assertIn("above 0.3", keeps_it_here(session).replace("300 m", "0.3 "))
        enter_hand_back_line(session, "earth 0.12", OtherJobs())
        enter_hand_back_line(session, "insulation 1.5M", OtherJobs())  # enough where it is earthed
        self.assertEqual(keeps_it_here(session), "")
        enter_hand_back_line(session, "earth none", OtherJobs())
        self.assertIn("below 2 M", keeps_it_here(session))


class Counted(unittest.TestCase):
    @given(st.lists(st.floats(0.0, 60.0), max_size=12))
    def test_a_pause_is_no_work_at_the_bench(self, gaps: list[float]) -> None:
        at, records = START, [ev.Record(1, START.isoformat(), "b", ev.NoteWritten("take_in", "x"))]
        for number, minutes in enumerate(gaps, start=2):
            at += timedelta(minutes=minutes)
            records.append(ev.Record(number, at.isoformat(), "b", ev.NoteWritten("parts", "x")))
        worked = sum(minutes for minutes in gaps if minutes <= PAUSE_MINUTES)
        self.assertAlmostEqual(bench_hours(records), worked / 60.0, delta=0.006)
        shuffled = [records[0], *records]  # a clock that was set back counts nothing backwards
        self.assertAlmostEqual(bench_hours(shuffled), worked / 60.0, delta=0.006)

    def test_what_was_chosen_costs_what_it_was_said_to(self) -> None:
        session = repaired()
        usual = cost_of(session)
        self.assertEqual((usual.parts, usual.rate), (session.prices.part, session.prices.hour))
        session.record(ev.WayChosen("kit", "Kit of capacitors", ["C21"], 36.0, 0.4, 12.0))
        self.assertEqual(cost_of(session).parts, 12.0)
        session.record(ev.PartFitted("Q1"))
        self.assertEqual(cost_of(session).parts, 12.0 + session.prices.part)
        for line in ("parts 6.20", "carriage 3.50", "hours 1.2"):
            self.assertTrue(enter_hand_back_line(session, line, OtherJobs()).taken)
        told = cost_of(session)
        self.assertEqual((told.parts, told.carriage, told.hours), (6.2, 3.5, 1.2))
        self.assertEqual(told.total, round(6.2 + 3.5 + 1.2 * told.rate, 2))

    @given(
        st.lists(
            st.tuples(
                st.sampled_from([*LEVELS, None]),
                st.sampled_from(["repair", "exchange", ""]),
                st.integers(0, 8),
                st.booleans(),
                st.sampled_from(["", "same", "other"]),
                st.lists(st.sampled_from(["Fernholt", "Mirrin"]), max_size=2),
            ),
            max_size=9,
        ),
        st.sampled_from(["", *LEVELS]),
        st.sampled_from(["", "repair"]),
        st.sampled_from(["", "fernholt"]),
    )
    def test_come_backs_are_those_of_the_sets_that_were_handed_back(
        self,
        rows: list[tuple[str | None, str, int, bool, str, list[str]]],
        level: str,
        way: str,
        make: str,
    ) -> None:
        jobs = [
            Summary(
                job=number,
                events=1,
                proved=proved,
                way=how,
                follows=first,
                came_back=back,
                same_fault=decided,
                makes=tuple(makes),
            )
            for number, (proved, how, first, back, decided, makes) in enumerate(rows, start=1)
        ]
        found = returned_by(jobs, level, way, make)
        counted = {"handed": 0, "same": 0, "other": 0}
        for one in jobs:
            if one.proved is None or (level and one.proved != level) or (way and one.way != way):
                continue
            if make and "Fernholt" not in one.makes:
                continue
            counted["handed"] += 1
            said = [o.same_fault for o in jobs if o.came_back and o.follows == one.job]
            counted["same"] += "same" in said
            counted["other"] += "other" in said and "same" not in said
        self.assertEqual((found.handed, found.same, found.other), tuple(counted.values()))
        few = "too few" in found.words
        self.assertEqual(few, 0 < found.handed < FEW)

    def test_what_is_open_follows_the_readings_since_the_repair(self) -> None:
        session = repaired()
        review = session.reviewed
        names = Names(session.board)
        before = " ".join(left_open(review, names))
        self.assertIn("Not seen running since the repair", before)
        self.assertIn("C22", before)  # of one batch, neither read nor renewed
        session.record(ev.PartFitted("C22"))
        after = " ".join(left_open(session.reviewed, names))
        self.assertNotIn("C22 (", after)


if __name__ == "__main__":
    unittest.main()
