"""A designator bound to the job that its part does: “C952 = 12 V reservoir 1000u 25V x2”.

Before the sign stands what is printed on the board, after it the place as words say it, then what
the part itself says: value, rated volts, how many of them lie in parallel. “C953 with C952” is a
further part beside one that has its place already; “no clamp diode” strikes one out that this board
does not have.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

import msgspec

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.parts_named import parts_named
from loose_rail.boards.profile import Board, Component
from loose_rail.kernel.errors import BadEntryError, BoardFileError
from loose_rail.kernel.quantities import component_value
from loose_rail.markings.decode import decode

PARALLEL, SERIES = "parallel", "series"
MOST_IN_PARALLEL = 8
"""Of one place: more is a slip of the hand."""
_REF = r"[A-Z]{1,4}[-_]?\d{1,5}[A-Z]?"
_BINDS = re.compile(rf"^\s*({_REF})\s*(?:=|\bis\b)\s*(.+?)\s*$", re.IGNORECASE)
_BESIDE = re.compile(
    rf"^\s*({_REF})\s+(?:with|beside|parallel to|in (series) with|(series) with)\s+(.+?)\s*$",
    re.IGNORECASE,
)
_LACKS = re.compile(r"^\s*(?:no|without|has no|lacks)\s+(.+?)\s*$", re.IGNORECASE)
_COUNT = re.compile(r"\s*\b[x×]\s?(\d)$|\s+(\d)\s?[x×]$", re.IGNORECASE)
_RATED = re.compile(r"[\s/]+(\d{1,4}(?:\.\d)?)\s?V$", re.IGNORECASE)
_VALUE = re.compile(
    r"\s+(\d+(?:[.,]\d+)?\s?[pnuµm]F?|\d+(?:[.,]\d+)?\s?[kM]?(?:Ω|ohms?)|\d+[RkKMpnuµ]\d*|"
    r"\d+(?:[.,]\d+)?\s?[kM])$"
)

_MARK = re.compile(r"\s+(\d{3}[FGJKMZ]?|\d{4})$")
_ON_CAPACITORS, _ON_CHIPS = re.compile(r"\d{3}[FGJKkMZ]?"), re.compile(r"\d{3,4}")
"""Digits as they stand on discs and chips: 104K, 472, 4701."""


class Binding(msgspec.Struct, tag="bound", frozen=True, forbid_unknown_fields=True):
    """A printed designator and the place of its part, by the name that it had when this was said;
    value and rated volts as read on the part, empty where they were not, and how many there are.
    `slot` is the job that it does, by which it is found where a mended label renames its place."""

    ref: str
    place: str
    slot: str = ""
    value: str = ""
    volts: str = ""
    count: int = 1


class Beside(msgspec.Struct, tag="beside", frozen=True, forbid_unknown_fields=True):
    """A part that this board has beside one of the composed ones, in parallel or in series."""

    ref: str
    place: str
    slot: str = ""
    how: str = PARALLEL
    value: str = ""
    volts: str = ""


class Struck(msgspec.Struct, tag="struck", frozen=True, forbid_unknown_fields=True):
    """A composed part that this board does not have."""

    place: str
    slot: str = ""


Line = Binding | Beside | Struck


@dataclass(frozen=True, slots=True)
class Print:
    """What a part says of itself at the end of a line, and the words before it."""

    words: str
    value: str
    volts: str
    count: int


def printed_on(text: str) -> Print:
    """Split “12 V reservoir 1000u 25V x2” into its words and what is printed on the part.

    Volts alone are the place's own (“reservoir 12 V”): they are a rating only behind a value.
    """
    rest, count = text.strip(), 1
    counted = _COUNT.search(rest)
    if counted:
        count = int(counted[1] or counted[2])
        rest = rest[: counted.start()].strip()
    rated = _RATED.search(rest)
    before = rest[: rated.start()] if rated else rest
    valued = _VALUE.search(f" {before}")
    valued = valued or _MARK.search(f" {before}")
    if valued is None:
        return Print(rest, "", "", count)
    words = f" {before}"[: valued.start()].strip()
    return Print(words, _code(valued[1]), rated[1] if rated else "", count)


def _code(text: str) -> str:
    """A typed value in the spelling of a profile: 1000u, 0R22, 4k7."""
    plain = text.replace(" ", "").replace(",", ".").replace("µ", "u").replace("K", "k")
    plain = re.sub(r"F$", "", plain)
    return re.sub(r"(Ω|ohms?)$", "R" if not re.search(r"[kM]", plain) else "", plain, flags=re.I)


def line_of(board: Board, text: str) -> Line:
    """What one line says about a board. Raises BoardFileError with what to type instead."""
    lacks = _LACKS.match(text)
    if lacks:
        gone = place_named(board, lacks[1])
        return Struck(gone, slot_of(board, gone))
    beside = _BESIDE.match(text)
    if beside:
        said = printed_on(beside[4])
        how = SERIES if beside[2] or beside[3] else PARALLEL
        first = place_named(board, said.words)
        slot = slot_of(board, first)
        return Beside(_free(board, beside[1]), first, slot, how, said.value, said.volts)
    binds = _BINDS.match(text)
    if binds is None:
        raise BoardFileError(
            f"“{text.strip()}” binds nothing.",
            "Type C952 = 12 V reservoir 1000u 25V, C953 with C952, or no clamp diode.",
        )
    said = printed_on(binds[2])
    place = place_named(board, said.words)
    said = _by_mark(board.component(place), said)
    _check_value(board.component(place), said)
    slot = slot_of(board, place)
    return Binding(_free(board, binds[1], place), place, slot, said.value, said.volts, said.count)


def slot_of(board: Board, ref: str) -> str:
    """The job of a part as data: its first role and its place in it; empty where it has none."""
    for name, refs in board.roles.items():
        if ref in refs:
            return f"{name}#{refs.index(ref)}"
    return ""


def in_slot(board: Board, slot: str) -> str:
    """The part that does a job on this board, empty where none does."""
    name, _, number = slot.partition("#")
    refs = board.roles.get(name, [])
    return refs[int(number)] if number and int(number) < len(refs) else ""


def _free(board: Board, ref: str, place: str = "") -> str:
    wanted = ref.upper()
    taken = {part.ref for part in board.components if part.ref != place}
    if wanted in taken:
        raise BoardFileError(
            f"{wanted} has its place already: {board.component(wanted).duty or wanted}.",
            f"Take that line out first, or mend its number; “{wanted}” can be one part only.",
        )
    return wanted


def place_named(board: Board, words: str) -> str:
    """The one part that words name. Raises BoardFileError with the nearest ones."""
    found = parts_named(board, words)
    if len(found) == 1:
        return found[0]
    if found:
        several = ", ".join(found[:4])
        raise BoardFileError(f"“{words}” may be {several}.", "Type one of them in full.")
    near = sorted(
        (part.ref for part in board.components if part.kind != "load"),
        key=lambda ref: -_shared(ref, words),
    )[:3]
    raise BoardFileError(
        f"This board has no “{words}” as it is put together.",
        f"Nearest: {', '.join(near)}. Or add it beside one: C953 with C952.",
    )


def _shared(ref: str, words: str) -> int:
    return len(set(ref.lower().split()) & set(words.lower().split()))


def _by_mark(part: Component, said: Print) -> Print:
    """The value where digits of a marking were typed for it: 104K on a capacitor is 100n, 472 on a
    resistor 4k7."""
    farads = is_a(part, Trait.CAPACITOR)
    marked = _ON_CAPACITORS if farads else _ON_CHIPS
    if not (farads or part.kind == "resistor") or not marked.fullmatch(said.value):
        return said
    try:
        found = decode(said.value.upper(), "capacitor" if farads else "smd")[0]
    except BadEntryError as error:
        raise BoardFileError(f"“{said.value}”: {error.message}", error.hint) from error
    return replace(said, value=_spelled(found.value, farads))


def _spelled(value: float, farads: bool) -> str:
    """A value in the spelling of a profile."""
    steps = (
        ((1e-6, "u"), (1e-9, "n"), (1e-12, "p")) if farads else ((1e6, "M"), (1e3, "k"), (1, "R"))
    )
    size, letter = next((one for one in steps if value >= one[0] * (1 - 1e-9)), steps[-1])
    return f"{value / size:g}{letter}"


def _check_value(part: Component, said: Print) -> None:
    if said.value:
        try:
            component_value(said.value)
        except ValueError as error:
            raise BoardFileError(
                f"“{said.value}” is no value.", "Type it as 1000u, 4k7, 0R22 or 100n."
            ) from error
        if is_a(part, Trait.CAPACITOR) != bool(re.search(r"[pnu]", said.value)) and (
            is_a(part, Trait.CAPACITOR) or part.kind == "resistor"
        ):
            kind = "capacitor: farads" if is_a(part, Trait.CAPACITOR) else "resistor: ohms"
            raise BoardFileError(f"{part.ref} is a {kind} are printed on it, not {said.value}.")
    if said.count > 1 and not is_a(part, Trait.CAPACITOR):
        raise BoardFileError(
            f"{part.ref}: only capacitors are counted in parallel so.",
            "Name the second part: Q902 with Q901.",
        )
    if not 1 <= said.count <= MOST_IN_PARALLEL:
        raise BoardFileError(f"{said.count} of them: 1 to {MOST_IN_PARALLEL} can lie in parallel.")
