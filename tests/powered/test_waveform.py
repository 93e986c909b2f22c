"""The hot side in both resolutions against ngspice, and its energy; one board against many."""

import math
import re
import unittest

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.boards.faults import faults_of
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.powered_board import plant_of
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.diagnosis.model.predictions import TABLE_STEP_SECONDS
from loose_rail.powered.plant import BoostParameters, InputParameters, stack
from loose_rail.powered.record import run
from loose_rail.powered.simulate import Simulation
from loose_rail.powered.stages.boost import SETTLE_SECONDS, Boost
from loose_rail.powered.stages.mains import (
    BRIDGE_DROP_VOLTS,
    FILAMENT_COLD_KELVIN,
    FILAMENT_HOT_KELVIN,
    FILAMENT_JOULE_PER_KELVIN_WATT,
    HotSide,
)
from loose_rail.powered.waveform import STEP_SECONDS, WaveformHotSide, waveform_run
from loose_rail.vocabulary.board_state import BoardState, Power
from tests import ngspice
from tests.material import some_boards
from tests.shared import in_fine_steps

LAMP = BoardState(Power.STANDBY, False, 60)
DIRECT = BoardState(Power.STANDBY, False, 0)
SECONDS = 1.0


def hot_parameters(state: BoardState, board_id: str = "PB-3206-1") -> InputParameters:
    return plant_of(shipped_board(board_id), (), state).input


def peer_deck(p: InputParameters, watts: float) -> str:
    """Source, filament with its thermal mass, rectifier as a source behind its drop, bulk, load."""
    hot, lit = (p.lamp_volts**2 / p.lamp_watts, p.lamp_watts) if p.lamp_watts else (1e-6, 1e9)
    mass = FILAMENT_JOULE_PER_KELVIN_WATT * lit
    series = p.line_ohms + p.fuse_ohms
    peak = math.sqrt(2) * p.mains_volts
    lamp = f"({hot}*(max(v(t),250)/{FILAMENT_HOT_KELVIN})^1.2)" if p.lamp_watts else "1e-9"
    return "\n".join(
        [
            "hot side",
            f"Vm m 0 SIN(0 {peak} {p.mains_hertz})",
            f"Bs s 0 V=abs(v(m))-{BRIDGE_DROP_VOLTS}",
            f"Bi s b I=max(v(s)-v(b),0)/({series}+{lamp})",
            f"Resr b c {p.bulk_esr_ohms}",
            f"C1 c 0 {p.bulk_farads} IC=0",
            f"Rl b 0 {1 / p.bulk_leak_siemens}",
            f"Bl b 0 I={watts}/max(v(b),20)*min(max(v(b),0),1)",
            f"Ct t 0 {mass} IC={FILAMENT_COLD_KELVIN}",
            f"Bp 0 t I=(max(v(s)-v(b),0)/({series}+{lamp}))^2*{lamp}"
            f"-{lit}*(v(t)/{FILAMENT_HOT_KELVIN})^4",
            ".options reltol=1e-5 method=gear",
            ".control",
            "set numdgt=9",
            f"tran 20u {SECONDS} 0 20u uic",
            "meas tran bulk AVG v(b) from=0.9 to=1.0",
            "meas tran early AVG v(b) from=0.05 to=0.15",
            "meas tran kelvin AVG v(t) from=0.9 to=1.0",
            "meas tran warm MAX v(t)",
            ".endc",
            ".end",
        ]
    )


def averaged(hot: HotSide, watts: float, dt: float) -> dict[str, float]:
    bulk, kelvin = [], []
    for _ in range(round(SECONDS / dt)):
        hot.step(dt, watts)
        bulk.append(hot.bulk)
        kelvin.append(hot.kelvin)
    n = len(bulk)
    return {
        "bulk": float(np.mean(bulk[int(0.9 * n) :])),
        "early": float(np.mean(bulk[int(0.05 * n) : int(0.15 * n)])),
        "kelvin": float(np.mean(kelvin[int(0.9 * n) :])),
        "warm": float(np.max(kelvin)),
    }


