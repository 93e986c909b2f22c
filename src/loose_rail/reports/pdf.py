"""The report as PDF, with the application's own fonts embedded.

A letter that the first font lacks is set in a second one with many scripts; one that neither has
stands as an empty box, and is told to whoever writes the sheet: nothing is dropped without a word.
"""

from __future__ import annotations

from collections.abc import Callable
from itertools import groupby
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Table, TableStyle

import loose_rail
from loose_rail.reports.content import ReportContent

ALARM = HexColor("#B3261E")
INK, QUIET, LINE = HexColor("#22303A"), HexColor("#5B6770"), HexColor("#D9D3C5")
MARGIN_POINTS = 48
_PLAIN_MARKS = {"●": "in range", "◆": "OUT OF RANGE", "▲": "borderline"}


FONTS = (
    ("B612", "B612-Regular.ttf"),
    ("B612-Bold", "B612-Bold.ttf"),
    ("DejaVu", "DejaVuSans.ttf"),
    ("DejaVu-Bold", "DejaVuSans-Bold.ttf"),
)
FALLBACK = {"B612": "DejaVu", "B612-Bold": "DejaVu-Bold"}
BOX = "□"
Set = Callable[[str, ParagraphStyle], Paragraph]


def write_pdf(content: ReportContent, path: Path) -> str:
    """Write the report to a file; returns the letters that no font here can print, each once.
    Raises OSError where the place can't be written."""
    _register_fonts()
    missing: dict[str, None] = {}
    document = SimpleDocTemplate(
        str(path),
        pagesize=A4,
        leftMargin=MARGIN_POINTS,
        rightMargin=MARGIN_POINTS,
        topMargin=MARGIN_POINTS,
        bottomMargin=MARGIN_POINTS,
        title=content.title,
        author="Loose Rail",
    )
    document.build(_story(content, missing))
    return "".join(missing)


def _register_fonts() -> None:
    folder = Path(loose_rail.__file__).parent / "assets" / "fonts"
    for name, file in FONTS:
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(folder / file)))


def _style(
    size: float, bold: bool = False, quiet: bool = False, above: float = 0
) -> ParagraphStyle:
    return ParagraphStyle(
        "text",
        fontName="B612-Bold" if bold else "B612",
        fontSize=size,
        leading=size * 1.35,
        textColor=QUIET if quiet else INK,
        spaceBefore=above,
        spaceAfter=2,
    )


def _paragraph(text: str, style: ParagraphStyle, missing: dict[str, None]) -> Paragraph:
    """Text in a style, its letters each in a font that has them; what has none is noted."""
    runs = []
    for font, letters in groupby(text, lambda letter: _font_of(letter, style.fontName)):
        run = "".join(letters)
        if not font:
            missing.update(dict.fromkeys(run))
            font, run = FALLBACK[style.fontName], BOX * len(run)
        shown = escape(run)
        runs.append(shown if font == style.fontName else f'<font name="{font}">{shown}</font>')
    return Paragraph("".join(runs), style)


def _font_of(letter: str, first: str) -> str:
    """The font that prints a letter, empty for none."""
    if letter.isspace():
        return first
    for name in (first, FALLBACK[first]):
        if ord(letter) in pdfmetrics.getFont(name).face.charToGlyph:
            return name
    return ""


def _story(content: ReportContent, missing: dict[str, None]) -> list[Flowable]:
    def set_in(text: str, style: ParagraphStyle) -> Paragraph:
        return _paragraph(text, style, missing)

    body, quiet, head = _style(9), _style(8, quiet=True), _style(11, bold=True, above=10)
    alarm = ParagraphStyle("alarm", parent=_style(9, bold=True), textColor=ALARM)
    story: list[Flowable] = [
        set_in(content.title, _style(16, bold=True)),
        set_in(f"{content.board} · {content.dates}", quiet),
        set_in(f"“{content.complaint}”", body),
        set_in("Verdict", head),
        set_in(content.verdict, body),
        *(set_in(item, body) for item in content.work),
        *(set_in(item, alarm) for item in content.alarm),
        set_in("Before and after", head),
    ]
    if content.pairs:
        rows = [["point", "state", "before", "after", "a good board"]]
        rows += [[p.probe, p.state, p.before, p.after, p.expected] for p in content.pairs]
        story.append(_table(set_in, rows, (130, 95, 110, 90, 75), bold_column=3))
    else:
        story.append(set_in("No point was read both before and after the repair.", quiet))
    story += [
        set_in("Level of proof", head),
        set_in(content.proof_words, body),
        *(set_in(f"Unproved: {item}", quiet) for item in content.unproved),
    ]
    if content.price:
        story.append(set_in(f"Price: {content.price}", body))
    story.append(set_in("Readings", head))
    rows = [["#", "probe", "board state", "reading", "expected", "", ""]]
    for line in content.lines:
        state = f"{line.state}, after" if line.after_repair else line.state
        rows.append(
            [
                str(line.number),
                line.probe,
                state,
                line.reading,
                line.expected,
                _PLAIN_MARKS[line.verdict],
                line.reason,
            ]
        )
    story.append(_table(set_in, rows, (18, 130, 78, 92, 70, 48, 70)))
    return story + [set_in(item, quiet) for item in content.cautions]


def _table(
    set_in: Set, rows: list[list[str]], widths: tuple[float, ...], bold_column: int | None = None
) -> Table:
    head, cell, strong = _style(7.5, quiet=True), _style(7.5), _style(7.5, bold=True)
    body = [
        [
            set_in(text, head if not r else strong if c == bold_column else cell)
            for c, text in enumerate(row)
        ]
        for r, row in enumerate(rows)
    ]
    table = Table(body, colWidths=widths, repeatRows=1, hAlign="LEFT")
    table.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, -1), 0.5, LINE),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("RIGHTPADDING", (0, 0), (-1, -1), 6),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
            ]
        )
    )
    return table
