"""Readings put together by a small grammar: however a number is written it is the same number, what
should have been is never what was read, and a course has the ends and the way that are told."""

import math
import unittest
from itertools import pairwise

from hypothesis import assume, given, strategies as st

from loose_rail.app.job_file.log.against_its_print import kept_farads, told_ohms
from loose_rail.app.job_file.log.freed_rail import FREE_OHMS, of_the_rail
from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.job_file.log.numbers_told import hertz_told
from loose_rail.kernel.negation import negated
from loose_rail.kernel.observation import Form, Observation, value

VOLTS = st.integers(11, 4000).map(lambda tenths: tenths / 10.0)
"""Volts of a rail, to a tenth."""
MODES = ("dc volts", "ac volts", "ohms", "diode", "beep", "esr", "capacitance")
BITS = (
    *("12", "5.1", ".6", "0L", "OL", "1.15 / OL", "24 V", "0", "4k7", "2R2", "1000 uF", "0.47 ohm"),
    *(
        "then",
        "and",
        "to",
        "not",
        "no",
        "expected",
        "was",
        "now",
        "pulsing",
        "again",
        "every second",
    ),
    *("rises", "falls to", "at first", "after 10 min", "beeps", "short", "open", "jumps", "steady"),
    *(",", ";", "/", "±", "-", "…", "V", "mV", "ohm", "%", "Ω", "?", "(", ")", "½", "²", "٣"),
)


def read(text: str, mode: str = "dc volts", note: str = "") -> Observation:
    """What the words say; they must say something."""
    found = human_value(text, mode, note)
    assert found is not None, text
    return found.observation


def told(volts: float) -> str:
    """Volts as a hand writes them, without a nought at the end."""
    return f"{volts:.1f}".removesuffix(".0")


