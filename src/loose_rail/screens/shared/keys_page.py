"""F1: every key, by where it works, on any screen from 1280x720 up."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from loose_rail.screens.shared.keys import SCOPES, Key, keys_of
from loose_rail.screens.shared.widgets import label, scrolled

COLUMNS = 3
WIDTH, HEIGHT = 1080, 640
"""Pixels: with a title bar it stands on a screen of 1280x720."""


class KeysPage(QDialog):
    """The scopes in columns of about the same length, scrolled where they are longer."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(24, 18, 24, 18)
        row.setSpacing(28)
        for scopes in balanced([(scope, len(keys_of(scope)) + 2) for scope in SCOPES], COLUMNS):
            column = QVBoxLayout()
            for scope in scopes:
                column.addLayout(_block(SCOPES[scope], keys_of(scope)))
            column.addStretch(1)
            row.addLayout(column, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scrolled(holder))
        self.resize(WIDTH, HEIGHT)


def balanced(sizes: list[tuple[str, int]], count: int) -> list[list[str]]:
    """Names in order, cut into so many runs of about the same size."""
    whole, done = sum(size for _, size in sizes), 0
    runs: list[list[str]] = [[] for _ in range(count)]
    for name, size in sizes:
        middle = done + size / 2
        runs[min(int(count * middle / whole), count - 1)].append(name)
        done += size
    return runs


def _block(title: str, keys: tuple[Key, ...]) -> QGridLayout:
    grid = QGridLayout()
    grid.setHorizontalSpacing(14)
    grid.setVerticalSpacing(2)
    grid.setContentsMargins(0, 0, 0, 14)
    grid.setColumnStretch(1, 1)
    grid.addWidget(label(title, "strong"), 0, 0, 1, 2)
    for line, key in enumerate(keys, start=1):
        grid.addWidget(label(key.sequence, "strong"), line, 0)
        grid.addWidget(label(key.words, wrap=True), line, 1)
    return grid
