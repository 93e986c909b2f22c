"""What a screen reader and a keyboard find: names, roles, focus that follows the work."""

import unittest
from collections.abc import Iterator
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QTextEdit,
    QWidget,
)

from tests.fakes.qt_test import QTest
from tests.screens.helper import STAGES, demo_job, focus, settle
from tests.shared import the

GUIDES = ("tests", "loads", "seen", "ends", "wake")
WITH_ROLE = (QAbstractButton, QAbstractItemView, QLineEdit, QPlainTextEdit, QTextEdit)
"""Controls that tell their role by themselves; PyQt does not wrap the interface itself."""
SIZES = ((1280, 800), (1280, 720), (1920, 1080))


class Access(unittest.TestCase):
    def setUp(self) -> None:
        self.job = demo_job(self, "take_in")
        self.window = self.job.window()

    def pages(self) -> Iterator[str]:
        """Brings every page to the front in turn."""
        for stage in STAGES:
            self.job.go(stage)
            settle()
            yield stage
        for guide in GUIDES:
            self.job.front.show_guide(guide)
            settle()
            yield guide
        self.job.front.show("photos")
        yield "photographs"
        self.job.front.show("trace")
        yield "recording"
        self.job.front.leave()
        for name, show in (
            ("meters", partial(the(self.window).show_area, "meters")),  # type: ignore[attr-defined]
            ("new job", the(self.window).take_in),  # type: ignore[attr-defined]
            ("shelf", the(self.window).show_shelf),  # type: ignore[attr-defined]
        ):
            show()
            settle()
            yield name

    def visible(self) -> list[QWidget]:
        return [item for item in the(self.window).findChildren(QWidget) if item.isVisible()]

    def test_every_control_has_a_name_and_a_role(self) -> None:
        seen = 0
        for page in self.pages():
            for item in self.visible():
                if item.focusPolicy() == Qt.FocusPolicy.NoFocus:
                    continue
                where = f"{page}: {type(item).__name__} {item.objectName()}"
                told = isinstance(item, WITH_ROLE) or item.accessibleDescription()
                self.assertTrue(told, where)  # drawn ones say what they show
                self.assertTrue(item.accessibleName(), where)
                seen += 1
            for item in self.visible():
                own = type(item).__module__.startswith("loose_rail")
                if own and "paintEvent" in vars(type(item)):
                    self.assertTrue(item.accessibleName(), f"{page}: {type(item).__name__}")
        self.assertGreater(seen, 100)

    def test_the_focus_stands_where_the_work_is_and_tab_leaves_it(self) -> None:
        for page in self.pages():
            if page in ("parts", "rework", "hand_back", "look_over", "shelf"):
                continue
            at = QApplication.focusWidget()
            if page not in GUIDES:
                self.assertIsInstance(at, QLineEdit, page)
            assert at is not None
            QTest.keyClick(at, Qt.Key.Key_Tab)
            QApplication.processEvents()
            self.assertIsNot(QApplication.focusWidget(), at, page)
            self.assertTrue(focus().accessibleName() or isinstance(focus(), QLabel), page)

    def test_no_word_is_cut_at_any_size(self) -> None:
        """Plain labels are as wide as their words, wrapped ones as high."""
        for width, height in SIZES:
            the(self.window).resize(width, height)
            for page in self.pages():
                for item in self.visible():
                    if not isinstance(item, QLabel) or not item.text():
                        continue
                    if item is self.job.notice:
                        continue  # a sentence longer than the window goes on in its tool tip
                    words = f"{width}×{height} {page}: {item.text()[:50]}"
                    if item.wordWrap():
                        needed = item.heightForWidth(item.width())
                        self.assertLessEqual(needed, item.height() + 1, words)
                    else:
                        room = item.fontMetrics().horizontalAdvance(item.text())
                        self.assertLessEqual(room, item.width() + 1, words)
