"""One job as one file: a zip of its events, readings, photographs, own board and sheet, out and in.

What comes in is somebody else's file: names are looked up in a list and never walked, sizes are
bounded before anything is unpacked, every part is held against its checksum, every event is read as
one of the shop's own would be. Only then is anything kept, the job in one transaction.
"""

from __future__ import annotations

import csv
import hashlib
import io
import re
import struct
import zipfile
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import msgspec

from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.jobs.state import JobState
from loose_rail.kernel.errors import BundleError, LooseRailError
from loose_rail.kernel.files import read_bounded, write_durably

SCHEMA = "loose-rail/bundle/1"
LARGEST_BUNDLE = 300_000_000
"""Bytes of a file that is read: a job with some dozens of photographs [E]."""
LARGEST_PART, LARGEST_WHOLE = 100_000_000, 600_000_000
"""Bytes of one part and of all of them unpacked [E]."""
MOST_PARTS = 400
MANIFEST, EVENTS, READINGS, BOARD, SHEET = (
    *("job.json", "events.jsonl", "readings.csv"),
    *("board.json", "sheet.html"),
)
DAMAGED = (
    *(zipfile.BadZipFile, zlib.error, struct.error, NotImplementedError, RuntimeError),
    *(EOFError, ValueError, OverflowError),
)
"""What Python's reader raises for a zip that is none, is cut, or says nonsense of itself."""
_PHOTO = re.compile(r"photographs/([0-9a-f]{64})\.(?:jpg|png)")
_FIXED_TIME = (1980, 1, 1, 0, 0, 0)
"""So that the same job makes the same file."""
PRIVATE = ("customer",)
"""Details that stay in the shop unless they are asked for."""
FORMULA = ("=", "+", "-", "@", "\t", "\r")


