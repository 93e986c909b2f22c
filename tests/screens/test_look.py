"""The look, measured: contrast, labels that never overlap, nothing cut, names, keys, start-up."""

import itertools
import json
import os
import subprocess
import sys
import tempfile
import unittest
from collections import Counter
from dataclasses import fields
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSize
from PyQt6.QtGui import QColor, QKeySequence
from PyQt6.QtWidgets import QAbstractButton, QLabel, QLineEdit

from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.probes import probes_of
from loose_rail.screens.desk_window import fitting
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.card.view import EntryLine
from loose_rail.screens.shared.keys import IN_A_JOB, KEYS, SCOPES
from loose_rail.screens.shared.rail_map.layout import lay_out
from loose_rail.screens.shared.rail_map.present import MapBuilder
from tests.screens.helper import STAGES, close_window, demo_job, open_window, settle
from tests.shared import the

TEXT_ON = {
    "panel": ("ink", "quiet", "hot", "agrees", "disagrees", "doubtful", "action", "cold"),
    "card": ("ink", "quiet", "hot", "agrees", "disagrees", "doubtful", "action"),
    "hot_ground": ("ink", "hot", "disagrees", "doubtful"),
    "cold_ground": ("ink", "quiet", "cold", "disagrees", "doubtful"),
    "action": ("on_action",),
    "strip": ("on_strip", "strip_quiet"),
}


def luminance(colour: QColor) -> float:
    """Relative luminance (WCAG 2)."""
    channels = []
    for value in (colour.redF(), colour.greenF(), colour.blueF()):
        channels.append(value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4)
    return 0.2126 * channels[0] + 0.7152 * channels[1] + 0.0722 * channels[2]


class Look(unittest.TestCase):
    def test_a_number_stands_large_and_a_course_is_read_whole(self) -> None:
        job = demo_job(self, "cold_checks")
        line = job.findChildren(EntryLine)[0]
        heights = set()
        for text in ("4.98", "0.6..3.9@1.1Hz", "4.9 V dips to 3.6 at each click"):
            line.setText(text)
            for _ in range(5):
                settle()
            whole = line.fontMetrics().horizontalAdvance(text)
            self.assertLessEqual(whole, line.width(), text)
            heights.add(line.height())
        self.assertLessEqual(max(heights) - min(heights), 4)  # nothing below it jumps

    def test_contrast_of_every_role_pair(self) -> None:
        for name, used in theme.THEMES.items():
            for ground, roles in TEXT_ON.items():
                for role in roles:
                    a, b = (luminance(QColor(getattr(used, r))) for r in (role, ground))
                    ratio = (max(a, b) + 0.05) / (min(a, b) + 0.05)
                    self.assertGreaterEqual(ratio, 4.5, f"{name}: {role} on {ground}")
        self.assertEqual(
            [f.name for f in fields(theme.DAYLIGHT)], [f.name for f in fields(theme.NIGHT)]
        )

    def test_no_key_is_taken_twice(self) -> None:
        """On no page: its own keys, those of a job where it stands in one, those of the window."""
        for page in SCOPES:
            scopes = {"window", page, *(("job",) if page in IN_A_JOB else ())}
            works = [key for key in KEYS if key.scope in scopes]
            counted = Counter(QKeySequence(key.sequence).toString() for key in works)
            self.assertEqual({k: n for k, n in counted.items() if n > 1}, {}, page)
        self.assertTrue(all(key.words for key in KEYS))


