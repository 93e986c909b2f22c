"""What a part with three legs is: parts made of junctions, read leg by leg in every pinout."""

import unittest
from itertools import permutations

from loose_rail.judgement.three_legs import identify, read_legs
from loose_rail.kernel.errors import BadEntryError

PARTS: tuple[tuple[str, dict[str, str], tuple[tuple[str, str, float], ...], str], ...] = (
    # kind, what a, b and c are, junctions from anode to cathode, what it shows with a charged gate
    (
        "N-channel MOSFET",
        {"a": "gate", "b": "drain", "c": "source"},
        (("c", "b", 0.48),),
        "on bc 0.02",
    ),
    (
        "IGBT with its diode",
        {"a": "gate", "b": "collector", "c": "emitter"},
        (("c", "b", 0.45),),
        "on bc 0.8",
    ),
    (
        "NPN transistor",
        {"a": "base", "b": "collector", "c": "emitter"},
        (("a", "b", 0.64), ("a", "c", 0.65)),
        "",
    ),
    (
        "PNP transistor",
        {"a": "base", "b": "collector", "c": "emitter"},
        (("b", "a", 0.655), ("c", "a", 0.67)),
        "",
    ),
    (
        "two Schottky diodes, common cathode",
        {"a": "anode", "b": "both cathodes", "c": "anode"},
        (("a", "b", 0.22), ("c", "b", 0.221)),
        "",
    ),
    (
        "two diodes, common anode",
        {"a": "cathode", "b": "both anodes", "c": "cathode"},
        (("b", "a", 0.46), ("b", "c", 0.46)),
        "",
    ),
    (
        "two diodes in series",
        {"a": "anode", "b": "both", "c": "cathode"},
        (("a", "b", 0.5), ("b", "c", 0.5), ("a", "c", 1.0)),
        "",
    ),
    (
        "IGBT without a diode",
        {"a": "gate", "b": "collector", "c": "emitter"},
        (),
        "on bc 0.7",
    ),
)


class ThreeLegs(unittest.TestCase):
    def test_every_part_in_every_pinout(self) -> None:
        for kind, named, junctions, charged in PARTS:
            for order in permutations("123"):
                at = dict(zip("abc", order, strict=True))
                told = [f"{at[red]}{at[black]} {volts}" for red, black, volts in junctions]
                told += [f"{at[charged[3]]}{at[charged[4]]} OL"] if charged and junctions else []
                told += [f"on {at[charged[3]]}{at[charged[4]]} {charged[6:]}"] if charged else []
                with self.subTest(kind, legs=told):
                    first = identify(read_legs("legs " + ", ".join(told)))[0]
                    self.assertEqual(first.kind, kind)
                    self.assertEqual(first.legs, {int(at[leg]): named[leg] for leg in "abc"})
                    self.assertFalse(first.failed)

    def test_uncharged_the_usual_pinout_decides_and_the_others_are_named(self) -> None:
        for text, kinds in (
            ("legs 32 0.48", ("N-channel MOSFET", "IGBT with its diode", "single diode")),
            ("legs 23 0.5", ("P-channel MOSFET", "N-channel MOSFET")),
            ("legs 13 0.28", ("single Schottky diode",)),
            ("legs 12 0.646, 13 0.646", ("two diodes, common anode", "NPN transistor")),
        ):
            found = [one.kind for one in identify(read_legs(text))]
            self.assertEqual(tuple(found[: len(kinds)]), kinds, text)

    def test_broken_parts_are_called_so(self) -> None:
        for text in (
            "legs 23 0.01, 32 0.01",
            "legs 23 2 mV",
            "legs 12 0, 23 0, 13 0",
            "legs 12 0.3, 21 0.3, 32 0.48",
        ):
            found = identify(read_legs(text))
            self.assertTrue(found[0].failed, text)
        triac = identify(read_legs("12 0.08, 21 0.08"))[0]
        self.assertEqual((triac.kind, triac.failed), ("triac", False))
        self.assertEqual(identify(read_legs("legs 12 OL, 23 OL"))[0].kind, "nothing conducts")

    def test_typed_as_the_meter_shows_it(self) -> None:
        for text in ("legs 32 480", "leg 3-2: 0.48 V", "red 3 black 2 0,48", "legs 3>2 480mV"):
            self.assertAlmostEqual(read_legs(text).drop(3, 2), 0.48, msg=text)
        for text in ("legs", "legs foo", "legs 22 0.4", "legs 34 0.4", "legs 32 0.48 and so on"):
            with self.assertRaises(BadEntryError, msg=text):
                read_legs(text)
