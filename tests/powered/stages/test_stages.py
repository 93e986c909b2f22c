"""Each stage of the live model by itself, against the formula that it stands for."""

import itertools
import math
import unittest
from dataclasses import fields, is_dataclass, replace
from typing import Any

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.boards.faults import faults_of
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.powered_board import plant_of
from loose_rail.powered.maths import clip, logical_not, maximum, minimum, where, zeros
from loose_rail.powered.plant import (
    BoostParameters,
    ConverterParameters,
    InverterParameters,
    LedParameters,
    LoadParameters,
    Plant,
    RegulatorParameters,
    SignalParameters,
    SupplyParameters,
    WindingParameters,
    stack,
)
from loose_rail.powered.stages.boost import LINE_SHARE, Boost
from loose_rail.powered.stages.converter import Converter
from loose_rail.powered.stages.lamps import CLAMP_SECONDS, Inverter, LedDriver
from loose_rail.powered.stages.loads import RailLoads, SignalLine
from loose_rail.powered.stages.mains import AdapterSide, HotSide
from loose_rail.powered.stages.outputs import Regulator, Winding
from loose_rail.powered.stages.supply import OFF_AMPS, ControllerSupply
from loose_rail.vocabulary.board_state import BoardState, Power

DT = 1e-3
STANDBY = BoardState(Power.STANDBY, True, 0)


def plant(board_id: str = "PB-4310-2", state: BoardState = STANDBY) -> Plant:
    return plant_of(shipped_board(board_id), (), state)


class Supplies(unittest.TestCase):
    def parameters(self, **changes: float) -> SupplyParameters:
        first = plant().converters[0].supply
        assert first is not None
        return replace(first, **changes)

    @given(st.floats(150, 380), st.floats(10e-6, 60e-6), st.floats(3e5, 1e6))
    @settings(max_examples=25)
    def test_it_charges_to_its_on_level_in_the_time_of_rc(
        self, bulk: float, farads: float, ohms: float
    ) -> None:
        p = self.parameters(farads=farads, start_ohms=ohms)
        supply = ControllerSupply(p)
        steps = 0
        while not supply.awake and steps < 60000:
            supply.step(DT, bulk, 0.0, False)
            steps += 1
        end = bulk - OFF_AMPS * ohms
        wanted = -ohms * farads * math.log(1 - p.on_volts / end)
        self.assertAlmostEqual(steps * DT / wanted, 1.0, delta=0.02)

    def test_without_its_winding_it_cycles_between_its_levels(self) -> None:
        supply = ControllerSupply(self.parameters())
        lowest, starts, before = 99.0, 0, False
        for _ in range(12000):
            supply.step(DT, 320.0, 0.0, False)
            starts += supply.awake and not before
            if before and not supply.awake:
                lowest = min(lowest, supply.volts)
            before = supply.awake
        self.assertGreaterEqual(starts, 5)
        self.assertAlmostEqual(lowest, supply.parameters.off_volts, delta=0.3)

    def test_a_trip_holds_the_drive_until_the_supply_has_fallen(self) -> None:
        supply = ControllerSupply(self.parameters())
        while not supply.drives:
            supply.step(DT, 320.0, 0.0, False)
        supply.trip(True)
        self.assertFalse(supply.drives)
        while supply.awake:
            supply.step(DT, 320.0, 0.0, False)
        self.assertLess(supply.volts, supply.parameters.off_volts)

    def test_a_dead_controller_never_wakes_and_a_leak_keeps_it_down(self) -> None:
        for changes in ({"controller_path": 0.0}, {"leak_siemens": 1 / 12}, {"start_ohms": 1e12}):
            supply = ControllerSupply(self.parameters(**changes))
            for _ in range(8000):
                supply.step(DT, 320.0, 0.0, False)
            self.assertFalse(supply.awake, changes)


