"""What was read or seen on other boards, at the wall, or at strips on a tester.

It belongs to those boards and counts for them; it is never booked on this board's nearest point.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from loose_rail.app.job_file.log.boards_behind import loads_named
from loose_rail.app.job_file.log.outlet_words import OUTLET
from loose_rail.app.job_file.log.situation import place_alone
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.own.pin_label import PinJob, pin_meaning
from loose_rail.boards.parts_named import volts_named
from loose_rail.boards.profile import Board
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.roles import BoardRole

SHORTED_BELOW_OHMS = 30.0
"""A supply pin of another board by itself: below this it loads its rail, above a good board does
not [P]."""
_WALL = re.compile(rf"\bwall\b|{OUTLET.pattern}", re.IGNORECASE)
_INLET = re.compile(
    r"inlet of the set|mains socket (of|on|at) the (set|cabinet)|end of the cord|cord\b|(mains|"
    r"power|appliance|kettle) (lead|flex)|"
    r"^(the )?(lead|flex)\b[^;]*\b(pins?|plug|ends?|live|neutral|conductor)\b|appliance end|"
    r"fuse (in|of|inside) (the|its) (mains )?plug( ?top)?\b|\bplug[- ]?(top )?fuse\b",
    re.IGNORECASE,
)
_STRIPS_SIDE = re.compile(
    r"\b(strips?|strings?|light bars?)(?:'s|s'|') (plug|connector|lead|cable)\b|"
    r"\b(strips|strings|light bars|leds) (at|through|on|over) (the|their) (plug|connector)\b",
    re.IGNORECASE,
)
"""The plug that the strips bring, off the board."""
_STRIP = re.compile(r"\bstrips?\b|\bstrings?\b(?! volt)|\bled bars?\b|strip tester", re.IGNORECASE)
_AT_THE_PLUG = re.compile(r"connector|plug|driver|output|anode|\bplus\b|\+", re.IGNORECASE)
_LAMPS = re.compile(r"(led|back ?light) (connector|plug)|\btubes?\b|\blamps?\b", re.IGNORECASE)
_OTHER = re.compile(
    r"(of|on|at) the (?!(power|supply|psu|socket|inlet|jack)\b)(left |right |upper |lower )?"
    r"(?P<board>\w[\w ]* ?board|t-?con)|"
    r"(of|on|at) the (sound |audio )?amp(lifier)?\b|"
    r"board'?s socket|\b(of|on|at) the [wxyz][- ]?(sus(tain)?|main|drive|scan)\b|"
    r"(?P<own>main|timing|drive|address|buffer|scan|sustain|inverter|led driver|[xyz](?:-sus)?|"
    r"(?:sound )?amp(?:lifier)?|sound|audio|key|receiver)[- ]board|"
    r"(cable|ribbon|flat|lead|harness)'?s? (far|other|free) end|"
    r"(far|other|free) end of (the|its) [\w ]*(cable|ribbon|flat|lead|harness)|"
    r"amplifier's end|at the (sound )?amplifier|^(?P<t>t-?con)\b|(?P<b>buffer) boards?|"
    r"^(the )?[xyzw][- ]?sus(tain)?\b|\b(scan|address|data) (buffer|driver)s?\b|^(the )?buffers?\b",
    re.IGNORECASE,
)
_KEYS = re.compile(
    r"key ?board|keypad|key panel|\bkeys?\b|\bbuttons?\b|control panel|receiver|sensor board|"
    r"front (board|panel)",
    re.IGNORECASE,
)
_SWITCH = re.compile(
    r"\b(power|mains|rocker|on ?/ ?off|line|toggle) switch\b|\brocker\b", re.IGNORECASE
)
_SILICON = re.compile(r"drain|gate|source|\bd to s\b|mosfet|controller", re.IGNORECASE)
_ADAPTER = re.compile(
    r"\b(adapter|power brick|brick|charger)('s)? ?(plug|lead|output|end)?\b.*"
    r"\b(by itself|alone|unplugged|open|off the (set|board)|unloaded|free)\b|"
    r"plug of the (adapter|brick)|(adapter|brick)('s)? (plug|output|end)\b",
    re.IGNORECASE,
)
GIVES_SHARE = 0.8
"""An adapter that gives less of its volts by itself is bad [P]."""
RELEASED_KEY_OHMS = 100e3
"""A key that is not pressed reads well above it [E]."""
_OWN_INPUT = re.compile(r"^(the )?(dc )?input of the board$|^board input$", re.IGNORECASE)
_FAR_END = re.compile(
    r"(main|timing|inverter|lamp|amplifier|audio|drive|led driver) board'?s? "
    r"(socket|plug|end|side|connector)|"
    r"(socket|plug|end|side|connector) (of|on|at) the "
    r"(main|timing|inverter|lamp|amplifier|audio|drive|led driver) board|"
    r"(inverter|amplifier|audio|drive) board,? [^;]*\b(input|supply)\b[^;]*\b(plug|connector|"
    r"socket)\b|"
    r"other end of (the|its) cable|far end",
    re.IGNORECASE,
)
_ONE_SIDE = re.compile(r"\b(left|right|upper|lower|first|second)( \w+)* boards?\b", re.IGNORECASE)
"""A board that comes in pairs: one that reads good says nothing of the other."""
_TO_THE_METAL = re.compile(r"\b(chassis|metal|frame|tray|back ?plate|case|earth)\b", re.I)
_OF_THE_LAMPS = re.compile(
    r"\b(led[ -]?[+-]|strips?|strings?|bars?|led (plug|cable|lead))(?!\w)[^,;]*"
    r"\b(panel|strips?|strings?|chassis|metal|frame|tray)\b",
    re.IGNORECASE,
)
TOUCHES_BELOW_OHMS = 1e5
"""A string that reads less to the metal behind it touches it [P]."""
_SPEAKER = re.compile(r"\b(loud)?speakers?\b", re.IGNORECASE)
_BEHIND_IT = re.compile(r"behind|after|(board|inner|inside|far|output|load) side", re.IGNORECASE)
_FUSE = re.compile(r"fuse", re.IGNORECASE)
_INVERTER = re.compile(
    r"\binverter (transformers?|board|switch\w*|transistors?|fuse|coils?)\b", re.IGNORECASE
)
_OF_A_STRING = re.compile(
    r"switch|mosfet|\bfet\b|transistor|drain|source|gate|sense|diode|resistor|driver|"
    r"divider|feedback",
    re.IGNORECASE,
)
"""Beside “string” they name a part of the driver, which stands on this board."""
_ARRIVES = re.compile(r"board end|before its fuse|at the timing board|far end", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Other:
    """Something elsewhere: the board's part here (empty where it is none of the model), whether it
    says good, bad or nothing, and what it is in words; `far_end` where it is a rail of this board
    at the other end of its cable, `made` where it is one that the other board makes itself,
    `supply` where its supply pin was read in ohms, by itself."""

    part: str
    good: bool | None
    words: str
    fact: str = ""
    far_end: bool = False
    made: bool = False
    supply: bool = False


def other_reading(
    board: Board, at: str, note: str, seen: Observation, mode: MeterMode
) -> Other | None:
    """A reading that is none of this board's; None where it is."""
    at = place_alone(at)
    if _WALL.search(at):
        dead = mode is not MeterMode.OHMS and abs(seen.centre) < 40.0
        return Other("", None, "the outlet", "outlet_dead" if dead else "")
    if _INLET.search(at) and mode in (MeterMode.AC_VOLTS, MeterMode.OHMS, MeterMode.CONTINUITY):
        broken = seen.form is Form.OPEN if mode is not MeterMode.AC_VOLTS else abs(seen.centre) < 40
        return Other("", None, "the cord", "cord_dead" if broken else "outlet_tried")
    arrives = mode is MeterMode.DC_VOLTS and _FAR_END.search(at) and not _FUSE.search(at)
    own_inverter = any(stage.kind == "ccfl" for stage in board.stages)
    if _INVERTER.search(at) and not own_inverter and not arrives:
        lamps = other_part(board, "lamps")
        broken = seen.form is Form.OPEN and mode.needs_dead_board
        if lamps:
            return Other(lamps, False if broken else None, "a part of the inverter board")
    if _TO_THE_METAL.search(f"{at} {note}") and _OF_THE_LAMPS.search(at):
        strip = next((p.ref for p in board.components if is_a(p, Trait.BACKLIGHT)), "")
        touches = seen.form is Form.SHORT or seen.centre < TOUCHES_BELOW_OHMS
        return Other(strip, False if touches else None, "the strips against the metal")
    if _of_the_strips(at, mode):
        strip = next((p.ref for p in board.components if is_a(p, Trait.BACKLIGHT)), "")
        bad = seen.form is Form.OPEN or bool(re.search(r"dark|out\b|not light", note, re.I))
        return Other(strip, False if bad else None, "a strip on the tester")
    if _OWN_INPUT.search(at):
        return None
    own = _of_the_way_in(board, at, note, seen, mode)
    if own is not None:
        return own
    found = _OTHER.search(at) or (_OTHER.search(note) if "by itself" in note else None)
    if found is None:
        return None
    part = next(iter(loads_named(board, f"{at} {note}")), "")
    if _ONE_SIDE.search(at):
        one = _of_board(board, part, at, note, seen, mode)
        return replace(one, good=None) if one.good else one
    if mode is MeterMode.DC_VOLTS and _FAR_END.search(f"{at} {note}") and not _FUSE.search(at):
        return Other(part, None, "the far end of the cable", far_end=True)
    return _of_board(board, part, at, note, seen, mode)


