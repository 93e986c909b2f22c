"""Every guide in one line: its key, its letter at the entry line, what the list of keys says, and
where it is found. Opened when it is asked for: the list of keys is shown before the heavy rooms are
loaded."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import import_module
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from loose_rail.app.guides.guide import Guide
    from loose_rail.app.session import JobSession


@dataclass(frozen=True, slots=True)
class GuideEntry:
    """A guide: the class `guide` of the module with its key stands in this package."""

    key: str
    letter: str
    words: str
    guide: str

    def open(self, session: JobSession) -> Guide:
        """The guide on a job."""
        module = import_module(f"loose_rail.app.guides.{self.key}")
        found: Guide = getattr(module, self.guide)(session)
        return found


GUIDES = {
    entry.key: entry
    for entry in (
        GuideEntry("tests", "T", "How this part is tested, what good and bad read", "TestGuide"),
        GuideEntry("loads", "L", "Load by load", "LoadGuide"),
        GuideEntry("seen", "H", "Seen and heard", "SeenGuide"),
        GuideEntry("ends", "E", "Both ends of a cable", "EndsGuide"),
        GuideEntry("told", "D", "What was done, and what came of it", "ToldGuide"),
        GuideEntry("wake", "W", "Power-on signal (PS-ON)", "WakeGuide"),
        GuideEntry("dummy", "R", "Dummy loads in steps: regulation and ripple", "DummyGuide"),
        GuideEntry("learn", "K", "A sound board, read once for the next ones", "LearnGuide"),
    )
}
