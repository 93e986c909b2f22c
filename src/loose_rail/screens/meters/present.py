"""The meters page as it is drawn."""

from __future__ import annotations

from loose_rail.app.meters import ROLES, MeterDesk
from loose_rail.app.settings import CHOICES
from loose_rail.screens.meters.state import MeterRow, MetersState


def meters_state(desk: MeterDesk, can_speak: bool) -> MetersState:
    """The page as it stands."""
    settings = desk.settings
    places = [(getattr(settings, key), words) for key, words in ROLES]
    chosen = {address: words for address, words in places if address}
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
        chosen=tuple((words, address or "none") for address, words in places),
        choices={one.setting: one.stands(settings) for one in CHOICES},
        speech_words="" if can_speak else "speech-dispatcher is not installed",
        foot_key=settings.foot_key,
        profiles=desk.profiles,
    )
