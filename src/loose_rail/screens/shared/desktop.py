"""What the desktop asks for: dark or light, and how the program is known to it.

The program's own two themes follow the desktop until one is chosen by hand (F12); a choice that is
what the desktop shows anyhow is no choice, and follows it again.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QGuiApplication, QPalette
from PyQt6.QtWidgets import QApplication

from loose_rail.screens.shared import theme

APPLICATION_ID = "org.looserail.LooseRail"
"""By it the desktop finds entry, icon and window (Desktop Entry Specification)."""

TOKEN_NAMES = ("XDG_ACTIVATION_TOKEN", "DESKTOP_STARTUP_ID")
"""What a desktop gives to a start so that its window may come to the front."""


def desktop_theme() -> theme.Theme:
    """The theme that the desktop asks for."""
    hints = QGuiApplication.styleHints()
    dark = hints is not None and hints.colorScheme() is Qt.ColorScheme.Dark
    return theme.NIGHT if dark else theme.DAYLIGHT


def when_it_changes(changed: Callable[[], object]) -> None:
    """Tell when the desktop goes dark or light."""
    hints = QGuiApplication.styleHints()
    if hints is not None:
        hints.colorSchemeChanged.connect(lambda _: changed())


def kept_name(chosen: theme.Theme) -> str:
    """What is kept of a theme that was chosen by hand."""
    return "" if chosen is desktop_theme() else chosen.name


def wear(app: QApplication, chosen: theme.Theme) -> None:
    """The theme on everything: what the style sheet does not reach (the toolkit's own dialogs) gets
    it by the palette, so that no ink of one theme stands on a ground of the other."""
    theme.use(chosen)
    sheet = theme.style_sheet()
    if app.styleSheet() != sheet:  # the toolkit works every widget over, changed or not
        app.setPalette(_palette(chosen))
        app.setStyleSheet(sheet)


def _palette(t: theme.Theme) -> QPalette:
    role, made = QPalette.ColorRole, QPalette()
    for name, shown in (
        (role.Window, t.panel),
        (role.Base, t.card),
        (role.AlternateBase, t.panel),
        (role.Button, t.card),
        (role.ToolTipBase, t.card),
        (role.WindowText, t.ink),
        (role.Text, t.ink),
        (role.ButtonText, t.ink),
        (role.ToolTipText, t.ink),
        (role.PlaceholderText, t.quiet),
        (role.Highlight, t.action),
        (role.HighlightedText, t.on_action),
        (role.Link, t.cold),
    ):
        made.setColor(name, QColor(shown))
    quiet = QColor(t.quiet)
    for name in (role.WindowText, role.Text, role.ButtonText):
        made.setColor(QPalette.ColorGroup.Disabled, name, quiet)
    return made
