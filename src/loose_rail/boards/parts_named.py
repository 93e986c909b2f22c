"""Parts as people name them, found on a board by their words: “boost switch”, “5 V reservoir”,
“source resistor of the standby switch”.

A word for a kind of part must fit the part's kind; volts must be those of its stage; each further
word (standby, main, boost, upper, gate) must be the part's own. What fits no part is none: it is
not booked on the nearest one.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from loose_rail.boards.kinds.registry import kind_words
from loose_rail.boards.profile import Board, Component
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.keys import job_of, stage_of

SAME = {
    **dict.fromkeys(
        ("mosfet", "mosfets", "fet", "fets", "transistor", "igbt", "switches"), "switch"
    ),
    **dict.fromkeys(("cap", "caps", "capacitors", "elko", "electrolytics"), "capacitor"),
    **dict.fromkeys(
        ("reservoirs", "can", "cans", "smoothing", "filter", "electrolytic"), "reservoir"
    ),
    **dict.fromkeys(("opto", "optocoupler", "optocouplers", "couplers", "photocoupler"), "coupler"),
    **dict.fromkeys(("diode", "diodes", "rectifiers", "schottky"), "rectifier"),
    **dict.fromkeys(("pfc", "step-up"), "boost"),
    **dict.fromkeys(("ic", "pwm", "chip", "controllers"), "controller"),
    **dict.fromkeys(("431", "tl431", "shunt", "regulator"), "reference"),
    **dict.fromkeys(("varistor", "mov", "vdr"), "suppressor"),
    **dict.fromkeys(("inductor", "coil", "chokes"), "choke"),
    **dict.fromkeys(("resistors",), "resistor"),
    **dict.fromkeys(("source", "current", "shunt-resistor"), "sense"),
    **dict.fromkeys(("startup", "start-up"), "start"),
    **dict.fromkeys(("strips", "bars", "bar", "string", "strings", "backlight"), "strip"),
    **dict.fromkeys(("tubes", "lamps", "ccfl"), "tube"),
    **dict.fromkeys(("halfbridge", "half-bridge"), "half"),
    **dict.fromkeys(("x2", "x"), "x2"),
    **dict.fromkeys(("aux", "auxiliary"), "auxiliary"),
    **dict.fromkeys(("plug", "socket", "cable", "ribbon"), "connector"),
    **dict.fromkeys(("vcc", "vdd", "supply"), "supply"),
    **dict.fromkeys(("snubber", "rcd"), "clamp"),
    **dict.fromkeys(("stepdown", "buck"), "step-down"),
    **dict.fromkeys(("thermistor", "ntc", "inrush"), "limiter"),
    **dict.fromkeys(("film", "foil"), "film"),
    **dict.fromkeys(("y1", "y2"), "y1"),
}
HEADS: dict[str, frozenset[str]] = {
    "capacitor": frozenset({"electrolytic", "ceramic", "film", "y_capacitor"}),
    "reservoir": frozenset({"electrolytic"}),
    "ceramic": frozenset({"ceramic"}),
    "resistor": frozenset({"resistor", "fusible_resistor"}),
    "divider": frozenset({"resistor", "fusible_resistor"}),
    "rectifier": frozenset({"diode", "zener", "tvs", "mosfet_n"}),
    "bridge": frozenset({"bridge"}),
    "switch": frozenset({"mosfet_n", "mosfet_p", "mosfet_dual", "npn", "pnp", "igbt", "switcher"}),
    "fuse": frozenset({"fuse", "fusible_resistor"}),
    "coupler": frozenset({"optocoupler"}),
    "reference": frozenset({"shunt_reference"}),
    "controller": frozenset({"controller", "switcher", "regulator"}),
    "transformer": frozenset({"transformer"}),
    "choke": frozenset({"inductor", "common_mode_choke"}),
    "connector": frozenset({"connector"}),
    "strip": frozenset({"led_strip"}),
    "tube": frozenset({"tubes"}),
    "suppressor": frozenset({"surge_suppressor"}),
    "limiter": frozenset({"ntc"}),
    "relay": frozenset({"relay"}),
}
QUALIFIERS = frozenset(
    {
        *("standby", "main", "boost", "led", "inverter", "panel", "upper", "lower", "feedback"),
        *("start", "gate", "sense", "clamp", "half", "film", "input", "output", "auxiliary"),
        *("bleeder", "preload", "supply", "bulk", "resonant", "step-down", "sustain", "address"),
        *(
            "x2",
            "y1",
            "free-wheeling",
            "bypass",
            "ballast",
            "lamp",
            "over-voltage",
            "base",
            "other",
        ),
    }
)
STAGE_WORDS = {
    "buck": "step-down",
    "led": "led",
    "ccfl": "inverter",
    "boost": "boost",
    "switch": "panel",
    "resonant": "half",
}
"""What a stage of a kind is called."""
SOFT = frozenset({"feedback", "main", "lamp", "supply", "output"})
"""Words that a part may do without: “main fuse”, “feedback coupler”."""
_WORD = re.compile(r"[^\W_]+(?:-[^\W_]+)*")
_RATING = re.compile(
    r"\b\d+(?:[.,]\d+)?\s?[µun]f\b(?:\s?/?\s?\d+\s?v\b)?|\b\d+\s?w\b", re.IGNORECASE
)
_VOLTS = re.compile(r"(?<![\d.])(\d{1,3})(?:[.,](\d{1,2}))?\s?v(?:(\d)(?!\d))?(?![a-z])", re.I)
_ENDS = re.compile(
    r"\b(drain|source|gate|base|collector|emitter|anode|cathode|d|s|g|a|k) to (the )?"
    r"(drain|source|gate|base|collector|emitter|anode|cathode|d|s|g|a|k)\b|"
    r"(gate|source|drain) of the|"
    r"\bled (side )?of the (?=[\w ]*(coupler|opto))|(?<=coupler), led\b|(?<=optocoupler), led\b",
    re.IGNORECASE,
)
_ONLY = (
    ("resistor", ""),
    ("fuse", ""),
    ("divider", "reference"),
    ("capacitor", "reservoir"),
)
"""Where several words name kinds, the one that counts, alone or beside another."""
LEAST_SCORE = 1.0
"""Below it words fit a part by chance [E]."""


def tokens(text: str) -> set[str]:
    """The words of a text in one spelling each."""
    lowered = text.lower().replace("power-factor", "boost").replace("power factor", "boost")
    lowered = re.sub(r"half[- ]bridge", "half", lowered)
    lowered = re.sub(r"start[- ]up", "start", lowered)
    lowered = re.sub(r"step[- ]down", "step-down", lowered)
    lowered = re.sub(r"over[- ]voltage", "over-voltage", lowered)
    found = set()
    for word in _WORD.findall(lowered):
        known = SAME.get(word, word)
        if known == word and word.endswith("s") and word[:-1] in (*HEADS, *QUALIFIERS):
            known = word[:-1]
        found.add(SAME.get(known, known))
    return found


def volts_named(text: str) -> float | None:
    """The volts of a rail that a text names; ratings such as “1000 uF 10 V” are none."""
    match = _VOLTS.search(_RATING.sub(" ", text))
    if match is None:
        return None
    return float(f"{match[1]}.{match[2] or match[3] or 0}")


_Known = tuple[Component, frozenset[str], tuple[float, ...]]
"""A part, its words, and the volts of its stages."""


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
        words |= {"boost" if stage == "pfc" else stage for stage in own if stage.isalpha()}
        words |= {STAGE_WORDS[kinds[stage]] for stage in own if kinds.get(stage) in STAGE_WORDS}
        if part.kind == "electrolytic":
            words |= {"capacitor", "reservoir"}
        if own & {"standby", "main"} and jobs.get(part.ref, set()) & {"reservoir", "rectifier"}:
            words.add("output")
        named = volts_named(f"{part.ref} {part.duty}")
        volts = [named] if named else [stage_volts[s] for s in own if stage_volts.get(s)]
        found.append((part, frozenset(words), tuple(volts)))
    return tuple(found)


def parts_named(board: Board, text: str) -> list[str]:
    """The parts that words mean, none where they mean none; several where they don't tell them
    apart, such as two start-up resistors."""
    for part in board.components:
        if part.ref.lower() == text.strip().lower():
            return [part.ref]
    wanted = _Wanted.of(text)
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

    @staticmethod
    def of(text: str) -> _Wanted:
        words = tokens(_RATING.sub(" ", _ENDS.sub(" ", text)))
        if re.search(r"\d\s?[µun]f\b", text.lower()) and not words & set(HEADS):
            words.add("capacitor")
        heads = [HEADS[word] for word in words if word in HEADS]
        for only, beside in _ONLY:
            if only in words and (not beside or beside in words):
                heads = [HEADS[only]]
                break
        asked = frozenset(word for word in words if word in QUALIFIERS)
        return _Wanted(text, frozenset(words), tuple(heads), asked, volts_named(text))

    def fits(self, part: Component, words: frozenset[str], volts: tuple[float, ...]) -> bool:
        """Whether a part may be meant at all."""
        if self.heads and not any(part.kind in kinds for kinds in self.heads):
            return False
        if self.volts is not None:
            if volts and not any(_near(self.volts, own) for own in volts):
                return False
            if not volts and self.heads and part.kind in HEADS["reservoir"]:
                return False
        return not (self.asked - words) - SOFT

    def score(self, part: Component, words: frozenset[str], volts: tuple[float, ...]) -> float:
        """How well a part fits."""
        found = 2.0 if self.heads else 0.0
        found += 2.0 * len(self.asked & words) - len(self.asked - words)
        found += 2.0 if self.volts is not None and volts else 0.0
        found += 0.5 * len((self.words & words) - self.asked)
        found -= 0.4 * len(((words & QUALIFIERS) - self.asked) - {"main", "output", "standby"})
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
