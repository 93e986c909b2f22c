"""Rules as properties: replacement parts, series of readings, hypotheses, sheets, commands."""

import contextlib
import html
import io
import math
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path
from typing import Any

import msgspec
import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.__main__ import main
from loose_rail.boards.co_failures import co_failures_of
from loose_rail.boards.faults import faults_of
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.typical import fresh_esr_ohms, leakage_ohms
from loose_rail.diagnosis.model.cache import cache_key
from loose_rail.diagnosis.model.hypotheses import hypotheses_of
from loose_rail.diagnosis.planning.assessment import Purpose
from loose_rail.diagnosis.step import Task
from loose_rail.jobs import events as ev
from loose_rail.judgement.replacement.electrolytic import Fit, check_replacement, original_of
from loose_rail.judgement.steadiness import summarise
from loose_rail.kernel.observation import Form
from loose_rail.reports.content import content_of
from loose_rail.reports.html import render_html
from loose_rail.screens.shared.card.present import _task_card
from loose_rail.vocabulary.stage import Stage
from tests.fakes.store import MemoryStore
from tests.shared import board, demo_records, demo_session, table

PLACES = ("C21", "C22", "C27", "C31")
ORDER = list(Fit)


class Replacements(unittest.TestCase):
    @given(st.sampled_from(PLACES), st.floats(0.3, 4.0), st.floats(0.3, 4.0))
    def test_a_better_esr_is_never_judged_worse(self, ref: str, one: float, other: float) -> None:
        """Down to where a part becomes suspiciously good for its place."""
        original = original_of(board().component(ref))
        better, worse = sorted((one, other))
        fits = [
            check_replacement(board(), ref, replace(original, esr_ohms=times * original.esr_ohms))
            for times in (better, worse)
        ]
        self.assertLessEqual(ORDER.index(fits[0].fit), ORDER.index(fits[1].fit))

    @given(st.sampled_from(PLACES), st.floats(0.05, 0.99))
    def test_less_voltage_is_always_refused_and_said(self, ref: str, share: float) -> None:
        original = original_of(board().component(ref))
        found = check_replacement(board(), ref, replace(original, volts=share * original.volts))
        self.assertIs(found.fit, Fit.NO)
        self.assertTrue(any("voltage" in note for note in found.notes))

    @given(
        st.sampled_from(PLACES),
        st.floats(0.2, 5.0),
        st.floats(0.5, 4.0),
        st.sampled_from([85.0, 105.0, 125.0]),
        st.floats(0.5, 2.0),
    )
    def test_the_whole_is_as_good_as_its_worst_attribute(
        self, ref: str, farads: float, volts: float, celsius: float, size: float
    ) -> None:
        original = original_of(board().component(ref))
        candidate = replace(
            original,
            farads=farads * original.farads,
            volts=volts * original.volts,
            celsius=celsius,
            diameter_mm=size * original.diameter_mm,
        )
        found = check_replacement(board(), ref, candidate)
        worst = max(ORDER.index(check.fit) for check in found.checks)
        self.assertEqual(ORDER.index(found.fit), worst)
        for check in found.checks:
            self.assertTrue(check.words and check.unit and check.low <= check.high)
            inside = check.low - 1e-12 <= check.candidate <= check.high + 1e-12
            if check.fit is Fit.OK:
                self.assertTrue(inside, check)
        self.assertEqual(len(found.notes), sum(c.fit is not Fit.OK for c in found.checks))

    @given(st.floats(1e-6, 5e-3), st.sampled_from([6.3, 16.0, 35.0, 100.0, 400.0]))
    def test_fresh_parts_follow_the_generator(self, farads: float, volts: float) -> None:
        general, low = (fresh_esr_ohms(farads, volts, series) for series in ("GP", "LZ"))
        self.assertLess(low, general)
        self.assertGreater(fresh_esr_ohms(farads / 2, volts, "LZ"), low)
        self.assertGreater(leakage_ohms(farads, volts), 1e3)
        with self.assertRaises(ValueError):
            fresh_esr_ohms(farads, volts, "XX")


