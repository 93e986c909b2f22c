"""Markings of parts: every vector of the reference, and what is written is read back."""

import json
import math
import re
import subprocess
import sys
import unittest
from pathlib import Path

from hypothesis import given, settings, strategies as st

from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.quantities import parse_quantity
from loose_rail.markings import encode
from loose_rail.markings.bands import FUSE_KINDS
from loose_rail.markings.capacitor import FILM_VOLTS
from loose_rail.markings.decode import HINTS, decode
from loose_rail.markings.reading import MarkReading
from loose_rail.markings.series import SERIES, is_of, nearest, values_of

ROWS = [
    line.split("\t")
    for line in Path(__file__).with_name("vectors.tsv").read_text("utf-8").splitlines()[1:]
]
HINT_OF = {
    **{"R": "bands", "SMD": "smd", "E96": "smd", "RKM": "resistor", "RKMC": "capacitor"},
    **{"C": "capacitor", "FILM": "capacitor", "CAN": "capacitor", "L": "inductor", "FUSE": "fuse"},
}
NAMES = {"bands": None, "resistor": "Ω", "smd": "Ω", "capacitor": "F", "inductor": "H"}
E24_VALUES = st.builds(
    lambda one, power: float(f"{one * 10.0**power:.4g}"),
    st.sampled_from(values_of("E24")),
    st.integers(-1, 6),
)
E96_VALUES = st.builds(
    lambda one, power: float(f"{one * 10.0**power:.4g}"),
    st.sampled_from(values_of("E96")),
    st.integers(0, 6),
)


def tolerance_text(one: MarkReading) -> str:
    words = one.tolerance.words if one.tolerance else "-"
    return re.sub(r"[ %]", "", words)


class Vectors(unittest.TestCase):
    def test_every_row_of_the_reference(self) -> None:
        self.assertEqual(len(ROWS), 147)
        for number, kind, marking, value, tolerance, note in ROWS:
            with self.subTest(number=number, marking=marking):
                if kind == "NEAR":
                    wanted, series = marking.split()
                    self.assertEqual(nearest(float(wanted), series), float(value))
                    continue
                found = decode(marking, HINT_OF[kind])
                first = found[0]
                amount, *volts = re.findall(r"[\d.]+ [pnµmkM]?(?:Ω|F|H|A|V)", value)
                quantity = parse_quantity(amount)
                assert quantity is not None
                self.assertTrue(
                    math.isclose(first.value, quantity.value, rel_tol=1e-6, abs_tol=1e-15),
                    first.words,
                )
                self.assertEqual(first.unit, quantity.unit)
                if volts:
                    self.assertEqual(first.volts, float(volts[0].split()[0]))
                if kind == "FUSE":
                    self.assertEqual(
                        " ".join(filter(None, (first.characteristic, first.breaking))), tolerance
                    )
                elif tolerance != "-":
                    self.assertEqual(tolerance_text(first), tolerance)
                elif kind not in ("CAN",):
                    self.assertIsNone(first.tolerance)
                if note.startswith("A:"):
                    self.assertGreater(len(found), 1)
                self.assertTrue(first.steps)

    def test_the_command_says_the_same(self) -> None:
        def asked(*arguments: str) -> subprocess.CompletedProcess[str]:
            return subprocess.run(
                [sys.executable, "-m", "loose_rail", "decode", *arguments],
                capture_output=True,
                text=True,
                check=False,
            )

        found = json.loads(asked("104K", "--kind", "capacitor", "--json").stdout)["readings"][0]
        self.assertEqual(
            [found[name] for name in ("kind", "value", "unit", "tolerance_percent", "volts")],
            ["capacitor", 1e-7, "F", 10.0, None],
        )
        self.assertIn("not kilo", found["note"])
        fuse = json.loads(asked("T3.15AL250V", "--json").stdout)["readings"][0]
        self.assertEqual((fuse["amperes"], fuse["characteristic"], fuse["volts"]), (3.15, "T", 250))
        wrong = asked("no such code")
        self.assertEqual((wrong.returncode, wrong.stdout), (2, ""))
        self.assertIn("is no marking", wrong.stderr)

    def test_without_a_hint_every_kind_is_listed(self) -> None:
        kinds = {one.kind.value for one in decode("100")}
        self.assertEqual(kinds, {"resistor", "capacitor", "inductor"})
        values = {(one.kind.value, one.value) for one in decode("158")}
        self.assertIn(("capacitor", 0.15e-12), values)
        self.assertIn(("capacitor", 1500e-6), values)
        self.assertEqual({one.value for one in decode("30R", "smd")}, {2.0, 30.0})
        with self.assertRaises(BadEntryError):
            decode("8XQ!")


