"""Parts offered for places: expectations written from the trade before the code answered."""

import json
import subprocess
import sys
import unittest
from pathlib import Path

import msgspec
from hypothesis import given, settings, strategies as st

from loose_rail.boards.kinds.registry import KINDS
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.worst_volts import least_rating
from loose_rail.judgement.replacement.demand import place_of
from loose_rail.judgement.replacement.electrolytic import Fit
from loose_rail.judgement.replacement.judge_offer import Standard, judge_offer
from loose_rail.judgement.replacement.offer import WORDS
from loose_rail.judgement.replacement.rules import rules_name, rules_of
from loose_rail.kernel.errors import BadEntryError

ROWS = [
    line.split("\t")
    for line in Path(__file__).with_name("substitutions.tsv").read_text("utf-8").splitlines()[1:]
]
PLACES = [
    (board_id, part.ref)
    for board_id in shipped_ids()
    for part in shipped_board(board_id).components
]
AMOUNTS = st.builds(
    lambda number, unit: f"{number:g}{unit}",
    st.sampled_from([0.1, 1, 2, 3.15, 5, 10, 16, 22, 100, 250, 275, 470, 600, 1000]),
    st.sampled_from(["", "V", "A", "W", "u", "n", "k", "VAC", "R", "%"]),
)
LINES = st.lists(AMOUNTS | st.sampled_from(sorted(WORDS)), min_size=1, max_size=7).map(" ".join)


class Substitutions(unittest.TestCase):
    def test_every_one_of_the_list(self) -> None:
        self.assertGreater(len(ROWS), 80)
        for board_id, ref, offer, original, verdict, code in ROWS:
            with self.subTest(place=f"{board_id} {ref}", offer=offer):
                found = judge_offer(shipped_board(board_id), ref, offer, original)
                self.assertEqual(found.fit.value, verdict, found.codes)
                if code != "-":
                    self.assertIn(code, found.codes)
                self.assertEqual(found.left, ())

    def test_what_nobody_read_on_a_composed_board_is_never_made_up(self) -> None:
        """Its place still asks; what stood there is what was told, and nothing else."""
        composed = msgspec.structs.replace(shipped_board("PB-4310-2"), known_by="own")
        read = msgspec.structs.replace(composed, read_parts=["C21", "F1"])
        for ref, offer, original, fit, of_read in (
            ("C21", "1000u 16V 105C low-esr", "", Fit.NOTE, Fit.OK),
            ("C21", "1000u 16V 105C low-esr", "1000u 10V", Fit.OK, Fit.OK),
            ("C21", "100u 16V 105C low-esr", "1000u 10V", Fit.NO, Fit.NO),
            ("C21", "1000u 16V 85C low-esr", "1000u 10V 105C", Fit.NO, Fit.NO),
            ("C21", "1000u 4V 105C low-esr", "", Fit.NO, Fit.NO),
            ("F1", "T3.15AH250V", "", Fit.NO, Fit.OK),
            ("F1", "T3.15AH250V", "T3.15AH250V", Fit.OK, Fit.OK),
            ("F1", "T5AH250V", "T3.15AH250V", Fit.NO, Fit.NO),
        ):
            with self.subTest(ref, offer=offer, original=original):
                self.assertIs(judge_offer(composed, ref, offer, original).fit, fit)
                self.assertIs(judge_offer(read, ref, offer, original).fit, of_read)
        for ref, offer in (("F1", "T5AH250V"), ("C21", "470u 16V 105C low-esr")):
            self.assertIs(judge_offer(read, ref, offer, offer).fit, Fit.NO)  # wrong before, too
        for check in judge_offer(composed, "C21", "1000u 16V 105C low-esr").checks:
            self.assertFalse(isinstance(check.original, float) and check.original > 0, check)

    def test_every_kind_has_rules_and_every_place_is_judged(self) -> None:
        for kind in set(KINDS) - {"electrolytic"}:
            self.assertTrue(rules_of(kind).rows, kind)
        for board_id, ref in PLACES:
            found = judge_offer(shipped_board(board_id), ref, "1")
            self.assertTrue(found.checks, f"{board_id} {ref}")

    def test_the_command_says_the_same(self) -> None:
        done = subprocess.run(
            [
                *(sys.executable, "-m", "loose_rail", "judge", "PB-2408-1", "--place", "CY101"),
                *("--offer", "2n2 X1 440VAC", "--json"),
            ],
            capture_output=True,
            text=True,
            check=False,
        )
        told = json.loads(done.stdout)
        self.assertEqual((told["verdict"], told["safety_part"]), ("no", True))
        self.assertEqual(told["checks"][0]["code"], "safety_class_low")
        self.assertTrue(told["checks"][0]["reason"])


class Never(unittest.TestCase):
    @settings(max_examples=300, deadline=None)
    @given(st.sampled_from(PLACES), LINES, LINES | st.just(""))
    def test_no_school_trades_a_safety_part_or_goes_below_its_place(
        self, place: tuple[str, str], offer: str, original: str
    ) -> None:
        board, ref = shipped_board(place[0]), place[1]
        try:
            strict = judge_offer(board, ref, offer, original)
            other = judge_offer(board, ref, offer, original, Standard.PLACE)
        except BadEntryError:
            return
        if strict.safety:
            self.assertEqual(strict.fit, other.fit)
        asked = place_of(board, ref).demands
        for one in other.checks:
            demand = asked.get(one.attribute)
            if demand is None or not isinstance(one.offered, float):
                continue
            if one.offered < demand.low * 0.999 and one.attribute in ("volts", "volts_ac"):
                self.assertIs(other.fit, Fit.NO, f"{ref} {offer}")
        least = least_rating(board, ref)
        for one in other.checks:
            if least and one.attribute == "voltage" and isinstance(one.offered, float):
                self.assertFalse(one.offered < least * 0.999 and other.fit is not Fit.NO)

    def test_a_step_below_the_old_part_is_for_the_other_school_and_no_safety_part(self) -> None:
        board, old = shipped_board("PB-4270-1"), "coil=12V 5A contacts=1A iso=5000"
        weaker = "coil=12V 3A contacts=1A iso=5000"
        for school in Standard:
            self.assertIs(judge_offer(board, "RY701", weaker, old, school).fit, Fit.NO)
        was, smaller = "N 600V 20A bare to-220", "N 600V 15A bare to-220"
        self.assertIs(judge_offer(board, "Q101", smaller, was).fit, Fit.NO)
        self.assertIs(judge_offer(board, "Q101", smaller, was, Standard.PLACE).fit, Fit.NOTE)

    def test_nothing_that_is_not_said_passes_in_a_safety_place(self) -> None:
        for board_id, ref in PLACES:
            board = shipped_board(board_id)
            if rules_name(place_of(board, ref)) == "electrolytic":
                continue
            rules = rules_of(rules_name(place_of(board, ref)))
            if rules.safety and any(row.missing == "no" for row in rules.rows):
                self.assertIs(judge_offer(board, ref, "1").fit, Fit.NO, ref)


if __name__ == "__main__":
    unittest.main()
