"""A small signal for code that knows no Qt: subscribers are called in order, on the same thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

T = TypeVar("T")


class Signal(Generic[T]):
    """Calls every subscriber with each emitted value."""

    def __init__(self) -> None:
        self._subscribers: list[Callable[[T], None]] = []

    def subscribe(self, subscriber: Callable[[T], None]) -> Callable[[], None]:
        """Add a subscriber; call what is returned to remove it again."""
        self._subscribers.append(subscriber)
        return lambda: self._subscribers.remove(subscriber)

    def emit(self, value: T) -> None:
        """Call the subscribers in the order in which they came."""
        for subscriber in tuple(self._subscribers):
            subscriber(value)
