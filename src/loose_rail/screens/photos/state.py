"""The album: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class PhotoItem:
    """A photograph as the album shows it; `moment` is before or after the repair."""

    photo: str
    number: str
    about: str
    caption: str
    moment: str


@dataclass(frozen=True, slots=True)
class PhotoPoint:
    """A marked point, in shares of width and height."""

    x: float
    y: float
    words: str


@dataclass(frozen=True, slots=True)
class AlbumState:
    """The album: all photographs, the one in front, the one it is compared with."""

    items: tuple[PhotoItem, ...]
    selected: int
    compared: int
    points: tuple[PhotoPoint, ...]
    compared_points: tuple[PhotoPoint, ...]
    subject: str
    words: str