class Converters(unittest.TestCase):
    def parameters(self, **changes: float) -> ConverterParameters:
        return replace(plant().converters[0], **changes)  # type: ignore[arg-type]

    def settled(self, p: ConverterParameters, load: float, seconds: float = 0.4) -> Converter:
        converter = Converter(p)
        for _ in range(round(seconds / DT)):
            converter.step(DT, True, True, 320.0, load)
        return converter

    @given(st.floats(2.0, 40.0), st.floats(0.0, 0.6))
    @settings(max_examples=25)
    def test_it_holds_its_set_point_within_its_power(self, volts: float, amps: float) -> None:
        p = self.parameters(set_volts=volts, over_volts=1.4 * volts, limit_amps=5.0)
        found = self.settled(p, amps / volts)
        if amps * (volts + 1) < 0.8 * p.limit_watts:
            self.assertAlmostEqual(found.volts / volts, 1.0, delta=0.01)

    @given(st.floats(0.05, 20))
    @settings(max_examples=20)
    def test_an_overload_is_held_to_the_limit_and_trips(self, ohms: float) -> None:
        p = self.parameters()
        converter = Converter(p)
        tripped = False
        for _ in range(400):
            tripped |= bool(converter.step(DT, True, True, 320.0, 1 / ohms))
            self.assertLessEqual(converter.amps, p.limit_amps + 1e-9)
            self.assertLessEqual(converter.drawn_watts * 0.82, p.limit_watts + 1e-6)
        needs = 5.0**2 / ohms
        if needs > 2 * p.limit_watts:
            self.assertTrue(tripped)
        if needs < 0.5 * p.limit_watts:
            self.assertFalse(tripped)

    def test_ripple_is_the_esr_times_the_current_and_trips_the_over_voltage(self) -> None:
        small, large = (
            self.settled(self.parameters(ripple_ohms=ohms), 0.2, 0.05) for ohms in (0.01, 0.02)
        )
        self.assertAlmostEqual(large.ripple_volts / small.ripple_volts, 2.0, delta=0.01)
        converter = Converter(self.parameters(ripple_ohms=3.0))
        trips = [bool(converter.step(DT, True, True, 320.0, 0.2)) for _ in range(100)]
        self.assertTrue(any(trips))

    def test_two_levels_and_brown_out(self) -> None:
        p = self.parameters(set_volts=12.0, over_volts=16.0, standby_share=0.55)
        converter = Converter(p)
        for _ in range(1500):
            converter.step(DT, True, False, 320.0, 0.02)
        self.assertAlmostEqual(converter.volts, 6.6, delta=0.1)
        for _ in range(500):
            converter.step(DT, True, True, 320.0, 0.02)
        self.assertAlmostEqual(converter.volts, 12.0, delta=0.1)
        for _ in range(3000):
            converter.step(DT, True, True, p.least_bulk_volts - 5, 0.02)
        self.assertLess(converter.volts, 1.0)

    def test_soft_start_takes_its_time(self) -> None:
        p = self.parameters(soft_start_seconds=0.5)
        converter = Converter(p)
        rise = []
        for _ in range(700):
            converter.step(DT, True, True, 320.0, 0.01)
            rise.append(converter.volts)
        self.assertAlmostEqual(rise[250] / p.set_volts, 0.5, delta=0.05)
        self.assertAlmostEqual(rise[-1] / p.set_volts, 1.0, delta=0.02)