def _of_the_strips(at: str, mode: MeterMode) -> bool:
    """Whether a place is a strip by itself, on a tester or at the plug that the strips bring."""
    at_the_driver = _AT_THE_PLUG.search(at) or _OF_A_STRING.search(at)
    if mode.needs_dead_board and _STRIPS_SIDE.search(at):
        at_the_driver = None
    return "tester" in at.lower() or (_STRIP.search(at) is not None and not at_the_driver)


def is_mains_switch(board: Board, words: str) -> bool:
    """Whether words mean the switch on the cabinet that breaks the mains, and no silicon."""
    return bool(_SWITCH.search(words)) and not _SILICON.search(words) and not board.adapter_fed


def _of_the_way_in(
    board: Board, at: str, note: str, seen: Observation, mode: MeterMode
) -> Other | None:
    """What is read at the mains switch, an adapter by itself, keys or a loudspeaker; None where it
    is none of them."""
    whole = f"{at} {note}"
    if _SPEAKER.search(at):
        return Other("", None, "a loudspeaker, which hangs on the main board")
    if is_mains_switch(board, at):
        cord = next(iter(board.roles.get(BoardRole.CORD, [])), "")
        if mode in (MeterMode.OHMS, MeterMode.CONTINUITY):
            bad = seen.form is Form.OPEN and not re.search(r"switched off|\boff\b", whole)
        else:
            bad = abs(seen.centre) < 40.0 and bool(_BEHIND_IT.search(at))
        return Other(cord, False if bad else None, "the mains switch, in the way of the cord")
    if board.adapter_fed and _ADAPTER.search(whole):
        nominal = next((stage.volts for stage in board.stages if stage.kind == "adapter"), 0.0)
        moves = seen.form in (Form.TICKING, Form.RANGE)
        gives = seen.centre > GIVES_SHARE * nominal and not moves
        adapter = next(iter(board.roles.get(BoardRole.CORD, [])), "")
        return Other(adapter, gives, "the adapter by itself")
    if _KEYS.search(at) and not re.search(r"main|timing", at, re.IGNORECASE):
        released = re.search(r"not? (key )?pressed|released|untouched", whole, re.IGNORECASE)
        ohms = mode in (MeterMode.OHMS, MeterMode.CONTINUITY)
        leaks = seen.form is Form.SHORT or abs(seen.centre) < RELEASED_KEY_OHMS
        bad = bool(released) and ohms and seen.form is not Form.OPEN and leaks
        return Other(other_part(board, at), False if bad else None, "the keys")
    return None


