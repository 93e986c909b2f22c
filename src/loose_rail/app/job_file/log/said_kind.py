"""A kind of capacitor that is said: a ceramic on a rail is never the electrolytic beside it."""

from __future__ import annotations

import re

from loose_rail.boards.profile import Board

_CERAMIC = re.compile(r"\b(?:ceramics?|mlccs?)\b", re.IGNORECASE)
_FILM = re.compile(r"\b(?:film|foil|polyester|mk[pt])\b", re.IGNORECASE)
_SMALL = re.compile(r"\b\d+(?:[.,]\d+)?\s?[np](?:f\b|\b)", re.IGNORECASE)
_HEAD = re.compile(r"\b(?:beside|next to|near|by the|behind|under|below|above)\b", re.IGNORECASE)
_RAIL = re.compile(
    r"\b(?:on|across|at|of|to|from|behind|over|under|into|in) (?:the |its )?"
    r"(\d{1,3}(?:[.,]\d{1,2})?)\s?v\b"
    r"(?: (?:rail|line|output|supply|bus|side)\b|(?=\s*(?:$|[,;.])))",
    re.IGNORECASE,
)
RAIL_SHARE = 0.03
"""A rail is the one that is said where its volts are this near."""


def of_the_said_kind(board: Board, text: str, found: list[str]) -> list[str]:
    """Of the parts that words may mean those of the kind of capacitor, and on the rail, that is
    said; as they are where no such kind is. None where this board has none such: it is a part that
    is not on the list, and no other one stands for it."""
    head = _HEAD.split(text)[0]
    wanted = (
        {"ceramic", "y_capacitor"}
        if _CERAMIC.search(head)
        else {"film"}
        if _FILM.search(head)
        else {"ceramic", "film", "y_capacitor"}
        if _SMALL.search(head) and re.search(r"\bcap", head, re.IGNORECASE)
        else set()
    )
    if not wanted:
        return found
    own = [ref for ref in found if board.component(ref).kind in wanted]
    nets = _nets_of(board, text)
    return [ref for ref in own if not nets or nets & set(board.component(ref).pins.values())]


def on_the_said_rail(board: Board, where: str, found: list[str]) -> list[str]:
    """Of several parts that words may mean those on the rail that is said of the place; all of them
    where none is."""
    nets = _nets_of(board, where) if len(found) > 1 else set()
    near = [ref for ref in found if nets & set(board.component(ref).pins.values())]
    return near or found


def _nets_of(board: Board, text: str) -> set[str]:
    """The nets of the rails whose volts are said."""
    volts = [float(one.replace(",", ".")) for one in _RAIL.findall(text)]
    return {
        rail.net
        for rail in board.rails
        if any(abs(rail.volts - one) <= RAIL_SHARE * rail.volts for one in volts)
    }
