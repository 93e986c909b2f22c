"""How each kind of part is tested by hand: steps and cautions, from data/component_tests.json."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from importlib import resources

import msgspec


@dataclass(frozen=True, slots=True)
class ComponentTest:
    """Steps for one kind of part, and the caution that belongs to them."""

    title: str
    steps: tuple[str, ...]
    caution: str


GENERAL = ComponentTest(
    "Part", ("Look at it, then read it in place against the predicted reading, then removed.",), ""
)


@cache
def component_tests() -> dict[str, ComponentTest]:
    """All of them by kind."""
    data = resources.files("loose_rail.judgement").joinpath("data/component_tests.json")
    return msgspec.json.decode(data.read_bytes(), type=dict[str, ComponentTest])


def steps_for(kind: str) -> ComponentTest:
    """The test of a kind; a general one for what has none of its own."""
    return component_tests().get(kind, GENERAL)
