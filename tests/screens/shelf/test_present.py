"""The shelf and the demo shop: what each job waits for, in the order the bench can go on."""

import random
import unittest
from collections.abc import Sequence
from typing import Any

from hypothesis import given, settings, strategies as st

from loose_rail.boards.load import shipped_board
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.jobs.summary import Summary, summary_of
from loose_rail.practice.demo import demo_shop, fill_store
from loose_rail.screens.shelf.present import found_state, shelf_state
from loose_rail.vocabulary.board_state import UNPLUGGED, state_of
from loose_rail.vocabulary.stage import Stage
from tests.fakes.store import MemoryStore

VERDICT = ev.VerdictAccepted("C21", "C21 dried out", 0.97, "confirmed", [], "C21:dried")
BACK = ev.HandedBack("in the set", 12.0)


def demo_store() -> MemoryStore:
    store = MemoryStore([])
    store.logs.clear()
    fill_store(store)
    return store


class DemoShop(unittest.TestCase):
    def test_every_kind_of_waiting_stands_on_the_shelf_and_the_demo_s_own_job_leads(self) -> None:
        rows = shelf_state("Tern Lane Bench", demo_store().jobs()).rows
        self.assertEqual(rows[0].job, 1)
        self.assertEqual(
            {row.waits_for for row in rows},
            {"waits for the bench", "waits for its proof", "waits for LP401", "handed back"},
        )

    def test_its_jobs_could_have_happened(self) -> None:
        """Times run on, every reading was taken in a state that was confirmed before and that its
        board has, a cold one on a drained board, and nobody hands back a set that is plugged in."""
        for job in demo_shop().jobs:
            times = [at for at, _ in job]
            self.assertEqual(times, sorted(times))
            first = job[0][1]
            assert isinstance(first, ev.JobOpened)
            board = shipped_board(first.board_id)
            allowed = {UNPLUGGED, *live_states(board)}
            now, bulk = UNPLUGGED, None
            for _, event in job:
                if isinstance(event, ev.StateConfirmed):
                    now = state_of(event.state)
                    self.assertIn(now, allowed)
                    bulk = None if now.plugged else bulk
                elif isinstance(event, ev.BulkMeasured):
                    bulk = event.volts
                elif isinstance(event, ev.ReadingTaken):
                    self.assertEqual(state_of(event.state), now, event)
                    self.assertTrue(now.plugged or (bulk is not None and bulk < 5), event)
                elif isinstance(event, (ev.ReworkStepDone, ev.HandedBack)):
                    self.assertFalse(now.plugged, event)
                part = getattr(event, "part", "")
                self.assertTrue(not part or board.component(part), event)

    def test_what_it_hands_back_cost_no_more_than_the_limit(self) -> None:
        for state in map(fold, demo_store().logs.values()):
            if state.handed_back is not None:
                self.assertLessEqual(state.handed_back.price or 0.0, state.spending_limit)


class Order(unittest.TestCase):
    def job(self, number: int, stage: str, *events: ev.AnyEvent) -> Summary:
        opened = ev.JobOpened("0700", "A set", "PB-4310-2", "dead", 10.0, "")
        log = (opened, ev.StageEntered(stage), *events)
        log_at = "2026-11-02T10:{:02d}:00"
        return summary_of(
            number, [ev.Record(n, log_at.format(n), "b", e) for n, e in enumerate(log, 1)]
        )

    @settings(max_examples=60)
    @given(st.integers(0, 2**20), st.integers(0, 12))
    def test_bench_before_parts_before_finished_and_otherwise_as_given(
        self, seed: int, count: int
    ) -> None:
        choices: list[tuple[tuple[Any, ...], int]] = [
            (("look_over",), 0),
            (("verdict", VERDICT), 0),
            (("power_up", VERDICT, ev.PartFitted("C21")), 0),
            (("parts", VERDICT), 1),
            (("hand_back", VERDICT, ev.PartFitted("C21"), BACK), 2),
        ]
        rng = random.Random(seed)
        drawn = [rng.choice(choices) for _ in range(count)]
        shelf = shelf_state("Shop", [self.job(n, *said) for n, (said, _) in enumerate(drawn)])
        order = [row.job for row in shelf.rows]
        self.assertEqual(order, sorted(range(count), key=lambda n: (drawn[n][1], n)))
        unfinished = sum(rank < 2 for _, rank in drawn)
        wanted = f"{unfinished} open of {count}" if count else "No job on the shelf yet"
        self.assertTrue(shelf.summary.startswith(wanted), shelf.summary)

    def test_what_comes_next_is_named(self) -> None:
        fitted = (VERDICT, ev.PartFitted("C21"))
        for said, waits, following in (
            (("parts", VERDICT), "waits for C21", "C21 dried out: choose or order"),
            (("power_up", *fitted), "waits for its proof", "C21 is fitted"),
            (("hand_back", *fitted, BACK), "handed back", "Proved in the set"),
            (("live_checks",), "waits for the bench", Stage.LIVE_CHECKS.label),
        ):
            row = shelf_state("Shop", [self.job(1, *said)]).rows[0]
            self.assertEqual(row.waits_for, waits)
            self.assertTrue(row.next_step.startswith(following), row.next_step)
            self.assertEqual(row.position, ev.STAGES.index(said[0]))

    def test_another_board_s_verdict_waits_for_no_part(self) -> None:
        elsewhere = ev.VerdictAccepted("", "Something outside", 0.9, "best_match", [], "outside")
        row = shelf_state("Shop", [self.job(1, "parts", elsewhere)]).rows[0]
        self.assertEqual(row.waits_for, "waits for the bench")

    def test_found_rows_show_the_words_and_leave_out_jobs_that_are_gone(self) -> None:
        shelf = shelf_state("Shop", [self.job(n, "look_over") for n in range(3)])
        hits: Sequence[tuple[int, str]] = [(2, "cracked remote"), (9, "of a job that is gone")]
        found = found_state(shelf, "crack", hits)
        self.assertEqual([(row.job, row.complaint) for row in found.rows], [(2, "cracked remote")])
        self.assertIn("1 job.", found.summary)
        self.assertIn("no job", found_state(shelf, "zebra", []).summary)
