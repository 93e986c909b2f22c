"""The highest volts that a capacitor's place can reach, and the rating that follows from it.

Of a board that regulates: an output at the end of its band, a backlight driver at its clamp, the
bulk at the boost's set point or on high mains. What a broken divider does is another matter
(`judgement.over_voltage`). Shares and margins with their reasons: data/place_volts.json.
"""

from __future__ import annotations

import math
from functools import cache
from importlib import resources

import msgspec

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board, Component, Stage
from loose_rail.boards.typical import part_volts
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.keys import job_of, stage_of
from loose_rail.vocabulary.roles import BoardRole

STANDARD_RATINGS_VOLTS = (6.3, 10, 16, 25, 35, 50, 63, 80, 100, 160, 200, 250, 315, 350, 400, 450)


class _Share(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    share: float
    reason: str
    source: str


class _PlaceVolts(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    shares: dict[str, _Share]
    margin: _Share
    boosted_bulk_margin: _Share
    controller_supply_volts: _Share


@cache
def _table() -> _PlaceVolts:
    data = resources.files("loose_rail.boards").joinpath("data/place_volts.json").read_bytes()
    return msgspec.json.decode(data, type=_PlaceVolts)


def place_share(name: str) -> float:
    """The share of its nominal volts that a place of this kind can reach: mains, regulated, slave,
    adapter."""
    return _table().shares[name].share


def rating_margin() -> float:
    """How many times the highest volts of its place a capacitor is rated at least."""
    return _table().margin.share


def bulk_volts(board: Board) -> float:
    """The highest volts of the bulk: high mains, or the boost's set point; an adapter's own."""
    for stage in board.stages:
        if stage.kind == "adapter":
            return stage.volts * place_share("adapter")
    peak = math.sqrt(2.0) * board.mains.volts * place_share("mains")
    return max([peak, *(stage.volts for stage in board.stages if stage.kind == "boost")])


def stage_volts(board: Board, stage: Stage) -> float:
    """The highest volts of a stage's output."""
    if stage.kind in ("mains", "boost", "adapter"):
        return bulk_volts(board)
    if stage.kind == "led":
        return max(stage.volts, component_value(stage.params.get("clamp", "0")))
    if stage.kind == "winding":
        return stage.volts * place_share("slave")
    return stage.volts * place_share("regulated")


def worst_volts(board: Board, ref: str) -> float | None:
    """The highest DC volts across an electrolytic by the job it does; None where its place is not
    known, and for other kinds (film and safety capacitors are rated for AC or pulses).

    The roles of a profile say it: `stage.job`, `bulk`, a controller's `vcc`, a stage's `input`.
    """
    if not is_a(board.component(ref), Trait.ELECTROLYTIC):
        return None
    if ref in board.roles.get(BoardRole.BULK, []):
        return bulk_volts(board)
    found: list[float] = []
    for role, refs in board.roles.items():
        name, job = stage_of(role), job_of(role)
        stage = board.stage(name)
        if ref not in refs or stage is None:
            continue
        source = board.stage(stage.source)
        if job == "vcc":
            found.append(_table().controller_supply_volts.share)
        elif job == "input":
            found.append(bulk_volts(board) if source is None else stage_volts(board, source))
        else:
            found.append(stage_volts(board, stage))
    return max(found) if found else None


def least_rating(board: Board, ref: str) -> float | None:
    """The lowest rated volts that may stand in a place; None where the place is not known."""
    worst = worst_volts(board, ref)
    if worst is None:
        return None
    boosted = any(stage.kind == "boost" for stage in board.stages)
    if boosted and ref in board.roles.get(BoardRole.BULK, []):
        return _table().boosted_bulk_margin.share * worst
    return rating_margin() * worst


def underrated(board: Board, part: Component) -> bool:
    """Whether a capacitor of the profile is rated below what its place asks for."""
    least = least_rating(board, part.ref)
    return least is not None and part_volts(part) < least - 1e-9
