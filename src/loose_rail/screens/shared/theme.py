"""Colour roles, fonts and the style sheet. Daylight and night share the same roles.

Contrast of text roles on their grounds is at least 4.5:1 (tested).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Literal

from PyQt6.QtCore import QByteArray, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPainter, QPixmap
from PyQt6.QtSvg import QSvgRenderer

import loose_rail
from loose_rail.vocabulary.mark import Mark

ASSETS = Path(loose_rail.__file__).parent / "assets"

FAMILY, SECOND_FAMILY = "B612", "DejaVu Sans"
"""The second has scripts that the first lacks; what neither has the desktop's fonts may have."""
SIZES = {"small": 11.5, "text": 13.0, "strong": 15.0, "title": 21.0, "reading": 38.0}


Role = (
    Mark
    | Literal[
        "panel",
        "card",
        "line",
        "ink",
        "quiet",
        "hot_ground",
        "hot",
        "cold_ground",
        "cold",
        "agrees",
        "disagrees",
        "doubtful",
        "action",
        "on_action",
        "strip",
        "on_strip",
        "strip_quiet",
        "unread",
    ]
)
"""What a colour is for: a role of the theme, or how a reading stands."""


@dataclass(frozen=True, slots=True)
class Theme:
    """Colours by role."""

    name: str
    panel: str
    card: str
    line: str
    ink: str
    quiet: str
    hot_ground: str
    hot: str
    cold_ground: str
    cold: str
    agrees: str
    disagrees: str
    doubtful: str
    action: str
    on_action: str
    strip: str
    on_strip: str
    strip_quiet: str
    unread: str


DAYLIGHT = Theme(
    "daylight",
    panel="#FBFAF6",
    card="#FFFFFF",
    line="#D9D3C5",
    ink="#22303A",
    quiet="#5B6770",
    hot_ground="#F7E8DE",
    hot="#A94026",
    cold_ground="#E6EEEC",
    cold="#1F6B75",
    agrees="#2C7A51",
    disagrees="#A3212F",
    doubtful="#8A5A00",
    action="#6A2C91",
    on_action="#FFFFFF",
    strip="#22303A",
    on_strip="#F6F2E8",
    strip_quiet="#B9C2C8",
    unread="#B3AA98",
)

NIGHT = Theme(
    "night",
    panel="#1A2227",
    card="#202A30",
    line="#3A474F",
    ink="#E8E4DA",
    quiet="#A9B4BB",
    hot_ground="#2E211C",
    hot="#F0936F",
    cold_ground="#1A2829",
    cold="#6CC3CE",
    agrees="#6CCB97",
    disagrees="#F08A93",
    doubtful="#E0B04C",
    action="#C79BE8",
    on_action="#1B1022",
    strip="#0C1114",
    on_strip="#F1ECE1",
    strip_quiet="#A9B4BB",
    unread="#5F6B72",
)

THEMES = {theme.name: theme for theme in (DAYLIGHT, NIGHT)}
_current = [DAYLIGHT]


def current() -> Theme:
    """The theme in use."""
    return _current[0]


def use(theme: Theme) -> None:
    """Switch the theme; the window restyles itself afterwards."""
    _current[0] = theme


def color(role: Role) -> QColor:
    """The colour of a role, or of a reading's mark, in the current theme. It is everybody's: copied
    before it is changed."""
    return _color(current().name, role)


@cache
def _color(name: str, role: Role) -> QColor:
    return QColor(getattr(THEMES[name], "quiet" if role is Mark.STRUCK else role))


FONT_FILES = (
    "B612-Regular.ttf",
    "B612-Bold.ttf",
    "B612-Italic.ttf",
    "DejaVuSans.ttf",
    "DejaVuSans-Bold.ttf",
)


def load_fonts() -> None:
    """Register the shipped fonts with Qt."""
    folder = ASSETS / "fonts"
    for name in FONT_FILES:
        QFontDatabase.addApplicationFontFromData(QByteArray(folder.joinpath(name).read_bytes()))


def font(size: str, bold: bool = False) -> QFont:
    """The application's font in one of its sizes (pixels at 96 dpi)."""
    return QFont(_font(size, bold))


@cache
def _font(size: str, bold: bool) -> QFont:
    made = QFont()
    made.setFamilies([FAMILY, SECOND_FAMILY])
    made.setPixelSize(round(SIZES[size]))
    made.setBold(bold)
    return made


def icon(name: str, role: str = "ink", size: int = 20) -> QIcon:
    """A shipped line icon in the colour of a role."""
    source = (ASSETS / "icons" / f"{name}.svg").read_text("utf-8")
    source = source.replace("currentColor", getattr(current(), role))
    renderer = QSvgRenderer(QByteArray(source.encode()))
    pixmap = QPixmap(QSize(size * 2, size * 2))
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    renderer.render(painter)
    painter.end()
    pixmap.setDevicePixelRatio(2.0)
    return QIcon(pixmap)