class Screens(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.window = open_window(Path(folder.name) / "shop.sqlite")
        self.addCleanup(close_window, self.window)
        self.window.open_job(1)
        self.job = self.window.job

    def test_the_map_keeps_its_pieces_apart_at_every_size(self) -> None:
        state = the(self.job).presenter.bench().rail_map
        for width, height in ((700, 380), (792, 414), (1400, 700)):
            layout = lay_out(state, width, height)
            boxes = [box for _, box in layout.blocks] + [layout.connector]
            for k, one in enumerate(boxes):
                self.assertTrue(QRectF(0, 0, width, height).contains(one))
                for other in boxes[k + 1 :]:
                    self.assertFalse(one.intersects(other))
            for _, box in layout.blocks:
                self.assertLess(box.right(), layout.barrier_left)
                for _, point, _ in layout.hot_stops:
                    self.assertFalse(box.adjusted(-7, -7, 7, 7).contains(point))
            for place in layout.rails:
                gaps = [b - a for a, b in itertools.pairwise(place.stop_xs)]
                self.assertTrue(all(gap > 24 for gap in gaps))
                self.assertTrue(place.left < place.stop_xs[0] and place.stop_xs[-1] < place.right)
            ys = [place.y for place in layout.rails]
            self.assertTrue(all(b - a > 85 for a, b in itertools.pairwise(ys)))
            self.assertIsInstance(layout.flag_at, QPointF)

    def test_every_board_has_a_map_whose_pieces_stay_apart(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            probe = next(p for p in probes_of(board) if p.live)
            state = MapBuilder(board, (), {}, probe).build()
            self.assertEqual(state.mains_side, not board.adapter_fed)
            for width, height in ((792, 414), (1400, 700)):
                layout = lay_out(state, width, height)
                boxes = [box for _, box in layout.blocks] + [layout.connector]
                for one, other in itertools.combinations(boxes, 2):
                    self.assertFalse(one.intersects(other), board_id)
                for _, box in layout.blocks:
                    self.assertTrue(box.left() >= 0 and box.right() < layout.barrier_left)
                    self.assertGreater(box.width(), 55, board_id)
                gap = 45 if layout.compact else 85
                ys = [place.y for place in layout.rails]
                self.assertTrue(all(b - a > gap for a, b in itertools.pairwise(ys)), board_id)
                self.assertLess(max(ys, default=0), height - 45)

    def test_the_window_stays_at_1280_by_800_and_cuts_no_button(self) -> None:
        for stage in STAGES:
            the(self.job).go(stage)
            settle()
            self.assertEqual((self.window.width(), self.window.height()), (1280, 800), stage)
            for item in the(the(self.job).pages.currentWidget()).findChildren(QAbstractButton):
                if item.isVisible():
                    room = item.fontMetrics().horizontalAdvance(item.text())
                    self.assertLessEqual(room, item.width(), f"{stage}: {item.text()}")
                    self.assertTrue(item.accessibleName(), f"{stage}: {item.text()}")
            for item in the(the(self.job).pages.currentWidget()).findChildren(QLineEdit):  # type: ignore[assignment]
                self.assertTrue(item.accessibleName())

    def test_at_half_again_the_size_no_page_of_the_work_needs_to_scroll(self) -> None:
        """1280 × 720 is a full-HD screen at 150 %, less a title bar: what a probe needs stays in
        sight, and the window fits."""
        self.assertEqual(fitting(1280, 690), QSize(1280, 690))
        self.assertEqual(fitting(2560, 1400), QSize(1280, 800))
        self.window.resize(1280, 690)
        for stage in ("take_in", "strip_down", "cold_checks", "verdict", "power_up"):
            the(self.job).go(stage)
            settle()
            room = the(self.job).pages.parentWidget()
            assert room is not None
            self.assertEqual(self.window.height(), 690, stage)
            self.assertLessEqual(the(self.job).pages.height(), room.height(), stage)

    def test_both_themes_and_help_draw(self) -> None:
        self.window.toggle_theme()
        self.assertIs(theme.current(), theme.NIGHT)
        night = self.window.grab().toImage().pixelColor(640, 790)
        self.assertLess(luminance(night), 0.1)
        self.window.toggle_theme()
        self.window.show_help()
        settle()
        labels = {item.text() for item in self.window.findChildren(QLabel)}
        self.assertTrue({key.words for key in KEYS} <= labels)


class StartUp(unittest.TestCase):
    def test_nothing_heavy_is_loaded_when_the_window_is_shown(self) -> None:
        script = (
            "import sys, json\n"
            "from loose_rail.cli.window import make_application\n"
            "from loose_rail.screens.shared.dispatch import Dispatcher\n"
            "from loose_rail.screens.main_window import MainWindow\n"
            "app = make_application(); w = MainWindow(Dispatcher())\n"
            "w.show(); app.processEvents()\n"
            "print(json.dumps(sorted({name.split('.')[0] for name in sys.modules})))\n"
        )
        env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
        done = subprocess.run(
            [sys.executable, "-c", script], env=env, capture_output=True, text=True, check=True
        )
        loaded = set(json.loads(done.stdout.splitlines()[-1]))
        heavy = {"numpy", "scipy", "sqlalchemy", "pyvisa", "pyqtgraph", "jinja2"}
        self.assertEqual(loaded & heavy, set())
