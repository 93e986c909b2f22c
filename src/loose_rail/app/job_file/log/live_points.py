"""The live point that words mean: a rail by its label or volts, the bulk, a controller's supply."""

from __future__ import annotations

import re
from collections.abc import Sequence

from loose_rail.boards.parts_named import (
    parts_named,
    tokens,
    volts_named,
)
from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board, Rail
from loose_rail.vocabulary.keys import is_ripple, stage_of

_BULK = re.compile(
    r"\bbulk\b|\b(big|large|main|primary|mains|hot[- ]side) ((filter|smoothing) )?"
    r"(can|cap|capacitor|electrolytic|elko)s?\b|\b(2\d\d|4\d\d) ?v (cap|can|capacitor|elko)|"
    r"\b(3[89]|40)\d ?v (rail|bus|line)\b|\breservoir (4[0-5]|35)0 ?v\b|\bbig (blue|black|"
    r"brown) (cap|can|capacitor|electrolytic)|"
    r"\b(cap|can|capacitor|elko),? (3[5-9]|4\d)\d ?v\b|"
    r"\b(pfc|boost) (output|out|voltage|rail)\b|primary dc|rectified mains|(after|"
    r"behind) (the )?bridge\b|\b\d+ ?[uµ]f?[ /,]+(3[1-9]|4\d)\d ?v\b|"
    r"bridge (output|plus|\+)|\b(dc|hv|high[- ]voltage)[- ](link|bus|rail|dc)\b|\bhv\b|"
    r"\b(dc|hv) bus\b|\bbus voltage\b|\brectified (dc|voltage|line)\b|\bdc behind the bridge\b|"
    r"\bb ?\+ (of|on|at) the primary|\bprimary b ?\+|"
    r"\b(pfc|boost|hv|high[- ]voltage|dc[- ]link) "
    r"((output|bulk|storage|filter|smoothing) )?(can|cap|capacitor|electrolytic|elko)s?\b",
    re.I,
)
_OF_A_RAIL = re.compile(
    r"\bleds?\b|back ?light|\b\d{1,2} ?v\b(?! (cap|can|capacitor|elko))|sustain|\bvs\b|\bva\b|"
    r"standby",
    re.I,
)
"""A big can may be another rail's."""
VCC = re.compile(r"\bvcc\b|\bvdd\b|supply pin|supply of (the )?\w+ (controller|ic|chip|pwm)", re.I)
_OF_A_CONTROLLER = re.compile(
    r"controller|\bic\b|chip|boost|standby|main|sustain|llc|half|pfc", re.IGNORECASE
)
_BESIDE_A_LABEL = re.compile(
    r"\b(pin|rail|at (the supply|its can)|(to|against) (gnd|ground)|output|out|input)\b",
    re.IGNORECASE,
)
NEAR_SHARE = 0.06


def at_net(board: Board, net: str, fitting: Sequence[Probe], live: bool) -> Probe | None:
    """A probe whose red end is on a net: the pin itself under power, a capacitor on it else."""
    own = [p for p in fitting if p.plus == net and not p.lifted]
    if live:
        plain = [p for p in own if not is_ripple(p.observable)] or own
        return next(iter(reversed(plain)), None)
    kinds = ("electrolytic", "ceramic", "film")
    at = [p for p in own if board.component(p.part).kind in kinds]
    return next(iter(at or own), None)


def live_place(board: Board, at: str, fitting: Sequence[Probe]) -> Probe | None:
    """The probe of a powered board that words mean; None where they mean none."""
    if VCC.search(at) and _OF_A_CONTROLLER.search(at):
        return vcc(board, at, fitting)
    given = volts_named(at) if board.adapter_fed and _INPUT.search(at) else None
    if given is not None and _is_the_adapters(board, given):
        return _by_stage(board, "inlet", fitting)
    if (_BULK.search(at) and not _OF_A_RAIL.search(at)) or (
        board.adapter_fed and _INPUT.search(at)
    ):
        return next((p for p in fitting if stage_of(p.observable) == "bulk"), None)
    at = re.sub(r"(?<=\d)-(?=v\b)", " ", _AT_ITS_PLUG.sub("", at) or at, flags=re.IGNORECASE)
    at = _AT_ITS_CAN.sub("", at) or at
    at = _STANDBY_VOLTS.sub(r"\1 standby", at)
    label = plain(_BESIDE_A_LABEL.sub(" ", at.lower())).lstrip("+")
    for connector in board.connectors:
        for pin in connector.pins:
            if plain(pin.label).lstrip("+") == label and label:
                return at_net(board, pin.net, fitting, live=True)
    named = _by_stage(board, at, fitting)
    if named is not None:
        return named
    volts = volts_named(at) or _bare_volts(at)
    if volts is not None and board.adapter_fed and _is_the_adapters(board, volts):
        return _by_stage(board, "inlet", fitting)
    if volts is not None and not _elsewhere_words(at):
        for probe in reversed(fitting):
            rail = _rail_of(board, probe)
            if rail is not None and abs(rail.volts / volts - 1.0) < NEAR_SHARE:
                return probe
    return None


