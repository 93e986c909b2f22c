"""A load or a cable that was unplugged: it came back, it did not, or the demand went with it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from loose_rail.app.job_file.log.boards_behind import loads_named
from loose_rail.app.job_file.log.came_of_it import came_of, read_in_result, wrong_by_name
from loose_rail.app.job_file.log.elsewhere import GIVES_SHARE, other_part
from loose_rail.app.job_file.log.entries import Did
from loose_rail.app.job_file.log.freed_rail import of_the_rail
from loose_rail.app.job_file.log.on_a_tester import tried_on_a_tester
from loose_rail.app.job_file.log.outcomes import outcome
from loose_rail.app.job_file.log.resetting import reset
from loose_rail.app.job_file.log.situation import brought
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.boards.parts_named import volts_named
from loose_rail.diagnosis.evidence.deed_clues import beside_found_clue
from loose_rail.diagnosis.evidence.soft_evidence import (
    cleared_clue,
    disconnected_clue,
    replaced_clue,
    unloaded_clue,
)
from loose_rail.jobs import events as ev
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.roles import BoardRole

CAME = {True: "it came back", False: "no change", None: "not plain what came of it"}
_MAIN_CABLE = re.compile(r"main cable")
_ITS_PLUG = re.compile(r"main (cable|plug|connector)|cn\d+")
_PUT_BACK = re.compile(
    r"[^,;]*\b(plugged|connected|back|fitted) (in |on )?(again|back|in)\b[^,;]*", re.IGNORECASE
)
"""“Z board at CN6, Y plugged again”: what is back is not unplugged."""
_CABLE_ON = re.compile(
    r"[,;(]?\s*\b(with )?(the )?main (board )?(cable|plug|connector)( still| left| is)* "
    r"(on|in|plugged|connected)(?= ?($|[,;)]))"
)
"""What stays plugged while another thing is not."""
_FROM_MAINS = re.compile(
    r"\b(from|off) the (mains|wall|outlet)\b(?! (fuse|filter|choke))|"
    r"^(the )?(mains|wall) plug\b"
)
"""The whole set without mains for a while."""
_CORD = re.compile(r"cord|mains lead")
_BESIDE = re.compile(
    r"cord|mains lead|aerial|usb|hdmi|memory stick|card|player|decoder|set.?top|console|speaker"
)


def unplug(teller: Teller, deed: Did) -> None:
    """Tell a load or cable that was unplugged, and what came of it."""
    words = _CABLE_ON.sub(" ", deed.what.lower())
    if _FROM_MAINS.search(words):
        reset(teller, deed)
        return
    main = set(teller.board.roles.get(BoardRole.MAIN_LOAD, []))
    named = loads_named(teller.board, _PUT_BACK.sub(" ", deed.what))
    if lamps_substituted(teller, deed):
        return
    if _MAIN_CABLE.search(words) or (_ITS_PLUG.search(words) and set(named) & main):
        _main_cable_off(teller, deed)
        return
    if not named and _EVERYTHING.search(words):
        _everything_off(teller, deed)
        return
    loads = [ref for ref in named if ref not in main]
    by_rail = of_the_rail(deed.result)
    if not loads and by_rail is not None:
        loads = [ref for ref in named if ref in main]
    far = loads[0] if loads else other_part(teller.board, deed.what)
    helped = came_of(teller, deed.result) if by_rail is None else not by_rail
    if helped is None and _stands_again(teller, deed.result):
        helped = True
    elif helped is None and by_rail is None and wrong_by_name(teller, deed.result):
        helped = False  # “5VS stays at 3.7 V”
    if not far:
        _beside(teller, deed, helped)
    elif "asks" in teller.board.component(far).params:
        if helped is not None:
            teller.aside(cleared_clue(teller.table, far, good=not helped), deed.number)
        teller.understand(f"{teller.name(far)} unplugged: {CAME[helped]}")
    else:
        _load_off(teller, deed, loads or [far], helped)


_RISES = re.compile(
    r"\b(?:goes|rises|comes|climbs|jumps|springs)(?: back| up)* to "
    r"(\d+(?:[.,]\d+)?) ?v\b(?!,? (?:and|then|but))",
    re.IGNORECASE,
)


_AT_ITS_PLUG = re.compile(
    r"^\W*(\d+(?:[.,]\d+)?) ?v (?:at|on) (?:the )?[^,;]*\b(?:plug|socket|connector)\b",
    re.IGNORECASE,
)
"""“12 V at the main board's panel plug”, once what hung there is off."""


