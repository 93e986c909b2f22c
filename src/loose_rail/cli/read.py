"""`loose-rail read`: what a meter shows on a board profile, and its behaviour in time."""

from __future__ import annotations

import argparse
import csv
import json
import math
import sys
from pathlib import Path

import msgspec
import numpy as np

from loose_rail.boards.by_itself import by_itself
from loose_rail.boards.cold_network import (
    cold_network,
    gate_charged,
    part_network,
    removed,
    variant_of,
)
from loose_rail.boards.conditions import under
from loose_rail.boards.faults import Fault, fault_from_key, faults_of
from loose_rail.boards.load import board_named
from loose_rail.boards.powered_board import simulation_of
from loose_rail.boards.probe_ends import ends_of
from loose_rail.boards.probes import Probe, probes_of
from loose_rail.boards.profile import Board, Mains
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import Variant
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.diagnosis.model.predictions import meter_view
from loose_rail.kernel.errors import UsageError
from loose_rail.kernel.quantities import engineering, span
from loose_rail.netlist.write import write_netlist
from loose_rail.powered.record import run
from loose_rail.powered.waveform import STEP_SECONDS, TRACE_EVERY
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState
from loose_rail.vocabulary.keys import part_of, stage_of
from loose_rail.vocabulary.meter_mode import MeterMode

CLIMB_SECONDS = (1.0, 5.0, 20.0)
TRACE_SECONDS = 3.0
START_WINDOWS = 3
"""A slow start may reach into the record by this many meter windows."""
MOST_NAMES = 12
MAINS_VOLTS = (90.0, 264.0)
CELSIUS = (-20.0, 85.0)


def read(options: argparse.Namespace) -> int:
    """Print the reading. Raises BoardFileError and UsageError."""
    board = _at_mains(board_named(options.board), options.mains)
    if not (CELSIUS[0] <= options.celsius <= CELSIUS[1] and options.hours >= 0):
        raise UsageError("A board is read at −20 to 85 °C after 0 hours of use or more.")
    board = under(board, options.celsius, options.hours, options.can)
    probe = probe_named(board, options.probe)
    state = state_named(board, options.state)
    faults = [fault_named(board, text) for text in options.fault]
    if probe.live != state.plugged:
        needs = "a powered state" if probe.live else "the state unplugged"
        raise UsageError(f"{probe.id} is read in {needs}, not in {state.key}.")
    if options.netlist:
        _write_netlist(board, probe, faults, options.netlist)
    if (options.without or options.charged) and probe.live:
        raise UsageError("Parts are taken out, and gates hold a charge, on a dead board only.")
    if probe.live:
        found = _live(board, probe, state, faults, max(options.resistor, 0.0))
    else:
        found = _cold(board, probe, faults, options.without, options.charged)
    if options.trace:
        _write_trace(board, state, faults, options.trace)
    red, black = ends_of(board, probe)
    answer = {
        "board": board.id,
        "probe": probe.id,
        "state": state.key,
        "red": red.as_json(),
        "black": black.as_json(),
        **found,
    }
    text = json.dumps(answer, ensure_ascii=False) if options.json else _words(probe, state, found)
    sys.stdout.write(f"{text}\n")
    return 0


def _at_mains(board: Board, volts: float | None) -> Board:
    """The board on another mains voltage than its own."""
    if volts is None:
        return board
    if board.adapter_fed:
        raise UsageError(f"{board.id} is fed by an adapter, not by the mains.")
    if not MAINS_VOLTS[0] <= volts <= MAINS_VOLTS[1]:
        raise UsageError(f"{volts:g} V is no mains voltage.", "Use 90 to 264 V.")
    return msgspec.structs.replace(board, mains=Mains(volts, board.mains.hertz))


# ---- names ---------------------------------------------------------------------------------


