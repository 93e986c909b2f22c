"""One typed line changes what is known of an own board: pinout, part, kind, mains, label."""

from __future__ import annotations

import re
from collections.abc import Callable

import msgspec

from loose_rail.boards.own.binding import Beside, Line, Struck
from loose_rail.boards.own.file import (
    MAIN_PLUG,
    WAKES,
    OwnBoardFile,
    TrueVolts,
    checked,
    keeping_names,
    with_line,
    without_line,
)
from loose_rail.boards.own.typed_pinout import pinout_text, typed_pinout
from loose_rail.kernel.errors import BoardFileError

Edited = tuple[OwnBoardFile, str]
"""The file after a line, and what it did, in words."""

GRAMMAR = (
    "CN8/2: 24V, GND, 7: 5VSB · CN8 pin 7 = 5VSB · C952 = 12 V reservoir 1000u 25V x2 · "
    "C953 with C952 · no clamp diode · kind standby flyback, PFC · start high · mains 120 · "
    "12V stands at 12.8 · also XQ-78 · copy as XQ-79 · drop 3"
)
_PIN = re.compile(r"^\s*(\S[^:=]*?)\s+pin\s+(\d{1,2})\s*(?:=|\bis\b)\s*(.*?)\s*$", re.IGNORECASE)
_PINOUT = re.compile(
    r"^\s*[A-Za-z]{1,6}[-_ ]?\d{1,4}[A-Za-z]?\s*(/\s*\d)?\s*(around|across)?\s*:", re.IGNORECASE
)
_STANDS = re.compile(
    r"^\s*([^:=]*?\d[^:=]*?)\s+(?:stands at|is really|is)\s+(\d+(?:[.,]\d+)?)\s*V?\s*$",
    re.IGNORECASE,
)
_WORD = re.compile(r"^\s*(kind|set|start|mains|also|drop)\b[:=]?\s*(.*?)\s*$", re.IGNORECASE)


def edited(own: OwnBoardFile, text: str) -> Edited:
    """The file with one typed line. Raises BoardFileError where it means nothing here, or the board
    can't be put together with it."""
    pin = _PIN.match(text)
    word = _WORD.match(text)
    stands = _STANDS.match(text)
    if pin:
        answer = _with_pin(own, pin[1], int(pin[2]), pin[3])
    elif _PINOUT.match(text):
        answer = _with_pinout(own, text)
    elif word:
        answer = _WORDS[word[1].lower()](own, word[2])
    elif stands:
        answer = _with_true_volts(own, stands[1], float(stands[2].replace(",", ".")))
    elif _without_plug(own, text) is not None:
        answer = _without_plug(own, text) or (own, "")
    else:
        made, line = with_line(own, text)
        return made, line_words(line)
    made, words = answer
    return keeping_names(own, checked(made)), words


def line_words(line: Line) -> str:
    """What a line about a part says."""
    if isinstance(line, Struck):
        return f"no {line.place} on this board"
    value = f", {line.value}{f' {line.volts} V' if line.volts else ''}" if line.value else ""
    if isinstance(line, Beside):
        how = "beside" if line.how == "parallel" else "in series with"
        return f"{line.ref} {how} {line.place}{value}"
    count = f", {line.count} in parallel" if line.count > 1 else ""
    return f"{line.ref} is the {line.place}{value}{count}"


def _with_pinout(own: OwnBoardFile, text: str) -> Edited:
    typed = typed_pinout(text)
    if typed.problem:
        raise BoardFileError(typed.problem, "Mend the line: CN8/2: 24V, GND, 7: 5VSB")
    if not typed.labels:
        raise BoardFileError(f"{typed.name} without a pin.", f"To take it away: no {typed.name}")
    line = pinout_text(typed.connector(MAIN_PLUG))
    names = [plug.name for plug in own.plugs]
    lines = list(own.connectors)
    if typed.name in names:
        lines[names.index(typed.name)] = line
        did = "has other pins now"
    else:
        lines.append(line)
        did = "is one more connector"
    return msgspec.structs.replace(own, connectors=lines), f"{typed.name} {did}"


