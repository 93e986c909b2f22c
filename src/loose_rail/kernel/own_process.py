"""How a part of the program is started as a process of its own.

From a checkout or a wheel Python runs the module; a bundle that was frozen into one executable has
no Python beside it, so the executable starts itself with a hidden first word.
"""

from __future__ import annotations

import sys
from importlib import import_module

RUN_PART = "--run-part"
"""The hidden first word: `loose-rail --run-part loose_rail.practice.meter_server --board …`."""
_OURS = "loose_rail."


def command_of(module: str, *arguments: str) -> list[str]:
    """The command that runs a module of ours, which has `main(arguments) -> int`."""
    if getattr(sys, "frozen", False):
        return [sys.executable, RUN_PART, module, *arguments]
    return [sys.executable, "-m", module, *arguments]


def run_part(arguments: list[str]) -> int | None:
    """Run the part that these arguments name; None where they name none. Raises ImportError."""
    if len(arguments) < 2 or arguments[0] != RUN_PART or not arguments[1].startswith(_OURS):
        return None
    code: int = import_module(arguments[1]).main(arguments[2:])
    return code
