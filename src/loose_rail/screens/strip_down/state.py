"""The strip-down ledger: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class StripRow:
    """A step of the strip-down; `status` says how it stands at reassembly."""

    number: str
    words: str
    group: str
    status: str


@dataclass(frozen=True, slots=True)
class StripState:
    """The strip-down ledger; `back` while it is played in reverse."""

    title: str
    back: bool
    rows: tuple[StripRow, ...]
    current: int
    now: str
    caution: str
    totals: tuple[tuple[str, str], ...]
    account: tuple[str, ...]
    complete: bool
    done: str
    warnings: tuple[str, ...]
    notes: tuple[str, ...]
    action: str
