"""What is typed at the card: the grammar, and a course in the words of a job file."""

import unittest

from loose_rail.app.entry import EntryDesk
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.lamp_pattern import LampPattern
from loose_rail.vocabulary.phase import Phase
from tests.shared import demo_session


class Courses(unittest.TestCase):
    def setUp(self) -> None:
        self.session = demo_session()
        assert self.session.engine is not None
        table = self.session.engine.table
        key = "live.5vs@standby/cable/lamp60"
        self.candidate = next(c for c in table.candidates if c.key == key)
        self.session.measure_bulk(0.0)
        self.session.confirm_state(self.candidate.state)
        self.session.see_lamp(LampPattern.FLASH_DARK)
        self.session.choose(self.candidate)
        self.desk = EntryDesk(self.session)

    def test_a_course_in_words_is_kept_as_a_course(self) -> None:
        self.assertIs(self.desk.phase(), Phase.READING)
        for text, form, low, high in (
            ("0 to 210 in 3 s, then falls to 150", Form.FALLING, 150.0, 210.0),
            ("4.9 V dips to 3.6 at each click", Form.TICKING, 3.6, 4.9),
            ("creeps from 0 to 4 V in half a minute", Form.RISING, 0.0, 4.0),
        ):
            echo = self.desk.echo(text)
            self.assertFalse(echo.error, text)
            self.assertNotEqual(echo.text, "")
            found = self.desk._parse(text).observation
            self.assertEqual((found.form, found.low, found.high), (form, low, high), text)
        timed = self.desk._parse("comes up slowly, 0 to 5.1 V in 8 seconds").observation
        self.assertEqual((timed.form, timed.high, timed.seconds), (Form.RISING, 5.1, 8.0))
        self.assertTrue(self.desk.submit("12 V, then gone").taken)
        taken = self.session.state.readings[-1].observation
        self.assertEqual((taken.form, taken.low, taken.high), (Form.FALLING, 0.0, 12.0))

    def test_words_with_a_number_in_them_are_no_reading(self) -> None:
        for text in ("R12", "pin 5 is loose", "about 5 or so", "4.98 volzz"):
            self.assertTrue(self.desk.echo(text).error, text)


if __name__ == "__main__":
    unittest.main()
