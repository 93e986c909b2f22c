"""The working that a job asks for where it stands, with the values of its board."""

from __future__ import annotations

from loose_rail.app.limiting import limiter_for
from loose_rail.app.parts import repair_list
from loose_rail.app.session import JobSession
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Component
from loose_rail.boards.typical import part_volts
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.roles import BoardRole
from loose_rail.vocabulary.stage import Stage


def working_for(session: JobSession) -> tuple[str, dict[str, float]]:
    """Its key and what is known of its inputs, in SI units."""
    board, stage = session.board, Stage(session.state.stage)
    mains = {"volts": float(board.mains.volts), "hertz": float(board.mains.hertz or 50.0)}
    listed = repair_list(session)
    cans = [row.part for row in listed if is_a(row.part, Trait.ELECTROLYTIC)]
    if stage is Stage.PARTS and cans:
        return "ripple", {"volts": part_volts(cans[0]), **_farads(cans[0])}
    if stage is Stage.POWER_UP:
        found = limiter_for(session)
        given = {"volts": mains["volts"]}
        if found is not None and found.ohms:
            given |= {"ohms": found.ohms, "watts": found.watts}
        return "limiter", given | ({"lamp": found.watts} if found and found.is_lamp else {})
    charged = session.to_measure()
    if stage is Stage.REWORK and charged:
        first = charged[0]
        return "discharge", {"volts": first.most_volts, "farads": first.farads}
    bulk = board.roles.get(BoardRole.BULK, [])
    return "bulk", {**mains, **(_farads(board.component(bulk[0])) if bulk else {})}


def _farads(part: Component) -> dict[str, float]:
    return {"farads": component_value(part.value)} if part.value else {}
