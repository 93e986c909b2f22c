"""The password of the simulated meter: whoever else is on this computer is not let in.

It is handed to the meter's process by its environment, and told once on each line with the command
that real instruments have for it (SCPI-99, volume 2, 19.16: SYSTem:PASSword).
"""

from __future__ import annotations

PASSWORD_NAME = "LOOSE_RAIL_METER_PASSWORD"
PASSWORD_BYTES = 16
"""128 bits can't be guessed [E]."""
UNLOCK = "SYST:PASS:CEN"


def unlocking(password: str) -> str:
    """The line that lets in."""
    return f'{UNLOCK} "{password}"'
