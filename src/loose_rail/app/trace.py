"""A recording of meters in time: many samples, markers, CSV in and out.

Files are plain CSV: a heading line, seconds first, one column a channel with its unit in square
brackets; a marker stands in a last column of words. Any meter's log can be read by naming columns.
"""

from __future__ import annotations

import csv
import io
import itertools
import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from loose_rail.kernel.errors import TraceError

Floats = NDArray[np.float64]

FIRST_ROOM = 1024
MOST_BYTES = 200_000_000
TIME_WORDS = ("time", "second", "zeit", "t", "elapsed", "date")
UNIT = re.compile(r"[\[(]\s*([^\])]+?)\s*[\])]\s*$")


@dataclass(frozen=True, slots=True)
class Marker:
    """A moment with a name."""

    seconds: float
    words: str


class Channel:
    """One meter's samples; grows without copying every time."""

    def __init__(self, name: str, unit: str) -> None:
        self.name, self.unit = name, unit
        self._seconds = np.empty(FIRST_ROOM)
        self._values = np.empty(FIRST_ROOM)
        self._count = 0

    def add(self, seconds: float, value: float) -> None:
        """One sample; +inf is OL."""
        if self._count == len(self._seconds):
            self._seconds = np.concatenate([self._seconds, np.empty(self._count)])
            self._values = np.concatenate([self._values, np.empty(self._count)])
        self._seconds[self._count] = seconds
        self._values[self._count] = value
        self._count += 1

    def extend(self, seconds: Floats, values: Floats) -> None:
        """Many samples at once."""
        self._seconds = np.concatenate([self.seconds, seconds])
        self._values = np.concatenate([self.values, values])
        self._count = len(self._seconds)

    @property
    def seconds(self) -> Floats:
        """Times `(n,)`."""
        return self._seconds[: self._count]

    @property
    def values(self) -> Floats:
        """Values `(n,)` in SI units."""
        return self._values[: self._count]

    def __len__(self) -> int:
        return self._count


@dataclass
class Trace:
    """Channels on one time axis, in seconds from its start."""

    channels: list[Channel] = field(default_factory=list)
    markers: list[Marker] = field(default_factory=list)

    def channel(self, name: str, unit: str) -> Channel:
        """The channel with this name and unit, made when first asked for."""
        for one in self.channels:
            if one.name == name and one.unit == unit:
                return one
        made = Channel(name, unit)
        self.channels.append(made)
        return made

    @property
    def end(self) -> float:
        """Seconds of the last sample of any channel."""
        return max((float(c.seconds[-1]) for c in self.channels if len(c)), default=0.0)

    def frozen(self) -> Trace:
        """A copy that goes on no longer: for a worker thread."""
        made = Trace(markers=list(self.markers))
        for channel in self.channels:
            copy = made.channel(channel.name, channel.unit)
            copy.extend(channel.seconds.copy(), channel.values.copy())
        return made

    def mark(self, seconds: float, words: str) -> None:
        """Name a moment."""
        self.markers.append(Marker(seconds, words))


