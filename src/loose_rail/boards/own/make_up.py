"""What a board is made of, from words as people say them and from its printed labels.

“standby flyback, PFC, LLC 12 V / 24 V, LED driver 66 V” names the blocks; the labels of the
connectors name the rails, and count where both name one. What neither says is filled with what
boards of this size usually have.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from loose_rail.boards.own.pin_label import (
    ONLY_ENABLES,
    ONLY_POWER,
    ONLY_STANDBY,
    PinJob,
    PinMeaning,
    label_volts,
    pin_meaning,
)
from loose_rail.kernel.negation import plain_match

APART = "′"
"""Stands behind a printed connector's name while a board is put together: blocks number their
parts, and a plug that is printed CN101 is not the mains inlet of the first."""


@dataclass(frozen=True, slots=True)
class OwnConnector:
    """A connector as printed: its name, how many rows it has, its labels in pin order from 1 (empty
    where one is not known), and whether its pins are counted around instead of across."""

    name: str
    rows: int
    pins: tuple[str, ...]
    around: bool = False

    @property
    def printed(self) -> str:
        """The name alone."""
        return self.name.removesuffix(APART)


@dataclass(frozen=True, slots=True)
class OwnBoard:
    """A board as it is seen: its number, words for its make-up and for the set, its connectors, the
    mains of its bench, and how its start pin wakes it (high, low, none, unknown). `in_truth` pairs
    printed standby volts that are wrong with what stands there."""

    number: str
    words: str
    set_words: str
    connectors: tuple[OwnConnector, ...]
    mains_volts: float
    wake: str
    in_truth: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True, slots=True)
class MakeUp:
    """The blocks of a board and their volts. `main` is 0 where one converter gives everything and
    is called the standby; `windings` hang on the main converter, `step_downs` behind it."""

    source: str
    standby: float
    main: float
    single: bool = False
    two_level: bool = False
    resonant: bool = False
    chip: bool = False
    synchronous: bool = False
    windings: tuple[float, ...] = ()
    step_downs: tuple[float, ...] = ()
    panel: bool = False
    led: tuple[float, ...] = ()
    strings: int = 1
    tubes: bool = False
    tubes_elsewhere: bool = False
    sustain: float = 0.0
    address: float = 0.0
    relay: bool = False
    inches: float = 40.0
    assumed: tuple[str, ...] = field(default=())


USUAL_STANDBY_VOLTS = 5.0
USUAL_MAIN_VOLTS = 12.0
USUAL_ADAPTER_VOLTS = 19.0
USUAL_SUSTAIN_VOLTS, USUAL_ADDRESS_VOLTS, USUAL_PLASMA_VOLTS = 195.0, 60.0, 15.0
USUAL_INCHES = 40.0
LED_VOLTS_PER_INCH = 2.0
"""44 V at 24 inches, 96 at 50, 130 at 65: strings grow with the panel [E]."""
LOGIC_UP_TO_VOLTS = 6.5
"""Rails up to here feed logic: beside a higher one they are the standby, or a step-down [P]."""
SENSED_NEAR_VOLTS = 12.5
"""Of several outputs the loop usually senses the one nearest to this [P]."""
_SEPARATE = r"(separate|external|own board|another board|board beside|board of its own)"
_RELAY = re.compile(
    r"relay[^,;]*(across|over|bridg\w+|bypass\w*|shorts?)[^,;]*(inrush|ntc|limiter|resistor|soft)|"
    r"(inrush|soft.?start|bypass|limiter)[ -]?(\w+ )?relay"
)
_VOLTS = re.compile(r"(\d{1,3}(?:[.,]\d)?)\s?v\b", re.IGNORECASE)


def meanings(own: OwnBoard) -> dict[tuple[str, int], PinMeaning]:
    """What every printed pin means, by connector and number.

    “STBY” alone is a start pin; where several pins of a connector say it, it is the supply. A
    supply that nothing wakes has no start: what is called so switches its lamps on.
    """
    found: dict[tuple[str, int], PinMeaning] = {}
    given = list(own.connectors)
    for one in given:
        doubled = sum(bool(ONLY_STANDBY.match(label.strip())) for label in one.pins) > 1
        for number, label in enumerate(one.pins, start=1):
            supply = doubled and ONLY_STANDBY.match(label.strip())
            meaning = PinMeaning(PinJob.STANDBY) if supply else pin_meaning(label)
            found[one.name, number] = meaning
    starts = [pin for pin, meaning in found.items() if meaning.job is PinJob.START]
    if len(starts) > 1:  # “P_EN” beside a plain start pin enables the panel
        labels = {(one.name, n): label for one in given for n, label in enumerate(one.pins, 1)}
        enables = [pin for pin in starts if ONLY_ENABLES.match(labels[pin].strip())]
        for pin in enables if len(enables) < len(starts) else []:
            found[pin] = PinMeaning(PinJob.PANEL_ENABLE)
        vague = [pin for pin in starts if ONLY_POWER.match(labels[pin].strip())]
        for pin in vague if len(vague) < len(starts) else []:
            found[pin] = PinMeaning(PinJob.UNKNOWN)
    enabled = any(meaning.job is PinJob.LAMPS_ENABLE for meaning in found.values())
    if own.wake == "none" and len(starts) == 1 and not enabled:
        found[starts[0]] = PinMeaning(PinJob.LAMPS_ENABLE)
    return found


def make_up(own: OwnBoard) -> MakeUp:
    """The blocks of a board from all that is known of it."""
    text = own.words.lower()
    pins = list(meanings(own).values())
    jobs = {pin.job for pin in pins}
    said = _volts_by_block(text)
    inches = _inches(own.set_words) or USUAL_INCHES
    if "plasma" in f"{text} {own.set_words.lower()}" or PinJob.SUSTAIN in jobs:
        return _plasma(pins, said, inches, bool(_RELAY.search(text)))
    truth = dict(own.in_truth)
    labels = {pin.volts for pin in pins if pin.job is PinJob.RAIL and pin.volts}
    printed = sorted({truth.get(volts, volts) for volts in labels})
    rails = printed or sorted(set(said["main"]))
    downs = tuple(sorted(set(said["down"])))
    standby = next((p.volts for p in pins if p.job is PinJob.STANDBY and p.volts), None)
    standby = standby or next(iter(said["standby"]), None)
    standby = truth.get(standby, standby) if standby else None
    source = _source(text, jobs)
    single = _single(text, own.wake, standby, jobs)
    own_pin = any(p.job is PinJob.STANDBY and p.volts for p in pins)
    twice = own_pin and re.search(r"(llc|resonant|half.?bridge|main)[^;]*", text)
    again = {v for v in rails if standby and _same(v, standby) and twice and v in said["main"]}
    rails = [
        v for v in rails if v not in downs and (not (standby and _same(v, standby)) or v in again)
    ]
    panel = bool(jobs & {PinJob.PANEL, PinJob.PANEL_ENABLE})
    on_main = re.search(r"(panel|t-?con)[^,;]*main board", text)
    lit = _led(text, jobs, said, inches)
    base = MakeUp(
        source=source,
        standby=0.0,
        main=0.0,
        panel=panel and not on_main,
        led=lit,
        strings=max(1, sum(p.job is PinJob.LED_MINUS for p in pins) // max(len(lit), 1)),
        tubes=_tubes(text, jobs),
        tubes_elsewhere=bool(re.search(r"ccfl|inverter|cold.?cathode|tubes", text))
        and not _tubes(text, jobs),
        chip=bool(
            re.search(
                r"(chip|integrated|built.?in)[^,;]*(switch|standby)|"
                r"(switch|fet)[^,;]*(inside|within|built in(to)?|in) (the |its |one )?"
                r"(chip|ic|controller)",
                text,
            )
        ),
        synchronous=bool(re.search(r"synchronous|sync\.? ?rect", text)),
        relay=bool(_RELAY.search(text)),
        inches=inches,
    )
    if single or source == "adapter":
        return _single_make_up(text, rails, downs, standby, base)
    if standby is None:
        low = [v for v in rails if v <= LOGIC_UP_TO_VOLTS]
        standby = low[0] if low and len(rails) > 1 else USUAL_STANDBY_VOLTS
        rails = [v for v in rails if v != standby]
    main = _sensed(rails) if rails else 0.0
    assumed: list[str] = []
    if not main and _has_main(text):
        main = USUAL_MAIN_VOLTS
        assumed.append(f"a main rail of {main:g} V: none is printed")
    above = tuple(v for v in rails if v != main)
    return replace(
        base,
        standby=standby,
        main=main,
        resonant=bool(re.search(r"\bllc\b|resonant|half.?bridge", text)),
        windings=tuple(v for v in above if v > LOGIC_UP_TO_VOLTS),
        step_downs=tuple(sorted({*downs, *(v for v in above if v <= LOGIC_UP_TO_VOLTS)})),
        assumed=tuple(assumed),
    )


def _single_make_up(
    text: str,
    rails: Sequence[float],
    downs: Sequence[float],
    standby: float | None,
    base: MakeUp,
) -> MakeUp:
    """One converter, or an adapter, gives everything; logic rails are stepped down or wound."""
    every = sorted({*rails, *([standby] if standby else [])})
    adapter = base.source == "adapter"
    if adapter:
        printed = next((v for v in every if 11.5 <= v <= 25.0), USUAL_ADAPTER_VOLTS)
        volts = _adapter_volts(text) or printed
        low = [v for v in {*every, *downs} if v < volts]
        first = min(low, key=lambda v: abs(v - USUAL_STANDBY_VOLTS), default=USUAL_STANDBY_VOLTS)
        others = tuple(sorted(v for v in low if v != first))
        return replace(
            base,
            standby=first,
            main=volts,
            single=True,
            step_downs=others,
        )
    high = [v for v in every if v > LOGIC_UP_TO_VOLTS]
    if not high:
        volts = every[0] if every else USUAL_MAIN_VOLTS
        return replace(
            base,
            standby=volts,
            main=0.0,
            single=True,
        )
    main = _sensed(high)
    low = sorted({*downs, *(v for v in every if v <= LOGIC_UP_TO_VOLTS)})
    wound = [v for v in high if v != main]
    if low and not downs and not re.search(r"step.?down|buck|converter", text):
        wound = [*low, *wound]
        low = []
    logic = low or [v for v in wound if v <= LOGIC_UP_TO_VOLTS]
    if wound and not logic:  # no logic rail is printed: the main board lives on the lowest
        main, *wound = sorted(high, reverse=True)
        logic = [min(wound)]
    return replace(
        base,
        standby=(logic or [main])[0],
        main=main if (low or wound) else 0.0,
        single=True,
        two_level=bool(re.search(r"two.?level", text)),
        windings=tuple(wound),
        step_downs=tuple(low),
    )


_VOLTS_SAID = r"(\d{1,2}(?:[.,]\d{1,2})?) ?v(?:olts?)?"
_ADAPTER_VOLTS = re.compile(
    rf"{_VOLTS_SAID}[ -]*(?:dc |external |power )?(?:adapter|brick|jack|supply)|"
    rf"(?:adapter|brick|jack|external supply)\D{{0,16}}?{_VOLTS_SAID}"
)
LEAST_ADAPTER_VOLTS, MOST_ADAPTER_VOLTS = 5.0, 54.0


def _adapter_volts(text: str) -> float | None:
    """What is said of the adapter's volts; None where nothing is, or nothing that one gives."""
    found = _ADAPTER_VOLTS.search(text)
    if found is None:
        return None
    volts = float((found[1] or found[2]).replace(",", "."))
    return volts if LEAST_ADAPTER_VOLTS <= volts <= MOST_ADAPTER_VOLTS else None


