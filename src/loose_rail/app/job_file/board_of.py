"""The board of a job file: a profile, a number in the board book, or a topology and labels.

A board known only by its topology stands on the shipped example of that topology, with the rails'
volts and labels that the file names. Its parts are then spoken of by the job they do.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

import msgspec

from loose_rail.app.job_file.notes import Notes
from loose_rail.app.job_file.words import meant, plain, volts_in, words
from loose_rail.boards.load import read_board, shipped_board, shipped_ids
from loose_rail.boards.mains import LEAST_VOLTS, MOST_VOLTS, mains_of, on_mains, takes
from loose_rail.boards.profile import Board, Rail
from loose_rail.vocabulary.keys import stage_of

WAKE_SENSES = ("high", "low", "none", "unknown")
SAME_RAIL_SHARE = 0.35
SAME_VOLTS_SHARE = 0.001


@dataclass(frozen=True)
class CaseBoard:
    """A board, whether it stands on its topology alone, and what the file's labels mean on it.

    `labels` maps plain labels and connector pins of the file to rail or signal names.
    """

    board: Board
    generic: bool
    labels: Mapping[str, str] = field(default_factory=dict)


def board_of(given: object, folder: Path, notes: Notes) -> CaseBoard:
    """The board that a file means. Raises BoardFileError where a profile it names is missing or
    damaged."""
    if isinstance(given, str):
        return _named(given, {}, folder, notes)
    if isinstance(given, Mapping):
        for key in ("profile", "file", "id", "number", "board"):
            if isinstance(given.get(key), str) and given[key].strip():
                return _named(given[key], given, folder, notes)
        return _from_topology(given, notes)
    if given is not None:
        notes.leave(given, "a board is a number, a profile file, or a topology with its labels")
    return _from_topology({}, notes)


def _named(name: str, given: Mapping[str, object], folder: Path, notes: Notes) -> CaseBoard:
    known = _by_number(name)
    if known is not None:
        return CaseBoard(known, generic=False)
    path = Path(name) if Path(name).is_absolute() else folder / name
    if name.lower().endswith(".json") or path.is_file():
        return CaseBoard(read_board(path), generic=False)
    if not (meant(words().topologies, name) or given.get("topology") or given.get("rails")):
        notes.leave(name, "this board is in no board book here: its topology is used instead")
        return _from_topology(given, notes)
    return _from_topology({"topology": name, **given}, notes)


def _by_number(name: str) -> Board | None:
    wanted = plain(name)
    for board_id in shipped_ids():
        board = shipped_board(board_id)
        if wanted in {plain(board.id), plain(board.title), *(plain(a) for a in board.aliases)}:
            return board
    return None


def _from_topology(given: Mapping[str, object], notes: Notes) -> CaseBoard:
    text = str(given.get("topology") or given.get("kind") or given.get("set") or "")
    board_id = next((i for i in shipped_ids() if shipped_board(i).topology == text), "")
    labels = _labels(given)
    board_id = (
        board_id or meant(words().topologies, text) or meant(words().topologies, " ".join(labels))
    )
    if not board_id:
        board_id = words().default_topology
        said = f"“{text}” is no topology known here" if text else "no board is named"
        topology = shipped_board(board_id).topology
        said = said[:1].upper() + said[1:]
        notes.warn(f"{said}: taken as {topology}. Name its topology for better answers.")
    board = shipped_board(board_id)
    board = _with_mains(board, given, notes)
    board, meaning = _with_labels(board, labels, notes)
    board = _with_wake(board, given, notes)
    notes.understood.append(f"board taken as topology {board.topology}, as on {board_id}")
    changed = msgspec.structs.replace(board, id=f"T{board_id}", title=f"Board of {board.topology}")
    return CaseBoard(changed, generic=True, labels=meaning)


def _labels(given: Mapping[str, object]) -> list[str]:
    """Every printed label that a file names: rails, and pins of the legend."""
    found: list[str] = []
    for key in ("rails", "legend", "labels", "pins"):
        entries = given.get(key)
        if isinstance(entries, Mapping):
            entries = [{"label": label, "volts": volts} for label, volts in entries.items()]
        for entry in entries if isinstance(entries, list) else []:
            if isinstance(entry, str):
                found.append(entry)
            elif isinstance(entry, Mapping):
                if isinstance(entry.get("pins"), list):
                    found += _labels({"pins": entry["pins"]})
                label = entry.get("label") or entry.get("rail") or entry.get("name")
                volts = entry.get("volts", entry.get("on", entry.get("standby")))
                if label and isinstance(volts, int | float) and volts_in(str(label)) is None:
                    label = f"{label} {volts:g} V"
                if label:
                    found.append(str(label))
    return found


SIGNALS = ("start", "lamps_signal", "enable")
GROUNDS = ("gnd", "ground", "nc", "0v", "com")


def _with_labels(board: Board, labels: Sequence[str], notes: Notes) -> tuple[Board, dict[str, str]]:
    """The board with the volts that the labels print, and what each label means."""
    meaning: dict[str, str] = {}
    for label in labels:
        if plain(label) in GROUNDS:
            continue
        found = meant(words().points, label)
        if found in SIGNALS:
            meaning[plain(label)] = found
            continue
        rail = _rail_of(board, label, found, set(meaning.values()))
        if rail is None:
            notes.leave(label, f"no rail of topology {board.topology} fits this label")
            continue
        meaning[plain(label)] = rail.id
        volts = volts_in(label)
        if volts is not None and volts > 0 and abs(volts / rail.volts - 1.0) > SAME_VOLTS_SHARE:
            board = _at_volts(board, rail, volts)
            title = rail.title[:1].lower() + rail.title[1:]
            notes.understood.append(f"“{label}” is the {title}, at {volts:g} V")
    return board, meaning


def _rail_of(board: Board, label: str, role: str, named: set[str]) -> Rail | None:
    """The rail that a label means, by what it says and else by its volts. A rail that has its label
    already is meant again by the same volts only."""
    for rail in board.rails:
        if role and (rail.id == role or role in rail.title.lower()):
            return rail
    volts = volts_in(label)
    if volts is None or volts <= 0:
        return None
    for rail in board.rails:
        if rail.id in named and abs(rail.volts / volts - 1.0) <= SAME_VOLTS_SHARE:
            return rail
    free = [rail for rail in board.rails if rail.id not in named]
    nearest = min(free, key=lambda rail: abs(rail.volts / volts - 1.0), default=None)
    if nearest is None or abs(nearest.volts / volts - 1.0) > SAME_RAIL_SHARE:
        return None
    return nearest


def _at_volts(board: Board, rail: Rail, volts: float) -> Board:
    """The board with a rail, its stage, its loads and what watches it at other volts."""
    points = [p.observable for p in board.live_points if p.rail == rail.id]
    stage = stage_of(points[0]) if points else rail.id
    times = volts / rail.volts
    replace = msgspec.structs.replace
    return replace(
        board,
        rails=[replace(r, volts=volts) if r.id == rail.id else r for r in board.rails],
        stages=[replace(s, volts=s.volts * times) if s.id == stage else s for s in board.stages],
        loads=[replace(x, volts=volts) if x.rail == stage else x for x in board.loads],
        signals=[
            replace(s, good_volts=s.good_volts * times) if s.rail == stage else s
            for s in board.signals
        ],
    )


def _with_mains(board: Board, given: Mapping[str, object], notes: Notes) -> Board:
    mains = given.get("mains")
    if isinstance(mains, Mapping):
        mains = mains.get("volts")
    if isinstance(mains, str):
        mains = volts_in(mains) or mains
    if mains is None or board.adapter_fed:
        return board
    if isinstance(mains, bool) or not isinstance(mains, int | float):
        notes.leave({"mains": mains}, "is no number of volts")
        return board
    known = mains_of(float(mains))
    if known is None:
        notes.leave({"mains": mains}, f"mains is {LEAST_VOLTS:g} to {MOST_VOLTS:g} V")
        return board
    if not takes(board, known):
        notes.warn(f"The bulk capacitor of this board is not made for {mains:g} V mains.")
    return on_mains(board, known)


def _with_wake(board: Board, given: Mapping[str, object], notes: Notes) -> Board:
    """How the board is woken; not said means unknown, and then nothing is ever jumpered."""
    wake = given.get("wake", "unknown")
    sense = str(wake.get("sense", "unknown") if isinstance(wake, Mapping) else wake).lower()
    if sense not in WAKE_SENSES:
        notes.leave({"wake": wake}, f"a wake sense is one of {', '.join(WAKE_SENSES)}")
        sense = "unknown"
    if board.wake.sense == "none":
        return board
    if sense == "unknown":
        notes.warn(
            "The sense of its power-on signal (PS-ON) is not known: never jumper it on a guess."
        )
    replace = msgspec.structs.replace
    signals = board.signals
    if sense in ("high", "low"):
        first = replace(signals[0], sense=sense)
        signals = [first, *signals[1:]]
    return replace(board, wake=replace(board.wake, sense=sense), signals=signals)
