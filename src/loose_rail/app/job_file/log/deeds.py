"""What was done, and what came of it: three outcomes, and a deed whose outcome is not plain still
changes the board as it is from then on."""

from __future__ import annotations

import re
from dataclasses import replace

from loose_rail.app.job_file.log.alone import how_it_measured, way_by_itself
from loose_rail.app.job_file.log.boards_behind import loads_named
from loose_rail.app.job_file.log.came_of_it import read_in_result
from loose_rail.app.job_file.log.elsewhere import other_part
from loose_rail.app.job_file.log.entries import Did
from loose_rail.app.job_file.log.limiter import first_power, in_place_of_the_fuse
from loose_rail.app.job_file.log.loading import put_on
from loose_rail.app.job_file.log.on_a_tester import tried_on_a_tester
from loose_rail.app.job_file.log.outcomes import outcome
from loose_rail.app.job_file.log.replacing import replaced, several
from loose_rail.app.job_file.log.resetting import reset
from loose_rail.app.job_file.log.situation import brought
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.unlisted import (
    measured_elsewhere,
    measured_unlisted,
)
from loose_rail.app.job_file.log.unplugging import adapter_loaded, lamps_substituted, unplug
from loose_rail.app.job_file.log.warming import warmed
from loose_rail.boards.own.pin_label import PinJob, pin_meaning
from loose_rail.boards.parts_named import MOST_MEANT
from loose_rail.boards.probes import probes_of
from loose_rail.diagnosis.evidence.deed_clues import (
    forced_clue,
)
from loose_rail.diagnosis.evidence.soft_evidence import (
    cleared_clue,
    works_clue,
)
from loose_rail.diagnosis.evidence.tapped import tapped_clue
from loose_rail.jobs import events as ev
from loose_rail.kernel.negation import plain_match
from loose_rail.kernel.observation import value
from loose_rail.vocabulary.keys import is_ripple
from loose_rail.vocabulary.roles import BoardRole


def tell_deed(teller: Teller, deed: Did) -> None:
    """Tell one deed."""
    if deed.deed in ("replaced", "loaded", "limiter") and in_place_of_the_fuse(teller, deed):
        return
    {
        "replaced": replaced,
        "removed": _removed,
        "lifted": _removed,
        "unplugged": unplug,
        "heated": warmed,
        "cooled": warmed,
        "reset": reset,
        "forced": _forced,
        "soaked": _soaked,
        "limiter": first_power,
        "loaded": _loaded,
        "injected": put_on,
        "tapped": _tapped,
    }[deed.deed](teller, deed)


_NO_ANSWER = re.compile(
    r"^\W*(?:nothing|no (?:change|effect|difference|reaction|answer)|unchanged|(?:the )?same\b|"
    r"as before)|\b(?:does|did)(?: not|n.t| nothing)(?: \w+)? ?(?:answer|react|change|matter|care|"
    r"mind|respond|help|$)|\b(?:is|are|stays?) (?:not impressed|unchanged|the same)\b",
    re.IGNORECASE,
)
"""A knock that moves nothing; “does not go off any more” is an answer."""


def _tapped(teller: Teller, deed: Did) -> None:
    """A knock, a push or a bend at one place: the fault answered, or it did not."""
    if _NO_ANSWER.search(deed.result):
        teller.understand(f"{deed.what} tapped: it does not answer; that clears little")
        return
    parts = teller.parts(deed.what)
    said = f"tapped: {deed.result}"
    if parts:
        teller.aside(tapped_clue(teller.table, parts, said), deed.number)
        teller.understand(f"{teller.name(parts[0])} tapped: it answers there")
    elif far := other_part(teller.board, deed.what):
        teller.aside(tapped_clue(teller.table, [far], said), deed.number)
        teller.understand(f"{teller.name(far)} tapped: it answers there")
    elif "tapping_helps" not in teller.symptoms:
        teller.symptoms.add("tapping_helps")
        teller.record(ev.SymptomNoted("tapping_helps", said))
        teller.understand(f"“{said}” → tapping or moving it changes it")


_CABLE = re.compile(r"\b(cable|plug|flat|ribbon|connector|lead|board)s?\b", re.IGNORECASE)


