"""Parts that a model does not have: told under their own name, never as the nearest."""

import unittest

from benchmarks.heard import BOARDS

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.log.came_of_it import came_of
from loose_rail.app.job_file.log.entries import entries_of
from loose_rail.app.job_file.log.tell import tell
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.unlisted import unlisted_part
from loose_rail.app.job_file.notes import Notes
from loose_rail.app.job_file.read import Case
from loose_rail.diagnosis.evidence.symptoms import kinds
from loose_rail.kernel.quantities import percent
from loose_rail.screens.shared.board_rows import boards_of
from loose_rail.screens.verdict.present import level_words
from tests.app.job_file.log.test_told_pairs import case_of

DRAINED = {"state": "unplugged, drained"}
LOW = {"state": "standby, main cable off"}


def teller_of(*log: dict[str, str]) -> Teller:
    teller = Teller(case_of(BOARDS["L"]).engine.table, Notes())
    tell(teller, entries_of(list(log), None, teller.notes))
    return teller


def first(case: Case) -> tuple[str, str, float]:
    found = answer(case, 1)["suspects"]
    return found["parts"][0]["part"], found["boards"][0]["board"], found["boards"][0]["probability"]


class Unlisted(unittest.TestCase):
    def test_one_that_is_bad_by_itself_leads_and_is_found(self) -> None:
        for what, result in (
            ("snubber across the 12 V rectifier", "0.2 ohm by itself"),
            ("zener of the 12 V", "shorted both ways"),
            ("choke of the 24 V", "OL"),
            ("wire link by the 24 V output", "open"),
        ):
            bad = {"did": "lifted", "what": what, "result": result}
            case = case_of(BOARDS["L"], DRAINED, bad)
            part, board, share = first(case)
            self.assertEqual(part, what)
            self.assertEqual(board, "power board")
            self.assertGreater(share, 0.9)
            self.assertEqual(answer(case, 1)["finding"]["part"], what)
            self.assertEqual(case.notes.not_used, [])

    def test_one_that_is_good_by_itself_says_little_and_is_no_find(self) -> None:
        good = {"did": "lifted", "what": "choke of the 24 V", "result": "0.1 ohm, good"}
        found = answer(case_of(BOARDS["L"], DRAINED, good), 1)
        self.assertNotIn("choke", found["finding"]["part"])
        plain = answer(case_of(BOARDS["L"], DRAINED), 1)
        for one, other in zip(
            found["suspects"]["parts"][:3], plain["suspects"]["parts"][:3], strict=True
        ):
            self.assertEqual(one["suspect"], other["suspect"])

    def test_what_cured_it_was_it_and_what_did_not_was_not(self) -> None:
        new = {"did": "replaced", "what": "choke of the 24 V", "result": "24.1 V, picture"}
        part, board, share = first(case_of(BOARDS["L"], LOW, new))
        self.assertEqual((part, board), ("choke of the 24 V", "power board"))
        self.assertGreater(share, 0.9)
        vain = {**new, "result": "just the same"}
        self.assertNotEqual(first(case_of(BOARDS["L"], LOW, vain))[0], "choke of the 24 V")

    def test_damage_is_seen_at_the_part_and_not_at_its_neighbours(self) -> None:
        seen = {"seen": "black crater", "at": "zener of the 12 V"}
        case = case_of(BOARDS["L"], seen)
        with_it = {one["part"]: one for one in answer(case, 1)["suspects"]["parts"]}
        self.assertIn("zener of the 12 V", with_it)
        self.assertIn("damage is seen", with_it["zener of the 12 V"]["title"])
        self.assertFalse([r for r in case.records if "12 V" in str(r.event)])

    def test_what_it_is_not(self) -> None:
        teller = teller_of()
        for words in (
            "main fuse",
            "12 V reservoir",
            "choke on the main board",
            "fuse of the timing board",
            "mains cord",
            "the picture",
            "remote control",
        ):
            self.assertEqual(unlisted_part(teller, words), "", words)
        for words, name in (
            ("solder joint of the choke of the 24 V", "choke of the 24 V"),
            ("the ferrite bead by the 24 V output", "ferrite bead by the 24 V output"),
        ):
            self.assertEqual(unlisted_part(teller, words), name)

    def test_file_and_window_say_the_same(self) -> None:
        bad = {"did": "lifted", "what": "choke of the 24 V", "result": "OL"}
        case = case_of(BOARDS["L"], DRAINED, bad)
        told, now = answer(case, 1), review_of(case)
        share = told["finding"]["probability"]
        self.assertEqual(now.unlisted, ("choke of the 24 V", "bad"))
        self.assertEqual(told["suspects"]["parts"][0]["probability"], share)
        words = level_words(now)
        self.assertRegex(words, r"^Board: power board (99|> 99|100) %")
        self.assertIn(f"Section: choke of the 24 V {percent(share)}", words)
        self.assertNotIn("outside", words)
        self.assertEqual(boards_of(now)[0].name, "Power board")
        sections = {one["section"]: one["probability"] for one in told["suspects"]["sections"]}
        self.assertEqual(sections["choke of the 24 V"], share)
        self.assertFalse([one for one in told["warnings"] if "outside the model" in one])


class WordsAndVolts(unittest.TestCase):
    def test_words_are_held_against_the_rails_they_name(self) -> None:
        teller = teller_of({"state": "standby, cable off"}, {"read": "3.1 V", "at": "5VSB"})
        for result, meant in (
            ("5VSB 5.1 V, steady", True),
            ("5VSB jumps about, 5.1 V", None),  # the volts are right, the words are not
            ("5VSB still 3.2 V", False),
            ("5VSB stands at 3.2 V", None),
            ("5.1 V, then dead again", False),
            ("dead as before, 5.1 V", False),
        ):
            self.assertIs(came_of(teller, result), meant, result)


class FarLamps(unittest.TestCase):
    def test_lamps_on_another_board_look_like_lamps(self) -> None:
        """Dark is dark, whoever drives the lamps: what own lamps decide, those elsewhere do."""
        for name, kind in kinds().items():
            chances = dict(kind.chances)
            if "lamps_out" not in chances or name in ("dies_warm", "picture_dim", "picture_menu"):
                continue
            far = chances.get("lamps_itself", chances["any"])
            self.assertLess(max(far, 0.01), 6 * max(chances["lamps_out"], 0.01), name)
            self.assertGreater(6 * max(far, 0.01), max(chances["lamps_out"], 0.01), name)


if __name__ == "__main__":
    unittest.main()