def probe_named(board: Board, name: str) -> Probe:
    """A probe by its id, or a rail's own probe by the rail's id. Raises UsageError."""
    every = {probe.id: probe for probe in probes_of(board)}
    probes = {key: probe for key, probe in every.items() if probe.meter}
    if not probes.keys() >= every.keys() & {name, f"live.{name}"}:
        raise UsageError(f"No meter goes to {name}: it can stand at kilovolts.")
    for key in (name, f"live.{name}"):
        if key in probes:
            return probes[key]
    for probe in probes.values():
        if probe.rail and probe.rail == name:
            return probe
    near = [key for key in probes if stage_of(name.lower()) in key.lower()] or list(probes)
    raise UsageError(f"{board.id} has no probe “{name}”.", f"There are {_some(near)}.")


def state_named(board: Board, name: str) -> BoardState:
    """A state by its key; `standby`, `forced`, `on` mean no lamp, and cable on if it can be.

    Raises UsageError.
    """
    states = {state.key: state for state in (UNPLUGGED, *live_states(board))}
    if name in states:
        return states[name]
    same = [state for state in states.values() if name == str(state.power)]
    if same:
        return max(same, key=lambda state: (state.main_cable, not state.lamp_watts))
    raise UsageError(f"“{name}” is no state of {board.id}.", f"There are {', '.join(states)}.")


def fault_named(board: Board, name: str) -> Fault:
    """A fault such as C21:dried or C21:dried:1. Raises UsageError."""
    ref = part_of(name)
    known = {part.ref: part for part in board.components}
    if ref not in known:
        raise UsageError(f"{board.id} has no part “{ref}”.", f"There are {_some(list(known))}.")
    try:
        return fault_from_key(board, name)
    except KeyError:
        keys = [fault.key for fault in faults_of(known[ref])]
        raise UsageError(f"“{name}” is no fault of {ref}.", f"There are {_some(keys)}.") from None


def _some(names: list[str]) -> str:
    more = f" and {len(names) - MOST_NAMES} more" if len(names) > MOST_NAMES else ""
    return ", ".join(names[:MOST_NAMES]) + more


# ---- readings ------------------------------------------------------------------------------


def _cold(
    board: Board, probe: Probe, faults: list[Fault], without: list[str], charged: list[str]
) -> dict[str, object]:
    if probe.unplugged:
        return _by_itself(board, probe, faults)
    if probe.lifted:
        network = part_network(board, probe.part)
        faults = [fault for fault in faults if fault.ref == probe.part]
    else:
        network = cold_network(board)
    variant = removed(network, variant_of(board, network, faults), without)
    known = {part.ref for part in board.components}
    for ref in charged:
        if ref not in known:
            raise UsageError(f"{board.id} has no part “{ref}”.")
        variant = gate_charged(board, variant, ref)
    solver = ColdSolver.of(network, [Variant("healthy"), variant])
    pair = [(probe.plus, probe.minus)]
    value = float(solver.read(pair, probe.mode)[1, 0])
    found = _shown(value, probe.unit)
    found["behaviour"] = {"form": "steady"}
    if probe.mode is MeterMode.OHMS:
        climbing = solver.climbing(pair, CLIMB_SECONDS)[:, 1, 0]
        if abs(climbing[0] - climbing[-1]) > 0.02 * min(climbing[-1], value):
            found["behaviour"] = {
                "form": "rising",
                "at_seconds": {
                    f"{seconds:g}": None if math.isinf(ohms) else float(ohms)
                    for seconds, ohms in zip(CLIMB_SECONDS, climbing, strict=True)
                },
            }
    return found


