"""Courses in time and a measured inlet: what was expected is written down before it is asked."""

import math
import unittest

from loose_rail.boards.load import shipped_board
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.posterior import part_probabilities, posterior, suspects_of
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.jobs.observations import observation_of, reading_event
from loose_rail.judgement.judge import Verdict, good_band
from loose_rail.kernel.entry import read_entry
from loose_rail.kernel.observation import ticking, value
from loose_rail.vocabulary.board_state import state_of
from tests.shared import the
from tests.whole_jobs.test_jobs_on_boards import engine, presenter_for

ON, ALONE = "on/cable/direct", "standby/bare/direct"


def chances(of: Engine, *readings: tuple[str, str]) -> dict[str, float]:
    evidence = [
        Evidence(number, key, read_entry(text, "V").observation)
        for number, (key, text) in enumerate(readings, start=1)
    ]
    return part_probabilities(of.table, posterior(of.table, evidence, [], []))


class Courses(unittest.TestCase):
    def test_a_rail_that_comes_up_and_sags_points_at_its_load(self) -> None:
        """Each rail with a board of its own; the falls are a quarter of the rail's volts."""
        for board_id, probe, text, load in (
            ("PB-4270-1", "live.sustain_pin", "falling 195>150", "YB"),
            ("PB-4270-1", "live.sustain_pin", "falling 190>95", "YB"),
            ("PB-4270-1", "live.main_pin", "falling 15>10", "MB"),
        ):
            found = chances(engine(board_id), (f"{probe}@{ON}", text))
            leader = max(found, key=lambda part: found[part])
            self.assertEqual(leader, load, (board_id, text))
            others = max(chance for part, chance in found.items() if part != load)
            self.assertGreater(found[load], 2 * others, (board_id, text))

    def test_a_heavy_load_lets_its_rail_up_as_far_as_it_likes(self) -> None:
        """Wherever a start is broken off, and whatever the few worked-out loads predict."""
        for top in (25, 60, 110, 160):
            found = chances(engine("PB-4270-1"), (f"live.sustain_pin@{ON}", f"falling {top}>0"))
            self.assertGreater(found["YB"], 0.6, top)

    def test_a_bulk_that_gives_way_as_the_set_starts_speaks_for_its_can(self) -> None:
        """From where a boost has not begun; from above its own volts no can lets it fall."""
        for board_id in ("PB-4270-1", "PB-5012-3", "PB-6530-2"):
            of = engine(board_id)
            usual, gives_way = chances(of), chances(of, (f"live.bulk@{ON}", "falling 310>240"))
            above = chances(of, (f"live.bulk@{ON}", "falling 445>330"))
            self.assertGreater(gives_way["C101"], 3 * usual["C101"], board_id)
            self.assertLess(above["C101"], 0.3 * gives_way["C101"], board_id)

    def test_a_beat_that_keeps_time_is_no_loose_contact(self) -> None:
        of = engine("PB-4270-1")
        column = column_of(of.table, of.table.index(f"live.main_pin@{ON}"))
        loose = of.table.shares < 1.0
        plain, beat = (column.likelihood(ticking(5.0, 12.0, "V", hertz)) for hertz in (None, 0.5))
        self.assertLess(float(beat[loose].max()), 0.3 * float(plain[loose].max()))

    def test_standing_without_its_load_makes_it_surer(self) -> None:
        fall = (f"live.sustain_pin@{ON}", "falling 195>150")
        first = chances(engine("PB-4270-1"), fall)["YB"]
        second = chances(engine("PB-4270-1"), fall, (f"live.sustain_pin@{ON}/no-YB", "195"))["YB"]
        self.assertGreater(second, first)

    def test_a_still_rail_and_a_falling_one_never_score_alike(self) -> None:
        of = engine("PB-4270-1")
        still = chances(of, (f"live.sustain_pin@{ON}", "195"))
        falls = chances(of, (f"live.sustain_pin@{ON}", "falling 195>150"))
        self.assertLess(still["YB"], 0.6 * falls["YB"])  # what no rail shows is left

    def test_a_fall_to_a_good_value_is_doubtful_and_one_below_it_disagrees(self) -> None:
        of = engine("PB-4270-1")
        column = column_of(of.table, of.table.index(f"live.sustain_pin@{ON}"))
        for text, verdict in (
            ("falling 200>195", Verdict.DOUBTFUL),
            ("falling 195>150", Verdict.DISAGREES),
            ("falling", Verdict.DOUBTFUL),
        ):
            self.assertEqual(column.judged(read_entry(text, "V").observation).verdict, verdict)

    def test_a_rail_that_comes_up_late_points_at_what_starts_its_controller(self) -> None:
        """A start-up resistor that has gone high: 0.6 s later by R·C, seconds where it has gone
        further. Timed so, it gains on one that is there at once; a time of no trend, on nothing."""
        of = engine("PB-3705-6")
        key = "live.standby_pin@standby/cable/direct"
        prompt = chances(of, (key, "5.1"))
        for text, times in (("rising 0..5.1", 2.0), ("rising 0..5.1 in 1s", 5.0)):
            slow = chances(of, (key, text))
            for part in ("R201", "R202"):
                self.assertGreater(slow[part], times * prompt[part], (text, part))
        blink = chances(of, (key, "rising 0..5.1 in 200 ms"))
        self.assertLess(blink["R201"], 1.2 * prompt["R201"])

    def test_how_long_it_took_is_kept_in_the_log(self) -> None:
        seen = read_entry("rising 0..5.1 in 8s", "V").observation
        event = reading_event("live.standby_pin", state_of(ON), seen, "typed", "")
        self.assertEqual(observation_of(event), seen)


