"""Fault modes of the parts of a board: what can fail, how often, and what that does to the part.

Rates are relative; they come from the kind of the part and its stress. A mode with severities
gives one `Fault` each (a little dried, dried, bone dry): they are one suspect to a person and
several rows to the arithmetic.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.kinds.registry import kind_of
from loose_rail.boards.profile import Board, Component
from loose_rail.boards.typical import HIGH_VOLTAGE, part_volts
from loose_rail.vocabulary.keys import part_of


@dataclass(frozen=True, slots=True)
class Fault:
    """One part in one fault mode at one severity; numbers as the table of kinds says.

    `elements` are the parts of the part that fail, all of it where there are none; `pairs` the pins
    between which it conducts. `rate` is that of the fault with what may go along, `rate_alone` is
    taken for it by itself.
    """

    ref: str
    mode: str
    title: str
    rate: float
    effect: Effect
    severity: int = 0
    elements: tuple[str, ...] = ()
    pairs: tuple[tuple[str, str], ...] = ()
    ohms: float = 0.0
    value_scale: float = 1.0
    esr_scale: float = 1.0
    of: str = ""
    share: float = 1.0
    rate_alone: float = 0.0

    @property
    def comes_and_goes(self) -> bool:
        """Whether the part is sound for most of the time and in mode `of` for `share` of it."""
        return self.effect is Effect.INTERMITTENT

    @property
    def loads_a_rail(self) -> bool:
        """Whether a board behind a connector takes too much, from the start or once it works."""
        return self.effect in (Effect.DRAG, Effect.OVERDRAW)

    @property
    def shorts_its_supply(self) -> bool:
        """Whether a board behind a connector takes too much, or would where another one did not
        switch it off."""
        return self.loads_a_rail or (self.effect is Effect.ELSEWHERE and self.ohms > 0.0)

    @property
    def suspect(self) -> str:
        """Key of the suspect that all severities belong to, such as `C21:dried`."""
        return f"{self.ref}:{self.mode}"

    @property
    def key(self) -> str:
        """Key of this very fault, such as `C21:dried:1`."""
        return f"{self.suspect}:{self.severity}"


NEVER_ASKS = "never_asserts"
"""The mode of a board that keeps its request back; the keys and the receiver in front of it do the
same (`asks`)."""


def faults_of(part: Component) -> list[Fault]:
    """Every fault mode of a part, one entry for each severity. A board that gives no signals can't
    keep one back."""
    found: list[Fault] = []
    silent = part.params.get("signals") == "none"
    for mode in kind_of(part).faults:
        asks = "asks" in part.params and mode.mode == NEVER_ASKS
        if (silent and mode.effect is Effect.MUTE and not asks) or part.stress < mode.least_stress:
            continue
        if mode.param and mode.param not in part.params:
            continue
        shows = asks or mode.effect in (Effect.ELSEWHERE, Effect.OVERDRAW)
        if "far" in part.params and not shows:
            continue  # this supply feeds it through another board, once that works
        if mode.several and int(part.params.get(mode.several, "1")) < 2:
            continue
        high = mode.high_volts and part_volts(part) >= HIGH_VOLTAGE
        for number, severity in enumerate(mode.high_volts if high else mode.severities):
            alone = severity.weight if severity.alone is None else severity.alone
            found.append(
                Fault(
                    ref=part.ref,
                    mode=mode.mode,
                    title=mode.title,
                    rate=mode.rate * part.stress * severity.weight,
                    rate_alone=mode.rate * part.stress * alone,
                    effect=mode.effect,
                    severity=number,
                    elements=severity.elements or ((mode.element,) if mode.element else ()),
                    pairs=severity.pairs or (mode.pins if mode.pins[0] else _ends(part),),
                    ohms=severity.ohms,
                    value_scale=severity.value,
                    esr_scale=severity.esr,
                    of=mode.of,
                    share=mode.share,
                )
            )
    return found


def _ends(part: Component) -> tuple[str, str]:
    """The first two pins, none where there are fewer."""
    pins = list(part.pins)[:2]
    return (pins[0], pins[1]) if len(pins) > 1 else ("", "")


def find_faults(board: Board, ref: str, mode: str) -> list[Fault]:
    """The faults of one part in one mode; empty where there is none such."""
    return [fault for fault in faults_of(board.component(ref)) if fault.mode == mode]


def while_present(board: Board, faults: Sequence[Fault]) -> list[Fault]:
    """The same faults at a moment when those that come and go are there."""
    return [find_faults(board, f.ref, f.of)[0] if f.comes_and_goes else f for f in faults]


def fault_from_key(board: Board, key: str) -> Fault:
    """The fault with a key such as `C21:dried:1`. Raises KeyError where there is none."""
    ref = part_of(key)
    for fault in faults_of(board.component(ref)):
        if key in (fault.key, fault.suspect):
            return fault
    raise KeyError(key)
