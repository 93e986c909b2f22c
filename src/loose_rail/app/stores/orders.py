"""What is on order: by supplier, with carriage shared over its jobs; as a table for a file."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from loose_rail.app.stores.stock import Ordered, Stores, SupplierTerms

FORMULA = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True, slots=True)
class OrderSheet:
    """An order that is not sent yet: its lines, goods, carriage, and what lacks to the least."""

    supplier: str
    lines: tuple[Ordered, ...]
    goods: Decimal
    carriage: Decimal
    lacking: Decimal

    @property
    def total(self) -> Decimal:
        """With carriage, without what would be added to reach the least order."""
        return self.goods + self.carriage

    @property
    def carriage_a_job(self) -> Decimal:
        """Carriage shared over the jobs of the order, to a cent."""
        jobs = len({one.ticket for one in self.lines}) or 1
        return (self.carriage / jobs).quantize(Decimal("0.01"))


def order_sheets(stores: Stores, state: str = "wanted") -> tuple[OrderSheet, ...]:
    """One for each supplier that something is wanted from."""
    terms = {one.name: one for one in stores.suppliers}
    names = dict.fromkeys(one.supplier for one in stores.orders if one.state == state)
    found = []
    for name in names:
        lines = tuple(o for o in stores.orders if o.supplier == name and o.state == state)
        goods = sum((one.price for one in lines), Decimal(0))
        asked = terms.get(name, SupplierTerms(name))
        lacking = max(asked.least - goods, Decimal(0))
        found.append(OrderSheet(name, lines, goods, asked.carriage, lacking))
    return tuple(found)


def orders_csv(sheets: Sequence[OrderSheet]) -> bytes:
    """As a table; a text that a spreadsheet would take for a formula is quoted."""
    made = io.StringIO()
    table = csv.writer(made)
    table.writerow(["supplier", "article", "price", "job", "for", "carriage of the job"])
    for sheet in sheets:
        for one in sheet.lines:
            cells = [one.supplier, one.words, one.price, one.ticket, " ".join(one.places)]
            table.writerow([_plain(str(cell)) for cell in (*cells, sheet.carriage_a_job)])
    return made.getvalue().encode()


UNDER_WAY = ("ordered", "arrived", "reserved")


def under_way(stores: Stores) -> tuple[Ordered, ...]:
    """What is ordered, has arrived, or lies aside for a job, and is not in a set yet."""
    return tuple(one for one in stores.orders if one.state in UNDER_WAY)


def _plain(text: str) -> str:
    return f"'{text}" if text.startswith(FORMULA) else text
