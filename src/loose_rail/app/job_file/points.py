"""Points as people name them, found among the probes of a board.

Tried in turn: a probe's own name, a part, a pin of a connector, a printed label, what the point
does ("standby", "bulk", "12 V"). On a board that is known by its topology only, designators of the
example mean nothing and are not taken.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from loose_rail.app.job_file.board_of import CaseBoard
from loose_rail.app.job_file.words import all_meant, meant, plain, volts_in, words
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.probes import Probe, probes_of
from loose_rail.boards.profile import Board
from loose_rail.vocabulary.keys import job_of, stage_of
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.roles import Job, role

_DESIGNATOR = re.compile(r"\b([A-Z]{1,3}\d{1,4}[A-Z]?)\b")
_PIN = re.compile(r"\b([A-Z]{1,3}\d{1,4})\s*(?:[-.:/ ]|pin)+\s*(\d{1,2})\b", re.IGNORECASE)
NEAR_VOLTS = 0.12
RESISTANCES = (MeterMode.OHMS, MeterMode.CONTINUITY)


def probe_of(case: CaseBoard, point: str, mode: MeterMode | None, live: bool) -> Probe | None:
    """The probe that a point means with a setting (None: any), on a powered or a dead board."""
    board = case.board
    fitting = [p for p in probes_of(board) if p.live == live and _mode_fits(p, mode)]
    for probe in fitting:
        if point.lower() in (probe.id.lower(), f"live.{point}".lower(), probe.title.lower()):
            return probe
    if not live:
        parts = parts_of(case, point)
        own = [p for p in fitting if p.part in parts and not p.lifted]
        lifted = [p for p in fitting if p.part in parts and p.lifted]
        if re.search(r"lifted|removed|out of|by itself", point.lower()) and lifted:
            return lifted[0]
        if own:
            return _best_end(own, point)
        return _rail_to_ground(case, point, fitting)
    return _live_probe(case, point, fitting)


def _mode_fits(probe: Probe, mode: MeterMode | None) -> bool:
    if mode is None or probe.mode is mode:
        return True
    if mode in RESISTANCES and probe.mode in RESISTANCES:
        return True
    volts = (MeterMode.DC_VOLTS, MeterMode.AC_VOLTS)
    if mode is MeterMode.DC_VOLTS and probe.mode is MeterMode.DIODE:
        return True
    return mode in volts and probe.mode in volts


def _best_end(probes: Sequence[Probe], point: str) -> Probe:
    """The diode test forward unless backward is said; else the first."""
    backward = re.search(r"revers|backward|k ?(to|-) ?a\b", point.lower())
    for probe in probes:
        if backward and probe.id.endswith((".rev", ".ka")):
            return probe
    return probes[0]


def parts_of(case: CaseBoard, text: str) -> list[str]:
    """The parts that words mean: a designator of the profile, or what a part does; the likeliest
    first, several where the words fit several."""
    board = case.board
    refs = {part.ref for part in board.components}
    if not case.generic:
        for name in _DESIGNATOR.findall(text.upper()):
            if name in refs:
                return [name]
        if text.strip().upper() in refs:
            return [text.strip().upper()]
    for part in board.components:
        if part.duty and plain(part.duty) == plain(text):
            return [part.ref]
    role = meant(words().parts, text)
    if not role:
        return []
    return _of_role(board, role, text)


def _of_role(board: Board, wanted_role: str, text: str) -> list[str]:
    if not wanted_role.startswith("*."):
        return list(board.roles.get(wanted_role, [])[:1])
    job = Job(wanted_role[2:])
    stages = [stage_of(name) for name in board.roles if job_of(name) == job]
    if job is Job.RESERVOIR:
        stages += [stage_of(n) for n in board.roles if job_of(n) == Job.OUTPUT]
    said = [stage for stage in all_meant(words().stages, text) if stage in stages]
    volts = volts_in(text)
    if volts is not None:
        said = [s.id for s in board.stages if s.id in stages and _near(s.volts, volts)] or said
    found: list[str] = []
    for stage in said[:1] or stages:
        refs = board.roles.get(role(stage, job)) or board.roles.get(role(stage, Job.OUTPUT), [])
        wanted = [ref for ref in refs if job is not Job.RESERVOIR or _is_electrolytic(board, ref)]
        found += wanted if said else wanted[:1]
    return list(dict.fromkeys(found))


def _is_electrolytic(board: Board, ref: str) -> bool:
    return is_a(board.component(ref), Trait.ELECTROLYTIC)


def _near(volts: float, wanted: float) -> bool:
    return wanted > 0 and abs(volts / wanted - 1.0) <= NEAR_VOLTS


def _rail_to_ground(case: CaseBoard, point: str, fitting: Sequence[Probe]) -> Probe | None:
    """Ohms of a rail to its ground are read at a capacitor that stands on it."""
    live = _live_probe(case, point, [p for p in probes_of(case.board) if p.live])
    if live is None:
        return None
    capacitors = ("electrolytic", "ceramic", "film", "y_capacitor")
    at = [p for p in fitting if case.board.component(p.part).kind in capacitors and not p.lifted]
    for probe in at:
        if probe.plus == live.plus:
            return probe
    rail = case.board.rail_of(live.rail)
    stops = rail.stops if rail is not None else []
    return next((p for p in at if p.part in stops), None)


def _live_probe(case: CaseBoard, point: str, fitting: Sequence[Probe]) -> Probe | None:
    board = case.board
    pin = _PIN.search(point)
    if pin and not case.generic:
        found = _at_pin(board, pin[1].upper(), int(pin[2]), fitting)
        if found is not None:
            return found
    label = plain(re.sub(r"\bpin\b|\brail\b|\bto (gnd|ground)\b", " ", point))
    if label in case.labels:
        return _named(board, case.labels[label], fitting)
    for connector in board.connectors if not case.generic else []:
        for one in connector.pins:
            if plain(one.label) == label:
                return next((p for p in fitting if p.plus == one.net), None)
    found = _by_role(board, point, fitting) or _by_volts(board, point, fitting)
    if found is not None:
        return found
    parts = parts_of(case, point)
    return next((p for p in fitting if p.part in parts), None)


def _by_role(board: Board, point: str, fitting: Sequence[Probe]) -> Probe | None:
    role = meant(words().points, point)
    if role != "vcc":
        return _named(board, role, fitting) if role else None
    stage = next(iter(all_meant(words().stages, point)), "")
    vcc = [p for p in fitting if p.observable.endswith(".vcc")]
    of_stage = [p for p in vcc if p.observable.startswith(stage)] if stage else vcc
    return next(iter(of_stage), next(iter(vcc), None))


def _by_volts(board: Board, point: str, fitting: Sequence[Probe]) -> Probe | None:
    volts = volts_in(point)
    for probe in reversed(fitting) if volts is not None else ():
        rail = board.rail_of(probe.rail)
        if rail is not None and volts is not None and _near(rail.volts, volts):
            return probe
    return None


def _at_pin(board: Board, ref: str, number: int, fitting: Sequence[Probe]) -> Probe | None:
    for connector in board.connectors:
        for pin in connector.pins if connector.ref == ref else []:
            if pin.number == number:
                return next((p for p in fitting if p.plus == pin.net), None)
    return None


def _named(board: Board, name: str, fitting: Sequence[Probe]) -> Probe | None:
    """The probe of a rail or a signal by its name, at the connector before inside the board."""
    if name == "enable":
        signals = [s.id for s in board.signals if s.id not in ("start", "lamps")]
        return next((p for p in fitting if p.observable in signals), None)
    if name == "lamps_signal":
        return next((p for p in fitting if p.observable == "lamps"), None)
    for probe in reversed(fitting):
        rail = board.rail_of(probe.rail)
        named = rail is not None and (rail.id == name or name in rail.title.lower())
        if named or probe.observable in (name, f"{name}.out"):
            return probe
    if name == "standby":
        return next((p for p in reversed(fitting) if p.observable == board.standby_point), None)
    return next((p for p in fitting if p.observable == name), None)
