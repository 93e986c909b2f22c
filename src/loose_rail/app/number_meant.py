"""Which working explains a number that stands on the screen: by its unit and the words beside it.

The words are those of the place on the screen: a cell and its row, a label, a reading of the map.
No decision of the job hangs on them; they only choose what is opened, and what is filled in.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from loose_rail.app.session import JobSession
from loose_rail.boards.typical import part_volts
from loose_rail.judgement.load_steps import steps_of
from loose_rail.judgement.workings.registry import CALCULATORS
from loose_rail.kernel.quantities import component_value, parse_quantity
from loose_rail.vocabulary.roles import BoardRole

_NUMBER = re.compile(
    r"(?<![\w.])([<>≥≤]?\s*\d+(?:[.,]\d+)?)\s*([pnµumkMG]?)\s?(V|A|Ω|F|W|Hz|J|°C|h|s|%)(?![A-Za-z])"
)
LED_VOLTS = 3.0
"""Of one LED, for how many a string has (electrical reference section 13) [P]."""


@dataclass(frozen=True, slots=True)
class _Rule:
    """Numbers of a unit beside such words are explained by a calculator, as its input `key`; by
    none where it is empty."""

    unit: str
    beside: str
    calculator: str
    key: str = ""


_RULES = (
    _Rule("J", "", "discharge"),
    _Rule("s", r"drain(?!ed)|discharg|charge|hold", "discharge"),
    _Rule("V", "diode", ""),
    _Rule("V", r"drain(?!ed)|discharg|charge|holds|dangerous", "discharge", "volts"),
    _Rule("V", r"ripple|\bAC\b", "ripple"),
    _Rule("V", r"drop|both ends|contact|cable (?!on|off)", "cable"),
    _Rule("V", "LED|strip|string|lamp output", "led"),
    _Rule("V", "divider|reference|feedback|set point|over-voltage", "divider"),
    _Rule("V", "mains|inlet", "bulk", "volts"),
    _Rule("V", "bulk|bridge|fuse", "bulk"),
    _Rule("V", "temperature|rating|voltage|reservoir rated", "life"),
    _Rule("V", "", "dummy", "volts"),
    _Rule("Ω", "ESR", "ripple", "esr"),
    _Rule("Ω", "divider upper|upper", "divider", "upper"),
    _Rule("Ω", "divider lower|lower", "divider", "lower"),
    _Rule("Ω", r"discharg|bleed|drain(?!ed)", "discharge", "ohms"),
    _Rule("Ω", "limiter|in line|inrush", "limiter", "ohms"),
    _Rule("Ω", "short|reservoir: ohms|ohms across", "injected", "short"),
    _Rule("Ω", "", "series"),
    _Rule("F", "bulk", "bulk", "farads"),
    _Rule("F", "snubber", "snubber"),
    _Rule("F", "", "ripple", "farads"),
    _Rule("W", "lamp|limiter|in line", "limiter", "lamp"),
    _Rule("W", "", "dummy"),
    _Rule("A", "fuse|inrush", "fuse"),
    _Rule("A", "string|LED", "led", "amps"),
    _Rule("A", "", "dummy", "amps"),
    _Rule("h", "", "life"),
    _Rule("°C", "", "life"),
    _Rule("Hz", "", "ripple", "hertz"),
)
"""The first that fits counts; a rule without words is the unit's last resort."""


def working_of(session: JobSession, words: str) -> tuple[str, dict[str, float]] | None:
    """The calculator that explains the first number with a unit in these words, and what is known
    of its inputs, in SI units; None where there is no such number."""
    found = _NUMBER.search(words)
    if found is None:
        return None
    unit = found[3]
    rule = next(
        (
            one
            for one in _RULES
            if one.unit == unit and (not one.beside or re.search(one.beside, words, re.IGNORECASE))
        ),
        None,
    )
    if rule is None or not rule.calculator:
        return None
    given = _known(session, rule.calculator)
    read = parse_quantity(f"{found[1].lstrip('<>≥≤ ')}{found[2]}{unit}")
    if rule.key and read is not None:
        given[rule.key] = read.value
    if rule.calculator == "led" and unit == "V" and read is not None:
        given["leds"] = max(1.0, round(read.value / LED_VOLTS))
    if rule.calculator == "dummy" and unit == "V" and read is not None:
        near = [one for one in steps_of(session.board) if one.share == 1.0]
        near.sort(key=lambda one: abs(one.volts - read.value))
        if near:
            given["amps"] = near[0].amps
    return rule.calculator, _sensible(rule.calculator, given)


def _known(session: JobSession, calculator: str) -> dict[str, float]:
    """What the board says of a calculator's inputs."""
    board = session.board
    given = {"hertz": float(board.mains.hertz or 50.0)} if calculator == "bulk" else {}
    bulk = board.roles.get(BoardRole.BULK, [])
    if bulk and calculator in ("bulk", "discharge", "hold_up"):
        part = board.component(bulk[0])
        if part.value:
            given["farads"] = component_value(part.value)
        if calculator == "discharge":
            given["volts"] = part_volts(part)
    if calculator in ("limiter", "fuse"):
        given["volts"] = float(board.mains.volts)
    return given


def _sensible(calculator: str, given: dict[str, float]) -> dict[str, float]:
    """Without what is no input of the calculator, or out of its range: that stays as it was."""
    inputs = {one.key: one for tool in CALCULATORS if tool.key == calculator for one in tool.inputs}
    return {
        key: number
        for key, number in given.items()
        if key in inputs and inputs[key].low <= number <= inputs[key].high
    }
