"""The command line: arguments, and the commands that need no window."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path
from typing import NoReturn, TypeAlias

from loose_rail import __version__
from loose_rail.kernel.errors import UsageError

EXIT_BAD = 2
LEAST_SCALE, MOST_SCALE = 75, 200
SQLITE_HEAD = b"SQLite format 3\0"
"""SQLite's file format, 1.3."""
WITH_VALUE = ("--data", "--meter", "--second-meter", "--scale")
_Commands: TypeAlias = "argparse._SubParsersAction[_Parser]"


class _Parser(argparse.ArgumentParser):
    """Raises instead of printing a page of usage: one clear line is enough."""

    def error(self, message: str) -> NoReturn:
        raise UsageError(f"{message[:1].upper()}{message[1:]}.", "See loose-rail --help.")


def parser() -> argparse.ArgumentParser:
    """Every argument of the program."""
    root = _Parser(
        prog="loose-rail",
        description="A bench colleague for repairing the power boards of flat-panel sets. "
        "Without a command it opens your own shop.",
    )
    root.add_argument("--version", action="version", version=f"loose-rail {__version__}")
    root.add_argument("--data", type=Path, metavar="FILE", help="database of the shop to open")
    root.add_argument(
        "--meter", default="", metavar="ADDRESS", help="VISA address of an SCPI bench meter"
    )
    root.add_argument(
        "--second-meter", default="", metavar="ADDRESS", help="of a meter clipped on the bulk"
    )
    root.add_argument(
        "--scale",
        type=int,
        default=0,
        metavar="PERCENT",
        help="size of everything in the window, 75 to 200; else as the desktop's text",
    )
    root.set_defaults(runs="")
    commands = root.add_subparsers(dest="command", metavar="COMMAND")
    demo = commands.add_parser("demo", help="open a made-up shop on a copy of its data")
    demo.add_argument(
        "--data",
        type=Path,
        metavar="FILE",
        default=argparse.SUPPRESS,
        help="keep the demo's data in this file instead of a throw-away copy",
    )
    opened = commands.add_parser(
        "open", help="open a shop's file, or take a board file into the board book"
    )
    opened.add_argument("file", type=Path, metavar="FILE")
    shots = commands.add_parser("screenshots", help="render every main view to PNG files")
    shots.add_argument("directory", type=Path, metavar="DIR")
    _add_solve(commands)
    _add_read(commands)
    asked = commands.add_parser("diagnose", help="suspects and next probes for a job file")
    asked.set_defaults(runs="diagnose")
    asked.add_argument("file", type=Path, metavar="JOB.json")
    asked.add_argument("--json", action="store_true", help="print JSON")
    asked.add_argument("--more", action="store_true", help="everything, not one screen")
    asked.add_argument("--steps", type=int, default=3, metavar="N", help="probes to list (3)")
    asked.add_argument(
        "--after",
        type=int,
        default=None,
        metavar="N",
        help="tell only the first N entries of the log",
    )
    taught = commands.add_parser(
        "history", aliases=["learned"], help="what the shop's closed jobs teach"
    )
    taught.set_defaults(runs="history")
    taught.add_argument("--forget", default="", metavar="TICKET", help="leave one job out")
    taught.add_argument("--json", action="store_true", help="print JSON")
    told = commands.add_parser(
        "model-report", aliases=["behaviours"], help="what the live model does, as a table"
    )
    told.set_defaults(runs="model_report")
    told.add_argument("--out", type=Path, metavar="FILE", help="write it to a file")
    backup = commands.add_parser("backup", help="copy the shop into a file, also while it is open")
    backup.set_defaults(runs="backup")
    backup.add_argument("file", type=Path, metavar="FILE")
    given = commands.add_parser("bundle", help="write one job as one file for another shop")
    given.set_defaults(runs="bundle")
    given.add_argument("ticket", metavar="TICKET")
    given.add_argument("file", type=Path, metavar="FILE")
    given.add_argument("--name", action="store_true", help="with the customer's name")
    taken = commands.add_parser("unbundle", help="take a job of another shop in")
    taken.set_defaults(runs="unbundle")
    taken.add_argument("file", type=Path, metavar="FILE")
    _add_decode(commands)
    _add_judge(commands)
    _add_desktop(commands)
    _add_make_board(commands)
    check = commands.add_parser("check-board", help="check a board profile file")
    check.add_argument("file", type=Path, metavar="FILE")
    return root


