"""Rows that several screens list: suspects, readings, boards."""

from __future__ import annotations

from dataclasses import dataclass, replace

from loose_rail.kernel.quantities import percents
from loose_rail.vocabulary.mark import Mark


@dataclass(frozen=True, slots=True)
class SuspectRow:
    """A suspect with its probability as a share and in words, and what speaks for it; the last row
    stands for `count` suspects together."""

    percent: str
    title: str
    why: str
    share: float
    count: int = 1


def fitting(rows: tuple[SuspectRow, ...], room: int) -> tuple[SuspectRow, ...]:
    """The rows that there is room for; the others join the last one, so that what is shown adds
    up. In room for one the leader stands by itself."""
    if len(rows) <= room or not rows:
        return rows
    if room < 2:
        return rows[:1]
    kept, folded = rows[: room - 1], rows[room - 1 :]
    share, count = sum(r.share for r in folded), sum(r.count for r in folded)
    rest = SuspectRow("", rows[-1].title, f"{count} more", share, count)
    return with_percents((*kept, rest))


def with_percents(rows: tuple[SuspectRow, ...]) -> tuple[SuspectRow, ...]:
    """The rows with their shares in words that add up."""
    words = percents([row.share for row in rows])
    both = zip(rows, words, strict=True)
    return tuple(replace(row, percent=text.removesuffix(" %")) for row, text in both)


@dataclass(frozen=True, slots=True)
class LedgerRow:
    """A reading in the ledger; `verdict` as for stops, `struck` where it was taken back."""

    number: str
    probe: str
    state: str
    reading: str
    expected: str
    verdict: Mark
    reason: str
    struck: bool


@dataclass(frozen=True, slots=True)
class BoardShare:
    """A board with the chance that the fault lies on it, as a share and in words."""

    name: str
    percent: str
    share: float
