"""The strip-down ledger: what comes off in which order, and its reverse at reassembly.

A line such as `4 long M4 stand` is read as count, kind and place; latch, key pin and wire colours
are picked out of the rest. At reassembly every step is played back from the last to the first, and
what is missing or surplus is named.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.jobs import events as ev
from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.number_words import NUMBER_WORDS

COUNTS = {"a": 1, **NUMBER_WORDS}
GROUPS = (
    ("connector", r"cables?|connectors?|ribbons?|plugs?|flex(?:es)?|CN\d+"),
    ("lead", r"(?:hidden |ground |earth )?leads?|wires?|earth"),
    ("foil", r"foils?|tapes?|shields?|gaskets?"),
    ("button board", r"(?:button|sensor|infrared|key) boards?|speakers?"),
    (
        "fastener",
        r"screws?|nuts?|bolts?|rivets?|clips?|washers?|standoffs?|M\d(?:[.,]\d)?(?:x\d+)?",
    ),
    ("trim", r"covers?|backs?|trims?|bezels?|stands?|brackets?|frames?|feet|foot|boards?|panels?"),
)
LATCHES = r"slide|flip|press|friction|lock|lever|squeeze"
COLOURS = r"red|black|white|blue|green|yellow|grey|brown|orange|purple|pink"
MOST_COUNT = 200
GLUED = "glued: lift from one edge, warm, never by the lead"
WATCHED_GROUPS = ("lead", "foil", "button board")
"""What tears or is forgotten: told first when the next set of this kind is taken apart."""

CAUTIONS = {
    "button board": GLUED,
    "lead": "a short lead tears: feel for it before the back comes away",
    "foil": "keep it flat; it goes back bare side to metal",
    "connector": "by the latch, not the wires",
}


@dataclass(frozen=True, slots=True)
class Step:
    """A step: `number` from 1 in order; `back` is how many went back, None: not yet."""

    number: int
    event: ev.StripStep
    back: int | None = None

    @property
    def words(self) -> str:
        """Count, kind, place and what else was said."""
        one = self.event
        extra = [one.place, one.latch, one.key_pin, one.colours]
        told = ", ".join(text for text in extra if text)
        return f"{one.count} {one.kind_words}" + (f" · {told}" if told else "")

    @property
    def missing(self) -> int:
        """How many were not put back, once the step has been played back."""
        return 0 if self.back is None else max(0, self.event.count - self.back)


def read_step(text: str) -> ev.StripStep:
    """Read one line. Raises BadEntryError with a form that works."""
    words = text.strip()
    if not words:
        raise BadEntryError("Nothing typed yet.", "Type count, kind and place: 4 long M4 stand.")
    count, rest = _count(words)
    if not 1 <= count <= MOST_COUNT:
        raise BadEntryError(f"{count} at once can't be counted.", f"Type 1 to {MOST_COUNT}.")
    group, kind, place = _kind(rest)
    if not kind:
        raise BadEntryError(
            f"What came off is not said in “{words}”.", "Type count, kind and place: 2 clips left."
        )
    side = r"(?: (?:towards|to) [\w ]+)?"
    latch = re.search(rf"\b(?:(?:{LATCHES})[- ]?(?:latch)?|latch)\b{side}", place)
    pin = re.search(r"\b(?:key |pin )?pin ?\d+(?: \w+)?", place)
    colours = re.findall(rf"\b(?:{COLOURS})\b", place)
    for found in (latch, pin):
        place = place.replace(found[0], " ") if found else place
    place = re.sub(rf"\b(?:{COLOURS})\b", " ", place) if group in ("connector", "lead") else place
    return ev.StripStep(
        count=count,
        kind_words=kind,
        place=" ".join(place.replace(",", " ").split()),
        group=group,
        latch=latch[0].strip() if latch and group == "connector" else "",
        key_pin=pin[0].strip() if pin and group == "connector" else "",
        colours=" ".join(colours) if group in ("connector", "lead") else "",
    )


def _count(text: str) -> tuple[int, str]:
    number = re.match(r"(\d+)\s*(?:x|×)?\s+(.*)", text)
    if number:
        return int(number[1]), number[2]
    first, _, rest = text.partition(" ")
    if first.lower() in COUNTS and rest:
        return COUNTS[first.lower()], rest
    return 1, text


def _kind(text: str) -> tuple[str, str, str]:
    """Group, kind and place: the kind ends with the first word that names a thing."""
    best: tuple[int, int, str] | None = None
    for group, pattern in GROUPS:
        found = re.search(rf"\b(?:{pattern})\b", text, re.IGNORECASE)
        if found and (best is None or found.start() < best[0]):
            best = (found.start(), found.end(), group)
    if best is None:
        first, _, rest = text.partition(" ")
        return "other", first, rest
    pattern = dict(GROUPS)[best[2]]
    end = best[1]
    more = re.match(rf"\s+(?:{pattern}|covers?|screws?)\b", text[end:], re.IGNORECASE)
    if more and best[2] != "connector":
        end += more.end()
    return best[2], text[:end].strip(), text[end:].strip(" ,")


def steps_of(records: Sequence[ev.Record], gone: set[int]) -> list[Step]:
    """The ledger in order, with what went back. `gone` are sequence numbers taken back."""
    back: dict[int, int] = {}
    found: list[tuple[int, ev.StripStep]] = []
    for record in records:
        if record.sequence in gone:
            continue
        if isinstance(record.event, ev.StripStep):
            found.append((record.sequence, record.event))
        elif isinstance(record.event, ev.PutBack):
            back[record.event.step] = record.event.count
    return [
        Step(number, event, back.get(number)) for number, (_, event) in enumerate(found, start=1)
    ]


def totals_of(steps: Sequence[Step]) -> list[tuple[str, int]]:
    """Running totals by kind, the largest first."""
    sums: dict[str, int] = {}
    for step in steps:
        sums[step.event.kind_words] = sums.get(step.event.kind_words, 0) + step.event.count
    return sorted(sums.items(), key=lambda item: (-item[1], item[0]))


def account_of(steps: Sequence[Step], left_over: Sequence[ev.LeftOver]) -> list[str]:
    """What is missing or surplus, in words; a left-over one of a missing kind is told so."""
    said = [
        f"{step.missing} {step.event.kind_words} missing at step {step.number}"
        + (f", {step.event.place}" if step.event.place else "")
        for step in steps
        if step.missing
    ]
    missing = {step.event.kind_words.lower(): step for step in steps if step.missing}
    for item in left_over:
        match = missing.get(item.kind_words.lower())
        where = f": it belongs to step {match.number}" if match else ": no step misses one"
        said.append(f"{item.count} {item.kind_words} surplus{where}")
    return said
