"""The recording of a job's meters: what the chart shows, markers, files out and in."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from loose_rail.app.live_reading import LiveDesk
from loose_rail.app.meter_log import Log, read_log, trace_of
from loose_rail.app.outcome import Outcome
from loose_rail.app.trace import Trace, to_csv
from loose_rail.kernel.errors import TraceError
from loose_rail.kernel.files import LARGEST_LOG, read_bounded, write_durably

Loaded = tuple[Log, Trace, list[int]]


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

    @property
    def log(self) -> Log | None:
        """The file that stands in place of the recording."""
        return self._log

    @property
    def columns(self) -> tuple[int, ...]:
        """The columns of the file that are shown."""
        return tuple(self._columns)

    @property
    def band(self) -> tuple[float, float] | None:
        """The range of a good board at the point in front; none for a file."""
        wanted = self._live.wanted
        return None if self._read is not None or wanted is None else wanted.band

    def words(self, text: str) -> Outcome:
        """Enter: columns of a log by number, or the name of this moment."""
        if self._log is not None:
            return self._choose(text)
        self._live.mark(text)
        return Outcome(f"Marked: {text}.")

    def _choose(self, text: str) -> Outcome:
        assert self._log is not None
        words = text.replace(",", " ").split()
        if not all(word.isdecimal() and 1 <= int(word) <= len(self._log.heads) for word in words):
            return Outcome.refused(f"Type column numbers from 1 to {len(self._log.heads)}.")
        return self._show_columns([int(word) - 1 for word in words])

    def _show_columns(self, columns: list[int]) -> Outcome:
        assert self._log is not None
        try:
            return self.show(
                (self._log, trace_of(self._log, self._log.time_column, columns), columns)
            )
        except TraceError as error:
            return Outcome.refused(error.one_line())

    def load(self, path: Path) -> Loaded:
        """Read a file (slow: on a worker thread). Raises TraceError."""
        try:
            log = read_log(read_bounded(path, LARGEST_LOG), path.name)
        except OSError as error:
            raise TraceError(
                f"{path.name} can't be read: {error.strerror}.", "Choose another file."
            ) from error
        if not log.value_columns:
            raise TraceError(f"{path.name} has no column of readings.", "Export it as CSV.")
        columns = list(log.value_columns[:2])
        return log, trace_of(log, log.time_column, columns), columns

    def show(self, loaded: Loaded) -> Outcome:
        """A file that was read takes the place of the recording."""
        self._log, self._read, self._columns = loaded
        heads = ", ".join(self._log.heads[k] for k in self._columns)
        return Outcome(f"Shown: {heads}. F5 goes back to the job's own recording.")

    def own(self) -> None:
        """Back to the job's own recording."""
        self._log = self._read = None
        self._columns = []

    def writer(self, path: Path) -> Callable[[], None]:
        """What writes the present state as CSV (slow: on a worker thread); it raises TraceError."""
        frozen = self.trace.frozen()

        def write() -> None:
            try:
                write_durably(path, to_csv(frozen).encode())
            except OSError as error:
                raise TraceError(
                    f"{path} can't be written: {error.strerror}.", "Choose another place."
                ) from error

        return write
