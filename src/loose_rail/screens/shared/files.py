"""Choosing a file: it starts where the last one was chosen, and a name without ending gets that of
the kind that was chosen beside it."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QStandardPaths
from PyQt6.QtWidgets import QFileDialog, QWidget

_last: list[str] = [""]
_keep: list[Callable[[str], object]] = []


def remember(folder: str, keep: Callable[[str], object]) -> None:
    """Start in this folder, and tell where the next file was chosen."""
    _last[0] = folder
    _keep[:] = [keep]


def to_save(parent: QWidget, title: str, name: str, kinds: str) -> Path | None:
    """Where a file should be written, None where nothing was chosen. `kinds` as in
    `PDF (*.pdf);;Web page (*.html)`; the first is the usual one."""
    chosen, kind = QFileDialog.getSaveFileName(parent, title, str(_folder() / name), kinds)
    if not chosen:
        return None
    path = with_ending(Path(chosen), kind)
    if str(path) != chosen and path.exists():  # the dialog has asked about another name
        path = _free(path)
    _chosen(path)
    return path


def to_open(parent: QWidget, title: str, kinds: str) -> Path | None:
    """A file to read, None where nothing was chosen."""
    chosen, _ = QFileDialog.getOpenFileName(parent, title, str(_folder()), kinds)
    return _chosen(Path(chosen)) if chosen else None


def several_to_open(parent: QWidget, title: str, kinds: str) -> list[Path]:
    """Files to read."""
    chosen, _ = QFileDialog.getOpenFileNames(parent, title, str(_folder()), kinds)
    return [_chosen(Path(one)) for one in chosen]


def with_ending(path: Path, kind: str) -> Path:
    """The name with an ending of the chosen kind: another known ending does not decide what is
    written, and a dot inside a name is none."""
    endings = re.findall(r"\*((?:\.\w+)+)", kind)
    if not endings or path.name.lower().endswith(tuple(endings)):
        return path
    return path.with_name(path.name + endings[0])


def _free(path: Path) -> Path:
    number = 2
    while (other := path.with_name(f"{path.stem}-{number}{path.suffix}")).exists():
        number += 1
    return other


def _folder() -> Path:
    if _last[0] and Path(_last[0]).is_dir():
        return Path(_last[0])
    documents = QStandardPaths.StandardLocation.DocumentsLocation
    found = Path(QStandardPaths.writableLocation(documents) or Path.home())
    return found if found.is_dir() else Path.home()


def _chosen(path: Path) -> Path:
    _last[0] = str(path.parent)
    for keep in _keep:
        keep(_last[0])
    return path
