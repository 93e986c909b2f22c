"""The meters page as it is drawn."""

from __future__ import annotations

from loose_rail.app.meters import ROLES, MeterDesk
from loose_rail.screens.meters.state import MeterRow, MetersState


def meters_state(desk: MeterDesk, can_speak: bool) -> MetersState:
    """The page as it stands."""
    chosen = {str(desk.setting(key)): words for key, words in ROLES if desk.setting(key)}
    rows = tuple(
        MeterRow(
            address=one.address,
            words=one.problem or f"{one.name} · profile {one.profile}",
            role=chosen.get(one.address, ""),
            answers=not one.problem,
        )
        for one in desk.places
    )
    return MetersState(
        rows=rows,
        chosen=tuple((words, str(desk.setting(key)) or "none") for key, words in ROLES),
        tones=bool(desk.setting("tones")),
        speech=bool(desk.setting("speech")),
        speech_words="" if can_speak else "speech-dispatcher is not installed",
        foot_key=str(desk.setting("foot_key")),
        profiles=desk.profiles,
        bench_reads=desk.reads,
    )
