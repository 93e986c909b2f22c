"""Every guide in one line: its key, its letter at the entry line, what the list of keys says."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from loose_rail.app.guides.ends import EndsGuide
from loose_rail.app.guides.guide import Guide
from loose_rail.app.guides.loads import LoadGuide
from loose_rail.app.guides.seen import SeenGuide
from loose_rail.app.guides.tests import TestGuide
from loose_rail.app.guides.wake import WakeGuide
from loose_rail.app.session import JobSession


@dataclass(frozen=True, slots=True)
class GuideEntry:
    """A guide of the list; `make` opens it on a job."""

    key: str
    make: Callable[[JobSession], Guide]


GUIDES = {
    entry.key: entry
    for entry in (
        GuideEntry("tests", TestGuide),
        GuideEntry("loads", LoadGuide),
        GuideEntry("seen", SeenGuide),
        GuideEntry("ends", EndsGuide),
        GuideEntry("wake", WakeGuide),
    )
}
