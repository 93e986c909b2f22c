"""What fails together with what: a profile's own links, and the general table by roles.

If the cause has failed in its mode, the effect has too with the link's probability. Chains follow
from links of links: a clamp opens, the switch shorts, the fuse goes.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache

import msgspec

from loose_rail.boards.faults import find_faults
from loose_rail.boards.profile import Board, CoFailure
from loose_rail.kernel.tables import shipped_table
from loose_rail.vocabulary.keys import job_of

ANY_STAGE = "*"


class _Link(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A cause and its effect by the jobs of the parts; of stages of some kinds only."""

    cause: str
    mode: str
    effect: str
    then: str
    probability: float
    reason: str
    stages: frozenset[str] = frozenset()


class _Batch(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parts of one kind, age and heat that fail in one mode."""

    roles: frozenset[str]
    kind: str
    mode: str
    probability: float
    reason: str


class _CoFailures(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    source: str
    links: tuple[_Link, ...]
    batch: _Batch


@cache
def _table() -> _CoFailures:
    return shipped_table("boards", "co_failures", _CoFailures)


def co_failures_of(board: Board) -> list[CoFailure]:
    """The profile's links first, then those of the general table that it does not state itself."""
    stated = {(one.cause, one.cause_mode, one.effect) for one in board.co_failures}
    found = {(*_key(one), one.effect_mode): one for one in board.co_failures}
    for link in (*_general(board), *_batch(board)):
        both = find_faults(board, link.cause, link.cause_mode) and find_faults(
            board, link.effect, link.effect_mode
        )
        if both and link.cause != link.effect and _key(link) not in stated:
            found.setdefault((*_key(link), link.effect_mode), link)
    return list(found.values())


def _key(link: CoFailure) -> tuple[str, str, str]:
    return link.cause, link.cause_mode, link.effect


def _general(board: Board) -> Iterator[CoFailure]:
    for entry in _table().links:
        for stage in board.stages:
            if entry.stages and stage.kind not in entry.stages:
                continue
            causes = board.roles.get(entry.cause.replace(ANY_STAGE, stage.id), [])
            effects = board.roles.get(entry.effect.replace(ANY_STAGE, stage.id), [])
            for cause in causes:
                for effect in effects:
                    yield CoFailure(
                        cause=cause,
                        cause_mode=entry.mode,
                        effect=effect,
                        effect_mode=entry.then,
                        probability=entry.probability,
                        reason=entry.reason,
                    )


def _batch(board: Board) -> Iterator[CoFailure]:
    """Reservoirs of one age: each takes its neighbours with it, those that work harder more often:
    what both have together is as likely from either side (Bayes)."""
    entry = _table().batch
    refs = [
        ref
        for role, parts in board.roles.items()
        if job_of(role) in entry.roles
        for ref in parts
        if board.component(ref).kind == entry.kind
    ]
    refs = list(dict.fromkeys(refs))
    stress = {ref: board.component(ref).stress for ref in refs}
    for cause in refs:
        for effect in refs:
            share = min(1.0, stress[effect] / stress[cause])
            yield CoFailure(
                cause=cause,
                cause_mode=entry.mode,
                effect=effect,
                effect_mode=entry.mode,
                probability=entry.probability * share,
                reason=entry.reason,
            )
