"""The customer's outlet and what hangs before a set, as people call them."""

from __future__ import annotations

import re

_ROOM = (
    r"(?:kitchen|bed ?room|living[- ]room|hall|house|home|customer'?s?|owner'?s?|garden|garage|"
    r"workshop|shop|office)(?:'s)?"
)
OUTLET = re.compile(
    rf"\b(?:wall|mains|{_ROOM}) (?:wall )?(?:socket|outlet|plug point)\b(?! (?:of|on|at) (?:the )?"
    r"(?:set|board|cabinet))|\boutlets?\b|\bsocket in the wall\b|\bsocket(?:s)? at home\b|"
    r"\b(?:socket|power|extension|plug) (?:strip|bar|lead)\b|\bmulti-?way\b|\bextension\b",
    re.IGNORECASE,
)
"""None of it is a connector of the board."""