class Written(unittest.TestCase):
    @given(VOLTS)
    def test_a_number_is_the_same_however_it_is_written(self, volts: float) -> None:
        plain, comma = told(volts), told(volts).replace(".", ",")
        whole, tenth = divmod(round(volts * 10), 10)
        for text in (
            *(f"{plain} V", f"{plain}V", f"{plain} volts", f"{plain} VDC", f"{comma} V", plain),
            *(f"{whole}V{tenth}", f"{whole} point {tenth}", f"{plain} V, steady, no ticking"),
            *(f"reads {plain}", f"it is {plain} V", f"{plain} V ± 0.1", f"just {plain} V"),
        ):
            self.assertAlmostEqual(read(text).centre, volts, places=6, msg=text)
            self.assertIs(read(text).form, Form.VALUE, text)

    @given(VOLTS, VOLTS)
    def test_what_it_should_have_been_is_no_reading(self, is_: float, should: float) -> None:
        assume(is_ != should)
        a, b = told(is_), told(should)
        for text in (
            *(f"expected {b}, got {a}", f"should be {b} V, is {a} V", f"{a} V, not {b} V"),
            *(f"not {b} but {a} V", f"nominal {b} V, measured {a} V", f"wanted {b}, have {a}"),
            *(f"{a} V instead of {b} V", f"label says {b}, reads {a}"),
            *(f"was {b} before, now {a}", f"yesterday {b} V, today {a} V", f"not {b} V, {a} V"),
            *(f"rated {b} V, shows {a}", f"printed {b}, found {a}", f"instead of {b} V only {a} V"),
            *(
                f"on the {b} V line {a} V",
                f"{b} V rail reads {a}",
                f"in theory {b}, in practice {a}",
            ),
        ):
            found = read(text)
            self.assertIs(found.form, Form.VALUE, text)
            self.assertAlmostEqual(found.centre, is_, places=6, msg=text)

    @given(VOLTS)
    def test_a_rail_that_is_not_there_is_nought_whatever_it_is_called(self, volts: float) -> None:
        rail = told(volts)
        for text in (
            *(f"no {rail} V", f"{rail} V is missing", f"{rail} V not there", f"{rail} V absent"),
            *(f"{rail} V never comes up", f"there is no {rail} V", f"{rail} V rail dead"),
        ):
            found = read(text)
            self.assertEqual((found.form, found.centre), (Form.VALUE, 0.0), text)

    @given(VOLTS, VOLTS)
    def test_a_course_ends_where_it_is_said_to_end(self, one: float, other: float) -> None:
        low, high = sorted((one, other))
        assume(high > 1.3 * low)
        a, b = told(low), told(high)
        for text, form in (
            *(
                (f"rises from {a} to {b} V", Form.RISING),
                (f"falls from {b} to {a} V", Form.FALLING),
            ),
            *((f"goes from {a} to {b}", Form.RISING), (f"drops from {b} V to {a} V", Form.FALLING)),
            *((f"{b} V, then {a} V", Form.FALLING), (f"sags from {b} to {a}", Form.FALLING)),
            *((f"{a} V climbing to {b} V", Form.RISING), (f"{b} V sinking to {a}", Form.FALLING)),
            (f"{a} V at first, then climbs to {b} V", Form.RISING),
        ):
            found = read(text)
            self.assertIs(found.form, form, text)
            self.assertAlmostEqual(found.low, low, places=6, msg=text)
            self.assertAlmostEqual(found.high, high, places=6, msg=text)

    @given(st.lists(VOLTS, min_size=3, max_size=5, unique=True), st.booleans())
    def test_one_after_another(self, levels: list[float], down: bool) -> None:
        levels = sorted(levels, reverse=down)
        assume(all(abs(a - b) > 0.5 for a, b in pairwise(levels)))
        way = "falling" if down else "rising"
        found = read(f"{way}: {', '.join(told(one) for one in levels)} V")
        self.assertIs(found.form, Form.FALLING if down else Form.RISING)
        self.assertEqual((found.low, found.high), (min(levels), max(levels)))

    @given(VOLTS, st.sampled_from(("every second", "again and again", "twice a second")))
    def test_what_comes_again_and_again_ticks(self, top: float, often: str) -> None:
        for text in (
            f"kicks up to {told(top)} V {often}",
            f"{told(top)} V, then 0, then {told(top)} V {often}",
            f"tries to {told(top)} V and gives up, {often}",
            f"blips of {told(top)} V {often}",
        ):
            found = read(text)
            self.assertIs(found.form, Form.TICKING, text)
            self.assertAlmostEqual(found.high, top, places=6, msg=text)
        self.assertNotEqual(read(f"{told(top)} V, does not tick").form, Form.TICKING)

    @given(st.lists(st.sampled_from(BITS), max_size=9), st.sampled_from(MODES), st.booleans())
    def test_whatever_is_put_together_is_a_reading_or_none(
        self, bits: list[str], mode: str, beside: bool
    ) -> None:
        words = " ".join(bits)
        text, note = (words[: len(words) // 2], words[len(words) // 2 :]) if beside else (words, "")
        found = human_value(text, mode, note)
        if found is None:
            return
        seen = found.observation
        self.assertTrue(math.isnan(seen.low) or seen.low <= seen.high, (text, note, seen))
        if mode in ("ohms", "beep", "esr", "capacitance"):
            self.assertGreaterEqual(seen.low, 0.0, (text, seen))


class AgainstWhatIsPrinted(unittest.TestCase):
    @given(st.integers(10, 4700), st.floats(0.05, 1.2))
    def test_a_capacitor_keeps_its_print_or_has_lost_it(self, printed: int, share: float) -> None:
        seen = value(printed * share * 1e-6, "F")
        for words in (f"marked {printed}uF", f"{printed}u", f"should be {printed}"):
            kept = kept_farads(seen, words)
            self.assertEqual(kept is False, share < 0.7, words)
            self.assertEqual(kept is True, share > 0.8, words)
        self.assertIsNone(kept_farads(seen, "warm"))

    @given(st.integers(1, 99), st.sampled_from(("", "k", "M")))
    def test_ohms_that_are_printed(self, number: int, letter: str) -> None:
        ohms = number * {"": 1.0, "k": 1e3, "M": 1e6}[letter]
        for words in (f"marked {number}{letter} ohm", f"says {number}{letter} ohm, warm"):
            self.assertAlmostEqual(told_ohms(words) or 0.0, ohms, msg=words)
        together = told_ohms(f"two of {number}{letter or 'R'} in parallel")
        self.assertAlmostEqual(together or 0.0, ohms / 2, msg=letter)


class WentWithIt(unittest.TestCase):
    @given(st.floats(0.0, 20.0), st.floats(2 * FREE_OHMS, 9e4))
    def test_a_short_that_stays_clears_the_part_and_one_that_goes_does_not(
        self, low: float, free: float
    ) -> None:
        """What reads as low with the part out as with it in is short without it."""
        for text in (f"rail still {low:.2f} ohm", "still shorted", "12 V as short as before"):
            self.assertIs(of_the_rail(text), True, text)
        for text in (f"rail now {free:.0f} ohm", "short is gone", "12 V line is free"):
            self.assertIs(of_the_rail(text), False, text)
        self.assertIsNone(of_the_rail(f"measures {low:.2f} ohm"))


class SaidNot(unittest.TestCase):
    @given(st.sampled_from(("paint", "current", "front", "component", "element", "vent", "mount")))
    def test_a_word_that_only_ends_like_a_not_denies_nothing(self, word: str) -> None:
        self.assertFalse(negated(f"the {word} burnt", len(f"the {word} ")))
        for no in ("isn't", "isnt", "does not", "doesnt", "nothing", "none", "no", "never"):
            self.assertTrue(negated(f"it {no} burnt", len(f"it {no} ")), no)

    @given(st.integers(2, 9))
    def test_how_often(self, seconds: int) -> None:
        self.assertAlmostEqual(hertz_told(f"every {seconds} seconds") or 0.0, 1.0 / seconds)
        self.assertEqual(hertz_told("twice a second"), 2.0)
        self.assertEqual(hertz_told(f"up {seconds} s, down 1 s"), 1.0 / (seconds + 1))
        self.assertIsNone(hertz_told("steady"))


if __name__ == "__main__":
    unittest.main()
