"""Paperwork: what a seller is asked, what stays in the shop, and what a photograph hangs on."""

import unittest

from hypothesis import given, settings, strategies as st

from loose_rail.app.album import Album, subject_words
from loose_rail.app.papers import NUMBERS, note_detail, order_by_next
from loose_rail.jobs import events as ev
from loose_rail.screens.take_in.papers import papers_state
from tests.shared import demo_session

WORD = st.text(st.characters(codec="ascii", categories=("L", "N")), min_size=4, max_size=12)


class Papers(unittest.TestCase):
    @settings(max_examples=25)
    @given(st.lists(WORD, min_size=3, max_size=3, unique=True), WORD, st.integers(0, 4))
    def test_every_number_is_asked_for_and_no_name(
        self, numbers: list[str], name: str, turns: int
    ) -> None:
        session = demo_session()
        for (key, _), text in zip(NUMBERS, numbers, strict=True):
            note_detail(session, key, f"N{text}")
        note_detail(session, "customer", f"Mx {name}zz")
        for _ in range(turns):
            order_by_next(session)
        state = papers_state(session)
        chosen = f"N{numbers[turns % 3]}"
        self.assertEqual(state.order_words, f"For ordering: {chosen}")
        self.assertTrue(state.seller_text.startswith(f"I am looking for the power board {chosen} "))
        for text in numbers:
            self.assertIn(f"N{text}", state.seller_text)
        self.assertNotIn(f"{name}zz", state.seller_text)
        self.assertEqual([field.orders for field in state.fields].count(True), 1)

    def test_an_emptied_line_is_gone_and_orders_no_more(self) -> None:
        session = demo_session()
        note_detail(session, "number_sticker", "S-1")
        note_detail(session, "number_etched", "E-2")
        order_by_next(session)
        self.assertIn("E-2", papers_state(session).order_words)
        note_detail(session, "number_etched", "  ")
        self.assertIn("S-1", papers_state(session).order_words)
        self.assertNotIn("E-2", papers_state(session).seller_text)
        count = len(session.records)
        note_detail(session, "number_sticker", " S-1 ")  # nothing new: nothing recorded
        self.assertEqual(len(session.records), count)
        self.assertEqual(note_detail(session, "price_set", "much").kind, "problem")
        self.assertEqual(session.state.detail("price_set"), "")

    def test_a_photograph_hangs_on_the_work_of_its_stage(self) -> None:
        session = demo_session()
        album = Album(session, None, lambda: "C27")
        wanted = {"take_in": "at take in", "look_over": "C27", "verdict": "at verdict"}
        for stage, words in wanted.items():
            session.record(ev.StageEntered(stage))
            self.assertEqual(subject_words(album.subject_now()), words)
        self.assertIn("no folder", album.keep_bytes(b"x", "pasted")[1][0])
        self.assertEqual(album.compare().kind, "problem")
        self.assertEqual(album.mark(0.5, 0.5, "C21").kind, "problem")


if __name__ == "__main__":
    unittest.main()