def _add_decode(commands: _Commands) -> None:
    told = commands.add_parser("decode", help="what a marking on a part can mean")
    told.set_defaults(runs="decode")
    told.add_argument(
        "code", metavar="CODE", help="104K, “ye vi rd gd”, “4500 E24”, “legs 32 0.48”"
    )
    told.add_argument(
        "--kind",
        default="",
        choices=("resistor", "bands", "smd", "capacitor", "inductor", "fuse"),
        help="what it stands on",
    )
    told.add_argument(
        "--codes", action="store_true", help="CODE is a value with its unit: what would be printed"
    )
    told.add_argument("--percent", type=float, default=5.0, help="tolerance for --codes (5)")
    told.add_argument("--volts", type=float, metavar="V", help="rating for --codes")
    told.add_argument("--json", action="store_true", help="print JSON")


def _add_judge(commands: _Commands) -> None:
    asked = commands.add_parser("judge", help="whether a part may stand in a place of a board")
    asked.set_defaults(runs="judge")
    asked.add_argument("board", metavar="BOARD", help="profile file or number in the board book")
    asked.add_argument("--place", required=True, metavar="C21", help="the part that stood there")
    asked.add_argument(
        "--offer", required=True, metavar="LINE", help="such as “1000u 16V 105C low-esr 10x20 p5”"
    )
    asked.add_argument(
        "--original", default="", metavar="LINE", help="what stood there, in the same words"
    )
    asked.add_argument(
        "--school",
        default="original",
        choices=("original", "place"),
        help="never below the old part (usual), or as the place asks; not for safety parts",
    )
    asked.add_argument("--json", action="store_true", help="print JSON")


def _add_desktop(commands: _Commands) -> None:
    desk = commands.add_parser("desktop", help="launcher, icon and file kinds of your desktop")
    desk.set_defaults(runs="desktop")
    for flag, words in (
        ("--install", "put them into your data directory"),
        ("--remove", "take them out again"),
        ("--udev-rule", "print the rule that lets you use test instruments on USB"),
        ("--man", "print the manual page"),
        ("--completion", "print the completion for bash"),
    ):
        desk.add_argument(flag, action="store_true", help=words)


def _add_make_board(commands: _Commands) -> None:
    made = commands.add_parser("make-board", help="a board of your own, as a file")
    made.set_defaults(runs="make_board")
    made.add_argument("--number", required=True, metavar="N", help="number printed on the board")
    made.add_argument(
        "--alias", action="append", default=[], metavar="N", help="another number of it"
    )
    made.add_argument(
        "--kind", default="", metavar="WORDS", help="such as “standby flyback, PFC, LLC, LED”"
    )
    made.add_argument("--set", default="", metavar="WORDS", help="such as “LED TV, 43 inch”")
    made.add_argument(
        "--connector",
        action="append",
        default=[],
        metavar="PINS",
        help="such as “CN8/2: 24V, 24V, GND, 7: 5VSB”; may be repeated",
    )
    made.add_argument(
        "--start",
        choices=("high", "low", "none", "unknown"),
        default="unknown",
        help="how the start pin asks for power",
    )
    made.add_argument("--mains", type=float, default=230.0, metavar="VOLTS")
    made.add_argument(
        "--bind",
        action="append",
        default=[],
        metavar="LINE",
        help="such as “C952 = 12 V reservoir 1000u 25V x2”; may be repeated",
    )
    made.add_argument(
        "--volts",
        action="append",
        default=[],
        metavar="LINE",
        help="what stands at a label that is wrong: “12V: standby 0, on 12.8”",
    )
    made.add_argument("--out", type=Path, required=True, metavar="FILE.json")
    made.add_argument("--json", action="store_true", help="print JSON")


