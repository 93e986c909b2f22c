"""Quantities and the entry grammar: what is typed is meant, or is refused with a way out."""

import math
import unittest

from hypothesis import given, strategies as st

from loose_rail.kernel.entry import read_entry
from loose_rail.kernel.errors import BadEntryError, WrongUnitError
from loose_rail.kernel.observation import Form
from loose_rail.kernel.quantities import (
    component_value,
    engineering,
    parse_quantity,
    percent,
    percents,
    span,
)
from tests.shared import the

UNITS = st.sampled_from(["V", "Ω", "F", "Hz", "s", "W"])
SIZES = st.floats(1e-11, 9e8)


class Quantities(unittest.TestCase):
    @given(SIZES, UNITS, st.integers(3, 5))
    def test_what_is_written_reads_back(self, number: float, unit: str, digits: int) -> None:
        text = engineering(number, unit, digits)
        if text == "0 V":
            self.assertLess(number, 5e-4)
            return
        back = parse_quantity(text.replace("−", "-"))
        self.assertIsNotNone(back, text)
        self.assertEqual(the(back).unit, unit)
        small = unit != "F" and (number >= 1e-3 or unit == "Ω")  # three decimals, no prefix
        least = 5.01e-4 if small else 0.0
        self.assertAlmostEqual(the(back).value, number, delta=max(0.006 * number, least))

    def test_rkm_values(self) -> None:
        cases = {
            "4k7": 4700,
            "0R22": 0.22,
            "3V3": 3.3,
            "12V1": 12.1,
            "1k2": 1200,
            "4u7": 4.7e-6,
            "150u": 150e-6,
            "2n2": 2.2e-9,
            "0R05": 0.05,
            "1M": 1e6,
            "38k3": 38300,
            "1.1m": 1.1e-3,
            "5R": 5,
        }
        for text, value in cases.items():
            self.assertAlmostEqual(component_value(text) / value, 1.0, places=9, msg=text)
        for bad in ("", "abc", "4k7k", "1..2", "--3", "1e999", "0R22V", "3V3Ω"):
            self.assertIsNone(parse_quantity(bad), bad)

    @given(st.floats(0.0, 1.0))
    def test_no_share_is_written_as_certain(self, share: float) -> None:
        text = percent(share)
        self.assertEqual(text == "0 %", share == 0.0)
        self.assertNotEqual(text, "100 %")
        if text[0] not in "<>":
            self.assertAlmostEqual(float(text.removesuffix(" %")) / 100, share, delta=0.0051)

    @given(st.lists(st.floats(0.01, 1.0), min_size=2, max_size=8))
    def test_what_is_shown_together_adds_up(self, parts: list[float]) -> None:
        shares = [one / sum(parts) for one in parts]
        words = percents(shares)
        if all(0.01 <= share <= 0.99 for share in shares):
            self.assertEqual(sum(int(text.removesuffix(" %")) for text in words), 100, words)
        for share, text in zip(shares, words, strict=True):
            if text[0] not in "<>":
                self.assertLess(abs(int(text.removesuffix(" %")) - 100 * share), 1.0 + 1e-9)
        self.assertEqual(percents([0.634, 0.192, 0.149, 0.025]), ["63 %", "19 %", "15 %", "3 %"])
        self.assertEqual(percents([0.336, 0.336, 0.328]), ["34 %", "34 %", "32 %"])
        self.assertEqual(percents([0.996, 0.004]), ["> 99 %", "< 1 %"])

    def test_no_more_digits_than_the_meter_had(self) -> None:
        self.assertEqual(engineering(4700, "Ω", 3), "4.70 kΩ")
        self.assertEqual(engineering(0.12, "Ω", 2), "0.12 Ω")
        self.assertEqual(engineering(470e-6, "F", 3), "470 µF")
        self.assertEqual(engineering(-5.02, "V", 3), "−5.02 V")
        self.assertEqual(engineering(1.1e-8, "V", 3), "0 V")
        self.assertEqual(span(0.03, 0.12, "Ω", 2), "0.030–0.12 Ω")
        self.assertEqual(span(4.75, 5.25, "V", 3), "4.75–5.25 V")


