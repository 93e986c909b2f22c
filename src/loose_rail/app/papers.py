"""The paperwork of a set: every number found on its board, accessories, the customer if wanted.

The customer's name stays in the shop's own database: no report, no text for a seller and no search
snippet shows it.
"""

from __future__ import annotations

from loose_rail.app.legend import legend_of_board
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.app.settings import MAINS_DETAIL
from loose_rail.boards.mains import mains_in, takes
from loose_rail.jobs import events as ev
from loose_rail.kernel.quantities import parse_quantity

NUMBERS = (
    ("number_label", "Maker's label"),
    ("number_sticker", "Sticker"),
    ("number_etched", "Etched on the board"),
)
FIELDS = (
    *NUMBERS,
    ("accessories", "Came with it"),
    ("customer", "Customer, if wanted"),
    ("price_set", "Value of the set"),
    (MAINS_DETAIL, "Mains, if not ours"),
)


def ordering(session: JobSession) -> str:
    """Which number counts for ordering: the chosen one, else the first that is known."""
    chosen = session.state.detail("order_by")
    known = [key for key, _ in NUMBERS if session.state.detail(key)]
    return chosen if chosen in known else (known[0] if known else "")


def note_detail(session: JobSession, key: str, text: str) -> Outcome:
    """A line was typed; empty takes it away."""
    words = " ".join(text.split())
    if key.startswith("price_") and words:
        found = parse_quantity(words)
        if found is None or found.unit or found.value < 0:
            return Outcome.refused(f"“{words}” is no amount: type a number such as 150.")
        words = f"{found.value:g}"
    if key == MAINS_DETAIL and words:
        mains = mains_in(words)
        if mains is None:
            return Outcome.refused(f"“{words}” is no mains: type 120, 230 V or 100/50.")
        if session.board.adapter_fed:
            return Outcome.refused("An adapter feeds this board: the mains does not reach it.")
        if not takes(session.board, mains):
            return Outcome.refused(
                f"The bulk capacitor of this board is not made for {mains.volts:g} V mains."
            )
        words = f"{mains.volts:g}/{mains.hertz:g}"
    if words == session.state.detail(key):
        return Outcome("")
    session.record(ev.DetailNoted(key, words))
    title = dict(FIELDS)[key]
    return Outcome(f"{title}: {words}." if words else f"{title}: taken away.")


def order_by_next(session: JobSession) -> Outcome:
    """The next known number counts for ordering."""
    known = [key for key, _ in NUMBERS if session.state.detail(key)]
    if not known:
        return Outcome.refused("Type a number of the board first.")
    at = known.index(ordering(session))
    key = known[(at + 1) % len(known)]
    session.record(ev.DetailNoted("order_by", key))
    return Outcome(f"For ordering: {session.state.detail(key)}, {dict(NUMBERS)[key].lower()}.")


def seller_text(session: JobSession) -> str:
    """What to ask a seller, ready to be copied. Nothing about the customer or the fault."""
    state, board = session.state, session.board
    numbers = [
        f"{title.lower()} {state.detail(key)}" for key, title in NUMBERS if state.detail(key)
    ]
    chosen = ordering(session)
    first = state.detail(chosen) if chosen else board.id
    rails = ", ".join(rail.title for rail in board.rails)
    legend = legend_of_board(board, False)
    pins = sum(1 for row in legend.rows for pin in row if pin.label)
    lines = [
        f"I am looking for the power board {first} of a {state.set_name}.",
        f"All numbers on mine: {'; '.join(numbers)}." if numbers else "",
        f"Its rails: {rails}." if rails else "",
        f"Connector to the main board: {legend.title}, {pins} pins used." if pins else "",
        "Please compare every number with its revision, count the connectors, and send a "
        "photograph of both sides.",
        "Is it new, taken from a working set, or repaired? What is the warranty, and do you take "
        "mine in exchange?",
    ]
    return "\n".join(line for line in lines if line)