@unittest.skipUnless(ngspice.PRESENT, "ngspice is not installed; bin/setup test installs it")
class AgainstThePeer(unittest.TestCase):
    def test_bulk_and_filament_through_a_lamp_and_without(self) -> None:
        """Settled values and the rise; waveform steps within 1 %, coarse steps within 3 %."""
        for state, watts in ((LAMP, 3.0), (LAMP, 12.0), (DIRECT, 40.0)):
            p = hot_parameters(state)
            output = ngspice.run(peer_deck(p, watts), 60.0)
            peer = {m[1]: float(m[2]) for m in re.finditer(r"^(\w+)\s+=\s+(\S+)", output, re.M)}
            fine = averaged(WaveformHotSide(p), watts, STEP_SECONDS)
            coarse = averaged(HotSide(p), watts, 1e-3)
            names = ("bulk", "early", "kelvin") if state.lamp_watts else ("bulk", "early")
            for name in names:
                message = f"{state.key} {watts} W {name}: {peer[name]} {fine[name]} {coarse[name]}"
                self.assertAlmostEqual(fine[name] / peer[name], 1.0, delta=0.01, msg=message)
                if name != "early":
                    self.assertAlmostEqual(coarse[name] / peer[name], 1.0, delta=0.03, msg=message)


def boost_deck(p: InputParameters, b: BoostParameters, watts: float) -> str:
    """Bypass rectifier and a boost that takes a sine from the line: its power pulsates at 2f."""
    peak = math.sqrt(2) * p.mains_volts
    wish = f"{watts}+{p.bulk_farads}*v(b)*({b.set_volts}-v(b))/{SETTLE_SECONDS}"
    given = f"min(max({wish},0),{b.limit_watts})"
    wave = f"(v(m)/{p.mains_volts})^2"
    return "\n".join(
        [
            "boost",
            f"Vm m 0 SIN(0 {peak} {p.mains_hertz})",
            f"Bi 0 b I=max(abs(v(m))-{BRIDGE_DROP_VOLTS}-v(b),0)/{p.line_ohms + p.fuse_ohms}",
            f"Bp 0 b I=({given})*{wave}/max(v(b),20)",
            f"Resr b c {p.bulk_esr_ohms}",
            f"C1 c 0 {p.bulk_farads} IC=0",
            f"Rl b 0 {1 / p.bulk_leak_siemens}",
            f"Bl b 0 I={watts}/max(v(b),20)*min(max(v(b),0),1)",
            ".options reltol=1e-5 method=gear",
            ".control",
            "set numdgt=9",
            f"tran 20u {SECONDS} 0 20u uic",
            "meas tran bulk AVG v(b) from=0.9 to=1.0",
            "meas tran early AVG v(b) from=0.06 to=0.16",
            "meas tran swing PP v(b) from=0.9 to=1.0",
            ".endc",
            ".end",
        ]
    )


@unittest.skipUnless(ngspice.PRESENT, "ngspice is not installed; bin/setup test installs it")
class BoostAgainstThePeer(unittest.TestCase):
    def test_the_bulk_rises_and_settles_as_in_the_transient(self) -> None:
        """Within 1 % in waveform steps, 3 % in coarse ones; 2f ripple as P/(2πf·C·V)."""
        plant = plant_of(shipped_board("PB-5012-3"), (), DIRECT)
        p, b = plant.input, plant.boost
        assert b is not None
        for watts in (20.0, 90.0):
            output = ngspice.run(boost_deck(p, b, watts), 60.0)
            peer = {m[1]: float(m[2]) for m in re.finditer(r"^(\w+)\s+=\s+(\S+)", output, re.M)}
            for hot, dt, share in (
                (WaveformHotSide(p), STEP_SECONDS, 0.01),
                (HotSide(p), 1e-3, 0.03),
            ):
                boost, bulk = Boost(b), []
                for _ in range(round(SECONDS / dt)):
                    given = boost.step(True, hot.bulk, p.bulk_farads, watts, hot.available_watts)
                    hot.step(dt, watts, given)
                    bulk.append(hot.bulk)
                n = len(bulk)
                settled = float(np.mean(bulk[int(0.9 * n) :]))
                early = float(np.mean(bulk[int(0.06 * n) : int(0.16 * n)]))
                self.assertAlmostEqual(settled / peer["bulk"], 1.0, delta=share)
                self.assertAlmostEqual(early / peer["early"], 1.0, delta=share)
            ripple = watts / (2 * math.pi * p.mains_hertz * p.bulk_farads * peer["bulk"])
            self.assertAlmostEqual(peer["swing"] / ripple, 1.0, delta=0.15)


