"""A window as the desktop sees it: size, place, theme, how it ends and comes to the front."""

from __future__ import annotations

import binascii
import os

from PyQt6.QtCore import QByteArray, QSize, pyqtSignal
from PyQt6.QtWidgets import QApplication, QMainWindow, QStyle

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.desktop import TOKEN_NAMES, wear

START_SIZE = (1280, 800)


def fitting(width: int, height: int) -> QSize:
    """The size in which the window starts in a room of this many pixels."""
    return QSize(min(START_SIZE[0], width), min(START_SIZE[1], height))


class DeskWindow(QMainWindow):
    """Starts in a size that fits, or as it was left."""

    leaving = pyqtSignal(str)
    """It closes; with its geometry in base64."""
    theme_chosen = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setWindowTitle("Loose Rail")
        self.resize(*START_SIZE)

    def restore_geometry(self, kept: str) -> None:
        """As it was left; a first one, and one whose screen is gone, as large as it starts or less
        where the desktop leaves less room. Its bars and the title bar are counted."""
        try:
            known = bool(kept) and self.restoreGeometry(QByteArray(binascii.a2b_base64(kept)))
        except (binascii.Error, ValueError):
            known = False
        screen, style = self.screen(), self.style()
        assert screen is not None and style is not None
        room = screen.availableGeometry()
        if known and room.intersects(self.geometry()):
            return
        title = style.pixelMetric(QStyle.PixelMetric.PM_TitleBarHeight)
        self.resize(fitting(room.width(), room.height() - title))

    def geometry_kept(self) -> str:
        """Size and place, for the next start."""
        return binascii.b2a_base64(self.saveGeometry().data(), newline=False).decode()

    def come_to_front(self, token: str) -> None:
        """Before all others; on Wayland with the token that the asking start was given."""
        if token:
            os.environ[TOKEN_NAMES[0]] = token
        if self.isMinimized():
            self.showNormal()
        self.raise_()
        self.activateWindow()

    def toggle_full_screen(self) -> None:
        """F11."""
        self.showNormal() if self.isFullScreen() else self.showFullScreen()

    def toggle_theme(self) -> None:
        """F12: daylight or night."""
        night = theme.current() is theme.DAYLIGHT
        self.wear(theme.NIGHT if night else theme.DAYLIGHT)
        self.theme_chosen.emit()

    def wear(self, chosen: theme.Theme) -> None:
        """A theme on every window."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        wear(app, chosen)
        for window in app.topLevelWidgets():
            if isinstance(window, DeskWindow):
                window.restyle()

    def restyle(self) -> None:
        """The theme changed."""
        self.update()
