"""Every reader survives rubbish: damaged, random and misshapen files get a sentence, no traceback.

`LOOSE_RAIL_INPUTS=100000 python -m unittest tests.test_rubbish` runs as many inputs as wanted; the
usual run takes a small share of them. What a reader accepts is used as the program would use it.
"""

from __future__ import annotations

import io
import json
import math
import os
import random
import string
import tempfile
import unittest
from collections.abc import Callable
from functools import cache
from importlib import resources
from pathlib import Path

import msgspec
from PIL import Image

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.read import read_case
from loose_rail.app.meter_log import read_log, trace_of
from loose_rail.app.settings import Settings
from loose_rail.boards.cold_network import cold_network
from loose_rail.boards.load import decode_board
from loose_rail.diagnosis.model.candidates import candidates_of
from loose_rail.diagnosis.model.hypotheses import hypotheses_of
from loose_rail.instruments.scpi_profile import read_profile
from loose_rail.jobs.events import Record, decode_event, encode_event
from loose_rail.jobs.fold import fold
from loose_rail.jobs.summary import find_texts, summary_of
from loose_rail.kernel.errors import LooseRailError
from loose_rail.netlist.read import parse_netlist
from loose_rail.netlist.solve import SolveMode, natural_mode, read_meter, solve_ac, solve_op
from loose_rail.storage.photos import upright
from loose_rail.storage.settings import SettingsFile
from tests.shared import demo_records, engine

INPUTS = int(os.environ.get("LOOSE_RAIL_INPUTS", "1000"))
SEED = int(os.environ.get("LOOSE_RAIL_SEED", "1"))
ODD: tuple[object, ...] = (
    *(None, True, False, 0, -1, 1, 3, 1e308, -1e308, 5e-324, 10**30, [], {}, "", " ", "²", "٤"),
    *("\ud800", "1k", "0Z", "12V", "1 ", "OL", "nan", "inf", "../x", "a\nb", "x" * 5000, "led"),
    *("GND", "standby/cable/lamp" + "9" * 400, {"$x": 1}, ["a", ["b"]], "C21", "@rule", "=1+1"),
)
LETTERS = string.printable + "²µΩ–∞\x00\ufeff"
Use = Callable[[bytes], object]


def mutated(rng: random.Random, sample: bytes) -> bytes:
    """A sample changed in its bytes, or in its tree where it is JSON."""
    try:
        tree = json.loads(sample)
    except ValueError:
        tree = None
    if tree is not None and rng.random() < 0.75:
        for _ in range(rng.choice((1, 1, 1, 2, 4))):
            tree = _other(rng, tree)
        return json.dumps(tree).encode("utf-8", "surrogatepass")
    return _bytes(rng, sample)


def _other(rng: random.Random, tree: object) -> object:
    """The tree with one node put in place of, taken out, doubled or renamed."""
    nodes: list[tuple[object, object]] = []
    todo = [tree]
    while todo:
        node = todo.pop()
        keys: list[object] = []
        if isinstance(node, dict):
            keys = list(node)
        elif isinstance(node, list):
            keys = list(range(len(node)))
        nodes += [(node, key) for key in keys]
        todo += [node[key] for key in keys]  # type: ignore[index]
    if not nodes:
        return rng.choice(ODD)
    holder, key = rng.choice(nodes)
    kind = rng.random()
    if kind < 0.6:
        holder[key] = rng.choice(ODD)  # type: ignore[index]
    elif kind < 0.75:
        del holder[key]  # type: ignore[attr-defined]
    elif isinstance(holder, list):
        holder.append(holder[key])  # type: ignore[call-overload]
    elif isinstance(holder, dict):
        holder[rng.choice(("id", "kind", "ref", "x", "schema", str(key)[:-1]))] = holder[key]
    return tree


def _bytes(rng: random.Random, sample: bytes) -> bytes:
    data = bytearray(sample)
    for _ in range(rng.choice((1, 1, 2, 5))):
        at = rng.randrange(len(data) + 1)
        kind = rng.randrange(6)
        if kind == 0:
            del data[at:]
        elif kind == 1:
            data[at:at] = "".join(rng.choices(LETTERS, k=rng.choice((1, 3, 40)))).encode()
        elif kind == 2:
            data[at : at + 1] = bytes([rng.randrange(256)])
        elif kind == 3:
            del data[at : at + rng.randrange(1, 30)]
        elif kind == 4:
            data[at:at] = data[at : at + rng.randrange(1, 200)]
        else:
            data[at:at] = rng.choice((b"[" * 3000, b"1e999", b"\xff\xfe", b"-" * 900, b"9" * 5000))
    return bytes(data)


