"""One line of an answer, read so that no meter can hold the program: bounded in length and in time.

The library's own read waits as long as bytes come and keeps them all: a meter that streams, or a
line at the wrong speed, would never be done with.
"""

from __future__ import annotations

import time
from typing import Any

from pyvisa.constants import StatusCode

from loose_rail.kernel.errors import MeterTalkError

MOST_BYTES = 65_536
"""An answer is a number or an identification: less than a hundred bytes (IEEE 488.2, 8.7) [E]."""
CHECK_LINE = "Switch its streaming off, or check baud rate and line ending in its profile."


def is_stream(address: str) -> bool:
    """Whether bytes come here without a message's end: raw sockets and serial lines."""
    upper = address.upper()
    return upper.startswith("ASRL") or upper.endswith("SOCKET")


def read_line(resource: Any, ending: str, seconds: float) -> str:
    """Read up to the line's end. Raises MeterTalkError where there is none in this time or length,
    the library's own errors where nothing comes, UnicodeDecodeError for what is no text."""
    until = time.monotonic() + seconds
    end, taken = ending.encode("ascii"), bytearray()
    while not (end and taken.endswith(end)):
        with resource.ignore_warning(StatusCode.success_max_count_read):
            chunk, _ = resource.visalib.read(resource.session, 1)
        taken += chunk
        if len(taken) > MOST_BYTES:
            raise MeterTalkError("The meter sends without a line's end.", CHECK_LINE)
        if time.monotonic() > until:
            raise MeterTalkError("The meter does not come to a line's end in time.", CHECK_LINE)
    return taken.removesuffix(end).decode("ascii")
