"""A board of the technician's own: composed from its make-up, with the printed pins and no other.

Parts have no designators yet: each is called by the job it does. Connectors have their own names,
pins their labels and numbers.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import msgspec

from loose_rail.boards.compose import LAMPS_STRESS, LOAD_SECTION, compose
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.own.make_up import APART, MakeUp, OwnBoard, make_up, meanings
from loose_rail.boards.own.names import at_a_part, named_by_duty, plain_names, renamed
from loose_rail.boards.own.pin_label import PinJob, PinMeaning
from loose_rail.boards.own.recipe_of import recipe_of
from loose_rail.boards.profile import Board, Component, Connector, Net, Pin
from loose_rail.boards.validate import problems_of
from loose_rail.kernel.errors import BoardFileError
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.roles import BoardRole

KNOWN_BY = "own"
SECOND_WAKE = "wake:second"
ADDRESS = "AB"
TIMING, LAMPS, KEYS = "timing board", "lamps", "keys and receiver"
KEYS_STRESS = 0.15
"""Keys and remote receiver fail that seldom against a main board [E]."""
_LAMP_JOBS = (PinJob.LED_PLUS, PinJob.TUBE)


@dataclass(frozen=True)
class Composed:
    """A composed board, its make-up, and what each printed pin means, by connector and number."""

    board: Board
    make: MakeUp
    pins: dict[tuple[str, int], PinMeaning]


def own_board(own: OwnBoard) -> Composed:
    """Compose a board. Raises BoardFileError where what is printed contradicts itself."""
    pins = meanings(own)
    apart = {name: f"{name}{APART}" for name in {one.name for one in own.connectors}}
    make = make_up(own)
    own = _with_plugs_called(own, apart)
    board = _without_idle_paths(msgspec.convert(compose(recipe_of(own, make)), type=Board))
    problems = [one.replace(APART, "") for one in problems_of(board)]
    if problems:
        raise BoardFileError(
            f"The board can't be put together from this: {'; '.join(problems[:3])}.",
            "Check the labels, and name its make-up in other words.",
        )
    meant = meanings(own)
    printed = {one.name for one in own.connectors}
    names = {ref: name for ref, name in plain_names(board).items() if ref not in printed}
    names |= _lamp_plugs(own, board, meant)
    named = named_by_duty(_with_lamp_plugs(_with_far_boards(board), own, meant), names)
    named = renamed(named, {called: name for name, called in apart.items()})
    return Composed(_with_ground(msgspec.structs.replace(named, known_by=KNOWN_BY)), make, pins)


def _with_plugs_called(own: OwnBoard, names: Mapping[str, str]) -> OwnBoard:
    plugs = tuple(replace(one, name=names[one.name]) for one in own.connectors)
    return replace(own, connectors=plugs)


def _without_idle_paths(board: Board) -> Board:
    """Parts of a second enable that no printed pin drives do no job in the powered model."""
    kept = {name: refs for name, refs in board.roles.items() if stage_of(name) != SECOND_WAKE}
    return msgspec.structs.replace(board, roles=kept)


def _with_ground(board: Board) -> Board:
    """Where no ground pin is printed, ground is touched at a can's striped side."""
    if board.net(board.cold_ground).where:
        return board
    where = at_a_part(board, board.cold_ground)
    nets = [
        msgspec.structs.replace(net, where=where) if net.name == board.cold_ground else net
        for net in board.nets
    ]
    return msgspec.structs.replace(board, nets=nets)


def _with_far_boards(board: Board) -> Board:
    """With the boards that every set has and this supply does not feed itself: their faults show in
    picture and light. The timing board is fed by the main board once that works, and one that takes
    too much drags the main board's own rail."""
    duties = {part.duty for part in board.components if is_a(part, Trait.BOARD)}
    lit = any(is_a(part, Trait.BACKLIGHT) for part in board.components)
    lit = lit or any(duty.startswith("lamps") for duty in duties)
    far = [("TC", TIMING)] if TIMING not in duties and board.stage("sustain") is None else []
    far += [] if lit or board.stage("sustain") is not None else [("LP", LAMPS)]
    main = board.component(board.roles[BoardRole.MAIN_LOAD][0])
    woken = {"wakes": main.params["wakes"]} if "wakes" in main.params else {}
    own = [load for load in board.loads if load.part == main.ref]
    feeds = [load for load in own if load.rail == main.params.get("main_rail")] or own[:1]
    made, loads = [], []
    keys = {"signals": "none", "far": "yes", "asks": "yes"}
    made.append(
        Component(
            ref="KR",
            kind="load",
            pins={},
            section=LOAD_SECTION,
            duty=KEYS,
            stress=KEYS_STRESS,
            params=keys,
        )
    )
    for ref, duty in far:
        fed = woken | {"switched": "yes"} if duty == TIMING else {}
        made.append(
            Component(
                ref=ref,
                kind="load",
                pins={},
                section=LOAD_SECTION,
                duty=duty,
                stress=LAMPS_STRESS if duty == LAMPS else 1.0,
                params={"signals": "none", "far": "yes", **fed},
            )
        )
        if fed and woken and feeds:
            none = {"idle_amps": 0.0, "on_amps": 0.0, "signal": woken["wakes"]}
            loads.append(msgspec.structs.replace(feeds[0], part=ref, **none))
    found = msgspec.structs.replace(
        board, components=[*board.components, *made], loads=[*board.loads, *loads]
    )
    return _with_address_boards(_with_second_drive(found))


