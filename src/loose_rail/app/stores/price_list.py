"""A supplier's price list or a list of one's own drawers, from CSV: columns by their headings, or
named by the person."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping

from loose_rail.app.stores.stock import Line
from loose_rail.app.stores.typed import money
from loose_rail.kernel.errors import BadEntryError

HEADINGS = {
    "words": ("words", "article", "description", "part", "ratings", "item", "bezeichnung"),
    "price": ("price", "unit price", "each", "preis", "cost"),
    "count": ("count", "quantity", "qty", "stock", "pieces", "menge"),
    "drawer": ("drawer", "place", "bin", "box", "fach"),
    "supplier": ("supplier", "seller", "from", "vendor", "lieferant"),
}
"""What a column is called, lower case; the first that matches."""
MOST_ROWS = 20_000


def read_price_list(
    data: bytes, name: str, columns: Mapping[str, str] | None = None, supplier: str = ""
) -> tuple[list[Line], list[str]]:
    """The lines, and the rows that could not be read with why. `columns` names headings for words,
    price, count, drawer, supplier. Raises BadEntryError where no column says what it is."""
    text = data.decode("utf-8-sig", "replace")
    rows = [line for line in text.splitlines() if line.strip()]
    if len(rows) < 2:
        raise BadEntryError(f"{name} has no rows below its headings.", "Export it as CSV.")
    if len(rows) > MOST_ROWS:
        raise BadEntryError(f"{name} has {len(rows):,} rows.", f"At most {MOST_ROWS:,} are read.")
    separator = max((";", "\t", ","), key=rows[0].count)
    table = csv.DictReader(io.StringIO("\n".join(rows)), delimiter=separator)
    heads = [head.strip() for head in table.fieldnames or []]
    found = _columns(heads, dict(columns or {}))
    if "words" not in found:
        raise BadEntryError(
            f"No column of {name} says what the article is; there are {', '.join(heads[:8])}.",
            "Name it: words=Description price=Unit.",
        )
    lines, refused = [], []
    for number, row in enumerate(table, start=2):
        cells = {key.strip(): (value or "") for key, value in row.items() if isinstance(key, str)}
        try:
            line = _line(cells, found, supplier)
        except BadEntryError as error:
            refused.append(f"row {number}: {error.message}")
            continue
        if line is not None:
            lines.append(line)
    return lines, refused


def _columns(heads: list[str], told: dict[str, str]) -> dict[str, str]:
    by_lower = {head.lower(): head for head in heads}
    found = {}
    for key, names in HEADINGS.items():
        wanted = (told[key].lower(),) if key in told else names
        head = next((by_lower[name] for name in wanted if name in by_lower), "")
        if head:
            found[key] = head
    return found


def _line(cells: dict[str, str], columns: dict[str, str], supplier: str) -> Line | None:
    said = {key: cells.get(head, "").strip() for key, head in columns.items()}
    words = " ".join(said.get("words", "").split())
    if not words:
        return None
    count = said.get("count", "") or "1"
    if not count.isdecimal() or int(count) > 99_999:
        raise BadEntryError(f"“{count}” is no count.")
    price = money(said["price"].lstrip("€$£ ")) if said.get("price") else money("0")
    return Line(
        number=0,
        words=words,
        count=int(count),
        price=price,
        drawer=said.get("drawer", ""),
        supplier=said.get("supplier", "") or supplier,
    )
