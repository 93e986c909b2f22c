"""A phrase and its negation never score alike; what is negated or unclear counts for nothing.

The pairs were written from how people talk at a bench, before the program was asked.
"""

import unittest

from hypothesis import given, strategies as st

from loose_rail.app.guides.loads import LoadGuide
from loose_rail.app.job_file.clues_of import BAD, GOOD, NO, YES
from loose_rail.app.job_file.entries import state_in
from loose_rail.boards.load import shipped_board
from loose_rail.diagnosis.evidence.customer_words import proposals
from loose_rail.diagnosis.evidence.soft_evidence import finding_key, findings
from loose_rail.jobs import events as ev
from loose_rail.kernel.negation import either
from loose_rail.vocabulary.board_state import BoardState, Power
from tests.app.job_file.test_case_clues import gain, told
from tests.shared import demo_session

NEGATIONS = ("not", "never", "didn't", "isn't", "hasn't", "hardly", "not really", "not yet", "no")

COMPLAINTS = (
    ("it clicks once", "clicks_once", "it never clicks once"),
    ("the standby light blinks", "indicator_blinks", "the standby light does not blink"),
    ("it hums", "hum", "it doesn't hum"),
    ("it is buzzing", "hum", "it is not buzzing"),
    ("there is a burning smell", "burnt_smell", "there is no burning smell"),
    ("smoke came out", "burnt_smell", "no smoke came out"),
    ("it is ticking", "ticks", "it isn't ticking"),
    ("the screen is dim", "picture_dim", "the screen is not dim"),
    ("it restarts", "restarts", "it never restarts"),
    ("lines on the picture", "picture_lines", "no lines on the picture"),
    ("there was a bang", "bang", "there was no bang"),
    ("the fuse blew", "breaker_trips", "the fuse never blew"),
    ("the back light is on", "backlight_fine", "the back light is not on"),
    ("sound is fine", "sound_fine", "sound is not fine"),
    ("it is dead", "dead_silent", "it isn't completely dead"),
    ("it does it sometimes", "comes_and_goes", "it is not intermittent"),
)
SEEN = (
    ("domed", "domed", "not domed"),
    ("top bulged", "domed", "top isn't bulged"),
    ("burnt", "burnt", "not visibly burnt"),
    ("a crack in the body", "cracked", "no crack in the body"),
    ("leaking", "crusted", "never leaked"),
    ("very hot", "hot", "not hot"),
    ("blown open", "holed", "hasn't blown"),
    ("scorch marks", "burnt", "no sign of scorch marks"),
    ("glass blackened", "blackened", "glass not blackened"),
    ("ring joint", "ringed", "no ring joint"),
    ("dull", "dull", "not at all dull"),
)
RESULTS = (
    ("replaced", "C21", "fixed it", "it hasn't fixed it"),
    ("replaced", "C21", "works again", "never works again"),
    ("replaced", "C21", "helped", "not helped"),
    ("replaced", "C21", "better", "hardly better"),
    ("removed", "Q1", "shorted", "not shorted"),
    ("removed", "Q1", "open", "not open"),
    ("removed", "C27", "dried out", "isn't dried out"),
    ("removed", "C27", "leaky", "not leaky"),
    ("removed", "D9", "good", "not good"),
    ("removed", "D9", "ok", "not ok"),
    ("unplugged", "MB", "rail came back", "rail hasn't come back, never came back"),
    ("unplugged", "MB", "recovered", "not recovered"),
)
COUNTS_FOR_NOTHING = (
    ("replaced", "C21", "not sure"),
    ("replaced", "C21", "stays on"),
    ("replaced", "C21", "not worse"),
    ("replaced", "C21", "helped, but no change"),
    ("unplugged", "MB", "stays on"),
    ("unplugged", "MB", "not the same"),
    ("removed", "Q1", "measured"),
    ("outlet tried", "", "outlet not dead"),
    ("reset", "", "hm"),
)
BARE = (
    *("standby, main cable pulled", "standby, main cable unplugged", "standby, cable off"),
    *("standby without the main cable", "plugged in, main board disconnected", "standby, bare"),
    *("standby, cable not connected", "standby, main cable removed", "standby, cable was pulled"),
)
CABLED = (
    *("standby, main cable on", "standby, main cable connected", "standby, cable is in"),
    *("standby", "plugged in, main board connected"),
)
UNCLEAR = ("standby, cable wiggled", "on, main cable pulled", "standby, something at the connector")


