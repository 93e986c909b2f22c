"""House rules: error codes explained, contracts that can fail, the command line."""

import ast
import os
import re
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import loose_rail
from loose_rail.kernel import errors
from tests.mutants import MUTANTS, standing

ROOT = Path(loose_rail.__file__).parent.parent.parent
PROGRAM = [sys.executable, "-m", "loose_rail"]


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    return subprocess.run(
        [*PROGRAM, *arguments], env=env, capture_output=True, text=True, check=False, timeout=120
    )


class CommandLine(unittest.TestCase):
    def refused(self, *arguments: str) -> str:
        done = run(*arguments)
        self.assertEqual(done.returncode, 2, done.stderr)
        lines = [x for x in done.stderr.splitlines() if "propagateSizeHints" not in x]
        self.assertEqual(len(lines), 1, done.stderr)
        return lines[0]

    def test_help_and_version(self) -> None:
        self.assertIn("screenshots", run("--help").stdout)
        self.assertIn(loose_rail.__version__, run("--version").stdout)

    def test_bad_arguments_and_files_give_one_line_and_code_two(self) -> None:
        self.assertIn("LR801", self.refused("--nonsense"))
        self.assertIn("LR801", self.refused("frobnicate"))
        self.assertIn("LR801", self.refused("--data", "/nowhere/at/all.sqlite"))
        self.assertIn("LR201", self.refused("check-board", "/nowhere.json"))
        with tempfile.TemporaryDirectory() as folder:
            damaged = Path(folder) / "shop.sqlite"
            damaged.write_bytes(b"no database " * 99)
            self.assertIn("LR505", self.refused("--data", str(damaged)))
            board = Path(folder) / "board.json"
            board.write_text('{"schema": 1}')
            self.assertIn("LR201", self.refused("check-board", str(board)))
        good = ROOT / "src/loose_rail/boards/data/PB-4310-2.json"
        self.assertIn("no contradictions", run("check-board", str(good)).stdout)


class House(unittest.TestCase):
    def test_every_error_has_its_own_code_and_is_explained(self) -> None:
        text = (ROOT / "docs/errors.md").read_text("utf-8")
        kinds = [v for v in vars(errors).values() if isinstance(v, type)]
        codes = [kind.code for kind in kinds]  # type: ignore[attr-defined]
        self.assertEqual(len(set(codes)), len(codes))
        for code in codes:
            self.assertIn(code, text)

    def test_a_planted_violation_breaks_each_import_contract(self) -> None:
        planted = {
            "kernel": ("import loose_rail.circuit.elements", "Rooms stand in order"),
            "judgement": ("import PyQt6.QtCore", "Qt stands only in the views"),
            "reports": ("import sqlalchemy", "SQLAlchemy stands only in storage"),
            "practice": ("import pyvisa", "PyVISA stands only in instruments"),
            "screens": ("import loose_rail.jobs.fold", "Views see states"),
        }
        with tempfile.TemporaryDirectory() as folder:
            for name in ("pyproject.toml",):
                (Path(folder) / name).write_bytes((ROOT / name).read_bytes())
            copy = Path(folder) / "src" / "loose_rail"
            subprocess.run(["cp", "-r", str(ROOT / "src"), folder], check=True)
            for room, (line, _) in planted.items():
                place = copy / room / ("shelf/view.py" if room == "screens" else "planted.py")
                place.write_text(f"{line}\n")
            env = {**os.environ, "PYTHONPATH": f"{folder}/src"}
            tool = Path(sys.executable).with_name("lint-imports")
            done = subprocess.run(
                [str(tool), "--no-cache"], cwd=folder, env=env, capture_output=True, text=True
            )
        self.assertNotEqual(done.returncode, 0)
        for _, contract in planted.values():
            self.assertRegex(done.stdout, rf"{re.escape(contract)}.*BROKEN")

    def test_modules_can_be_read_in_one_sitting_and_say_what_they_are(self) -> None:
        for path in (ROOT / "src").rglob("*.py"):
            text = path.read_text("utf-8")
            self.assertTrue(text.startswith('"""'), path)
            self.assertLess(len(text.splitlines()), 460, path)

    def test_no_addresses_in_build_files(self) -> None:
        for name in ("pyproject.toml", "requirements.txt", "bin/setup", "bin/test", "bin/demo"):
            self.assertNotRegex((ROOT / name).read_text("utf-8"), r"https?://")

    def test_no_except_swallows_in_silence_and_no_long_call_goes_by_position(self) -> None:
        """A handler of nothing but `pass`, commented or not; eight and more arguments with no
        names, but for the columns of a database table."""
        handlers = calls = 0
        for path in (ROOT / "src").rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text("utf-8"))):
                if isinstance(node, ast.ExceptHandler):
                    handlers += 1
                    silent = all(isinstance(one, ast.Pass) for one in node.body)
                    self.assertFalse(silent, f"{path}:{node.lineno}")
                if isinstance(node, ast.Call):
                    calls += 1
                    by_place = [one for one in node.args if not isinstance(one, ast.Starred)]
                    name = getattr(node.func, "id", "")
                    self.assertTrue(len(by_place) < 8 or name == "Table", f"{path}:{node.lineno}")
        self.assertGreater(handlers, 50)
        self.assertGreater(calls, 5000)

    def test_every_benchmark_still_loads(self) -> None:
        """They run by hand: names that moved would be found only then."""
        files = sorted((ROOT / "benchmarks").rglob("*.py"))
        names = [".".join(path.relative_to(ROOT).with_suffix("").parts) for path in files]
        wanted = [n for n in names if not n.endswith(("__init__", "__main__", "against_pgmpy"))]
        self.assertGreater(len(wanted), 8)
        code = f"import importlib\nfor name in {wanted!r}: importlib.import_module(name)"
        done = subprocess.run(
            [sys.executable, "-c", code], cwd=ROOT, capture_output=True, text=True, check=False
        )
        self.assertEqual(done.returncode, 0, done.stderr)

    def test_every_guard_that_the_mutants_take_out_still_stands(self) -> None:
        self.assertGreater(len(MUTANTS), 30)
        self.assertEqual([one.name for one in MUTANTS if not standing(one)], [])
        self.assertEqual(len({one.name for one in MUTANTS}), len(MUTANTS))

    def test_the_first_window_is_shown_without_what_it_does_not_show(self) -> None:
        code = "import sys, loose_rail.cli.window; print(*sys.modules)"
        env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
        done = subprocess.run([sys.executable, "-c", code], env=env, capture_output=True, text=True)
        loaded = set(done.stdout.split())
        self.assertIn("loose_rail.screens.main_window", loaded)
        for name in (
            "screens.job.view",
            "screens.new_job.view",
            "screens.meters.view",
            "boards.profile",
        ):
            self.assertNotIn(f"loose_rail.{name}", loaded)
        self.assertFalse(loaded & {"numpy", "scipy", "sqlalchemy", "pyvisa", "PIL"})
