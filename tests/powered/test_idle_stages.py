"""Plants that are said to behave alike do: every point, peak and rate of a run of each."""

import unittest

import numpy as np

from loose_rail.boards.load import shipped_board
from loose_rail.boards.powered_board import plants_of
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.diagnosis.model.hypotheses import hypotheses_of
from loose_rail.powered.idle_stages import behaviour_of
from loose_rail.powered.plant import stack
from loose_rail.powered.record import run

SECONDS, STEP_SECONDS = 3.0, 4e-3
OF_ROWS = 4
"""Every fourth row of a board."""


class Alike(unittest.TestCase):
    def test_equal_behaviour_reads_equal_at_every_point(self) -> None:
        """LED strings, lamps, an adapter and a set of drive boards, in every state."""
        merged = 0
        for board_id in ("PB-6530-2", "PB-4310-2", "PB-2211-1", "PB-5012-3"):
            board = shipped_board(board_id)
            rows, states = hypotheses_of(board)[::OF_ROWS], live_states(board)
            plants = [plant for row in rows for plant in plants_of(board, row.faults, states)]
            distinct = list(dict.fromkeys(plants))
            first: dict[object, int] = {}
            alike = [first.setdefault(behaviour_of(p), k) for k, p in enumerate(distinct)]
            merged += sum(k != of for k, of in enumerate(alike))
            record = run(stack(distinct), SECONDS, step_seconds=STEP_SECONDS)
            seen = {**record.windows, **record.peaks, **record.hertz}
            seen |= {f"{name} late": late for name, late in record.late_seconds.items()}
            seen |= {"glow": record.lamp_glow, "flash": record.flash_seconds}
            for name, values in seen.items():
                with self.subTest(board=board_id, point=name):
                    np.testing.assert_allclose(values[..., alike], values, rtol=1e-3, atol=1e-3)
        self.assertGreater(merged, 300)