def _plasma(
    pins: Sequence[PinMeaning], said: dict[str, list[float]], inches: float, relay: bool
) -> MakeUp:
    printed = [p.volts for p in pins if p.job is PinJob.RAIL and p.volts]
    standby = next((p.volts for p in pins if p.job is PinJob.STANDBY and p.volts), None)
    low = [v for v in printed if v <= LOGIC_UP_TO_VOLTS]
    high = [v for v in printed if v > LOGIC_UP_TO_VOLTS] or [
        v for v in said["main"] if v > LOGIC_UP_TO_VOLTS
    ]
    return MakeUp(
        source="boost",
        standby=standby or next(iter([*low, *said["standby"]]), USUAL_STANDBY_VOLTS),
        main=_sensed(high) if high else USUAL_PLASMA_VOLTS,
        resonant=True,
        relay=relay,
        sustain=next(iter(said["sustain"]), USUAL_SUSTAIN_VOLTS),
        address=next(iter(said["address"]), USUAL_ADDRESS_VOLTS),
        inches=inches,
    )


def _source(text: str, jobs: set[PinJob]) -> str:
    if re.search(r"adapter|barrel|dc (jack|input)|external (brick|supply)", text):
        return "adapter"
    boosted = plain_match(r"\bpfc\b|power.?factor|boost input", text)
    return "boost" if boosted else "mains"


