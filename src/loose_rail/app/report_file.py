"""The sheet as a file: PDF or web page, by the ending of its name."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from loose_rail.app.outcome import Outcome
from loose_rail.kernel.files import write_durably

WritePdf = Callable[[str, str, Path], str | None]
"""Writes a sheet (HTML, title) as PDF; returns the letters that it could not print."""
MOST_LETTERS = 8


def write_label(path: Path, label: bytes) -> Outcome:
    """Write the label of the ticket."""
    try:
        write_durably(path, label)
    except OSError as error:
        why = f"{path} can't be written: {error.strerror}."
        return Outcome.refused(f"{why} Choose another place.")
    return Outcome(f"Label written to {path}.")


def write_report(path: Path, html: str, title: str, write_pdf: WritePdf) -> Outcome:
    """Write it; letters that no font here has are named."""
    missing = ""
    try:
        if path.suffix.lower() == ".pdf":
            missing = write_pdf(html, title, path) or ""
        else:
            write_durably(path, html.encode())
    except OSError as error:
        why = f"{path} can't be written: {error.strerror}."
        return Outcome.refused(f"{why} Choose another place.")
    if missing:
        named = ", ".join(f"{one} (U+{ord(one):04X})" for one in missing[:MOST_LETTERS])
        return Outcome.warned(
            f"Report written to {path}. No font here prints {named}: they stand as empty "
            "boxes. The HTML file shows them."
        )
    return Outcome(f"Report written to {path}.")
