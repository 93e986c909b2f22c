"""Parts as people name them, found on a board by their words: “boost switch”, “5 V reservoir”,
“source resistor of the standby switch”.

A word for a kind of part must fit the part's kind; volts must be those of its stage; each further
word (standby, main, boost, upper, gate) must be the part's own. What fits no part is none: it is
not booked on the nearest one.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import lru_cache

from loose_rail.boards.kinds.registry import kind_words
from loose_rail.boards.part_phrases import PHRASES
from loose_rail.boards.profile import Board, Component, Side
from loose_rail.kernel.number_words import NUMBER_WORDS
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.keys import job_of, stage_of

SAME = {
    **dict.fromkeys(("mosfet", "fet", "transistor", "igbt", "switches"), "switch"),
    **dict.fromkeys(("cap", "elko"), "capacitor"),
    **dict.fromkeys(("can", "smoothing", "filter", "electrolytic"), "reservoir"),
    **dict.fromkeys(("opto", "optocoupler", "photocoupler"), "coupler"),
    **dict.fromkeys(("diode", "schottky"), "rectifier"),
    **dict.fromkeys(("ic", "pwm", "chip"), "controller"),
    **dict.fromkeys(("shunt", "regulator"), "reference"),
    **dict.fromkeys(("varistor", "mov", "vdr"), "suppressor"),
    **dict.fromkeys(("inductor", "coil"), "choke"),
    **dict.fromkeys(("source", "current", "shunt-resistor"), "sense"),
    **dict.fromkeys(
        ("startup", "start-up", "starting", "starter", "ps-on", "power-on", "wake"), "start"
    ),
    **dict.fromkeys(("bar", "string"), "strip"),
    **dict.fromkeys(("lamp", "ccfl"), "tube"),
    **dict.fromkeys(("halfbridge", "half-bridge", "llc", "resonant"), "half"),
    "high-side": "upper",
    "low-side": "lower",
    "x": "x2",
    "aux": "auxiliary",
    **dict.fromkeys(("plug", "socket", "cable", "ribbon", "jack"), "connector"),
    **dict.fromkeys(("vcc", "vdd"), "supply"),
    **dict.fromkeys(("snubber", "rcd"), "clamp"),
    **dict.fromkeys(("bleeder", "bleeders", "discharge"), "bleed"),
    **dict.fromkeys(("stepdown", "buck"), "step-down"),
    **dict.fromkeys(("thermistor", "ntc", "inrush"), "limiter"),
    "foil": "film",
    **dict.fromkeys(("y", "y2"), "y1"),
}
HEADS: dict[str, frozenset[str]] = {
    "capacitor": frozenset({"electrolytic", "ceramic", "film", "y_capacitor"}),
    "reservoir": frozenset({"electrolytic"}),
    "ceramic": frozenset({"ceramic"}),
    "x2": frozenset({"film"}),
    "y1": frozenset({"y_capacitor"}),
    "resistor": frozenset({"resistor", "fusible_resistor"}),
    "divider": frozenset({"resistor", "fusible_resistor"}),
    "rectifier": frozenset({"diode", "zener", "tvs", "mosfet_n"}),
    "bridge": frozenset({"bridge"}),
    "tvs": frozenset({"tvs"}),
    "switch": frozenset({"mosfet_n", "mosfet_p", "mosfet_dual", "npn", "pnp", "igbt", "switcher"}),
    "fuse": frozenset({"fuse", "fusible_resistor"}),
    "coupler": frozenset({"optocoupler"}),
    "reference": frozenset({"shunt_reference"}),
    "controller": frozenset({"controller", "switcher", "regulator"}),
    "driver": frozenset({"controller", "npn", "pnp"}),
    "transformer": frozenset({"transformer"}),
    "choke": frozenset({"inductor", "common_mode_choke"}),
    "connector": frozenset({"connector"}),
    "strip": frozenset({"led_strip"}),
    "tube": frozenset({"tubes"}),
    "suppressor": frozenset({"surge_suppressor"}),
    "limiter": frozenset({"ntc"}),
    "relay": frozenset({"relay"}),
    "cord": frozenset({"cord"}),
}
QUALIFIERS = frozenset(
    {
        *("standby", "main", "boost", "pfc", "led", "inverter", "panel", "light", "adapter"),
        *("upper", "lower", "feedback", "start", "gate", "sense", "clamp", "half", "film"),
        *("input", "output", "feed", "auxiliary", "bleeder", "preload", "supply", "bulk"),
        *("step-down", "sustain", "address", "x2", "y1", "free-wheeling", "bypass", "ballast"),
        *("over-voltage", "base", "other", "pull", "pull-up", "pull-down", "series", "bias"),
        "discharges",
    }
)
STAGE_WORDS = {
    "buck": ("step-down",),
    "led": ("led", "light", "boost"),
    "ccfl": ("inverter", "light"),
    "boost": ("boost", "pfc"),
    "switch": ("panel",),
    "resonant": ("half",),
    "adapter": ("adapter",),
}
"""What a stage of a kind is called."""
SOFT = frozenset({"feedback", "main", "supply", "output", "driver"})
"""Words that a part may do without: “main fuse”, “feedback coupler”."""
IN_A_FEED = frozenset({"feed", "input"})
"""A fuse sits in what it feeds: “the fuse in the inverter feed”."""
FREE = frozenset({"pfc", "main", "output", "standby", "boost", "half", "light", "film"})
"""Words of a part that it costs nothing not to say."""
_WORD = re.compile(r"[^\W_]+(?:-[^\W_]+)*")
_RATING = re.compile(
    r"\b\d+(?:[.,]\d+)?\s?[µun]f?\s?/?\s?\d+\s?v\b|"
    r"\b\d+(?:[.,]\d+)?\s?[µun]f\b(?:\s?/?\s?\d+\s?v\b)?|\b\d+\s?w\b|"
    r"\b(?:\d+ ?[x×] ?)?\d+(?:[.,]\d+)?\s?(?:k|m|meg)(?:ohms?)?\b",
    re.IGNORECASE,
)
_CAN = re.compile(r"\b(\d+)\s?[µu]f?\s?/?\s?(\d+)\s?v\b", re.IGNORECASE)
LEAST_BULK_VOLTS = 315
"""No can but the bulk's is rated so high [P]."""
LEAST_RESERVOIR_MICROFARADS = 220
"""From here an electrolytic smooths an output; what feeds a chip has a tenth of it [P]."""
_VOLTS = re.compile(r"(?<![\d.])(\d{1,3})(?:[.,](\d{1,2}))?\s?v(?:(\d)(?!\d))?(?![a-z])", re.I)
_SPELT_VOLTS = re.compile(
    rf"\b(?:(?P<number>\d+(?:[.,]\d+)?)|(?P<word>{'|'.join(NUMBER_WORDS)}))[ -]?volts?\b",
    re.IGNORECASE,
)


