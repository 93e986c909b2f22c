"""What a shop has and may order: lines with their ratings in words, suppliers with their terms, and
what is on order for which job. Money is in the shop's currency, as decimal text."""

from __future__ import annotations

from decimal import Decimal

import msgspec

SCHEMA = "loose-rail/stores/1"


class Line(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A line of the stores. `count` pieces lie in a `drawer`, or a `supplier` has as many as are
    wanted; `origin` is the donor board and place of a used part. A kit brings the parts for the
    `places` of a `board` at once. A donor is a whole `board` of that number, from which parts are
    taken one by one until they are `gone`."""

    number: int
    words: str
    count: int = 1
    price: Decimal = Decimal(0)
    drawer: str = ""
    supplier: str = ""
    origin: str = ""
    board: str = ""
    places: tuple[str, ...] = ()
    donor: bool = False
    gone: tuple[str, ...] = ()

    def without_place(self, ref: str) -> Line:
        """A donor when the part of a place has been taken off it."""
        gone = tuple(dict.fromkeys((*self.gone, ref.upper())))
        words = f"donor {self.board} without {', '.join(gone)}"
        return msgspec.structs.replace(self, gone=gone, words=words)

    def with_place(self, ref: str) -> Line:
        """A donor when the part of a place lies with it again."""
        gone = tuple(one for one in self.gone if one != ref.upper())
        left = f" without {', '.join(gone)}" if gone else ""
        return msgspec.structs.replace(self, gone=gone, words=f"donor {self.board}{left}")

    @property
    def is_kit(self) -> bool:
        """Whether it is for places of a board, not for a rating."""
        return bool(self.places)


class SupplierTerms(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Carriage of an order and the least that is sent for."""

    name: str
    carriage: Decimal = Decimal(0)
    least: Decimal = Decimal(0)


class Ordered(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Something that is set aside or ordered for a job. From a supplier its `state` is wanted,
    ordered, then arrived; from a drawer it is reserved, and `line` is the drawer's. In the set it
    is fitted; what was not needed is returned."""

    words: str
    supplier: str
    price: Decimal
    ticket: str
    places: tuple[str, ...]
    state: str = "wanted"
    line: int = 0

    @property
    def is_at_hand(self) -> bool:
        """Whether it lies here for its job."""
        return self.state in ("reserved", "arrived")


class Stores(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Everything; a new shop has nothing."""

    schema: str = SCHEMA
    lines: tuple[Line, ...] = ()
    suppliers: tuple[SupplierTerms, ...] = ()
    orders: tuple[Ordered, ...] = ()

    def with_line(self, line: Line) -> Stores:
        """One more line, numbered; one with its number takes its place."""
        number = line.number or max((one.number for one in self.lines), default=0) + 1
        new = msgspec.structs.replace(line, number=number)
        if any(one.number == number for one in self.lines):
            lines = tuple(new if one.number == number else one for one in self.lines)
        else:
            lines = (*self.lines, new)
        return msgspec.structs.replace(self, lines=lines)

    def without_line(self, number: int) -> Stores:
        """The line is gone."""
        kept = tuple(one for one in self.lines if one.number != number)
        return msgspec.structs.replace(self, lines=kept)

    def line(self, number: int) -> Line | None:
        """A line by its number, None where there is none."""
        return next((one for one in self.lines if one.number == number), None)

    def with_supplier(self, terms: SupplierTerms) -> Stores:
        """A supplier's terms; the last word counts."""
        rest = tuple(one for one in self.suppliers if one.name != terms.name)
        return msgspec.structs.replace(self, suppliers=(*rest, terms))

    def with_orders(self, orders: tuple[Ordered, ...]) -> Stores:
        """With these orders."""
        return msgspec.structs.replace(self, orders=orders)