class Inlet(unittest.TestCase):
    def band(self, of: Engine, key: str) -> tuple[float, float]:
        column = column_of(of.table, of.table.index(key))
        return the(good_band(column.probe, column.expectation))

    def test_the_bulk_follows_by_ratio_and_a_boosted_one_does_not(self) -> None:
        """√2 · 212 V less two diodes is 298 V; 212 V is 8 % below nominal."""
        nominal = engine("PB-5012-3")
        measured = nominal.on_inlet(212.0)
        self.assertIs(nominal.on_inlet(None), nominal)
        key = f"live.bulk@{ALONE}"
        low, high = self.band(measured, key)
        before = self.band(nominal, key)
        crest = math.sqrt(2.0) * 212.0 - 1.6
        self.assertTrue(0.93 * crest < low < crest < high < 1.07 * crest, (low, high))
        self.assertLess(high - low, 0.5 * (before[1] - before[0]))
        self.assertEqual(
            self.band(measured, f"live.bulk@{ON}"), self.band(nominal, f"live.bulk@{ON}")
        )
        column = column_of(measured.table, measured.table.index(key))
        self.assertEqual(column.judged(value(298.0, "V")).verdict, Verdict.AGREES)
        self.assertEqual(column.judged(value(335.0, "V")).verdict, Verdict.DISAGREES)
        again = column_of(nominal.table, nominal.table.index(key))
        self.assertEqual(again.judged(value(335.0, "V")).verdict, Verdict.AGREES)

    def test_in_a_job_the_reading_of_the_inlet_narrows_the_card(self) -> None:
        """Also what was read before it; and one through a lamp that drops a fifth narrows none."""
        for state, volts, counts in (
            ("standby/cable/lamp60", 224.0, True),
            ("standby/cable/lamp60", 184.0, False),
            (ALONE, 212.0, True),
            (ALONE, 118.0, False),
        ):
            presenter = presenter_for("PB-5012-3")
            session = presenter.session
            session.record(
                reading_event("live.mains", state_of(state), value(volts, "V"), "meter", "")
            )
            inlet = session.reviewed.table.board.mains.inlet_volts
            self.assertEqual(inlet, volts if counts else 0.0, (state, volts))
            self.assertEqual(session.reviewed.table.board.mains.volts, 230.0)
        self.assertEqual(shipped_board("PB-5012-3").mains.inlet_volts, 0.0)

    def test_a_sound_set_on_a_low_mains_stays_sound(self) -> None:
        of = engine("PB-5012-3").on_inlet(205.0)
        evidence = [
            Evidence(1, f"live.mains@{ALONE}", value(205.0, "V")),
            Evidence(2, f"live.bulk@{ALONE}", value(287.0, "V")),
        ]
        before = suspects_of(of.table, posterior(of.table, [], [], []))
        after = {
            s.key: s.probability
            for s in suspects_of(of.table, posterior(of.table, evidence, [], []))
        }
        good = next(s.probability for s in before if s.key == "nothing")
        self.assertGreater(after["nothing"], good)


if __name__ == "__main__":
    unittest.main()
