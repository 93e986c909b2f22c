"""Taps, the answers of the picture, and the customer's words in pieces."""

import unittest

from hypothesis import given, settings, strategies as st

from loose_rail.app.intake import understood_pieces
from loose_rail.app.set_picture import (
    FEWEST_TAPS,
    KEYS,
    PAUSE_SECONDS,
    PLACES,
    TAPPED,
    TapCounter,
    note_rate,
    picture_of,
    turn_answer,
)
from loose_rail.diagnosis.evidence.history import history_facts
from loose_rail.diagnosis.evidence.symptoms import kinds
from loose_rail.screens.take_in.view import _underlined
from tests.shared import demo_session


class Taps(unittest.TestCase):
    @given(
        st.floats(0.3, 2.5),
        st.lists(st.floats(-0.08, 0.08), min_size=8, max_size=14),
        st.integers(2, 6),
    )
    def test_an_unsteady_hand_that_misses_one_tap_still_gives_the_rate(
        self, step: float, wobble: list[float], missed: int
    ) -> None:
        counter = TapCounter()
        for number, off in enumerate(wobble):
            if number != missed or 2.16 * step > PAUSE_SECONDS:  # the wobble stretches the gap
                counter.tap(number * step + off * step)
        hertz = counter.hertz
        assert hertz is not None
        self.assertLess(abs(hertz * step - 1.0), 0.2)

    @given(st.integers(0, FEWEST_TAPS - 1), st.floats(0.2, 2.0))
    def test_few_taps_and_a_pause_give_no_rate(self, count: int, step: float) -> None:
        counter = TapCounter()
        for number in range(count):
            counter.tap(number * step)
        self.assertIsNone(counter.hertz)
        counter.tap(count * step + PAUSE_SECONDS + 1.0)
        self.assertEqual(counter.count, 1)
        counter.clear()
        self.assertEqual(counter.count, 0)

    def test_a_rate_belongs_to_what_counts_and_comes_back_with_undo(self) -> None:
        session = demo_session()
        for kind in TAPPED:
            for one in [s for s in session.state.symptoms if s.symptom in TAPPED]:
                session.take_back(one)
            turn_answer(session, kind)
            self.assertTrue(note_rate(session, 1.2).taken)
            rated = {one.symptom: one.hertz for one in session.state.symptoms}
            self.assertEqual(rated[kind], 1.2)
            self.assertIn("1.2 a second", picture_of(session).rate_words)
            session.undo()
            self.assertNotIn(1.2, [one.hertz for one in session.state.symptoms])


class Picture(unittest.TestCase):
    def test_every_answer_has_a_key_of_its_own_and_is_known(self) -> None:
        answers = [kind for _, _, some in PLACES for kind, _ in some]
        self.assertEqual(len(set(answers)), len(answers))
        self.assertLessEqual(len(answers), len(KEYS))
        self.assertLessEqual(set(answers), set(kinds()) | set(history_facts()))
        shown = [one for place in picture_of(demo_session()).places for one in place.answers]
        self.assertEqual([one.kind for one in shown], answers)
        self.assertEqual(len({one.key for one in shown}), len(shown))


class Words(unittest.TestCase):
    @settings(max_examples=200)
    @given(
        st.lists(
            st.sampled_from(
                [
                    "it ticks",
                    "No backlight",
                    "sound is fine",
                    "<b>",
                    "and",
                    "won’t",
                    "&",
                    "  ",
                    "nine years old",
                    "a smell",
                    "\n",
                    "getting worse",
                ]
            ),
            max_size=9,
        )
    )
    def test_pieces_joined_are_the_words_and_what_is_typed_stays_text(
        self, words: list[str]
    ) -> None:
        text = " ".join(words)
        pieces = understood_pieces(text)
        self.assertEqual("".join(piece for piece, _ in pieces), text)
        shown = _underlined(pieces)
        self.assertNotIn("<b>", shown)
        self.assertEqual(shown.count("<u>"), sum(known for _, known in pieces))

    def test_what_is_understood_is_underlined(self) -> None:
        for text, said in (
            ("No backlight, sound is fine.", ["No backlight", "sound is fine"]),
            ("Picture w/o  sound.", ["w/o  sound"]),
        ):
            known = [piece for piece, is_known in understood_pieces(text) if is_known]
            self.assertEqual(known, said)


if __name__ == "__main__":
    unittest.main()