def _removed(teller: Teller, deed: Did) -> None:
    """A part out of the board, or a leg of it: how it measured by itself, if that is said. A cable,
    or a board beside this one, is unplugged."""
    if tried_on_a_tester(teller, deed.what, deed.result, deed.number):
        return
    if measured_elsewhere(teller, deed.what, deed.result, deed.number):
        return
    if _CABLE.search(deed.what) and (
        loads_named(teller.board, deed.what) or not teller.parts(deed.what)
    ):
        unplug(teller, deed)
        return
    parts = several(teller, deed.what)
    if not parts:
        if not measured_unlisted(teller, deed.what, deed.result, deed.number):
            teller.leave(f"{deed.deed} {deed.what}", "no such part is known on this board")
        return
    if len(parts) > MOST_MEANT:
        why = f"it may be any of {len(parts)} here: say what the part does, or its rail"
        teller.leave(f"{deed.deed} {deed.what}", why)
        return
    teller.situation = replace(teller.situation, out=teller.situation.out | frozenset(parts))
    good = how_it_measured(teller, parts[0], deed.what, deed.result)
    every = re.search(r"\bboth\b|\beach\b|\ball\b", f"{deed.what} {deed.result}".lower())
    answer = "good" if good else way_by_itself(teller, parts[0], deed.result)
    told = "out" if good is None else f"{answer} by itself"
    if len(parts) > 1 and not every:  # one of them, and nobody says which
        if good is not None:
            each = [cleared_clue(teller.table, part, good, way=answer) for part in parts]
            teller.aside(teller.spread(each, deed.what), deed.number)
        teller.understand(f"{deed.what}, one of {len(parts)} parts, {deed.deed}: {told}")
        return
    for part in parts:
        if good is not None:
            teller.record(ev.ClueNoted("removed", part, answer))
    teller.understand(f"{', '.join(teller.name(p) for p in parts[:2])} {deed.deed}: {told}")


_ENABLE = re.compile(r"\bbl\b|bl[-_ ]?on|pnl[-_ ]?on|vs[-_ ]?on|back ?light|inverter|led[-_ ]?on")


_SIGNAL_OF = {
    PinJob.DIM: "dim",
    PinJob.LAMPS_ENABLE: "lamps",
    PinJob.PANEL_ENABLE: "panel",
    PinJob.SUSTAIN_ENABLE: "sustain",
}


def _signal_forced(teller: Teller, text: str) -> str:
    """The signal that was tied, by the printed label of its pin or by its name; empty for none but
    the start."""
    words = {word.strip(",;.") for word in text.split()}
    for connector in teller.board.connectors:
        for pin in connector.pins:
            signal = _SIGNAL_OF.get(pin_meaning(pin.label).job)
            if signal and pin.label.lower() in words:
                return signal
    enable = _ENABLE.search(text)
    if enable is None:
        return ""
    return "panel" if "pnl" in enable[0] else "sustain" if "vs" in enable[0] else "lamps"


def _start_pin_in(teller: Teller, text: str) -> bool:
    """Whether words name the pin that starts the supply, by the label printed beside it."""
    words = {word.strip(",;.") for word in text.split()}
    return any(
        {pin.label.lower(), f"{connector.ref}-{pin.number}".lower()} & words
        and pin_meaning(pin.label).job is PinJob.START
        for connector in teller.board.connectors
        for pin in connector.pins
    )


_SET_ON = re.compile(r"\b(set|tv|telly|monitor|screen|cable) (is )?on\b")


def _forced(teller: Teller, deed: Did) -> None:
    """A signal tied from outside: the board is forced from here on."""
    text = f"forced {deed.what}".lower()
    set_on = _SET_ON.search(text)
    plain = re.sub(r"\bswitched on\b", " ", _SET_ON.sub(" ", text))
    start = re.search(
        r"relay|rly|ps[-_ ]?on|(?<![-_\w])on\b|start|stb|pon|pson", plain
    ) or _start_pin_in(teller, text)
    if start and set_on:
        found = brought(teller.board, teller.situation, f"forced, cable on, {deed.what}")
        teller.situation = found or teller.situation
    if start and not set_on:
        teller.bring(brought(teller.board, teller.situation, f"forced, cable off, {deed.what}"))
    signal = _signal_forced(teller, text)
    helped = outcome(deed.result) or bool(
        re.search(r"light comes on|lights? (up|on)\b|picture|\d+ v\b", deed.result)
    )
    if signal and not start and helped:
        main = teller.board.roles[BoardRole.MAIN_LOAD][0]
        teller.aside(forced_clue(teller.table, main, signal), deed.number)
        teller.situation = replace(teller.situation, tied=signal)
    if start and not read_in_result(teller, deed.result, deed.number):
        _nothing_comes(teller, deed)
    teller.understand(f"forced {deed.what}: {deed.result}")


