"""What stands on a board to the eye, and the make-up that it means.

Nobody has to know that a converter is resonant: two switches and a film capacitor at the biggest
transformer are seen. Each answer gives words for `make_up`; of a group one holds.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class SeenBlock:
    """One thing that is seen: its key, a title, where to look, the words that it means, and the
    group of which only one can be."""

    key: str
    title: str
    look: str
    words: str
    group: str = ""


SEEN = (
    SeenBlock("adapter", "Adapter jack", "no mains inlet: a round jack or two wires", "adapter"),
    SeenBlock(
        "boost",
        "Coil by the can",
        "a big coil, a switch and a diode before the big can of 400 to 450 V",
        "PFC",
    ),
    SeenBlock(
        "single",
        "One alone",
        "one transformer alone gives everything",
        "single flyback",
        "transformers",
    ),
    SeenBlock(
        "flyback",
        "Two, one switch",
        "a small transformer, and a big one with one switch",
        "standby flyback, main flyback",
        "transformers",
    ),
    SeenBlock(
        "resonant",
        "Two, two switches",
        "a small transformer, and a big one with two switches and a film capacitor",
        "standby flyback, LLC",
        "transformers",
    ),
    SeenBlock(
        "led", "Plugs for strips", "a coil and a diode before a plug for LED strips", "LED driver"
    ),
    SeenBlock(
        "tubes",
        "Tube sockets",
        "a row of small transformers, each with a socket",
        "CCFL inverter",
    ),
    SeenBlock(
        "step_down",
        "Coil with a chip",
        "a small coil beside a chip, on the cold side",
        "step-down",
    ),
    SeenBlock(
        "plasma", "VS and VA", "three big heat sinks; VS and VA printed at the plugs", "plasma"
    ),
)
BY_KEY = {block.key: block for block in SEEN}


def toggled(chosen: Collection[str], key: str) -> tuple[str, ...]:
    """The choice with one more or one less, in the order of the list; of a group one holds."""
    group = BY_KEY[key].group
    kept = {k for k in chosen if not group or BY_KEY[k].group != group}
    if key in chosen:
        kept.discard(key)
    else:
        kept.add(key)
    return tuple(block.key for block in SEEN if block.key in kept)


def kind_words(chosen: Collection[str], said: str) -> str:
    """The make-up in words: what is seen, then what was typed beside it."""
    words = [block.words for block in SEEN if block.key in chosen]
    return ", ".join([*words, *([said.strip()] if said.strip() else [])])
