"""What a part is called beside its designator."""

from __future__ import annotations

from loose_rail.boards.kinds.registry import kind_words
from loose_rail.boards.profile import Component

SAID_BY_ITS_NAME = frozenset({"chip"})
"""Adds nothing to a name such as “standby controller”."""


def job_words(part: Component) -> str:
    """What a part does, or its kind; empty where its own name says it, as on a composed board."""
    words = part.duty or kind_words(part.kind)
    plain = words.partition(" (")[0].lower()
    return "" if set(plain.split()) <= {*part.ref.lower().split(), *SAID_BY_ITS_NAME} else words