_AT_ITS_PLUG = re.compile(
    r",? (?:at|on|of) (?:the )?(?:plug |connector )?(?:cn|con|p|j|x|k|m)\d{1,4}$|"
    r",? (?:at|on) (?:the )?(?:supply|power board|psu)(?: end| side| connector| plug| board)?$|"
    r"(?<=[a-z]),? pin \d{1,2}$",
    re.IGNORECASE,
)
"""“Power on line at CN8”."""
_AT_ITS_CAN = re.compile(r"(?<=sb|by|tb|\dv),? (?:cap|can|capacitor|electrolytic)$", re.IGNORECASE)
"""“5VSB cap”: the rail that stands across it."""
_STANDBY_VOLTS = re.compile(r"(?<=\d)( ?v)[ _-]?(?:sb|stby|stb|stdby|s)$", re.IGNORECASE)
"""“5VSTB”."""
_BARE_VOLTS = re.compile(
    r"^(?:the |at the )?(?:output |rail |line |pin )?\+?(\d{1,3}(?:[.,]\d{1,2})?)"
    r"(?: (?:output|rail|line|pin|out))?$",
    re.IGNORECASE,
)
"""“The 24”, “output 24”: a rail by its volts alone."""


def _bare_volts(at: str) -> float | None:
    found = _BARE_VOLTS.match(at.strip())
    return float(found[1].replace(",", ".")) if found else None


def _is_the_adapters(board: Board, volts: float) -> bool:
    given = next((stage.volts for stage in board.stages if stage.kind == "adapter"), 0.0)
    others = [r.volts for r in board.rails if r.volts and abs(r.volts / volts - 1.0) < NEAR_SHARE]
    return bool(given) and abs(given / volts - 1.0) < NEAR_SHARE and not others


def _rail_of(board: Board, probe: Probe) -> Rail | None:
    """The rail that a live probe reads, or whose ripple it reads."""
    if probe.rail or not is_ripple(probe.observable):
        return board.rail_of(probe.rail)
    stage = stage_of(probe.observable)
    named = (p.rail for p in board.live_points if p.rail and stage_of(p.observable) == stage)
    return board.rail_of(next(named, ""))


_INPUT = re.compile(
    r"\b(board|dc|adapter|supply) input\b|input of the board|behind the (dc )?jack",
    re.I,
)
_STAGES = (
    ("sustain", r"^vs\b|sustain"),
    ("address", r"^va\b|address"),
    (
        "led",
        r"(led|string)( string)? (voltage|volts)\b|led (output|\+|rail|plug|connector|supply)|"
        r"^led\+?$|^(the )?strips' (plug|connector)$|"
        r"^led ?(anode|plus)$|^led ?\+ (to|against|and) led ?-|"
        r"^led ?\+(?= (at|on|of) )|"
        r"(back ?light|strip)s? (plug|connector)|plug (of|to|for) the (strip|led|back ?light)s?\b|"
        r"\bled (driver|supply|converter|boost)('s)? output\b|"
        r"(anode|plus|\+) of the (strip|string|led|back ?light)s?",
    ),
    ("panel", r"panel (rail|supply|voltage)"),
    (
        "after_fuse",
        r"(after|behind|past|downstream of) (the )?((main |mains |input |line )?fuse|f\d+)\b|"
        r"^(the )?(main |mains )?fuse('s)?,? (output|out|far side|board side|load side|far end)$|"
        r"^(the )?(output|out|far side|board side|load side|far end|other side) of (the )?"
        r"((main |mains |input |line )?fuse|f\d+)$",
    ),
    (
        "bridge_ac",
        r"bridge,? (a\.?c\.?|~)|a\.?c\.? (side|pins|input|terminals) of the bridge|"
        r"\bbridge('s)? (rectifier )?(input|in)\b|\binput of the bridge|"
        r"^(mains |a\.?c\.? )(in )?(at|into|to|on|before|in front of) (the )?bridge( rectifier)?$",
    ),
    (
        "mains",
        r"inlet of the board|\b(board|mains|ac) inlet\b(?! (fuse|filter|choke))|"
        r"mains at the (board|inlet)|^mains$|^((mains|"
        r"a\.?c\.?) )?(at )?(the )?(mains )?inlet( pins)?$|^(dc |adapter )?socket,? (centre|"
        r"center|middle) to (ring|shell|sleeve)$|"
        r"^(mains|a\.?c) (in|input|terminals)$|^(at )?(the )?socket of the board$|"
        r"^mains (voltage|"
        r"volts) at the (board|inlet)$|"
        r"^(adapter|input) (voltage|volts|supply) at the board$|"
        r"^(inside,? )?(at )?(the )?((centre|center|middle|inner) pin of (the )?)?"
        r"(((adapter|dc|power|input) )?jack|(adapter|dc|power|input) (socket|inlet))('s)?( (centre|"
        r"center|middle|pin|tip))*"
        r"(,? (on|of|at) the board)?$|^dc[- ]?(in)?[- ]?1?$|"
        r"^(the )?board('s)? (dc )?(jack|socket)$|"
        r"^\d+ ?v (at|on) the (dc )?(input|jack|socket)$",
    ),
    (
        "standby",
        r"^(the )?(standby|stand-by|stand by)( (voltage|output|rail|volts|supply|line|pin|side|"
        r"at its (can|cap)))*$|"
        r"^v?st?by?$",
    ),
    (
        "start",
        r"^(the )?(ps?|power)[-_ ]?on( (line|pin|signal|command|wire|voltage|level))?$|"
        r"^(the )?(start|relay|wake|wake[- ]up|on|on/off|standby/on|stby/on|on/standby|"
        r"turn[- ]on) (pin|line|signal|command|"
        r"wire)$",
    ),
    (
        "relay",
        r"\brelay\b|across (the )?[^,;]*\b(inrush|limiter|ntc|thermistor|soft[- ]?start|"
        r"(white|cement) resistor)",
    ),
    (
        "lamps",
        r"(back ?light|lamp|inverter|led|bl)[-_ ]?(enable|on|on/off|signal)( (pin|line|signal))?$|"
        r"^bl[-_ ]?on\b",
    ),
)


