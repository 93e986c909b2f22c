"""Logs of other meters: what their headings and cells say is what is read."""

import math
import unittest
from collections.abc import Callable
from datetime import datetime, timedelta

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.app.log_cells import number, quantities, seconds_of, unit_of
from loose_rail.app.meter_log import read_log, trace_of
from loose_rail.app.trace import Trace, as_text, to_csv
from loose_rail.kernel.errors import TraceError

START = datetime(2026, 11, 28, 23, 59, 50)
FORMATS: dict[str, Callable[[datetime], str]] = {
    "ISO": lambda at: at.isoformat(),
    "day first": lambda at: at.strftime("%d.%m.%Y %H:%M:%S"),
    "month first": lambda at: at.strftime("%m/%d/%Y %I:%M:%S %p"),
    "clock": lambda at: at.strftime("%H:%M:%S"),
    "clock with tenths": lambda at: at.strftime("%H:%M:%S.") + f"{at.microsecond // 100000}",
}
LOGS: tuple[tuple[str, str, list[tuple[str, str, list[float], list[float]]]], ...] = (
    (
        "milliseconds and millivolts in the heading",
        "time [ms],v [mV]\n0,5000\n100,4980\n",
        [("v", "V", [0.0, 0.1], [5.0, 4.98])],
    ),
    (
        "units behind a stroke, as German norms write them",
        "t/ms;U/mV;I/mA\n0;5,0;10\n10;4,5;11\n",
        [("U", "V", [0.0, 0.01], [0.005, 0.0045]), ("I", "A", [0.0, 0.01], [0.01, 0.011])],
    ),
    (
        "over midnight",
        "clock,V\n23:59:58,5\n23:59:59,5.1\n00:00:01,5.2\n",
        [("V", "V", [0.0, 1.0, 3.0], [5.0, 5.1, 5.2])],
    ),
    (
        "day first with thousands and a decimal comma",
        "Zeit;Spannung\n02.11.2026 09:12:05;1.234,5\n02.11.2026 09:12:06;1.234,6\n",
        [("Spannung", "V", [0.0, 1.0], [1234.5, 1234.6])],
    ),
    (
        "the month first where a day passes twelve",
        "Date,V\n11/30/2026 23:59:59,5\n12/01/2026 00:00:05,5.1\n",
        [("V", "V", [0.0, 6.0], [5.0, 5.1])],
    ),
    (
        "the day first where a day passes twelve",
        "Date,V\n30/11/2026 23:59:59,5\n01/12/2026 00:00:05,5.1\n",
        [("V", "V", [0.0, 6.0], [5.0, 5.1])],
    ),
    (
        "noon and midnight of a clock with halves",
        "Time,V\n11/02/2026 12:00:00 AM,1\n11/02/2026 12:00:00 PM,2\n",
        [("V", "V", [0.0, 43200.0], [1.0, 2.0])],
    ),
    (
        "the unit beside each number",
        "Time,Value\n10:00:00,12.1 mV\n10:00:01,1.5 V\n",
        [("Value", "V", [0.0, 1.0], [0.0121, 1.5])],
    ),
    (
        "the unit in a column of its own",
        "time,Reading,Unit\n0,1.5,Ω\n1,1.6,Ω\n",
        [("Reading", "Ω", [0.0, 1.0], [1.5, 1.6])],
    ),
    (
        "overloads of many meters",
        "t,v\n0,OL\n1,9.9E+37\n2,0.L\n3,∞\n4,5\n",
        [("v", "V", [0.0, 1.0, 2.0, 3.0, 4.0], [math.inf, math.inf, math.inf, math.inf, 5.0])],
    ),
)