def style_sheet() -> str:
    """The whole style sheet for the current theme."""
    t = current()
    return f"""
    * {{ font-family: "{FAMILY}", "{SECOND_FAMILY}"; font-size: 13px; color: {t.ink}; }}
    QMainWindow, QDialog {{ background: {t.panel}; }}
    QToolTip {{ background: {t.card}; color: {t.ink}; border: 1px solid {t.line}; }}
    #titleStrip {{ background: {t.strip}; border-bottom: 4px solid {t.strip}; }}
    #titleStrip QLabel {{ color: {t.on_strip}; }}
    #titleStrip QLabel[role="quiet"] {{ color: {t.strip_quiet}; font-size: 12px; }}
    #titleStrip QLabel[role="ticket"] {{ background: {t.on_strip}; color: {t.strip};
        border-radius: 4px; padding: 2px 9px; font-weight: bold; }}
    #stateStrip {{ background: {t.panel}; border-top: 1px solid {t.line};
        border-bottom: 1px solid {t.line}; }}
    #banner {{ background: {t.disagrees}; }}
    #banner QLabel {{ color: {t.card}; font-weight: bold; }}
    #notice {{ background: {t.panel}; border-top: 1px solid {t.line}; color: {t.ink};
        padding: 4px 14px; }}
    QLabel[role="foot"] {{ background: {t.panel}; border-top: 1px solid {t.line};
        color: {t.quiet}; padding: 4px 14px; font-size: 12px; }}
    #notice[kind="problem"], #notice[kind="warning"] {{ color: {t.disagrees}; }}
    #areas {{ background: {t.strip}; }}
    #areas QToolButton {{ border: 0; border-radius: 4px; padding: 6px 1px; color: {t.on_strip};
        font-size: 11px; }}
    #areas QToolButton:hover {{ border: 1px solid {t.strip_quiet}; padding: 5px 0; }}
    #areas QToolButton:checked {{ background: {t.panel}; color: {t.ink}; border: 0;
        padding: 6px 1px; }}
    QLabel[role="quiet"] {{ color: {t.quiet}; font-size: 12px; }}
    QLabel[role="title"] {{ font-size: 21px; font-weight: bold; }}
    QLabel[role="strong"] {{ font-size: 15px; font-weight: bold; }}
    QLabel[role="hot"] {{ color: {t.hot}; }}
    QLabel[role="alarm"] {{ color: {t.disagrees}; font-weight: bold; }}
    QLabel[role="alarmTitle"] {{ color: {t.disagrees}; font-size: 21px; font-weight: bold; }}
    QLabel[role="bad"] {{ color: {t.disagrees}; }}
    QLabel[role="good"] {{ color: {t.agrees}; }}
    QLabel[role="doubtful"] {{ color: {t.doubtful}; }}
    QLabel[role="token-solid"] {{ background: {t.ink}; color: {t.panel}; border-radius: 4px;
        padding: 4px 9px; }}
    QLabel[role="token-plain"] {{ background: {t.card}; border: 1px solid {t.ink};
        border-radius: 4px; padding: 3px 9px; }}
    QLabel[role="token-warn"] {{ background: {t.hot_ground}; color: {t.hot};
        border: 1px solid {t.hot}; border-radius: 4px; padding: 3px 9px; }}
    QLabel[role="token-todo"] {{ background: {t.card}; color: {t.action};
        border: 2px solid {t.action}; border-radius: 4px; padding: 2px 8px; font-weight: bold; }}
    #card {{ background: {t.panel}; border-left: 6px solid {t.action};
        border-bottom: 1px solid {t.line}; }}
    #suspects, #side {{ background: {t.panel}; border-left: 1px solid {t.line}; }}
    #page {{ background: {t.panel}; }}
    #pages, #pages > QWidget, #pages > QWidget > QStackedWidget {{ background: {t.panel}; }}
    #sheet {{ background: {t.card}; border: 1px solid {t.line}; border-radius: 4px; }}
    #entryFrame {{ background: {t.card}; border: 2px solid {t.action}; border-radius: 5px; }}
    #entryFrame[held="true"] {{ border: 2px dashed {t.line}; background: {t.panel}; }}
    QLineEdit#entry {{ border: 0; background: transparent; font-size: 34px; font-weight: bold;
        selection-background-color: {t.action}; selection-color: {t.on_action}; }}
    QLineEdit, QPlainTextEdit {{ background: {t.card}; border: 1px solid {t.line};
        border-radius: 4px; padding: 5px; }}
    QLineEdit:focus, QPlainTextEdit:focus {{ border: 1px solid {t.action}; }}
    QLineEdit#entry[length="words"] {{ font-size: 15px; min-height: 47px; }}
    QLineEdit#entry:focus {{ border: 0; }}
    QPushButton {{ background: {t.card}; border: 1px solid {t.unread}; border-radius: 4px;
        padding: 6px 11px; }}
    QPushButton:hover {{ border: 1px solid {t.ink}; }}
    QPushButton:focus {{ border: 2px solid {t.action}; padding: 5px 10px; }}
    QPushButton:disabled {{ color: {t.quiet}; border: 1px dashed {t.line}; }}
    QPushButton[role="action"] {{ background: {t.action}; color: {t.on_action};
        border: 1px solid {t.action}; font-weight: bold; }}
    QPushButton[role="action"]:disabled {{ background: {t.line}; color: {t.quiet}; }}
    QPushButton[role="chosen"] {{ border: 2px solid {t.ink}; font-weight: bold; }}
    QTableView {{ font-size: 12px; background: {t.panel}; border: 0; gridline-color: {t.line};
        selection-background-color: {t.cold_ground}; selection-color: {t.ink}; }}
    QHeaderView::section {{ background: {t.panel}; color: {t.quiet}; border: 0;
        border-bottom: 1px solid {t.line}; padding: 5px 6px; text-align: left; font-size: 12px; }}
    QTextBrowser {{ background: {t.card}; border: 1px solid {t.line}; }}
    QListWidget {{ background: {t.card}; border: 1px solid {t.line}; outline: 0; }}
    QListWidget::item {{ padding: 5px; }}
    QListWidget::item:selected {{ background: {t.action}; color: {t.on_action}; }}
    QProgressBar {{ border: 1px solid {t.line}; border-radius: 3px; background: {t.card};
        height: 8px; }}
    QProgressBar::chunk {{ background: {t.action}; }}
    QScrollBar:vertical {{ background: {t.panel}; width: 10px; }}
    QScrollBar::handle:vertical {{ background: {t.line}; border-radius: 4px; min-height: 24px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
    """
