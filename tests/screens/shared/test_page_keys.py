"""A key of a page is its command with just what is held with it; all else is left to be typed."""

import unittest
from functools import partial

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence

from loose_rail.screens.shared.keys import SCOPES, keys_of
from loose_rail.screens.shared.page_keys import PageKeys

Held = Qt.KeyboardModifier


def pressed(code: int, held: Held) -> QKeyEvent:
    return QKeyEvent(QEvent.Type.KeyPress, code, held)


class Keys(unittest.TestCase):
    def test_each_key_does_its_own_and_a_letter_alone_is_typed(self) -> None:
        letters = 0
        for scope in SCOPES:
            done: list[str] = []
            names = [key.action for key in keys_of(scope)]
            page = PageKeys(scope, {name: partial(done.append, name) for name in names})
            for key in keys_of(scope):
                sequence = QKeySequence(key.sequence)[0]
                code, held = sequence.key().value, sequence.keyboardModifiers()
                self.assertTrue(page.press(pressed(code, held)), key)
                self.assertEqual(done.pop(), key.action)
                self.assertTrue(page.press(pressed(code, held | Held.KeypadModifier)), key)
                done.clear()
                if held & Held.ControlModifier:
                    letters += 1
                    self.assertFalse(page.press(pressed(code, Held.NoModifier)), key)
                    self.assertFalse(page.press(pressed(code, Held.ShiftModifier)), key)
                else:
                    self.assertFalse(page.press(pressed(code, held | Held.ControlModifier)), key)
                self.assertEqual(done, [])
        self.assertGreater(letters, 5)


if __name__ == "__main__":
    unittest.main()
