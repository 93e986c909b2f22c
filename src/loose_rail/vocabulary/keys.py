"""The written keys of the model, each taken apart in this one place.

`main.out` is a point: the output of stage `main`. `main.reservoir` is a role: a job in a stage.
`C21:dried` is a suspect: a part and its failure mode.
"""

from __future__ import annotations

RIPPLE = "ripple"


def stage_of(point_or_role: str) -> str:
    """The stage of a point or a role; a point or role of the whole board is its own stage."""
    return point_or_role.partition(".")[0]


def ripple_of(stage: str) -> str:
    """The point of the AC volts on a stage's output."""
    return f"{stage}.{RIPPLE}"


def is_ripple(point: str) -> bool:
    """Whether a point is AC volts on a DC output."""
    return point.endswith(f".{RIPPLE}")


def job_of(role: str) -> str:
    """The job of a role in its stage; that of a whole board is itself."""
    return role.rpartition(".")[2]


def part_of(suspect_or_fault: str) -> str:
    """The part of a suspect or a fault."""
    return suspect_or_fault.partition(":")[0]


def mode_of(suspect: str) -> str:
    """The failure mode of a suspect."""
    return suspect.rpartition(":")[2]
