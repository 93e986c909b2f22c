"""Two files of one board: merged with itself nothing changes, what theirs adds is there after."""

import unittest

import msgspec
from hypothesis import given, settings, strategies as st

from loose_rail.boards.own.binding import Struck
from loose_rail.boards.own.board import Composed
from loose_rail.boards.own.edit import edited
from loose_rail.boards.own.file import (
    SCHEMA,
    OwnBoardFile,
    board_of_file,
    composed,
    keeping_names,
    without_line,
)
from loose_rail.boards.own.merge import merged
from loose_rail.boards.own.place_words import LOOKS, where_to_look
from loose_rail.boards.own.say import doubts_of, make_up_lines, pin_words
from loose_rail.boards.own.seen import SEEN, kind_words, toggled
from loose_rail.kernel.errors import BoardFileError
from loose_rail.vocabulary.roles import BoardRole
from tests.material import some

BASE = OwnBoardFile(
    SCHEMA,
    "M-1",
    kind="standby flyback, main flyback, LED driver 60 V",
    wake="high",
    connectors=["CN1/2: 12V, 12V, 5VSB, GND, PS-ON, BL-ON", "CN2: LED+, LED-"],
)
LINES = (
    "C21 = 5 V reservoir 1000u 10V",
    "C31 = 12 V reservoir 1000u 25V x2",
    "C32 = 12 V reservoir",
    "Q1 = standby switch",
    "Q2 = LED boost switch",
    "no LED boost choke",
    "also ZZ-1",
    "also ZZ-2",
    "12V stands at 12.6",
    "CN3: 5V, GND",
    "CN1 pin 6 = DIM",
    "set LED 32 inch",
    "mains 120",
)


def with_lines(lines: list[str]) -> OwnBoardFile:
    own = BASE
    for line in lines:
        try:
            own, _ = edited(own, line)
        except BoardFileError:  # a line that contradicts one before it
            continue
    return own


SOME = st.lists(st.sampled_from(LINES), max_size=6, unique=True)


class Merging(unittest.TestCase):
    @settings(max_examples=some(20, 80), deadline=None)
    @given(SOME, SOME)
    def test_nothing_of_ours_is_lost_and_theirs_is_there_or_told(
        self, ours_lines: list[str], theirs_lines: list[str]
    ) -> None:
        ours, theirs = with_lines(ours_lines), with_lines(theirs_lines)
        found = merged(ours, theirs)
        board_of_file(found.file)
        self.assertEqual(found.file.parts[: len(ours.parts)], ours.parts)
        self.assertEqual(found.file.connectors[: len(ours.connectors)], ours.connectors)
        self.assertLessEqual(set(ours.aliases) | set(theirs.aliases), set(found.file.aliases))
        told = " ".join((*found.taken, *found.left))
        for line in theirs.parts:
            name = line.place if isinstance(line, Struck) else line.ref
            self.assertTrue(line in found.file.parts or name in told, (name, told))
        for plug in theirs.plugs:
            mine = {one.name: one for one in found.file.plugs}[plug.name]
            self.assertTrue(mine.pins == plug.pins or f"{plug.name}: theirs" in told)
        again = merged(found.file, theirs)
        self.assertEqual(again.taken, ())
        self.assertEqual(again.file, found.file)

    @settings(max_examples=some(12, 50), deadline=None)
    @given(SOME)
    def test_merged_with_itself_nothing_changes(self, lines: list[str]) -> None:
        own = with_lines(lines)
        found = merged(own, own)
        self.assertEqual((found.file, found.taken, found.left), (own, (), ()))

    def test_a_line_that_another_speaks_of_can_not_go_before_it(self) -> None:
        own = with_lines(["C31 = 12 V reservoir 1000u 25V x2"])
        own, _ = edited(own, "C33 with C31")
        with self.assertRaisesRegex(BoardFileError, "C31"):
            without_line(
                msgspec.structs.replace(
                    own,
                    parts=[
                        msgspec.structs.replace(one, slot="") if hasattr(one, "slot") else one
                        for one in own.parts
                    ],
                ),
                1,
            )
        self.assertEqual(len(without_line(own, 2).parts), 1)
        self.assertEqual(keeping_names(own, own), own)


class Telling(unittest.TestCase):
    """What a composed board is taken for, in words."""

    def made(self, **changes: object) -> tuple[OwnBoardFile, Composed]:
        own = msgspec.structs.replace(BASE, **changes)
        return own, composed(own)

    @given(st.lists(st.integers(1, len(SEEN)), max_size=12))
    def test_of_a_group_one_holds_and_words_make_a_board(self, turns: list[int]) -> None:
        chosen: tuple[str, ...] = ()
        for number in turns:
            chosen = toggled(chosen, SEEN[number - 1].key)
        groups = [one.group for one in SEEN if one.key in chosen and one.group]
        self.assertEqual(len(groups), len(set(groups)))
        own, made = self.made(kind=kind_words(chosen, ""))
        self.assertTrue(make_up_lines(made.make))
        self.assertEqual(board_of_file(own).known_by, "own")

    def test_what_nobody_said_is_asked_for(self) -> None:
        for changes, words in (
            ({"connectors": []}, "no connector is typed"),
            ({"kind": "standby flyback", "set_kind": "LED TV 55 inch"}, "before the big can"),
            ({"wake": "unknown"}, "no jumper until it is measured"),
            (
                {"kind": "standby, main flyback", "connectors": BASE.connectors[:1]},
                "light the lamps",
            ),
        ):
            own, made = self.made(**changes)
            self.assertIn(words, " ".join(doubts_of(own, made)), changes)
        own, made = self.made(set_kind="LED 24 inch")
        self.assertEqual(doubts_of(own, made), [])

    def test_pins_and_parts_are_told_in_words(self) -> None:
        own, made = self.made()
        words = {key: pin_words(own, pin) for key, pin in made.pins.items()}
        self.assertEqual(words["CN1", 3], "standby rail, 5 V")
        self.assertEqual(words["CN2", 1], "LED strips, high end")
        wrong, _ = edited(own, "12V stands at 12.6")
        self.assertEqual(
            pin_words(wrong, made.pins["CN1", 1]), "rail, 12 V by its label, 12.6 V in truth"
        )
        board = board_of_file(own)
        for part in board.components:
            if part.kind in LOOKS:
                self.assertIn(LOOKS[part.kind], where_to_look(board, part))
        bulk = board.component(board.roles[BoardRole.BULK][0])
        self.assertIn("the biggest can", where_to_look(board, bulk))


if __name__ == "__main__":
    unittest.main()
