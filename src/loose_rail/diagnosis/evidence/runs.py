"""What is known from the set's running while something was read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from loose_rail.boards.probes import probes_of
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.soft_evidence import SOAKED, Clue
from loose_rail.diagnosis.model.symptom_predicates import features_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.vocabulary.keys import stage_of

RUNS, HARDLY = 0.9, 0.05
"""Chance that a set is said to run that does, and that has no rails, or nobody who asks for them
[E]."""
HARDLY_LIT = 0.015
"""The same where its picture was seen while it was read [E]."""
UNLIT = 0.25
"""Chance that one without light is said to run: its sound does [E]."""


def runs_clue(table: PredictionTable, words: str, lit: bool) -> Clue:
    """The set ran when it was read: who asks for its rails asked, and had them; `lit` where its
    picture or light was seen."""
    masks = features_of(table).masks
    dead = masks["dark"] | masks["ticking"] | masks["outputs_missing"] | masks["load_mute"]
    unlit = masks["lamps_out"] | masks["lamps_itself"]
    hardly = HARDLY_LIT if lit else HARDLY
    chance = np.where(dead, hardly, np.where(unlit, HARDLY if lit else UNLIT, RUNS))
    chance = np.where(masks["sound"], RUNS, chance)
    likely = table.blend_intermittent(chance)
    likely = np.where(np.isnan(table.low[:, 0]), 0.5 * RUNS, likely)
    reason = "a set that runs is asked to, and has its rails"
    return Clue("runs", "runs", words, reason, np.log(likely))


@dataclass(frozen=True, slots=True)
class SeenRunning:
    """Whether a set was seen to do its work: `lit` with light on its screen, `soaked` for hours;
    `light_doubted` where a complaint is of its light, which may have been there by chance."""

    lit: bool
    soaked: bool
    light_doubted: bool = False


NOT_SEEN = SeenRunning(False, False)
_LIT = ("works", SOAKED, "forced:lamps")
"""Clues of a set that shows its picture or its light."""
_OF_THE_LIGHT = frozenset(
    f"symptom:{kind}"
    for kind in (
        *("backlight_none", "backlight_flashes", "picture_by_torch", "picture_dim"),
        *("picture_flickers", "half_dark"),
    )
)
"""Complaints of light that is away, weak or unsteady, at least now and then."""
_OF_THE_LAMPS = ("led", "ccfl")


def seen_running(clues: Sequence[Clue]) -> SeenRunning:
    """What the clues say of that."""
    keys = {clue.key for clue in clues}
    return SeenRunning(bool(keys & set(_LIT)), SOAKED in keys, bool(keys & _OF_THE_LIGHT))


def told_by_eye(board: Board, running: SeenRunning) -> tuple[str, ...]:
    """Live probes of what feeds strips or tubes, where light was seen and nobody complains of it:
    they have what they need."""
    if not running.lit or running.light_doubted:
        return ()
    kinds = {stage.id: stage.kind for stage in board.stages}
    return tuple(
        probe.id
        for probe in probes_of(board)
        if probe.live and kinds.get(stage_of(probe.observable)) in _OF_THE_LAMPS
    )