class Logs(unittest.TestCase):
    def test_each_reads_as_it_says(self) -> None:
        for title, text, wanted in LOGS:
            with self.subTest(title):
                log = read_log(text.encode(), "log.csv")
                trace = trace_of(log, log.time_column, log.value_columns)
                self.assertEqual(
                    [(one.name, one.unit) for one in trace.channels],
                    [(name, unit) for name, unit, _, _ in wanted],
                )
                for channel, (_, _, seconds, values) in zip(trace.channels, wanted, strict=True):
                    np.testing.assert_allclose(channel.seconds, seconds, atol=1e-9)
                    np.testing.assert_allclose(channel.values, values, rtol=1e-9)

    @settings(max_examples=60)
    @given(
        st.sampled_from(sorted(FORMATS)),
        st.lists(st.integers(1, 3000), min_size=2, max_size=30),
        st.sampled_from([",", ";", "\t"]),
    )
    def test_times_in_any_form_give_the_same_seconds(
        self, form: str, gaps: list[int], separator: str
    ) -> None:
        moments, at = [START], START
        for gap in gaps:
            at += timedelta(seconds=gap)
            moments.append(at)
        rows = [f"{FORMATS[form](one)}{separator}{k}.5" for k, one in enumerate(moments)]
        log = read_log("\n".join([f"time{separator}v", *rows]).encode(), "log.csv")
        found = trace_of(log, 0, [1]).channels[0]
        wanted = [(one - START).total_seconds() for one in moments]
        np.testing.assert_allclose(found.seconds, wanted, atol=1e-6)

    @settings(max_examples=80)
    @given(st.floats(-1e6, 1e6), st.booleans(), st.integers(0, 4))
    def test_numbers_with_a_comma_or_a_point(self, value: float, comma: bool, digits: int) -> None:
        text = f"{value:,.{digits}f}" if digits else f"{value:.0f}"
        if comma:
            text = text.replace(",", " ").replace(".", ",").replace(" ", ".")
        if (digits and text.count(",") + text.count(".") > 1) or digits == 0:
            self.assertAlmostEqual(number(text), round(value, digits), places=6)

    def test_units_and_what_is_none(self) -> None:
        for text, wanted in (
            ("mV", ("V", 1e-3)),
            ("kOhm", ("Ω", 1e3)),
            ("MΩ", ("Ω", 1e6)),
            ("µF", ("F", 1e-6)),
            ("VDC", ("V", 1.0)),
            ("mVAC", ("V", 1e-3)),
            ("A", ("A", 1.0)),
        ):
            self.assertEqual(unit_of(text), wanted, text)
        for text in ("", "x", "volts!", "°C", "samples"):
            self.assertIsNone(unit_of(text), text)
        found, unit = quantities(["1 V", "2 A", "3 mV", "x"])
        self.assertEqual(unit, "V")  # of another unit than the first: no reading
        self.assertEqual([math.isnan(one) for one in found], [False, True, False, True])

    def test_what_is_no_time_is_said_with_its_row(self) -> None:
        self.assertEqual(seconds_of(["10:00:00", "soon"], 1.0), (None, 1))
        self.assertEqual(seconds_of(["1", "1e300"], 1.0)[0], None)
        log = read_log(b"a,b\n1,2\nsoon,3\n", "log.csv")
        with self.assertRaisesRegex(TraceError, "row 2"):
            trace_of(log, 0, [1])
        for text in ("25:00:00", "10:61:00", "13:00:00 PM", "31.02.2026 10:00:00"):
            self.assertIsNone(seconds_of([text], 1.0)[0], text)

    def test_no_formula_leaves_and_words_come_back(self) -> None:
        trace = Trace()
        trace.channel("=HYPERLINK(1)", "V").add(0.0, 1.0)
        trace.channel("+x", "V").add(1.0, 2.0)
        trace.mark(0.0, "@cmd")
        text = to_csv(trace)
        for cell in text.replace("\n", ",").split(","):
            self.assertFalse(cell.strip('"').startswith(("=", "+", "@")), cell)
        back = trace_of(read_log(text.encode(), "own.csv"), 0, [1, 2])
        self.assertEqual([one.name for one in back.channels], ["=HYPERLINK(1)", "+x"])
        self.assertEqual(as_text("plain"), "plain")


if __name__ == "__main__":
    unittest.main()
