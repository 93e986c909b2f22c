"""The live model against ngspice transients, in one run: means within 3 %, ripple within 15 %.

Each case is a circuit of a supply's part as an engineer would draw it: rectifiers with exponential
diodes, switches at their frequency, a filament with its own heat, a loop closed by pulse widths.
The laws are the peer's own; values of parts (ohms, farads, ESR) and the filament's law are shared.
Some figures are fits, not tests: docs/benchmarks/live.md names them.
Run: .venv/bin/python -m benchmarks.live_against_peer
"""

from __future__ import annotations

import math
import sys
import tempfile
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests import ngspice

from loose_rail.boards.bleeders import bleed_siemens
from loose_rail.boards.effective_parts import Health
from loose_rail.boards.faults import fault_from_key
from loose_rail.boards.load import shipped_board
from loose_rail.boards.powered_board import plant_of
from loose_rail.powered.plant import InputParameters
from loose_rail.powered.record import run
from loose_rail.powered.stages.mains import HotSide
from loose_rail.powered.waveform import WaveformHotSide
from loose_rail.vocabulary.board_state import state_of

MEAN_AIM, RIPPLE_AIM = 0.03, 0.15
RECTIFIER = ".model DR D(IS=7n N=1.8 RS=0.02 CJO=20p)"
BRIDGE = """
D1 a p DR
D2 b p DR
D3 n a DR
D4 n b DR
"""


@dataclass(frozen=True, slots=True)
class Row:
    """One figure of both: what it is, ngspice's, ours, and how far it may be."""

    name: str
    peer: float
    ours: float
    aim: float

    @property
    def off(self) -> float:
        """Relative difference."""
        return abs(self.ours - self.peer) / max(abs(self.peer), 1e-9)


Floats = NDArray[np.float64]


def transient(deck: str, out: str, seconds: float) -> tuple[Floats, Floats]:
    """Times and values of one expression of a deck over its last `seconds`."""
    with tempfile.TemporaryDirectory() as folder:
        target = Path(folder) / "out.txt"
        script = (
            f".control\nset wr_singlescale\nset wr_vecnames\nrun\nwrdata {target} {out}\n.endc\n"
        )
        said = ngspice.run(f"{deck}\n{script}.end\n", 300.0)
        if not target.exists():
            raise RuntimeError(f"{deck.splitlines()[0]}: no answer\n{said[-2000:]}")
        table = np.loadtxt(target, skiprows=1)
    keep = table[:, 0] > table[-1, 0] - seconds
    return table[keep, 0], table[keep, 1]


def mean_and_ripple(times: Floats, values: Floats) -> tuple[float, float]:
    """Time-weighted mean, and peak to peak."""
    return float(np.trapezoid(values, times) / (times[-1] - times[0])), float(np.ptp(values))


# ---- bulk ------------------------------------------------------------------------------------


def bulk_rows() -> list[Row]:
    """98 W on 100, 12 and 1 µF at 230 V 50 Hz, let go below a seventh of the crest."""
    rows = []
    base = plant_of(shipped_board("PB-3206-1"), (), state_of("on/cable/direct")).input
    ohms = base.line_ohms + base.fuse_ohms
    for farads in (100e-6, 12e-6, 1e-6):
        deck = f"""bulk
V1 line b SIN(0 {230 * math.sqrt(2):.6g} 50)
R1 line a {ohms:.6g}
{BRIDGE}
{RECTIFIER}
C1 p x {farads:.6g} IC=300
R2 x n {max(base.bulk_esr_ohms, 1e-3):.6g}
R3 n 0 1m
B1 p n I=V(p,n)>46 ? 98/V(p,n) : 0
.tran 20u 0.6 0 20u uic"""
        mean, ripple = mean_and_ripple(*transient(deck, "V(p,n)", 0.1))
        hot = settled_hot(replace(base, bulk_farads=farads), 98.0, 3.0)
        micro = farads * 1e6
        rows.append(
            Row(f"bulk of {micro:.0f} µF under 98 W, mean V", mean, float(hot.mean), MEAN_AIM)
        )
        if farads > 2e-6:
            name = f"bulk of {micro:.0f} µF under 98 W, ripple Vpp"
            rows.append(Row(name, ripple, float(hot.ripple_volts), RIPPLE_AIM))
    return rows