def _in_digits(found: re.Match[str]) -> str:
    """“Twelve volt”, “12 volt”: as “12 V”."""
    return f"{found['number'] or NUMBER_WORDS[found['word'].lower()]} V"


_ENDS = re.compile(
    r"\b(drain|source|gate|base|collector|emitter|anode|cathode|d|s|g|a|k) (to|and) (the )?"
    r"(drain|source|gate|base|collector|emitter|anode|cathode|d|s|g|a|k)\b|"
    r"(gate|source|drain) of the|\bdrain[ /,-]+source\b|\bd[/-]s\b|"
    r"\bto (the )?(source|drain|gate|emitter)\b|"
    r"\bled (side )?of the (?=[\w ]*(coupler|opto))|(?<=coupler), led\b|(?<=optocoupler), led\b|"
    r", led side\b|,? (the )?(pins|ends|legs) of its (led|transistor|diode)\b|"
    r",? its (led|transistor|diode)( side)?\b",
    re.IGNORECASE,
)
_ONLY = (
    ("relay", ""),
    ("resistor", ""),
    ("fuse", ""),
    ("divider", "reference"),
    ("x2", "capacitor"),
    ("y1", "capacitor"),
    ("bridge", ""),
    ("suppressor", ""),
    ("limiter", ""),
    ("capacitor", "reservoir"),
)
"""Where several words name kinds, the one that counts, alone or beside another."""
_ORDINALS = (
    *(("first", 0), ("1st", 0), ("second", 1), ("2nd", 1), ("other", 1), ("middle", 1)),
    ("third", 2),
)
_MIDDLE_PIN = re.compile(r"\bmiddle (pin|leg|lead|terminal|tap|contact|electrode)\b", re.IGNORECASE)
_LIGHT = re.compile(r"\bback ?lights?\b")
_WHERE = re.compile(
    r"\b(?:of|after|behind|before|at|on|across|beside|next to|near|that|between|by(?= the))\b"
)
_PLURAL = re.compile(r"\b(diodes|rectifiers|switches|mosfets|fets|transistors)\b")
_OF_THE_MAIN_BOARD = re.compile(
    r"\b(sound|audio)\b|amplifier|\btuner\b|eeprom|\bmemory\b|\bflash chip|processor|\bcpu\b|"
    r"scaler|\bhdmi\b|\busb\b|core (voltage|supply)",
    re.IGNORECASE,
)
"""What no supply carries: it sits on the main board."""
SMALL = frozenset({"to", "the", "of", "a", "an", "at", "on", "in", "for", "and", "that", "this"})
"""Words that every part's name has."""
MOST_MEANT = 4
"""Words that fit more parts of a board tell none of them apart: “resistor”, with twenty of them."""
LEAST_SCORE = 1.0
"""Below it words fit a part by chance [E]."""


