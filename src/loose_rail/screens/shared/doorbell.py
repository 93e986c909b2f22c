"""One program on a shop: a second start rings here, and the first window comes to the front."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtNetwork import QLocalServer, QLocalSocket

from loose_rail.screens.shared.desktop import TOKEN_NAMES

ANSWER_MILLISECONDS = 1500
"""How long a second start waits for the first, which may be busy drawing [E]."""
RUNG = b"in front\n"
LONGEST_RING_BYTES = 65_536


def bell_of(shop: Path) -> str:
    """The name of the bell of a shop, for this user."""
    digest = hashlib.sha256(os.fsencode(shop.resolve())).hexdigest()
    return f"loose-rail-{os.getuid()}-{digest[:16]}"


def ring(shop: Path, file: str = "") -> bool:
    """Ring at a shop, with a file that it should open; whether somebody has answered."""
    socket = QLocalSocket()
    socket.connectToServer(bell_of(shop))
    if not socket.waitForConnected(ANSWER_MILLISECONDS):
        return False
    token = next((os.environ[name] for name in TOKEN_NAMES if os.environ.get(name)), "")
    socket.write(f"{token}\n{file}\n".encode())
    socket.flush()
    answered = socket.waitForReadyRead(ANSWER_MILLISECONDS)
    return answered and bytes(socket.readAll().data()) == RUNG


class Doorbell(QObject):
    """Hangs at a shop while the program runs; `rung` is called with the token and the file."""

    def __init__(self, shop: Path, rung: Callable[[str, str], None]) -> None:
        super().__init__()
        self._rung = rung
        self._server = QLocalServer(self)
        self._server.setSocketOptions(QLocalServer.SocketOption.UserAccessOption)
        self._server.newConnection.connect(self._answer)
        name = bell_of(shop)
        if not self._server.listen(name):
            QLocalServer.removeServer(name)  # of a program that was killed: nobody answered there
            self._server.listen(name)

    def _answer(self) -> None:
        while (socket := self._server.nextPendingConnection()) is not None:
            socket.readyRead.connect(lambda one=socket: self._heard(one))
            socket.disconnected.connect(socket.deleteLater)
            if socket.bytesAvailable():
                self._heard(socket)

    def _heard(self, socket: QLocalSocket) -> None:
        if socket.bytesAvailable() > LONGEST_RING_BYTES:
            socket.abort()
            return
        lines = bytes(socket.peek(LONGEST_RING_BYTES)).decode(errors="replace").split("\n")
        if len(lines) < 3:
            return  # the rest is still under way
        socket.readAll()
        socket.write(RUNG)
        socket.flush()
        self._rung(lines[0], lines[1])

    def take_down(self) -> None:
        """Nobody answers here any more."""
        self._server.close()