class BothWays(unittest.TestCase):
    def holds(self, marking: str, hint: str, value: float, percent: float | None = None) -> None:
        found = [
            one
            for one in decode(marking, hint)
            if math.isclose(one.value, value, rel_tol=1e-5)
            and (percent is None or (one.tolerance and one.tolerance.high == percent))
        ]
        self.assertTrue(found, f"{marking} as {hint}: {value}")

    @settings(max_examples=150)
    @given(E24_VALUES | E96_VALUES, st.sampled_from([1.0, 2.0, 5.0, 10.0, 0.5]))
    def test_bands(self, ohms: float, percent: float) -> None:
        colours = encode.bands(ohms, percent)
        if colours is None:
            return
        self.holds(" ".join(colours), "bands", ohms, percent)
        self.holds(" ".join(reversed(colours)), "bands", ohms, percent)

    @settings(max_examples=150)
    @given(E24_VALUES | E96_VALUES)
    def test_chips_and_letters(self, ohms: float) -> None:
        for count in (3, 4):
            code = encode.smd(ohms, count)
            if code:
                self.holds(code, "smd", ohms)
        if is_of(ohms, "E96") and 0.1 <= ohms < 1e8:
            self.holds(encode.eia96(ohms), "smd", ohms, 1.0)
        if code := encode.rkm(ohms, "Ω"):
            self.holds(code, "resistor", ohms)

    @settings(max_examples=150)
    @given(
        st.sampled_from(values_of("E12")),
        st.integers(-12, -5),
        st.sampled_from([2.0, 5.0, 10.0, 20.0]),
        st.sampled_from(sorted(FILM_VOLTS)),
        st.integers(0, 3),
    )
    def test_capacitors(
        self, one: float, power: int, percent: float, letter: str, decade: int
    ) -> None:
        farads = float(f"{one * 10.0**power:.3g}")
        if code := encode.rkm(farads, "F"):
            self.holds(code, "capacitor", farads)
        if farads >= 10e-12 and (code := encode.disc(farads, percent)):
            self.holds(code, "capacitor", farads, percent)
            volts = 10**decade * FILM_VOLTS[letter]
            film = encode.film(farads, volts, percent)
            first = decode(film, "capacitor")[0]
            self.assertAlmostEqual(first.volts or 0.0, volts, delta=0.01 * volts)
            self.assertTrue(math.isclose(first.value, farads, rel_tol=1e-5))
        henries = farads * 1e6
        if 0.1e-6 <= henries < 10 and (code := encode.inductor(henries)):
            self.holds(code, "inductor", henries)

    @settings(max_examples=200)
    @given(st.text(max_size=12), st.sampled_from(["", *HINTS]))
    def test_anything_else_is_a_sentence(self, text: str, hint: str) -> None:
        try:
            for one in decode(text, hint):
                self.assertTrue(math.isfinite(one.value) and one.words)
        except BadEntryError as error:
            self.assertTrue(error.hint)

    @settings(max_examples=100)
    @given(st.floats(1e-3, 1e9), st.sampled_from(SERIES))
    def test_the_nearest_of_a_series_is_nearest(self, value: float, series: str) -> None:
        found = nearest(value, series)
        ratio = abs(math.log(value / found))
        decade = 10.0 ** math.floor(math.log10(value))
        for one in values_of(series):
            for shift in (0.1, 1.0, 10.0):
                self.assertLessEqual(ratio, abs(math.log(value / (one * decade * shift))) + 1e-9)
        self.assertTrue(is_of(found, series))
        self.assertEqual(len(FUSE_KINDS), 5)


if __name__ == "__main__":
    unittest.main()
