"""The keys of one page, bound by their actions, and the buttons that show them."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QPushButton

from loose_rail.screens.shared.keys import keys_of
from loose_rail.screens.shared.widgets import button

Act = Callable[[], object]
Held = Qt.KeyboardModifier
_HELD = Held.ControlModifier | Held.AltModifier | Held.MetaModifier
"""Held with a letter they make it a command. Without them it is typed: “localhost” in an address
is no Ctrl+L, and Shift and the number block only say how a sign is made."""


def _code(key: int, held: Held) -> tuple[int, Held]:
    return key, held & (_HELD | Held.ShiftModifier if held & _HELD else _HELD)


class PageKeys:
    """Keys of a scope. Raises ValueError where keys and actions are not the same."""

    def __init__(self, scope: str, actions: Mapping[str, Act]) -> None:
        self._keys = {key.action: key for key in keys_of(scope)}
        if set(self._keys) != set(actions):
            raise ValueError(
                f"keys and actions of {scope} differ: {set(self._keys) ^ set(actions)}"
            )
        self._actions = dict(actions)
        self._by_code: dict[tuple[int, Held], Act] = {}
        for key in self._keys.values():
            pressed = QKeySequence(key.sequence)[0]
            code = _code(pressed.key().value, pressed.keyboardModifiers())
            self._by_code[code] = actions[key.action]

    def has(self, event: QKeyEvent) -> bool:
        """Whether a key is one of these."""
        return _code(event.key(), event.modifiers()) in self._by_code

    def press(self, event: QKeyEvent) -> bool:
        """Do what a key does; whether it is one of these."""
        act = self._by_code.get(_code(event.key(), event.modifiers()))
        if act is None:
            return False
        act()
        return True

    def button(self, action: str, words: str = "") -> QPushButton:
        """A button that does the same and shows the key."""
        key = self._keys[action]
        made = button(words or key.words, key.sequence)
        made.clicked.connect(lambda: self._actions[action]())
        return made
