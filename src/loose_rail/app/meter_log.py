"""Another meter's log: a CSV file of which the columns are chosen by number.

Comma, semicolon or tab; with or without headings; decimal comma where the separator allows. Units
are heeded: `time [ms]` and `U/mV` mean what they say.
"""

from __future__ import annotations

import csv
import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from loose_rail.app.log_cells import TIME_UNITS, quantities, seconds_of, unit_of
from loose_rail.app.trace import Trace
from loose_rail.kernel.errors import TraceError

MOST_COLUMNS, MOST_ROWS = 200, 5_000_000
LONGEST_CELL = 5_000
"""What a log of meters has at most [E]: more is another kind of file."""
HEAD_ROWS = 200
"""Rows before the first reading that are looked through; a preamble is shorter [E]."""
TRIED_ROWS = 50
TIME_WORDS = ("time", "second", "zeit", "t", "elapsed", "date")


@dataclass(frozen=True, slots=True)
class Log:
    """A CSV file as it was read: headings and columns of text, and which look like what."""

    name: str
    heads: tuple[str, ...]
    columns: tuple[tuple[str, ...], ...]
    time_column: int
    value_columns: tuple[int, ...]

    @property
    def count(self) -> int:
        """Rows."""
        return len(self.columns[0])


def read_log(data: bytes, name: str) -> Log:
    """Split a log into columns. Raises TraceError with what to do."""
    text = _decoded(data, name)
    lines = [line for line in text.splitlines() if line.strip() and not line.startswith("#")]
    if len(lines) < 2:
        raise TraceError(f"{name} has no rows of readings.", "Export the log as CSV.")
    if len(lines) > MOST_ROWS:
        raise TraceError(f"{name} has {len(lines):,} rows.", "Cut it into shorter logs.")
    separator = max((";", "\t", ","), key=lambda s: min(line.count(s) for line in lines[-3:]))
    if not lines[-1].count(separator):
        raise TraceError(f"{name} has one column only.", "A time and a value are needed.")
    table = _table(lines, separator, name)
    width = max(len(row) for row in table)
    if width > MOST_COLUMNS:
        raise TraceError(f"{name} has {width} columns.", "Export fewer channels.")
    start = _first_row(table)
    if start is None:
        raise TraceError(f"{name} holds no numbers.", "Export the log as CSV.")
    heads = _heads(table[start - 1], width) if start else _heads([], width)
    rows = [row + [""] * (width - len(row)) for row in table[start:]]
    columns = tuple(zip(*rows, strict=True))
    time_column = _time_column(heads, columns)
    values = [k for k in range(width) if k != time_column and _mostly_numbers(columns[k])]
    return Log(name, heads, columns, time_column, tuple(values))


def trace_of(log: Log, time_column: int, value_columns: Sequence[int]) -> Trace:
    """The chosen columns as a trace that begins at 0 s. Raises TraceError.

    A time column holds seconds, the unit of its heading, clock times or dates; -1 counts the rows
    as seconds.
    """
    if not value_columns:
        raise TraceError("No column of values is chosen.", "Choose at least one.")
    seconds = np.arange(log.count, dtype=float)
    if time_column >= 0:
        cells, head = log.columns[time_column], log.heads[time_column]
        found, bad = seconds_of(cells, TIME_UNITS.get(_told(head)[1].lower(), 1.0))
        if found is None:
            raise TraceError(
                f"{log.name}, row {bad + 1}: “{cells[bad][:30]}” is no time.",
                "Choose another column for the time, or count the rows.",
            )
        seconds = found - found[0]
    if (np.diff(seconds) < 0).any():
        raise TraceError(f"{log.name}: the times run backwards.", "Is it the right column?")
    trace = Trace()
    for column in value_columns:
        title, told = _told(log.heads[column])
        values, beside = quantities(log.columns[column])
        unit, factor = unit_of(told) or (told or beside or _unit_beside(log, column) or "V", 1.0)
        channel = trace.channel(title or log.heads[column], unit)
        keep = ~np.isnan(values)
        channel.extend(seconds[keep], values[keep] * factor)
    return trace


def _decoded(data: bytes, name: str) -> str:
    wide = data[:2] in (b"\xff\xfe", b"\xfe\xff")
    for encoding in ("utf-8-sig", "utf-16" if wide else "latin-1"):
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\x00" not in text:
            return text
    raise TraceError(f"{name} is no text.", "Export the log as CSV.")


def _table(lines: list[str], separator: str, name: str) -> list[list[str]]:
    if max(map(len, lines)) > LONGEST_CELL * MOST_COLUMNS:
        raise TraceError(f"{name} has a line of millions of letters.", "Export the log as CSV.")
    try:
        table = [[cell.strip() for cell in row] for row in csv.reader(lines, delimiter=separator)]
    except csv.Error as error:
        raise TraceError(f"{name} can't be split into columns: {error}.", "Is it CSV?") from error
    if any(len(cell) > LONGEST_CELL for row in table[:HEAD_ROWS] for cell in row):
        raise TraceError(f"{name} has a cell of thousands of letters.", "Export the log as CSV.")
    return table


def _first_row(table: list[list[str]]) -> int | None:
    """The first row of readings: two numbers, or at least one."""
    counts = [int((~np.isnan(quantities(row)[0])).sum()) for row in table[:HEAD_ROWS]]
    two = next((k for k, count in enumerate(counts) if count >= 2), None)
    return two if two is not None else next((k for k, count in enumerate(counts) if count), None)


def _heads(row: list[str], width: int) -> tuple[str, ...]:
    """Headings, numbered where there are none; an apostrophe that kept a formula away goes."""
    found = [one.removeprefix("'") for one in row[:width]]
    return (*found, *(f"column {k + 1}" for k in range(len(found), width)))


def _told(head: str) -> tuple[str, str]:
    """A heading without its unit, and the unit: `v [mV]`, `v (mV)`, `U/mV`, `time_ms`."""
    text = head.strip()
    for left, right in ("[]", "()"):
        at = text.rfind(left)
        if text.endswith(right) and at >= 0:
            return text[:at].strip(), text[at + 1 : -1].strip()
    for mark in "/_":
        title, found, unit = text.rpartition(mark)
        if found and (unit_of(unit) or unit.lower() in TIME_UNITS):
            return title.strip(), unit
    return text, ""


def _unit_beside(log: Log, column: int) -> str:
    """The unit that stands in the next column of every row."""
    if column + 1 >= len(log.columns):
        return ""
    cells = set(log.columns[column + 1])
    found = unit_of(next(iter(cells))) if len(cells) == 1 else None
    return found[0] if found and found[1] == 1.0 else ""


def _mostly_numbers(cells: Sequence[str]) -> bool:
    return bool((~np.isnan(quantities(cells)[0])).mean() > 0.5)


def _time_column(heads: Sequence[str], columns: Sequence[Sequence[str]]) -> int:
    for place, head in enumerate(heads):
        words = re.split(r"[^a-z]+", head.lower()[:LONGEST_CELL])
        told = any(word.startswith(TIME_WORDS[:3]) or word in TIME_WORDS for word in words if word)
        if told and seconds_of(columns[place][:1], 1.0)[0] is not None:
            return place
    for place in range(len(heads)):
        found, _ = seconds_of(columns[place][:TRIED_ROWS], 1.0)
        if found is not None and len(found) > 1 and (np.diff(found) > 0).all():
            return place
    return -1