def _single(text: str, wake: str, standby: float | None, jobs: set[PinJob]) -> bool:
    if re.search(r"\b(one|single|only one|monitor) (flyback|supply|converter)|two.?level", text):
        return True
    if re.search(r"\b(no|without)( an?| any| its)?( own| separate)? standby", text):
        return True
    if re.search(r"standby|stand-by|second|main flyback|llc|resonant", text):
        return not _has_main(text) and PinJob.RAIL not in jobs and wake in ("none", "unknown")
    if len(re.findall(r"\bfly-?back\b", text)) == 1 and re.search(r"step.?down|buck", text):
        return not _has_main(text)  # one converter is told, and how its logic is fed
    return wake == "none" or (standby is None and PinJob.START not in jobs)


def _has_main(text: str) -> bool:
    return bool(re.search(r"llc|resonant|half.?bridge|main (flyback|converter)|second|pfc", text))


def _sensed(rails: Sequence[float]) -> float:
    return min(rails, key=lambda v: abs(math.log(v / SENSED_NEAR_VOLTS)))


def _led(
    text: str, jobs: set[PinJob], said: dict[str, list[float]], inches: float
) -> tuple[float, ...]:
    """Volts of each LED driver on the board; none where it is another board's."""
    driver = re.search(
        r"led (driver|output|supply|boost)|step.?up led|back ?light driver|"
        r"\d ?v ?(and|,|/)? ?(\d+ ?v )?leds?\b(?! (tv|board|panel|driver board))",
        text,
    )
    elsewhere = re.search(rf"{_SEPARATE}[^,;]*led|led[^,;]*{_SEPARATE}", text)
    if PinJob.LED_PLUS not in jobs and (driver is None or elsewhere):
        return ()
    count = 2 if re.search(r"two led|2 ?x ?\d+|led drivers", text) else 1
    usual = round(LED_VOLTS_PER_INCH * inches)
    return (next(iter(said["led"]), float(usual)),) * count


