"""What the two best suspects differ in, and what would clear the first."""

from __future__ import annotations

from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.reasons import Contrast, contrast, leading_row, would_clear
from loose_rail.diagnosis.review import Review

LEAST_RIVAL = 0.01
"""A second suspect below this share is no rival."""


def differ(review: Review, names: Names) -> str:
    """One or two sentences; empty where there is nothing to tell."""
    table, found = review.table, review.assessment
    usable = [offer.column for offer in found.others]
    if len(found.suspects) < 2:
        return ""
    first, second = found.suspects[:2]
    row = leading_row(table, first.key, found.probabilities)
    titles = [names.title(one.title) for one in (first, second)]
    said = []
    if second.probability > LEAST_RIVAL:
        apart = contrast(table, row, leading_row(table, second.key, found.probabilities), usable)
        if apart is not None:
            return (
                f"{_where(apart, names)}: {apart.first} if {titles[0]}, {apart.second} if "
                f"{titles[1]}."
            )
        said.append(f"No reading on offer tells “{titles[0]}” from “{titles[1]}”.")
    clear = would_clear(table, row, usable)
    if clear is not None:
        said.append(
            f"{_where(clear, names)}: {clear.second} would clear it, {clear.first} is expected."
        )
    return " ".join(said)


def _where(one: Contrast, names: Names) -> str:
    return f"{names.text(one.candidate.probe.title)}, {one.candidate.state.label}"
