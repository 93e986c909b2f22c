"""The workings: a calculator with what was typed, or what a marking means, ready to draw."""

from __future__ import annotations

import math
from collections.abc import Mapping

from loose_rail.app.number_meant import working_of
from loose_rail.app.session import JobSession
from loose_rail.app.working_for import working_for
from loose_rail.judgement.three_legs import asks_legs, identify, read_legs
from loose_rail.judgement.workings.calculator import Calculator, Input, Result, read_input
from loose_rail.judgement.workings.registry import CALCULATORS
from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.quantities import engineering, nominal, parse_quantity
from loose_rail.markings.decode import decode
from loose_rail.markings.encode import codes_of
from loose_rail.screens.workings.state import InputView, MarkView, WorkingState


class WorkingsDesk:
    """Every calculator with what was typed into it; `number` is the one in front."""

    def __init__(self) -> None:
        self._texts: dict[str, dict[str, str]] = {one.key: {} for one in CALCULATORS}
        self.number = 0

    @property
    def titles(self) -> list[str]:
        """Of every calculator, in order."""
        return [one.title for one in CALCULATORS]

    def state(self) -> WorkingState:
        """The one in front as it stands."""
        one = CALCULATORS[self.number]
        return working_state(one, self._texts[one.key])

    def typed(self, key: str, text: str) -> None:
        """An input of the one in front."""
        self._texts[CALCULATORS[self.number].key][key] = text

    def heed(self, session: JobSession, meant: str = "") -> None:
        """The working of a number of the screen, else the one that an open job asks for, comes in
        front with the values of its board."""
        key, given = working_of(session, meant) or working_for(session)
        self.number = [one.key for one in CALCULATORS].index(key)
        for item in CALCULATORS[self.number].inputs:
            if item.key in given:
                self._texts[key][item.key] = shown_input(item, given[item.key])


def working_state(one: Calculator, texts: Mapping[str, str]) -> WorkingState:
    """The calculator with what was typed; where that makes no sense, the drawing stays away."""
    given, views = dict(one.usual()), []
    for item in one.inputs:
        text = texts.get(item.key, shown_input(item, item.usual))
        problem = ""
        try:
            given[item.key] = read_input(item, text)
        except BadEntryError as error:
            problem = error.one_line()
        unit = f", {item.unit}" if item.unit else ""
        views.append(InputView(item.key, f"{item.title}{unit}", text, problem))
    problem = next((view.problem for view in views if view.problem), "")
    results: tuple[Result, ...] = ()
    if not problem:
        try:
            results = one.results(given)
        except BadEntryError as error:
            problem = error.one_line()
    across, heights = one.curve(given) if results else ([], [])
    along = next(item for item in one.inputs if item.key == one.along)
    drawn = results[one.drawn] if results else None
    over, prefix = scale_of(given[one.along] if along.unit else 0.0)
    up, height_prefix = scale_of(drawn.value if drawn and drawn.unit != "%" else 0.0)
    return WorkingState(
        title=one.title,
        inputs=tuple(views),
        lines=tuple((found.title, shown(found), found.note) for found in results),
        formula=one.formula,
        source=one.source,
        caution=one.caution,
        problem=problem,
        across=tuple(x / over for x in across),
        heights=tuple(y / up for y in heights),
        at=(given[one.along] / over, drawn.value / up if drawn else 0.0),
        across_title=_axis(along.title, prefix + along.unit),
        heights_title=_axis(drawn.title, height_prefix + drawn.unit) if drawn else "",
    )


def shown(found: Result) -> str:
    """A result with its unit, no finer than what goes into it."""
    if found.unit in ("", "%", "°C", "K"):
        return f"{found.value:.3g} {found.unit}".rstrip()
    return engineering(found.value, found.unit)


def shown_input(item: Input, value: float) -> str:
    """An input as it would be typed."""
    return nominal(value, item.unit) if item.unit else f"{value:g}"


def code_lines(text: str) -> tuple[tuple[str, str], ...]:
    """What a marking can mean, the likeliest first: each in words with how it comes out; a sentence
    where it can't be read. Readings between three legs tell what the part is."""
    if asks_legs(text):
        return leg_lines(text)
    try:
        found = decode(text)
    except BadEntryError as error:
        if marks_of(text):  # a value, and how it would be printed
            return ()
        return (("", error.one_line()),)
    return tuple((one.words, "; ".join((*one.steps, *filter(None, [one.note])))) for one in found)


def code_title(text: str) -> str:
    """What `code_lines` tells of."""
    return "The part, by its legs" if asks_legs(text) else "The marking"


def leg_lines(text: str) -> tuple[tuple[str, str], ...]:
    """What three legs with these readings can be, the likeliest first, and what tells which."""
    try:
        found = identify(read_legs(text))
    except BadEntryError as error:
        return (("", error.one_line()),)
    rows = [(one.words, ". ".join(filter(None, [one.why, one.then]))) for one in found]
    return (*rows, (DRAINED_FIRST, ""))


DRAINED_FIRST = "Unplugged and drained; out of the board nothing else reads along."


def marks_of(text: str) -> tuple[MarkView, ...]:
    """How the likeliest reading of a marking, or a typed value, is printed on parts."""
    if asks_legs(text):
        return ()
    value, unit, percent, volts = _value_of(text)
    if not unit:
        return ()
    codes = codes_of(value, unit, percent, volts)
    return tuple(
        MarkView(SHAPES[where], code, where) for where, code in codes.items() if where in SHAPES
    )


def _value_of(text: str) -> tuple[float, str, float, float | None]:
    """Value, unit, tolerance in per cent and volts of a marking or a typed value; no unit where it
    is neither."""
    try:
        first = decode(text)[0]
    except (BadEntryError, IndexError):
        typed = parse_quantity(text)
        if typed is None or typed.unit not in USUAL_PERCENT or typed.value <= 0:
            return 0.0, "", 0.0, None
        return typed.value, typed.unit, USUAL_PERCENT[typed.unit], None
    if first.unit not in USUAL_PERCENT:
        return 0.0, "", 0.0, None
    told = first.tolerance.percent(first.value) if first.tolerance else None
    percent = told if isinstance(told, float) and told else USUAL_PERCENT[first.unit]
    return first.value, first.unit, percent, first.volts


USUAL_PERCENT = {"Ω": 5.0, "F": 10.0, "H": 10.0}
"""Where a marking says no tolerance [P]."""
SHAPES = {
    "colour bands": "bands",
    "chip, three letters": "chip",
    "chip, E96": "chip",
    "disc or film": "disc",
    "inductor": "coil",
}


def copied(state: WorkingState) -> str:
    """The whole working as text: inputs, results, formula and source."""
    lines = [state.title]
    lines += [f"{view.title}: {view.text}" for view in state.inputs]
    lines += [
        f"{title}: {value}" + (f" ({note})" if note else "") for title, value, note in state.lines
    ]
    return "\n".join([*lines, f"{state.formula}; {state.source}"])


def scale_of(value: float) -> tuple[float, str]:
    """What an axis around a value is divided by, and the prefix of its unit then."""
    size = abs(value)
    if not size or not math.isfinite(size):
        return 1.0, ""
    power = min(max(3 * math.floor(math.log10(size) / 3), -12), 9)
    return 10.0**power, PREFIXES[power]


PREFIXES = {-12: "p", -9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G"}


def _axis(title: str, unit: str) -> str:
    return f"{title}, {unit}" if unit else title