class Rubbish(unittest.TestCase):
    """`share` of the inputs goes to each reader."""

    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)

    def survives(self, samples: list[bytes], use: Use, share: float) -> None:
        rng = random.Random(f"{SEED} {self.id()}")
        accepted = refused = 0
        for number in range(max(int(INPUTS * share), 20)):
            data = mutated(rng, rng.choice(samples))
            try:
                use(data)
                accepted += 1
            except LooseRailError as error:
                self.assertTrue(error.one_line().isprintable(), repr(error.one_line()[:300]))
                error.one_line().encode()
                refused += 1
            except Exception as error:
                kept = Path(tempfile.gettempdir()) / f"rubbish-{self.id().rsplit('.', 1)[-1]}"
                kept.write_bytes(data)
                raise AssertionError(f"input {number}, kept as {kept}: {error!r}") from error
        self.assertGreater(refused, 0)
        self.assertGreater(accepted, 0)

    def test_board_profiles(self) -> None:
        def use(data: bytes) -> None:
            board = decode_board(data, "x.json")
            candidates_of(board)
            hypotheses_of(board)
            cold_network(board)

        self.survives(_shipped("boards/data", "PB-"), use, 0.1)

    def test_recipes_and_own_boards(self) -> None:
        self.survives(
            _shipped("boards/data/recipes", "PB-"), lambda data: decode_board(data, "x.json"), 0.1
        )

    def test_job_files(self) -> None:
        samples = [one.read_bytes() for one in sorted(Path("tests/cases").glob("*.json"))]

        def use(data: bytes) -> None:
            path = self.folder / "job.json"
            path.write_bytes(data)
            found = answer(read_case(path, lambda board: engine()), 1)
            json.dumps(found, ensure_ascii=False, allow_nan=False).encode()

        self.survives(samples, use, 0.03)

    def test_meter_profiles(self) -> None:
        folder = resources.files("loose_rail.instruments").joinpath("profiles")
        samples = [one.read_bytes() for one in folder.iterdir()]
        self.survives(samples, lambda data: read_profile(data, "m.json"), 0.15)

    def test_settings(self) -> None:
        samples = [msgspec.json.encode(Settings()), msgspec.json.encode(Settings(mains="230/50"))]

        def use(data: bytes) -> None:
            path = self.folder / "settings.json"
            path.write_bytes(data)
            SettingsFile(path).read()
            for left in self.folder.glob("settings.damaged*"):
                left.unlink()

        self.survives(samples, use, 0.15)

    def test_events_in_the_database(self) -> None:
        records = demo_records()
        samples = [encode_event(one.event).encode() for one in records]

        def use(data: bytes) -> None:
            event = decode_event(data.decode("utf-8", "replace"))
            number = records[-1].sequence + 1
            log = [*records, Record(number, records[-1].at, "bench 1", event)]
            fold(log)
            summary_of(1, log)
            find_texts(log)

        self.survives(samples, use, 0.15)

    def test_netlists(self) -> None:
        def use(data: bytes) -> None:
            netlist = parse_netlist(data.decode("utf-8", "replace").splitlines())
            for mode in (natural_mode(netlist), SolveMode.OHMS):
                if mode is SolveMode.AC:
                    solve_ac(netlist, "mid", "0")
                elif mode is SolveMode.OP:
                    found = solve_op(netlist, "mid", "0")
                    self.assertTrue(math.isfinite(found), found)
                else:
                    read_meter(netlist, "mid", "0", mode)

        self.survives([NETLIST.encode()], use, 0.1)

    def test_meter_logs(self) -> None:
        samples = [
            b"time [ms],v [mV]\n0,5000\n100,4980\n200,OL\n",
            b"Zeit;Spannung [V];Temp\n10:00:00;5,01;20\n10:00:01;4,98;20\n",
            b"Date,V\n11/02/2026 09:12:05 AM,5\n11/02/2026 12:12:05 PM,5.1\n",
            b"0\t5.0 mV\n0.5\t5.1 mV\n1.0\t5.2 mV\n",
            b"volts (" + b" " * 900 + b"x,t\n1,2\n2,3\n",
        ]

        def use(data: bytes) -> None:
            log = read_log(data, "some.csv")
            trace_of(log, log.time_column, log.value_columns)

        self.survives(samples, use, 0.1)

    def test_photographs(self) -> None:
        self.survives(_pictures(), lambda data: upright(data, "a.jpg"), 0.05)


NETLIST = """a divider
V1 in 0 DC 12 AC 1
R1 in mid 4.7k
R2 mid 0 1k
C1 mid 0 10u
D1 mid out DX
.model DX D(IS=1e-14 N=1.8)
R3 out 0 10k
.op
.ac dec 10 1 1e6
.end
"""


@cache
def _shipped(folder: str, start: str) -> list[bytes]:
    found = resources.files("loose_rail").joinpath(folder).iterdir()
    return [one.read_bytes() for one in found if one.name.startswith(start)]


@cache
def _pictures() -> list[bytes]:
    found = []
    for mode, kind in (("RGB", "JPEG"), ("RGBA", "PNG"), ("P", "PNG"), ("L", "BMP")):
        made = io.BytesIO()
        Image.new(mode, (64, 48), 90).save(made, kind)
        found.append(made.getvalue())
    return found


if __name__ == "__main__":
    unittest.main()