class Energy(unittest.TestCase):
    @given(st.floats(1, 60), st.sampled_from([0, 60]))
    @settings(max_examples=12)
    def test_what_the_line_gives_is_burnt_stored_or_delivered(
        self, watts: float, lamp: int
    ) -> None:
        p = hot_parameters(BoardState(Power.STANDBY, False, lamp))
        hot = WaveformHotSide(p)
        dt, given_, lost, delivered = 1e-4, 0.0, 0.0, 0.0
        for _ in range(8000):
            lamp_ohms = hot.in_line_ohms
            hot.step(dt, watts)
            amps = hot.line_amps
            given_ += dt * abs(hot.line_volts) * amps
            lost += dt * amps**2 * (p.line_ohms + p.fuse_ohms + lamp_ohms)
            lost += dt * amps * BRIDGE_DROP_VOLTS + dt * hot.bulk**2 * p.bulk_leak_siemens
            delivered += dt * watts * hot.bulk / max(hot.bulk, 20.0)
        stored = 0.5 * p.bulk_farads * hot.bulk**2
        self.assertAlmostEqual((lost + delivered + stored) / given_, 1.0, delta=0.03)

    def test_a_converter_never_gives_more_than_it_takes(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            simulation = Simulation(plant_of(board, (), live_states(board)[-1]))
            for _ in range(2500):
                simulation.step(1e-3)
            for converter in simulation.converters.values():
                self.assertLessEqual(converter.volts * converter.amps, converter.drawn_watts + 1e-9)


class BackEnds(unittest.TestCase):
    def test_floats_and_arrays_give_the_same(self) -> None:
        """One source, two back-ends: a board alone, and the same among others."""
        rng = np.random.default_rng(3)
        for board_id in ("PB-4310-2", "PB-5012-3", "PB-2211-1", "PB-1905-2"):
            board = shipped_board(board_id)
            faults = [fault for part in board.components for fault in faults_of(part)]
            states = live_states(board)
            plants = [plant_of(board, (), states[-1])]
            for _ in range(3):
                chosen = [faults[rng.integers(len(faults))]]
                plants.append(plant_of(board, chosen, states[rng.integers(len(states))]))
            together = run(stack(plants), 1.5)
            for number, plant in enumerate(plants):
                alone = in_fine_steps(plant, 1.5)
                self.assertEqual(set(alone.windows), set(together.windows))
                for name, windows in together.windows.items():
                    np.testing.assert_allclose(
                        alone.windows[name][:, 0], windows[:, number], rtol=1e-6, atol=1e-6
                    )

    def test_the_steps_of_the_table_see_sound_boards_as_fine_steps_do(self) -> None:
        """Inrush above all: a coarse step must not blow the fuse that a fine one spares."""
        for board_id in some_boards():
            board = shipped_board(board_id)
            for state in (live_states(board)[0], live_states(board)[-1]):
                plant = plant_of(board, (), state)
                fine, table = run(plant, 4.0), run(plant, 4.0, 0, TABLE_STEP_SECONDS)
                self.assertTrue(table.fuse_whole[0] and fine.fuse_whole[0], board_id)
                for name, windows in fine.windows.items():
                    one, other = windows[-1, 0], table.windows[name][-1, 0]
                    message = f"{board_id} {state.key} {name}"
                    self.assertAlmostEqual(one, other, delta=0.02 * abs(one) + 0.02, msg=message)

    def test_waveform_and_envelope_agree_where_the_rail_stands(self) -> None:
        for board_id in ("PB-4310-2", "PB-2408-1", "PB-2211-1"):
            board = shipped_board(board_id)
            state = live_states(board)[-1]
            plant = plant_of(board, (), state)
            fine, coarse = waveform_run(plant, 2.5), run(plant, 2.5)
            for name in (board.standby_point, "bulk"):
                self.assertAlmostEqual(
                    fine.windows[name][-1, 0] / coarse.windows[name][-1, 0], 1.0, delta=0.03
                )

    def test_waveform_shows_the_mains_ripple_at_twice_its_frequency(self) -> None:
        board = shipped_board("PB-3206-1")
        record = waveform_run(plant_of(board, (), live_states(board)[-1]), 3.5)
        seconds, bulk = record.trace_seconds, record.traces["bulk"][:, 0]
        late = seconds > 3.0
        spectrum = np.abs(np.fft.rfft(bulk[late] - bulk[late].mean()))
        hertz = np.fft.rfftfreq(late.sum(), float(np.median(np.diff(seconds))))
        self.assertAlmostEqual(float(hertz[spectrum.argmax()]), 100.0, delta=4.0)


if __name__ == "__main__":
    unittest.main()
