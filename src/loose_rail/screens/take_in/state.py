"""Taking in: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.app.set_picture import SetPictureState
from loose_rail.screens.shared.rows import BoardShare, SuspectRow


@dataclass(frozen=True, slots=True)
class NotedItem:
    """Something that counts: its key, its words, what it rests on, why it tells anything."""

    key: str
    words: str
    rests_on: str
    reason: str


@dataclass(frozen=True, slots=True)
class CheckItem:
    """A check before opening with its answers; `chosen` is the key of the one that stands."""

    title: str
    options: tuple[tuple[str, str], ...]
    chosen: str


@dataclass(frozen=True, slots=True)
class PaperField:
    """A line of the paperwork; `orders` where its number counts for ordering."""

    key: str
    title: str
    hint: str
    text: str
    orders: bool


@dataclass(frozen=True, slots=True)
class PapersState:
    """The paperwork and the text for asking a seller."""

    fields: tuple[PaperField, ...]
    order_words: str
    seller_text: str


@dataclass(frozen=True, slots=True)
class IntakeState:
    """Taking in: the set, what was said and how it was understood, the first estimate."""

    title: str
    set_text: str
    board_text: str
    complaint: tuple[tuple[str, bool], ...]
    """The customer's words in pieces, and whether each was understood."""
    picture: SetPictureState
    noted: tuple[NotedItem, ...]
    checks: tuple[CheckItem, ...]
    notes: tuple[tuple[str, str], ...]
    boards: tuple[BoardShare, ...]
    suspects: tuple[SuspectRow, ...]
    worth: tuple[str, ...]
    papers: PapersState
    reset_seconds: int
    action: str
