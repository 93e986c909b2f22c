"""Profiles that an earlier version made of a kind and a pinout: they still compute, nameless."""

import re
import tempfile
import unittest
from pathlib import Path

import msgspec

from loose_rail.boards.by_pinout import by_pinout
from loose_rail.boards.cold_network import cold_network
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.validate import problems_of
from loose_rail.judgement.safety import SafetyFacts, state_refusals
from loose_rail.storage.board_book import BoardBook, without_example
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from tests.boards.own.spoken import spoken

DESIGNATOR = re.compile(r"\b(?:CN|BD|RV|CX|CY|LF|NT|LS|LP|[CQRDUTLF])\d{1,4}\b")


class EarlierProfiles(unittest.TestCase):
    def test_every_example_can_be_told_without_its_own_pins_and_still_computes(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            own = by_pinout(board, "", {})
            self.assertEqual(problems_of(own), [], board_id)
            self.assertEqual(len({part.ref for part in own.components}), len(board.components))
            self.assertEqual(len(cold_network(own).elements), len(cold_network(board).elements))

    def test_no_jumper_goes_on_a_board_that_is_known_by_its_printed_pinout_alone(self) -> None:
        facts = SafetyFacts(UNPLUGGED, 0.0, True)
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            for one, refused in ((board, False), (by_pinout(board, "", {}), True)):
                codes = {r.code for r in state_refusals(one, BoardState(Power.FORCED), facts)}
                self.assertEqual("unproved_pins" in codes, refused, board_id)

    def test_a_copy_of_the_example_that_an_earlier_version_kept_loses_its_pins(self) -> None:
        example = shipped_board("PB-5012-3")
        copied = msgspec.structs.replace(
            example, id="XQ-77", title=f"Board of {example.topology}", aliases=[]
        )
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "XQ-77.json"
            path.write_bytes(msgspec.json.encode(copied))
            found = BoardBook(Path(folder)).board("XQ-77")
        self.assertEqual(found.known_by, "pinout")
        self.assertEqual(found.connectors[0].pins, [])
        self.assertFalse([w for w in spoken(found) if DESIGNATOR.search(w)])
        mine = msgspec.structs.replace(copied, title="Harrow 50E, measured by us")
        self.assertEqual(without_example(mine), mine)
