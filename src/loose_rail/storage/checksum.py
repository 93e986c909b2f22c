"""The checksum of a stored event: over everything that its row says, and the place it stands in."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping

FIELDS = ("job", "sequence", "at", "bench", "version", "kind", "payload")
LETTERS = 16


def checksum_of(row: Mapping[str, object]) -> str:
    """SHA-256 over the fields of a row, its first 16 hexadecimal letters."""
    text = "\x1f".join(str(row[field]) for field in FIELDS)
    return hashlib.sha256(text.encode("utf-8", "surrogateescape")).hexdigest()[:LETTERS]
