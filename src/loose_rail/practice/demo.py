"""The demo shop: its jobs as events, its stock, and the fault hidden on the simulated board."""

from __future__ import annotations

from functools import cache
from importlib import resources

import msgspec

from loose_rail.app.ports import Store
from loose_rail.jobs.events import AnyEvent, Record
from loose_rail.judgement.replacement.electrolytic import Candidate


class DemoShop(msgspec.Struct, frozen=True):
    """Everything that is made up for the demo."""

    shop: str
    fault: list[str]
    stock: list[Candidate]
    jobs: list[list[tuple[str, AnyEvent]]]


@cache
def demo_shop() -> DemoShop:
    """The shipped demo."""
    data = resources.files("loose_rail.practice").joinpath("data/demo_shop.json").read_bytes()
    return msgspec.json.decode(data, type=DemoShop)


def fill_store(store: Store) -> None:
    """Write the demo's jobs into an empty store."""
    for number, job in enumerate(demo_shop().jobs, start=1):
        records = [
            Record(place, at, "bench 1", event) for place, (at, event) in enumerate(job, start=1)
        ]
        store.append(number, records)
