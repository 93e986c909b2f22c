"""How many sets came back, counted against the way they went, the level they were proved to, and
the make of what was fitted."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from loose_rail.jobs.summary import Summary


@dataclass(frozen=True, slots=True)
class Returned:
    """Of `handed` sets, `same` came back with the same fault and `other` with another one."""

    handed: int
    same: int
    other: int

    @property
    def words(self) -> str:
        """As it is said, with its denominator."""
        if not self.handed:
            return "none so far"
        small = ", too few to tell" if self.handed < FEW else ""
        return f"{self.same} of {self.handed} came back with the same fault{small}"


FEW = 10
"""Below this a share is no more than its count [E]."""


def returned_by(
    jobs: Iterable[Summary], level: str = "", way: str = "", make: str = ""
) -> Returned:
    """The count over the sets handed back at a level of proof, by a way, and with a part of a make
    (in any letters); empty is any."""
    every = list(jobs)
    chosen = {
        one.job
        for one in every
        if one.proved is not None
        and (not level or one.proved == level)
        and (not way or one.way == way)
        and (not make or make.lower() in {known.lower() for known in one.makes})
    }
    back = [one for one in every if one.follows in chosen and one.came_back]
    same = {one.follows for one in back if one.same_fault == "same"}
    other = {one.follows for one in back if one.same_fault == "other"} - same
    return Returned(len(chosen), len(same), len(other))
