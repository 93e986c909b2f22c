"""Why a port of this computer can't be opened: it is not there, or this user has no right to it.

Serial ports belong to a group on Linux (dialout on Debian and its relatives, uucp on others). USB
test instruments belong to root until a udev rule hands them to whoever sits at the computer; the
rule ships (`loose-rail desktop --udev-rule`).
"""

from __future__ import annotations

import errno
import grp
import os
import re
from pathlib import Path

from loose_rail.kernel.errors import MeterError

_SERIAL = re.compile(r"(?i)^ASRL(/.+)::INSTR$")
_RULE = "loose-rail desktop --udev-rule prints the rule and says where it goes"


def refused(address: str, error: BaseException) -> MeterError:
    """What to tell of an address that could not be opened."""
    serial = _SERIAL.match(address)
    if serial is not None:
        return _serial(Path(serial.group(1)))
    if address.upper().startswith("USB") and _no_rights(error):
        return MeterError(
            f"This user may not use the instrument at {address}.",
            f"It needs a udev rule: {_RULE}.",
        )
    return MeterError(f"No meter answers at {address}.", "Is it switched on and its cable in?")


def _serial(port: Path) -> MeterError:
    if not port.exists():
        return MeterError(
            f"There is no port {port} on this computer.",
            "Is the cable in? Search the ports for what there is.",
        )
    if os.access(port, os.R_OK | os.W_OK):
        return MeterError(
            f"The port {port} can't be opened: another program may hold it.", "Close that one."
        )
    group = _group_of(port)
    return MeterError(
        f"This user may not use the port {port}; the group {group} may.",
        f"Type “sudo usermod -aG {group} $USER” in a terminal, then log out and in again.",
    )


def _group_of(port: Path) -> str:
    number = port.stat().st_gid
    try:
        return grp.getgrgid(number).gr_name
    except KeyError:
        return str(number)


def _no_rights(error: BaseException | None) -> bool:
    """Whether the chain of an error begins with missing rights."""
    while error is not None:
        if getattr(error, "errno", None) in (errno.EACCES, errno.EPERM):
            return True
        if "access denied" in str(error).lower() or "permission" in str(error).lower():
            return True
        error = error.__cause__ or error.__context__
    return False
