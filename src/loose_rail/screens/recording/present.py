"""The recording of a job's meters: what the chart shows, markers, files out and in."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from loose_rail.app.trace import Log, Trace, read_log, to_csv, trace_of
from loose_rail.judgement.series import examine
from loose_rail.kernel.errors import TraceError
from loose_rail.screens.live.present import LiveDesk, character_words, shown
from loose_rail.screens.shared.notice import Notice

Channels = tuple[tuple[str, str, Any, Any], ...]
"""Name, unit, seconds and values of each."""

Loaded = tuple[Log, Trace, list[int]]

MOST_FACTS = 12
NEAR_TIMES = 5.0
"""Channels whose greatest values differ by more than this get scales of their own."""


def _near(values: Any, others: Any) -> bool:
    tops = [float(np.abs(v[np.isfinite(v)]).max(initial=1e-12)) for v in (values, others)]
    return max(tops) <= NEAR_TIMES * min(tops)


@dataclass(frozen=True, slots=True)
class TraceState:
    """What the page draws; `channels` are name, unit, seconds and values, `below` those that need a
    scale of their own."""

    channels: Channels
    below: Channels
    markers: tuple[tuple[float, str], ...]
    band: tuple[float, float] | None
    facts: tuple[str, ...]


class TraceDesk:
    """The job's own recording, or a log that was read in its place."""

    def __init__(self, live: LiveDesk) -> None:
        self._live = live
        self._log: Log | None = None
        self._read: Trace | None = None
        self._columns: list[int] = []

    @property
    def reads_log(self) -> bool:
        """Whether a file stands in place of the recording."""
        return self._log is not None

    @property
    def trace(self) -> Trace:
        """What is shown."""
        return self._read if self._read is not None else self._live.trace

    def state(self) -> TraceState:
        """The page as it stands."""
        trace = self.trace
        alike, below, channels = self._sorted()
        band = None if self._read is not None else self._live.state().band
        return TraceState(
            alike,
            below,
            tuple((m.seconds, m.words) for m in trace.markers),
            band,
            tuple(self._facts(channels)),
        )

    def _sorted(self) -> tuple[Channels, Channels, Channels]:
        """The newest channel with those of its scale, those beside it, and all."""
        trace = self.trace
        channels = tuple((c.name, c.unit, c.seconds, c.values) for c in trace.channels if len(c))
        channels = tuple(sorted(channels, key=lambda c: ("meter B" in c[0], -float(c[2][-1]))))
        same = [c for c in channels if c[1] == channels[0][1]]
        alike = tuple(c for c in same if _near(c[3], same[0][3]))
        below = tuple(c for c in same if not _near(c[3], same[0][3]))
        return alike, below, channels

    def sentence(self, view: tuple[float, float]) -> str:
        """What a stretch of time shows, in words."""
        channels = self._sorted()[0]
        if not channels:
            return "Nothing recorded yet: M at the bench turns the live meter on."
        name, unit, seconds, values = channels[0]
        inside = (seconds >= view[0]) & (seconds <= view[1])
        if not inside.any():
            return f"{name}: no reading in what is seen. F5 goes to the newest."
        part = values[inside]
        found = examine(seconds[inside].tolist(), part.tolist())
        finite = part[np.isfinite(part)]
        if not len(finite):
            return f"{name}: open in all of what is seen."
        words = character_words(found, unit) or "too short a stretch for more than its value"
        low, high = float(finite.min()), float(finite.max())
        return (
            f"{name}, what is seen: {words}; {shown(low, unit)} to {shown(high, unit)}, mean "
            f"{shown(float(finite.mean()), unit)}, {len(part)} readings."
        )

    def _facts(self, channels: tuple[Any, ...]) -> list[str]:
        if self._log is not None:
            said = [f"{self._log.name}: type the numbers of its value columns, such as 2 3."]
            for number, head in enumerate(self._log.heads, start=1):
                mark = "time" if number - 1 == self._log.time_column else ""
                mark = "shown" if number - 1 in self._columns else mark
                said.append(f"{number}  {head}{f'  · {mark}' if mark else ''}")
            return said[:MOST_FACTS]
        said = []
        for name, unit, _, values in channels:
            alike = unit == channels[0][1]
            how = "in the CSV" if not alike else "also drawn" if said else "the solid line"
            said.append(f"{name}, {len(values)} readings: {how}")
        return said

    def words(self, text: str) -> Notice:
        """Enter: columns of a log by number, or the name of this moment."""
        if self._log is not None:
            return self._choose(text)
        self._live.mark(text)
        return Notice(f"Marked: {text}.")

    def _choose(self, text: str) -> Notice:
        assert self._log is not None
        words = text.replace(",", " ").split()
        if not all(word.isdigit() and 1 <= int(word) <= len(self._log.heads) for word in words):
            return Notice(f"Type column numbers from 1 to {len(self._log.heads)}.", "problem")
        return self._show_columns([int(word) - 1 for word in words])

    def _show_columns(self, columns: list[int]) -> Notice:
        assert self._log is not None
        try:
            return self.show(
                (self._log, trace_of(self._log, self._log.time_column, columns), columns)
            )
        except TraceError as error:
            return Notice(error.one_line(), "problem")

    def load(self, path: Path) -> Loaded:
        """Read a file (slow: on a worker thread). Raises TraceError."""
        try:
            log = read_log(path.read_bytes(), path.name)
        except OSError as error:
            raise TraceError(f"{path.name} can't be read: {error.strerror}.") from error
        if not log.value_columns:
            raise TraceError(f"{path.name} has no column of readings.", "Export it as CSV.")
        columns = list(log.value_columns[:2])
        return log, trace_of(log, log.time_column, columns), columns

    def show(self, loaded: Loaded) -> Notice:
        """A file that was read takes the place of the recording."""
        self._log, self._read, self._columns = loaded
        heads = ", ".join(self._log.heads[k] for k in self._columns)
        return Notice(f"Shown: {heads}. F5 goes back to the job's own recording.")

    def own(self) -> None:
        """Back to the job's own recording."""
        self._log = self._read = None
        self._columns = []

    def writer(self, path: Path) -> Callable[[], None]:
        """What writes the present state as CSV (slow: on a worker thread); it raises TraceError."""
        frozen = self.trace.frozen()

        def write() -> None:
            try:
                path.write_text(to_csv(frozen), encoding="utf-8")
            except OSError as error:
                raise TraceError(
                    f"{path} can't be written: {error.strerror}.", "Choose another place."
                ) from error

        return write
