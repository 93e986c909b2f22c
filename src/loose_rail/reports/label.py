"""The label of a ticket as SVG, 62 by 29 mm: its number to read and as a QR code to scan, the set,
the day it came. The customer's name is not on it."""

from __future__ import annotations

from xml.sax.saxutils import escape

import segno

from loose_rail.jobs.state import JobState

WIDTH_MM, HEIGHT_MM = 62.0, 29.0
"""A usual size of label rolls."""
QR_MM = 25.0
MOST_LETTERS = 24
PREFIX = "LR"


def label_svg(state: JobState) -> bytes:
    """The label of a job."""
    code = segno.make(f"{PREFIX} {state.ticket}", error="m", micro=False)
    modules = [list(row) for row in code.matrix]
    size = QR_MM / len(modules)
    left, top = 2.0, (HEIGHT_MM - QR_MM) / 2.0
    path = "".join(
        f"M{left + column * size:.3f} {top + line * size:.3f}h{size:.3f}v{size:.3f}h-{size:.3f}z"
        for line, row in enumerate(modules)
        for column, dark in enumerate(row)
        if dark
    )
    x = left + QR_MM + 3.0
    lines = (
        (8.5, 7.0, "bold", state.ticket),
        (15.5, 3.2, "normal", _short(state.set_name)),
        (20.5, 3.2, "normal", state.board_id),
        (25.5, 3.2, "normal", f"taken in {state.opened_at[:10]}"),
    )
    texts = "".join(
        f'<text x="{x}" y="{y}" font-size="{height}" font-weight="{weight}">{escape(words)}</text>'
        for y, height, weight, words in lines
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH_MM}mm" height="{HEIGHT_MM}mm" '
        f'viewBox="0 0 {WIDTH_MM} {HEIGHT_MM}" font-family="B612, DejaVu Sans, sans-serif">'
        f'<rect width="100%" height="100%" fill="white"/><path d="{path}"/>{texts}</svg>\n'
    ).encode()


def _short(text: str) -> str:
    return text if len(text) <= MOST_LETTERS else f"{text[: MOST_LETTERS - 1]}…"
