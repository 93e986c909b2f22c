"""A contact that comes and goes: its times, its repeatability, and a board that carries on through
every change; and the table of behaviours in the docs, which must be what the model does now."""

import contextlib
import io
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path
from unittest import mock

import numpy as np

from loose_rail.__main__ import main
from loose_rail.boards.faults import fault_from_key
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.powered_board import plant_of, simulation_of
from loose_rail.cli import model_report
from loose_rail.powered.contacts import BAD_SECONDS, GOOD_SECONDS, Intermittent
from loose_rail.powered.plant import Plant
from loose_rail.powered.simulate import Simulation
from loose_rail.vocabulary.board_state import BoardState, Power
from tests.material import some_boards

ON = BoardState(Power.ON, True, 0)
STEP_SECONDS = 2e-3
SIMPLE, JOINT = "PB-2211-1", "CN101:joint:0"
DOCS = Path(__file__).parents[2] / "docs"


def plants(board_id: str, key: str) -> tuple[Plant, Plant]:
    board = shipped_board(board_id)
    return plant_of(board, (), ON), plant_of(board, [fault_from_key(board, key)], ON)


def watched(simulation: Simulation, point: str, seconds: float) -> np.ndarray:
    seen = []
    for _ in range(round(seconds / STEP_SECONDS)):
        simulation.step(STEP_SECONDS)
        seen.append(float(simulation.observe()[point]))
    return np.array(seen)


class Times(unittest.TestCase):
    def test_it_is_bad_for_its_share_of_the_time_in_dwells_of_the_law(self) -> None:
        """Gamma of shape 2: mean as given, standard deviation mean/√2 (textbook)."""
        contact = Intermittent(*plants(SIMPLE, JOINT), seed=3)
        dwells, since, turns = [], 0, 0
        for step in range(round(160.0 / STEP_SECONDS)):
            contact.step(STEP_SECONDS)
            if contact.turns > turns:
                dwells.append((step - since) * STEP_SECONDS)
                since, turns = step, contact.turns
        good, bad = np.array(dwells[::2]), np.array(dwells[1::2])
        self.assertGreater(len(bad), 100)
        self.assertAlmostEqual(bad.sum() / (good.sum() + bad.sum()), 0.3, delta=0.06)
        for times, mean in ((good, GOOD_SECONDS), (bad, BAD_SECONDS)):
            self.assertAlmostEqual(times.mean() / mean, 1.0, delta=0.2)
            self.assertAlmostEqual(times.std() / times.mean(), 1 / np.sqrt(2), delta=0.15)

    def test_a_seed_repeats_itself_and_another_does_not(self) -> None:
        one, same, other = (
            watched(Intermittent(*plants(SIMPLE, JOINT), seed=seed), "core.out", 6.0)
            for seed in (5, 5, 6)
        )
        np.testing.assert_array_equal(one, same)
        self.assertFalse(np.array_equal(one, other))

    def test_the_rail_falls_with_the_contact_and_comes_back(self) -> None:
        seen = watched(Intermittent(*plants(SIMPLE, JOINT), seed=1), "core.out", 30.0)
        stands = seen > 3.0
        falls = np.flatnonzero(stands[:-1] & ~stands[1:])
        rises = np.flatnonzero(~stands[:-1] & stands[1:])
        self.assertGreater(len(falls), 8)
        self.assertGreater(len(rises), len(falls) - 1)
        self.assertLess(seen.min(), 0.5)

    def test_only_a_fault_that_comes_and_goes_makes_one(self) -> None:
        board = shipped_board(SIMPLE)
        for key, kind in (("CN101:intermittent:0", Intermittent), ("CN101:joint:0", Simulation)):
            for fine in (False, True):
                made = simulation_of(board, [fault_from_key(board, key)], ON, fine=fine)
                self.assertIs(type(made), kind, key)


class GoingOn(unittest.TestCase):
    def test_taking_over_the_same_parameters_changes_nothing_on_any_board(self) -> None:
        for board_id in some_boards():
            plant = plant_of(shipped_board(board_id), (), ON)
            calm, restless = Simulation(plant), Simulation(plant)
            copies = (plant, replace(plant))
            for step in range(round(1.5 / STEP_SECONDS)):
                calm.step(STEP_SECONDS)
                if step % 10 == 0:
                    restless.adopt(copies[step // 10 % 2])
                restless.step(STEP_SECONDS)
            self.assertEqual(calm.observe(), restless.observe(), board_id)

    def test_after_a_fault_is_gone_every_board_stands_as_if_it_had_not_been(self) -> None:
        """Faults that blow nothing: the shorted reservoir of the first rail, for half a second."""
        for board_id in some_boards():
            board = shipped_board(board_id)
            sound = plant_of(board, (), ON)
            rail = next(s.id for s in board.stages if s.kind in ("flyback", "buck"))
            capacitor = (board.roles.get(f"{rail}.reservoir") or board.roles[f"{rail}.output"])[0]
            short = plant_of(board, [fault_from_key(board, f"{capacitor}:short:0")], ON)
            one, other = Simulation(sound), Simulation(sound)
            for step in range(round(12.0 / STEP_SECONDS)):
                one.step(STEP_SECONDS)
                if step in (1000, 1250):
                    other.adopt(short if step == 1000 else sound)
                other.step(STEP_SECONDS)
            seen, wanted = other.observe(), one.observe()
            for point in (f"{rail}.out", "bulk"):
                self.assertAlmostEqual(
                    seen[point] / wanted[point], 1.0, delta=0.02, msg=f"{board_id} {point}"
                )

    def test_a_short_at_a_fed_controller_that_is_gone_draws_no_more(self) -> None:
        sound, short = plants("PB-4310-2", "C35:short:0")
        one = Simulation(short)
        for step in range(round(8.0 / STEP_SECONDS)):
            if step == 1500:
                self.assertLess(one.observe()["main.out"], 1.0)
                self.assertGreater(one.feeds["main"].drawn_siemens, 0.0)
                one.adopt(sound)
            one.step(STEP_SECONDS)
        self.assertEqual(one.feeds["main"].drawn_siemens, 0.0)
        self.assertAlmostEqual(one.observe()["main.out"], 12.05, delta=0.2)


class Docs(unittest.TestCase):
    def test_the_table_of_behaviours_is_what_the_model_does_now(self) -> None:
        """Two boards by the command itself; all nine would take half a minute."""
        page = (DOCS / "behaviours.md").read_text()
        chosen = ("PB-2211-1", "PB-1905-2")
        with tempfile.TemporaryDirectory() as folder:
            made = Path(folder) / "behaviours.md"
            with mock.patch.object(model_report, "shipped_ids", lambda: chosen):
                self.assertEqual(main(["model-report", "--out", str(made)]), 0)
            lines = [line for line in made.read_text().splitlines() if line]
        self.assertGreater(len(lines), 30)
        self.assertLessEqual(set(lines), set(page.splitlines()))
        for board_id in shipped_ids():
            self.assertIn(f"### {board_id}, ", page)

    def test_a_place_that_can_not_be_written_is_said(self) -> None:
        with contextlib.redirect_stderr(io.StringIO()) as said:
            self.assertEqual(main(["behaviours", "--out", "/proc/none/behaviours.md"]), 2)
        self.assertIn("can't be written", said.getvalue())
