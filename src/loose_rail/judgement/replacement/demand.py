"""What a place on this board asks of whatever stands there: highest volts, current, heat, side.

Computed from the profile: rails and their ends, the bulk on high mains, what windings reflect, what
loads draw. Textbook relations; shares and shapes with their sources beside them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from loose_rail.boards.component_rules import REFLECTED_VOLTS
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board, Component, Side, Stage
from loose_rail.boards.whole_board import component_of
from loose_rail.boards.worst_volts import bulk_volts, least_rating, stage_volts, worst_volts
from loose_rail.kernel.quantities import component_value, engineering
from loose_rail.vocabulary.keys import job_of, stage_of

HIGHEST_MAINS_SHARE = 264.0 / 240.0
"""High mains over nominal [S, IEC 60038]."""
FLYBACK_ADDED_VOLTS = 130.0
"""What a flyback's winding reflects onto its switch [reference 9, V9.10]."""
SPIKE_VOLTS = 80.0
"""Of the leakage inductance over that, with its clamp [reference 9, V9.10]."""
SWITCH_SHARE, DIODE_SHARE = 0.8, 0.8
"""Of its rating a switch or a rectifier uses at most [reference 9]."""
FORWARD_VOLTS = 0.6
AUXILIARY_VOLTS = 15.0
PEAK_OVER_MEAN = 2.0
"""Rated current of a flyback's rectifier over the mean of its load [reference 9, practice]."""
CONTINUOUS = {"buck", "resonant", "winding"}
USED_SHARE = 0.5
"""Of its rating a resistor uses at most [reference 9]."""


@dataclass(frozen=True, slots=True)
class Demand:
    """From `low` to `high` of an attribute in SI units, and why."""

    low: float = 0.0
    high: float = math.inf
    why: str = ""


@dataclass(frozen=True, slots=True)
class Place:
    """A place: the part that stood there by the profile, its job in words, and what is asked."""

    part: Component
    job: str
    demands: dict[str, Demand]
    side: Side | None

    @property
    def on_mains(self) -> bool:
        """Whether it stands on the mains side."""
        return self.side is Side.HOT


def place_of(board: Board, ref: str) -> Place:
    """The place of a part. Raises KeyError for a part that the board has not."""
    part = component_of(board, ref)
    roles = [role for role, refs in board.roles.items() if ref in refs]
    sides = {net.side for net in board.nets if net.name in part.pins.values()}
    side = next(iter(sides)) if len(sides) == 1 else None
    return Place(part, _job(part, roles), _demands(board, part, roles), side)


def _job(part: Component, roles: list[str]) -> str:
    return part.duty or (roles[0].replace(".", " ") if roles else part.kind.replace("_", " "))


def _demands(board: Board, part: Component, roles: list[str]) -> dict[str, Demand]:
    found: dict[str, Demand] = {}
    for role in roles or [""]:
        for name, demand in _of_role(board, part, role).items():
            known = found.get(name, Demand())
            stronger = demand if demand.low >= known.low else known
            found[name] = Demand(stronger.low, min(demand.high, known.high), stronger.why)
    return found


def _of_role(board: Board, part: Component, role: str) -> dict[str, Demand]:
    stage = board.stage(stage_of(role)) if role else None
    if is_a(part, Trait.ELECTROLYTIC):
        return _electrolytic(board, part)
    if part.kind == "diode":
        return _diode(board, role, stage)
    if part.kind in ("mosfet_n", "mosfet_p", "mosfet_dual", "igbt", "npn", "pnp"):
        return _switch(board, role, stage)
    if part.kind == "bridge":
        return _bridge(board)
    if part.kind in ("resistor", "fusible_resistor"):
        return _resistor(board, part, role, stage)
    if part.kind in ("film", "ceramic", "y_capacitor"):
        return _capacitor(board, part, role, stage)
    if part.kind in ("fuse", "surge_suppressor", "cord", "relay", "ntc", "common_mode_choke"):
        return _on_the_line(board, part)
    return {}


def _electrolytic(board: Board, part: Component) -> dict[str, Demand]:
    worst, least = worst_volts(board, part.ref), least_rating(board, part.ref)
    if worst is None or least is None:
        return {}
    return {"volts": Demand(least, why=f"its place reaches {engineering(worst, 'V')}")}


def mains_peak(board: Board) -> float:
    """The peak of the highest mains."""
    return math.sqrt(2.0) * HIGHEST_MAINS_SHARE * board.mains.volts


def reverse_volts(board: Board, stage: Stage) -> float:
    """What the rectifier of an output blocks."""
    out = stage_volts(board, stage)
    source = board.stage(stage.source)
    feeding = source if stage.kind == "winding" and source is not None else stage
    if feeding.kind == "resonant":
        return 2.0 * out + FORWARD_VOLTS
    if stage.kind == "buck":
        return stage_volts(board, source) if source else bulk_volts(board)
    if stage.kind in ("led", "boost"):
        return out
    return out + bulk_volts(board) * (out + FORWARD_VOLTS) / REFLECTED_VOLTS


def load_amps(board: Board, stage: Stage) -> float:
    """What its loads draw, with those of what it feeds."""
    own = sum(load.on_amps for load in board.loads if load.rail == stage.id)
    fed = [one for one in board.stages if one.source == stage.id and one.kind != "winding"]
    watts = sum(load_amps(board, one) * one.volts for one in fed)
    return own + (watts / stage.volts if stage.volts else 0.0)