_NOTHING_COMES = re.compile(
    r"^\W*(?:nothing|no (?:volts|output|rails?|reaction|voltages?)|0(?:[.,]0+)? ?v|"
    r"(?:all|both|every)\b[^,;]{0,14}\b(?:0|zero|nothing|dead)|dead|stays dead|all dead)\b"
    r"(?![^,;]*\bbut\b)",
    re.IGNORECASE,
)
"""What came of tying the start: none of the rails that it asks for."""


def _nothing_comes(teller: Teller, deed: Did) -> None:
    """Every rail that is asked for reads nothing, where the result says no more than that."""
    state = teller.situation.known
    if state is None or not _NOTHING_COMES.match(deed.result):
        return
    for probe in probes_of(teller.board):
        rail = teller.board.rail_of(probe.rail) if probe.live else None
        asked = rail is not None and rail.id != teller.board.standby_rail
        stage = teller.board.stage(rail.id) if rail is not None else None
        lamps = stage is not None and stage.kind in ("led", "ccfl")
        known = f"{probe.id}@{state.key}" in teller.keys and not is_ripple(probe.observable)
        if asked and known and not lamps:
            teller.read(probe.id, state, value(0.0, "V"), deed.number)


_NOTHING_SEEN = re.compile(
    r"^\W*nothing(?: (?:happened|happens|unusual|to (?:report|see)|seen|showed|came( up)?))?"
    r"(?: (?:in|for|over|within|during|all|the whole)\b.*)?\W*$",
    re.IGNORECASE,
)
"""What came of a soak: no fault showed."""


def _soaked(teller: Teller, deed: Did) -> None:
    told = outcome(deed.result)
    ran = plain_match(
        r"no (fault|trouble|problem)|fine|ran|all well|good|steady|works|ok", deed.result.lower()
    )
    clean = _NOTHING_SEEN.search(deed.result) or (told is None and ran)
    helped = True if clean else told
    if helped is None:
        teller.leave(f"soaked: {deed.result}", "did it run without a fault, or not?")
        return
    if helped:
        said = f"soaked {deed.what}: {deed.result}"
        teller.aside(works_clue(teller.table, said, True, hours_of(deed.what)), deed.number)
    teller.understand(f"soaked {deed.what}: {'no fault' if helped else deed.result}")


def _loaded(teller: Teller, deed: Did) -> None:
    """A load on a rail, or good lamps in the place of the set's own."""
    if not (lamps_substituted(teller, deed) or adapter_loaded(teller, deed)):
        put_on(teller, deed)


COUNTS = {
    **{"one": 1, "two": 2, "few": 3, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7},
    **{"eight": 8, "nine": 9, "ten": 10, "twelve": 12},
}
"""Counts in words; a word that is none, such as “for”, is one."""
HOURS_OF = {"min": 1.0 / 60.0, "h": 1.0, "day": 24.0, "night": 10.0}
"""Of each a soak lasts so many hours; a night is ten."""
LASTED = re.compile(
    r"(?:(\d+(?:[.,]\d+)?|[a-z]+) +)?(?:(min|h|day|night)\w*)\b|(\d+(?:[.,]\d+)?)h\b"
)


def hours_of(words: str) -> float | None:
    """Hours in words: 4 h, half an hour, two days, over night; None where they name none."""
    plain = words.lower().replace("half an hour", "0.5 h").replace("half a day", "12 h")
    said = LASTED.search(plain)
    if said is None:
        return None
    if said[3]:
        return float(said[3].replace(",", "."))
    count = said[1] or "1"
    number = COUNTS.get(count, 1) if count.isalpha() else float(count.replace(",", "."))
    return number * HOURS_OF[said[2]]
