"""What was done, and what came of it: three outcomes, and a deed whose outcome is not plain still
changes the board as it is from then on."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from loose_rail.app.job_file.log.alone import how_it_measured, way_by_itself
from loose_rail.app.job_file.log.boards_behind import loads_named
from loose_rail.app.job_file.log.came_of_it import came_of, read_in_result, right_again
from loose_rail.app.job_file.log.elsewhere import is_mains_switch, of_another_board, other_part
from loose_rail.app.job_file.log.entries import Did
from loose_rail.app.job_file.log.limiter import first_power
from loose_rail.app.job_file.log.loading import put_on
from loose_rail.app.job_file.log.on_a_tester import tried_on_a_tester
from loose_rail.app.job_file.log.outcomes import outcome
from loose_rail.app.job_file.log.rectifier_halves import both_halves
from loose_rail.app.job_file.log.resetting import reset
from loose_rail.app.job_file.log.sections import in_section
from loose_rail.app.job_file.log.situation import brought
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.unlisted import (
    measured_elsewhere,
    measured_unlisted,
    renewed_unlisted,
)
from loose_rail.app.job_file.log.unplugging import adapter_loaded, lamps_substituted, unplug
from loose_rail.boards.own.pin_label import PinJob, pin_meaning
from loose_rail.boards.parts_named import MOST_MEANT
from loose_rail.diagnosis.evidence.deed_clues import (
    forced_clue,
    thermal_clue,
)
from loose_rail.diagnosis.evidence.soft_evidence import (
    Clue,
    board_swapped_clue,
    cleared_clue,
    replaced_clue,
    works_clue,
)
from loose_rail.diagnosis.proof.plan import SWITCHED_ON
from loose_rail.jobs import events as ev
from loose_rail.kernel.negation import plain_match
from loose_rail.vocabulary.light import Light
from loose_rail.vocabulary.roles import BoardRole


def tell_deed(teller: Teller, deed: Did) -> None:
    """Tell one deed."""
    {
        "replaced": _replaced,
        "removed": _removed,
        "lifted": _removed,
        "unplugged": unplug,
        "heated": _thermal,
        "cooled": _thermal,
        "reset": reset,
        "forced": _forced,
        "soaked": _soaked,
        "limiter": first_power,
        "loaded": _loaded,
        "injected": put_on,
    }[deed.deed](teller, deed)


_OF_WHAT = re.compile(r"\b(of|in|at|on|from) (the|its|that) .+$", re.IGNORECASE)


def several(teller: Teller, what: str) -> list[str]:
    """The parts that words mean, those of “both switches and the fuse” too."""
    pieces = re.split(r"\band\b|,|\+|/", what)
    where = _OF_WHAT.search(pieces[-1])
    if len(pieces) > 1 and where is not None:  # “switch and fuse of the address converter”
        pieces = [p if _OF_WHAT.search(p) else f"{p} {where[0]}" for p in pieces]
    each = [teller.parts(piece) for piece in pieces] if len(pieces) > 1 else []
    listed = list(dict.fromkeys(ref for refs in each for ref in refs))
    if each and all(each):
        return listed
    return teller.parts(what) or listed  # of a list, what is known


def _replaced(teller: Teller, deed: Did) -> None:
    """A new part: cured, changed nothing, or it is not plain. What helped ends the round."""
    helped = came_of(teller, deed.result)
    what = deed.what
    if re.search(r"solder|reflow|joint", what.lower()):
        what = re.sub(r"solder\w*|reflow\w*|joints?|pins?", " ", what)
        what = re.sub(r"^\W*(?:of|at|on|under) (?:the )?", "", what).strip()
    parts = [] if of_another_board(deed.what) else several(teller, what)
    of_cabinet = is_mains_switch(teller.board, what) and "power switch" not in what.lower()
    if of_cabinet or (teller.board.adapter_fed and _ADAPTER.search(what)):
        parts = teller.board.roles.get(BoardRole.CORD, [])[:1]
    parts = parts or _plug_of(teller, deed.what)
    if not parts:
        _replaced_elsewhere(teller, deed, helped)
        return
    whole = both_halves(teller.board, parts, what)
    new = replaced_clue(teller.table, whole[0], bool(helped), whole) if len(whole) > 1 else None
    another = helped is False and _ANOTHER_FAULT.search(deed.result) is not None
    if (helped is None or another) and right_again(teller, deed.result):
        helped = True  # it cured that; what is still there is another fault
    if helped is False:
        teller.aside(new or _new_parts(teller, deed, parts, False), deed.number)
        teller.understand(f"{teller.name(parts[0])} replaced: changed nothing")
        return
    if helped:
        teller.aside(new or _new_parts(teller, deed, parts, True), deed.number)
    for part in whole or parts:
        teller.record(ev.PartFitted(part))
    left = seen_of(deed.result)
    if helped and left is not None:
        read_in_result(teller, deed.result, deed.number, SWITCHED_ON)
        teller.record(ev.LightSeen(left))
        teller.understand(f"“{deed.result}” → still wrong: {left.label}")
    teller.situation = replace(teller.situation, out=teller.situation.out - set(parts))
    if helped is None:
        read_in_result(teller, deed.result, deed.number)
    came = "cured it" if helped else "what came of it is not plain"
    teller.understand(f"{teller.name(parts[0])} replaced: {came}")


_CONTACTS = re.compile(
    r"\b(crimps?|contacts?|plugs?|pins?|connectors?|housings?|wires?|cables?|harness|leads?)\b"
    r"[^,;]{0,24}\b(of|on|at|to|for)\b|\b(cable|plug|connector|harness)$",
    re.IGNORECASE,
)


def _plug_of(teller: Teller, what: str) -> list[str]:
    """The connector of the board whose cable or contacts were renewed: “both crimps of the inverter
    cable”. None where the board itself was."""
    if _CONTACTS.search(what) is None:
        return []
    roles = teller.board.roles
    plugs = [
        ref
        for load in loads_named(teller.board, what)
        for ref in roles.get(f"{load}.connector", [])
    ]
    return plugs[:1]


_ANOTHER_FAULT = re.compile(
    r"^(?!.*\b(dead|as before|again|same|no change|fuse|blow\w*|blew|bang|ticks?|then)\b)"
    r".*\b(?:still|but)\b[^,;]*\b"
    r"(flicker\w*|dim|dark|black|lines?|stripes?|no (picture|sound|backlight))\b",
    re.IGNORECASE,
)
"""What a set does that runs again and has another fault: never what a dead one does."""
_LIGHTS = (
    (Light.FLICKERS, r"flicker\w*|puls\w*"),
    (Light.NO_PICTURE, r"no picture|black picture|lines?|stripes?"),
    (Light.DIM, r"dim|uneven|(?:half|side|corner|part|edge)\b[^,;]*\bdark"),
    (Light.DARK, r"no (?:back ?)?light|dark|black"),
)
_OTHER_LAMP = re.compile(r"\b(lamp|bulb|limiter|indicator|dot)\b", re.IGNORECASE)


def seen_of(result: str) -> Light | None:
    """What light and picture still do, said with a “still” or a “but”; None where that
    is not told, is denied (“still no flicker”), or is of the lamp in line."""
    clauses = [one for one in re.split(r"[,;]", result.lower()) if not _OTHER_LAMP.search(one)]
    for light, words in _LIGHTS:
        for clause in clauses:
            if re.search(r"\bstill\b|^ ?but\b", clause) and plain_match(
                rf"\b(?:{words})\b", clause
            ):
                return light
    return None


_TOGETHER = re.compile(r"\b(and|both|all|each|two|three|four|pair)\b|[,+/]", re.IGNORECASE)
"""Words by which several parts are replaced; else one of several is meant."""


def _new_parts(teller: Teller, deed: Did, parts: Sequence[str], helped: bool) -> Clue:
    if _TOGETHER.search(deed.what):
        return replaced_clue(teller.table, parts[0], helped, parts)
    return teller.spread([replaced_clue(teller.table, one, helped) for one in parts], deed.what)


_ADAPTER = re.compile(
    r"^(the |its )?(power )?(adapter|brick|external supply)\b(?! (jack|socket|plug))", re.IGNORECASE
)


_WHOLE_BOARD = re.compile(
    r"^(the )?(whole )?(power|supply|psu)( supply)?[ -]?(board|unit|pcb)?\b"
    r"(?! (switch|cord|plug|on))",
    re.IGNORECASE,
)


def _replaced_elsewhere(teller: Teller, deed: Did, helped: bool | None) -> None:
    if _WHOLE_BOARD.search(deed.what) and helped is not None:
        teller.aside(board_swapped_clue(teller.table, helped), deed.number)
        came = "cured it" if helped else "changed nothing"
        teller.understand(f"the whole supply exchanged: {came}")
        return
    far = other_part(teller.board, deed.what)
    swapped = re.search(r"swapped|exchanged", deed.what.lower())
    if far and swapped:
        moved = re.search(r"now|moves|goes with|wanders", deed.result.lower())
        if moved:
            teller.aside(cleared_clue(teller.table, far, good=False), deed.number)
        teller.understand(f"“{deed.what}”: the fault {'moves along' if moved else 'stays'}")
        return
    if far and helped is not None:
        teller.aside(replaced_clue(teller.table, far, helped), deed.number)
        teller.understand(
            f"{teller.name(far)} replaced: {'cured it' if helped else 'changed nothing'}"
        )
        return
    if renewed_unlisted(teller, deed.what, helped, deed.number):
        return
    if helped:
        said = f"{deed.what} replaced, and it works"
        teller.aside(works_clue(teller.table, said, soaked=True), deed.number)
    if helped is not None:
        teller.understand(f"“{deed.what}” is none of this board: {deed.result}")
        return
    teller.leave(
        f"replaced {deed.what}: {deed.result}", "which part, and did it help? Both in plain words"
    )


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
    for part in parts if every else parts[:1]:
        if good is not None:
            teller.record(ev.ClueNoted("removed", part, answer))
    told = "out" if good is None else f"{answer} by itself"
    teller.understand(f"{', '.join(teller.name(p) for p in parts[:2])} {deed.deed}: {told}")


_AROUND = re.compile(r"\b(around|area|region|corner|surroundings|neighbourhood|part of)\b")
_OTHERS_SHIELDED = re.compile(r"\b(all |the )?(others?|rest)\b[^,;]*\b(shielded|covered|masked)\b")


_ON_BOARD = re.compile(r"\b(on )?(the )?(main|timing|t-?con|drive|sustain|tuner) board\b")
_SAME_PLACE = re.compile(r"\b(same|that) (place|spot|part|one|area|corner|thing)\b|^(it|there)\b")


_AS_IT_WAS = re.compile(
    r"\b(?:no|not|n't|nothing|none|still|same|unchanged|as before|like before|keeps?|stays?|"
    r"remains?|carries|goes on|on and on|as (?:it|he) (?:was|did)|all along|regardless|"
    r"either way|dead|dark)\b",
    re.IGNORECASE,
)
"""Warmth or cold that changed nothing, where the words are of a fault."""


def _thermal(teller: Teller, deed: Did) -> None:
    heated = deed.deed == "heated"
    words = deed.what.lower()
    parts = []
    for piece in re.split(r"\band\b|,", _OTHERS_SHIELDED.sub(" ", words)):
        parts += teller.parts(piece)
    if parts and _AROUND.search(words):
        sections = {teller.board.component(ref).section for ref in parts}
        parts += [p.ref for p in teller.board.components if p.section in sections]
        parts = list(dict.fromkeys(parts))
    parts = parts or in_section(teller.board, words)
    far = other_part(teller.board, words)
    if far and _ON_BOARD.search(words):
        parts = []  # “main board, near the big chip”: none of this one
    if teller.warmed and not far and _SAME_PLACE.search(words):
        parts = list(teller.warmed)
    helped = came_of(teller, deed.result)
    if helped is None and right_again(teller, deed.result, of_a_dead_set=False):
        helped = True  # “5.04 V the moment the spray hits it”, where it pumped
    came_on = re.search(
        r"starts to (pump|tick|pulse|sag)|\b(re)?(boots|starts) (again|at once)\b|"
        r"goes out|fails|drops|dies|trips|\boff again\b|\bcollapses?\b|\bsags?\b|\bdips?\b|"
        r"\b(falls|shuts|cuts|switches) (down|off|out|away|to)\b|"
        r"\b(goes|runs|climbs|rises|jumps|shoots) (up|down)? ?to \d|"
        r"goes (off|dark|black)|stays dark|comes and goes?|come and go|"
        r"\b(swings?|hunts?|wanders?|pumps?|flickers?|pulses|sags?) (more|again|at once|wildly)\b|"
        r"(starts|begins) (again )?to (swing|hunt|wander|flicker)|fault (is )?(back|there)",
        deed.result,
    )
    if came_on and not re.search(r"(?<!re)starts (again|at once)", deed.result):
        helped = False
    elif helped is False and _AS_IT_WAS.search(deed.result):
        helped = None
    if helped is None:
        helped = _answers(teller, deed.result)
    if not parts and far:
        parts = [far]
    if not parts:
        teller.leave(f"{deed.deed} {deed.what}", "no such part is known on this board")
        return
    if "tester" in words and far and helped is False:
        teller.aside(cleared_clue(teller.table, far, good=False), deed.number)
    teller.warmed = tuple(parts)
    teller.aside(thermal_clue(teller.table, parts, heated, helped), deed.number)
    came = {True: "cured it", False: "brought the fault", None: "no change"}[helped]
    teller.understand(f"{teller.name(parts[0])} {deed.deed}: {came}")


_BETTER = re.compile(r"\b(slower|weaker|quieter|rarer|better|less|calmer|seldom)\b", re.IGNORECASE)
_WORSE = re.compile(r"\b(faster|louder|worse|more often|wilder|stronger)\b", re.IGNORECASE)
NEARER_SHARE = 0.05
"""A rail that moves by less under warmth or cold has not answered [E]."""


def _answers(teller: Teller, result: str) -> bool | None:
    """Whether a fault that stays answers to warmth or cold: better or worse, by the volts of the
    rail that was read last where they are told; None where it does not answer."""
    if _AS_IT_WAS.search(result):
        return None
    volts = re.findall(r"(\d+(?:[.,]\d+)?) ?v\b", result.lower())
    live = [r for r in teller.job.live_readings if teller.rail_read(r.probe)]
    rail = teller.board.rail_of(teller.rail_read(live[-1].probe)) if live else None
    if len(volts) == 1 and rail is not None and rail.volts:
        was = abs(live[-1].observation.high - rail.volts)
        now = abs(float(volts[0].replace(",", ".")) - rail.volts)
        return None if abs(was - now) < NEARER_SHARE * rail.volts else now < was
    better, worse = _BETTER.search(result), _WORSE.search(result)
    return None if bool(better) is bool(worse) else bool(better)


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


def _forced(teller: Teller, deed: Did) -> None:
    """A signal tied from outside: the board is forced from here on."""
    text = f"forced {deed.what}".lower()
    set_on = re.search(r"set on|cable on", text)
    plain = re.sub(r"set on|cable on|switched on", " ", text)
    start = re.search(
        r"relay|rly|ps[-_ ]?on|(?<![-_\w])on\b|start|stb|pon|pson", plain
    ) or _start_pin_in(teller, text)
    if start and set_on:
        found = brought(teller.board, teller.situation, f"forced, cable on, {deed.what}")
        teller.situation = found or teller.situation
    if start and not set_on:
        teller.bring(brought(teller.board, teller.situation, f"forced, cable off, {deed.what}"))
    signal = _signal_forced(teller, text)
    helped = outcome(deed.result) or bool(re.search(r"light comes on|picture|\d+ v\b", deed.result))
    if signal and not start and helped:
        main = teller.board.roles[BoardRole.MAIN_LOAD][0]
        teller.aside(forced_clue(teller.table, main, signal), deed.number)
        teller.situation = replace(teller.situation, tied=signal)
    if start:
        read_in_result(teller, deed.result, deed.number)
    teller.understand(f"forced {deed.what}: {deed.result}")


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