SUB_RAIL_SHORT_OHMS = 3.0
"""A rail that another board makes for itself feeds chips: it may read some tens of ohms [P]."""
MISSING_SHARE, MISSING_NAMED_VOLTS = 0.2, 0.5
_MADE_THERE = re.compile(
    r"\b(vgh|vgl|avdd|vcom|gate (volt\w*|high|low)|gamma|core( volt\w*| supply)?|ldo output|"
    r"regulator output|step-?down output|ddr( supply)?)\b",
    re.IGNORECASE,
)


_PASSED_ON = re.compile(
    r"\b(panel|vpnl|vpanel|lvds|t-?con|timing)( board)?('s)? (supply|voltage|rail|power)\b|"
    r"\b(supply|voltage|rail|power) (of|for|to) the (panel|t-?con|timing board)\b",
    re.IGNORECASE,
)
"""What a main board switches through to the panel, read where it leaves."""


def _of_board(
    board: Board, part: str, at: str, note: str, seen: Observation, mode: MeterMode
) -> Other:
    volts = volts_named(at)
    rails = [rail.volts for rail in board.rails if rail.volts]
    made_there = volts is not None and not any(abs(v / volts - 1.0) < 0.1 for v in rails)
    if mode in (MeterMode.OHMS, MeterMode.CONTINUITY):
        if _names_a_signal(board, at):
            held = seen.form is Form.SHORT or abs(seen.centre) < SHORTED_BELOW_OHMS
            return Other(part, False if held else None, "ohms of a signal there")
        if re.search(r"fuse", at, re.I) and not re.search(
            r"behind|before|to (gnd|ground)", at, re.I
        ):
            return Other(part, seen.form is not Form.OPEN and seen.low < 2.0, "its fuse")
        if made_there:
            short = seen.form is Form.SHORT or abs(seen.centre) < SUB_RAIL_SHORT_OHMS
            return Other(part, False if short else None, "ohms of a rail of its own")
        low = seen.form is Form.SHORT or abs(seen.centre) < SHORTED_BELOW_OHMS
        behind = re.search(r"fuse", at, re.IGNORECASE) is not None  # that pin ends at its fuse
        return Other(part, not low, "ohms of its supply, by itself", supply=not behind)
    if re.search(r"(behind|after) (its|the|that|a)( \w+)? fuse", at, re.IGNORECASE):
        return Other(part, seen.centre > 0.5, "its supply behind its fuse")
    at_input = re.search(r"\b(input|feed|in front|before)\b", at, re.IGNORECASE)
    if made_there and volts and not at_input and seen.form is Form.VALUE:
        missing = abs(seen.centre) < MISSING_SHARE * volts
        return Other(part, False if missing else None, "a rail that it makes itself", made=True)
    leaves = _PASSED_ON.search(at) is not None and re.search(r"main ?board", at, re.I)
    passes = leaves and board.stage("panel") is None  # else this board switches it itself
    if passes and seen.form is Form.VALUE and abs(seen.centre) < MISSING_NAMED_VOLTS:
        return Other(part, False, "a supply that it should pass on", made=True)
    named = _MADE_THERE.search(at) is not None and not at_input
    if named and seen.form is Form.VALUE:
        missing = abs(seen.centre) < MISSING_NAMED_VOLTS
        return Other(part, False if missing else None, "a rail that it makes itself", made=True)
    if _ARRIVES.search(at) or _ARRIVES.search(note):
        return Other(part, None, "its supply arrives")
    return Other(part, None, "read on another board")


