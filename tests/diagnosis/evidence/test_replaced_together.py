"""Parts that were replaced together, and how a lamp in line speaks of it: rules over every row."""

import unittest
from pathlib import Path

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.app.job_file.log.outcomes import outcome
from loose_rail.diagnosis.evidence.clauses import told
from loose_rail.diagnosis.evidence.soft_evidence import replaced_clue
from tests.shared import table

LISTS = Path(__file__).parents[2] / "app" / "job_file" / "log"
REFS = sorted({fault.ref for row in table().rows for fault in row.faults})
SEVERAL = [row for row in table().rows if len({fault.ref for fault in row.faults}) > 1]


class Together(unittest.TestCase):
    @given(st.sampled_from(SEVERAL), st.data())
    @settings(deadline=None, max_examples=60)
    def test_a_cure_fits_best_where_all_that_failed_is_new(self, row: object, data: object) -> None:
        """All new, then the cause, then a consequence alone, then nothing of it."""
        assert isinstance(data, st.DataObject)
        rows = table().rows
        number = next(k for k, one in enumerate(rows) if one is row)
        refs = list(dict.fromkeys(fault.ref for fault in rows[number].faults))
        more = data.draw(st.sampled_from([ref for ref in REFS if ref not in refs]))

        def fits(*new: str) -> float:
            return float(replaced_clue(table(), new[0], True, new).log[number])

        whole, cause = fits(*refs), fits(refs[0])
        consequence, nothing = fits(*refs[1:]), fits(more)
        self.assertGreater(whole, cause)
        self.assertGreater(cause, consequence)
        self.assertGreater(consequence, nothing)
        self.assertEqual(fits(*refs, more), whole)  # what else was renewed hides nothing

    @given(st.lists(st.sampled_from(REFS), min_size=1, max_size=4, unique=True))
    @settings(deadline=None, max_examples=60)
    def test_what_changed_nothing_was_not_all_of_it(self, new: list[str]) -> None:
        log = replaced_clue(table(), new[0], False, new).log
        for row, likely in zip(table().rows, log, strict=True):
            refs = {fault.ref for fault in row.faults}
            if refs:
                self.assertEqual(bool(likely < np.log(0.5)), refs <= set(new), row.key)

    def test_the_order_in_which_they_are_named_does_not_count(self) -> None:
        for new in (REFS[:3], REFS[5:9]):
            one = replaced_clue(table(), new[0], True, new).log
            other = replaced_clue(table(), new[-1], True, new[::-1]).log
            np.testing.assert_array_equal(one, other)


class LampInLine(unittest.TestCase):
    def test_a_lamp_that_goes_out_turns_no_outcome_round(self) -> None:
        """Every known outcome after it stays what it was; what was not plain is a cure: the short
        is gone."""
        lines = (LISTS / "outcomes.txt").read_text(encoding="utf-8").splitlines()
        known = [line.rpartition("|") for line in lines if line and not line.startswith("#")]
        self.assertGreater(len(known), 60)
        wants = {"yes": True, "no": False}
        for lamp in ("series lamp goes dark", "bulb flashes once, then goes out"):
            for words, _, want in known:
                said = outcome(f"{lamp}; {words.strip()}")
                if want.strip() in wants:
                    self.assertIs(said, wants[want.strip()], f"{lamp}; {words}")
        self.assertIs(outcome("lamp goes dark"), False)  # one of the set


THINGS = {"picture": "picture", "sound": "sound", "backlight": "backlight"}


class YesAndNo(unittest.TestCase):
    @given(
        st.permutations(sorted(THINGS)),
        st.tuples(*[st.booleans()] * 3),
        st.sampled_from([", ", "; ", ". "]),
        st.sampled_from([" ", ": "]),
    )
    @settings(deadline=None)
    def test_a_list_of_what_is_there_and_what_is_not(
        self, order: list[str], there: tuple[bool, bool, bool], split: str, mark: str
    ) -> None:
        said = dict(zip(order, there, strict=True))
        text = split.join(
            f"{one}{mark}{'yes' if is_there else 'no'}" for one, is_there in said.items()
        )
        kinds = set(told(text).kinds)
        lit = said["backlight"]
        grey = not said["picture"] and lit and said["sound"]
        self.assertIs("picture_black_lit" in kinds, grey, text)
        self.assertIs("sound_none" in kinds, not said["sound"], text)
        self.assertIs("backlight_none" in kinds, not lit, text)
        if said["picture"]:
            self.assertFalse(kinds & {"picture_none", "picture_black_lit"}, text)
        self.assertFalse(kinds & {"starts_then_stops", "never_starts", "indicator_none"}, text)


if __name__ == "__main__":
    unittest.main()
