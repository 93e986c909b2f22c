"""What moves no live point: each with its reason, and nothing that a technician would notice."""

import unittest

from loose_rail.boards.load import shipped_ids
from loose_rail.diagnosis.model.still_faults import still_lines, still_rows, why_still
from tests.whole_jobs.test_jobs_on_boards import table_of

NOTICED = {
    ("fuse", "open"),
    ("mosfet_n", "short"),
    ("mosfet_n", "open"),
    ("mosfet_n", "gate"),
    ("mosfet_p", "short"),
    ("bridge", "short"),
    ("controller", "dead"),
    ("controller", "short"),
    ("controller", "no_drive"),
    ("regulator", "short"),
    ("shunt_reference", "short"),
    ("shunt_reference", "open"),
    ("optocoupler", "led_open"),
    ("optocoupler", "transistor_short"),
    ("transformer", "joint"),
    ("transformer", "turns"),
    ("led_strip", "open"),
    ("led_strip", "string"),
    ("tubes", "open"),
    ("load", "never_asserts"),
    ("ntc", "open"),
    ("electrolytic", "short"),
}
"""Kind and mode of what nobody overlooks in a set that is switched on; written down beforehand."""


HELPERS = {
    "PB-3705-6": ("Q303", "U305"),  # a synchronous rectifier has its body diode left
    "PB-4270-1": (
        "U601",
    ),  # the driver of the sustain switches: the rail stands, the panel is dark
}
"""Parts of those kinds that do another job: named by hand."""


class Still(unittest.TestCase):
    def test_every_one_has_its_reason_and_none_would_be_noticed(self) -> None:
        for board_id in shipped_ids():
            table = table_of(board_id)
            rows = still_rows(table)
            self.assertTrue(10 < len(rows) < 0.5 * len(table.rows), board_id)
            for row in rows:
                fault = row.faults[0]
                self.assertTrue(why_still(table.board, row), f"{board_id} {fault.key}")
                if fault.ref in HELPERS.get(board_id, ()):
                    continue
                if fault.ohms > 1.0:  # no dead short: an ampere that some rails can give
                    continue
                kind = table.board.component(fault.ref).kind
                self.assertNotIn((kind, fault.mode), NOTICED, f"{board_id} {fault.key}")
            self.assertTrue(all(line.count("|") == 4 for line in still_lines(table)))


if __name__ == "__main__":
    unittest.main()
