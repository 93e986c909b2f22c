"""The stores: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class StoresState:
    """`rows` are number, words, count, where, price; `needs` the open job's parts, each with where
    it would come from and whether anybody has it; `summary` what that costs; `orders` what is
    wanted, `under_way` what is ordered, arrived or set aside, a line each."""

    rows: tuple[tuple[str, str, str, str, str], ...]
    job: str
    needs: tuple[tuple[str, str, bool], ...]
    summary: str
    orders: tuple[str, ...]
    under_way: tuple[str, ...]