def settled_hot(plant: InputParameters, watts: float, seconds: float) -> HotSide:
    """The averaged hot side after some seconds under constant power."""
    hot = HotSide(plant)
    for _ in range(round(seconds / 1e-3)):
        hot.step(1e-3, watts)
    return hot


def lamp_rows() -> list[Row]:
    """A shorted bridge diode behind a 60 W filament lamp, 2 W drawn: bulk, and light."""
    board = shipped_board("PB-1905-2")
    plant = plant_of(
        board, [fault_from_key(board, "BD101:short:0")], state_of("standby/bare/lamp60")
    )
    base = plant.input
    hot_ohms, mass = 230.0**2 / 60.0, 2.9e-4 * 60.0
    deck = f"""shorted arm behind a lamp
V1 line b SIN(0 {230 * math.sqrt(2):.6g} 50)
R1 line l {base.line_ohms + base.fuse_ohms:.6g}
B1 l a I=V(l,a)/({hot_ohms:.6g}*(max(V(k),300)/2750)^1.2)
B2 0 k I=V(l,a)^2/({hot_ohms:.6g}*(max(V(k),300)/2750)^1.2)-60*(max(V(k),300)/2750)^4
C2 k 0 {mass:.6g} IC=300
R9 k 0 1e9
{BRIDGE}
{RECTIFIER}
RS a p 0.05
C1 p x {base.bulk_farads:.6g} IC=0
R2 x n {max(base.bulk_esr_ohms, 1e-3):.6g}
R3 n 0 1m
B3 p n I=2/max(V(p,n),46)
.tran 50u 4 0 50u uic"""
    mean, _ = mean_and_ripple(*transient(deck, "V(p,n)", 0.2))
    _, kelvin = transient(deck, "V(k)", 0.2)
    hot = settled_hot(base, 2.0, 6.0)
    share = float((kelvin.mean() / 2750.0) ** 9)
    return [
        Row("shorted arm behind a lamp, bulk V", mean, float(hot.mean), MEAN_AIM),
        Row("shorted arm behind a lamp, light", share, float(hot.lamp_glow), RIPPLE_AIM),
    ]


def decay_rows() -> list[Row]:
    """Hold-up of a loaded bulk to 60 V, and a sustain reservoir through its own resistors."""
    base = plant_of(shipped_board("PB-3206-1"), (), state_of("on/cable/direct")).input
    deck = f"""hold-up
C1 p 0 {base.bulk_farads:.6g} IC=309
B1 p 0 I=50/max(V(p),20)
R1 p 0 {1.0 / base.bulk_leak_siemens:.6g}
.tran 20u 0.2 0 20u uic"""
    times, volts = transient(deck, "V(p)", 1.0)
    peer = float(times[np.argmax(volts < 60.0)])
    side = WaveformHotSide(replace(base, mains_volts=1e-3))
    side.bulk, side._charge = 309.0, 309.0
    seconds = 0.0
    while side.bulk > 60.0 and seconds < 1.0:
        side.step(2e-5, 50.0)
        seconds += 2e-5
    found = [Row("hold-up of 100 µF under 50 W to 60 V, s", peer, seconds, MEAN_AIM)]
    deck = """sustain reservoir
C1 p 0 220u IC=195
R1 p r 768k
R2 r 0 10k
.tran 0.5 300 0 0.5 uic"""
    times, volts = transient(deck, "V(p)", 300.0)
    board = shipped_board("PB-4270-1")
    pins = board.component("C403").pins
    tau = 220e-6 / bleed_siemens(board, pins["plus"], pins["minus"])
    found.append(
        Row(
            "sustain reservoir from 195 to 60 V, s",
            float(times[np.argmax(volts < 60.0)]),
            tau * math.log(195.0 / 60.0),
            MEAN_AIM,
        )
    )
    return found


# ---- secondary sides -------------------------------------------------------------------------


