"""Every reading that a board profile offers: where red and black go, and with which setting.

Cold probes follow from the kind of each part; live probes are the profile's own live points. A
probe says nothing about what it should read: that is computed.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from loose_rail.boards.profile import Board, Component, LivePoint, Side
from loose_rail.vocabulary.meter_mode import MeterMode


@dataclass(frozen=True, slots=True)
class Probe:
    """One reading that can be asked for.

    `plus` and `minus` are nets, the words say where a hand finds them. `observable` is set for
    readings on a powered board and empty for cold ones. `minutes` is the time at the probe.
    `meter` is false where no meter may go: it is never offered.
    `lifted` means that the part is read with a leg out of the board, by itself.
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
    lifted: bool = False
    meter: bool = True

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
    lifted = [probe for part in board.components for probe in _lifted_probes(board, part)]
    return (*cold, *lifted, *(_live_probe(board, point) for point in board.live_points))


OHMS, DIODE, ESR = MeterMode.OHMS, MeterMode.DIODE, MeterMode.ESR
CAPACITANCE = MeterMode.CAPACITANCE

COLD_PROBES: dict[str, tuple[tuple[str, MeterMode, str, str, str], ...]] = {
    "fuse": (("ohms", OHMS, "1", "2", "ohms in place"),),
    "ntc": (("ohms", OHMS, "1", "2", "ohms in place"),),
    "resistor": (("ohms", OHMS, "1", "2", "ohms in place"),),
    "inductor": (("ohms", OHMS, "1", "2", "ohms in place"),),
    "common_mode_choke": (("ohms", OHMS, "1", "2", "ohms, live winding"),),
    "surge_suppressor": (("ohms", OHMS, "1", "2", "ohms across"),),
    "ceramic": (("ohms", OHMS, "1", "2", "ohms across"),),
    "film": (
        ("cap", CAPACITANCE, "1", "2", "capacitance"),
        ("ohms", OHMS, "1", "2", "ohms across"),
    ),
    "electrolytic": (
        ("esr", ESR, "plus", "minus", "ESR in place"),
        ("ohms", OHMS, "plus", "minus", "ohms across"),
    ),
    "diode": (
        ("fwd", DIODE, "A", "K", "diode test forward"),
        ("rev", OHMS, "K", "A", "ohms backward"),
    ),
    "bridge": (
        ("d1", DIODE, "ac1", "plus", "diode 1 forward"),
        ("d2", DIODE, "ac2", "plus", "diode 2 forward"),
        ("d3", DIODE, "minus", "ac1", "diode 3 forward"),
        ("d4", DIODE, "minus", "ac2", "diode 4 forward"),
    ),
    "transformer": (("ohms", OHMS, "p1", "p2", "primary ohms"),),
    "mosfet_n": (
        ("ds", OHMS, "D", "S", "ohms D to S"),
        ("sd", DIODE, "S", "D", "body diode"),
    ),
    "fusible_resistor": (("ohms", OHMS, "1", "2", "ohms in place"),),
    "zener": (
        ("fwd", DIODE, "A", "K", "diode test forward"),
        ("rev", OHMS, "K", "A", "ohms backward"),
    ),
    "tvs": (("rev", OHMS, "K", "A", "ohms backward"),),
    "mosfet_p": (
        ("sd", OHMS, "S", "D", "ohms S to D"),
        ("ds", DIODE, "D", "S", "body diode"),
    ),
    "mosfet_dual": (
        ("n", DIODE, "S1", "D1", "N half, body diode"),
        ("p", DIODE, "D2", "S2", "P half, body diode"),
    ),
    "igbt": (
        ("ce", OHMS, "C", "E", "ohms C to E"),
        ("ec", DIODE, "E", "C", "diode E to C"),
    ),
    "relay": (("coil", OHMS, "A1", "A2", "coil ohms"),),
    "regulator": (
        ("in", OHMS, "IN", "GND", "input pin ohms"),
        ("io", DIODE, "OUT", "IN", "diode test output to input"),
    ),
    "npn": (
        ("be", DIODE, "B", "E", "base–emitter junction"),
        ("ce", OHMS, "C", "E", "ohms C to E"),
    ),
    "pnp": (
        ("be", DIODE, "E", "B", "base–emitter junction"),
        ("ce", OHMS, "C", "E", "ohms C to E"),
    ),
    "optocoupler": (
        ("led", DIODE, "A", "K", "LED, diode test"),
        ("ce", OHMS, "C", "E", "ohms C to E"),
    ),
    "shunt_reference": (
        ("ak", DIODE, "A", "K", "diode test A to K"),
        ("ka", OHMS, "K", "A", "ohms K to A"),
    ),
    "controller": (("vcc", OHMS, "VCC", "GND", "supply pin ohms"),),
}
"""Cold probes by kind: name, setting, red pin, black pin, what the reading is."""


def _cold_probes(board: Board, part: Component) -> Iterator[Probe]:
    name = f"{part.ref}, {part.duty}" if part.duty else part.ref
    for probe, mode, red, black, what in COLD_PROBES.get(part.kind, ()):
        yield _cold(board, part, probe, mode, red, black, f"{name}: {what}")


LIFTED_PROBES = {
    "electrolytic": ("esr", "ohms"),
    "resistor": ("ohms",),
    "film": ("cap", "ohms"),
    "ceramic": ("ohms",),
    "diode": ("fwd", "rev"),
    "zener": ("fwd", "rev"),
    "fusible_resistor": ("ohms",),
    "mosfet_n": ("ds", "sd"),
    "mosfet_p": ("sd", "ds"),
    "igbt": ("ce", "ec"),
}
"""Two-legged parts can be read by themselves: the strongest test, at the cost of solder."""
LIFT_MINUTES = 4.0


def _lifted_probes(board: Board, part: Component) -> Iterator[Probe]:
    wanted = LIFTED_PROBES.get(part.kind, ())
    for probe in _cold_probes(board, part):
        if probe.id.split(".")[1] in wanted:
            title = probe.title.replace(" in place", "") + ", one leg lifted"
            minutes = probe.minutes + LIFT_MINUTES
            yield replace(probe, id=f"{probe.id}.out", title=title, minutes=minutes, lifted=True)


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
    ("zener", "A"): "anode",
    ("zener", "K"): "cathode (band)",
    ("tvs", "A"): "anode",
    ("tvs", "K"): "cathode (band)",
    ("mosfet_p", "G"): "gate",
    ("mosfet_p", "D"): "drain",
    ("mosfet_p", "S"): "source",
    ("igbt", "G"): "gate",
    ("igbt", "C"): "collector",
    ("igbt", "E"): "emitter",
    ("regulator", "IN"): "input pin",
    ("regulator", "OUT"): "output pin",
    ("regulator", "GND"): "ground pin",
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
        meter=point.meter,
    )