class Outputs(unittest.TestCase):
    def regulator(self, **changes: float) -> Regulator:
        base = RegulatorParameters(
            id="r",
            source="s",
            signal="",
            path=1.0,
            set_volts=5.0,
            start_volts=1.5,
            drop_volts=0.4,
            limit_amps=3.0,
            seconds=0.002,
            siemens=1e-4,
            efficiency=0.88,
            stuck=0.0,
            ripple_volts=0.0,
        )
        return Regulator(replace(base, **changes))  # type: ignore[arg-type]

    @given(st.floats(0, 40), st.floats(1e-3, 2.0))
    @settings(max_examples=40)
    def test_a_step_down_converter_keeps_its_laws(self, source: float, siemens: float) -> None:
        regulator = self.regulator()
        for _ in range(200):
            regulator.step(DT, source, True, siemens)
        p = regulator.parameters
        total = siemens + p.siemens
        self.assertLessEqual(regulator.volts, min(p.set_volts, max(source - 0.4, 0)) + 1e-6)
        self.assertLessEqual(regulator.volts * total, p.limit_amps * 1.001 + 1e-9)
        given_, taken = regulator.volts**2 * total, regulator.drawn_siemens * max(source, 1) ** 2
        self.assertLessEqual(given_, taken + 1e-9)
        if source > 6 and 5 * total < 2.9:
            self.assertAlmostEqual(regulator.volts, 5.0, delta=0.01)
            self.assertAlmostEqual(given_ / taken, 0.88, delta=0.01)

    def test_linear_ones_burn_the_difference_and_switches_pass(self) -> None:
        linear = self.regulator(efficiency=0.0)
        switch = self.regulator(efficiency=0.0, set_volts=1e3, drop_volts=0.05)
        for _ in range(300):
            linear.step(DT, 12.0, True, 0.1)
            switch.step(DT, 12.0, True, 0.1)
        self.assertAlmostEqual(linear.drawn_siemens * 12.0, linear.volts * 0.1001, delta=1e-3)
        self.assertAlmostEqual(switch.volts, 11.95, delta=0.01)
        for _ in range(300):
            switch.step(DT, 12.0, False, 0.1)
        self.assertAlmostEqual(switch.volts, 0.0, delta=0.01)
        self.assertEqual(switch.drawn_siemens, 0.0)

    def test_a_winding_follows_its_converter_by_its_turns(self) -> None:
        converter = Converter(replace(plant().converters[0], set_volts=5.0))
        winding = Winding(WindingParameters("w", "standby", 2.5, 0.25, 0.0, 2.0, 470e-6, 1e-4))
        for _ in range(500):
            load = winding.reflected_siemens(0.01)
            converter.step(DT, True, True, 320.0, load)
            winding.step(DT, converter, 0.01)
        drop = converter.parameters.diode_volts
        self.assertAlmostEqual(winding.volts, 2.5 * (5.0 + drop) - 0.7, delta=0.1)
        for _ in range(2000):
            converter.step(DT, False, True, 320.0, 0.0)
            winding.step(DT, converter, 0.01)
        self.assertLess(winding.volts, 0.1)


class Lamps(unittest.TestCase):
    def driver(self, **changes: float) -> LedDriver:
        base = LedParameters(
            id="l",
            source="s",
            signal="",
            path=1.0,
            strings_path=1.0,
            string_volts=60.0,
            amps=0.4,
            clamp_volts=80.0,
            farads=100e-6,
            bleed_siemens=5e-5,
            ripple_volts=0.0,
            short_siemens=0.0,
            passes=1.0,
            retry_seconds=1e6,
        )
        return LedDriver(replace(base, **changes))  # type: ignore[arg-type]

    def run_driver(self, driver: LedDriver, seconds: float, signal: bool = True) -> list[float]:
        found = []
        for _ in range(round(seconds / DT)):
            driver.step(DT, 24.0, signal)
            found.append(driver.volts)
        return found

    def test_off_it_passes_its_feed_less_a_diode(self) -> None:
        self.assertAlmostEqual(self.run_driver(self.driver(), 1.0, False)[-1], 23.5, delta=0.05)
        self.assertAlmostEqual(self.run_driver(self.driver(passes=0.0), 1.0, False)[-1], 0.0)

    def test_on_it_drives_its_current_at_the_string_voltage(self) -> None:
        driver = self.driver()
        self.assertAlmostEqual(self.run_driver(driver, 1.0)[-1], 60.0, delta=0.1)
        self.assertEqual(driver.amps, 0.4)
        self.assertAlmostEqual(driver.drawn_siemens * 24**2, 0.4 * 60 / 0.9, delta=0.5)

    def test_open_it_clamps_then_latches_or_tries_again(self) -> None:
        latched = self.run_driver(self.driver(strings_path=0.0), 8.0)
        self.assertAlmostEqual(max(latched), 80.0, delta=1.0)
        self.assertLess(latched[-1], 30)
        trying = self.run_driver(self.driver(strings_path=0.0, retry_seconds=2.0), 8.0)
        highs = [v > 79 for v in trying]
        tries = sum(b and not a for a, b in itertools.pairwise(highs))
        self.assertTrue(3 <= tries <= 4, tries)

    def test_a_short_stops_it_and_its_signal_resets_it(self) -> None:
        driver = self.driver(short_siemens=1.0)
        self.run_driver(driver, 2 * CLAMP_SECONDS)
        self.assertEqual(driver.amps, 0.0)
        driver.parameters = replace(driver.parameters, short_siemens=0.0)
        self.run_driver(driver, 0.5)
        self.assertEqual(driver.amps, 0.0)
        self.run_driver(driver, 0.1, False)
        self.run_driver(driver, 1.0)
        self.assertEqual(driver.amps, 0.4)

    def test_an_inverter_gives_a_missing_tube_a_second_and_a_half(self) -> None:
        whole, broken = (
            Inverter(InverterParameters("i", "s", "", 1.0, tubes, 1.0, 16.0, 0.1, 1.5))
            for tubes in (1.0, 0.5)
        )
        lit = [0.0, 0.0]
        for _ in range(5000):
            for number, inverter in enumerate((whole, broken)):
                inverter.step(DT, 24.0, True)
                lit[number] += DT * (inverter.volts > 0)
        self.assertGreater(lit[0], 4.8)
        self.assertAlmostEqual(lit[1], 1.4, delta=0.05)
        broken.step(DT, 24.0, False)
        for _ in range(300):
            broken.step(DT, 24.0, True)
        self.assertGreater(broken.volts, 0)


