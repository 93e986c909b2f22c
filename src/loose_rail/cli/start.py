"""How the window was asked for on the command line."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from loose_rail.storage.places import default_store


@dataclass(frozen=True, slots=True)
class Start:
    """How the window was asked for: `file` is one to be taken in once the shop is open."""

    demo: bool = False
    data: Path | None = None
    meter: str = ""
    second_meter: str = ""
    file: str = ""

    @property
    def shop(self) -> Path | None:
        """The database that is opened, None for a copy that is thrown away."""
        return self.data or (None if self.demo else default_store())
