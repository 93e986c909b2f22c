"""What a broken part does to the powered board, held against what its pins say: whatever bridges a
rail to its ground pulls that rail down, whichever stage the part belongs to."""

import unittest
from collections.abc import Sequence
from functools import cache

import numpy as np

from loose_rail.boards.faults import Fault, fault_from_key, faults_of
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.powered_board import plant_of
from loose_rail.boards.profile import Board
from loose_rail.powered.plant import stack
from loose_rail.powered.record import LiveRecord, run
from loose_rail.vocabulary.board_state import BoardState, Power
from tests.material import some, some_boards

ON = BoardState(Power.ON, True, 0)
STANDBY = BoardState(Power.STANDBY, True, 0)
HARD_OHMS = 1.0
SECONDS, STEP_SECONDS = 5.0, 2e-3
LAST = slice(-4, None)
"""The windows of the last second: lamps that give up have done so by then."""


def record(board: Board, cases: Sequence[Sequence[Fault]], state: BoardState = ON) -> LiveRecord:
    return run(
        stack([plant_of(board, c, state) for c in cases]),
        seconds=SECONDS,
        step_seconds=STEP_SECONDS,
    )


@cache
def shown(board_id: str, key: str, state: BoardState = ON) -> dict[str, float]:
    """Mean volts at each point with one fault; sound for no key. The fuse as 1 or 0."""
    board = shipped_board(board_id)
    faults = [fault_from_key(board, key)] if key else []
    seen = run(plant_of(board, faults, state), SECONDS, step_seconds=STEP_SECONDS)
    means = {name: float(windows[LAST, 0].mean()) for name, windows in seen.windows.items()}
    return {**means, "fuse": float(seen.fuse_whole[0])}


class AcrossRails(unittest.TestCase):
    def test_what_bridges_a_rail_to_ground_pulls_it_down_on_every_board(self) -> None:
        """Pins and nets come from the profile, not from the roles that the live model goes by."""
        looked_at = 0
        for board_id in some_boards():
            board = shipped_board(board_id)
            nets = {rail.net: f"{rail.id}.out" for rail in board.rails if rail.kind != "lamp"}
            bulk = board.component(board.roles["bulk"][0]).pins["plus"]
            nets[bulk] = "bulk"
            grounds = {board.cold_ground, board.hot_ground}
            found: list[tuple[Fault, str]] = []
            for part in board.components:
                for fault in faults_of(part):
                    if fault.effect != "bridge" or fault.ohms > HARD_OHMS:
                        continue
                    ends = {part.pins.get(pin, "") for pin in fault.pairs[0]}
                    hung = [nets[net] for net in ends if net in nets]
                    if hung and ends & grounds:
                        found.append((fault, hung[0]))
            seen = record(board, [(), *([fault] for fault, _ in found)])
            for column, (fault, point) in enumerate(found, start=1):
                if point not in seen.windows:
                    continue
                sound, now = seen.windows[point][:, 0].mean(), seen.windows[point][:, column]
                self.assertLess(now.mean(), 0.7 * sound, f"{board_id} {fault.key} at {point}")
                looked_at += 1
        self.assertGreater(looked_at, some(25, 50))

    def test_shorts_behind_a_choke_or_a_fuse_pull_the_feed_until_it_opens(self) -> None:
        """What stands behind a fuse is let go of by the fuse, whatever else is shorted there."""
        monitor = shipped_board("PB-1905-2")
        fuse = fault_from_key(monitor, "F401:open:0")
        for key in ("C401:short:0", "Q401:short:0", "U401:short:0"):
            behind = fault_from_key(monitor, key)
            seen = record(monitor, [(), [behind], [behind, fuse]])
            rail = seen.windows["main.out"][LAST].mean(axis=0)
            self.assertGreater(rail[2], 0.97 * rail[0], key)
        board = shipped_board("PB-5012-3")
        short, choke = fault_from_key(board, "Q501:short:0"), fault_from_key(board, "L501:joint:0")
        seen = record(board, [(), [short], [short, choke]])
        feed = seen.windows["lamp.out"].mean(axis=0)
        self.assertLess(feed[1], 0.2 * feed[0])
        self.assertGreater(feed[2], 0.9 * feed[0])


class Supplies(unittest.TestCase):
    def test_a_shorted_auxiliary_rectifier_keeps_the_controller_from_starting(self) -> None:
        """At DC the winding is a wire: the start-up current goes to ground through it."""
        for board_id, key in (("PB-4310-2", "D5:short:0"), ("PB-6530-2", "D201:short:0")):
            seen = shown(board_id, key, STANDBY)
            self.assertLess(max(v for k, v in seen.items() if k.endswith(".vcc")), 1.0)
            self.assertEqual(seen["fuse"], 1.0)

    def test_a_short_at_a_fed_controller_spares_the_standby(self) -> None:
        for board_id, key in (
            ("PB-4310-2", "C35:short:0"),
            ("PB-3206-1", "U301:short:0"),
            ("PB-5012-3", "C103:short:0"),  # the boost's, on the same switched supply
        ):
            sound, seen = shown(board_id, ""), shown(board_id, key)
            self.assertLess(seen["main.vcc"], 8.0, board_id)
            self.assertLess(seen["main.out"], 0.1 * sound["main.out"])
            self.assertGreater(seen["standby.out"], 0.95 * sound["standby.out"])
            asleep = shown(board_id, key, STANDBY)
            self.assertAlmostEqual(
                asleep["standby.vcc"], shown(board_id, "", STANDBY)["standby.vcc"]
            )


