"""The log: unexpected errors and what the toolkit warns of, under the user's state directory.

It holds no work of anybody: no readings, no names of customers, only places in the program.
"""

from __future__ import annotations

import logging
import platform
from logging.handlers import RotatingFileHandler
from pathlib import Path

from PyQt6.QtCore import QMessageLogContext, QtMsgType, qInstallMessageHandler, qVersion

from loose_rail import __version__
from loose_rail.kernel.files import make_private

LOG = logging.getLogger("loose_rail")
LARGEST_LOG_BYTES, LOGS_KEPT = 500_000, 3
_LEVELS = {
    QtMsgType.QtDebugMsg: logging.DEBUG,
    QtMsgType.QtInfoMsg: logging.INFO,
    QtMsgType.QtWarningMsg: logging.WARNING,
    QtMsgType.QtCriticalMsg: logging.ERROR,
    QtMsgType.QtFatalMsg: logging.CRITICAL,
}


def start_log(path: Path) -> Path | None:
    """Write into this file from now on; None where that is not possible (the program then goes on
    without: it says so on standard error)."""
    LOG.setLevel(logging.INFO)
    LOG.addHandler(logging.StreamHandler())
    LOG.handlers[-1].setLevel(logging.WARNING)
    qInstallMessageHandler(_of_the_toolkit)
    try:
        make_private(path.parent)
        handler = RotatingFileHandler(
            path, maxBytes=LARGEST_LOG_BYTES, backupCount=LOGS_KEPT, encoding="utf-8", delay=False
        )
    except OSError as error:
        LOG.warning("No log file: %s", error)
        return None
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
    LOG.addHandler(handler)
    LOG.info("started: %s", about())
    return path


def stop_log() -> None:
    """Let the file go."""
    qInstallMessageHandler(None)
    for handler in tuple(LOG.handlers):
        LOG.removeHandler(handler)
        handler.close()


def about() -> str:
    """Program, interpreter, toolkit and system: what a report of an error needs."""
    python, system = platform.python_version(), platform.platform(terse=True)
    return f"Loose Rail {__version__}, Python {python}, Qt {qVersion()}, {system}"


def _of_the_toolkit(kind: QtMsgType, _place: QMessageLogContext, words: str | None) -> None:
    LOG.log(_LEVELS.get(kind, logging.WARNING), "Qt: %s", words)
