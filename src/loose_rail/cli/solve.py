"""`loose-rail solve`: a netlist's own answer, or what a meter shows on it."""

from __future__ import annotations

import argparse
import json
import sys

from loose_rail.kernel.quantities import engineering
from loose_rail.netlist.netlist import Netlist
from loose_rail.netlist.read import read_netlist
from loose_rail.netlist.solve import (
    Reading,
    SolveMode,
    natural_mode,
    read_meter,
    solve_ac,
    solve_op,
)


def solve(options: argparse.Namespace) -> int:
    """Print the answer, notes on standard error. Raises NetlistError."""
    netlist = read_netlist(options.file)
    for note in netlist.notes:
        sys.stderr.write(f"note: {note}\n")
    mode = SolveMode(options.mode) if options.mode else natural_mode(netlist)
    plus, minus = (_net(name) for name in (options.plus, options.minus))
    if mode is SolveMode.OP:
        volts = solve_op(netlist, plus, minus)
        _print({"volts": volts}, engineering(volts, "V", 4), options.json)
    elif mode is SolveMode.AC:
        _print_sweep(netlist, plus, minus, options.json)
    else:
        found = read_meter(netlist, plus, minus, mode)
        _print(reading_dict(found), str(reading_dict(found)["display"]), options.json)
    return 0


def reading_dict(found: Reading) -> dict[str, object]:
    """A meter's display as the JSON output has it: `reading` is null at an overload."""
    return {
        "reading": None if found.overload else found.value,
        "unit": found.unit,
        "display": "OL" if found.overload else engineering(found.value, found.unit),
        "overload": found.overload,
    }


def _print_sweep(netlist: Netlist, plus: str, minus: str, as_json: bool) -> None:
    """One object for one frequency, a list of them for a sweep."""
    found = solve_ac(netlist, plus, minus)
    points = [
        {"volts": {"real": volts.real, "imag": volts.imag}, "hertz": hertz}
        for hertz, volts in found
    ]
    words = "\n".join(
        f"{hertz:.6g} Hz  {volts.real:.6g} {volts.imag:+.6g}j V  size {abs(volts):.6g} V"
        for hertz, volts in found
    )
    _print(points[0] if len(points) == 1 else points, words, as_json)


def _print(value: object, words: str, as_json: bool) -> None:
    text = json.dumps(value, ensure_ascii=False) if as_json else words
    sys.stdout.write(f"{text}\n")


def _net(name: str) -> str:
    lowered = name.lower()
    return "0" if lowered == "gnd" else lowered
