"""The report as one HTML file that needs nothing beside it."""

from __future__ import annotations

from importlib import resources

from jinja2 import Environment, StrictUndefined, select_autoescape

from loose_rail.reports.content import ReportContent


def render_html(content: ReportContent) -> str:
    """The report as an HTML document (UTF-8)."""
    environment = Environment(
        autoescape=select_autoescape(default=True, default_for_string=True),
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    source = resources.files("loose_rail.reports").joinpath("report.html").read_text("utf-8")
    return environment.from_string(source).render(report=content)
