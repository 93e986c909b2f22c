"""A job on each family of boards, through the presenter: only the offered probes, to the verdict.

Answers are what the prediction table holds for the hidden fault, so this is about the way: that
every board offers safe steps, in words, in states it has, and ends at the right part.
"""

import math
import unittest
from functools import cache
from pathlib import Path

import numpy as np
import platformdirs

from loose_rail.app.log import JobLog
from loose_rail.app.session import JobSession
from loose_rail.boards.faults import find_faults
from loose_rail.boards.load import shipped_board
from loose_rail.boards.profile import Side
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.evidence.symptoms import TICKS
from loose_rail.diagnosis.inference.short_excluded import proof_keys
from loose_rail.diagnosis.model.cache import table_for
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.jobs import events as ev
from loose_rail.judgement.judge import Verdict, expected_reading, judge
from loose_rail.kernel.observation import Observation, open_circuit, ticking, value
from loose_rail.practice.bench import SimulatedBench
from loose_rail.reports.content import content_of
from loose_rail.reports.html import render_html
from loose_rail.screens.job.present import JobPresenter
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.fakes.clock import FakeClock
from tests.fakes.store import MemoryStore
from tests.shared import lamp_pattern, the

MOST_STEPS = 60
MOST_READINGS = 18


@cache
def engine(board_id: str) -> Engine:
    return engine_for(shipped_board(board_id))


def table_of(board_id: str) -> PredictionTable:
    """Predictions alone: an engine takes a second more."""
    return table_for(shipped_board(board_id), Path(platformdirs.user_cache_path("loose-rail")))


def presenter_for(board_id: str, *symptoms: ev.SymptomNoted) -> JobPresenter:
    opened = ev.JobOpened("0501", "A made-up set", board_id, "It does not work.", 25.0, "EUR")
    records = [
        ev.Record(number, f"2026-11-03T09:00:{number:02d}", "bench 1", event)  # type: ignore[arg-type]
        for number, event in enumerate((opened, *symptoms), start=1)
    ]
    session = JobSession(JobLog(MemoryStore(records), 1), shipped_board(board_id), FakeClock())
    session.set_engine(engine(board_id))
    session.enter_stage("cold_checks")
    return JobPresenter(
        session,
        (),
        lambda s, price: render_html(content_of(s, price)),
        lambda *sheet: None,
    )


