"""A small signal for code that knows no Qt: subscribers are called in order, on the same thread."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Generic, TypeVar

T = TypeVar("T")


class Signal(Generic[T]):
    """Calls every subscriber with each emitted value."""

    def __init__(self) -> None:
        self._subscribers: list[Callable[[T], None]] = []
        self._held = False
        self._waiting: list[T] = []

    def subscribe(self, subscriber: Callable[[T], None]) -> Callable[[], None]:
        """Add a subscriber; call what is returned to remove it again."""
        self._subscribers.append(subscriber)
        return lambda: self._subscribers.remove(subscriber)

    @contextmanager
    def held(self) -> Iterator[None]:
        """Whatever is emitted in the block is emitted once, after it: the last value."""
        before, self._held = self._held, True
        try:
            yield
        finally:
            self._held = before
            if not before and self._waiting:
                value = self._waiting.pop()
                self._waiting.clear()
                self.emit(value)

    def emit(self, value: T) -> None:
        """Call the subscribers in the order in which they came."""
        if self._held:
            self._waiting.append(value)
            return
        for subscriber in tuple(self._subscribers):
            subscriber(value)
