"""The calculators against the reference's worked figures, and what must hold of every one."""

import math
import unittest

from hypothesis import given, settings, strategies as st

from loose_rail.judgement.workings.calculator import Calculator, read_input
from loose_rail.judgement.workings.parts import best_pair
from loose_rail.judgement.workings.registry import CALCULATORS
from loose_rail.kernel.errors import BadEntryError

BY_KEY = {one.key: one for one in CALCULATORS}
FIGURES: tuple[tuple[str, dict[str, float], dict[str, tuple[float, float]]], ...] = (
    # V1.1 to V1.3; the reference's mean is that of both ends, ours is integrated
    (
        "bulk",
        {"volts": 230, "hertz": 50, "farads": 100e-6, "watts": 100},
        {"Ripple, peak to peak": (28.0, 0.3), "Bulk, as a meter shows it": (309, 1.5)},
    ),
    (
        "bulk",
        {"volts": 120, "hertz": 60, "farads": 330e-6, "watts": 100},
        {"Ripple, peak to peak": (13.7, 0.3), "Bulk, as a meter shows it": (160.9, 0.6)},
    ),
    (
        "bulk",
        {"volts": 230, "hertz": 50, "farads": 10e-6, "watts": 60},
        {"Foot of the ripple": (165, 5), "Bulk, as a meter shows it": (260, 4)},
    ),
    ("bulk", {"watts": 0}, {"Without a load": (324, 0.5), "Without its capacitor": (207, 0.1)}),
    # V2.1, V2.2
    (
        "hold_up",
        {"volts": 390, "least": 300, "farads": 150e-6, "watts": 200, "hertz": 50},
        {"Hold-up": (23.3e-3, 0.1e-3), "Ripple of a boosted bulk": (10.9, 0.05)},
    ),
    # V2.3, V2.4
    (
        "divider",
        {"reference": 2.5, "upper": 3.9e6, "lower": 25.2e3},
        {"It regulates to": (389.4, 0.1)},
    ),
    (
        "cable",
        {"amps": 1, "metres": 0.005, "square_mm": 0.035, "contacts": 0, "celsius": 20},
        {"Ohms of the copper": (4.93e-3, 0.02e-3)},
    ),  # V7.2, there and back
    (
        "injected",
        {"amps": 3, "short": 0.02, "leads": 0.03},
        {"Watts in the short": (0.18, 0.001), "Watts in the leads": (0.27, 0.001)},
    ),  # V7.5
    (
        "injected",
        {"amps": 2, "short": 0.08, "leads": 0.06},
        {"Volts that are needed": (0.28, 1e-6)},
    ),
    # V6.7
    (
        "life",
        {"hours": 2000, "rated": 105, "can": 65, "ripple": 0.8, "day": 24},
        {
            "Life": (36250, 200),
            "At so many hours a day, years": (4.1, 0.1),
            "With twice the ESR": (29000, 200),
        },
    ),
    ("life", {"ripple": 1.3}, {"Life": (25200, 200)}),
    ("life", {"can": 85, "ripple": 1.0}, {"Life": (8000, 50)}),
    # V9.1, V9.4, V9.6, V9.8
    ("ripple", {"esr": 0.036, "farads": 1000e-6}, {"Corner of the ESR": (4420, 20)}),
    ("ripple", {"amps": 2, "esr": 0.36}, {"Ripple by the ESR": (0.72, 1e-6)}),  # V10.11
    (
        "snubber",
        {"henries": 3e-6, "parasitic": 150e-12},
        {"Resistor": (141, 1), "It rings at": (7.5e6, 0.05e6)},
    ),
    (
        "snubber",
        {"parasitic": 470e-12, "times": 1, "volts": 400, "hertz": 65e3},
        {"It loses": (4.9, 0.05)},
    ),
    (
        "fuse",
        {"volts": 230, "ohms": 5.5, "farads": 150e-6},
        {"First amperes": (59, 0.3), "i²t of the inrush": (1.44, 0.01)},
    ),
    # V10.4, V10.7, V10.8 to V10.10
    (
        "limiter",
        {"volts": 230, "ohms": 220, "watts": 25, "lamp": 100},
        {"The resistor bears a short for": (2.6, 0.05), "The lamp, hot": (529, 1)},
    ),
    (
        "dummy",
        {"volts": 12, "amps": 2, "lamp": 21},
        {
            "Load resistor": (6, 1e-6),
            "Rated at least": (48, 1e-6),
            "A lamp of those watts, hot": (6.9, 0.05),
            "The lamp's first amperes": (22, 0.3),
        },
    ),
    ("dummy", {"volts": 24, "amps": 3}, {"It takes": (72, 1e-6), "Load resistor": (8, 1e-6)}),
    ("dummy", {"volts": 5, "amps": 1}, {"Surface of a 10 W ceramic": (150, 1)}),
    # V11.1, V11.3
    (
        "discharge",
        {"volts": 400, "farads": 150e-6, "ohms": 2200},
        {
            "Energy": (12.0, 0.05),
            "First watts in the resistor": (73, 0.5),
            "Below 60 V after": (0.63, 0.01),
            "Below 10 V after": (1.22, 0.01),
        },
    ),
    (
        "discharge",
        {"volts": 390, "farads": 220e-6, "ohms": 330e3},
        {"Below 60 V after": (136, 1), "Below 10 V after": (266, 1)},
    ),
    # V12.2, V12.3, V12.5
    (
        "led",
        {"leds": 20, "forward": 3.0, "feed": 24, "strings": 1},
        {"Duty of the boost": (60, 0.1)},
    ),
    (
        "led",
        {"leds": 10, "forward": 5.0, "amps": 0.12, "strings": 3, "feed": 24, "efficiency": 88},
        {"From the feed": (0.85, 0.005)},
    ),
    (
        "led",
        {"leds": 16, "forward": 3.4},
        {"A string stands at": (54.4, 0.1), "The driver clamps at about": (65, 0.5)},
    ),
)