def _stands_again(teller: Teller, result: str) -> bool:
    """Whether a rail, of this board or of the one behind it, goes to its own volts: those that it
    is named by, else those of the rail that was read last. 12 V that goes to 5 V does not."""
    found = _RISES.search(result) or _AT_ITS_PLUG.search(result)
    if found is None:
        return False
    named = volts_named(result[: found.start()])
    read = [teller.board.rail_of(teller.rail_read(r.probe)) for r in teller.job.live_readings]
    last = next((rail.volts for rail in reversed(read) if rail is not None and rail.volts), None)
    wanted = [named or last] if named or last else [rail.volts for rail in teller.board.rails]
    volts = float(found[1].replace(",", "."))
    return any(abs(volts / one - 1.0) < AGAIN_SHARE for one in wanted if one)


AGAIN_SHARE = 0.06
"""A rail this near to its volts stands again [E]."""


GOOD_ONE = re.compile(
    r"\b(known[- ]good|good|another|other|spare|test|new) (\w+ )?"
    r"(tube|lamp|strip|bar|string|backlight)s?\b[^,;]*"
    r"\b(in (its|their) (place|stead)|in (the )?(place|stead) of|instead|held|connected|plugged|"
    r"hung|put|on)\b|"
    r"\bwith (a|an|another|other|good|spare|test|known[- ]good) (\w+ )?"
    r"(tube|lamp|strip|bar|string)s?\b( (of|from) (the|my|our) (shop|bench|stock|drawer|donor))?",
    re.IGNORECASE,
)


def lamps_substituted(teller: Teller, deed: Did) -> bool:
    """Good lamps held in the place of the set's own: what comes of it is as of new ones. Whether
    that was told."""
    lamps = [p.ref for p in teller.board.components if p.kind in ("led_strip", "tubes")]
    helped = outcome(deed.result)
    if GOOD_ONE.search(deed.what) is None or not lamps or helped is None:
        return False
    teller.aside(replaced_clue(teller.table, lamps[0], helped), deed.number)
    came = "cured it" if helped else "changed nothing"
    teller.understand(f"good lamps in the place of {teller.name(lamps[0])}: {came}")
    return True


def _beside(teller: Teller, deed: Did, helped: bool | None) -> None:
    """What is none of the boards: the cord, an aerial, a wire."""
    words = deed.what.lower()
    if _adapter_alone(teller, deed):
        return
    if _BESIDE.search(words):
        if helped and _CORD.search(words):
            teller.record(ev.HistoryNoted("cord_dead", deed.result))
            for ref in teller.board.roles.get(BoardRole.CORD, [])[:1]:
                teller.aside(replaced_clue(teller.table, ref, True), deed.number)
                teller.record(ev.PartFitted(ref))
        elif helped:  # what hung there, or what feeds it on the main board
            words = f"{deed.what}: {deed.result}"
            for ref in teller.board.roles.get(BoardRole.MAIN_LOAD, [])[:1]:
                teller.aside(beside_found_clue(teller.table, ref, words), deed.number)
        teller.understand(f"“{deed.what}”: {deed.result}")
    elif re.search(r"wire|pin", words):
        teller.understand(f"“{deed.what}”: {deed.result}; noted")
    else:
        teller.leave(f"unplugged {deed.what}", "which board or cable? Its connector, or what it is")


_VOLTS = re.compile(r"(\d+(?:[.,]\d+)?) ?v\b", re.IGNORECASE)


def _adapter_alone(teller: Teller, deed: Did) -> bool:
    """The adapter pulled off, and what it gives by itself. Whether that was told."""
    volts = _VOLTS.search(deed.result)
    named = re.search(r"\b(adapter|brick|external supply|charger)\b", deed.what, re.IGNORECASE)
    elsewhere = re.search(r"\b(board|input|rail|pin|monitor|set)\b", deed.result, re.IGNORECASE)
    if not teller.board.adapter_fed or named is None or volts is None or elsewhere:
        return False
    nominal = next((one.volts for one in teller.board.stages if one.kind == "adapter"), 0.0)
    gives = float(volts[1].replace(",", ".")) > GIVES_SHARE * nominal
    for part in teller.board.roles.get(BoardRole.CORD, [])[:1]:
        bent = re.search(r"\b(whatever|however|bent?|moved?|wiggl\w+|shak\w+)\b", deed.result, re.I)
        if gives and bent:
            teller.aside(cleared_clue(teller.table, part, good=True), deed.number)
        elif gives:  # unloaded: it may still give way
            teller.aside(unloaded_clue(teller.table, part), deed.number)
        else:
            teller.aside(cleared_clue(teller.table, part, good=False), deed.number)
    teller.understand(f"the adapter by itself: {volts[0]}, {'good' if gives else 'too little'}")
    return True


