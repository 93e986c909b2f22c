"""Takes one guard at a time out of the program and looks whether a test notices.

`python tests/mutants.py [name …]` runs the tests that are named for each against a copy of the
program without that guard; exit code 1 where one survives. Not part of `bin/test`: it takes a
quarter of an hour. `tests/test_house.py` sees that every guard still stands where it says.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

TOP = Path(__file__).parent.parent
PACKAGE = TOP / "src" / "loose_rail"
MOST_SECONDS = 300.0
"""Of the tests of one guard: without some of them a loop has no end."""


@dataclass(frozen=True)
class Mutant:
    """A guard: its file, the text that is it, what stands there without it, who should notice."""

    name: str
    file: str
    guard: str
    without: str
    tests: str


MUTANTS = (
    Mutant(
        "typical_is_no_fact",
        "judgement/replacement/judge_offer.py",
        "known = _of_profile(place, rules) if board.is_read(ref) else {}",
        "known = _of_profile(place, rules)",
        "tests.judgement.replacement.test_judge",
    ),
    Mutant(
        "photograph_of_the_part_in_hand",
        "app/album.py",
        'return f"part:{state.part_in_hand or state.verdict.part}"',
        'return f"part:{state.verdict.part}"',
        "tests.whole_jobs.test_several_parts",
    ),
    Mutant(
        "lamp_veto",
        "diagnosis/inference/short_excluded.py",
        "if any(lamp in SEEN_DRAWING for lamp in lamps):",
        "if False:",
        "tests.diagnosis.explain.test_reasons",
    ),
    Mutant(
        "resistor_clears",
        "diagnosis/in_line.py",
        "if all(read_limiter(text).is_lamp for text in typed):",
        "if True:",
        "tests.whole_jobs.test_first_power",
    ),
    Mutant(
        "bridge_unread",
        "diagnosis/inference/short_excluded.py",
        "return all(key in last and _reads_good(table, last[key]) for key in diodes)",
        "return True",
        "tests.diagnosis.explain.test_reasons",
    ),
    Mutant(
        "lamp_not_asked",
        "diagnosis/step.py",
        "return job.state_known and job.board_state.lamp_watts > 0 and not job.lamp_last",
        "return False",
        "tests.whole_jobs.test_jobs_on_boards tests.diagnosis.proof.test_repairs",
    ),
    Mutant(
        "bright_power",
        "judgement/safety.py",
        "if target.plugged and facts.bright_lamp:",
        "if False:",
        "tests.app.test_gates",
    ),
    Mutant(
        "bulk_only",
        "boards/reservoirs.py",
        "return (bulk, *high)",
        "return (bulk,)",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "acknowledged",
        "judgement/safety.py",
        "if facts.acknowledged or not needs_acknowledgement(board):",
        "if True:",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "over_voltage",
        "judgement/safety.py",
        "if target.plugged and facts.over_volts is not None:",
        "if False:",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "over_bulk",
        "judgement/over_voltage.py",
        'if probe.observable == "bulk" and not board.adapter_fed:',
        "if False:",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "rating_margin",
        "boards/worst_volts.py",
        "return rating_margin() * worst",
        "return worst",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "kilovolts",
        "judgement/safety.py",
        "if not probe.meter:",
        "if False:",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "unproved_jumper",
        "judgement/safety.py",
        'if board.known_by == "pinout":',
        "if False:",
        "tests.boards.test_own_board",
    ),
    Mutant(
        "proof_always",
        "diagnosis/proof/standing.py",
        "    if failures:\n",
        "    if False:\n",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "proof_lamp",
        "diagnosis/proof/standing.py",
        "    if drawing:\n",
        "    if False:\n",
        "tests.app.test_gates",
    ),
    Mutant(
        "dead_proves",
        "diagnosis/proof/standing.py",
        "return judged.verdict is Verdict.AGREES and not dead_reads_the_same(probe, expectation)",
        "return judged.verdict is Verdict.AGREES",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "fuse_alone",
        "diagnosis/inference/finding.py",
        "if not waits or finding.standing is Standing.UNDECIDED:",
        "if True:",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "turned_round",
        "kernel/negation.py",
        "return _BEFORE.search(text[:start]) is not None",
        "return False",
        "tests.diagnosis.evidence.test_negation",
    ),
    Mutant(
        "cable_unclear",
        "app/job_file/entries.py",
        "return None  # something about the cable that is neither on nor off",
        "pass",
        "tests.diagnosis.evidence.test_negation",
    ),
    Mutant(
        "fit_undrained",
        "app/repair.py",
        "refusal = _not_drained(session) if current.key == OPEN else _maybe_plugged(session)",
        'refusal = ""',
        "tests.app.test_gates",
    ),
    Mutant(
        "hand_back_plugged",
        "app/going_on.py",
        'if session.state.board_state.plugged:\n        return Outcome.refused("The board',
        'if False:\n        return Outcome.refused("The board',
        "tests.app.test_gates",
    ),
    Mutant(
        "proof_unread",
        "app/going_on.py",
        "if found.status is not ProofStatus.SHOWN:",
        "if False:",
        "tests.app.test_gates",
    ),
    Mutant(
        "state_check",
        "app/session.py",
        "if state != candidate.state:",
        "if False:",
        "tests.app.test_gates",
    ),
    Mutant(
        "drain_1rc",
        "judgement/drain.py",
        "reservoir.farads / siemens * math.log(share)",
        "reservoir.farads / siemens",
        "tests.app.test_gates",
    ),
    Mutant(
        "hot_caution",
        "judgement/transitions.py",
        '"The hot side is live: nothing touches it but the probes.",',
        '"Nothing touches it but the probes.",',
        "tests.app.test_gates",
    ),
    Mutant(
        "pair_rule",
        "diagnosis/explain/unproved.py",
        "if pair.bare is Verdict.DISAGREES:\n        return",
        "if pair.bare is Verdict.AGREES:\n        return",
        "tests.app.test_gates",
    ),
    Mutant(
        "b_only_state",
        "app/entry.py",
        "if task is None or phase is not Phase.STATE:",
        "if task is None:",
        "tests.app.test_gates",
    ),
    Mutant(
        "struck_counts",
        "reports/report.html",
        '{% if line.struck %} class="struck"{% endif %}',
        "",
        "tests.app.test_gates",
    ),
    Mutant(
        "sync_off",
        "storage/store.py",
        "PRAGMA synchronous=FULL",
        "PRAGMA synchronous=OFF",
        "tests.storage.test_kept",
    ),
    Mutant(
        "standby_first",
        "boards/profile.py",
        "return found[0] if found else self.rails[0].id",
        "return self.rails[0].id",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "half_an_answer",
        "instruments/answers.py",
        "factor = _unit_factor(unit, mode, scale, text) if unit else scale",
        "factor = scale",
        "tests.instruments.test_answers",
    ),
    Mutant(
        "clip_falls_off",
        "app/live_reading.py",
        "if seen_to_drain(seconds, values, self._bench.bulk_farads()):",
        "if True:",
        "tests.app.test_drained",
    ),
    Mutant(
        "last_sitting",
        "diagnosis/settled_facts.py",
        "if one.sequence <= bench.sitting:",
        "if False:",
        "tests.app.test_drained",
    ),
    Mutant(
        "half_an_hour",
        "diagnosis/settled_facts.py",
        "return not bench.now or datetime.fromisoformat(bench.now) < _end(one)",
        "return True",
        "tests.app.test_drained",
    ),
    Mutant(
        "state_unknown",
        "judgement/safety.py",
        "if not facts.state_known:\n        return [\n            Refusal(",
        "if False:\n        return [\n            Refusal(",
        "tests.app.test_drained tests.whole_jobs.test_random_courses",
    ),
    Mutant(
        "jumper_live",
        "judgement/safety.py",
        "if forcing and facts.state.plugged and target.plugged and",
        "if False and",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "no_checksum",
        "storage/store.py",
        'if row["checksum"] != checksum_of(row):',
        "if False:",
        "tests.storage.test_kept",
    ),
    Mutant(
        "contradiction_kept",
        "app/merge.py",
        "if (isinstance(event, OF_THE_BOARD) or lamp) and put:",
        "if False:",
        "tests.storage.test_kept",
    ),
    Mutant(
        "no_fallback_letters",
        "screens/shared/paper.py",
        "return without_font(document.toPlainText())",
        'return ""',
        "tests.storage.test_kept",
    ),
    Mutant(
        "leave_unsaved",
        "screens/main_window.py",
        "if not session.unsaved:\n            return True",
        "if True:\n            return True",
        "tests.screens.test_kept_work",
    ),
    Mutant(
        "predictions_silent",
        "screens/job/present.py",
        "self.session.prediction_problem = why",
        "pass",
        "tests.screens.test_kept_work",
    ),
    Mutant(
        "pair_not_missed",
        "diagnosis/explain/unproved.py",
        "    if pair.bare is None:",
        "    if False:",
        "tests.app.test_gates",
    ),
    Mutant(
        "teaches_itself",
        "bootstrap.py",
        "if one.job != job]\n        board",
        "if one.job]\n        board",
        "tests.screens.test_kept_work tests.storage.test_kept tests.screens.shelf.test_view",
    ),
    Mutant(
        "esr_reject",
        "judgement/judge.py",
        'limit("esr_reject_times") * whole - floor',
        "whole - floor",
        "tests.judgement.test_judgement",
    ),
    Mutant(
        "percent_100",
        "kernel/quantities.py",
        "if fraction > 0.99:",
        "if fraction > 1.99:",
        "tests.kernel.test_words tests.screens.shared.test_workers",
    ),
    Mutant(
        "second_sample",
        "app/live_meter.py",
        "seconds, values = seconds[-1:], values[-1:]",
        "seconds, values = seconds[:1], values[:1]",
        "tests.instruments.test_meters tests.screens.live.test_hands_free",
    ),
    Mutant(
        "doubt_zero",
        "diagnosis/inference/predicted.py",
        'limit("consequence_doubt") * (table',
        "0.0 * (table",
        "tests.diagnosis.test_diagnosis tests.diagnosis.explain.test_reasons "
        "tests.diagnosis.inference.test_verdicts_hold",
    ),
    Mutant(
        "summary_of_another_length",
        "storage/summaries.py",
        'row["events"] == counts.get(row["job"]) and _is_sound(dict(row))',
        "_is_sound(dict(row))",
        "tests.storage.test_hammered",
    ),
    Mutant(
        "summary_unchecked",
        "storage/summaries.py",
        'bool(row["checksum"] == _checksum(row))',
        "True",
        "tests.storage.test_hammered",
    ),
    Mutant(
        "lowest_ticket",
        "app/taking_in.py",
        "max(numbers, default=0) + 1",
        "len(numbers) + 1",
        "tests.app.job_file.test_answers",
    ),
    Mutant(
        "fuse_by_name",
        "judgement/judge.py",
        "if probe.good:",
        'if probe.part.startswith("F"):',
        "tests.judgement.test_judgement",
    ),
    Mutant(
        "state_undone",
        "jobs/fold.py",
        "    ev.JobOpened,\n    ev.StateConfirmed,\n    ev.Voided,",
        "    ev.JobOpened,\n    ev.Voided,",
        "tests.jobs.test_jobs tests.app.test_gates",
    ),
    Mutant(
        "bulk_kept",
        "jobs/fold.py",
        "_put(state, board_state=target, state_known=True, measured=())",
        "_put(state, board_state=target, state_known=True)",
        "tests.app.test_drained tests.jobs.test_jobs tests.app.test_gates",
    ),
    Mutant(
        "lamp_of_before",
        "jobs/fold.py",
        '        fitted_at=record.at,\n        lamp_seen="",\n        lamp_last="",',
        "        fitted_at=record.at,",
        "tests.diagnosis.proof.test_repairs tests.jobs.test_jobs",
    ),
    Mutant(
        "customer_found",
        "jobs/summary.py",
        '"number_etched", "accessories")',
        '"number_etched", "accessories", "customer")',
        "tests.screens.photos.test_papers_and_photos",
    ),
    Mutant(
        "other_ground",
        "judgement/safety.py",
        "if plus is minus or not probe.live:",
        "if True:",
        "tests.judgement.test_judgement",
    ),
    Mutant(
        "no_limiter",
        "judgement/safety.py",
        "if unlimited and not facts.primary_short_excluded:",
        "if False:",
        "tests.judgement.test_judgement",
    ),
    Mutant(
        "wake_unknown",
        "judgement/safety.py",
        'if board.wake.sense == "unknown":',
        "if False:",
        "tests.judgement.test_judgement",
    ),
    Mutant(
        "absurd_taken",
        "judgement/judge.py",
        "if abs(top) > ceiling:",
        "if False:",
        "tests.judgement.test_judgement",
    ),
    Mutant(
        "hazard_600",
        "boards/reservoirs.py",
        "HAZARD_VOLTS = 60.0",
        "HAZARD_VOLTS = 600.0",
        "tests.judgement.test_stop_first tests.app.test_drained",
    ),
    Mutant(
        "proof_asked_not",
        "app/going_on.py",
        "if found.status is not ProofStatus.SHOWN:",
        "if False:",
        "tests.app.test_gates tests.diagnosis.proof.test_repairs",
    ),
    Mutant(
        "meter_reads_after",
        "judgement/safety.py",
        '        refusals.append(Refusal("over_voltage", stop.sentence, stop.instead))',
        "        pass",
        "tests.judgement.test_stop_first",
    ),
    Mutant(
        "safety_part_traded",
        "judgement/replacement/judge_offer.py",
        'not rules.safety and row.of == "both"',
        'row.of == "both"',
        "tests.judgement.replacement.test_judge",
    ),
    Mutant(
        "safety_not_given",
        "judgement/replacement/judge_offer.py",
        'fit = Fit.NO if row.missing == "no" else Fit.NOTE\n    wanted',
        "fit = Fit.NOTE\n    wanted",
        "tests.judgement.replacement.test_judge",
    ),
    Mutant(
        "proof_of_the_rails_alone",
        "diagnosis/proof/plan.py",
        "for candidate in covering(table, [one.candidate for one in found], states, fitted):",
        "for candidate in covering(table, [], (), fitted):",
        "tests.diagnosis.proof.test_wrong_repairs",
    ),
    Mutant(
        "meter_without_password",
        "practice/meter_server.py",
        'if raw.strip().decode("ascii", "replace") != wanted:\n                    return',
        "if False:\n                    return",
        "tests.storage.test_plugs",
    ),
    Mutant(
        "answer_without_end",
        "instruments/answer_line.py",
        "if time.monotonic() > until:",
        "if False:",
        "tests.instruments.test_rude_meters",
    ),
    Mutant(
        "offer_refused_not",
        "app/parts.py",
        "    if found.fit is Fit.NO:\n        worst",
        "    if False:\n        worst",
        "tests.whole_jobs.test_several_parts",
    ),
    Mutant(
        "board_before_the_pair",
        "app/ways.py",
        "if way.boards and standby_pair(review).bare is None and not _enough(reason):",
        "if False:",
        "tests.whole_jobs.test_several_parts",
    ),
    Mutant(
        "live_limiter",
        "app/limiting.py",
        "if session.state.board_state.plugged and session.state.board_state.lamp_watts:",
        "if False:",
        "tests.whole_jobs.test_first_power",
    ),
    Mutant(
        "soak_before_proof",
        "app/soaking.py",
        "if proof(session).status is not ProofStatus.SHOWN:",
        "if False:",
        "tests.whole_jobs.test_first_power",
    ),
    Mutant(
        "unattended_hours",
        "jobs/soak.py",
        "total += min(max(at - last, timedelta()), most)",
        "total += max(at - last, timedelta())",
        "tests.whole_jobs.test_first_power",
    ),
    Mutant(
        "final_list_not_done",
        "app/going_on.py",
        "    if kept:\n",
        "    if False:\n",
        "tests.whole_jobs.test_whole_job",
    ),
    Mutant(
        "insulation_too_low",
        "app/handing_over.py",
        "    if value < least:\n",
        "    if False:\n",
        "tests.whole_jobs.test_whole_job",
    ),
    Mutant(
        "open_job_came_back",
        "app/following_job.py",
        "if why is Why.CAME_BACK and earlier.handed_back is None:",
        "if False:",
        "tests.whole_jobs.test_came_back",
    ),
    Mutant(
        "bad_look",
        "diagnosis/proof/standing.py",
        "for look in soak.bad_looks if soak is not None else ():",
        "for look in ():",
        "tests.whole_jobs.test_first_power",
    ),
)


def standing(mutant: Mutant) -> bool:
    """Whether the guard stands once in its file."""
    return (PACKAGE / mutant.file).read_text().count(mutant.guard) == 1


def survives(mutant: Mutant) -> bool:
    """Whether its tests pass without the guard."""
    with tempfile.TemporaryDirectory(prefix="loose-rail-mutant-") as folder:
        shutil.copytree(TOP / "src", Path(folder) / "src")
        for beside in ("tests", "benchmarks"):
            shutil.copytree(TOP / beside, Path(folder) / beside)
        path = Path(folder) / "src" / "loose_rail" / mutant.file
        path.write_text(path.read_text().replace(mutant.guard, mutant.without, 1))
        environment = {
            **os.environ,
            "PYTHONPATH": f"{folder}/src:{folder}",
            "QT_QPA_PLATFORM": "offscreen",
            "OPENBLAS_NUM_THREADS": "1",
            "LOOSE_RAIL_COURSES": "180",
            "LOOSE_RAIL_REPEATABLE": "1",
        }
        try:
            done = subprocess.run(
                [sys.executable, "-m", "unittest", "--failfast", *mutant.tests.split()],
                cwd=folder,
                env=environment,
                capture_output=True,
                check=False,
                timeout=MOST_SECONDS,
            )
        except subprocess.TimeoutExpired:
            return False  # a test that never ends is noticed
        return done.returncode == 0


def main(names: list[str]) -> int:
    """Try the named guards, or all; exit code 1 where one is missed by nobody."""
    wanted = [one for one in MUTANTS if not names or one.name in names]
    survivors = 0
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        for mutant, alive in zip(wanted, pool.map(survives, wanted), strict=True):
            survivors += alive
            print(f"{mutant.name}: {'SURVIVES' if alive else 'noticed'}", flush=True)
    print(f"{len(wanted) - survivors} of {len(wanted)} noticed")
    return 1 if survivors else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
