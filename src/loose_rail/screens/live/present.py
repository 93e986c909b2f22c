"""The panel of the meter that follows the card."""

from __future__ import annotations

from loose_rail.app.live_meter import Phase
from loose_rail.app.live_reading import LiveDesk
from loose_rail.app.series_words import character_words, shown
from loose_rail.screens.live.state import LiveState

PHASE_WORDS = {
    Phase.IDLE: "nothing is asked",
    Phase.LIFT: "held: take the probes to the next point",
    Phase.TOUCH: "waiting for the probes",
    Phase.SETTLING: "settling",
    Phase.HELD: "held",
}
SHOWN_SECONDS = 12.0
"""How much of the stream the panel draws."""


def live_state(desk: LiveDesk) -> LiveState:
    """The panel as it stands."""
    if not desk.on:
        return LiveState(False)
    meter, unit = desk.meter, desk.meter.mode.unit
    seconds, values = meter.recent(SHOWN_SECONDS)
    reads = meter.phase in (Phase.SETTLING, Phase.HELD)
    found = meter.finding() if reads else None
    watched = desk.watch.value
    return LiveState(
        on=True,
        name=desk.name or "opening the meter",
        reading="" if meter.value is None else shown(meter.value, unit),
        unit=unit,
        phase=str(meter.phase),
        phase_words=PHASE_WORDS[meter.phase],
        statistics=_statistics(desk, unit) if reads else "",
        character=character_words(found, unit) if found else "",
        trouble=desk.trouble,
        seconds=tuple(seconds),
        values=tuple(values),
        band=desk.wanted.band if desk.wanted else None,
        watched="" if watched is None else f"{shown(watched, 'V')} (meter B)",
    )


def _statistics(desk: LiveDesk, unit: str) -> str:
    found = desk.meter.statistics()
    if found is None:
        return ""
    return (
        f"min {shown(found.least, unit)} · max {shown(found.greatest, unit)} · "
        f"mean {shown(found.mean, unit)}"
    )
