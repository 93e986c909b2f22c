"""A rail or a start that was read at both ends of its cable: what lies between is the contact."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.elsewhere import Other
from loose_rail.app.job_file.log.entries import Read
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.boards.parts_named import volts_named
from loose_rail.boards.probes import Probe
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.both_ends import DROPS_VOLTS, NO_DROP
from loose_rail.vocabulary.roles import BoardRole

LOST_SHARE = 0.04
"""A cable and its contacts that lose more of a rail than this are bad; less is what a good cable
loses at full load [P]."""


def far_end(teller: Teller, entry: Read, other: Other, seen: Observation) -> bool:
    """A rail at the other end of its cable against what it read at this board: what lies between is
    the contact. False where it was not read here before, or moves."""
    volts = volts_named(re.sub(r"[^,;]*\bend\b.*", "", entry.at)) or volts_named(entry.at)
    volts = volts if volts is not None else _volts_of_label(teller, entry.at)
    near = [
        reading.observation.low
        for reading in teller.job.live_readings
        if reading.observation.form is Form.VALUE
        and reading.state == teller.situation.known
        and (rail := teller.board.rail_of(teller.rail_read(reading.probe))) is not None
        and volts is not None
        and abs(rail.volts / volts - 1.0) < LOST_SHARE
    ]
    moves = seen.form in (Form.TICKING, Form.FALLING, Form.RISING, Form.RANGE)
    if not near or not (moves or seen.form is Form.VALUE):
        return False
    share = seen.low / near[-1]
    behind = other.part or _main(teller)
    plug = next(iter(teller.board.roles.get(f"{behind}.connector", [])), "")
    if not plug or share > 1.0 + LOST_SHARE:
        return False
    if share < 1.0 - LOST_SHARE:
        teller.record(ev.FindingNoted(plug, DROPS_VOLTS))
        teller.understand(f"{entry.text} at {entry.at}: lost between {plug} and there")
    else:
        teller.record(ev.FindingNoted(plug, NO_DROP))
        teller.understand(f"{entry.text} at {entry.at}: it arrives")
    return True


def _volts_of_label(teller: Teller, at: str) -> float | None:
    """Volts of the rail whose printed label stands in the words of a place: “5VSB”."""
    volts = {rail.net: rail.volts for rail in teller.board.rails}
    for plug in teller.board.connectors:
        for pin in plug.pins:
            if pin.net in volts and re.search(rf"(?<!\w){re.escape(pin.label)}(?!\w)", at, re.I):
                return volts[pin.net]
    return None


def _main(teller: Teller) -> str:
    return next(iter(teller.board.roles.get(BoardRole.MAIN_LOAD, [])), "")


ASKED_VOLTS, ARRIVES_SHARE = 2.0, 0.6
"""A start that is given, and what of it arrives where its contact is whole [P]."""


def lost_on_the_way(teller: Teller, entry: Read, probe: Probe, seen: Observation) -> None:
    """A start that the main board gives and that does not arrive here is lost in the plug."""
    told = teller.at_main
    starts = {one.id for one in teller.board.signals if one.id == "start"}
    if told is None or probe.observable not in starts or seen.form is not Form.VALUE:
        return
    there, volts = told
    if there.known != teller.situation.known or volts < ASKED_VOLTS:
        return
    main = next(iter(teller.board.roles.get(BoardRole.MAIN_LOAD, [])), "")
    plug = next(iter(teller.board.roles.get(f"{main}.connector", [])), "")
    if plug and abs(seen.centre) < ARRIVES_SHARE * volts:
        teller.record(ev.FindingNoted(plug, DROPS_VOLTS))
        teller.understand(f"{entry.text} at {entry.at}: lost between the main board and {plug}")
