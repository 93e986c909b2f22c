"""The report as PDF, with the application's own fonts embedded."""

from __future__ import annotations

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
_PLAIN_MARKS = {"●": "agrees", "◆": "DISAGREES", "▲": "doubtful"}


def write_pdf(content: ReportContent, path: Path) -> None:
    """Write the report to a file. Raises OSError where the place can't be written."""
    _register_fonts()
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
    document.build(_story(content))


def _register_fonts() -> None:
    folder = Path(loose_rail.__file__).parent / "ui" / "fonts"
    for name, file in (("B612", "B612-Regular.ttf"), ("B612-Bold", "B612-Bold.ttf")):
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


def _paragraph(text: str, style: ParagraphStyle) -> Paragraph:
    return Paragraph(escape(text), style)


def _story(content: ReportContent) -> list[Flowable]:
    body, quiet, head = _style(9), _style(8, quiet=True), _style(11, bold=True, above=10)
    alarm = ParagraphStyle("alarm", parent=_style(9, bold=True), textColor=ALARM)
    story: list[Flowable] = [
        _paragraph(content.title, _style(16, bold=True)),
        _paragraph(f"{content.board} · {content.dates}", quiet),
        _paragraph(f"“{content.complaint}”", body),
        _paragraph("Verdict", head),
        _paragraph(content.verdict, body),
        *(_paragraph(item, body) for item in content.work),
        *(_paragraph(item, alarm) for item in content.alarm),
        _paragraph("Before and after", head),
    ]
    if content.pairs:
        rows = [["point", "state", "before", "after", "a sound board"]]
        rows += [[p.probe, p.state, p.before, p.after, p.expected] for p in content.pairs]
        story.append(_table(rows, (130, 95, 110, 90, 75), bold_column=3))
    else:
        story.append(_paragraph("No point was read both before and after the repair.", quiet))
    story += [
        _paragraph("Level of proof", head),
        _paragraph(content.proof_words, body),
        *(_paragraph(f"Unproved: {item}", quiet) for item in content.unproved),
    ]
    if content.price:
        story.append(_paragraph(f"Price: {content.price}", body))
    story.append(_paragraph("Readings", head))
    rows = [["#", "probe", "board state", "reading", "sound", "", ""]]
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
    story.append(_table(rows, (18, 130, 78, 92, 70, 48, 70)))
    return story + [_paragraph(item, quiet) for item in content.cautions]


def _table(
    rows: list[list[str]], widths: tuple[float, ...], bold_column: int | None = None
) -> Table:
    head, cell, strong = _style(7.5, quiet=True), _style(7.5), _style(7.5, bold=True)
    body = [
        [
            _paragraph(text, head if not r else strong if c == bold_column else cell)
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
