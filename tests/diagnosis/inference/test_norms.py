"""Norms of sound boards: three outweigh the model, a band never widens, faults stay odd."""

import unittest

import msgspec
import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.boards.load import shipped_board
from loose_rail.boards.own.file import SCHEMA, OwnBoardFile, board_of_file
from loose_rail.boards.probes import probes_of
from loose_rail.diagnosis.inference.norms import norm_of, with_norm
from loose_rail.judgement.spread import is_logic_line, scaled, sigma

OWN = board_of_file(
    OwnBoardFile(SCHEMA, "N-1", kind="standby flyback, main flyback", connectors=["CN1: 12V, GND"])
)
BOARDS = (OWN, shipped_board("PB-4310-2"))


class Norms(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(
        st.sampled_from(BOARDS),
        st.integers(0, 10_000),
        st.floats(0.02, 400.0),
        st.floats(0.6, 1.6),
        st.integers(1, 6),
    )
    def test_more_sound_boards_pull_further_and_narrow_the_band(
        self, board: object, pick: int, predicted: float, times: float, count: int
    ) -> None:
        probes = [p for p in probes_of(board) if not is_logic_line(board, p)]  # type: ignore[arg-type]
        probe = probes[pick % len(probes)]
        value = predicted * times
        few = norm_of(board, probe, [value] * count, predicted)  # type: ignore[arg-type]
        more = norm_of(board, probe, [value] * (count + 1), predicted)  # type: ignore[arg-type]
        assert few is not None and more is not None
        model, read = (float(scaled(v, probe.mode)) for v in (predicted, value))
        self.assertLessEqual(abs(more[0] - read), abs(few[0] - read) + 1e-12)
        self.assertLessEqual(few[1], float(sigma(board, probe, predicted)) + 1e-12)  # type: ignore[arg-type]
        self.assertLessEqual(more[1], few[1] + 1e-12)
        if count >= 3:
            self.assertLessEqual(abs(few[0] - read), 0.26 * abs(model - read) + 1e-9)

    def test_only_rows_that_read_like_a_sound_board_move(self) -> None:
        y = np.array([0.0, 0.1, 3.0, 20.0])
        moved, width = with_norm(y, np.full(4, 1.0), np.array([True] * 3 + [False]), (0.5, 0.4))
        np.testing.assert_allclose(moved[:2], [0.5, 0.6], atol=0.01)
        np.testing.assert_allclose(moved[2:], y[2:], atol=0.01)
        np.testing.assert_allclose(width, [0.4, 0.403, 0.993, 1.0], atol=0.01)

    def test_a_logic_line_and_nothing_read_give_no_norm(self) -> None:
        board = BOARDS[1]
        line = next(p for p in probes_of(board) if is_logic_line(board, p))
        self.assertIsNone(norm_of(board, line, [3.0], 3.3))
        self.assertIsNone(norm_of(board, probes_of(board)[0], [], 1.0))
        norms = {"live.main_pin@on/cable/direct": [12.4]}
        self.assertEqual(msgspec.structs.replace(board, norms=norms).norms, norms)


if __name__ == "__main__":
    unittest.main()