class Stages(unittest.TestCase):
    def test_a_boost_without_its_diode_s_blocking_leaves_the_bulk_at_the_peak(self) -> None:
        for key in ("D101:short:0", "D102:short:0", "D101:leaky:1"):
            seen = shown("PB-6530-2", key)
            self.assertTrue(300 < seen["bulk"] < 330, (key, seen["bulk"]))
            self.assertEqual(seen["fuse"], 1.0, key)

    def test_a_film_capacitor_behind_the_bridge_blows_the_fuse(self) -> None:
        seen = shown("PB-4270-1", "C102:short:0", STANDBY)
        self.assertEqual((seen["fuse"], seen["bulk"] < 1.0), (0.0, True))

    def test_half_a_rectifier_carries_half_the_load_and_a_shorted_half_none(self) -> None:
        board = shipped_board("PB-5012-3")
        sound, half = (
            plant_of(board, faults, ON).converters[1]
            for faults in ((), [fault_from_key(board, "D304:open:0")])
        )
        self.assertAlmostEqual(half.limit_amps, 0.5 * sound.limit_amps)
        self.assertGreater(half.ripple_ohms, 1.4 * sound.ripple_ohms)
        both = [fault_from_key(board, f"D30{k}:open:0") for k in (3, 4)]
        self.assertEqual(plant_of(board, both, ON).converters[1].rectifier_path, 0.0)
        self.assertLess(shown("PB-5012-3", "D304:short:0")["main.out"], 1.0)

    def test_a_resonant_capacitor_that_lost_capacitance_gives_less_power(self) -> None:
        board = shipped_board("PB-4270-1")
        plants = [
            plant_of(board, [fault_from_key(board, key)] if key else [], ON).converters[1]
            for key in ("", "C302:open:0", "C302:short:0")
        ]
        sound, lost, short = (plant.limit_watts for plant in plants)
        self.assertAlmostEqual(lost / sound, np.sqrt(0.3), places=6)
        self.assertLess(short, 0.05 * sound)

    def test_a_clamp_that_conducts_takes_the_power_before_it_crosses(self) -> None:
        for board_id, key in (("PB-4310-2", "C10:short:0"), ("PB-2408-1", "C202:short:0")):
            sound, seen = shown(board_id, ""), shown(board_id, key)
            first = plant_of(shipped_board(board_id), (), ON).converters[0].id
            self.assertLess(seen[f"{first}.out"], 0.8 * sound[f"{first}.out"], board_id)
            self.assertEqual(seen["fuse"], 1.0)

    def test_a_rail_switch_that_nothing_turns_off_gives_its_rail_unasked(self) -> None:
        """Also as one column beside a good board's, as the predictions are worked out."""
        board = shipped_board("PB-3920-4")
        keys = ("Q602:short:0", "R601:open:0", "Q601:short:0")
        faults = [[], *([fault_from_key(board, key)] for key in keys)]
        asleep = BoardState(Power.STANDBY, True, 0)
        record = run(stack([plant_of(board, one, asleep) for one in faults]), 3.0)
        sound, *stuck = record.windows["panel.out"][-1]
        self.assertLess(sound, 0.5)
        for key, volts in zip(keys, stuck, strict=True):
            self.assertAlmostEqual(volts, 12.0, delta=0.6, msg=key)

    def test_a_step_down_without_its_diode_or_with_a_shorted_chip_gives_nothing(self) -> None:
        sound = shown("PB-2408-1", "")
        rail = next(s.id for s in shipped_board("PB-2408-1").stages if s.kind == "buck")
        for key in ("D401:open:0", "U401:short:0"):
            self.assertLess(shown("PB-2408-1", key)[f"{rail}.out"], 0.3 * sound[f"{rail}.out"], key)

    def test_what_interrupts_the_tube_current_darkens_the_lamps(self) -> None:
        for key in ("C402:open:0", "C402:short:0", "R401:open:0", "LP401:open:0", "U401:short:0"):
            self.assertLess(shown("PB-1905-2", key)["tubes.out"], 0.2, key)

    def test_a_poor_contact_to_the_strips_is_made_up_for_by_the_driver(self) -> None:
        """Constant current: 40 Ω in line cost current times 40 Ω more."""
        board = shipped_board("PB-2408-1")
        amps = plant_of(board, (), ON).leds[0].amps
        gain = shown("PB-2408-1", "CN501:loose:1")["led.out"] - shown("PB-2408-1", "")["led.out"]
        self.assertAlmostEqual(gain, 40 * amps, delta=0.1 * 40 * amps)

    def test_only_a_board_that_gives_signals_can_keep_one_back(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            mute = {
                part.ref
                for part in board.components
                for fault in faults_of(part)
                if fault.effect == "mute"
            }
            self.assertLessEqual(mute, set(board.roles["load.main"]), board_id)
