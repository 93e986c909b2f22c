"""The live model against closed forms and the reference's simulated table; behaviour by fault."""

import math
import unittest
from unittest import mock

import numpy as np

from loose_rail.boards.faults import fault_from_key
from loose_rail.boards.load import shipped_board
from loose_rail.boards.powered_board import plant_of
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.diagnosis.model.forecast import forecast
from loose_rail.diagnosis.model.predictions import meter_view
from loose_rail.powered import record
from loose_rail.powered.plant import Plant, stack
from loose_rail.powered.record import run
from loose_rail.powered.settled_columns import REST_SHARE
from loose_rail.powered.stages.mains import HotSide
from loose_rail.vocabulary.board_state import BoardState, Power, state_of
from tests.shared import board, in_fine_steps, table

LAMP_BARE = BoardState(Power.STANDBY, False, 60)
LAMP_CABLE = BoardState(Power.STANDBY, True, 60)
DIRECT_ON = BoardState(Power.ON, True, 0)


def plant(fault: str = "", state: BoardState = LAMP_BARE) -> Plant:
    faults = [fault_from_key(board(), fault)] if fault else []
    return plant_of(board(), faults, state)


def _lamp_plant(board_id: str, fault: str) -> Plant:
    profile = shipped_board(board_id)
    return plant_of(profile, [fault_from_key(profile, fault)], DIRECT_ON)


def row_of(key: str) -> int:
    return next(k for k, row in enumerate(table().rows) if row.key == key)


def shown(fault: str, probe: str, state: BoardState) -> tuple[float, float, float]:
    column = table().index(f"{probe}@{state.key}")
    row = row_of(fault) if fault else 0
    return tuple(float(a[row, column]) for a in (table().low, table().high, table().hertz))  # type: ignore[return-value]


class Rectifier(unittest.TestCase):
    def test_bulk_settles_at_the_peak_and_sags_with_load(self) -> None:
        """Reference section 1: no-load bulk is √2·V − N·Vf; r at load lies between 1.2 and 1.4."""
        one = plant(state=BoardState(Power.STANDBY, False, 0))
        for watts, low, high in ((0.0, 1.38, 1.415), (20.0, 1.25, 1.40)):
            hot = HotSide(one.input)
            for _ in range(4000):
                hot.step(1e-3, watts)
            ratio = hot.bulk / 120.0
            self.assertTrue(low < ratio < high, f"{watts} W: {ratio:.3f}")

    def test_dried_bulk_has_a_deep_valley(self) -> None:
        healthy, dried = HotSide(plant().input), HotSide(plant("C3:dried:2").input)
        for _ in range(3000):
            healthy.step(1e-3, 15.0)
            dried.step(1e-3, 15.0)
        ripple = 2 * (healthy.bulk - healthy.valley)
        whole = 15 / (120 * 150e-6 * healthy.bulk)  # as if nothing came before the next crest
        self.assertTrue(0.6 * whole < ripple < whole, ripple / whole)
        self.assertGreater((dried.bulk - dried.valley), 5 * ripple / 2)

    def test_lamp_glows_full_on_a_short_and_obeys_its_law(self) -> None:
        """Reference V10: R = V²/P hot; a short takes the whole voltage, P = P_n."""
        hot = HotSide(plant("RV1:short:0").input)
        for _ in range(4000):
            hot.step(1e-3, 0.0)
        self.assertAlmostEqual(hot.kelvin, 2750, delta=60)
        self.assertGreater(hot.lamp_glow, 0.8)
        self.assertLess(hot.bulk, 5)

    def test_fuse_opens_on_a_short_without_a_lamp_and_holds_inrush(self) -> None:
        direct = BoardState(Power.STANDBY, False, 0)
        for fault, whole in (("", True), ("BD1:short:0", False), ("Q1:short:0", False)):
            hot = HotSide(plant(fault, direct).input)
            for _ in range(500):
                hot.step(1e-3, 0.0)
            self.assertEqual(hot.fuse_whole, whole, fault or "healthy")


