"""What the desktop does for a program that asks over its session bus: it shows a note while another
window is in front, and it stays awake while a measurement runs.

Where there is no bus, or nobody answers there, the program goes on without: both are a comfort.
"""

from __future__ import annotations

from typing import cast

from PyQt6.QtCore import QMetaType, QVariant
from PyQt6.QtDBus import QDBus, QDBusArgument, QDBusConnection, QDBusMessage
from PyQt6.QtWidgets import QApplication

from loose_rail.screens.shared.desktop import APPLICATION_ID

ANSWER_MILLISECONDS = 100
"""How long an answer is waited for where one is needed [E]."""
NOTIFICATIONS = (
    "org.freedesktop.Notifications",
    "/org/freedesktop/Notifications",
    "org.freedesktop.Notifications",
)
SCREEN_SAVER = (
    "org.freedesktop.ScreenSaver",
    "/org/freedesktop/ScreenSaver",
    "org.freedesktop.ScreenSaver",
)
UNSIGNED, TEXT = (cast(int, one.value) for one in (QMetaType.Type.UInt, QMetaType.Type.QString))
Place = tuple[str, str, str]


def note(title: str, words: str) -> bool:
    """Show a note of the desktop, unless a window of ours is in front; whether it was asked for
    (Desktop Notifications Specification)."""
    if QApplication.activeWindow() is not None:
        return False
    call = _call(NOTIFICATIONS, "Notify")
    call.setArguments(
        [
            "Loose Rail",
            _as(UNSIGNED, 0),
            APPLICATION_ID,
            title,
            words,
            _strings(),
            {"desktop-entry": APPLICATION_ID},
            -1,
        ]
    )
    return QDBusConnection.sessionBus().send(call)


class Awake:
    """Keeps the computer awake between `begin` and `end`, also asked for twice."""

    def __init__(self) -> None:
        self._cookie: int | None = None

    @property
    def held(self) -> bool:
        """Whether the desktop has promised it."""
        return self._cookie is not None

    def begin(self, why: str) -> None:
        """From now on no sleep and no screen lock."""
        if self._cookie is not None:
            return
        call = _call(SCREEN_SAVER, "Inhibit")
        call.setArguments(["Loose Rail", why])
        answer = QDBusConnection.sessionBus().call(call, QDBus.CallMode.Block, ANSWER_MILLISECONDS)
        if answer.type() is QDBusMessage.MessageType.ReplyMessage and answer.arguments():
            self._cookie = int(answer.arguments()[0])

    def end(self) -> None:
        """It may sleep again."""
        if self._cookie is None:
            return
        call = _call(SCREEN_SAVER, "UnInhibit")
        call.setArguments([_as(UNSIGNED, self._cookie)])
        QDBusConnection.sessionBus().send(call)
        self._cookie = None


def _call(place: Place, method: str) -> QDBusMessage:
    return QDBusMessage.createMethodCall(*place, method)


def _as(kind: int, value: int) -> QVariant | QDBusArgument:
    """A number of the width that the other side declares."""
    made = QVariant(value)
    made.convert(QMetaType(kind))
    return made


def _strings() -> QDBusArgument:
    """An empty array of strings, which a plain empty list is not."""
    made = QDBusArgument()
    made.beginArray(QMetaType(TEXT))
    made.endArray()
    return made