def _add_read(commands: _Commands) -> None:
    read = commands.add_parser("read", help="what a meter shows on a board profile")
    read.set_defaults(runs="read")
    read.add_argument("board", metavar="BOARD", help="profile file or number in the board book")
    read.add_argument("--probe", required=True, metavar="P", help="probe, such as C21.esr")
    read.add_argument("--state", required=True, metavar="S", help="such as unplugged or standby")
    read.add_argument(
        "--fault", action="append", default=[], metavar="D:mode", help="a fault, may be repeated"
    )
    read.add_argument(
        "--without", action="append", default=[], metavar="D", help="a part taken out (dead board)"
    )
    read.add_argument(
        "--resistor", type=float, default=0.0, metavar="OHMS", help="a resistor as limiter in line"
    )
    read.add_argument(
        "--charged", action="append", default=[], metavar="Q", help="a switch with a charged gate"
    )
    read.add_argument("--celsius", type=float, default=20.0, help="temperature of the board")
    read.add_argument("--hours", type=float, default=0.0, help="hours of use behind it")
    read.add_argument(
        "--can", type=float, default=70.0, help="degrees at the capacitors while in use"
    )
    read.add_argument("--mains", type=float, metavar="VOLTS", help="mains, from 90 to 264 V")
    read.add_argument("--json", action="store_true", help="print JSON")
    read.add_argument("--trace", type=Path, metavar="CSV", help="write the waveform")
    read.add_argument(
        "--netlist", type=Path, metavar="CIR", help="write the netlist of the reading"
    )


def _add_solve(commands: _Commands) -> None:
    solve = commands.add_parser("solve", help="solve a SPICE netlist, or put a meter on it")
    solve.set_defaults(runs="solve")
    solve.add_argument("file", type=Path, metavar="FILE")
    solve.add_argument("--plus", required=True, metavar="NET", help="net of the red probe")
    solve.add_argument("--minus", required=True, metavar="NET", help="net of the black probe")
    solve.add_argument(
        "--mode",
        choices=("op", "ac", "ohms", "diode", "esr", "cap"),
        help="op and ac solve the netlist with its own sources, the others connect that meter",
    )
    solve.add_argument("--json", action="store_true", help="print JSON")


def parse(arguments: list[str]) -> argparse.Namespace:
    """Parse and check paths. Raises UsageError; --help and --version leave by SystemExit(0)."""
    options = parser().parse_args(_with_open(arguments))
    if options.command == "open":
        _open_file(options)
    data: Path | None = options.data
    if data is not None and data.is_dir():
        raise UsageError(f"{data} is a folder; --data names a file.")
    if data is not None and not data.parent.is_dir():
        raise UsageError(f"The folder {data.parent} is not there.", "Make it first.")
    if options.scale and not LEAST_SCALE <= options.scale <= MOST_SCALE:
        raise UsageError(f"--scale {options.scale} is outside {LEAST_SCALE} to {MOST_SCALE}.")
    if options.command == "screenshots" and options.directory.is_file():
        raise UsageError(f"{options.directory} is a file; name a folder.")
    return options


def commands_of(root: argparse.ArgumentParser) -> dict[str, argparse.ArgumentParser]:
    """The commands by name."""
    actions = (one for one in root._actions if isinstance(one, argparse._SubParsersAction))
    return {name: made for one in actions for name, made in one.choices.items()}


def _with_open(arguments: list[str]) -> list[str]:
    """A file that stands alone, as a desktop gives it, is to be opened."""
    for number, word in enumerate(arguments):
        if word.startswith("-") or (number and arguments[number - 1] in WITH_VALUE):
            continue
        alone = word not in commands_of(parser()) and (os.sep in word or Path(word).exists())
        return [*arguments[:number], "open", *arguments[number:]] if alone else arguments
    return arguments


def _open_file(options: argparse.Namespace) -> None:
    """A shop's file is opened as with --data. Raises UsageError where there is none."""
    file: Path = options.file
    if not file.is_file():
        raise UsageError(f"{file} is not there, or is no plain file.")
    with file.open("rb") as opened:
        is_shop = opened.read(len(SQLITE_HEAD)) == SQLITE_HEAD
    options.file = None if is_shop else file.resolve()
    if is_shop:
        options.data = file


def check_board(file: Path) -> int:
    """Check a board profile and say what it holds. Raises BoardFileError."""
    from loose_rail.boards.load import read_board

    board = read_board(file)
    sys.stdout.write(
        f"{board.id}: {len(board.components)} parts, {len(board.nets)} nets, "
        f"{len(board.rails)} rails, no contradictions\n"
    )
    return 0