_GIVES_WAY = re.compile(
    r"\b(falls?|drops?|sags?|sinks?|collapses?|breaks? down|dips?|ticks?|pulses|goes) (down )?"
    r"(to|below|out|off)\b|\b(collapses|ticks|pulses|cuts out|shuts off)\b",
    re.IGNORECASE,
)


def adapter_loaded(teller: Teller, deed: Did) -> bool:
    """The adapter by itself with a load: it holds, or it gives way. Whether that was told."""
    named = re.search(r"\b(adapter|brick|external supply|charger)\b", deed.what, re.IGNORECASE)
    if not teller.board.adapter_fed or named is None:
        return False
    volts = _VOLTS.search(deed.result)
    nominal = next((one.volts for one in teller.board.stages if one.kind == "adapter"), 0.0)
    low = volts is not None and float(volts[1].replace(",", ".")) < GIVES_SHARE * nominal
    gives_way = low or _GIVES_WAY.search(deed.result) is not None
    if not gives_way and volts is None:
        return False
    for part in teller.board.roles.get(BoardRole.CORD, [])[:1]:
        teller.aside(cleared_clue(teller.table, part, good=not gives_way), deed.number)
    teller.understand(f"the adapter under load: {'it gives way' if gives_way else 'it holds'}")
    return True


def _load_off(teller: Teller, deed: Did, loads: Sequence[str], helped: bool | None) -> None:
    far, said = loads[0], deed.result.lower()
    lamps = teller.board.component(far).kind in ("led_strip", "tubes")
    if lamps and tried_on_a_tester(teller, deed.what, deed.result, deed.number):
        return
    if lamps and helped and re.search(r"light|lit", said):
        teller.aside(cleared_clue(teller.table, far, good=True), deed.number)
    elif helped is not None:
        rails = {load.rail for load in teller.board.loads if load.part in loads}
        twins = {load.part for load in teller.board.loads if load.rail in rails} - set(loads)
        # what is weak itself would have gained from the other board of its rail, too
        stays = helped and re.search(r"\b(stays? on|runs|plays|light and sound|picture)\b", said)
        read = re.search(r"\d ?v\b", said)
        surely = bool(read or stays or (helped and twins & teller.unmoved))
        if helped is False:
            teller.unmoved |= set(loads)
        clues = [disconnected_clue(teller.table, one, helped, surely) for one in loads]
        teller.aside(teller.spread(clues, deed.what), deed.number)
    fed = {load.part for load in teller.board.loads}
    without = frozenset({far}) if far in fed else frozenset()
    teller.situation = replace(teller.situation, without=without)
    teller.understand(f"{teller.name(far)} unplugged: {CAME[helped]}")


_EVERYTHING = re.compile(
    r"^(?:all|everything|all (?:of )?(?:the )?(?:\w+ )?(?:boards?|cables?|plugs?|connectors?|"
    r"outputs?|"
    r"loads?|leads?)|(?:every|each) (?:\w+ )?(?:board|cable|plug|connector|output|load))\b"
)


def _everything_off(teller: Teller, deed: Did) -> None:
    """Every board unplugged: what came of it is of them together, and the demand goes with it."""
    teller.bring(brought(teller.board, teller.situation, "main cable off"))
    count = read_in_result(teller, deed.result, deed.number)
    helped = outcome(deed.result)
    if not count and helped is not None:
        loads = list(dict.fromkeys(load.part for load in teller.board.loads))
        clues = [disconnected_clue(teller.table, one, helped) for one in loads]
        if helped:
            teller.aside(teller.spread(clues, deed.what), deed.number)
        else:
            for clue in clues:
                teller.aside(clue, deed.number)
    teller.understand(f"every board unplugged: {CAME[helped]}")


def _main_cable_off(teller: Teller, deed: Did) -> None:
    """The demand goes with the main cable, unless the result says that the start was tied."""
    asleep = teller.situation.state is None or teller.situation.state.power is Power.STANDBY
    told = f"{deed.what} {deed.result}".lower()
    tied = re.search(r"\b(tied|forced|jumper\w*|bridged|1 ?k|held|linked)\b", told)
    teller.bring(
        brought(teller.board, teller.situation, f"{'forced, ' if tied else ''}main cable off")
    )
    count = read_in_result(teller, deed.result, deed.number)
    helped = outcome(deed.result)
    if not count and helped is not None and (asleep or tied):
        for ref in teller.board.roles.get(BoardRole.MAIN_LOAD, [])[:1]:
            teller.aside(disconnected_clue(teller.table, ref, helped), deed.number)
    teller.understand(f"main cable off: {deed.result or 'the demand goes with it'}")