class Inputs(unittest.TestCase):
    @given(st.floats(90, 264), st.sampled_from([50.0, 60.0]), st.floats(0, 30))
    @settings(max_examples=20)
    def test_the_bulk_lies_between_valley_and_peak_at_any_mains(
        self, volts: float, hertz: float, watts: float
    ) -> None:
        p = replace(plant().input, mains_volts=volts, mains_hertz=hertz, lamp_volts=volts)
        hot = HotSide(p)
        for _ in range(2500):
            hot.step(DT, watts)
        self.assertLess(hot.bulk, math.sqrt(2) * volts)
        self.assertGreater(hot.bulk, 1.18 * volts)
        self.assertLessEqual(hot.valley, hot.bulk)

    def test_an_adapter_holds_its_voltage_hiccups_and_blows_the_boards_fuse(self) -> None:
        p = plant("PB-2211-1").input
        sound = AdapterSide(p)
        for _ in range(500):
            sound.step(DT, 20.0)
        self.assertAlmostEqual(sound.bulk, 18.8, delta=0.2)
        over = AdapterSide(p)
        rests = 0
        before = 0.0
        for _ in range(5000):
            over.step(DT, 80.0)
            rests += over.board_volts == 0 and before > 0
            before = over.board_volts
        self.assertGreaterEqual(rests, 3)
        shorted = AdapterSide(replace(p, bulk_short_siemens=20.0, adapter_amps=100.0))
        for _ in range(3000):
            shorted.step(DT, 0.0)
        self.assertFalse(shorted.fuse_whole)

    def test_a_boost_never_gives_more_than_line_and_limit(self) -> None:
        for limit, available in ((200.0, 5000.0), (200.0, 60.0)):
            boost = Boost(BoostParameters("", 1.0, 390.0, limit))
            watts = boost.step(True, 320.0, 150e-6, 500.0, available)
            self.assertLessEqual(watts, min(limit, LINE_SHARE * available) + 1e-9)
            self.assertEqual(boost.step(False, 320.0, 150e-6, 500.0, available), 0.0)
            self.assertEqual(boost.step(True, 450.0, 150e-6, 0.0, available), 0.0)