def tokens(text: str) -> set[str]:
    """The words of a text in one spelling each."""
    return {_one_spelling(word) for word in _WORD.findall(_plainly(text))}


def _plainly(text: str) -> str:
    lowered = text.lower()
    can = _CAN.search(lowered)
    if can and not {_one_spelling(word) for word in _WORD.findall(_before(lowered))} & set(HEADS):
        large = int(can[1]) >= LEAST_RESERVOIR_MICROFARADS
        what = "reservoir" if large else "supply electrolytic"
        what = "bulk capacitor" if int(can[2]) >= LEAST_BULK_VOLTS else what
        lowered = f"{lowered[: can.start()]} {what} "
        lowered += text.lower()[can.end() :]
    for pattern, plain in PHRASES:
        lowered = pattern.sub(plain, lowered)
    return lowered


def names_a_kind(text: str) -> bool:
    """Whether words name a kind of part, found on this board or not."""
    return bool(tokens(_before(text.lower())) & set(HEADS))


def _before(text: str) -> str:
    """What a place names before it says where that sits: “47 uF 35 V | beside the standby chip”."""
    return _WHERE.split(text)[0]


def _one_spelling(word: str) -> str:
    if word == "mains" or word in SAME or word in HEADS or word in QUALIFIERS:
        return SAME.get(word, word)
    one = word.removesuffix("s")
    return SAME.get(one, one) if one in SAME or one in HEADS or one in QUALIFIERS else word


def volts_named(text: str) -> float | None:
    """The volts of a rail that a text names; ratings such as “1000 uF 10 V” are none."""
    match = _VOLTS.search(_RATING.sub(" ", _SPELT_VOLTS.sub(_in_digits, text)))
    if match is None:
        return None
    return float(f"{match[1]}.{match[2] or match[3] or 0}")


OF_A_LOOP = frozenset({"divider", "reference", "coupler"})
"""Parts of a loop that holds every output of its converter."""


@lru_cache(maxsize=8)
def _known(
    board_id: int, board: Board
) -> tuple[tuple[Component, frozenset[str], tuple[float, ...]], ...]:
    del board_id
    stage_volts = {stage.id: stage.volts for stage in board.stages}
    kinds = {stage.id: stage.kind for stage in board.stages}
    stages: dict[str, set[str]] = {}
    jobs: dict[str, set[str]] = {}
    for name, refs in board.roles.items():
        for ref in refs:
            stages.setdefault(ref, set()).add(stage_of(name))
            jobs.setdefault(ref, set()).add(job_of(name))
    found = []
    for part in board.components:
        own = stages.get(part.ref, set())
        text = f"{part.ref} {part.duty} {kind_words(part.kind)}"
        words = tokens(text) | tokens(" ".join(jobs.get(part.ref, ())))
        words |= {_one_spelling(stage) for stage in own if stage.isalpha()}
        for stage in own:
            words |= set(STAGE_WORDS.get(kinds.get(stage, ""), ()))
        if part.kind == "electrolytic":
            words |= {"capacitor", "reservoir"}
        if "vcc" in jobs.get(part.ref, ()):
            words -= {"reservoir"}  # it feeds a chip
        if own & {"standby", "main"} and jobs.get(part.ref, set()) & {"reservoir", "rectifier"}:
            words.add("output")
        down = kinds.get(part.section.removesuffix("_out"), "") == "buck"
        if down:
            words |= set(STAGE_WORDS["buck"])
            own = own | {part.section.removesuffix("_out")}
        named = volts_named(f"{part.ref} {part.duty}")
        volts = [named] if named else [stage_volts[s] for s in own if stage_volts.get(s)]
        if words & OF_A_LOOP:  # which output of a converter is sensed is told by who names it
            volts += [one.volts for one in board.stages if one.source in own and one.volts]
        found.append((part, frozenset(words), tuple(volts)))
    return tuple(found)


