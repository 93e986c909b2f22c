"""Reads the SPICE subset: R C L K D V I, .model D, .op, .ac, comments and continuation lines.

The first line is the title, as SPICE has it. What is understood but not used becomes a note;
what can't be understood stops with file, line and what to write instead. Nothing is repaired.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import ClassVar

import numpy as np

from loose_rail.kernel.errors import NetlistError
from loose_rail.kernel.files import LARGEST_BOARD, read_bounded
from loose_rail.netlist.netlist import NOMINAL_CELSIUS, Coupling, DiodeModel, Netlist, Part

MOST_LINES = 100_000
"""Of a netlist that is read: bounds time and memory."""
MOST_FREQUENCIES = 10_000
"""Of an analysis that is asked for: bounds time and memory."""
_SUFFIXES = (
    ("meg", 1e6),
    ("mil", 25.4e-6),
    ("t", 1e12),
    ("g", 1e9),
    ("k", 1e3),
    ("m", 1e-3),
    ("u", 1e-6),
    ("µ", 1e-6),
    ("n", 1e-9),
    ("p", 1e-12),
    ("f", 1e-15),
)
_NUMBER = re.compile(r"^([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)([a-zµω]*)$", re.IGNORECASE)
_TOKEN = re.compile(r"[^\s,()=]+|[()=]")
_MODEL_FIELDS = {
    "is": "saturation_amps",
    "js": "saturation_amps",
    "n": "emission",
    "rs": "series_ohms",
    "bv": "breakdown_volts",
    "ibv": "breakdown_amps",
    "cjo": "junction_farads",
    "cj0": "junction_farads",
}
_UNITS = {"R": "ohms", "C": "farads", "L": "henries"}


def spice_number(text: str) -> float | None:
    """A SPICE number such as 4.7k, 10uF, 1meg, 2.2e-6; None where it is none.

    Letters after the suffix are a unit and ignored, as SPICE does; M is milli.
    """
    match = _NUMBER.match(text)
    if match is None:
        return None
    letters = match[2].lower()
    scale = next((factor for suffix, factor in _SUFFIXES if letters.startswith(suffix)), 1.0)
    value = float(match[1]) * scale
    return value if math.isfinite(value) else None


def read_netlist(path: Path) -> Netlist:
    """Read a file. Raises NetlistError with file, line and what to do."""
    try:
        lines = read_bounded(path, LARGEST_BOARD).decode("utf-8").splitlines()
    except OSError as error:
        raise NetlistError(f"{path} can't be read: {error.strerror}.") from error
    except UnicodeDecodeError as error:
        raise NetlistError(f"{path} is not a text file.", "Save the netlist as UTF-8.") from error
    return parse_netlist(lines, path.name)


def parse_netlist(lines: list[str], source: str = "netlist") -> Netlist:
    """Parse the lines of a netlist, the title first. Raises NetlistError."""
    if len(lines) > MOST_LINES:
        raise NetlistError(
            f"{source} has more than {MOST_LINES} lines.", "Cut out the part that is in question."
        )
    reader = _Reader(source)
    if lines:
        reader.look_at_title(lines[0])
    for number, text in _logical_lines(lines[1:], source):
        if text.split()[0].lower() == ".end":
            break
        reader.line(number, text)
    return reader.finished(lines[0].strip() if lines else "")


def _logical_lines(lines: list[str], source: str) -> Iterator[tuple[int, str]]:
    """Line number and text, comments off, continuation lines joined."""
    number, text = 0, ""
    for count, raw in enumerate(lines, start=2):
        line = re.split(r";|\s\$", raw, maxsplit=1)[0].strip()
        if not line or line.startswith(("*", "$", "#")):
            continue
        if line.startswith("+"):
            if not text:
                raise NetlistError(
                    f"{source}:{count}: a continuation line with nothing to continue.",
                    "Take the + away, or put it under the line it belongs to.",
                )
            text += " " + line[1:]
            continue
        if text:
            yield number, text
        number, text = count, line
    if text:
        yield number, text


class _Reader:
    """Collects what the lines say."""

    def __init__(self, source: str) -> None:
        self.source = source
        self.parts: dict[str, Part] = {}
        self.couplings: dict[str, Coupling] = {}
        self.models: dict[str, DiodeModel] = {}
        self.notes: list[str] = []
        self.hertz: tuple[float, ...] = ()
        self.wants_op = False
        self.celsius = NOMINAL_CELSIUS

    def fail(self, line: int, message: str, hint: str = "") -> NetlistError:
        return NetlistError(f"{self.source}:{line}: {message}", hint)

    def note(self, line: int, words: str) -> None:
        self.notes.append(f"{self.source}:{line}: {words}")

    def look_at_title(self, text: str) -> None:
        """SPICE takes line 1 as the title even where it looks like a part: say so."""
        words = text.split()
        if len(words) >= 4 and words[0][:1].upper() in "RCLDVI" and spice_number(words[3]):
            self.note(1, "the first line is the title and was not read as a part")

    def line(self, number: int, text: str) -> None:
        tokens = _TOKEN.findall(text)
        if not tokens:
            raise self.fail(number, f"“{text}” can't be read.", "Write NAME NET NET VALUE.")
        kind = tokens[0][0].upper()
        if kind == ".":
            self._directive(number, tokens)
            return
        read = self._PARTS.get(kind)
        if read is None:
            raise self.fail(
                number,
                f"“{tokens[0]}” is not a part that can be read.",
                "R, C, L, K, D, V and I are; write subcircuits out.",
            )
        read(self, number, tokens)

    # ---- parts -----------------------------------------------------------------------------

    def _keep(self, part: Part) -> None:
        key = part.name.lower()
        if key in self.parts:
            raise self.fail(
                part.line,
                f"{part.name} is already in line {self.parts[key].line}.",
                "Give one of them another name.",
            )
        self.parts[key] = part

    def _value(self, line: int, tokens: list[str], at: int, what: str) -> float:
        if len(tokens) <= at:
            raise self.fail(line, f"{tokens[0]} has no {what}.", "Write NAME NET NET VALUE.")
        text = tokens[at]
        if len(tokens) > at + 2 and tokens[at + 1] == "=":
            text = tokens[at + 2]
        found = spice_number(text)
        if found is None:
            raise self.fail(
                line, f"“{text}” of {tokens[0]} is not a value.", "Write 4.7k, 100n or 1meg."
            )
        return found

    def _ends(self, line: int, tokens: list[str]) -> tuple[str, str]:
        if len(tokens) < 3:
            raise self.fail(line, f"{tokens[0]} needs two nets.", "Write NAME NET NET VALUE.")
        a, b = (_net(token) for token in tokens[1:3])
        return a, b

    def _passive(self, line: int, tokens: list[str]) -> None:
        a, b = self._ends(line, tokens)
        kind = tokens[0][0].upper()
        value = self._value(line, tokens, 3, _UNITS[kind])
        if not value > 0:
            raise self.fail(
                line,
                f"{tokens[0]} has {tokens[3]} {_UNITS[kind]}; it must be above zero.",
                "Leave out what is not there; write a short as 1m.",
            )
        if len(tokens) > 4 and "=" not in tokens[3:5]:
            self.note(line, f"not used: {' '.join(tokens[4:])}")
        self._keep(Part(name=tokens[0], kind=kind, plus=a, minus=b, value=value, line=line))

    def _diode(self, line: int, tokens: list[str]) -> None:
        a, b = self._ends(line, tokens)
        if len(tokens) < 4:
            raise self.fail(line, f"{tokens[0]} has no model.", "Write NAME ANODE CATHODE MODEL.")
        area = 1.0
        if len(tokens) > 4:
            found = spice_number(tokens[4])
            if found is not None and found > 0:
                area = found
            else:
                self.note(line, f"not used: {' '.join(tokens[4:])}")
        self._keep(
            Part(
                name=tokens[0],
                kind="D",
                plus=a,
                minus=b,
                value=0.0,
                line=line,
                ac=0j,
                model=tokens[3].lower(),
                area=area,
            )
        )

    def _source(self, line: int, tokens: list[str]) -> None:
        a, b = self._ends(line, tokens)
        if a == b:
            raise self.fail(line, f"Both ends of {tokens[0]} are on net {a}.", "Move one of them.")
        dc, ac = 0.0, 0j
        rest = [token.lower() for token in tokens[3:] if token not in "()="]
        place = 0
        while place < len(rest):
            word = rest[place]
            numbers = _numbers(rest[place + 1 :])
            if word == "dc":
                dc = self._first(line, tokens[0], numbers)
                place += 2
            elif word == "ac":
                size = numbers[0] if numbers else 1.0
                turn = math.radians(numbers[1]) if len(numbers) > 1 else 0.0
                ac = size * complex(math.cos(turn), math.sin(turn))
                place += 1 + min(len(numbers), 2)
            elif word in ("sin", "pulse", "pwl", "exp", "sffm"):
                self.note(line, f"{tokens[0]}: {word} stands at its value at time zero")
                dc = numbers[1] if word == "pwl" and len(numbers) > 1 else (numbers or [0.0])[0]
                place += 1 + len(numbers)
            else:
                found = spice_number(word)
                if found is None:
                    raise self.fail(
                        line, f"“{word}” of {tokens[0]} is not a value.", "Write DC 5 or AC 1."
                    )
                dc = found
                place += 1
        self._keep(
            Part(
                name=tokens[0],
                kind=tokens[0][0].upper(),
                plus=a,
                minus=b,
                value=dc,
                line=line,
                ac=ac,
            )
        )

    def _first(self, line: int, name: str, numbers: list[float]) -> float:
        if not numbers:
            raise self.fail(line, f"{name} has no value after DC.", "Write DC 5.")
        return numbers[0]

    def _coupling(self, line: int, tokens: list[str]) -> None:
        if len(tokens) < 4:
            raise self.fail(line, f"{tokens[0]} needs two inductors and a factor.")
        factor = self._value(line, tokens, 3, "factor")
        if not 0 < factor <= 1:
            raise self.fail(
                line, f"{tokens[0]} couples by {tokens[3]}.", "The factor lies above 0, up to 1."
            )
        self.couplings[tokens[0].lower()] = Coupling(
            tokens[0], tokens[1].lower(), tokens[2].lower(), factor, line
        )

    _PARTS: ClassVar[dict[str, Callable[[_Reader, int, list[str]], None]]] = {
        "R": _passive,
        "C": _passive,
        "L": _passive,
        "D": _diode,
        "V": _source,
        "I": _source,
        "K": _coupling,
    }

    # ---- dot lines -------------------------------------------------------------------------

    def _directive(self, line: int, tokens: list[str]) -> None:
        word = tokens[0].lower()
        if word == ".model":
            self._model(line, tokens)
        elif word == ".op":
            self.wants_op = True
        elif word == ".ac":
            self._ac(line, tokens)
        elif word in (".options", ".option"):
            self._options(line, tokens)
        elif word in (".subckt", ".ends", ".include", ".lib", ".param"):
            raise self.fail(line, f"{word} can't be read.", "Write the circuit out in full.")
        else:
            self.note(line, f"not used: {' '.join(tokens)}")

    def _options(self, line: int, tokens: list[str]) -> None:
        """Only a temperature that holds for everything is used: temp and tnom alike."""
        pairs = {
            tokens[k - 1].lower(): tokens[k + 1]
            for k in range(2, len(tokens) - 1)
            if tokens[k] == "="
        }
        temp, tnom = (spice_number(pairs.get(name, "")) for name in ("temp", "tnom"))
        if temp is not None and temp == tnom:
            self.celsius = temp
        rest = [name for name in pairs if name not in ("temp", "tnom") or temp != tnom]
        if rest:
            self.note(line, f"not used: {', '.join(rest)}")

    def _model(self, line: int, tokens: list[str]) -> None:
        if len(tokens) < 3:
            raise self.fail(line, ".model needs a name and a type.", "Write .model NAME D(IS=1n).")
        if tokens[2].lower() != "d":
            self.note(line, f"not used: model {tokens[1]} of type {tokens[2]}")
            return
        values: dict[str, float] = {}
        rest = [token for token in tokens[3:] if token not in "()"]
        for place in range(len(rest)):
            if rest[place] != "=" or place == 0 or place + 1 >= len(rest):
                continue
            name, found = rest[place - 1].lower(), spice_number(rest[place + 1])
            if found is None:
                raise self.fail(line, f"{name}={rest[place + 1]} is not a value.", "Write IS=1n.")
            if name not in _MODEL_FIELDS:
                self.note(line, f"not used: {name}={rest[place + 1]}")
            elif found < 0 or (found == 0 and name not in ("rs", "cjo", "cj0")):
                raise self.fail(line, f"{name} of {tokens[1]} must be above zero.")
            else:
                values[_MODEL_FIELDS[name]] = found
        self.models[tokens[1].lower()] = DiodeModel(tokens[1].lower(), **values)

    def _ac(self, line: int, tokens: list[str]) -> None:
        usage = "Write .ac lin POINTS START STOP, or .ac dec POINTS-A-DECADE START STOP."
        numbers = [spice_number(token) for token in tokens[2:5]]
        if len(tokens) < 5 or tokens[1].lower() not in ("lin", "dec") or None in numbers:
            raise self.fail(line, f"“{' '.join(tokens)}” can't be read.", usage)
        count, start, stop = (float(number) for number in numbers if number is not None)
        if count < 1 or not 0 < start <= stop:
            raise self.fail(line, "The sweep has no points.", usage)
        if tokens[1].lower() == "lin":
            points = np.linspace(start, stop, int(min(count, MOST_FREQUENCIES + 1)))
        else:
            steps = math.floor(math.log10(stop / start) * count + 1e-9) + 1
            points = start * 10 ** (np.arange(min(steps, MOST_FREQUENCIES + 1)) / int(count))
        if len(points) > MOST_FREQUENCIES:
            raise self.fail(line, f"More than {MOST_FREQUENCIES} frequencies.", "Ask for fewer.")
        self.hertz = tuple(float(point) for point in points)

    def finished(self, title: str) -> Netlist:
        netlist = Netlist(
            source=self.source,
            title=title,
            parts=tuple(self.parts.values()),
            couplings=tuple(self.couplings.values()),
            models=self.models,
            wants_op=self.wants_op,
            hertz=self.hertz,
            notes=tuple(self.notes),
            celsius=self.celsius,
        )
        if not self.parts:
            raise netlist.error("There is no part in this file.", "The first line is the title.")
        for part in netlist.parts:
            if part.kind == "D":
                netlist.model_of(part)
        for coupling in netlist.couplings:
            for name in (coupling.first, coupling.second):
                if name not in self.parts or self.parts[name].kind != "L":
                    raise self.fail(
                        coupling.line,
                        f"{coupling.name} couples “{name}”, which is no inductor here.",
                        "Name two L parts of this file.",
                    )
        return netlist


def _net(token: str) -> str:
    name = token.lower()
    return "0" if name == "gnd" else name


def _numbers(tokens: list[str]) -> list[float]:
    found: list[float] = []
    for token in tokens:
        value = spice_number(token)
        if value is None:
            break
        found.append(value)
    return found
