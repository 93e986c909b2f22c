"""The one answer to "what now": a pure function of predictions, folded job and bench.

Window, file command, benchmark and tests read the same review; nothing in it remembers an earlier
one, so a job that is opened again shows the card that it showed before.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from loose_rail.boards.reservoirs import Reservoir
from loose_rail.diagnosis.dossier import Dossier, dossier_of
from loose_rail.diagnosis.evidence.by_itself import bad_by_themselves
from loose_rail.diagnosis.evidence.runs import seen_running, told_by_eye
from loose_rail.diagnosis.evidence.unlisted_clues import named_part
from loose_rail.diagnosis.inference.finding import Finding
from loose_rail.diagnosis.inference.posterior import posterior, shorted_off_board
from loose_rail.diagnosis.model.measured_inlet import inlet_volts
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.assessment import Assessment, NextStep, with_names
from loose_rail.diagnosis.planning.engine import Engine, counts_of_readings
from loose_rail.diagnosis.planning.look_ahead import Branch, Moment, look_ahead
from loose_rail.diagnosis.planning.stopping import ShopCosts, StopAdvice, stop_advice
from loose_rail.diagnosis.proof.pairs import Pair, pairs_of
from loose_rail.diagnosis.proof.plan import ProofPoint, proof_plan
from loose_rail.diagnosis.proof.standing import Proof, ProofStatus, proof_of
from loose_rail.diagnosis.settled_facts import (
    Bench,
    expires_at,
    for_planning,
    settled_facts,
    with_predictions,
)
from loose_rail.diagnosis.step import (
    Task,
    asked_reservoir,
    pending,
    phase_of,
    task_of_proof,
    task_of_step,
)
from loose_rail.jobs.state import JobState, Reading
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.judgement.transitions import Instruction
from loose_rail.vocabulary.phase import Phase


@dataclass(frozen=True)
class Review:
    """Everything that a job, its predictions and the bench say at one moment.

    `dossier` is the repair round that the diagnosis is about: the board before the last repair, or,
    once its proof has failed, the board as it is now. `out_of_reach` are probes that can't be
    reached, or read with what is there. `expires_at` is when the first of the measured volts ceases
    to count. What is worked out on first use is a function of the rest.
    """

    engine: Engine
    job: JobState
    bench: Bench
    dossier: Dossier
    facts: SafetyFacts
    assessment: Assessment
    out_of_reach: tuple[str, ...]
    proof: Proof
    task: Task | None
    phase: Phase
    expires_at: str

    @property
    def table(self) -> PredictionTable:
        """The predictions that it rests on."""
        return self.engine.table

    @property
    def step(self) -> NextStep | None:
        """The offered reading, None where nothing is left worth taking."""
        return self.assessment.next_step

    @property
    def finding(self) -> Finding | None:
        """The leading part and how well it is proved."""
        return self.assessment.finding

    @property
    def repair_failed(self) -> bool:
        """Whether what was read or seen after the last repair says that it did not help."""
        return self.proof.status is ProofStatus.FAILED

    @property
    def proving(self) -> bool:
        """Whether a repair is being proved."""
        return bool(self.job.fitted) and not self.repair_failed

    @property
    def readings(self) -> tuple[Reading, ...]:
        """The readings that count for the diagnosis."""
        return self.dossier.readings

    @property
    def pending(self) -> tuple[Instruction, ...]:
        """What must be done before the task can be read."""
        return pending(self.table.board, self.job, self.facts, self.task)

    @property
    def reservoir(self) -> Reservoir | None:
        """The reservoir whose volts are asked for now."""
        return asked_reservoir(self.table.board, self.job, self.facts, self.task)

    @cached_property
    def ways(self) -> tuple[Branch, ...]:
        """Where a good and where a bad reading of the offered step lead."""
        step = self.assessment.next_step
        if step is None or self.proving:
            return ()
        taken = counts_of_readings(self.dossier.evidence)
        moment = Moment(for_planning(self.facts, self.job), taken, self.out_of_reach)
        chances = self.assessment.probabilities
        return look_ahead(self.engine.planner, chances, step.offer, moment)

    def stop_advice(self, costs: ShopCosts) -> StopAdvice | None:
        """The loss expected from acting on the finding now and from reading on, at these costs."""
        found = self.assessment
        offer = found.next_step.offer if found.next_step else None
        alone = bad_by_themselves(self.dossier.clues)
        alone |= shorted_off_board(self.table, self.dossier.evidence)
        return stop_advice(
            self.engine.planner, found.probabilities, offer, costs, found.finding, alone
        )

    @cached_property
    def unlisted(self) -> tuple[str, str]:
        """The part that this model does not have and the clues speak for, and how it showed; empty
        where there is none."""
        return named_part(self.dossier.clues)

    @cached_property
    def pairs(self) -> tuple[Pair, ...]:
        """Points read before and after the repair."""
        return pairs_of(self.table, self.job)

    @cached_property
    def proof_plan(self) -> tuple[ProofPoint, ...]:
        """Every reading of the proof in order."""
        return tuple(proof_plan(self.table, self.job))


def review(engine: Engine, job: JobState, bench: Bench | None = None) -> Review:
    """What the log of a job says now. `job` names only what its board has."""
    bench = bench or Bench()
    engine = engine.on_inlet(inlet_volts(engine.table, job.readings))
    table = engine.table
    proof = proof_of(table, job)
    number = job.round if proof.status is ProofStatus.FAILED else max(job.round - 1, 0)
    now = dossier_of(table, job, job.round, bench.closed_jobs, bench.beside)
    chances_now = posterior(table, now.evidence, (), now.clues)
    about, chances = now, chances_now
    if number != job.round:
        about = dossier_of(table, job, number, bench.closed_jobs, bench.beside)
        chances = posterior(table, about.evidence, (), about.clues)
    facts = settled_facts(table.board, job, bench)
    facts = with_predictions(facts, table, job, chances_now, now.evidence)
    running = seen_running(about.clues)
    beyond = _out_of_reach(table, job, bench)
    beyond += told_by_eye(table.board, running)
    planned = for_planning(facts, job)
    bad = bad_by_themselves(about.clues)
    assessment = engine.weigh(
        chances, about.evidence, planned, beyond, job.chosen, bad, running=running
    )
    assessment = with_names(table.board, assessment, about.clues)
    if job.fitted and proof.status is not ProofStatus.FAILED:
        task = task_of_proof(table, job, facts, beyond)
    else:
        task = task_of_step(table, assessment)
    phase = phase_of(table.board, job, facts, task, proof.status is ProofStatus.FAILED)
    return Review(
        engine=engine,
        job=job,
        bench=bench,
        dossier=about,
        facts=facts,
        assessment=assessment,
        out_of_reach=beyond,
        proof=proof,
        task=task,
        phase=phase,
        expires_at=expires_at(job, bench),
    )


def _out_of_reach(table: PredictionTable, job: JobState, bench: Bench) -> tuple[str, ...]:
    if not bench.lacks:
        return job.skipped
    lacking = [c.probe.id for c in table.candidates if c.probe.mode in bench.lacks]
    return (*job.skipped, *dict.fromkeys(lacking))
