"""Bayes' rule over the rows, and the rows gathered into suspects."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.by_itself import bad_by_themselves
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.soft_evidence import Clue, joint_log, symptom_clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.evidence.unlisted_clues import named_part
from loose_rail.diagnosis.inference.between_points import agreement_between
from loose_rail.diagnosis.inference.by_print import above_print
from loose_rail.diagnosis.inference.decided_in_place import decided_in_place
from loose_rail.diagnosis.inference.found_first import found_first, read_first
from loose_rail.diagnosis.inference.isolation import with_doubt
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.load_pairs import agreement_of_load_pairs
from loose_rail.diagnosis.inference.outside import at_least, outside_last
from loose_rail.diagnosis.inference.places import agreement_of_places
from loose_rail.diagnosis.inference.predicted import SHORT_UP_TO_OHMS, Make
from loose_rail.diagnosis.inference.repeats import counting, repeats
from loose_rail.diagnosis.inference.severity import severities_of
from loose_rail.diagnosis.model.symptom_predicates import unnoticed
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.observation import Form

Floats = NDArray[np.float64]

OF_ANOTHER_MAKE = 0.15
"""How often a board has other values than its list: another make or revision of its number [E]."""

MOST_WEIGHED = 4
"""Sets of readings whose weights are kept: the posterior and the reasons ask for the same."""


@dataclass(frozen=True, slots=True)
class Suspect:
    """Rows that a person would call one suspect, with their probability together."""

    key: str
    title: str
    part: str
    probability: float


UNNOTICED_SHARE = 0.2
"""How often a set comes in with a fault that shows in nothing it does, beside one whose fault does:
something else brought it [E]."""


def log_prior(table: PredictionTable) -> Floats:
    """Logarithms of the prior probabilities of a set that was brought in, `(n_rows,)`: a fault that
    nobody notices brings none."""
    log = table.log_prior + np.log(np.where(unnoticed(table), UNNOTICED_SHARE, 1.0))
    return np.asarray(log - np.log(np.exp(log).sum()))


def log_likelihoods(
    table: PredictionTable, evidence: Sequence[Evidence], make: Make = Make.LISTED
) -> Floats:
    """Log-likelihood of every piece of evidence, `(n_evidence, n_rows)`; nothing for what was only
    said again."""
    key = (make, tuple(evidence))
    if key not in table.weighed:
        if len(table.weighed) >= MOST_WEIGHED:
            table.weighed.clear()
        table.weighed[key] = _log_likelihoods(table, evidence, make)
    return table.weighed[key]


def _log_likelihoods(table: PredictionTable, evidence: Sequence[Evidence], make: Make) -> Floats:
    rows = np.zeros((len(evidence), len(table.rows)))
    for number, (item, times) in enumerate(zip(evidence, repeats(evidence, table), strict=True)):
        column = column_of(table, table.index(item.candidate))
        if times:
            rows[number] = column.log_likelihood(item.observation, make, times > 1)
    return rows


def reading_logs(table: PredictionTable, evidence: Sequence[Evidence]) -> Floats:
    """What each reading says by itself, whatever make the board is of, `(n_evidence, n_rows)`."""
    listed = log_likelihoods(table, evidence) + np.log1p(-OF_ANOTHER_MAKE)
    other = log_likelihoods(table, evidence, Make.OTHER) + np.log(OF_ANOTHER_MAKE)
    return np.asarray(np.logaddexp(listed, other))


def posterior(
    table: PredictionTable,
    evidence: Sequence[Evidence],
    symptoms: Sequence[Symptom],
    clues: Sequence[Clue] = (),
) -> Floats:
    """Probabilities of the rows `(n_rows,)` after all evidence; they sum to 1."""
    told = [*(symptom_clue(table, symptom) for symptom in symptoms), *clues]
    stands = counting(table, evidence)
    evidence = [item for item, counts in zip(evidence, stands, strict=True) if counts]
    make, logs = _by_make(table, evidence, log_prior(table) + joint_log(told, len(table.rows)))
    log = make - make.max()
    weights = np.exp(log)
    found = frozenset[str]().union(*(clue.found for clue in clues))
    chances = np.asarray(weights / weights.sum())
    named = named_part(clues)[1]
    chances = outside_last(table, chances, evidence, logs, bool(found), named)
    chances = found_first(table, with_doubt(table, chances, evidence, logs, told), found)
    chances = _known_bad(table, chances, clues, evidence)
    return read_first(table, chances, _read(table, evidence, clues))


def _read(
    table: PredictionTable, evidence: Sequence[Evidence], clues: Sequence[Clue]
) -> frozenset[str]:
    """Parts that were read with the board dead, in place or by themselves."""
    probes = [table.candidates[table.index(item.candidate)].probe for item in evidence]
    return bad_by_themselves(clues) | {probe.part for probe in probes if not probe.live}


CURED_BY_IT, BAD_BY_ITSELF, BAD_IN_PLACE = 0.8, 0.9, 0.6
"""What a part holds at least whose renewal, by itself, cured the set, and what those hold together
that measured bad by themselves, or of which a reading in place tells that nothing else makes: the
other readings may have been of a way to fail that is not in the list [E]."""
ANSWERS_TWICE = 0.8
"""What a part holds at least that answered to warmth and to cold as a fault there would [E]."""
SHORT_OFF_BOARD, LEADS_BEFORE = 0.975, 0.5
"""What a board holds at least whose supply pin is a short by itself, where it led before: nothing
lies beside it; one that nothing else points to may be a slip of the leads [E]."""


def _known_bad(
    table: PredictionTable, chances: Floats, clues: Sequence[Clue], evidence: Sequence[Evidence]
) -> Floats:
    """The chances `(n_rows,)` with no less for what is known to be bad than it is known for: a cure
    by one part, bad by itself, above its print, or decided in place."""
    off_board = shorted_off_board(table, evidence)
    if off_board:
        shorted = _of_any(table, off_board, loading=True)
        if float(chances[shorted].sum()) >= LEADS_BEFORE:
            return at_least(chances, shorted, SHORT_OFF_BOARD)
    above = above_print(table, evidence)
    cures = [c for c in clues if c.family.startswith("replaced:") and c.found]
    if len(cures) == 1 and len(cures[0].found) == 1:
        return at_least(chances, _of_any(table, cures[0].found), CURED_BY_IT)
    alone = bad_by_themselves(clues) | above
    answered = [clue.answers for clue in clues if clue.answers is not None]
    twice = {one[0] for one in answered if answered.count(one) > 1}
    if len(twice) == 1 and not cures and not alone:
        return at_least(chances, _of_any(table, twice), ANSWERS_TWICE)
    if cures:  # of several that were renewed together, the one that measured bad
        known = alone & frozenset[str]().union(*(c.found for c in cures))
        return at_least(chances, _of_any(table, known), BAD_BY_ITSELF) if known else chances
    if not alone:
        leads = table.rows[int(np.argmax(chances))].part
        placed = decided_in_place(table, evidence)
        if not leads or len(placed) != 1 or leads in _read(table, evidence, clues):
            return chances  # what leads was read itself, or nothing fits: one of them is a slip
        return at_least(chances, _of_any(table, placed), BAD_IN_PLACE)
    return at_least(chances, _of_any(table, alone), BAD_BY_ITSELF)


def shorted_off_board(table: PredictionTable, evidence: Sequence[Evidence]) -> frozenset[str]:
    """The boards whose supply pin was read last, by itself, as a short."""
    last: dict[str, tuple[str, bool]] = {}
    for item in evidence:
        probe = table.candidates[table.index(item.candidate)].probe
        if probe.unplugged and not probe.mode.of_lamps:
            seen = item.observation
            low = seen.form is Form.VALUE and seen.low < SHORT_UP_TO_OHMS
            last[probe.id] = (probe.part, low or seen.form is Form.SHORT)
    return frozenset(part for part, short in last.values() if short)


def _of_any(
    table: PredictionTable, parts: Collection[str], loading: bool = False
) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` with a fault in any of some parts; `loading`: one that shorts its supply."""
    return np.array(
        [
            any(f.ref in parts and (f.shorts_its_supply or not loading) for f in row.faults)
            for row in table.rows
        ]
    )


