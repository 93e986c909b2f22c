"""The areas at the left edge, a line each: title, icon, key, and the page that comes to the front.

The shelf and the bench belong to the window; every other area is a page of its own, imported when
it is first asked for (`area_page`).
"""

from __future__ import annotations

from dataclasses import dataclass

SHELF, BENCH, BOARDS = "shelf", "bench", "board_book"


@dataclass(frozen=True, slots=True)
class Area:
    """`key` stands beside the title and in the list of keys. `page` is the class in
    `screens/<name>/view.py`, empty for what the window has itself."""

    name: str
    title: str
    icon: str
    key: str
    words: str = ""
    page: str = ""


AREAS = (
    Area(SHELF, "Shelf", "archive", "F2", "The shelf"),
    Area(BENCH, "Bench", "gauge", ""),
    Area(BOARDS, "Boards", "boxes", "Ctrl+Shift+B", "The board book", "BoardBookView"),
    Area("stores", "Stores", "drawers", "Ctrl+Shift+S", "Drawers, offers, orders", "StoresView"),
    Area("workings", "Workings", "calculator", "Ctrl+W", "Workings: calculators", "WorkingsView"),
    Area("meters", "Meters", "cable", "Ctrl+M", "Meters, sounds, foot switch", "MetersView"),
)
