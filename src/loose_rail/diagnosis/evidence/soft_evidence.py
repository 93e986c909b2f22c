"""Evidence that is no meter reading: each clue has a log-likelihood per row and a written reason.

Clues of one family overlap (a dark indicator and a silent set), so the joint likelihood ratio of a
family is capped at 20 (electrical reference section 14); what is not, says UNCAPPED.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, replace
from functools import cache

import msgspec
import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect
from loose_rail.diagnosis.evidence.history import history_facts, history_times, history_words
from loose_rail.diagnosis.evidence.soak import clean_share
from loose_rail.diagnosis.evidence.symptoms import (
    Symptom,
    family_of,
    reason_of,
    symptom_likelihood,
    symptom_words,
)
from loose_rail.diagnosis.model.hypotheses import Hypothesis
from loose_rail.diagnosis.model.symptom_predicates import plainly_fails
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.negation import plain_match
from loose_rail.kernel.tables import shipped_table
from loose_rail.vocabulary.both_ends import READ_AT_BOTH_ENDS

Floats = NDArray[np.float64]

MOST_RATIO_OF_FAMILY = 20.0
SEEN_ON_OUTSIDE = 0.1
HELPED_BAD, HELPED_PARTLY, HELPED_BESIDE = 0.9, 0.3, 0.1
HELPED_OTHER, HELPED_LOOSE = 0.015, 0.06
DID_NOTHING_ALONE, DID_NOTHING_OTHER = 0.04, 0.9
"""Chance that replacing a part cures a set, or does nothing, whose fault is or is not there; what
is loose or comes and goes may be well again from the handling, what is steady is not [E]."""
IN_PIECES, PLAIN_TO_SEE = "in pieces:", 1e-3
"""Family of what is seen on a part that has burst, and how seldom a sound one looks like that: no
opinion of an eye, and so not capped."""
UNCAPPED = (
    IN_PIECES,
    "located:",
    "ends:",
    "plugged:",
    "removed:",
    "replaced:",
    "learned",
    "without:",
    "unplugged:",
    "works",
    "in-fault:",
    "unlisted:",
)
"""Families that count in full: a part measured by itself, and the shop's own counts."""
MEASURED_RIGHT, MEASURED_WRONG = 0.97, 0.003
"""Chance that a part out of the board measures as it is, and as it is not [E]."""
MEASURED_BAD_OUTSIDE = 0.02
"""The same where the fault is none of the list: then a listed part that is bad besides is rare."""
LAMP_PATTERNS = {
    "dark": (0.0, 3e-4),
    "flash_dark": (0.0, 3e-4),
    "glows": (2e-5, 0.35),
    "bright": (0.2, 1.1),
    "pulses": (0.005, 0.4),
}
"""Share of its light (its temperature over 2750 K to the ninth) with which a pattern fits: a
filament is seen red from about 850 K in the dark and from 1100 K in any room, long before it lights
one."""
LAMP_MISTAKEN, BRIGHT_MISTAKEN = 0.06, 0.02
"""Chance that the pattern of a lamp is told wrongly, and that it is where it stays full bright
[E]."""


@dataclass(frozen=True)
class Clue:
    """One clue: its words, why it tells anything, and its log-likelihood per row `(n_rows,)`.

    `says` is what was seen, for a lamp its pattern; `found` are parts that are known to be bad, or
    to have been, by it. `answers` is the one part that was warmed or cooled and answered, and
    whether warm is better.
    """

    key: str
    family: str
    words: str
    reason: str
    log: Floats
    says: str = ""
    found: frozenset[str] = frozenset()
    answers: tuple[str, bool] | None = None


def joint_log(clues: Sequence[Clue], n_rows: int) -> Floats:
    """Log-likelihood of all clues together `(n_rows,)`, each family capped."""
    total = np.zeros(n_rows)
    families: dict[str, Floats] = {}
    for clue in clues:
        families[clue.family] = families.get(clue.family, np.zeros(n_rows)) + clue.log
    for family, log in families.items():
        whole = family.startswith(UNCAPPED)
        total += log if whole else np.maximum(log, log.max() - np.log(MOST_RATIO_OF_FAMILY))
    return total


def symptom_clue(table: PredictionTable, symptom: Symptom) -> Clue:
    """A symptom as a clue. Raises ValueError for a kind that is not in the vocabulary."""
    log = np.log(symptom_likelihood(table, symptom))
    kind = symptom.kind
    return Clue(f"symptom:{kind}", family_of(kind), symptom_words(kind), reason_of(kind), log)


