"""What a three-legged part on a heat sink really is, by the diode test between its legs.

A meter's diode test drives about a milliampere and shows the drop: a silicon junction 0.4 to
0.75 V, a Schottky barrier 0.1 to 0.4 V, nothing (OL) the other way. Which pairs of legs conduct,
and how the drops differ, tells the part and its pinout (textbook). What stands on it comes second:
the marking is often gone, and a wrong part may have been fitted before.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass

from loose_rail.kernel.errors import BadEntryError

Pair = tuple[int, int]
"""Red leg and black leg, counted from the left with the print in front."""
SHORT_BELOW_VOLTS = 0.06
"""Less than any junction drops: leads, and metal that has run together [P]."""
CONDUCTS_BELOW_VOLTS = 1.3
SCHOTTKY_BELOW_VOLTS = 0.4
"""At a meter's current [P]."""
TRANSISTOR_FROM_VOLTS, ALIKE_VOLTS = 0.5, 0.08
"""Base to emitter and base to collector of one transistor: both from here on, this near [P]."""
SAME_VOLTS = 0.002
"""Two drops this near are alike: twin diodes, or a meter that can't tell."""
ON_BELOW_VOLTS = 0.2
"""Drain to source of a MOSFET whose gate was charged; an IGBT still drops a junction [P]."""
_WORD = re.compile(
    r"(on\s+)?(?:red\s*)?([123])\s*(?:[-–>/]|to)?\s*(?:black\s*)?([123])\s*[:=]?\s*"
    r"(ol|open|\.\d+|\d+(?:[.,]\d+)?)\s*(m?v)?",
    re.IGNORECASE,
)
HELP = "Red leg, black leg, what it shows: legs 32 0.48, 12 OL. Pairs left out showed OL."


@dataclass(frozen=True, slots=True)
class LegFinding:
    """One thing that the part may be: its kind in words, what each leg is, why, and what would tell
    it from the next one. `failed` where it is broken."""

    kind: str
    legs: Mapping[int, str]
    why: str
    then: str = ""
    failed: bool = False

    @property
    def words(self) -> str:
        """In one line: kind and pinout."""
        pins = ", ".join(f"{leg} {name}" for leg, name in sorted(self.legs.items()))
        return f"{self.kind}: {pins}" if pins else self.kind


@dataclass(frozen=True, slots=True)
class LegReadings:
    """Volts by pair, infinite where the meter showed OL; `on` are those after the gate was charged
    by touching it."""

    volts: Mapping[Pair, float]
    on: Mapping[Pair, float]

    def drop(self, red: int, black: int) -> float:
        """What a pair showed; pairs that were not told showed OL."""
        return self.volts.get((red, black), math.inf)

    def conducts(self, red: int, black: int) -> bool:
        """Whether a junction, or less, lies that way."""
        return self.drop(red, black) < CONDUCTS_BELOW_VOLTS


def asks_legs(text: str) -> bool:
    """Whether a typed line is readings between legs, and no marking: it begins with the word."""
    return bool(re.match(r"\s*legs?\b", text, re.IGNORECASE))


def read_legs(text: str) -> LegReadings:
    """Typed readings: `32 0.48, 12 OL, on 23 0.02`; millivolts where no point is typed. Raises
    BadEntryError."""
    plain = re.sub(r"^\s*legs?\b", "", text, flags=re.IGNORECASE)
    volts: dict[Pair, float] = {}
    on: dict[Pair, float] = {}
    left = plain
    for match in _WORD.finditer(plain):
        pair = (int(match[2]), int(match[3]))
        if pair[0] == pair[1]:
            raise BadEntryError(f"Both probes on leg {pair[0]}.", HELP)
        (on if match[1] else volts)[pair] = _volts(match[4], match[5] or "")
        left = left.replace(match[0], " ", 1)
    if re.sub(r"[\s,;.]", "", left) or not (volts or on):
        raise BadEntryError(f"“{left.strip() or plain.strip()}” is no reading of two legs.", HELP)
    return LegReadings(volts, on)


