"""What is known from the set's running while something was read."""

from __future__ import annotations

import numpy as np

from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.model.symptom_predicates import features_of
from loose_rail.diagnosis.model.table import PredictionTable

RUNS, HARDLY = 0.9, 0.05
"""Chance that a set is said to run that does, and that has no rails, or nobody who asks for them
[E]."""
UNLIT = 0.25
"""Chance that one without light is said to run: its sound does [E]."""


def runs_clue(table: PredictionTable, words: str, lit: bool) -> Clue:
    """The set ran when it was read: who asks for its rails asked, and had them; `lit` where its
    picture or light was seen."""
    masks = features_of(table).masks
    dead = masks["dark"] | masks["ticking"] | masks["outputs_missing"] | masks["load_mute"]
    unlit = masks["lamps_out"] | masks["lamps_itself"]
    chance = np.where(dead, HARDLY, np.where(unlit, HARDLY if lit else UNLIT, RUNS))
    chance = np.where(masks["sound"], RUNS, chance)
    likely = table.blend_intermittent(chance)
    likely = np.where(np.isnan(table.low[:, 0]), 0.5 * RUNS, likely)
    reason = "a set that runs is asked to, and has its rails"
    return Clue("runs", "runs", words, reason, np.log(likely))