def history_clue(table: PredictionTable, fact: str) -> Clue:
    """A fact of the history as a clue. Raises KeyError for an unknown one."""
    log = np.log(history_times(table, fact))
    entry = history_facts()[fact]
    return Clue(f"history:{fact}", f"history:{fact}", history_words(fact), entry.reason, log)


class SeenOnPart(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What can be seen on a part: the kinds that show it (any where empty), its chance by failure
    mode, and on a sound part."""

    words: str
    kinds: frozenset[str]
    bad: dict[str, float]
    sound: float


class _Findings(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    source: str
    seen: dict[str, SeenOnPart]
    words: tuple[tuple[str, str], ...]


@cache
def _seen() -> _Findings:
    return shipped_table("diagnosis", "findings", _Findings)


def findings() -> dict[str, SeenOnPart]:
    """Everything that can be seen on a part, by key."""
    return _seen().seen


def finding_key(words: str, kinds: Collection[str] = ()) -> str:
    """The finding that words mean, empty where none fits or what fits is negated. Of several the
    first that parts of these `kinds` can show: a wire is broken in a fuse, worn in a cable."""
    lowered = words.strip().lower().replace(" ", "_")
    if lowered in findings():
        return lowered
    meant = [key for pattern, key in _seen().words if plain_match(pattern, words.lower())]
    shown = [key for key in meant if kinds and findings()[key].kinds & set(kinds)]
    return next(iter(shown or meant), "")


def only_denied(words: str) -> bool:
    """Whether findings are named in the words, and every one of them is denied: “no leak, no
    bulge”."""
    named = any(re.search(pattern, words.lower()) for pattern, _ in _seen().words)
    return named and not finding_key(words)


def finding_clue(table: PredictionTable, part: str, seen: str) -> Clue:
    """What was seen on a part, or on every part (`part` empty, "nothing seen").

    Raises KeyError for an unknown finding or part.
    """
    entry = findings()[seen]
    if part:
        table.board.component(part)
    bad, sound = entry.bad, entry.sound
    likely = np.array([_chance(row, part, bad, sound) for row in table.rows])
    outside = np.isnan(table.low[:, 0])
    likely[outside] = max(sound, SEEN_ON_OUTSIDE)
    where = part or "the board"
    if not part and seen == "nothing_seen":
        likely[outside] = 0.8
    elif part:
        where = f"{part}: {entry.words}"
    reason = (
        "flat and clean clears little" if seen == "nothing_seen" else "seen more often on bad parts"
    )
    words = where if part else f"{where}: {entry.words}"
    plain = "ends:" if seen in READ_AT_BOTH_ENDS else IN_PIECES if sound < PLAIN_TO_SEE else ""
    family = f"{plain or 'finding:'}{part}"
    return Clue(f"finding:{part}:{seen}", family, words, reason, np.log(likely))


def _chance(row: Hypothesis, part: str, bad: dict[str, float], sound: float) -> float:
    faults = [f for f in row.faults if not part or f.ref == part]
    if not faults:
        return sound if part else 1.0
    if part:
        return max(bad.get(fault.mode, sound) for fault in faults)
    return float(np.prod([bad.get(fault.mode, sound) for fault in faults]))


def lamp_clue(table: PredictionTable, state: str, pattern: str) -> Clue:
    """How the limiting lamp behaved in a state. Raises KeyError for what is not known."""
    glow = table.lamp_glow[state]
    low, high = LAMP_PATTERNS[pattern]
    likely = np.where((glow >= low) & (glow <= high), 1.0, 0.0)
    if pattern == "pulses":
        likely = np.where(table.ticking_hertz[state] > 0, 1.0, 0.3 * likely)
    mistaken = BRIGHT_MISTAKEN if pattern == "bright" else LAMP_MISTAKEN
    likely = mistaken + (1.0 - 2 * mistaken) * table.blend_intermittent(likely)
    likely = np.where(np.isnan(table.low[:, 0]), 0.4, likely)
    words = f"lamp in line: {pattern.replace('_', ', then ')}"
    reason = "its light is the current that the board takes"
    return Clue(
        key=f"lamp:{state}",
        family="lamp",
        words=words,
        reason=reason,
        log=np.log(likely),
        says=pattern,
    )


def replaced_clue(
    table: PredictionTable, part: str, helped: bool, together: Collection[str] = ()
) -> Clue:
    """A part was replaced by a good one, with others `together`, and that cured the set or changed
    nothing."""
    new = {part, *together}

    def chance(row: Hypothesis) -> float:
        refs = {fault.ref for fault in row.faults}
        whole = bool(refs) and refs <= new
        if helped and not whole and refs & new:  # a cause that stays blows the new one again
            return HELPED_PARTLY if row.faults[0].ref in new else HELPED_BESIDE
        if helped:
            other = HELPED_LOOSE if not refs or is_loose(row) else HELPED_OTHER
            return HELPED_BAD if whole else other
        return DID_NOTHING_ALONE if whole else DID_NOTHING_OTHER

    words = f"{part} replaced: {'cured it' if helped else 'changed nothing'}"
    reason = "a new part takes the fault with it, or does not"
    outside = HELPED_LOOSE if helped else 0.5
    clue = by_row(table, f"replaced:{part}", words, reason, chance, outside)
    return replace(clue, found=frozenset(new)) if helped else clue


def is_loose(row: Hypothesis) -> bool:
    """Whether a fault may be gone for a while by the handling alone."""
    return row.share < 1.0 or any(fault.effect is Effect.CONTACT for fault in row.faults)


def board_swapped_clue(table: PredictionTable, helped: bool) -> Clue:
    """The whole supply was exchanged for a good one, and that cured the set or changed nothing."""
    level = dict(zip(table.rows, table.on_this_board.tolist(), strict=True))

    def chance(row: Hypothesis) -> float:
        own = level[row]
        if helped:
            return HELPED_BAD if own else HELPED_LOOSE
        return DID_NOTHING_ALONE if own else DID_NOTHING_OTHER

    words = f"the whole supply exchanged: {'cured it' if helped else 'changed nothing'}"
    reason = "a good supply takes its own faults with it, and leaves all others"
    return by_row(table, "replaced:supply", words, reason, chance)


BURST = "burst"
"""The mode of a part whose bits read just as a sound one does."""


BAD_WAYS = ("bad", "shorted", "open")
"""What a part that measured bad by itself showed; the first where that is not told."""
OTHER_WAY = 0.003
"""Chance that a part which has failed one way reads by itself as if it had failed the other [E]."""
SHORTED_OHMS = 200.0
"""What conducts worse reads as leaky, not as shorted [E]."""


def cleared_clue(
    table: PredictionTable, part: str, good: bool, fresh: bool = False, way: str = "bad"
) -> Clue:
    """A part was taken out and measured good or bad by itself, bad in one of `BAD_WAYS`: the
    strongest test there is, but for what its ohms don't show; or it is `fresh`, and good whatever a
    meter shows."""
    key = ("cleared", part, good, fresh, way)
    return table.once(key, lambda: _cleared_clue(table, part, good, fresh, way))


def _fails_so(fault: Fault, way: str) -> bool:
    """Whether a failed part reads shorted, or open, by itself."""
    conducts = fault.effect is Effect.BRIDGE
    if way == "shorted":
        return conducts and fault.ohms < SHORTED_OHMS
    return not conducts or way != "open"


def _cleared_clue(table: PredictionTable, part: str, good: bool, fresh: bool, way: str) -> Clue:
    def chance(row: Hypothesis) -> float:
        own = [fault for fault in row.faults if fault.ref == part]
        has = bool(own)
        if has and not good and not any(_fails_so(fault, way) for fault in own):
            return OTHER_WAY
        if (
            has
            and not fresh
            and all(fault.mode == BURST for fault in row.faults if fault.ref == part)
        ):
            return MEASURED_RIGHT if good else MEASURED_WRONG
        return MEASURED_RIGHT if has is not good else MEASURED_WRONG

    words = f"{part} measured {'good' if good else way} out of the board"
    reason = "nothing beside it can hide or fake anything"
    outside = MEASURED_RIGHT if good else MEASURED_BAD_OUTSIDE
    clue = by_row(table, f"removed:{part}", words, reason, chance, outside)
    return clue if good else replace(clue, found=frozenset({part}))


UNLOADED_WEAK = 0.8
"""Chance that a supply which gives way under load reads right without one [P]."""


def unloaded_clue(table: PredictionTable, part: str) -> Clue:
    """A supply by itself gives its volts, with nothing that loads it: it is not dead, and may still
    be weak."""

    def chance(row: Hypothesis) -> float:
        own = [fault for fault in row.faults if fault.ref == part]
        if not own:
            return MEASURED_RIGHT
        weak = row.share < 1.0 or all(fault.mode != "joint" for fault in own)
        return UNLOADED_WEAK if weak else MEASURED_WRONG

    words = f"{part} gives its volts by itself, unloaded"
    reason = "without a load even a weak one reads right"
    return by_row(table, f"removed:{part}", words, reason, chance, MEASURED_RIGHT)


def disconnected_clue(
    table: PredictionTable, part: str, helped: bool, by_meter: bool = False
) -> Clue:
    """A load was unplugged, and the supply came up without it or did not; `by_meter` where its
    volts were read then."""
    drag_free, others = (0.95, 0.04) if by_meter else (0.9, 0.1)

    def chance(row: Hypothesis) -> float:
        drags = any(fault.ref == part and fault.shorts_its_supply for fault in row.faults)
        mute = any(fault.ref == part for fault in row.faults) and not drags
        if helped:
            return drag_free if drags else others
        return 0.1 if drags else (0.6 if mute else 0.9)

    words = f"{part} unplugged: {'the rail came back' if helped else 'no change'}"
    reason = "a rail that recovers was pulled down by its load, if the demand did not go with it"
    return by_row(table, f"unplugged:{part}", words, reason, chance)


LOCATED, LOCATED_WRONG = 0.85, 0.05
"""Chance that the warmest part, or the lowest millivolts along a track, is the shorted one, and
that it is a given other one [E]."""


def located_clue(table: PredictionTable, part: str, words: str) -> Clue:
    """Current was fed into a shorted rail, and this part got warm, or was the lowest point of the
    track: what tells parallel parts apart without an iron."""

    def chance(row: Hypothesis) -> float:
        conducts = {f.ref for f in row.faults if f.effect is Effect.BRIDGE}
        return LOCATED if part in conducts else LOCATED_WRONG

    reason = "the current of the bench supply flows where the short is"
    return by_row(table, f"located:{part}", words, reason, chance, outside=LOCATED_WRONG)


WORKS, WORKS_SOAKED = (0.95, 0.3, 0.05), (0.95, 0.1, 0.01)
"""Chance to see a set work, for a moment and through a soak of hours: sound, with a fault that
comes and goes, with one that stays [E]."""
SOAKED = "works:soaked"
"""The key of a clue of a set that worked through a soak."""
PLAINLY_FAILS = 0.2
"""So much less often with one that stays and leaves no rail, no light or no start [E]."""


def works_clue(
    table: PredictionTable, words: str, soaked: bool = False, hours: float | None = None
) -> Clue:
    """The set was seen to work as it should, for a while or in a soak; a longer soak says more."""
    sound, sometimes, never = WORKS_SOAKED if soaked else WORKS
    if soaked and hours is not None:
        sometimes = max(clean_share(hours), never)

    def chance(row: Hypothesis) -> float:
        if not row.faults:
            return sound
        return sometimes if row.share < 1.0 else never

    clue = by_row(
        table, "works", words, "a set that runs has no fault that is always there", chance
    )
    fails = plainly_fails(table) & (table.shares >= 1.0)
    log = clue.log + np.log(np.where(fails, PLAINLY_FAILS, 1.0))
    return replace(clue, key=SOAKED if soaked else clue.key, log=log)


def without_parts_clue(
    table: PredictionTable, key: str, words: str, likelihood: Floats, parts: Sequence[str]
) -> Clue:
    """A reading that was taken with parts out of the board: whatever was wrong with them was away.

    `likelihood` `(n_rows,)` is that of the reading with everything in place.
    """
    gone = set(parts)
    own = np.array([bool(row.faults) and {f.ref for f in row.faults} <= gone for row in table.rows])
    both = np.array([any(f.ref in gone for f in row.faults) for row in table.rows]) & ~own
    likely = np.where(own, likelihood[0], likelihood)
    likely = np.where(both, np.maximum(likely, 0.3 * likelihood[0]), likely)
    reason = f"read with {', '.join(sorted(gone))} out"
    return Clue(f"without:{key}", f"without:{key}", words, reason, np.log(likely + 1e-300))


def by_row(
    table: PredictionTable,
    key: str,
    words: str,
    reason: str,
    chance: Callable[[Hypothesis], float],
    outside: float = 0.5,
) -> Clue:
    likely = np.array([chance(row) for row in table.rows])
    likely = np.where(np.isnan(table.low[:, 0]), outside, likely)
    return Clue(key, key, words, reason, np.log(likely))
