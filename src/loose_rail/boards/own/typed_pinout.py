"""A connector's pinout as a person types it: “CN8/2: 24V, 24V, GND, GND, 5VSB, PS-ON”.

Before the colon stands its name, behind a slash the number of its rows, and the word “around” where
the pins are counted along one row and back along the other. “7: 24V” among the labels is pin 7, and
the ones behind it follow; a label that is left empty, or “?”, is a pin that is not known.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from loose_rail.boards.own.make_up import OwnConnector

MOST_PINS = 60
MOST_ROWS = 2
FEWEST_FOR_TWO_ROWS = 6
"""Pins, rows, and from how many pins two rows are usual [P]."""
AROUND = "around"
_NAMED = re.compile(
    r"^\s*([A-Za-z]{1,6}[-_ ]?\d{1,4}[A-Za-z]?)\s*(?:/\s*(\d))?\s*(around|across)?\s*:\s*",
    re.IGNORECASE,
)
_NUMBERED = re.compile(r"^(\d{1,2})\s*[:=]\s*(.*)$")
_UNKNOWN = ("?", "-", "—")


@dataclass(frozen=True, slots=True)
class TypedPinout:
    """A typed connector: its name (empty where none was typed), rows (0: not said), whether it is
    counted around, and its labels by pin number."""

    name: str
    rows: int
    around: bool
    labels: dict[int, str]
    problem: str = ""

    def connector(self, name: str = "") -> OwnConnector:
        """The connector, under its own name or the given one; pins that are not known are empty."""
        count = max(self.labels, default=0)
        rows = self.rows or (2 if count >= FEWEST_FOR_TWO_ROWS else 1)
        pins = tuple(self.labels.get(number, "") for number in range(1, count + 1))
        return OwnConnector(self.name or name, rows, pins, self.around)


def typed_pinout(text: str) -> TypedPinout:
    """Read one line; `problem` says what can't be meant, and the rest is read all the same."""
    match = _NAMED.match(text)
    name, rest = (match[1], text[match.end() :]) if match else ("", text)
    rows = int(match[2]) if match and match[2] else 0
    around = bool(match and match[3] and match[3].lower() == AROUND)
    problem = ""
    if rows > MOST_ROWS:
        problem = f"{rows} rows of pins: a plug has one or two. Type {name}/2"
        rows = 0
    labels: dict[int, str] = {}
    at = 0
    parts = re.split(r"[,;]", rest.strip().rstrip(",;")) if rest.strip() else []
    for part in parts:
        numbered = _NUMBERED.match(part.strip())
        at = int(numbered[1]) if numbered else at + 1
        label = (numbered[2] if numbered else part).strip()
        if not 1 <= at <= MOST_PINS:
            problem = problem or f"Pin {at}: pins are numbered from 1 to {MOST_PINS}."
            continue
        if at in labels and labels[at] and label and label != labels[at]:
            problem = problem or f"Pin {at} is typed twice: {labels[at]} and {label}."
        labels[at] = "" if label in _UNKNOWN else label
    return TypedPinout(name, rows, around, labels, problem)


def pinout_text(connector: OwnConnector) -> str:
    """The line that `typed_pinout` reads back as this connector."""
    usual = 2 if len(connector.pins) >= FEWEST_FOR_TWO_ROWS else 1
    rows = f"/{connector.rows}" if connector.rows > 1 or connector.rows != usual else ""
    around = f" {AROUND}" if connector.around else ""
    pins = ", ".join(pin or "?" for pin in connector.pins)
    return f"{connector.name}{rows}{around}: {pins}"