def _tubes(text: str, jobs: set[PinJob]) -> bool:
    if PinJob.TUBE in jobs:
        return True
    return bool(re.search(r"ccfl|inverter|cold.?cathode|tubes", text)) and not re.search(
        rf"inverter board|{_SEPARATE}[^,;]*inverter|inverter[- ]?(free|less)|"
        r"\b(no|without)( an?| any)? inverter",
        text,
    )


def _same(a: float, b: float) -> bool:
    return abs(a / b - 1.0) < 0.02


def _inches(text: str) -> float | None:
    found = re.search(r"(\d{2,3})\s?(?:inch|\"|in\b|''|zoll)", text.lower())
    return float(found[1]) if found else None


_BLOCKS = (
    ("led", r"led|back ?light"),
    ("sustain", r"\bvs\b|sustain"),
    ("address", r"\bva\b|address"),
    ("down", r"step.?down|buck"),
    ("standby", r"stand-?by|always"),
)


_FED_FROM = re.compile(
    r"\b(?:from|off|fed (?:from|by|with)|supplied (?:from|by|with)) (?:the )?(\d+) ?v|"
    r"(?:led|back ?light)[^,;]*\bon (?:the |a )?(\d+) ?v"
)
"""“LED driver on 24 V”: what it is fed with, not what it gives."""


def _volts_by_block(text: str) -> dict[str, list[float]]:
    """The volts that words name, by the block they are named with; the rest are the main's."""
    found: dict[str, list[float]] = {name: [] for name, _ in _BLOCKS}
    found["main"] = []
    text = re.sub(r"[^,;]*\bon the (main|logic|signal) board\b", " ", text)
    for phrase in re.split(r"[,;]|\band\b|\bwith\b", text):
        volts = [float(v.replace(",", ".")) for v in _VOLTS.findall(phrase)]
        fed = _FED_FROM.search(phrase)  # what feeds a block is another's
        if fed:
            volts = [v for v in volts if v != float(fed[1] or fed[2])]
        elif not volts:
            three = label_volts(phrase)
            volts = [three] if three else []
        always = re.search(r"(?<!standby )flyback.*always|always.*(?<!standby )flyback", phrase)
        block = next(
            (name for name, pattern in _BLOCKS if re.search(pattern, phrase) and not always), "main"
        )
        found[block] += volts
    return found
