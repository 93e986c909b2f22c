"""`loose-rail decode`: what a marking on a part can mean, and how it comes out."""

from __future__ import annotations

import argparse
import json
import re
import sys
from typing import Any

from loose_rail.judgement.three_legs import asks_legs, identify, read_legs
from loose_rail.kernel.errors import UsageError
from loose_rail.kernel.quantities import parse_quantity
from loose_rail.markings.decode import decode as readings_of
from loose_rail.markings.encode import codes_of
from loose_rail.markings.reading import MarkedKind, MarkReading
from loose_rail.markings.series import SERIES, nearest

_NEAREST = re.compile(r"\s*(\d+(?:\.\d+)?(?:[eE][-+]?\d+)?)\s+(E\d+)\s*", re.IGNORECASE)


def decode(options: argparse.Namespace) -> int:
    """Print every reading, the likeliest first. Raises BadEntryError and UsageError."""
    match = _NEAREST.fullmatch(options.code)
    if match and not options.kind:
        return _print_nearest(float(match[1]), match[2].upper(), options.json)
    if options.codes:
        return _print_codes(options)
    if asks_legs(options.code):
        return _print_legs(options.code, options.json)
    found = readings_of(options.code, options.kind)
    if options.json:
        text = json.dumps(
            {"readings": [reading_dict(one) for one in found]}, ensure_ascii=False, indent=1
        )
        sys.stdout.write(f"{text}\n")
        return 0
    for one in found:
        sys.stdout.write(f"{one.words}\n")
        for step in one.steps:
            sys.stdout.write(f"    {step}\n")
        if one.note:
            sys.stdout.write(f"    {one.note}\n")
    return 0


def reading_dict(one: MarkReading) -> dict[str, Any]:
    """A reading as the JSON output has it."""
    tolerance = one.tolerance
    return {
        "kind": one.kind.value,
        "value": one.value,
        "unit": one.unit,
        "tolerance_percent": tolerance.percent(one.value) if tolerance else None,
        "tolerance": tolerance.words if tolerance else "",
        "volts": one.volts,
        "amperes": one.value if one.kind is MarkedKind.FUSE else None,
        "characteristic": one.characteristic,
        "breaking_capacity": one.breaking,
        "ppm_per_kelvin": one.ppm,
        "steps": list(one.steps),
        "note": one.note,
        "words": one.words,
    }


def _print_codes(options: argparse.Namespace) -> int:
    """The way back: what would be printed for a value."""
    value = parse_quantity(options.code)
    if value is None or value.value < 0 or value.unit not in ("Ω", "F", "H"):
        raise UsageError(f"“{options.code}” is no value with its unit.", "Write 4.7 kΩ or 100 nF.")
    found = codes_of(value.value, value.unit, options.percent, options.volts)
    if options.json:
        sys.stdout.write(json.dumps({"codes": found}, ensure_ascii=False) + "\n")
    else:
        sys.stdout.write("".join(f"{code:16s} {where}\n" for where, code in found.items()))
    return 0


def _print_legs(text: str, as_json: bool) -> int:
    """What a part with three legs is, by readings between them."""
    found = identify(read_legs(text))
    if as_json:
        rows = [
            {
                "kind": one.kind,
                "legs": {str(leg): name for leg, name in one.legs.items()},
                "failed": one.failed,
                "why": one.why,
                "then": one.then,
            }
            for one in found
        ]
        sys.stdout.write(json.dumps({"legs": rows}, ensure_ascii=False, indent=1) + "\n")
        return 0
    for one in found:
        lines = [one.words, *(f"    {line}" for line in (one.why, one.then) if line)]
        sys.stdout.write("\n".join(lines) + "\n")
    return 0


def _print_nearest(value: float, series: str, as_json: bool) -> int:
    if series not in SERIES:
        raise UsageError(f"There is no series {series}.", f"There are {', '.join(SERIES)}.")
    if value <= 0:
        raise UsageError("A value of a series is above zero.")
    found = nearest(value, series)
    if as_json:
        sys.stdout.write(json.dumps({"series": series, "nearest": found}) + "\n")
    else:
        sys.stdout.write(f"{found:g} is the nearest value of {series} (by ratio)\n")
    return 0