def _by_make(
    table: PredictionTable, evidence: Sequence[Evidence], before: Floats
) -> tuple[Floats, Floats]:
    """Logarithms of the rows `(n_rows,)` after the readings, summed over the makes that the board
    may be of, and the log-likelihoods `(n_evidence, n_rows)` for the likelier one. Good points that
    read a little off everywhere speak for another make, and then say less of any part."""
    listed = log_likelihoods(table, evidence)
    plain = before + listed.sum(axis=0) + _agreement(table, evidence, Make.LISTED)
    if not any(column_of(table, table.index(item.candidate)).by_make for item in evidence):
        return plain, listed
    other = log_likelihoods(table, evidence, Make.OTHER)
    apart = before + other.sum(axis=0) + _agreement(table, evidence, Make.OTHER)
    plain, apart = plain + np.log1p(-OF_ANOTHER_MAKE), apart + np.log(OF_ANOTHER_MAKE)
    likelier = listed if np.logaddexp.reduce(plain) >= np.logaddexp.reduce(apart) else other
    return np.logaddexp(plain, apart), likelier


def _agreement(table: PredictionTable, evidence: Sequence[Evidence], make: Make) -> Floats:
    """What readings say together beyond what each says, `(n_rows,)` nats."""
    said = [item for item, n in zip(evidence, repeats(evidence, table), strict=True) if n]
    dead = agreement_of_degrees(table, said, make) + agreement_of_places(table, said, make)
    live = agreement_of_live_degrees(table, said) + agreement_between(table, said)
    return dead + live + agreement_of_load_pairs(table, said)