class Behaviour(unittest.TestCase):
    def test_a_sound_board_stands_in_every_state(self) -> None:
        for state in live_states(board()):
            low, _, hertz = shown("", "live.5vs", state)
            self.assertEqual(hertz, 0)
            self.assertAlmostEqual(low, 4.99, delta=0.03)
        self.assertAlmostEqual(shown("", "live.12v", DIRECT_ON)[0], 12.05, delta=0.1)
        self.assertAlmostEqual(shown("", "live.24v", DIRECT_ON)[0], 23.6, delta=0.8)
        self.assertAlmostEqual(shown("", "live.12v", LAMP_CABLE)[0], 0.0, delta=0.05)

    def test_the_demo_fault_ticks_about_once_a_second_with_the_cable_on_and_off(self) -> None:
        for state in (LAMP_CABLE, LAMP_BARE):
            low, high, hertz = shown("C21:dried:1", "live.5vs", state)
            self.assertTrue(0.8 < hertz < 1.4, hertz)
            self.assertLess(low, 0.8 * high)

    def test_a_dragging_main_board_is_cleared_by_its_cable(self) -> None:
        self.assertGreater(shown("MB:drags:0", "live.5vs", LAMP_CABLE)[2], 0.5)
        self.assertEqual(shown("MB:drags:0", "live.5vs", LAMP_BARE)[2], 0)

    def test_hiccup_rate_follows_the_supply_capacitor(self) -> None:
        """f ≈ I_start/(C·(V_on − V_off)) where nothing takes over (reference section 4)."""
        rates = [shown(key, "live.vcc1", LAMP_BARE)[2] for key in ("D9:short:0", "Q1:open:0")]
        bulk = shown("Q1:open:0", "live.bulk", LAMP_BARE)[0]
        charge = 22e-6 * 7.0 / ((bulk - 12.5) / 780e3 - 20e-6)
        for rate in rates:
            self.assertTrue(0.6 / charge < rate < 1.0 / charge, f"{rate} against {1 / charge}")

    def test_feedback_faults_move_the_rail_as_the_divider_says(self) -> None:
        self.assertAlmostEqual(shown("R22:drifted:0", "live.5vs", LAMP_BARE)[0], 5.61, delta=0.03)
        self.assertAlmostEqual(
            shown("R23:drifted:1", "live.5vs", LAMP_BARE)[0], 2.495 * (1 + 10 / 22), delta=0.03
        )

    def test_open_paths_leave_nothing_behind_them(self) -> None:
        self.assertEqual(shown("F1:open:0", "live.bulk", LAMP_BARE)[1], 0)
        self.assertAlmostEqual(shown("F1:open:0", "live.mains", LAMP_BARE)[0], 120, delta=1)
        self.assertEqual(shown("NTC1:open:0", "live.bridge_ac", LAMP_BARE)[1], 0)
        self.assertEqual(shown("R8:open:0", "live.5vs", LAMP_BARE)[1], 0)

    def test_columns_do_not_influence_each_other(self) -> None:
        keys = ["", "C21:dried:1", "RV1:short:0"]
        together = run(stack([plant(key) for key in keys]), 3.0)
        for number, key in enumerate(keys):
            alone = in_fine_steps(plant(key), 3.0)
            for name, windows in together.windows.items():
                np.testing.assert_allclose(windows[:, number], alone.windows[name][:, 0], atol=1e-9)

    def test_an_open_string_is_probed_by_pulses_or_latched_as_its_driver_does(self) -> None:
        """A driver that tries again comes back to its clamp at its timer's rate, one that latches
        does not; the output of either stays charged: 230 kΩ and 500 kΩ across 100 µF."""
        tries = run(_lamp_plant("PB-2211-1", "LS401:open:0"))
        low, high, hertz = (float(v[0]) for v in meter_view(tries, "led.out", np.array([0])))
        self.assertAlmostEqual(hertz, 0.46, delta=0.05)
        self.assertTrue(0.85 * high < low < 0.99 * high < 58, (low, high))
        self.assertEqual(tries.restarts("core.out")[0], 0.0)
        latched = run(_lamp_plant("PB-5012-3", "LS501:open:0"))
        low, high, hertz = (float(v[0]) for v in meter_view(latched, "led.out", np.array([0])))
        self.assertEqual(hertz, 0.0)
        self.assertTrue(110 < low <= high < 125, (low, high))

    def test_leaving_out_what_rests_changes_no_reading(self) -> None:
        """Faults in every state: windows, restarts, lamp and fuse as when stepped to the end."""
        bound = 16 * REST_SHARE  # a sixth of a per cent; spreads are 2 % and more
        rows, states = table().rows, live_states(board())
        plants = stack([plant_of(board(), row.faults, s) for row in rows[::6] for s in states])
        thin = run(plants, step_seconds=2e-3)
        with mock.patch.object(record._Recorder, "thin_out", return_value=True):
            whole = run(plants, step_seconds=2e-3)
        behind_a_lamp = 5 * HotSide.REST_SHARE  # half a per cent of a bulk that creeps to its crest
        for point, windows in whole.windows.items():
            near = behind_a_lamp if point.startswith("bulk") else bound
            np.testing.assert_allclose(thin.windows[point], windows, near, 1e-4, err_msg=point)
        for name, hertz in whole.hertz.items():
            np.testing.assert_allclose(thin.hertz[name], hertz, err_msg=name)
        np.testing.assert_allclose(thin.lamp_glow, whole.lamp_glow, 1e-3, 1e-4)
        np.testing.assert_allclose(thin.flash_seconds, whole.flash_seconds, atol=5e-3)
        np.testing.assert_array_equal(thin.fuse_whole, whole.fuse_whole)

    def test_a_single_board_at_rest_goes_on_as_it_stands(self) -> None:
        for keys in ((), ("C21:dried:1",)):
            one = plant_of(board(), [fault_from_key(board(), key) for key in keys], LAMP_CABLE)
            rests = run(one, 6.0, 20)
            with mock.patch.object(record._Recorder, "thin_out", return_value=True):
                whole = run(one, 6.0, 20)
            np.testing.assert_array_equal(rests.trace_seconds, whole.trace_seconds)
            near = 5 * HotSide.REST_SHARE
            for point, trace in whole.traces.items():
                np.testing.assert_allclose(rests.traces[point], trace, near, 0.02, err_msg=point)
            np.testing.assert_allclose(rests.flash_seconds, whole.flash_seconds, atol=5e-3)

    def test_small_movement_counts_as_steady(self) -> None:
        record = run(plant(), 3.0)
        low, high, hertz = meter_view(record, "standby.out", np.array([0]))
        self.assertEqual((low[0], hertz[0]), (high[0], 0.0))

    def test_forecast_tells_repaired_from_broken(self) -> None:
        found = forecast(board(), LAMP_CABLE, [fault_from_key(board(), "C21:dried:1")])
        self.assertAlmostEqual(found.standby_volts, 4.99, delta=0.03)
        self.assertTrue(0.3 < found.ready_seconds < 3)
        late = found.seconds > found.ready_seconds + 0.5
        self.assertLess(found.faulty.standby[late].mean(), 0.5 * found.sound.standby[late].mean())
        self.assertGreater(found.pull_seconds, found.flash_seconds)

    def test_states_have_keys_that_read_back(self) -> None:
        for state in (*live_states(board()), BoardState(Power.UNPLUGGED)):
            self.assertEqual(state_of(state.key), state)
        self.assertTrue(math.isfinite(sum(s.lamp_watts for s in live_states(board()))))