_ON_THE_OUTPUT = re.compile(
    r"\bsnubber\b.*\b(across|beside|at|over|of|by|near|next to) (the )?([\w.]+ ?v )?"
    r"(rectifier|diode|secondary|output)\b|\b(secondary|output|\d+ ?v) snubber\b",
    re.IGNORECASE,
)
"""A snubber across an output rectifier is none of the clamp of the switch."""


OUTPUT_CHOKE = re.compile(
    r"\b(output|secondary)[ -](side )?(filter )?(coil|choke|inductor|toroid)s?\b", re.IGNORECASE
)
"""What smooths an output: where a board has none, the boost's choke is not meant."""


def parts_named(board: Board, text: str) -> list[str]:
    """The parts that words mean, none where they mean none; several where they don't tell them
    apart, such as two start-up resistors."""
    for part in board.components:
        if part.ref.lower() == text.strip().lower():
            return [part.ref]
    if _OF_THE_MAIN_BOARD.search(text) or _ON_THE_OUTPUT.search(text):
        return []
    wanted = _Wanted.of(_with_rail_volts(board, text))
    found = _by_name(board, _best(board, wanted), text) or _upper_or_lower(board, wanted)
    words = wanted.words - ({"middle"} if _MIDDLE_PIN.search(text) else frozenset())
    if OUTPUT_CHOKE.search(text):
        found = [ref for ref in found if _on_the_cold_side(board, ref)]
        if not found:
            return []
    which = next((k for word, k in _ORDINALS if word in words), None)
    if which is None or (found and "other" in wanted.asked):
        return found
    found = found or _best(board, replace(wanted, asked=wanted.asked - {"other"}))
    if len(found) > MOST_MEANT:
        return found  # “resistor of the third coil” is none of the twenty by its number
    return found[which : which + 1] if len(found) > which else found


def _on_the_cold_side(board: Board, ref: str) -> bool:
    return all(board.net(net).side is Side.COLD for net in board.component(ref).pins.values())


def _upper_or_lower(board: Board, wanted: _Wanted) -> list[str]:
    """Of two alike in line, “start resistor, the upper one” is the first, seen from the bulk."""
    said = wanted.asked & {"upper", "lower"}
    if len(said) != 1:
        return []
    pair = _best(board, replace(wanted, asked=wanted.asked - said))
    return pair[:1] if len(pair) == 2 and said == {"upper"} else pair[1:] if len(pair) == 2 else []


def _by_name(board: Board, found: list[str], text: str) -> list[str]:
    """Of several that words may mean the only one that they call by its name: “base resistor”."""
    words = text.lower()
    names = {ref: (board.component(ref).duty or ref).lower() for ref in found}
    called = [ref for ref, name in names.items() if name in words]
    return called if len(called) == 1 else found


def may_mean(board: Board, text: str, ref: str) -> bool:
    """Whether words that name a kind of part fit a part, with all that they say of it."""
    wanted = _Wanted.of(_with_rail_volts(board, text))
    own = next(one for one in _known(id(board), board) if one[0].ref == ref)
    return bool(wanted.heads) and wanted.fits(*own) and not wanted.asked - own[1]


def _with_rail_volts(board: Board, text: str) -> str:
    """The text with the volts of a rail in place of its printed label: “VA rectifier”."""
    volts = {rail.net: rail.volts for rail in board.rails if rail.volts}
    for connector in board.connectors:
        for pin in connector.pins:
            named = rf"(?<![\w-]){re.escape(pin.label)}(?![\w-])"
            if pin.net in volts and volts_named(pin.label) is None and re.search(named, text, re.I):
                return re.sub(named, f"{volts[pin.net]:g} V", text, flags=re.IGNORECASE)
    return text