def _volts(number: str, unit: str) -> float:
    if number.lower() in ("ol", "open"):
        return math.inf
    value = float(number.replace(",", "."))
    bare = not unit and "." not in number and "," not in number
    return value * 1e-3 if unit.lower() == "mv" or (bare and value >= 10) else value


def identify(seen: LegReadings) -> list[LegFinding]:
    """What the part may be, the likeliest first; never empty."""
    shorted = _shorted(seen)
    if shorted is not None:
        return [shorted]
    ways = [(a, b) for a in (1, 2, 3) for b in (1, 2, 3) if a != b and seen.conducts(a, b)]
    both = sorted({(a, b) for a, b in ways if (b, a) in ways and a < b})
    if both:
        return _gate_and_cathode(seen, both[0], ways)
    if len(ways) == 1:
        return _one_way(seen, ways[0])
    if len(ways) in (2, 3):
        return _two_ways(seen, ways)
    if not ways:
        return [_none(seen)]
    return [LegFinding("more junctions than one part of three legs has", {}, _told(seen, ways))]


def _told(seen: LegReadings, ways: list[Pair]) -> str:
    return "; ".join(f"{a} to {b} drops {seen.drop(a, b):.2f} V" for a, b in ways)


def _shorted(seen: LegReadings) -> LegFinding | None:
    pairs = [
        (a, b)
        for a, b in ((1, 2), (1, 3), (2, 3))
        if min(seen.drop(a, b), seen.drop(b, a)) < SHORT_BELOW_VOLTS
    ]
    if not pairs:
        return None
    legs = " and ".join(f"{a}–{b}" for a, b in pairs)
    every = "all legs have run together" if len(pairs) == 3 else f"legs {legs} are shorted"
    return LegFinding(
        "failed: shorted",
        {},
        f"{every}: no good transistor or diode reads below {SHORT_BELOW_VOLTS} V",
        "A winding or another part beside it reads the same: take it out, then read again.",
        failed=True,
    )


def _one_way(seen: LegReadings, way: Pair) -> list[LegFinding]:
    red, black = way
    third = ({1, 2, 3} - {red, black}).pop()
    drop = seen.drop(red, black)
    told = f"one junction, {red} to {black}, {drop:.2f} V"
    opened = seen.on.get((black, red))
    mosfet = LegFinding(
        "N-channel MOSFET",
        {third: "gate", black: "drain", red: "source"},
        f"{told}: its body diode, source to drain",
        f"Charge the gate: red on {third}, black on {red} for a second. Then red on {black}, black "
        f"on {red} reads next to nothing, until all legs are touched together.",
    )
    igbt = LegFinding(
        "IGBT with its diode",
        {third: "gate", black: "collector", red: "emitter"},
        f"{told}: the diode across it, emitter to collector",
        "Charged at the gate it still drops more than half a volt, or the meter can't open it.",
    )
    p_channel = LegFinding(
        "P-channel MOSFET",
        {third: "gate", black: "source", red: "drain"},
        f"{told}: its body diode, drain to source",
        f"Charge the gate the other way round: black on {third}, red on {black}.",
    )
    diode = LegFinding(
        "single diode" if drop >= SCHOTTKY_BELOW_VOLTS else "single Schottky diode",
        {red: "anode", black: "cathode", third: "not connected"},
        f"{told}, and nothing at leg {third}",
        "A gate that is charged changes what the others read; a diode's third leg does not.",
    )
    if opened is not None:
        if opened < ON_BELOW_VOLTS:
            return [mosfet]
        return [igbt, mosfet] if opened < CONDUCTS_BELOW_VOLTS else [igbt, diode, mosfet]
    if drop < SCHOTTKY_BELOW_VOLTS:
        return [diode, mosfet]
    if way == (3, 2):  # gate, drain, source from the left, the tab is the drain
        return [mosfet, igbt, diode]
    if way == (2, 3):
        return [p_channel, mosfet, diode]
    return [diode, mosfet, p_channel]


