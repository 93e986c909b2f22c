"""The verdict: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class BalanceBar:
    """One piece of evidence on the balance of a suspect, in log-odds (nats), above zero for it."""

    words: str
    log_odds: float


@dataclass(frozen=True, slots=True)
class BalanceColumn:
    """A suspect on the balance."""

    title: str
    percent: str
    bars: tuple[BalanceBar, ...]


@dataclass(frozen=True, slots=True)
class WayView:
    """A way on: cost in the job's currency, chance of a cure, and both in words; `ties_at` is the
    chance from which it would be the best, None where none would do."""

    title: str
    cost: float
    chance: float
    figures: str
    words: str
    chosen: bool = False
    ties_at: float | None = None


@dataclass(frozen=True, slots=True)
class VerdictState:
    """The verdict screen; `action` goes back to the bench while nothing leads clearly."""

    headline: str
    standing: str
    columns: tuple[BalanceColumn, ...]
    covered: tuple[str, ...]
    unproved: tuple[str, ...]
    action: str
    accepted: bool
    reasoning: tuple[tuple[str, str], ...] = ()
    levels: str = ""
    ways: tuple[WayView, ...] = ()
    money: str = ""