def slave_rows() -> list[Row]:
    """A 24 V slave winding, its loop closed on 12 V, the reservoir fresh and dried: a switched
    flyback with leakage, held by a pulse-width modulator."""
    rows = []
    board = shipped_board("PB-4310-2")
    for fault in ("", "C31:dried:1", "C31:dried:2"):
        found = [fault_from_key(board, fault)] if fault else []
        farads, esr = Health(board, found).capacitor("slave.reservoir")
        deck = f"""slave
VR r 0 PULSE(0 1 0 15.2u 0.1u 0.1u 15.4u)
BC 0 c I=2m*(12.05-V(o1))
CC c 0 1u IC=0.2
RC c 0 1MEG
V1 bulk 0 150
BD d 0 V=V(r)<min(max(V(c)+0.2*(12.05-V(o1)),0),0.5) ? 1 : 0
S1 pri 0 d 0 SW
.model SW SW(RON=0.1 ROFF=1MEG VT=0.5 VH=0.05)
RS1 pri sn 220
CS1 sn bulk 1n
LP bulk pri 450u
L1 0 s1 4.5u
L2 0 s2 17u
K1 LP L1 0.985
K2 LP L2 0.985
K3 L1 L2 0.985
D1 s1 o1 DS
D2 s2 o2 DS
.model DS D(IS=1u N=1.05 RS=10m CJO=100p)
C1 o1 x1 1000u IC=12
RE1 x1 0 0.02
C2 o2 x2 {farads:.6g} IC=20
RE2 x2 0 {esr:.6g}
RL1 o1 0 15
RL2 o2 0 20
RO1 s1 0 10k
RO2 s2 0 10k
.tran 0.2u 30m 0 0.2u uic"""
        mean, _ = mean_and_ripple(*transient(deck, "V(o2)", 5e-3))
        record = run(plant_of(board, found, state_of("on/cable/direct")), 4.0)
        ours = float(record.windows["slave.out"][-1, 0])
        rows.append(Row(f"24 V slave, {fault or 'fresh'}, V", mean, ours, MEAN_AIM))
    return rows


def boost_rows() -> list[Row]:
    """An LED boost of 24 to 130 V, 0.5 A, its output fresh and dried: peak to peak."""
    rows = []
    board = shipped_board("PB-6530-2")
    for fault in ("", "C601:dried:0", "C601:dried:1"):
        found = [fault_from_key(board, fault)] if fault else []
        farads, esr = Health(board, found).capacitor("led.output")
        led = plant_of(board, found, state_of("on/cable/direct")).leds[0]
        deck = f"""led boost
V1 in 0 24
L1 in d 47u IC=2.7
S1 d 0 g 0 SW
.model SW SW(RON=0.05 ROFF=1MEG VT=0.5 VH=0.05)
VG g 0 PULSE(0 1 0 20n 20n 8.15u 10u)
D1 d o DS
.model DS D(IS=10n N=1.2 RS=20m CJO=50p)
C1 o x {farads:.6g} IC=130
RE x 0 {esr:.6g}
BL o 0 I=0.5
.tran 0.1u 1m 0 0.1u uic"""
        _, ripple = mean_and_ripple(*transient(deck, "V(o)", 0.1e-3))
        ours = float(led.ripple_volts + led.amps * esr)
        rows.append(Row(f"LED boost, {fault or 'fresh'}, ripple Vpp", ripple, ours, RIPPLE_AIM))
    return rows


CASES: tuple[Callable[[], list[Row]], ...] = (
    bulk_rows,
    lamp_rows,
    decay_rows,
    slave_rows,
    boost_rows,
)


def main() -> int:
    """Print a line a figure; exit code 1 where one is off by more than its aim."""
    worst = 0
    for case in CASES:
        for row in case():
            late = row.off > row.aim
            worst += late
            print(
                f"{row.name:48} ngspice {row.peer:9.4g}  ours {row.ours:9.4g}  "
                f"off {100 * row.off:5.1f} % (aim {100 * row.aim:.0f}){'  OVER' if late else ''}"
            )
    return 1 if worst else 0


if __name__ == "__main__":
    sys.exit(main())