def _with_pin(own: OwnBoardFile, name: str, number: int, label: str) -> Edited:
    plugs = {plug.name.lower(): place for place, plug in enumerate(own.plugs)}
    if name.lower() not in plugs:
        known = ", ".join(plug.name for plug in own.plugs) or "none yet"
        raise BoardFileError(f"This board has no connector {name}.", f"It has {known}.")
    place = plugs[name.lower()]
    plug = own.plugs[place]
    if not 1 <= number <= len(plug.pins):
        raise BoardFileError(f"{plug.name} has {len(plug.pins)} pins, no pin {number}.")
    pins = tuple(label if k == number else pin for k, pin in enumerate(plug.pins, start=1))
    lines = list(own.connectors)
    changed = type(plug)(plug.name, plug.rows, pins, plug.around)
    lines[place] = pinout_text(changed)
    was = plug.pins[number - 1] or "not known"
    return (
        msgspec.structs.replace(own, connectors=lines),
        f"{plug.name} pin {number} is {label or 'not known'}; it was {was}",
    )


def _without_plug(own: OwnBoardFile, text: str) -> Edited | None:
    match = re.match(r"^\s*no\s+(\S+)\s*$", text, re.IGNORECASE)
    names = [plug.name.lower() for plug in own.plugs]
    if match is None or match[1].lower() not in names:
        return None
    lines = list(own.connectors)
    lines.pop(names.index(match[1].lower()))
    return msgspec.structs.replace(own, connectors=lines), f"{match[1]} is taken away"


def _with_true_volts(own: OwnBoardFile, label: str, volts: float) -> Edited:
    number = re.search(r"\d+(?:[.,]\d+)?", label)
    assert number is not None
    printed = float(number[0].replace(",", "."))
    if volts <= 0:
        raise BoardFileError(f"{volts:g} V stands at no rail.", "Type 12V stands at 12.8")
    rest = [one for one in own.true_volts if one.printed != printed]
    if printed != volts:
        rest.append(TrueVolts(printed, volts))
        did = f"at {printed:g} V by its label stand {volts:g} V on a sound board"
    else:
        did = f"the label {printed:g} V is right"
    return msgspec.structs.replace(own, true_volts=rest), did


def _kind(own: OwnBoardFile, words: str) -> Edited:
    return msgspec.structs.replace(own, kind=words), f"made of: {words or 'nothing said'}"


def _set(own: OwnBoardFile, words: str) -> Edited:
    return msgspec.structs.replace(own, set_kind=words), f"from a set: {words or 'nothing said'}"


def _start(own: OwnBoardFile, words: str) -> Edited:
    if words.lower() not in WAKES:
        raise BoardFileError(f"A start pin is {', '.join(WAKES)}, not “{words}”.")
    return msgspec.structs.replace(own, wake=words.lower()), f"start pin: {words.lower()}"


def _mains(own: OwnBoardFile, words: str) -> Edited:
    match = re.fullmatch(r"(\d{2,3})\s*V?", words, re.IGNORECASE)
    if match is None:
        raise BoardFileError(f"“{words}” is no mains.", "Type mains 120 or mains 230.")
    return msgspec.structs.replace(own, mains_volts=float(match[1])), f"for {match[1]} V mains"


def _also(own: OwnBoardFile, words: str) -> Edited:
    if not words or words in (own.id, *own.aliases):
        raise BoardFileError("No new number.", "Type also and what is printed on it.")
    return msgspec.structs.replace(own, aliases=[*own.aliases, words]), f"also found as {words}"


def _drop(own: OwnBoardFile, words: str) -> Edited:
    number = int(words) if words.isdecimal() else 0
    if not 1 <= number <= len(own.parts):
        raise BoardFileError(
            f"There is no line {words or '?'} about a part.", f"There are {len(own.parts)}."
        )
    gone = line_words(own.parts[number - 1])
    return without_line(own, number), f"taken out: {gone}"


_WORDS: dict[str, Callable[[OwnBoardFile, str], Edited]] = {
    "kind": _kind,
    "set": _set,
    "start": _start,
    "mains": _mains,
    "also": _also,
    "drop": _drop,
}