def _best(board: Board, wanted: _Wanted) -> list[str]:
    if not wanted.heads and not (wanted.volts is None and len(wanted.asked) > 1):
        return []
    scored = [
        (wanted.score(part, words, volts), part.ref)
        for part, words, volts in _known(id(board), board)
        if wanted.fits(part, words, volts)
    ]
    best = max((score for score, _ in scored), default=0.0)
    return [ref for score, ref in scored if score > best - 0.3] if best >= LEAST_SCORE else []


@dataclass(frozen=True, slots=True)
class _Wanted:
    """What words ask for: kinds of parts, further words, volts."""

    text: str
    words: frozenset[str]
    heads: tuple[frozenset[str], ...]
    asked: frozenset[str]
    volts: float | None
    plural: bool

    @staticmethod
    def of(text: str) -> _Wanted:
        plain = _RATING.sub(" ", _ENDS.sub(" ", _plainly(text)))
        words = tokens(_LIGHT.sub(" ", plain))
        if re.search(r"\d\s?[µun]f\b", text.lower()) and not words & set(HEADS):
            words.add("capacitor")
        heads = tokens(_before(_LIGHT.sub(" ", plain))) & set(HEADS)
        heads = heads or words & set(HEADS)
        if _LIGHT.search(plain):
            words.add("light" if heads else "strip")
            heads = heads or {"strip"}
        if len(heads) > 1:
            heads -= {"driver"}
        for only, beside in _ONLY:
            if only in heads and (not beside or beside in heads):
                heads = {only}
                break
        asked = frozenset(word for word in words if word in QUALIFIERS)
        kinds = tuple(HEADS[head] for head in heads)
        plural = bool(_PLURAL.search(plain))
        return _Wanted(text, frozenset(words), kinds, asked, volts_named(_plainly(text)), plural)

    def fits(self, part: Component, words: frozenset[str], volts: tuple[float, ...]) -> bool:
        """Whether a part may be meant at all."""
        if self.heads and not any(part.kind in kinds for kinds in self.heads):
            return False
        if "divider" in self.words and "divider" not in words and self.heads:
            return False
        if self.volts is not None:
            of_a_fuse = part.kind == "fuse"  # it is called by the rail that it feeds from
            if volts and not of_a_fuse and not any(_near(self.volts, own) for own in volts):
                return False
            unrailed = (*HEADS["reservoir"], "common_mode_choke")
            if not volts and self.heads and part.kind in unrailed:
                return False
        soft = SOFT | IN_A_FEED if HEADS["fuse"] in self.heads else SOFT
        return not (self.asked - words) - soft

    def score(self, part: Component, words: frozenset[str], volts: tuple[float, ...]) -> float:
        """How well a part fits."""
        found = 2.0 if self.heads else 0.0
        found += 2.0 * len(self.asked & words) - len(self.asked - words)
        found += 2.0 if self.volts is not None and volts else 0.0
        found += 0.5 * len((self.words & words) - self.asked - SMALL)
        unsaid = ((words & QUALIFIERS) - self.asked) - FREE
        found -= 0.4 * len(unsaid - {"other"} if self.plural else unsaid)
        found += 0.75 * len(self.asked & tokens(f"{part.ref} {part.duty}"))
        if part.kind == "electrolytic" and not self.asked & {"x2", "y1", "film"}:
            found -= 1.0 if "reservoir" in self.words - words else 0.0
            found += 0.35  # a “capacitor” that is no more than that is the can
        return found + _valued(part, self.text)


def _valued(part: Component, text: str) -> float:
    """A little for a part whose value is the one that is said: “22 uF”."""
    said = re.search(r"(\d+(?:[.,]\d+)?)\s?([µun])f\b", text.lower())
    if not said or not part.value:
        return 0.0
    scale = {"µ": 1e-6, "u": 1e-6, "n": 1e-9}[said[2]]
    try:
        own = component_value(part.value)
    except ValueError:
        return 0.0
    return 0.35 if _near(float(said[1].replace(",", ".")) * scale, own) else 0.0


def _near(a: float, b: float) -> bool:
    return b > 0 and abs(a / b - 1.0) < 0.06
