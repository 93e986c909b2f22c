"""The first power-up as the meters saw it, against its prediction."""

import math
import unittest

from hypothesis import given, settings, strategies as st

from loose_rail.app.start_curve import StartCurve, against, start_curve
from loose_rail.app.trace import Trace

PERIOD = 0.2


def trace_of(finals: list[float], seconds: float, rise: float = 0.4) -> Trace:
    """Starts one after the other, each from nothing, seen five times a second."""
    trace, at = Trace(), 0.0
    channel = trace.channel("Meter A, DC volts", "V")
    for final in finals:
        for _ in range(8):
            channel.add(at, 0.002 * final)
            at += PERIOD
        for k in range(int(seconds / PERIOD)):
            channel.add(at, final * (1.0 - math.exp(-k * PERIOD / rise)))
            at += PERIOD
    return trace


class StartCurves(unittest.TestCase):
    @settings(deadline=None, max_examples=60)
    @given(st.floats(3.0, 400.0), st.floats(0.8, 1.2), st.floats(0.05, 1.2))
    def test_the_last_start_is_found_and_stands_where_it_does(
        self, predicted: float, share: float, rise: float
    ) -> None:
        other, own = 3.0 * predicted, share * predicted
        found = start_curve(trace_of([other, own], 6.0, rise).channels, predicted, 6.0)
        assert found is not None
        self.assertAlmostEqual(found.stands / own, 1.0, delta=0.02)
        self.assertEqual(found.seconds[0], 0.0)
        self.assertLessEqual(found.seconds[-1], 6.0 + 1e-6)
        self.assertAlmostEqual(found.ready_seconds, 3.0 * rise, delta=2.5 * PERIOD + 0.3 * rise)
        words = against("Bulk", found, predicted, 3.0 * rise)
        self.assertEqual("as predicted" in words, abs(found.stands / predicted - 1.0) < 0.08, words)

    def test_what_is_no_start_of_this_rail_is_none(self) -> None:
        self.assertIsNone(start_curve(trace_of([12.0], 6.0).channels, 5.0, 6.0))
        self.assertIsNone(start_curve(trace_of([5.0], 0.2).channels, 5.0, 6.0))
        steady = Trace()
        for k in range(40):
            steady.channel("Meter A, DC volts", "V").add(PERIOD * k, 5.0)
        self.assertIsNone(start_curve(steady.channels, 5.0, 6.0))  # it was on all the time
        ohms = Trace()
        for k in range(40):
            ohms.channel("Meter A, ohms", "Ω").add(PERIOD * k, 5.0 * (k > 5))
        self.assertIsNone(start_curve(ohms.channels, 5.0, 6.0))

    def test_a_start_that_drags_is_said_and_one_that_stands_off(self) -> None:
        slow = start_curve(trace_of([5.0], 6.0, rise=1.2).channels, 5.0, 6.0)
        assert isinstance(slow, StartCurve)
        self.assertIn("a start that drags", against("Standby", slow, 5.0, 0.4))
        low = start_curve(trace_of([4.2], 6.0).channels, 5.0, 6.0)
        assert isinstance(low, StartCurve)
        self.assertIn("predicted 5.00 V", against("Standby", low, 5.0, 1.2))


if __name__ == "__main__":
    unittest.main()