class Signals(unittest.TestCase):
    def line(self, sense: str, **changes: float) -> SignalLine:
        base = SignalParameters("start", "standby", "", sense, 4.6, 0.3, 1.0, 0.0, 0.5, 1.0)
        return SignalLine(replace(base, **changes))  # type: ignore[arg-type]

    def given_after(self, line: SignalLine, volts: float, needed: bool = True) -> float | None:
        for number in range(2000):
            line.step(DT, volts, needed)
            if line.given:
                return number * DT
        return None

    def test_only_after_good_standby_for_its_time(self) -> None:
        self.assertAlmostEqual(self.given_after(self.line("high"), 5.0), 0.3, delta=0.01)  # type: ignore[type-var]
        self.assertIsNone(self.given_after(self.line("high"), 4.4))
        self.assertIsNone(self.given_after(self.line("high"), 5.0, needed=False))
        self.assertIsNone(self.given_after(self.line("high", asks=0.0), 5.0))
        self.assertIsNone(self.given_after(self.line("high", wire_path=0.0), 5.0))
        self.assertEqual(self.given_after(self.line("none"), 0.0), 0.0)

    def test_levels_by_sense(self) -> None:
        for sense, idle, active in (("high", 0.0, 3.3), ("low", 5.0, 0.15)):
            quiet, asking = self.line(sense, asks=0.0), self.line(sense)
            self.given_after(quiet, 5.0)
            self.given_after(asking, 5.0)
            self.assertAlmostEqual(quiet.volts, idle)
            self.assertAlmostEqual(asking.volts, active)
        forced = self.line("high", asks=0.0, forced=1.0)
        self.assertEqual(self.given_after(forced, 5.0), 0.0)
        self.assertAlmostEqual(forced.volts, 2.5)  # the share of its rail that it was given

    def test_loads_add_up_and_come_off_with_their_cable(self) -> None:
        on = self.line("high")
        self.given_after(on, 5.0)
        first = LoadParameters("a", "start", 1.0, 0.01, 0.1, 0.0, 0.0, 5.0)
        second = LoadParameters("a", "", 1.0, 0.02, 0.9, 0.5, 0.0, 5.0)
        off = replace(second, cable=0.0)
        self.assertAlmostEqual(RailLoads.of((first, second)).siemens({"start": on}), 0.1 + 0.52)
        self.assertAlmostEqual(RailLoads.of((first, off)).siemens({"start": on}), 0.1)
        self.assertEqual(RailLoads.of(()).siemens({}), 0.0)


class Arithmetic(unittest.TestCase):
    @given(st.floats(-9, 9), st.floats(-9, 9), st.booleans())
    def test_floats_and_arrays_obey_the_same_words(self, a: float, b: float, flag: bool) -> None:
        x, y, f = np.array([a]), np.array([b]), np.array([flag])
        self.assertEqual(where(flag, a, b), where(f, x, y)[0])
        self.assertEqual(minimum(a, b), minimum(x, y)[0])
        self.assertEqual(maximum(a, b), maximum(x, y)[0])
        self.assertEqual(logical_not(flag), logical_not(f)[0])
        self.assertEqual(zeros(a), zeros(x)[0])
        low, high = min(a, b), max(a, b)
        self.assertEqual(clip(0.5, low, high), min(max(0.5, low), high))

    def test_stacked_boards_leave_no_number_of_one_for_all(self) -> None:
        """Every number of every board and fault is a column of its own, whole numbers too."""
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            faults = [fault for part in board.components for fault in faults_of(part)][::5]
            made = stack(
                [plant_of(board, [], STANDBY), *(plant_of(board, [f], STANDBY) for f in faults)]
            )
            seen = 0
            waiting: list[Any] = [made]
            while waiting:
                item = waiting.pop()
                if isinstance(item, np.ndarray):
                    self.assertEqual((item.dtype, item.shape), (np.float64, (len(faults) + 1,)))
                    seen += 1
                elif isinstance(item, tuple):
                    waiting.extend(item)
                elif is_dataclass(item):
                    waiting.extend(getattr(item, field.name) for field in fields(item))
                else:
                    self.assertIsInstance(item, str | None, board_id)
            self.assertGreater(seen, 40)

    def test_equal_boards_are_equal_and_can_be_looked_up(self) -> None:
        one, same = plant(), plant()
        self.assertEqual((one, hash(one)), (same, hash(same)))
        other = replace(one, input=replace(one.input, mains_volts=119.0))
        self.assertEqual({one: 1, other: 2}[same], 1)
