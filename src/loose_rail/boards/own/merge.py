"""Two files of one board as one: ours stands, what theirs adds is taken over, what contradicts is
told."""

from __future__ import annotations

from dataclasses import dataclass

import msgspec

from loose_rail.boards.own.binding import Line, Struck
from loose_rail.boards.own.file import OwnBoardFile, board_of_file, checked
from loose_rail.boards.own.photographs import both
from loose_rail.boards.own.typed_pinout import pinout_text
from loose_rail.kernel.errors import BoardFileError


@dataclass(frozen=True, slots=True)
class Merged:
    """The one file, what was taken over, and what contradicts and was left as it is in ours."""

    file: OwnBoardFile
    taken: tuple[str, ...]
    left: tuple[str, ...]


def merged(ours: OwnBoardFile, theirs: OwnBoardFile) -> Merged:
    """Both as one. Raises BoardFileError where ours makes no sense by itself."""
    taken: list[str] = []
    left: list[str] = []
    names = [name for name in (theirs.id, *theirs.aliases) if name not in (ours.id, *ours.aliases)]
    made = msgspec.structs.replace(ours, aliases=[*ours.aliases, *names])
    taken += [f"also found as {name}" for name in names]
    for field in ("kind", "set_kind"):
        own, other = getattr(ours, field), getattr(theirs, field)
        if not own and other:
            made = msgspec.structs.replace(made, **{field: other})
            taken.append(f"{other}")
        elif other and own != other:
            left.append(f"{field.replace('_', ' ')}: theirs says {other}")
    if ours.wake == "unknown" and theirs.wake != "unknown":
        made = msgspec.structs.replace(made, wake=theirs.wake)
        taken.append(f"start pin {theirs.wake}")
    elif theirs.wake not in (ours.wake, "unknown"):
        left.append(f"start pin: theirs says {theirs.wake}")
    made = _with_plugs(made, theirs, taken, left)
    printed = {one.printed for one in made.true_volts}
    more = [one for one in theirs.true_volts if one.printed not in printed]
    made = msgspec.structs.replace(made, true_volts=[*made.true_volts, *more])
    taken += [f"at {one.printed:g} V by its label stand {one.stands:g} V" for one in more]
    made = checked(made)
    board_of_file(made)
    for line in theirs.parts:
        made = _with_part(made, line, taken, left)
    made = _with_experience(made, theirs, taken)
    return Merged(made, tuple(taken), tuple(left))


def _with_plugs(
    made: OwnBoardFile, theirs: OwnBoardFile, taken: list[str], left: list[str]
) -> OwnBoardFile:
    own = {plug.name: plug for plug in made.plugs}
    lines = list(made.connectors)
    for plug in theirs.plugs:
        if plug.name not in own:
            lines.append(pinout_text(plug))
            taken.append(f"connector {plug.name}")
        elif own[plug.name].pins != plug.pins:
            left.append(f"{plug.name}: theirs has {', '.join(pin or '?' for pin in plug.pins)}")
    return msgspec.structs.replace(made, connectors=lines)


def _with_experience(made: OwnBoardFile, theirs: OwnBoardFile, taken: list[str]) -> OwnBoardFile:
    """Their photographs, and what failed at other shops: of one shop that both tell of, the higher
    counts, which are the later ones."""
    photos = both(made.photos, theirs.photos)
    if photos != made.photos:
        points = sum(len(one.spots) for one in photos) - sum(len(one.spots) for one in made.photos)
        taken.append(f"{len(photos) - len(made.photos)} photographs, {points} points")
    counted = dict(made.elsewhere)
    for shop, counts in theirs.elsewhere.items():
        known = counted.get(shop, {})
        counted[shop] = {
            key: max(known.get(key, 0), counts.get(key, 0)) for key in {**known, **counts}
        }
    if counted != made.elsewhere:
        taken.append("what failed at other shops")
    return msgspec.structs.replace(made, photos=photos, elsewhere=counted)


def _with_part(made: OwnBoardFile, line: Line, taken: list[str], left: list[str]) -> OwnBoardFile:
    """One more line about a part, where ours says nothing of the same part or place."""
    refs = {one.ref for one in made.parts if not isinstance(one, Struck)}
    slots = {one.slot for one in made.parts if one.slot}
    name = line.place if isinstance(line, Struck) else line.ref
    if line in made.parts:
        return made
    if name in refs or (line.slot and line.slot in slots):
        left.append(f"{name}: ours says otherwise")
        return made
    more = msgspec.structs.replace(made, parts=[*made.parts, line])
    try:
        board_of_file(more)
    except BoardFileError as error:
        left.append(f"{name}: {error.message}")
        return made
    taken.append(name)
    return more