def _two_ways(seen: LegReadings, ways: list[Pair]) -> list[LegFinding]:
    reds, blacks = [a for a, _ in ways], [b for _, b in ways]
    if len(ways) == 2 and reds[0] == reds[1]:
        return _common(seen, reds[0], blacks, red_is_common=True)
    if len(ways) == 2 and blacks[0] == blacks[1]:
        return _common(seen, blacks[0], reds, red_is_common=False)
    middle = (set(reds) & set(blacks)).pop()
    first = next(a for a in reds if a != middle)
    last = next(b for b in blacks if b != middle)
    return [
        LegFinding(
            "two diodes in series",
            {first: "anode", middle: "both", last: "cathode"},
            f"{_told(seen, ways)}: the drops stand one on the other",
        )
    ]


def _common(
    seen: LegReadings, common: int, others: list[int], *, red_is_common: bool
) -> list[LegFinding]:
    drops = {
        leg: seen.drop(common, leg) if red_is_common else seen.drop(leg, common) for leg in others
    }
    high, low = sorted(others, key=lambda leg: -drops[leg])
    apart = drops[high] - drops[low]
    told = f"leg {common} conducts to both others, {drops[low]:.2f} and {drops[high]:.2f} V"
    diodes = "Schottky diodes" if max(drops.values()) < SCHOTTKY_BELOW_VOLTS else "diodes"
    ends, shared = ("cathode", "anode") if red_is_common else ("anode", "cathode")
    pair = LegFinding(
        f"two {diodes}, common {shared}",
        {
            common: "both anodes" if red_is_common else "both cathodes",
            **dict.fromkeys(others, ends),
        },
        f"{told}: two alike",
        "Its halves read the same to a few millivolts; a transistor's emitter reads higher.",
    )
    transistor = LegFinding(
        "NPN transistor" if red_is_common else "PNP transistor",
        {common: "base", high: "emitter", low: "collector"},
        f"{told}: base to emitter drops a little more than base to collector",
        "Gain on the transistor test, or: a damp finger from collector to base lets it conduct.",
    )
    both = min(drops.values()) >= TRANSISTOR_FROM_VOLTS and apart <= ALIKE_VOLTS
    if not both:
        return [pair]
    return [transistor, pair] if apart > SAME_VOLTS else [pair, transistor]


def _gate_and_cathode(seen: LegReadings, both: Pair, ways: list[Pair]) -> list[LegFinding]:
    """A pair that conducts both ways: the gate of a triac, a resistor inside, or a broken gate."""
    third = ({1, 2, 3} - set(both)).pop()
    told = f"legs {both[0]} and {both[1]} conduct both ways, {seen.drop(*both):.2f} V"
    triac = LegFinding(
        "triac",
        {third: "main terminal 2", both[0]: "main terminal 1", both[1]: "gate"},
        f"{told}, leg {third} to none: gate and main terminal 1",
        "Gate and main terminal 1 change places on some: the marking decides.",
    )
    if all(third not in way for way in ways):
        return [triac]
    broken = LegFinding(
        "failed: gate leaks",
        {},
        f"{told}, and a junction at leg {third}: a MOSFET or IGBT whose gate has broken through",
        "A transistor with resistors inside reads so as well: the marking decides.",
        failed=True,
    )
    return [broken]


def _none(seen: LegReadings) -> LegFinding:
    opened = [way for way, volts in seen.on.items() if volts < CONDUCTS_BELOW_VOLTS]
    if opened:
        collector, emitter = opened[0]
        gate = ({1, 2, 3} - {collector, emitter}).pop()
        return LegFinding(
            "IGBT without a diode",
            {gate: "gate", collector: "collector", emitter: "emitter"},
            "nothing conducts until its gate is charged",
        )
    return LegFinding(
        "nothing conducts",
        {},
        "an IGBT without a diode, a regulator or a switch inside a chip, or a part that is open",
        "Charge each leg in turn against the others and read again; a regulator is read by its "
        "marking and under power.",
    )
