"""What counts as drained: by a person's reading, or seen by a meter that followed the capacitor."""

import math
import unittest
from typing import Any

import numpy as np
from hypothesis import given, strategies as st

from loose_rail.app.log import JobLog
from loose_rail.app.session import JobSession
from loose_rail.judgement.decay import seen_to_drain, stands_low
from loose_rail.kernel.errors import UnsafeStepError
from loose_rail.kernel.observation import value
from loose_rail.screens.job.present import JobPresenter
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from tests.fakes.store import MemoryStore
from tests.shared import board, demo_records, demo_session, table

LAMP = BoardState(Power.STANDBY, False, 60)


def decay(
    volts: float, ohms: float, farads: float, rate: float, seed: int, noise: float = 0.002
) -> tuple[list[float], list[float]]:
    """Seconds plugged in at `volts`, then a discharge through `ohms` down to nothing."""
    rng = np.random.default_rng(seed)
    tau = ohms * farads
    t = np.arange(0.0, 2.0 + 8.0 * tau + 8.0 / rate, 1.0 / rate)
    clean = np.where(t < 2.0, volts, 0.3 + volts * np.exp(-(t - 2.0) / tau))
    return t.tolist(), (clean * (1 + noise * rng.standard_normal(len(t)))).tolist()


class Decay(unittest.TestCase):
    @given(
        st.floats(60, 410),
        st.floats(47e-6, 470e-6),
        st.floats(4, 10),
        st.integers(0, 99),
        st.data(),
    )
    def test_a_capacitor_that_is_drained_by_hand_or_bleeder_is_seen_to_drain(
        self, volts: float, farads: float, rate: float, seed: int, data: st.DataObject
    ) -> None:
        slowest = 4.0 / farads
        ohms = data.draw(st.floats(max(1200.0, 1.3 / (rate * farads)), slowest))
        seconds, values = decay(volts, ohms, farads, rate, seed)
        self.assertTrue(stands_low(values))
        self.assertTrue(seen_to_drain(seconds, values, farads))

    @given(
        st.floats(17, 410),
        st.floats(47e-6, 470e-6),
        st.floats(1, 10),
        st.floats(0.0, 0.99),
        st.integers(0, 99),
    )
    def test_a_clip_that_falls_off_is_never_a_drained_capacitor(
        self, volts: float, farads: float, rate: float, when: float, seed: int
    ) -> None:
        """At any moment of a slow discharge, as long as a charge that matters was left."""
        seconds, values = decay(volts, 470e3, farads, rate, seed)
        alive = [k for k, v in enumerate(values) if v >= 15.0]
        at = alive[int(when * len(alive))]
        fallen = values[: at + 1] + [0.0] * 8
        self.assertFalse(seen_to_drain(seconds[: len(fallen)], fallen[: len(seconds)], farads))

    def test_a_dead_zero_from_the_beginning_says_nothing(self) -> None:
        seconds = [0.2 * k for k in range(40)]
        for level in (0.0, 1.4, 9.0):
            self.assertFalse(seen_to_drain(seconds, [level] * 40, 150e-6))
        self.assertFalse(stands_low([0.0] * 5))
        self.assertFalse(stands_low([0.0] * 5 + [12.0]))


class Sitting(unittest.TestCase):
    def cold(self) -> Any:
        return table().candidates[table().index("C21.esr@unplugged")]

    def test_what_was_measured_in_an_earlier_sitting_is_asked_for_again(self) -> None:
        store = MemoryStore(demo_records())
        session = demo_session(store)
        session.measure_bulk(1.0)
        self.assertTrue(session.drained)
        again = demo_session(store)
        self.assertFalse(again.drained)
        self.assertEqual([one.part for one in again.to_measure("C21")], ["C3"])
        with self.assertRaisesRegex(UnsafeStepError, "not assumed"):
            again.take_reading(self.cold(), value(0.1, "Ω"), "typed")
        again.measure_bulk(1.0)
        again.take_reading(self.cold(), value(0.1, "Ω"), "typed")

    def test_half_an_hour_later_it_is_asked_for_again(self) -> None:
        session = demo_session()
        clock = Moving()
        session._clock = clock
        session.measure_bulk(1.0)
        clock.minutes = 29
        self.assertTrue(session.drained)
        clock.minutes = 31
        self.assertFalse(session.drained)
        self.assertIsNone(session.facts.bulk_volts)

    def test_nothing_is_read_or_measured_on_a_board_whose_state_was_never_confirmed(self) -> None:
        session = JobSession(JobLog(MemoryStore(demo_opening()), 1), board(), Moving())
        with self.assertRaisesRegex(UnsafeStepError, "confirmed"):
            session.measure_bulk(1.0)
        with self.assertRaisesRegex(UnsafeStepError, "confirmed"):
            session.take_reading(self.cold(), value(0.1, "Ω"), "typed")
        self.assertEqual(len(session.records), 1)


class MeterB(unittest.TestCase):
    """The live desk with two meters, the plug just pulled and the bulk asked for."""

    def setUp(self) -> None:
        session = demo_session()
        self.presenter = JobPresenter(session, (), lambda s, p: "", lambda html, title, path: None)
        session.enter_stage("cold_checks")
        session.confirm_state(LAMP)
        session.confirm_state(UNPLUGGED)
        session.choose(table().candidates[table().index("C21.esr@unplugged")])
        self.session, self.live = session, self.presenter.live
        self.live.turn()
        self.assertEqual(self.presenter.entry.phase(), "bulk")

    def feed(self, values: list[float]) -> list[str]:
        said = []
        for number, shown in enumerate(values):
            notice = self.live.sample("watch", 0.2 * number, shown)
            said += [notice.text] if notice else []
        return said

    def test_a_clip_that_falls_off_asks_and_records_nothing(self) -> None:
        said = self.feed([168.0] * 10 + [0.0] * 20)
        self.assertIsNone(self.session.state.bulk_volts)
        self.assertEqual(len(said), 1)
        self.assertIn("clip", said[0])
        self.assertIn("drained", self.presenter.submit("0.4").text)

    def test_a_discharge_that_it_saw_is_recorded_by_itself(self) -> None:
        tau = 2200 * 150e-6
        falling = [0.9 + 168.0 * math.exp(-0.2 * k / tau) for k in range(30)]
        said = self.feed([168.0] * 10 + falling)
        self.assertTrue(any("drained" in words for words in said), said)
        self.assertTrue(self.session.drained)

    def test_probes_in_the_air_are_asked_about_once(self) -> None:
        entry = self.presenter.entry
        self.assertIn("air", entry.meter_reading("bulk", value(0.0, "V"), "meter").text)
        self.assertIsNone(self.session.state.bulk_volts)
        self.assertEqual(entry.meter_reading("bulk", value(0.0, "V"), "meter").kind, "info")
        self.assertTrue(self.session.drained)


class Moving:
    """A clock that stands where it is put."""

    minutes = 0

    def now(self) -> str:
        return f"2026-11-02T{11 + self.minutes // 60:02d}:{self.minutes % 60:02d}:00.000+00:00"


def demo_opening() -> list[Any]:
    return list(MemoryStore(demo_records()).logs[1][:1])