def _live(
    board: Board, probe: Probe, state: BoardState, faults: list[Fault], resistor: float
) -> dict[str, object]:
    simulation = simulation_of(board, faults, state, resistor_ohms=resistor)
    record = run(simulation.plant, simulation=simulation)
    low, high, hertz = (
        float(value[0]) for value in meter_view(record, probe.observable, np.array([0]))
    )
    found = _shown(high if hertz else low, "V")
    goes = any(fault.comes_and_goes for fault in faults)
    if hertz and not goes:
        found["display"] = f"{span(low, high, 'V', 2)} ticking {engineering(hertz, 'Hz', 2)}"
        found["behaviour"] = {"form": "ticking", "low": low, "high": high, "hertz": hertz}
    else:
        windows = record.windows[probe.observable][START_WINDOWS:, 0]
        moved = float(windows.max() - windows.min())
        form = "steady"
        if moved > 0.04 * max(abs(windows).max(), 1e-9) and moved > 0.06:
            form = "rising" if windows[-1] > windows[0] else "falling"
        if goes and form != "steady":
            form = "intermittent"
        found["behaviour"] = {
            "form": form,
            "low": float(windows.min()),
            "high": float(windows.max()),
        }
    found["lamp_glow"] = float(record.lamp_glow[0])
    found["fuse"] = "whole" if record.fuse_whole[0] else "open"
    return found


def _shown(value: float, unit: str) -> dict[str, object]:
    over = math.isinf(value)
    return {
        "reading": None if over else value,
        "unit": unit,
        "display": "OL" if over else engineering(value, unit),
        "overload": over,
    }


def _by_itself(board: Board, probe: Probe, faults: list[Fault]) -> dict[str, object]:
    found = _shown(float(by_itself(board, probe, [faults])[0]), probe.unit)
    found["behaviour"] = {"form": "steady"}
    return found


def _words(probe: Probe, state: BoardState, found: dict[str, object]) -> str:
    behaviour = found["behaviour"]
    assert isinstance(behaviour, dict)
    text = f"{probe.title}, {state.label}: {found['display']}"
    if behaviour["form"] == "intermittent":
        text += f", comes and goes down to {engineering(behaviour['low'], 'V')}"
    elif behaviour["form"] in ("rising", "falling"):
        text += f", {behaviour['form']}"
        for seconds, ohms in behaviour.get("at_seconds", {}).items():
            shown = "OL" if ohms is None else engineering(ohms, "Ω")
            text += f"; after {seconds} s {shown}"
    if found.get("fuse") == "open":
        text += "; the fuse opens"
    return text


def _write_netlist(board: Board, probe: Probe, faults: list[Fault], path: Path) -> None:
    if probe.live:
        raise UsageError("A netlist is written for a dead board's probe only.")
    if probe.unplugged:
        raise UsageError("A netlist is written for what is on the board; this is read off it.")
    network = part_network(board, probe.part) if probe.lifted else cold_network(board)
    own = [fault for fault in faults if not probe.lifted or fault.ref == probe.part]
    variant = variant_of(board, network, own)
    pair = [(probe.plus, probe.minus)]
    number = 0
    if probe.mode is MeterMode.OHMS:
        solver = ColdSolver.of(network, [Variant("healthy"), variant])
        number = int(solver.ohms_in_range(pair)[1][1, 0])
    text = write_netlist(network, variant, probe.plus, probe.minus, probe.mode, number)
    _write(path, text)


def _write_trace(board: Board, state: BoardState, faults: list[Fault], path: Path) -> None:
    if not state.plugged:
        raise UsageError("A waveform is written for a powered state only.")
    board_now = simulation_of(board, faults, state, fine=True)
    record = run(board_now.plant, TRACE_SECONDS, TRACE_EVERY, STEP_SECONDS, board_now)
    names = list(record.traces)
    try:
        with path.open("w", newline="", encoding="utf-8") as file:
            writer = csv.writer(file)
            writer.writerow(["seconds", *names])
            for number, seconds in enumerate(record.trace_seconds):
                row = [f"{record.traces[name][number, 0]:.6g}" for name in names]
                writer.writerow([f"{seconds:.4f}", *row])
    except OSError as error:
        raise UsageError(f"{path} can't be written: {error.strerror}.") from error


def _write(path: Path, text: str) -> None:
    try:
        path.write_text(text, encoding="utf-8")
    except OSError as error:
        raise UsageError(f"{path} can't be written: {error.strerror}.") from error