LOOKS = (
    (
        "ringed",
        (
            "centre pin loose, solder cracked",
            "ring crack round the pin",
            "solder cracked",
            "crack in the solder",
            "pin moves in its joint",
            "pin wobbles",
            "hairline ring at the pin",
            "fractured solder",
        ),
    ),
    (
        "dull",
        ("dry solder", "grey joint", "dull solder", "cold solder joint", "solder looks grainy"),
    ),
    (
        "domed",
        (
            "puffed up",
            "top pushed up",
            "swollen",
            "a belly on top",
            "bowed lid",
            "three caps with rounded tops",
            "two cans with swollen tops",
        ),
    ),
    (
        "crusted",
        ("brown goo underneath", "leaked at the bottom", "fluid on the board", "white crust"),
    ),
    (
        "burnt",
        ("sooty", "toasted", "charred", "board brown below it", "scorch mark", "blackened body"),
    ),
    (
        "holed",
        (
            "blown apart",
            "a piece is missing",
            "lid gone",
            "exploded",
            "split open",
            "crater in the top",
        ),
    ),
    ("cracked", ("cracked in two", "hairline crack across the body", "chipped")),
    ("blackened", ("glass black inside", "mirror on the glass", "silvered glass")),
    ("dark_ends", ("black ends", "grey ends, pink glow")),
    ("nothing_seen", ("looks fine", "clean", "nothing to see", "spotless")),
    ("", ("not cracked", "not swollen", "no burn marks", "never leaked")),
)
"""What people say that they see, and what is meant; empty for what is negated."""


class Pairs(unittest.TestCase):
    def test_what_people_say_that_they_see(self) -> None:
        for key, phrases in LOOKS:
            for said in phrases:
                self.assertEqual(finding_key(said), key, said)

    def test_a_complaint_and_its_negation(self) -> None:
        for said, kind, negated in COMPLAINTS:
            self.assertIn(kind, [one.kind for one in proposals(said)], said)
            self.assertNotIn(kind, [one.kind for one in proposals(negated)], negated)

    def test_what_was_seen_and_was_not(self) -> None:
        for said, key, negated in SEEN:
            self.assertEqual(finding_key(said), key)
            self.assertNotEqual(finding_key(negated), key, negated)
            clues, notes = told({"findings": [{"part": "C27", "seen": negated}]})
            self.assertEqual((clues.clues, len(notes.not_used)), ((), 1), negated)
        for key in findings():
            self.assertEqual(finding_key(key), key)

    def test_results_and_their_negations(self) -> None:
        for did, part, said, negated in RESULTS:
            plain, _ = told({"actions": [{"did": did, "part": part, "result": said}]})
            self.assertEqual(len(plain.clues), 1, said)
            self.assertGreater(abs(gain(plain.clues[0], part)), 0.2, said)
            turned, notes = told({"actions": [{"did": did, "part": part, "result": negated}]})
            for clue in turned.clues:  # the opposite may count, the same may not
                self.assertLess(gain(clue, part) * gain(plain.clues[0], part), 0, negated)
            self.assertEqual(bool(turned.clues), not notes.not_used, negated)

    def test_what_is_not_understood_counts_for_nothing_and_says_so(self) -> None:
        for did, part, said in COUNTS_FOR_NOTHING:
            clues, notes = told({"actions": [{"did": did, "part": part, "result": said}]})
            self.assertEqual(clues.clues, (), said)
            self.assertEqual(len(notes.not_used), 1, said)

    @given(st.sampled_from(NEGATIONS), st.sampled_from(("", "visibly ", "really ", "at all ")))
    def test_no_negated_word_ever_counts_as_itself(self, negation: str, small: str) -> None:
        for words, yes, no in ((YES, YES, NO), (GOOD, GOOD, BAD)):
            for word in words:
                if word not in ("all right",):
                    self.assertIsNot(either(f"{negation} {small}{word}", yes, no), True, word)
        for word in BAD:
            self.assertIsNot(either(f"{negation} {small}{word}", GOOD, BAD), False, word)


class States(unittest.TestCase):
    def test_a_pulled_cable_is_off_and_what_is_unclear_is_no_state(self) -> None:
        board = shipped_board("PB-4310-2")
        for text in BARE:
            self.assertEqual(state_in(text, board), BoardState(Power.STANDBY, False, 0), text)
        for text in CABLED:
            self.assertEqual(state_in(text, board), BoardState(Power.STANDBY, True, 0), text)
        for text in UNCLEAR:
            self.assertIsNone(state_in(text, board), text)


class AtTheBench(unittest.TestCase):
    def test_only_a_plain_answer_about_a_load_counts(self) -> None:
        session = demo_session()
        guide = LoadGuide(session)
        number = next(
            n for n, line in enumerate(guide._lines(), start=1) if line.keeps_demand or n == 1
        )
        for said in (
            "stays on",
            "not back",
            "no",
            "back?",
            "didn't come back",
            "hm",
            "not the same",
        ):
            before = len(session.records)
            self.assertEqual(guide.enter(f"{number} {said}").kind, "problem", said)
            self.assertEqual(len(session.records), before)
        guide.enter(f"{number} same")
        self.assertEqual(session.records[-1].event.answer, "no_change")  # type: ignore[union-attr]
        self.assertIsInstance(session.records[-1].event, ev.ClueNoted)


if __name__ == "__main__":
    unittest.main()