def _diode(board: Board, role: str, stage: Stage | None) -> dict[str, Demand]:
    job = job_of(role) if role else ""
    if stage is None:
        return {}
    if job in ("clamp", "bypass") or stage.kind == "boost":
        volts = bulk_volts(board) + (FLYBACK_ADDED_VOLTS if job == "clamp" else 0.0)
        return {"volts": Demand(volts / DIODE_SHARE, why=f"blocks {engineering(volts, 'V')}")}
    if job == "aux":
        volts = AUXILIARY_VOLTS * (1 + bulk_volts(board) / REFLECTED_VOLTS)
        return {"volts": Demand(volts / DIODE_SHARE, why=f"blocks {engineering(volts, 'V')}")}
    volts, amps = reverse_volts(board, stage), load_amps(board, stage)
    over = 1.0 if stage.kind in CONTINUOUS else PEAK_OVER_MEAN
    found = {"volts": Demand(volts / DIODE_SHARE, why=f"blocks {engineering(volts, 'V')}")}
    if amps:
        found["amps"] = Demand(over * amps, why=f"its rail gives {engineering(amps, 'A', 2)}")
    return found


def _switch(board: Board, role: str, stage: Stage | None) -> dict[str, Demand]:
    if stage is None:
        return {}
    bulk = max(bulk_volts(board), 0.0)
    if stage.kind == "flyback":
        volts, words = bulk + FLYBACK_ADDED_VOLTS + SPIKE_VOLTS, "bulk, reflected volts and spike"
        return {"volts": Demand(volts, why=f"{words} reach {engineering(volts, 'V')}")}
    if stage.kind in ("boost", "resonant"):
        volts, words = bulk, "the bulk reaches"
    elif stage.kind == "led":
        volts, words = stage_volts(board, stage), "its output clamps at"
    else:
        source = board.stage(stage.source)
        volts = max(stage_volts(board, stage), stage_volts(board, source) if source else 0.0)
        words = "its rail reaches"
        if job_of(role) == "rectifier":
            volts, words = reverse_volts(board, stage), "it blocks"
    found = {"volts": Demand(volts / SWITCH_SHARE, why=f"{words} {engineering(volts, 'V')}")}
    amps = load_amps(board, stage)
    if amps and stage.kind not in ("boost", "resonant"):
        found["amps"] = Demand(PEAK_OVER_MEAN * amps, why=f"carries {engineering(amps, 'A', 2)}")
    return found


def _bridge(board: Board) -> dict[str, Demand]:
    peak = mains_peak(board)
    watts = sum(load.on_amps * load.volts for load in board.loads)
    amps = watts / 0.8 / (0.9 * board.mains.volts) * 1.5
    return {
        "volts": Demand(1.5 * peak, why=f"high mains peaks at {engineering(peak, 'V')}"),
        "amps": Demand(amps, why=f"the loads take {watts:.0f} W"),
    }


def _resistor(board: Board, part: Component, role: str, stage: Stage | None) -> dict[str, Demand]:
    job = job_of(role) if role else ""
    volts = 0.0
    if role == "bleeder" or job == "start":
        number = len(board.roles.get(role, [part.ref]))
        volts = bulk_volts(board) / (number if job == "start" else 1)
    elif job in ("upper", "bleeder") and stage is not None:
        number = len(board.roles.get(role, [part.ref])) if job == "upper" else 1
        volts = stage_volts(board, stage) / number
    elif job == "clamp":
        volts = FLYBACK_ADDED_VOLTS + SPIKE_VOLTS / 2
    ohms = component_value(part.value)
    if not volts or not ohms:
        return {}
    watts = volts * volts / ohms
    shown = engineering(volts, "V")
    return {
        "body_volts": Demand(volts, why=f"{shown} stand across it"),
        "watts": Demand(watts / USED_SHARE, why=f"{shown} make {engineering(watts, 'W', 2)} in it"),
    }


def _capacitor(board: Board, part: Component, role: str, stage: Stage | None) -> dict[str, Demand]:
    job = job_of(role) if role else ""
    if part.kind == "y_capacitor" or role == "input.across":
        rated = 250.0 if board.mains.volts > 150 else 125.0
        return {"volts_ac": Demand(rated, why=f"mains of {board.mains.volts:g} V")}
    if role.startswith("bridge"):
        return {"volts": Demand(mains_peak(board), why="the peak of high mains stands there")}
    if stage is None:
        return {}
    hot = {net.side for net in board.nets if net.name in part.pins.values()} == {Side.HOT}
    volts = bulk_volts(board) if hot else stage_volts(board, stage)
    if job == "snubber" and stage.kind == "flyback":
        volts += FLYBACK_ADDED_VOLTS
    if hot:
        shown = engineering(volts, "V")
        return {"volts": Demand(1.2 * volts, why=f"{shown} stand there, with pulses")}
    return {"volts": Demand(1.5 * volts, why=f"{engineering(volts, 'V')} stand there")}


def _on_the_line(board: Board, part: Component) -> dict[str, Demand]:
    mains = board.mains.volts
    if part.kind == "surge_suppressor":
        return {
            "volts_ac": Demand(HIGHEST_MAINS_SHARE * mains, 1.4 * mains, f"mains of {mains:g} V")
        }
    if part.kind == "fuse" and not _reaches_mains(board, part):
        return {}
    return {"volts": Demand(mains, why=f"mains of {mains:g} V")}


def _reaches_mains(board: Board, part: Component) -> bool:
    sides = {net.side for net in board.nets if net.name in part.pins.values()}
    return sides == {Side.HOT} and not board.adapter_fed
