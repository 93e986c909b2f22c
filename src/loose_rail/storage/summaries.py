"""The table of summaries beside the events: read where it fits them, made again where it does not.

It may be dropped at any time; nothing stands in it that the events do not say. A program that knows
nothing of it may write to the same shop: what it wrote is noticed by the length of the log.
"""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Iterable
from typing import Any

import msgspec
from sqlalchemy import Column, Connection, Integer, MetaData, String, Table, Text, select
from sqlalchemy.dialects.sqlite import insert

from loose_rail.jobs.summary import SUMMARY_VERSION, Summary

_FIELDS = ("job", "events", "version", "payload", "texts")
_LETTERS = 16
_AT_ONCE = 500
"""Jobs asked for in one query; SQLite allows 32,766 values."""

SUMMARY_METADATA = MetaData()
_SUMMARIES = Table(
    "summaries",
    SUMMARY_METADATA,
    Column("job", Integer, primary_key=True),
    Column("events", Integer, nullable=False),
    Column("version", Integer, nullable=False),
    Column("payload", Text, nullable=False),
    Column("texts", Text, nullable=False),
    Column("checksum", String(_LETTERS), nullable=False),
)
_TEXTS = msgspec.json.Decoder(tuple[str, ...])
_SUMMARY = msgspec.json.Decoder(Summary)


def put(connection: Connection, made: Iterable[tuple[Summary, tuple[str, ...]]]) -> None:
    """Write summaries with their find texts over what stood there."""
    rows = [_row(summary, texts) for summary, texts in made]
    if rows:
        upsert = insert(_SUMMARIES)
        values = {field: upsert.excluded[field] for field in (*_FIELDS[1:], "checksum")}
        connection.execute(upsert.on_conflict_do_update(index_elements=["job"], set_=values), rows)


def fitting(connection: Connection, counts: dict[int, int]) -> list[Summary]:
    """The summaries that fit the length of their jobs' logs and are as they were written."""
    found: list[Summary] = []
    for row in connection.execute(select(_SUMMARIES)).mappings():
        if row["events"] == counts.get(row["job"]) and _is_sound(dict(row)):
            found.append(_SUMMARY.decode(row["payload"]))
    return found


def texts_of(connection: Connection, jobs: Collection[int]) -> dict[int, tuple[str, ...]]:
    """The find texts of jobs by their number."""
    found: dict[int, tuple[str, ...]] = {}
    wanted = sorted(jobs)
    for start in range(0, len(wanted), _AT_ONCE):
        chunk = wanted[start : start + _AT_ONCE]
        query = select(_SUMMARIES).where(_SUMMARIES.c.job.in_(chunk))
        for row in connection.execute(query).mappings():
            if _is_sound(dict(row)):
                found[row["job"]] = _TEXTS.decode(row["texts"])
    return found


def _row(summary: Summary, texts: tuple[str, ...]) -> dict[str, Any]:
    row: dict[str, Any] = {
        "job": summary.job,
        "events": summary.events,
        "version": SUMMARY_VERSION,
        "payload": msgspec.json.encode(summary).decode(),
        "texts": msgspec.json.encode(texts).decode(),
    }
    return {**row, "checksum": _checksum(row)}


def _is_sound(row: dict[str, Any]) -> bool:
    return bool(row["version"] == SUMMARY_VERSION) and bool(row["checksum"] == _checksum(row))


def _checksum(row: dict[str, Any]) -> str:
    text = "\x1f".join(str(row[field]) for field in _FIELDS)
    return hashlib.sha256(text.encode("utf-8", "surrogateescape")).hexdigest()[:_LETTERS]