class EntryGrammar(unittest.TestCase):
    def test_everything_a_technician_would_type(self) -> None:
        cases = [
            ("4.98", "V", Form.VALUE, 4.98, 4.98, None),
            ("4.98V", "V", Form.VALUE, 4.98, 4.98, None),
            ("4,98 v", "V", Form.VALUE, 4.98, 4.98, None),
            ("0.6..3.9", "V", Form.RANGE, 0.6, 3.9, None),
            ("3.9..0.6@1.1Hz", "V", Form.TICKING, 0.6, 3.9, 1.1),
            ("0.6 .. 3.9 @ 1", "V", Form.TICKING, 0.6, 3.9, 1.0),
            ("OL", "Ω", Form.OPEN, math.inf, math.inf, None),
            (".", "Ω", Form.OPEN, math.inf, math.inf, None),
            ("0", "Ω", Form.SHORT, 0, 0, None),
            ("beep", "Ω", Form.SHORT, 0, 0, None),
            ("0", "V", Form.VALUE, 0, 0, None),
            ("1k2", "Ω", Form.VALUE, 1200, 1200, None),
            ("0R22", "Ω", Form.VALUE, 0.22, 0.22, None),
            ("4u7", "F", Form.VALUE, 4.7e-6, 4.7e-6, None),
            ("-5.02", "V", Form.VALUE, -5.02, -5.02, None),
            (">400k", "Ω", Form.ABOVE, 4e5, math.inf, None),
            ("> 400k rising", "Ω", Form.RISING, 4e5, math.inf, None),
            ("falling 212>180", "V", Form.FALLING, 180, 212, None),
        ]
        for text, unit, form, low, high, hertz in cases:
            with self.subTest(text):
                seen = read_entry(text, unit).observation
                self.assertEqual(
                    (seen.form, seen.low, seen.high, seen.hertz), (form, low, high, hertz)
                )
        self.assertTrue(math.isnan(read_entry("rising", "V").observation.low))
        for text, seconds in (
            ("rising 0..5.1 in 8s", 8.0),
            ("rising in 0,5 min", 30.0),
            ("falling 12>5 in 300 ms", 0.3),
            ("rising 0 to 5", None),
        ):
            entry = read_entry(text, "V")
            self.assertEqual(entry.observation.seconds, seconds, text)
            self.assertEqual(" in " in entry.echo, seconds is not None, text)
        for text in ("rising 0..5 in 6V", "rising 0..5 in 2h", "rising in a while"):
            self.assertRaises(BadEntryError, read_entry, text, "V")
        self.assertTrue(read_entry("-5.02", "V").swapped)

    @given(st.text(max_size=24), st.sampled_from(["V", "Ω", "F"]))
    def test_anything_typed_is_read_or_refused_with_a_hint(self, text: str, unit: str) -> None:
        try:
            entry = read_entry(text, unit)
        except BadEntryError as error:
            self.assertTrue(error.message and error.hint, text)
        else:
            self.assertTrue(entry.echo)
            self.assertEqual(entry.observation.unit, unit)

    @given(st.floats(0.01, 900), st.floats(0.01, 900), st.floats(0.1, 20))
    def test_ranges_keep_order_and_rate(self, a: float, b: float, hertz: float) -> None:
        seen = read_entry(f"{a:.4f}..{b:.4f}@{hertz:.3f}Hz", "V").observation
        self.assertLessEqual(seen.low, seen.high)
        self.assertAlmostEqual(seen.hertz, hertz, places=3)  # type: ignore[arg-type]

    def test_a_wrong_unit_says_which_was_wanted(self) -> None:
        with self.assertRaises(WrongUnitError) as caught:
            read_entry("4k7 ohm", "V")
        self.assertIn("volts", caught.exception.message)
        with self.assertRaises(WrongUnitError):
            read_entry("5V", "Ω")
        with self.assertRaises(WrongUnitError):
            read_entry("short", "V")

    def test_nearest_form_that_works(self) -> None:
        with self.assertRaises(BadEntryError) as caught:
            read_entry("4.98 volzz", "V")
        self.assertIn("4.98", caught.exception.hint)
        with self.assertRaises(BadEntryError):
            read_entry("-12", "Ω")
