"""A meter's answer is understood whole or not at all: never smaller than the true one."""

import math
import random
import unittest

from loose_rail.instruments.answers import reading_in
from loose_rail.instruments.scpi_profile import shipped_profiles
from loose_rail.kernel.errors import MeterTalkError

COUNT = 10_000
UNITS = {"dc_volts": "V", "ohms": "Ω", "capacitance": "F"}
LETTERS = "0123456789+-.,;:eExX \t\0\"'VvmkKMΩuOLDRN%#"


def read(answer: str, mode: str = "dc_volts", words: tuple[str, ...] = ("OL", "OVLD")) -> float:
    return reading_in(answer, mode, 1.0, 9e37, words)


def written(rng: random.Random, value: float, mode: str) -> str:
    """A value as one or other meter writes it, with the digits that are left of it there."""
    unit = UNITS[mode]
    digits = rng.randint(3, 8)
    styles = ("exponent", "comma_exponent", "unit", "prefix", "plain", "comma")
    style = rng.choice(styles[:4] if unit == "F" else styles)  # few digits are left of a nanofarad
    if style == "plain":
        return f"{value:+.{digits}f}"
    if style == "exponent":
        return f"{value:{rng.choice(('+', ''))}.{digits}{rng.choice('eE')}}"
    if style == "comma":
        return f"{value:.{digits}f}".replace(".", ",")
    if style == "comma_exponent":
        return f"{value:+.{digits}E}".replace(".", ",")
    if style == "unit":
        words = {
            "V": ("V", " V", " VDC", "V DC", " volts"),
            "Ω": (" Ω", " Ohm", "OHMS"),
            "F": ("F",),
        }
        return f"{value:.{digits}E}{rng.choice(words[unit])}"
    prefixes = {"V": {"m": 1e-3, "k": 1e3, "u": 1e-6}, "Ω": {"k": 1e3, "M": 1e6}, "F": {"u": 1e-6}}
    fitting = [item for item in prefixes[unit].items() if value >= item[1]]
    if not fitting:
        return f"{value:.{digits}E}"
    prefix, factor = rng.choice(fitting)
    return f"{value / factor:.{digits}f} {prefix}{unit}"


def broken(rng: random.Random, text: str) -> str:
    """The same with letters put in, changed, doubled, or a second answer behind it."""
    kind = rng.randrange(5)
    place = rng.randrange(len(text) + 1)
    if kind == 0:
        return text[:place] + rng.choice(LETTERS) + text[place:]
    if kind == 1 and text:
        place = min(place, len(text) - 1)
        return text[:place] + rng.choice(";:xX\0\"'#%?") + text[place + 1 :]
    if kind == 2:
        return text + rng.choice((";ERR", ',"x"', " 7", ",4.98", "\n-113", " OVLD", "0x1"))
    if kind == 3:
        return rng.choice(("0;", "1 ", "0x", "-113,", "ERR ")) + text
    return text[:place] + text[place + 1 :]


class Answers(unittest.TestCase):
    def test_ten_thousand_well_formed_answers_are_their_value_or_refused(self) -> None:
        rng = random.Random(20261127)
        refused = 0
        for _ in range(COUNT):
            mode = rng.choice(list(UNITS))
            value = 10 ** rng.uniform(-3, 6) * (1e-7 if mode == "capacitance" else 1.0)
            text = written(rng, value, mode)
            try:
                seen = read(text, mode)
            except MeterTalkError:
                refused += 1
                self.assertIn(",", text, text)  # thousands or a decimal comma: nobody knows
                continue
            slack = 0.6e-9 if mode == "capacitance" else 6e-4
            self.assertAlmostEqual(seen, value, delta=6e-4 * value + slack, msg=text)
        self.assertLess(refused, COUNT / 10)

    def test_ten_thousand_broken_answers_are_never_read_smaller_than_they_were(self) -> None:
        """Of a charged bulk: what is spoilt may be refused, or read as more; where a digit is lost
        or put in, what stands there is all that a reader can know."""
        rng = random.Random(7)
        refused = 0
        for _ in range(COUNT):
            value = rng.uniform(60.0, 400.0)
            text = broken(rng, written(rng, value, "dc_volts"))
            digits = sum(letter.isdigit() for letter in text)
            try:
                seen = read(text)
            except MeterTalkError:
                refused += 1
                continue
            expected = plainly(text)
            self.assertIn(seen, (expected, math.inf), repr(text))
            self.assertTrue(seen < math.inf or abs(expected) >= 9e37, repr(text))
            self.assertGreaterEqual(digits, 3, repr(text))
        self.assertGreater(refused, COUNT / 3)

    def test_what_was_once_taken_for_a_drained_bulk(self) -> None:
        for text, true in (("+3,20000E+02", 320.0), ("0,32E+03", 320.0), ("0.32 kV", 320.0)):
            self.assertAlmostEqual(read(text), true, msg=text)
        for text in ("1 OVLD", "0;ERR", "0x140", "1,234.5", "1,234", "4\x00.98", "4.98 kOhm", ""):
            with self.assertRaises(MeterTalkError, msg=text):
                read(text)
        with self.assertRaisesRegex(MeterTalkError, "error -113"):
            read('-113,"Undefined header"')
        self.assertAlmostEqual(read("4.98 mV"), 0.00498)
        self.assertAlmostEqual(read("4.98 kOhm", "ohms"), 4980.0)
        self.assertAlmostEqual(read("4.98 MOHM", "ohms"), 4.98e6)
        for text in ("OL", "OVLD", "ol V", "+9.9E37", "-9.9E+37"):
            self.assertEqual(read(text), math.inf, text)
        with self.assertRaises(MeterTalkError):
            read("9.91E37")

    def test_every_shipped_profile_reads_plain_numbers_in_every_setting(self) -> None:
        for profile in shipped_profiles():
            for mode in profile.settings:
                self.assertEqual(profile.value(mode, "+1.25000000E-02"), 0.0125, profile.name)


def plainly(text: str) -> float:
    """What a careful person reads there, by another road than the program's: number, then unit."""
    number = text.strip().replace(",", ".")
    factor = 1.0
    letters = number.lstrip("+-0123456789.eE \t")
    if letters:
        number = number[: number.index(letters)]
        factor = {"m": 1e-3, "k": 1e3, "K": 1e3, "u": 1e-6}.get(letters[0], 1.0)
    return float(number.strip()) * factor