class Jobs(unittest.TestCase):
    def answer(self, presenter: JobPresenter, row: int) -> Observation:
        table = the(presenter.session.engine).table
        task = presenter.session.reviewed.task
        column = table.index(the(task).candidate.key)
        low, high, hertz = (float(a[row, column]) for a in (table.low, table.high, table.hertz))
        unit = the(task).candidate.probe.unit
        if math.isinf(low):
            return open_circuit(unit)
        return ticking(low, high, unit, hertz) if hertz else value(max(low, 0.0), unit)

    def work(self, presenter: JobPresenter, key: str) -> list[str]:
        """Follow the card; returns the probes read."""
        session = presenter.session
        row = next(k for k, r in enumerate(the(session.engine).table.rows) if r.key == key)
        read: list[str] = []
        for _ in range(MOST_STEPS):
            card = presenter.bench().card
            if card.phase == "nothing":
                break
            self.assertTrue(card.title and card.header)
            if card.phase == "state":
                self.assertEqual(presenter.confirm_state().kind, "info")
            elif card.phase == "bulk":
                self.assertEqual(presenter.submit("1.1").kind, "info")
            elif card.phase == "acknowledge":
                self.assertEqual(presenter.confirm_state().kind, "info")
            elif card.phase == "lamp":
                state = session.state.board_state.key
                presenter.lamp_seen(lamp_pattern(the(session.engine).table, row, state))
            else:
                task = presenter.session.reviewed.task
                self.assertTrue(card.red and card.black and card.expect, the(task).candidate.key)
                session.take_reading(the(task).candidate, self.answer(presenter, row), "meter")
                read.append(the(task).candidate.key)
        self.assertLessEqual(len(read), MOST_READINGS, read)
        return read

    def solve(self, board_id: str, key: str, *symptoms: ev.SymptomNoted) -> JobPresenter:
        presenter = presenter_for(board_id, *symptoms)
        read = self.work(presenter, key)
        finding = presenter.session.reviewed.finding
        self.assertIsNotNone(finding)
        self.assertEqual(the(finding).part, key.split(":")[0], f"{board_id} {key}: {read}")
        self.assertNotEqual(str(the(finding).standing), "undecided")
        frame, verdict = presenter.frame(), presenter.verdict()
        self.assertIn(board_id, str(frame))
        self.assertIn(the(finding).part, verdict.headline)
        presenter.go("verdict")
        presenter.go_on()
        self.assertEqual(presenter.stage, "parts")
        self.assertIn(the(finding).part, presenter.hand_back().html)
        return presenter

    def test_small_set_with_one_two_level_flyback(self) -> None:
        for key in ("Q201:short:0", "C203:short:0", "U401:dead:0"):
            self.solve("PB-2408-1", key, ev.SymptomNoted("no_light", "dark"))

    def test_monitor_with_its_inverter(self) -> None:
        for key in ("F101:open:0", "Q401:short:0", "D203:short:0"):
            self.solve("PB-1905-2", key)

    def test_monitor_with_an_adapter_is_never_asked_for_a_lamp(self) -> None:
        for key in ("D101:short:0", "U201:dead:0", "Q401:short:0", "R402:open:0"):
            presenter = self.solve("PB-2211-1", key)
            states = {reading.state for reading in presenter.session.state.live_readings}
            self.assertEqual({state.lamp_watts for state in states}, {0})
            self.assertFalse(presenter.bench().rail_map.mains_side)

    def test_older_set_with_a_start_signal_that_is_active_low(self) -> None:
        ticks = ev.SymptomNoted(TICKS, "ticks", 2.0)
        for key, symptoms in (
            ("C203:short:0", (ticks,)),
            ("Q301:short:0", ()),
            ("D303:open:0", ()),
        ):
            self.solve("PB-3206-1", key, *symptoms)

    def test_full_power_is_unlocked_by_the_lamp_or_the_dead_primary_where_only_it_tells(
        self,
    ) -> None:
        """Dark strips show only on a set that is switched on, and that needs a primary without a
        short: the lamp is watched, or bulk and bridge are read first, and the output soon after."""
        for board_id, key, point in (
            ("PB-2408-1", "LS501:open:0", "live.led"),
            ("PB-5012-3", "LS501:open:0", "live.led"),
        ):
            presenter = presenter_for(board_id)
            row = next(
                k for k, r in enumerate(the(presenter.session.engine).table.rows) if r.key == key
            )
            seen: list[str] = []
            told: list[str] = []
            purposes: set[str] = set()
            for _ in range(30):
                phase = presenter.bench().card.phase
                if phase == "nothing" or any(r.startswith(f"{point}@on") for r in seen):
                    break
                if phase == "state":
                    self.assertEqual(presenter.confirm_state().kind, "info")
                elif phase == "bulk":
                    presenter.submit("0.4")
                elif phase == "lamp":
                    self.assertNotIn("lamp", told)
                    told.append("lamp")
                    presenter.lamp_seen("flash_dark")
                else:
                    task = presenter.session.reviewed.task
                    purposes.add(str(the(presenter.session.reviewed.step).purpose))
                    presenter.session.take_reading(
                        the(task).candidate, self.answer(presenter, row), "meter"
                    )
                    seen.append(the(task).candidate.key)
            order = [name.split("@")[0] for name in seen]
            self.assertIn(point, order, f"{board_id}: {seen}")
            proofs = [k.split("@")[0] for k in proof_keys(presenter.session.board)]
            before = order[: order.index(point)]
            self.assertTrue(told or set(proofs) <= set(before), f"{board_id}: {seen}")
            self.assertTrue(told or "unlock" in purposes)

    def test_a_dark_strip_is_confirmed_on_the_tester(self) -> None:
        """Where the output runs to its limit the strips are tried themselves, drained and
        unplugged; they are not condemned by the driver alone."""
        dark = ev.SymptomNoted("picture_by_torch", "picture only under a torch")
        for board_id, key in (("PB-2408-1", "LS501:open:0"), ("PB-3920-4", "LS701:open:0")):
            presenter = presenter_for(board_id, dark)
            read = self.work(presenter, key)
            part = key.split(":")[0]
            finding = the(presenter.session.reviewed.finding)
            self.assertEqual((finding.part, str(finding.standing)), (part, "confirmed"), read)
            self.assertIn(f"{part}.lit@unplugged", read)
            self.assertLess(len(read), 9, read)
        presenter = presenter_for("PB-2408-1", dark)
        session = presenter.session
        tester = next(
            c for c in the(session.engine).table.candidates if c.key == "LS501.lit@unplugged"
        )
        session.confirm_state(tester.state)
        session.choose(tester)
        card = presenter.bench().card
        for _ in range(4):
            if card.phase == "bulk":
                presenter.submit("0.3")
                card = presenter.bench().card
        self.assertIn("300 V", card.caution)
        self.assertIn("strip tester", card.setting)

    def test_a_board_on_a_plug_is_read_by_itself(self) -> None:
        """Once the rail stands without it, its own pin is a minute's work; the simulated bench
        answers there as the tables say."""
        for board_id, key in (("PB-6530-2", "TC:drags:0"), ("PB-4270-1", "YB:drags:0")):
            presenter = presenter_for(board_id)
            read = self.work(presenter, key)
            part = key.split(":")[0]
            finding = the(presenter.session.reviewed.finding)
            self.assertEqual((finding.part, str(finding.standing)), (part, "confirmed"), read)
            self.assertIn(f"{part}.supply@unplugged", read)
            board, table = shipped_board(board_id), the(presenter.session.engine).table
            pin = table.candidates[table.index(f"{part}.supply@unplugged")].probe
            for fault, low in ((find_faults(board, part, "drags")[:1], True), ([], False)):
                bench = SimulatedBench(board, fault, lambda: 0.0)
                bench.probe(pin.plus, pin.minus, f"unplugged:{pin.id}")
                shown = bench.read(MeterMode.OHMS)
                self.assertEqual(shown < 5.0, low, f"{pin.id}: {shown}")
                self.assertTrue(math.isinf(bench.read(MeterMode.DIODE)))
                with self.assertRaises(KeyError):
                    bench.probe(pin.plus, pin.minus, "unplugged:nothing")

    def test_what_no_reading_tells_apart_is_named_as_a_group(self) -> None:
        """Strips on a bench that has no tester, and tubes."""
        dark = ev.SymptomNoted("picture_by_torch", "picture only under a torch")
        for board_id, key, said in (
            ("PB-2408-1", "LS501:open:0", ()),
            ("PB-1905-2", "LP401:open:0", (dark,)),
        ):
            presenter = presenter_for(board_id, *said)
            presenter.session.use_bench((MeterMode.STRIP, MeterMode.TUBE))
            read = self.work(presenter, key)
            finding = presenter.session.reviewed.finding
            self.assertEqual(str(the(finding).standing), "best_match", f"{board_id} {read}")
            self.assertIn(key.split(":")[0], (the(finding).part, *the(finding).twins))
            verdict = presenter.verdict()
            for part in (the(finding).part, *the(finding).twins):
                self.assertIn(part, verdict.headline)
            self.assertTrue(any("read alike" in words for words in verdict.unproved))
            table = the(presenter.session.engine).table
            for number, row in enumerate(table.rows):
                self.assertTrue(
                    table.indistinguishable_from(number)[number] or row.suspect == "outside"
                )

    def test_what_is_offered_names_both_hands_and_keeps_the_sides_apart(self) -> None:
        for board_id in ("PB-2408-1", "PB-1905-2", "PB-2211-1", "PB-3206-1"):
            table = engine(board_id).table
            for number, candidate in enumerate(table.candidates):
                probe = candidate.probe
                plus, minus = (table.board.net(n).side for n in (probe.plus, probe.minus))
                if probe.part != "CY101":
                    self.assertIs(plus, minus, candidate.key)
                if plus is Side.HOT:
                    self.assertFalse(table.board.adapter_fed and probe.live)
                if not probe.live:
                    self.assertFalse(candidate.state.plugged)
                self.assertTrue(np.isfinite(table.hertz[:, number]).all())

    def test_a_sound_board_is_judged_sound_on_every_probe(self) -> None:
        for board_id in ("PB-2408-1", "PB-1905-2", "PB-2211-1", "PB-3206-1"):
            table = engine(board_id).table
            for number, candidate in enumerate(table.candidates):
                low, probe = float(table.low[0, number]), candidate.probe
                self.assertEqual(table.hertz[0, number], 0.0, f"{board_id} {candidate.key}")
                unit = probe.unit
                seen = open_circuit(unit) if math.isinf(low) else value(max(low, 0.0), unit)
                judged = judge(probe, seen, expected_reading(table.board, probe, low))
                message = f"{board_id} {candidate.key} {seen.text()} {judged}"
                self.assertIs(judged.verdict, Verdict.AGREES, message)


if __name__ == "__main__":
    unittest.main()
