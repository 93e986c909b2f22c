"""Marks of fuses: characteristic, current, breaking capacity, voltage (IEC 60127-1, -2)."""

from __future__ import annotations

import re

from loose_rail.markings.reading import BREAKING, CHARACTERISTICS, MarkedKind, MarkReading

_MARK = re.compile(
    r"(FF|F|M|TT|T)?\s*(\d+(?:[.,]\d+)?)\s*(m?)A\s*(L|E|H)?\s*(?:(\d{2,4})\s*V)?", re.IGNORECASE
)
NO_KIND = "No letter of its characteristic: look for F or T on the other cap, or on the board."
NO_BREAKING = "No breaking capacity is printed: take H in a mains place until it is known."


def fuse(text: str) -> list[MarkReading]:
    """A fuse's mark, in A."""
    match = _MARK.fullmatch(text.strip())
    if match is None:
        return []
    amperes = float(match[2].replace(",", ".")) * (1e-3 if match[3] else 1.0)
    kind, breaking = (match[1] or "").upper(), (match[4] or "").upper()
    volts = float(match[5]) if match[5] else None
    steps = [f"{kind}: {CHARACTERISTICS[kind]}"] if kind else []
    steps.append(f"{amperes:g} A")
    steps += [f"{breaking}: {BREAKING[breaking]}"] if breaking else []
    steps += [f"{volts:g} V"] if volts else []
    notes = [NO_KIND if not kind else "", NO_BREAKING if kind and not breaking else ""]
    return [
        MarkReading(
            MarkedKind.FUSE,
            float(f"{amperes:.6g}"),
            tuple(steps),
            volts=volts,
            characteristic=kind,
            breaking=breaking,
            note=" ".join(filter(None, notes)),
        )
    ]
