"""A recording of meters in time: many samples, markers, and CSV out (`meter_log` reads it).

Files are plain CSV: a heading line, seconds first, one column a channel with its unit in square
brackets; a marker stands in a last column of words.
"""

from __future__ import annotations

import csv
import io
import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

FIRST_ROOM = 1024
FORMULA_LETTERS = ("=", "+", "-", "@", "\t", "\r")
"""A cell that begins with one of these is worked out by a spreadsheet as a formula."""


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


def as_text(cell: str) -> str:
    """Words as a spreadsheet shows them: no formula is made of what somebody typed or a foreign log
    holds. Reading takes the apostrophe off again."""
    return f"'{cell}" if cell.startswith((*FORMULA_LETTERS, "'")) else cell


def to_csv(trace: Trace) -> str:
    """A trace as CSV; each row is one moment, empty cells where a channel has no sample."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    heads = [as_text(f"{c.name} [{c.unit}]") for c in trace.channels]
    writer.writerow(["seconds [s]", *heads, "marker"])
    rows: dict[float, list[str]] = {}
    for place, channel in enumerate(trace.channels):
        for seconds, value in zip(channel.seconds.tolist(), channel.values.tolist(), strict=True):
            row = rows.setdefault(seconds, [""] * (len(heads) + 1))
            row[place] = "OL" if math.isinf(value) else f"{value:.9g}"
    for marker in trace.markers:
        row = rows.setdefault(marker.seconds, [""] * (len(heads) + 1))
        row[-1] = as_text("; ".join(filter(None, (row[-1], marker.words))))
    for seconds in sorted(rows):
        writer.writerow([repr(seconds), *rows[seconds]])
    return out.getvalue()
