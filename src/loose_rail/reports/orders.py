"""The order list on paper: a table for each supplier, as one HTML file."""

from __future__ import annotations

from collections.abc import Sequence
from importlib import resources
from typing import Any

from jinja2 import Environment, StrictUndefined, select_autoescape


def orders_page(sheets: Sequence[Any], day: str) -> str:
    """The list of what is wanted (`app.stores.orders.OrderSheet`) as an HTML document."""
    environment = Environment(
        autoescape=select_autoescape(default=True, default_for_string=True),
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    source = resources.files("loose_rail.reports").joinpath("orders.html").read_text("utf-8")
    return environment.from_string(source).render(sheets=sheets, day=day)
