"""The boards behind connectors, as words name them: by the connector, or by what they are."""

from __future__ import annotations

import re

from loose_rail.boards.profile import Board


def loads_named(board: Board, text: str) -> list[str]:
    """The boards behind connectors that words name: by a connector, or by what they are."""
    words = text.lower()
    found = []
    for connector in board.connectors:
        if re.search(rf"\b{re.escape(connector.ref.lower())}\b", words):
            load = next((p for p in board.loads if _behind(board, connector.ref, p.part)), None)
            if load is not None:
                found.append(load.part)
    for part in board.components:
        if part.kind == "load" and part.ref not in found and _is_named(part.duty.lower(), words):
            found.append(part.ref)
    if not found and _LETTERED.search(words):
        found = [p.ref for p in board.components if "drive" in p.duty.lower() and p.kind == "load"]
        sustain = [ref for ref in found if ref not in ("YB", "AB")]
        if sustain and re.search(r"\b[xzw](-| )?(board|sus\w*|drive|main|plug)\b", words):
            found = sustain  # Y scans; the other sustain board is called X, Z or W
    return list(dict.fromkeys(found))


_LETTERED = re.compile(r"\b[xyzw](-| )?(board|sus\w*|drive|main|plug)\b")
"""One of the drive boards, by its letter."""


_MADE_HERE = (
    r"(converter|supply|rail|voltage|regulator|switch|fuse|transformer|rectifier|reservoir)"
)
"""What makes a drive board's volts stands on the power board."""


def _behind(board: Board, connector: str, load: str) -> bool:
    refs = board.roles.get(f"{load}.connector", [])
    return connector in refs


def _is_named(duty: str, words: str) -> bool:
    if duty and duty in words:
        return True
    letter = duty[:1] if re.match(r"^[a-z] drive", duty) else ""
    if letter == "y" and re.search(r"\bscan(ning)?[- ](board|drive|side|part|half)", words):
        return True
    if letter and re.search(
        rf"\b{letter}(-| )?(board|sus\w*|drive|main|plug)|\b{letter} off\b", words
    ):
        return True
    if "keys" in duty and re.search(
        r"key ?board|keypad|key panel|\bkeys\b|\bbuttons?\b|button board|control panel|receiver|"
        r"sensor board|"
        r"front (board|panel)",
        words,
    ):
        return True
    if "timing" in duty and re.search(
        r"t-?con|timing|\blvds\b|\bfoils?\b|\bbonded\b|"
        r"(panel|flat|glass)( \w+){0,2} (ribbon|flat|cable|foil|plug|lead|connector)|"
        r"(ribbon|flat|foil|cable)s?( cable)?s? (to|of|from) the (panel|glass|screen|display)",
        words,
    ):
        return True
    if duty.startswith("lamps") and re.search(
        r"\binverter\b(?! (enable|supply|rail|signal|voltage|feed|fuse))|"
        r"\b(led|lamp|back ?light)s? (driver )?board\b",
        words,
    ):
        return True
    if "amplifier" in duty:
        return re.search(r"\bamp(lifier)?\b|\bsound\b|\baudio\b", words) is not None
    if "address" in duty:
        return re.search(rf"address(?! {_MADE_HERE})|buffer", words) is not None
    if "drive" in duty and re.search(r"\bsustain\b|\bdrive boards\b", words):
        if re.search(r"\bscan(ning)?[- ](board|drive|side|part|half)", words):
            return False  # “the sustain cable of the scan board”
        return not _LETTERED.search(words)
    return "main board" in duty and bool(re.search(r"main ?board|logic board", words))


_LAMPS_LINE = re.compile(
    r"\b(strips?|tubes?|lamps|leds?|back ?lights?|light bars?)\b(?! (driver|board|converter|boost))"
)


def lamps_named(board: Board, text: str) -> list[str]:
    """The strips or tubes that words name by themselves or by their plug: “LED plug”, “strips”."""
    if not _LAMPS_LINE.search(text):
        return []
    return [part.ref for part in board.components if part.kind in ("led_strip", "tubes")]
