"""Every reading that a board profile offers: where red and black go, and with which setting.

Cold probes follow from the kind of each part; live probes are the profile's own live points. A
probe says nothing about what it should read: that is computed.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from loose_rail.boards.profile import Board, Component, LivePoint, Side
from loose_rail.circuit.meters import MeterMode

AC_PAIR = "ac_pair"


@dataclass(frozen=True, slots=True)
class Probe:
    """One reading that can be asked for.

    `plus` and `minus` are nets, the words say where a hand finds them. `observable` is set for
    readings on a powered board and empty for cold ones. `minutes` is the time at the probe.
    """

    id: str
    part: str
    title: str
    mode: MeterMode
    plus: str
    minus: str
    plus_words: str
    minus_words: str
    minutes: float
    side: Side
    stop: str
    rail: str = ""
    observable: str = ""

    @property
    def live(self) -> bool:
        """True where the reading needs a powered board."""
        return bool(self.observable)

    @property
    def unit(self) -> str:
        """SI unit of the reading."""
        return self.mode.unit


def probes_of(board: Board) -> tuple[Probe, ...]:
    """All probes of a board, cold ones first, in the order of the profile."""
    cold = [probe for part in board.components for probe in _cold_probes(board, part)]
    return (*cold, *(_live_probe(board, point) for point in board.live_points))


def _cold_probes(board: Board, part: Component) -> Iterator[Probe]:
    kind, p = part.kind, part.pins
    name = f"{part.ref}, {part.duty}" if part.duty else part.ref
    if kind in ("fuse", "ntc", "resistor", "inductor"):
        yield _cold(board, part, "ohms", MeterMode.OHMS, "1", "2", f"{name}: ohms in place")
    elif kind == "common_mode_choke":
        yield _cold(board, part, "ohms", MeterMode.OHMS, "1", "2", f"{name}: ohms, live winding")
    elif kind in ("surge_suppressor", "ceramic"):
        yield _cold(board, part, "ohms", MeterMode.OHMS, "1", "2", f"{name}: ohms across")
    elif kind == "film":
        yield _cold(board, part, "cap", MeterMode.CAPACITANCE, "1", "2", f"{name}: capacitance")
        yield _cold(board, part, "ohms", MeterMode.OHMS, "1", "2", f"{name}: ohms across")
    elif kind == "electrolytic":
        yield _cold(board, part, "esr", MeterMode.ESR, "plus", "minus", f"{name}: ESR in place")
        yield _cold(board, part, "ohms", MeterMode.OHMS, "plus", "minus", f"{name}: ohms across")
    elif kind == "diode":
        yield _cold(board, part, "fwd", MeterMode.DIODE, "A", "K", f"{name}: diode test forward")
        yield _cold(board, part, "rev", MeterMode.OHMS, "K", "A", f"{name}: ohms backward")
    elif kind == "bridge":
        for number, (a, k) in enumerate(
            (("ac1", "plus"), ("ac2", "plus"), ("minus", "ac1"), ("minus", "ac2")), start=1
        ):
            title = f"{name}: diode {number} forward"
            yield _cold(board, part, f"d{number}", MeterMode.DIODE, a, k, title)
    elif kind == "transformer":
        yield _cold(board, part, "ohms", MeterMode.OHMS, "p1", "p2", f"{name}: primary ohms")
    elif "G" in p and "D" in p:
        yield _cold(board, part, "ds", MeterMode.OHMS, "D", "S", f"{name}: ohms drain to source")
        yield _cold(board, part, "sd", MeterMode.DIODE, "S", "D", f"{name}: body diode")
    elif kind in ("npn", "pnp"):
        base = ("B", "E") if kind == "npn" else ("E", "B")
        yield _cold(board, part, "be", MeterMode.DIODE, *base, f"{name}: base–emitter junction")
        yield _cold(board, part, "ce", MeterMode.OHMS, "C", "E", f"{name}: ohms C to E")
    elif kind == "optocoupler":
        yield _cold(board, part, "led", MeterMode.DIODE, "A", "K", f"{name}: LED, diode test")
        yield _cold(board, part, "ce", MeterMode.OHMS, "C", "E", f"{name}: ohms C to E")
    elif kind == "shunt_reference":
        yield _cold(board, part, "ak", MeterMode.DIODE, "A", "K", f"{name}: diode test A to K")
        yield _cold(board, part, "ka", MeterMode.OHMS, "K", "A", f"{name}: ohms K to A")
    elif kind == "controller":
        yield _cold(board, part, "vcc", MeterMode.OHMS, "VCC", "GND", f"{name}: supply pin ohms")


_PIN_WORDS = {
    ("diode", "A"): "anode",
    ("diode", "K"): "cathode (band)",
    ("electrolytic", "plus"): "+",
    ("electrolytic", "minus"): "− (striped side)",
    ("bridge", "ac1"): "first ~",
    ("bridge", "ac2"): "second ~",
    ("bridge", "plus"): "+",
    ("bridge", "minus"): "−",
    ("mosfet_n", "G"): "gate",
    ("mosfet_n", "D"): "drain",
    ("mosfet_n", "S"): "source",
    ("controller", "VCC"): "supply pin",
    ("controller", "GND"): "ground pin",
    ("optocoupler", "A"): "LED anode",
    ("optocoupler", "K"): "LED cathode",
    ("optocoupler", "C"): "collector",
    ("optocoupler", "E"): "emitter",
    ("transformer", "p1"): "first primary pin",
    ("transformer", "p2"): "second primary pin",
}


def _pin_words(part: Component, pin: str) -> str:
    numbered = {"1": "one end", "2": "the other end"}
    words = _PIN_WORDS.get((part.kind, pin)) or numbered.get(pin, f"pin {pin}")
    return f"{part.ref} {words}"


_MINUTES = {"ohms": 0.5, "diode": 0.6, "esr": 0.8, "capacitance": 1.0}


def _cold(
    board: Board, part: Component, name: str, mode: MeterMode, red: str, black: str, title: str
) -> Probe:
    return Probe(
        id=f"{part.ref}.{name}",
        part=part.ref,
        title=title,
        mode=mode,
        plus=part.pins[red],
        minus=part.pins[black],
        plus_words=_pin_words(part, red),
        minus_words=_pin_words(part, black),
        minutes=_MINUTES[mode],
        side=board.net(part.pins[red]).side,
        stop=part.ref,
    )


def _live_probe(board: Board, point: LivePoint) -> Probe:
    plus, minus = board.net(point.plus), board.net(point.minus)
    return Probe(
        id=f"live.{point.id}",
        part=point.stop,
        title=point.title,
        mode=MeterMode(point.mode),
        plus=point.plus,
        minus=point.minus,
        plus_words=plus.where,
        minus_words=minus.where,
        minutes=point.minutes,
        side=plus.side,
        stop=point.stop,
        rail=point.rail,
        observable=point.observable,
    )
