"""The paperwork as it is drawn."""

from __future__ import annotations

from loose_rail.app.papers import FIELDS, ordering, seller_text
from loose_rail.app.session import JobSession
from loose_rail.screens.take_in.state import PaperField, PapersState

HINTS = {
    "number_label": "the maker's own number, as printed",
    "number_sticker": "on a sticker, with its revision",
    "number_etched": "in the copper or the print",
    "accessories": "remote, stand, screws in a bag, cable",
    "customer": "stays in this shop, on no sheet",
    "price_set": "working, as it is worth today: 150",
    "mains": "of where the set comes from: 120, 100/50",
}


def papers_state(session: JobSession) -> PapersState:
    """The paperwork as it stands."""
    chosen = ordering(session)
    fields = tuple(
        PaperField(
            key=key,
            title=title,
            hint=HINTS[key],
            text=session.state.detail(key),
            orders=key == chosen,
        )
        for key, title in FIELDS
    )
    number = session.state.detail(chosen) if chosen else session.board.id
    return PapersState(
        fields=fields, order_words=f"For ordering: {number}", seller_text=seller_text(session)
    )
