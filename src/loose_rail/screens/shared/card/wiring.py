"""What a card's keys and line lead to, on whatever page it stands."""

from __future__ import annotations

from loose_rail.screens.shared.card.view import NextProbeCard
from loose_rail.screens.shared.host import JobHost


def wire_card(card: NextProbeCard, host: JobHost) -> None:
    """The card belongs to a job."""
    card.commanded.connect(host.command)
    card.typed.connect(host.typed)
    card.other_chosen.connect(host.choose_probe)
