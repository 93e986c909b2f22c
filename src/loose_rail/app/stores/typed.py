"""A typed line of the stores: `12x 1000u 16V 105C low-esr @A3 =0.40`, `from North: kit PB-4310-2
C21 C22 =9.80`, `donor PB-4310-2 without C21 @D2`, `supplier North carriage 4.50 least 10`, `3 count
8`, `-3`, `arrived North`, `returned 0004 C21`."""

from __future__ import annotations

import re
from decimal import Decimal, InvalidOperation

import msgspec

from loose_rail.app.stores.stock import Line, Stores, SupplierTerms
from loose_rail.kernel.errors import BadEntryError

HELP = (
    "12x 1000u 16V 105C low-esr @A3 =0.40 · from North: kit PB-4310-2 C21 C22 =9.80 · donor "
    "PB-4310-2 without C21 · -3"
)
_DONOR = re.compile(r"donor\s+(\S+)(?:\s+without\s+(.+))?", re.IGNORECASE)
_COUNT = re.compile(r"(\d{1,5})\s*[x×](?:\s+(.*))?")
_FROM = re.compile(r"from\s+([^:]{1,40}):\s*(.+)", re.IGNORECASE)
_KIT = re.compile(r"kit\s+(\S+)\s+(.+)", re.IGNORECASE)
_OFF = re.compile(r"\s+off\s+(\S+)\s+(\S+)\s*$", re.IGNORECASE)
_SUPPLIER = re.compile(
    r"supplier\s+(\S+)(?:\s+carriage\s+(\S+))?(?:\s+least\s+(\S+))?", re.IGNORECASE
)
_NUMBER_COUNT = re.compile(r"(\d+)\s+count\s+(\d{1,5})", re.IGNORECASE)
_STATE = re.compile(r"(ordered|arrived)\s+(\S+)", re.IGNORECASE)
_RETURNED = re.compile(r"returned\s+(\S+)\s+(\S.*)", re.IGNORECASE)
MOST_LINES = 20_000


def entered(stores: Stores, text: str) -> tuple[Stores, str]:
    """The stores after a typed line, and what was done. Raises BadEntryError."""
    line = text.strip()
    if not line:
        raise BadEntryError("Nothing typed yet.", HELP)
    if match := re.fullmatch(r"-\s*(\d+)", line):
        found = _known(stores, int(match[1]))
        return stores.without_line(found.number), f"Line {found.number} is gone: {found.words}."
    if match := _NUMBER_COUNT.fullmatch(line):
        found = _known(stores, int(match[1]))
        new = msgspec.structs.replace(found, count=int(match[2]))
        return stores.with_line(new), f"{new.count} of {new.words}."
    if match := _SUPPLIER.fullmatch(line):
        terms = SupplierTerms(match[1], money(match[2] or "0"), money(match[3] or "0"))
        words = f"{terms.name}: carriage {terms.carriage}, least order {terms.least}."
        return stores.with_supplier(terms), words
    if match := _STATE.fullmatch(line):
        return _moved(stores, match[1].lower(), match[2])
    if match := _RETURNED.fullmatch(line):
        return _returned(stores, match[1], match[2])
    if len(stores.lines) >= MOST_LINES:
        raise BadEntryError(f"{MOST_LINES} lines are the most.", "Take old ones out first.")
    new = read_line(line)
    kept = stores.with_line(new)
    return kept, f"Line {kept.lines[-1].number}: {new.words}."


def read_line(text: str) -> Line:
    """A line of goods. Raises BadEntryError."""
    supplier, rest = "", text
    if match := _FROM.fullmatch(text):
        supplier, rest = match[1].strip(), match[2]
    count = 1
    if match := _COUNT.fullmatch(rest):
        count, rest = int(match[1]), match[2] or ""
    origin = ""
    if match := _OFF.search(rest):
        origin, rest = f"{match[1]} {match[2]}", rest[: match.start()]
    words, price, drawer = [], Decimal(0), ""
    for word in rest.split():
        if word.startswith("=") and len(word) > 1:
            price = money(word[1:])
        elif word.startswith("@") and len(word) > 1:
            drawer = word[1:]
        else:
            words.append(word)
    if not words:
        raise BadEntryError("What is it? Its ratings are missing.", HELP)
    said = " ".join(words)
    board, places = "", tuple[str, ...]()
    if match := _KIT.fullmatch(said):
        board, places = match[1], tuple(dict.fromkeys(match[2].upper().split()))
    if match := _DONOR.fullmatch(said):
        if supplier:
            raise BadEntryError("A donor board lies in the shop.", "donor PB-4310-2 without C21")
        gone = _places(match[2] or "")
        donor = Line(0, said, count, price, drawer, board=match[1], donor=True, gone=gone)
        return donor
    return Line(
        number=0,
        words=said,
        count=count,
        price=price,
        drawer=drawer,
        supplier=supplier,
        origin=origin,
        board=board,
        places=places,
    )


def _places(text: str) -> tuple[str, ...]:
    """Places in a typed line: by spaces, or by commas where a name has words of its own."""
    names = text.split(",") if "," in text else text.split()
    return tuple(dict.fromkeys(one.strip().upper() for one in names if one.strip()))


def money(text: str) -> Decimal:
    """An amount, decimal comma or point. Raises BadEntryError."""
    try:
        found = Decimal(text.replace(",", "."))
    except InvalidOperation as error:
        raise BadEntryError(f"“{text}” is no amount.", "Type it such as =0.40.") from error
    if not found.is_finite() or not Decimal(0) <= found < Decimal(1_000_000):
        raise BadEntryError(f"“{text}” is no amount.", "Type it such as =0.40.")
    return found


def _known(stores: Stores, number: int) -> Line:
    found = stores.line(number)
    if found is None:
        raise BadEntryError(f"There is no line {number}.", "Its number stands at its left.")
    return found


def _moved(stores: Stores, state: str, supplier: str) -> tuple[Stores, str]:
    before = {"ordered": "wanted", "arrived": "ordered"}[state]
    moved = [o for o in stores.orders if o.supplier == supplier and o.state == before]
    if not moved:
        raise BadEntryError(f"Nothing {before} from {supplier}.", "Its name as it stands below.")
    orders = tuple(
        msgspec.structs.replace(one, state=state) if one in moved else one for one in stores.orders
    )
    return stores.with_orders(orders), f"{len(moved)} from {supplier}: {state}."


def _returned(stores: Stores, ticket: str, place: str) -> tuple[Stores, str]:
    """A part that its job did not need: back into its drawer, or to who sent it."""
    at_hand = [
        one
        for one in stores.orders
        if one.ticket == ticket
        and one.is_at_hand
        and place.strip().upper() in {ref.upper() for ref in one.places}
    ]
    if not at_hand:
        raise BadEntryError(
            f"Nothing lies at hand for {place.strip()} of job {ticket}.",
            "Its ticket and place as they stand below: returned 0004 C21.",
        )
    found = at_hand[0]
    orders = tuple(
        msgspec.structs.replace(one, state="returned") if one is found else one
        for one in stores.orders
    )
    line = stores.line(found.line)
    if line is not None and line.donor:
        for ref in found.places:
            line = line.with_place(ref)
        stores = stores.with_line(line)
    elif line is not None:
        stores = stores.with_line(msgspec.structs.replace(line, count=line.count + 1))
    where = f"drawer {line.drawer}" if line is not None else found.supplier
    return stores.with_orders(orders), f"{found.words}: returned to {where}."
