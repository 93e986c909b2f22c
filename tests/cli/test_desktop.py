"""On a stranger's desk: processes, signals, one window a shop, a frozen bundle, the launcher."""

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

from PyQt6.QtCore import QMimeDatabase

from loose_rail.cli import commands_of, parse, parser
from loose_rail.cli.desktop import files
from loose_rail.cli.display import require_display
from loose_rail.cli.shell_pages import bash_completion, manual
from loose_rail.diagnosis.model import cold_predictions
from loose_rail.kernel.errors import UsageError
from loose_rail.screens.shared.files import with_ending
from loose_rail.screens.shared.widgets import tip
from loose_rail.storage.places import default_store, places_of, take_over
from loose_rail.storage.store import SqliteStore
from tests.shared import board

BUNDLE = """#!{python}
import sys
sys.frozen = True
sys.executable = {bundle!r}
from loose_rail.__main__ import main
if __name__ == "__main__":
    sys.exit(main())
"""
BUS = Path(__file__).with_name("session_bus.py")


class Desk(unittest.TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.home = Path(holder.name)
        kept = {k: v for k, v in os.environ.items() if not k.startswith("XDG_")}
        running = self.home / "run"
        running.mkdir(mode=0o700)
        self.names = {
            **kept,
            "HOME": str(self.home),
            "QT_QPA_PLATFORM": "offscreen",
            "XDG_RUNTIME_DIR": str(running),
        }

    def started(self, *arguments: str) -> subprocess.Popen[str]:
        process = subprocess.Popen(
            [sys.executable, "-m", "loose_rail", *arguments],
            env=self.names,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
        )
        self.addCleanup(process.kill)
        return process

    def waited(self, there: Path) -> None:
        until = time.monotonic() + 60
        while not there.exists() and time.monotonic() < until:
            time.sleep(0.1)
        self.assertTrue(there.exists(), there)

    def test_one_window_a_shop_and_a_signal_ends_it_as_closing_does(self) -> None:
        shop = self.home / "my shop ü.sqlite"
        foreign = self.home / "settings.json"
        foreign.write_text('{"editor": "another program"}')
        first = self.started("--data", str(shop))
        self.waited(places_of(shop).backups)  # the shop is open and its copy of the day is begun
        second = self.started(str(shop))  # as a desktop gives a file
        out, err = second.communicate(timeout=60)
        self.assertEqual((second.returncode, err), (0, ""))
        self.assertIn("open already", out)
        first.send_signal(signal.SIGTERM)
        out, err = first.communicate(timeout=60)
        self.assertEqual(first.returncode, 0, err)
        self.assertEqual(foreign.read_text(), '{"editor": "another program"}')
        state = self.home / ".local/state/loose-rail"
        self.assertTrue((state / "window.json").exists())
        self.assertIn("started: Loose Rail", (state / "log/loose-rail.log").read_text())
        self.assertEqual(
            sorted(p.name for p in self.home.iterdir() if p.suffix == ".json"), ["settings.json"]
        )

    def test_ctrl_c_ends_the_demo_with_its_meter_and_its_copy(self) -> None:
        temporary = self.home / "tmp"
        temporary.mkdir()
        self.names["TMPDIR"] = str(temporary)
        demo = self.started("demo")
        until = time.monotonic() + 60
        while not list(temporary.glob("*/shop.sqlite.d/backups")) and time.monotonic() < until:
            time.sleep(0.1)
        demo.send_signal(signal.SIGINT)
        _, err = demo.communicate(timeout=60)
        self.assertEqual(demo.returncode, 0, err)
        self.assertEqual(list(temporary.glob("loose-rail-demo-*")), [])
        self.assertNotIn("Traceback", err)

    def test_a_frozen_bundle_works_its_predictions_out(self) -> None:
        bundle = self.home / "bundle.py"
        bundle.write_text(BUNDLE.format(python=sys.executable, bundle=str(bundle)))
        bundle.chmod(0o700)
        script = (
            "import sys; sys.frozen = True; sys.executable = sys.argv[1]\n"
            "from loose_rail.boards.load import shipped_board\n"
            "from loose_rail.diagnosis.model.cold_predictions import beside, cold_readings\n"
            "board = shipped_board('PB-1905-2')\n"
            "with beside(board) as found: print(found.readings().shape == "
            "cold_readings(board).shape)\n"
            "from loose_rail.practice.hands import SimulatedBenchProcess\n"
            "bench = SimulatedBenchProcess(board.id, [], True); print(bench.port > 0)\n"
            "bench.close()\n"
        )
        done = subprocess.run(
            [sys.executable, "-c", script, str(bundle)],
            env=self.names,
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(done.stdout.split(), ["True", "True"], done.stderr[-2000:])
        self.assertTrue(callable(cold_predictions.main))

    def test_a_display_that_is_gone_is_a_sentence(self) -> None:
        for names in ({}, {"DISPLAY": ":977"}, {"WAYLAND_DISPLAY": "wayland-977"}):
            with self.assertRaisesRegex(UsageError, "display"):
                require_display(names)
        require_display({"QT_QPA_PLATFORM": "offscreen"})

    def test_settings_move_to_the_configuration_directory(self) -> None:
        shop = default_store()
        self.assertIn("config", str(places_of(shop).settings))
        named = self.home / "x.sqlite"
        self.assertEqual(places_of(named).settings.parent, self.home / "x.sqlite.d")
        SqliteStore(named).close()
        (self.home / "boards").mkdir()
        (self.home / "boards" / "theirs.json").write_text('{"schema": "another"}')
        take_over(named)
        self.assertFalse((self.home / "x.sqlite.d" / "boards").exists())

    def test_the_launcher_holds_and_goes_again(self) -> None:
        for what in ("--install", "--remove"):
            done = subprocess.run(
                [sys.executable, "-m", "loose_rail", "desktop", what],
                env=self.names,
                capture_output=True,
                text=True,
                check=False,
            )
            self.assertEqual(done.returncode, 0, done.stderr)
            there = [path.is_file() for path in files(self.home / ".local/share")]
            self.assertEqual(set(there), {what == "--install"})
            if what == "--install":
                self._valid(self.home / ".local/share")

    def _valid(self, data: Path) -> None:
        for tool, path in (
            (["desktop-file-validate"], data / "applications/org.looserail.LooseRail.desktop"),
            (
                ["appstreamcli", "validate", "--no-net"],
                data / "metainfo/org.looserail.LooseRail.metainfo.xml",
            ),
            (["man", "--warnings", "-E", "UTF-8", "-l", "-Tutf8"], data / "man/man1/loose-rail.1"),
            (["bash", "-n"], data / "bash-completion/completions/loose-rail"),
        ):
            if shutil.which(tool[0]) is None:
                continue  # bin/setup test installs the first two; man is where there is one
            done = subprocess.run([*tool, str(path)], capture_output=True, text=True, check=False)
            self.assertEqual((done.returncode, done.stderr), (0, ""), f"{tool} {done.stdout}")
        names = {**self.names, "XDG_DATA_HOME": str(data), "XDG_DATA_DIRS": "/usr/share"}
        shop, one = data / "my.shop.sqlite", data / "b.board.json"
        SqliteStore(shop).close()
        one.write_text('{"schema": "loose-rail/own-board/1"}')
        code = (
            "import sys; from PyQt6.QtCore import QMimeDatabase\n"
            "for p in sys.argv[1:]: print(QMimeDatabase().mimeTypeForFile(p).name())"
        )
        done = subprocess.run(
            [sys.executable, "-c", code, str(shop), str(one)],
            env=names,
            capture_output=True,
            text=True,
            check=False,
        )
        kinds = ["application/vnd.loose-rail.shop", "application/vnd.loose-rail.board+json"]
        self.assertEqual(done.stdout.split(), kinds)
        self.assertTrue(QMimeDatabase().mimeTypeForName("application/json").isValid())

    def test_manual_and_completion_name_every_command_and_option(self) -> None:
        page, shell = manual(parser()).replace("\\-", "-"), bash_completion(parser())
        for name, command in commands_of(parser()).items():
            if name in ("learned", "behaviours"):
                continue  # other names of two commands
            self.assertIn(f".SS {name}", page)
            for action in command._actions:
                for flag in action.option_strings:
                    self.assertIn(flag, page)
                    self.assertTrue(flag.count("-") < 2 or flag in shell, flag)

    def test_a_file_alone_is_opened(self) -> None:
        shop, other = self.home / "a.sqlite", self.home / "b.json"
        SqliteStore(shop).close()
        other.write_text("{}")
        self.assertEqual(parse([str(shop)]).data, shop)
        self.assertEqual(parse(["--scale", "150", str(other)]).file, other)
        with self.assertRaises(UsageError):
            parse([str(self.home / "nothing.json")])
        self.assertEqual(parse(["demo"]).command, "demo")

    def test_names_of_files_and_words_of_tips(self) -> None:
        kinds = (("PDF (*.pdf)", ".pdf"), ("Boards (*.board.json *.json)", ".board.json"))
        for kind, ending in kinds:
            self.assertEqual(with_ending(Path("v1.2"), kind).name, f"v1.2{ending}")
            self.assertEqual(with_ending(Path(f"a{ending}"), kind).name, f"a{ending}")
        self.assertEqual(with_ending(Path("a.html"), "PDF (*.pdf)").name, "a.html.pdf")
        self.assertNotIn("<img", tip("left 1 <img src='/x.png'>"))
        self.assertEqual(tip(board().id), board().id)

    @unittest.skipUnless(shutil.which("dbus-run-session"), "bin/setup test installs dbus")
    def test_the_desktop_is_asked_to_stay_awake_and_to_show_a_note(self) -> None:
        done = subprocess.run(
            ["dbus-run-session", "--", sys.executable, str(BUS)],
            env=self.names,
            capture_output=True,
            text=True,
            check=False,
        )
        told = done.stdout.splitlines()
        self.assertEqual(
            told,
            [
                "Inhibit Loose Rail reading",
                "held True",
                "UnInhibit 77",
                "Notify Loose Rail 0 org.looserail.LooseRail Drained Measure it.",
            ],
            done.stderr[-2000:],
        )


if __name__ == "__main__":
    unittest.main()
