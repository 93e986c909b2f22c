"""More than twelve hundred ways to say it: 95 of 100 are heard, none is turned round."""

import unittest
from pathlib import Path

from loose_rail.diagnosis.evidence.customer_words import proposals
from loose_rail.diagnosis.evidence.history import history_facts
from loose_rail.diagnosis.evidence.symptoms import kinds

TABLE = Path(__file__).with_name("wordings.txt")
LONGER = tuple(
    Path(__file__).with_name(f"wordings_{one}.txt")
    for one in (
        "second",
        "third",
        "fourth",
        "fifth",
        "sixth",
        "seventh",
        "eighth",
        "ninth",
        "tenth",
        "eleventh",
        "twelfth",
    )
)
LEAST_HEARD = 0.95


def rows(table: Path = TABLE) -> list[tuple[str, set[str], set[str]]]:
    found = []
    for line in table.read_text(encoding="utf-8").splitlines():
        if line and not line.startswith("#"):
            text, heard, never = (part.strip() for part in f"{line} |".split("|")[:3])
            found.append((text, set(heard.split()), set(never.split())))
    return found


class Wordings(unittest.TestCase):
    def test_heard_and_never_turned_round(self) -> None:
        table = rows()
        known = {*kinds(), *history_facts()}
        missed = []
        for text, heard, never in table:
            self.assertLessEqual(heard | never, known, text)
            found = {one.kind for one in proposals(text)}
            self.assertFalse(found & never, f"{text}: {found & never}")
            if heard and not found & heard:
                missed.append((text, found))
        self.assertGreaterEqual(len(table), 630)
        self.assertLessEqual(len(missed), (1.0 - LEAST_HEARD) * len(table), missed)

    def test_of_longer_words_all_that_they_say_is_heard(self) -> None:
        for name in LONGER:
            table, missed = rows(name), []
            for text, heard, never in table:
                found = {one.kind for one in proposals(text)}
                self.assertFalse(found & never, f"{text}: {found & never}")
                if not heard <= found:
                    missed.append((text, heard - found))
            self.assertGreaterEqual(len(table), 30)
            self.assertLessEqual(len(missed), (1.0 - LEAST_HEARD) * len(table), missed)


if __name__ == "__main__":
    unittest.main()
