"""What a meter would show at the offered probe with a fault in the board, as a person types it."""

import math

from loose_rail.screens.job.view import JobView
from tests.shared import the


def shown(job: JobView, key: str) -> str:
    """The prediction of the row with this key at the card's probe."""
    session = job.presenter.session
    candidate = the(session.reviewed.task).candidate
    table = the(session.engine).table
    row = next(number for number, one in enumerate(table.rows) if one.key == key)
    column = table.index(candidate.key)
    low, high, hertz = (float(a[row, column]) for a in (table.low, table.high, table.hertz))
    if math.isinf(low):
        return "OL"
    if hertz:
        return f"{max(low, 0):.3g}..{high:.4g}@{hertz:.2g}Hz"
    if candidate.probe.unit == "F":
        return f"{low * 1e9:.4g}n"
    return f"{max(low, 0):.4g}"