def agreement_of_live_degrees(table: PredictionTable, evidence: Sequence[Evidence]) -> Floats:
    """The same of live readings, `(n_rows,)`: a degree that is none of those worked out is so for
    every rail at once, and is paid for once."""
    told = [
        logs
        for item in evidence
        if (
            logs := column_of(table, table.index(item.candidate)).live_degree_logs(item.observation)
        )
    ]
    found = np.zeros(len(table.rows))
    if len(told) < 2:
        return found
    shares = np.array([one.share for one in told])
    open_here = shares > 0.0
    share = np.clip(shares.max(axis=0), 1e-9, 1.0 - 1e-9)
    worked = np.where(open_here, [one.worked_out for one in told], 0.0)
    between = np.where(open_here, [one.between for one in told], 0.0)
    own = np.clip(shares, 1e-9, 1.0 - 1e-9)
    single = np.logaddexp(np.log1p(-own) + worked, np.log(own) + between) * open_here
    joint = np.logaddexp(np.log1p(-share) + worked.sum(axis=0), np.log(share) + between.sum(axis=0))
    twice = open_here.sum(axis=0) > 1
    found[twice] = (joint - single.sum(axis=0))[twice]
    return found


def agreement_of_degrees(
    table: PredictionTable, evidence: Sequence[Evidence], make: Make
) -> Floats:
    """What is added to the log-likelihoods of single readings, `(n_rows,)`, because the readings of
    one board speak of one degree of its fault; nothing for less than two such readings."""
    known = severities_of(table)
    told = [
        logs
        for item in evidence
        if (
            logs := column_of(table, table.index(item.candidate)).degree_logs(
                item.observation, make
            )
        )
    ]
    found = np.zeros(len(table.rows))
    count = np.sum([matters for _, _, matters in told], axis=0) if told else np.zeros(0)
    twice = np.flatnonzero(count > 1)
    if len(twice):
        joint = np.log(known.weights[twice]) + sum(each[twice] for each, _, _ in told)
        single = sum(mean[twice] for _, mean, _ in told)
        found[known.rows[twice]] = np.logaddexp.reduce(joint, axis=1) - single
    return found


def suspects_of(table: PredictionTable, probabilities: Floats) -> list[Suspect]:
    """Suspects in order of probability, the most probable first (ties by key)."""
    index = table.suspects
    sums = index.sums(probabilities).tolist()
    found = [Suspect(*one) for one in zip(index.keys, index.titles, index.parts, sums, strict=True)]
    return sorted(found, key=lambda suspect: (-suspect.probability, suspect.key))


def leading(
    table: PredictionTable, weights: Floats, most: int, least: float = 0.0
) -> tuple[Suspect, ...]:
    """The first few suspects of weights `(n_rows,)` that need not sum to 1, with shares from
    `least` up; none where nothing is left."""
    index = table.suspects
    sums = index.sums(weights)
    total = float(sums.sum())
    if total <= 0:
        return ()
    shares = sums / total
    first = sorted(np.flatnonzero(shares >= least), key=lambda k: (-shares[k], index.keys[k]))
    return tuple(
        Suspect(index.keys[k], index.titles[k], index.parts[k], float(shares[k]))
        for k in first[:most]
    )


def bad_probabilities(table: PredictionTable, probabilities: Floats) -> dict[str, float]:
    """Probability that each part is bad, as cause or as consequence; they sum to more than 1."""
    refs, bad = table.bad_parts
    return dict(zip(refs, (bad @ probabilities).tolist(), strict=True))


def part_probabilities(table: PredictionTable, probabilities: Floats) -> dict[str, float]:
    """Probability that the cause lies in each part."""
    sums: dict[str, float] = {}
    index = table.suspects
    for part, probability in zip(index.parts, index.sums(probabilities).tolist(), strict=True):
        if part:
            sums[part] = sums.get(part, 0.0) + probability
    return sums