def _with_address_boards(board: Board) -> Board:
    """With the address boards of a plasma panel, where their rail leaves by the drive boards'
    plug."""
    stage = board.stage("address")
    sustained = [load for load in board.loads if load.rail == "sustain"]
    if stage is None or not sustained or any(load.rail == "address" for load in board.loads):
        return board
    first = sustained[0]
    drive = board.component(first.part)
    plug = board.roles.get(f"{first.part}.connector", [])
    load = msgspec.structs.replace(first, part=ADDRESS, rail="address", volts=stage.volts)
    load = msgspec.structs.replace(load, idle_amps=0.05, on_amps=0.5)
    part = msgspec.structs.replace(drive, ref=ADDRESS, duty="address drive boards")
    return msgspec.structs.replace(
        board,
        components=[*board.components, part],
        loads=[*board.loads, load],
        roles={**board.roles, f"{ADDRESS}.connector": plug},
    )


def _with_second_drive(board: Board) -> Board:
    """With the other drive board of a plasma panel, where one printed plug feeds both: they are
    unplugged, and fail, one by one."""
    boards = [part for part in board.components if is_a(part, Trait.BOARD)]
    drives = [part for part in boards if part.duty.endswith(" drive board")]
    if board.stage("sustain") is None or len(drives) != 1:
        return board
    first = drives[0]
    other = "Z" if first.ref != "ZB" else "Y"
    second = msgspec.structs.replace(first, ref=f"{other}B", duty=f"{other} drive board")
    loads = []
    for load in board.loads:
        if load.part != first.ref:
            loads.append(load)
            continue
        half = {"idle_amps": 0.5 * load.idle_amps, "on_amps": 0.5 * load.on_amps}
        loads += [
            msgspec.structs.replace(load, **half),
            msgspec.structs.replace(load, part=second.ref, **half),
        ]
    plug = board.roles.get(f"{first.ref}.connector", [])
    return msgspec.structs.replace(
        board,
        components=[*board.components, second],
        loads=loads,
        roles={**board.roles, f"{second.ref}.connector": plug},
    )


def _with_lamp_plugs(board: Board, own: OwnBoard, pins: dict[tuple[str, int], PinMeaning]) -> Board:
    """With the lamps' own connectors and their printed pins."""
    plugs = _lamp_plugs(own, board, pins)
    names = {connector.ref for connector in board.connectors}
    found: list[Connector] = []
    for ref, name in plugs.items():
        if name in names:
            continue
        printed = next(one for one in own.connectors if one.name == name)
        beside = [] if len(plugs) > 1 else [one for one in _lamp_refs(board) if one != ref]
        nets = [
            _lamp_net(board, [ref, *beside], pins[name, n].job, label)
            for n, label in enumerate(printed.pins, start=1)
        ]
        known = {net.name for net in board.nets}
        spare = [
            Net(f"{name}_{n}", board.net(board.cold_ground).side, f"{ref} pin {n}")
            for n, net in enumerate(nets, start=1)
            if net not in known
        ]
        board = msgspec.structs.replace(board, nets=[*board.nets, *spare])
        typed = [
            Pin(n, label, net or f"{name}_{n}")
            for n, (label, net) in enumerate(zip(printed.pins, nets, strict=True), start=1)
        ]
        found.append(Connector(ref, "to the lamps", "lamps", typed, printed.rows, printed.around))
    return msgspec.structs.replace(board, connectors=[*board.connectors, *found])


def _lamp_net(board: Board, refs: Sequence[str], job: PinJob, label: str) -> str:
    """The net of a pin of a lamps' plug: “LED2+” and “B+” are the second driver's where one plug
    serves several; empty where its label says nothing."""
    if job is PinJob.GROUND:
        return board.cold_ground
    number, letter = re.search(r"\d+", label), re.match(r"^([a-f])\d?[-+]$", label.strip().lower())
    counted = int(number[0]) if number else ord(letter[1]) - ord("a") + 1 if letter else 1
    place = counted - 1 if 0 < counted <= len(refs) else 0
    pins = board.component(refs[place]).pins
    return pins.get({PinJob.LED_PLUS: "1", PinJob.LED_MINUS: "2"}.get(job, ""), "")


def _lamp_refs(board: Board) -> list[str]:
    duties = ("to the LED strips", "to the tubes")
    return [p.ref for p in board.components if p.kind == "connector" and p.duty in duties]


def _lamp_plugs(
    own: OwnBoard, board: Board, pins: dict[tuple[str, int], PinMeaning]
) -> dict[str, str]:
    """The lamps' connectors of the blocks under their printed names, in order."""
    printed = [
        one.name
        for one in own.connectors
        if one.name not in {connector.ref for connector in board.connectors}
        and any(pins[one.name, n].job in _LAMP_JOBS for n in range(1, len(one.pins) + 1))
    ]
    return dict(zip(_lamp_refs(board), printed, strict=False))