def to_csv(trace: Trace) -> str:
    """A trace as CSV; each row is one moment, empty cells where a channel has no sample."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    heads = [f"{c.name} [{c.unit}]" for c in trace.channels]
    writer.writerow(["seconds [s]", *heads, "marker"])
    rows: dict[float, list[str]] = {}
    for place, channel in enumerate(trace.channels):
        for seconds, value in zip(channel.seconds.tolist(), channel.values.tolist(), strict=True):
            row = rows.setdefault(seconds, [""] * (len(heads) + 1))
            row[place] = "OL" if math.isinf(value) else f"{value:.9g}"
    for marker in trace.markers:
        row = rows.setdefault(marker.seconds, [""] * (len(heads) + 1))
        row[-1] = "; ".join(filter(None, (row[-1], marker.words)))
    for seconds in sorted(rows):
        writer.writerow([repr(seconds), *rows[seconds]])
    return out.getvalue()


@dataclass(frozen=True, slots=True)
class Log:
    """A CSV file as it was read: headings and rows of text, and which columns look like what."""

    name: str
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    time_column: int
    value_columns: tuple[int, ...]


def read_log(data: bytes, name: str) -> Log:
    """Split a log into columns. Raises TraceError with what to do.

    Comma, semicolon or tab; with or without headings; decimal comma where the separator allows.
    """
    if len(data) > MOST_BYTES:
        raise TraceError(f"{name} has {len(data) // 1_000_000} MB.", "Cut it into shorter logs.")
    text = _decoded(data, name)
    lines = [line for line in text.splitlines() if line.strip() and not line.startswith("#")]
    if len(lines) < 2:
        raise TraceError(f"{name} has no rows of readings.", "Export the log as CSV.")
    separator = max((";", "\t", ","), key=lambda s: min(line.count(s) for line in lines[-3:]))
    if not lines[-1].count(separator):
        raise TraceError(f"{name} has one column only.", "A time and a value are needed.")
    table = [[cell.strip() for cell in row] for row in csv.reader(lines, delimiter=separator)]
    width = max(len(row) for row in table)
    start = next((k for k, row in enumerate(table) if sum(map(_is_number, row)) >= 2), None)
    if start is None:
        start = next((k for k, row in enumerate(table) if any(map(_is_number, row))), None)
    if start is None:
        raise TraceError(f"{name} holds no numbers.", "Export the log as CSV.")
    heads = table[start - 1] if start else [f"column {k + 1}" for k in range(width)]
    heads += [f"column {k + 1}" for k in range(len(heads), width)]
    rows = tuple(tuple(row + [""] * (width - len(row))) for row in table[start:])
    time_column = _time_column(heads, rows)
    numeric = [
        k
        for k in range(width)
        if k != time_column and sum(_is_number(row[k]) for row in rows) > 0.5 * len(rows)
    ]
    return Log(name, tuple(heads[:width]), rows, time_column, tuple(numeric))


def trace_of(log: Log, time_column: int, value_columns: Sequence[int]) -> Trace:
    """The chosen columns as a trace that begins at 0 s. Raises TraceError.

    A time column holds seconds, clock times or dates; -1 counts the rows as seconds.
    """
    if not value_columns:
        raise TraceError("No column of values is chosen.", "Choose at least one.")
    count = len(log.rows)
    stamps = [_seconds(row[time_column]) for row in log.rows] if time_column >= 0 else None
    if stamps is not None and any(stamp is None for stamp in stamps):
        bad = next(k for k, stamp in enumerate(stamps) if stamp is None)
        raise TraceError(
            f"{log.name}, row {bad + 1}: “{log.rows[bad][time_column][:30]}” is no time.",
            "Choose another column for the time, or count the rows.",
        )
    seconds = np.arange(count, dtype=float) if stamps is None else np.array(stamps, dtype=float)
    seconds = seconds - seconds[0]
    if (np.diff(seconds) < 0).any():
        raise TraceError(f"{log.name}: the times run backwards.", "Is it the right column?")
    trace = Trace()
    for column in value_columns:
        head = log.heads[column]
        unit = UNIT.search(head)
        channel = trace.channel(UNIT.sub("", head).strip() or head, unit.group(1) if unit else "V")
        values = np.array([_value(row[column]) for row in log.rows])
        keep = ~np.isnan(values)
        channel.extend(seconds[keep], values[keep])
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


def _time_column(heads: Sequence[str], rows: Sequence[Sequence[str]]) -> int:
    for place, head in enumerate(heads):
        words = re.split(r"[^a-z]+", head.lower())
        told = any(word.startswith(TIME_WORDS[:3]) or word in TIME_WORDS for word in words if word)
        if told and _seconds(rows[0][place]) is not None:
            return place
    for place in range(len(heads)):
        stamps = [_seconds(row[place]) for row in rows[:50]]
        known = [stamp for stamp in stamps if stamp is not None]
        rising = all(b > a for a, b in itertools.pairwise(known))
        if len(known) == len(stamps) > 1 and rising:
            return place
    return -1


def _is_number(text: str) -> bool:
    return not math.isnan(_value(text))


def _value(text: str) -> float:
    """A cell as a number; OL is +inf, anything else NaN."""
    words = text.strip().upper().lstrip("+-")
    if words in ("OL", "OVLD", "OVERLOAD", "INF", "O.L", ".OL"):
        return math.inf
    try:
        return float(text.replace(",", ".") if text.count(",") == 1 and "." not in text else text)
    except ValueError:
        return math.nan


def _seconds(text: str) -> float | None:
    number = _value(text)
    if math.isfinite(number):
        return number
    for form in ("%H:%M:%S.%f", "%H:%M:%S", "%M:%S.%f"):
        try:
            at = datetime.strptime(text.strip(), form)
            return at.hour * 3600.0 + at.minute * 60.0 + at.second + at.microsecond * 1e-6
        except ValueError:
            continue
    try:
        return datetime.fromisoformat(text.strip().replace("/", "-")).timestamp()
    except ValueError:
        return None
