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


def _is_number(node: ast.stmt) -> bool:
    """Whether a statement gives a number a name in capitals."""
    if not isinstance(node, ast.Assign) or not isinstance(node.targets[0], ast.Name):
        return False
    value = node.value.operand if isinstance(node.value, ast.UnaryOp) else node.value
    number = isinstance(value, ast.Constant) and isinstance(value.value, int | float)
    return number and node.targets[0].id.isupper()


def _follows(one: ast.stmt, other: ast.stmt) -> bool:
    """Whether another assignment stands on the very next line."""
    return isinstance(other, ast.Assign) and other.lineno == (one.end_lineno or 0) + 1


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

    def test_every_number_of_the_model_says_what_it_is_right_after_it(self) -> None:
        """A line of text after the constant, or after the block of constants that it stands in."""
        seen = 0
        for room in ("circuit", "powered", "boards", "netlist", "judgement", "diagnosis"):
            for path in (ROOT / "src/loose_rail" / room).rglob("*.py"):
                text = path.read_text("utf-8")
                lines, body = text.splitlines(), ast.parse(text).body
                for k, node in enumerate(body):
                    if not _is_number(node):
                        continue
                    seen += 1
                    last = k
                    while last + 1 < len(body) and _follows(body[last], body[last + 1]):
                        last += 1
                    after = body[last + 1] if last + 1 < len(body) else None
                    told = isinstance(after, ast.Expr) or "#" in lines[node.lineno - 1]
                    self.assertTrue(told, f"{path}:{node.lineno}")
        self.assertGreater(seen, 150)

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