class Series(unittest.TestCase):
    def times(self, n: int = 40, rate: float = 5.0) -> list[float]:
        return [k / rate for k in range(n)]

    @given(st.floats(0.5, 400), st.floats(0, 0.003), st.integers(0, 1000))
    @settings(max_examples=40)
    def test_small_noise_is_steady_at_its_median(
        self, level: float, noise: float, seed: int
    ) -> None:
        rng = np.random.default_rng(seed)
        values = level * (1 + noise * np.clip(rng.standard_normal(40), -1.6, 1.6))
        found = summarise(self.times(), values.tolist(), "V")
        self.assertIs(found.form, Form.VALUE)
        self.assertAlmostEqual(found.low / level, 1.0, delta=0.005)

    @given(st.floats(1, 50), st.floats(0.5, 2.0), st.integers(0, 1000))
    @settings(max_examples=40)  # faster ones are over in two of the forty looks: that is no trend
    def test_a_charging_rail_rises_and_a_dying_one_falls(
        self, level: float, tau: float, seed: int
    ) -> None:
        rng = np.random.default_rng(seed)
        t = np.array(self.times(40, 8.0))
        rising = level * (1 - 0.9 * np.exp(-t / tau)) * (1 + 1e-4 * rng.standard_normal(40))
        for values, form in ((rising, Form.RISING), (rising[::-1], Form.FALLING)):
            found = summarise(t.tolist(), values.tolist(), "V")
            self.assertIs(found.form, form)

    @given(st.floats(0.6, 2.0), st.floats(0.2, 0.8), st.floats(2, 24))
    @settings(max_examples=40)
    def test_restarts_are_counted(self, hertz: float, duty: float, level: float) -> None:
        t = np.arange(0, 9, 0.05)
        values = np.where((t * hertz) % 1.0 < duty, level, 0.1 * level)
        found = summarise(t.tolist(), values.tolist(), "V")
        self.assertIs(found.form, Form.TICKING)
        self.assertAlmostEqual(found.hertz / hertz, 1.0, delta=0.06)  # type: ignore[operator]

    def test_overloads_are_open_and_single_ones_are_let_pass(self) -> None:
        mostly = [math.inf] * 15 + [4.7e3] * 5
        self.assertIs(summarise(self.times(20), mostly, "Ω").form, Form.OPEN)
        once = [math.inf] + [4.7e3] * 19
        self.assertIs(summarise(self.times(20), once, "Ω").form, Form.VALUE)
        with self.assertRaises(ValueError):
            summarise([], [], "V")


class Hypotheses(unittest.TestCase):
    def test_priors_of_every_board_add_up_and_rows_are_distinct(self) -> None:
        for board_id in shipped_ids():
            rows = hypotheses_of(shipped_board(board_id))
            self.assertAlmostEqual(sum(row.prior for row in rows), 1.0, places=9)
            self.assertEqual(len({row.key for row in rows}), len(rows), board_id)
            singles = {row.key for row in rows if len(row.faults) == 1}
            for part in shipped_board(board_id).components:
                for fault in faults_of(part):
                    self.assertIn(fault.key, singles, board_id)

    def test_a_consequence_never_stands_without_its_cause(self) -> None:
        for board_id in shipped_ids():
            one = shipped_board(board_id)
            links = {(link.cause, link.cause_mode, link.effect) for link in co_failures_of(one)}
            for row in hypotheses_of(one):
                for number, fault in enumerate(row.faults[1:], start=1):
                    before = {(f.ref, f.mode, fault.ref) for f in row.faults[:number]}
                    self.assertTrue(before & links, f"{board_id} {row.key}")

    def test_stressed_parts_fail_more_often_in_proportion(self) -> None:
        part = board().component("C21")
        calm = replace_stress(part, 1.0)
        relaxed = {fault.key: fault.rate_alone for fault in faults_of(calm)}
        stressed = {fault.key: fault.rate_alone for fault in faults_of(part)}
        self.assertGreater(len(relaxed), 4)
        for key, rate in relaxed.items():
            self.assertAlmostEqual(stressed[key] / rate, part.stress)
        self.assertEqual({key.split(":")[1] for key in stressed.keys() - relaxed.keys()}, {"warm"})

    def test_a_changed_board_is_worked_out_anew(self) -> None:
        keys = {cache_key(shipped_board(board_id)) for board_id in shipped_ids()}
        self.assertEqual(len(keys), len(shipped_ids()))