class Manifest(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """`files` are the other parts with their SHA-256; `version` that of the events."""

    schema: str
    version: int
    ticket: str
    set_name: str
    board_id: str
    events: int
    files: dict[str, str]


class _Line(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A line of the events."""

    sequence: int
    at: str
    bench: str
    event: msgspec.Raw


@dataclass(frozen=True)
class Bundle:
    """What a bundle holds, checked: the log in order, photographs by digest with their ending, the
    own board as a file of its own (empty where the board ships)."""

    manifest: Manifest
    records: tuple[ev.Record, ...]
    photographs: dict[str, bytes]
    board: bytes

    @property
    def state(self) -> JobState:
        """The job as its log folds."""
        return fold(self.records)


def write_bundle(
    path: Path,
    records: Sequence[ev.Record],
    photographs: dict[str, bytes],
    board: bytes = b"",
    sheet: str = "",
    with_name: bool = False,
) -> None:
    """Write a job; `photographs` are bytes by `digest.ending`. Raises BundleError where the file
    can't be written."""
    told = [record if with_name else _without_name(record) for record in records]
    state = fold(told)
    parts = {
        EVENTS: b"".join(_line_of(record) for record in told),
        READINGS: _csv_of(state),
        **{f"photographs/{name}": data for name, data in sorted(photographs.items())},
    }
    if board:
        parts[BOARD] = board
    if sheet:
        parts[SHEET] = sheet.encode()
    manifest = Manifest(
        schema=SCHEMA,
        version=ev.VERSION,
        ticket=state.ticket,
        set_name=state.set_name,
        board_id=state.board_id,
        events=len(told),
        files={name: hashlib.sha256(data).hexdigest() for name, data in parts.items()},
    )
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as packed:
        first = {MANIFEST: msgspec.json.format(msgspec.json.encode(manifest), indent=1)}
        for name, data in {**first, **parts}.items():
            packed.writestr(zipfile.ZipInfo(name, _FIXED_TIME), data, zipfile.ZIP_DEFLATED)
    try:
        write_durably(path, made.getvalue())
    except OSError as error:
        raise BundleError(
            f"{path} can't be written: {error.strerror}.", "Choose another place."
        ) from error


def read_bundle(path: Path) -> Bundle:
    """Read and check a bundle. Raises BundleError with what is wrong; nothing is kept then."""
    try:
        data = read_bounded(path, LARGEST_BUNDLE)
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            parts = _parts_of(packed)
    except OSError as error:
        raise BundleError(f"{path} can't be read: {error.strerror}.", "Copy it again.") from error
    except DAMAGED as error:
        words = f"{path.name} is no whole job bundle: {error}."
        raise BundleError(words, "Copy it again.") from error
    manifest = _manifest_of(parts)
    _check_sums(manifest, parts)
    records = _records_of(manifest, parts.get(EVENTS, b""))
    photographs = {
        match[1]: parts[name] for name in parts if (match := _PHOTO.fullmatch(name)) is not None
    }
    for digest, content in photographs.items():
        if hashlib.sha256(content).hexdigest() != digest:
            raise BundleError(f"The photograph {digest[:8]} of the bundle is another one.")
    return Bundle(manifest, records, photographs, parts.get(BOARD, b""))


def _parts_of(packed: zipfile.ZipFile) -> dict[str, bytes]:
    """Every part by its name, unpacked no further than it may be large."""
    known = {MANIFEST, EVENTS, READINGS, BOARD, SHEET}
    entries = packed.infolist()
    if len(entries) > MOST_PARTS:
        raise BundleError(f"The bundle has {len(entries)} parts: that is no job.")
    found: dict[str, bytes] = {}
    whole = 0
    for entry in entries:
        if entry.filename not in known and _PHOTO.fullmatch(entry.filename) is None:
            raise BundleError(f"The bundle holds “{entry.filename}”, which belongs to no job.")
        if entry.compress_type not in (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED):
            raise BundleError(f"{entry.filename} is packed in a way that no bundle is.")
        if entry.filename in found:
            raise BundleError(f"The bundle holds {entry.filename} twice.")
        with packed.open(entry) as part:
            data = part.read(LARGEST_PART + 1)
        whole += len(data)
        if len(data) > LARGEST_PART or whole > LARGEST_WHOLE:
            raise BundleError(f"{entry.filename} unpacks to more than a job can have.")
        found[entry.filename] = data
    return found


def _manifest_of(parts: dict[str, bytes]) -> Manifest:
    try:
        found = msgspec.json.decode(parts.get(MANIFEST, b""), type=Manifest)
    except (msgspec.MsgspecError, ValueError) as error:
        raise BundleError(f"What the bundle holds is not said: {error}.") from error
    if found.schema != SCHEMA:
        raise BundleError(
            f"The bundle is of the kind {found.schema}; this program reads {SCHEMA}.",
            "Take it in with the program that wrote it.",
        )
    return found


def _check_sums(manifest: Manifest, parts: dict[str, bytes]) -> None:
    there = set(parts) - {MANIFEST}
    if there != set(manifest.files):
        missing = sorted(set(manifest.files) ^ there)
        raise BundleError(f"The bundle is not whole: {', '.join(missing[:3])}.", "Copy it again.")
    for name, digest in manifest.files.items():
        if hashlib.sha256(parts[name]).hexdigest() != digest:
            raise BundleError(f"{name} of the bundle is damaged.", "Copy it again.")


def _records_of(manifest: Manifest, data: bytes) -> tuple[ev.Record, ...]:
    found = []
    for number, line in enumerate(data.splitlines(), start=1):
        try:
            told = msgspec.json.decode(line, type=_Line)
            event = ev.decode_event(bytes(told.event).decode(), manifest.version)
        except (msgspec.MsgspecError, UnicodeError, ValueError, LooseRailError) as error:
            raise BundleError(f"Entry {number} of the bundle can't be read: {error}.") from error
        if told.sequence != number:
            raise BundleError(f"Entry {number} of the bundle is out of its order.")
        found.append(ev.Record(told.sequence, told.at, told.bench, event))
    if len(found) != manifest.events:
        raise BundleError(f"The bundle has {len(found)} entries of {manifest.events}.")
    try:
        fold(found)
    except (LooseRailError, ValueError, KeyError) as error:
        raise BundleError(f"The entries of the bundle make no job: {error}.") from error
    return tuple(found)


def _line_of(record: ev.Record) -> bytes:
    event = msgspec.Raw(ev.encode_event(record.event).encode())
    return msgspec.json.encode(_Line(record.sequence, record.at, record.bench, event)) + b"\n"


def _without_name(record: ev.Record) -> ev.Record:
    event = record.event
    if isinstance(event, ev.DetailNoted) and event.detail in PRIVATE:
        return msgspec.structs.replace(record, event=ev.DetailNoted(event.detail, ""))
    return record


def _csv_of(state: JobState) -> bytes:
    """The readings as a table; a text that a spreadsheet would take for a formula is quoted."""
    made = io.StringIO()
    table = csv.writer(made)
    table.writerow(
        ["number", "time", "probe", "state", "reading", "low [SI]", "high [SI]", "taken back"]
    )
    for one in state.readings:
        seen = one.observation
        text = seen.text()
        safe = f"'{text}" if text.startswith(FORMULA) and not text[1:2].isdigit() else text
        table.writerow(
            [one.number, one.at, one.probe, one.state.key, safe, seen.low, seen.high, one.voided]
        )
    return made.getvalue().encode()