class Workings(unittest.TestCase):
    def test_the_reference_s_figures(self) -> None:
        for key, changed, expected in FIGURES:
            one = BY_KEY[key]
            told = {k: v for k, v in changed.items() if k in one.usual()}
            results = {found.title: found.value for found in one.results({**one.usual(), **told})}
            for title, (value, within) in expected.items():
                with self.subTest(calculator=key, title=title, given=told):
                    self.assertAlmostEqual(results[title], value, delta=within)

    def test_each_has_a_drawing_a_source_and_answers_in_its_range(self) -> None:
        for one in CALCULATORS:
            with self.subTest(calculator=one.key):
                self.assertIn(one.along, one.usual())
                self.assertTrue(one.formula and one.source)
                across, heights = one.curve(one.usual())
                real = [y for y in heights if not math.isnan(y)]
                self.assertGreater(len(real), 100)
                now = one.results(one.usual())[one.drawn].value
                self.assertTrue(min(real) <= now * 1.001 and max(real) >= now * 0.999, one.key)
                self.assertEqual(sorted(across), across)

    @settings(max_examples=200)
    @given(st.sampled_from(CALCULATORS), st.data())
    def test_any_inputs_give_numbers_or_a_sentence(
        self, one: Calculator, data: st.DataObject
    ) -> None:
        told = {
            item.key: data.draw(st.floats(allow_nan=True, allow_infinity=True))
            if data.draw(st.booleans())
            else data.draw(st.floats(item.low, min(item.high, 1e12)))
            for item in one.inputs
        }
        try:
            results = one.results(told)
        except BadEntryError as error:
            self.assertTrue(error.one_line())
        else:
            self.assertFalse(any(math.isnan(found.value) for found in results), told)

    @given(st.floats(0.5, 5e6))
    def test_a_pair_is_never_further_off_than_one_part(self, wanted: float) -> None:
        _, one, other, made = best_pair(wanted)
        single = min(abs(math.log(value / wanted)) for value in (one, other))
        self.assertLessEqual(abs(math.log(made / wanted)), single + 1e-12)
        self.assertLess(abs(made / wanted - 1.0), 0.03)

    def test_an_input_is_read_with_its_unit_and_no_other(self) -> None:
        farads = BY_KEY["bulk"].inputs[2]
        self.assertAlmostEqual(read_input(farads, "100u"), 100e-6)
        self.assertAlmostEqual(read_input(farads, "0.1 mF"), 100e-6)
        for text in ("100 V", "", "lots"):
            with self.assertRaises(BadEntryError):
                read_input(farads, text)


if __name__ == "__main__":
    unittest.main()
