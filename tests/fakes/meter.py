"""A meter that plays a script."""

from __future__ import annotations

from typing import Any


class FakeMeter:
    """Plays a script: numbers, or errors to raise."""

    name = "fake"

    def __init__(self, script: list[Any]) -> None:
        self.script = script

    def read(self, mode: str) -> float:
        item = self.script.pop(0) if self.script else 1.0
        if isinstance(item, Exception):
            raise item
        assert isinstance(item, float)
        return item

    def close(self) -> None:
        pass