def replace_stress(part: Any, stress: float) -> Any:
    return msgspec.structs.replace(part, stress=stress)


class Sheets(unittest.TestCase):
    @given(st.text(min_size=1, max_size=60))
    @settings(max_examples=30)
    def test_whatever_the_customer_said_stands_on_the_sheet_as_text(self, words: str) -> None:
        records = demo_records()
        opened = records[0]
        told = ev.JobOpened(
            opened.event.ticket,  # type: ignore[union-attr]
            opened.event.set_name,  # type: ignore[union-attr]
            "PB-4310-2",
            words,
            18.0,
            "EUR",
        )
        changed = [ev.Record(1, opened.at, opened.bench, told), *records[1:]]
        session = demo_session(MemoryStore(changed))
        sheet = render_html(content_of(session))
        self.assertIn(words, html.unescape(sheet))
        self.assertEqual(sheet.count("<script"), 0)

    def test_every_card_of_the_demo_names_setting_hands_and_range(self) -> None:
        review = demo_session().reviewed
        for candidate in table().candidates:
            card = _task_card(review, Task(candidate, Purpose.INFORM, 2.0))
            self.assertTrue(card.title and card.header, candidate.key)
            if card.phase in ("reading", "state"):
                self.assertTrue(card.red.startswith("red on "), candidate.key)
                self.assertTrue(card.black.startswith("black on "), candidate.key)
                self.assertTrue(card.setting and card.expect, candidate.key)
                self.assertNotIn("nan", card.expect)
            for step in card.todo[1:]:
                self.assertTrue(step[:1].islower(), card.todo)

    def test_stages_have_titles_in_the_order_of_the_work(self) -> None:
        self.assertEqual(tuple(one.label for one in Stage), tuple(map(in_words, ev.STAGES)))


def in_words(stage: str) -> str:
    return stage.replace("_", " ").capitalize()


class Commands(unittest.TestCase):
    def run_main(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(list(arguments))
        return code, out.getvalue(), err.getvalue()

    def test_check_board_takes_profiles_and_recipes(self) -> None:
        root = Path(__file__).parents[1] / "src/loose_rail/boards/data"
        for place in (root / "PB-4310-2.json", *sorted((root / "recipes").glob("*.json"))):
            code, out, err = self.run_main("check-board", str(place))
            self.assertEqual(code, 0, err)
            self.assertIn("no contradictions", out)

    def test_a_recipe_with_a_fault_names_the_place(self) -> None:
        root = Path(__file__).parents[1] / "src/loose_rail/boards/data/recipes"
        text = (root / "PB-2211-1.json").read_text("utf-8")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "mine.json"
            for old, new, words in (
                ('"block": "ldo"', '"block": "magic"', "magic"),
                ('"rail": "core"', '"rail": "moon"', "moon"),
                ('"schema": "loose-rail/recipe/1"', '"schema": "loose-rail/recipe/7"', "recipe/7"),
            ):
                self.assertIn(old, text)
                path.write_text(text.replace(old, new), encoding="utf-8")
                code, _, err = self.run_main("check-board", str(path))
                self.assertEqual(code, 2, f"{old} {err}")
                self.assertIn("LR201", err)
                self.assertIn(words, err)

    def test_a_place_that_cannot_be_written_is_said(self) -> None:
        where = "/proc/no/such/place"
        reading = ("read", "PB-4310-2", "--probe", "C21.esr", "--state", "unplugged")
        code, _, err = self.run_main(*reading, "--netlist", where)
        self.assertEqual(code, 2)
        self.assertIn("can't be written", err)


if __name__ == "__main__":
    unittest.main()