_SIGNALS = (
    *(PinJob.START, PinJob.LAMPS_ENABLE, PinJob.PANEL_ENABLE, PinJob.SUSTAIN_ENABLE),
    *(PinJob.REPORT, PinJob.DIM),
)


def _names_a_signal(board: Board, at: str) -> bool:
    """Whether a place is called by a printed pin that carries no supply."""
    words = {word.strip(",;.") for word in at.lower().split()}
    return any(
        pin.label.lower() in words and pin_meaning(pin.label).job in _SIGNALS
        for connector in board.connectors
        for pin in connector.pins
    )


def start_at_main(board: Board, at: str) -> bool:
    """Whether a place is the start signal where the main board gives it."""
    words = {word.strip(",;.") for word in at.lower().split()}
    started = any(
        pin.label.lower() in words and pin_meaning(pin.label).job is PinJob.START
        for connector in board.connectors
        for pin in connector.pins
    )
    return started and re.search(r"\bmain ?board\b", at, re.IGNORECASE) is not None


def of_another_board(text: str) -> bool:
    """Whether a part is said to be another board's: “fuse of the timing board”."""
    return bool(_ANOTHERS.search(text)) and (
        re.search(r"\b(?:power|supply|this) board\b", text, re.IGNORECASE) is None
    )


_ANOTHERS = re.compile(
    r"\b(?:of|on|from) (?:the )?(?:(?!the\b|this\b|its\b)\w+ board|t-?con|"
    r"[wxyz][- ]?(?:sus(?:tain)?|main|drive|scan))\b|"
    r"\b(?:main|timing|drive|address|buffer|scan|sustain|logic|inverter|sound|audio|amplifier)"
    r"[- ]board'?s\b|\bt-?con'?s\b",
    re.IGNORECASE,
)


def other_part(board: Board, text: str) -> str:
    """The board or lamps elsewhere that words mean, empty where they mean none."""
    if _STRIP.search(text) or _LAMPS.search(text):
        lit = [p.ref for p in board.components if is_a(p, Trait.BACKLIGHT)]
        far = [p.ref for p in board.components if p.kind == "load" and p.duty.startswith("lamps")]
        return next(iter([*lit, *far]), "")
    return next(iter(loads_named(board, text)), "")