def _by_stage(board: Board, at: str, fitting: Sequence[Probe]) -> Probe | None:
    if _elsewhere_words(at):
        return None
    for stage, pattern in _STAGES:
        if re.search(pattern, at.lower()):
            own = [p for p in fitting if stage_of(p.observable) == stage]
            plain = [p for p in own if not is_ripple(p.observable)] or own
            if plain:
                return plain[-1]
    if re.search(
        r"inverter (feed|supply)|^(the )?inverter('s)? (input )?\d+ ?v( input| feed| supply)?$|"
        r"^(the )?inverter('s)? input$|^(the )?inverter fuse,? (output|out|load side)$|"
        r"^\d+ ?v (to|for|into|"
        r"feeding|of|at) the inverter$|(feed|supply) of the inverter|"
        r"(behind|after) (the |its )?(\w+ )?fuse (to|of|for|at) (the )?inverter|"
        r"(behind|after) (the )?inverter fuse|"
        r"inverter side of (its|the) (own )?fuse|inverter fuse,? (inverter|far|output) side",
        at.lower(),
    ):
        return next((p for p in fitting if p.observable.endswith(".feed")), None)
    if _INTO_THE_DRIVER.search(at):
        sources = {one.source for one in board.stages if one.kind == "led" and one.source}
        own = [p for p in fitting if stage_of(p.observable) in sources]
        plain = [p for p in own if not is_ripple(p.observable)] or own
        return plain[0] if plain else None
    return None


_DRIVER = r"(?:led|back ?light) (?:driver|boost|converter)"
_INTO_THE_DRIVER = re.compile(
    rf"^(?:the )?(?:\d+ ?v (?:at |of |into )?)?(?:the )?{_DRIVER}(?:'s)? "
    r"(?:input|feed|supply rail|in)(?: \d+ ?v)?$|"
    rf"\b(?:input|feed) (?:of|to|for|at) (?:the )?{_DRIVER}$|"
    rf"\binto the {_DRIVER}$",
    re.IGNORECASE,
)
"""What a converter is fed with is the rail before it, and never what it gives."""


def _elsewhere_words(at: str) -> bool:
    return bool(
        re.search(
            r"board end|timing board|t-con|of the .* board|main board|"
            r"(?<!dc )(?<!adapter )(?<!power )socket(?!, (centre|center|middle)| of the board)",
            at.lower(),
        )
    )


def vcc(board: Board, at: str, fitting: Sequence[Probe]) -> Probe | None:
    """The supply of the controller that words name; the only one where they name none."""
    vcc = [p for p in fitting if p.observable.endswith(".vcc")]
    words = tokens(at)
    asked = words & {"standby", "main", "boost", "pfc", "half", "sustain", "led", "inverter"}
    if "half" in asked:
        asked |= {"main"}
    for probe in vcc:
        if stage_of(probe.observable) in asked:
            return probe
    if asked & {"boost", "pfc"}:
        return _part_supply(board, "boost controller", fitting)
    if asked & {"led", "inverter"}:
        name = "LED driver chip" if "led" in asked else "inverter chip"
        return _part_supply(board, name, fitting)
    single = [
        p
        for p in vcc
        if stage_of(p.observable) == ("main" if board.stage("standby") is None else "standby")
    ]
    if not asked or len(vcc) == 1:
        return next(iter(single or vcc), None)
    return vcc[0] if len(vcc) == 1 else None


def _part_supply(board: Board, name: str, fitting: Sequence[Probe]) -> Probe | None:
    parts = parts_named(board, name)
    for ref in parts:
        net = board.component(ref).pins.get("VCC", "")
        found = next((p for p in fitting if p.plus == net), None)
        if found is not None:
            return found
    return None


def plain(text: str) -> str:
    """A label in small letters, without what stands between its parts: “PS-ON” and “ps on”."""
    return re.sub(r"[^a-z0-9.+]", "", text.lower())
