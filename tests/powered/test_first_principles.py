"""Readings written down from first principles, or from ngspice, before the model was asked.

Each line is a board, a point, a state, faults and the range in which the truth lies. They are the
disagreements that an independent audit found: each failed before the model was mended.
"""

import math
import unittest
from collections.abc import Iterator, Sequence
from dataclasses import replace

from loose_rail.boards.faults import fault_from_key, faults_of
from loose_rail.boards.load import shipped_board
from loose_rail.boards.powered_board import plant_of
from loose_rail.boards.start_pin import forced_volts
from loose_rail.diagnosis.model.predictions import TABLE_STEP_SECONDS
from loose_rail.powered.maths import Value
from loose_rail.powered.plant import stack
from loose_rail.powered.record import run
from loose_rail.powered.stages.mains import HotSide
from loose_rail.powered.waveform import WaveformHotSide
from loose_rail.vocabulary.board_state import state_of
from tests.material import some, some_boards

Row = tuple[str, str, str, str, float, float]
"""Board, point, state, faults, lowest and highest volts."""
EXPECTED: tuple[Row, ...] = (
    # inlet open: nothing behind the fuse
    ("PB-2408-1", "after_fuse", "standby/cable/direct", "CN101:joint:0", 0, 1),
    # one bridge diode shorted, lamp in line: ngspice 274 to 300 V on the bulk, 158 V AC before it
    ("PB-1905-2", "bulk", "standby/bare/lamp60", "BD101:short:0", 240, 325),
    ("PB-1905-2", "bulk", "standby/bare/lamp60", "BD101:short:1", 240, 325),
    ("PB-1905-2", "bulk", "standby/bare/lamp60", "BD101:short:2", 240, 325),
    ("PB-1905-2", "bulk", "standby/bare/lamp60", "BD101:short:3", 240, 325),
    ("PB-1905-2", "mains", "standby/bare/lamp60", "BD101:short:0", 135, 175),
    # both upper diodes short the mains in each half-cycle; d1 with d3 the bulk as well
    ("PB-1905-2", "bulk", "standby/bare/lamp60", "BD101:short_pair:0", 0, 5),
    ("PB-1905-2", "bulk", "standby/bare/lamp60", "BD101:short_pair:1", 0, 5),
    # d1 and d4 conduct the way they would anyway: as with one
    ("PB-1905-2", "bulk", "standby/bare/lamp60", "BD101:short_pair:2", 240, 325),
    # two open diodes on one side leave no way
    ("PB-1905-2", "bulk", "standby/bare/direct", "BD101:open_pair:0", 0, 5),
    # slave reservoir dried: ngspice, the loop closed on 12 V, 23.2, 19.1, 13.7 V
    ("PB-4310-2", "slave.out", "on/cable/direct", "", 22.4, 24.2),
    ("PB-4310-2", "slave.out", "on/cable/direct", "C31:dried:1", 18.3, 20.2),
    ("PB-4310-2", "slave.out", "on/cable/direct", "C31:dried:2", 12.6, 14.8),
    # a boost obeys a divider that has drifted high
    ("PB-5012-3", "bulk", "on/cable/direct", "R106:drifted:0", 420, 490),
    # winding held by a shorted clamp capacitor, shorted turns, a shorted resonant capacitor
    ("PB-3206-1", "main.out", "forced/bare/direct", "C302:short:0", 0, 3),
    ("PB-4310-2", "main.out", "forced/bare/direct", "T2:turns:0", 0, 3),
    ("PB-5012-3", "main.out", "forced/bare/direct", "C302:short:0", 0, 2),
    # a panel switch that is stuck on gives its rail in standby
    ("PB-3920-4", "panel.out", "standby/cable/direct", "Q601:short:0", 11, 13),
    # without a bulk capacitor a main converter of 100 W can't run
    ("PB-3206-1", "main.out", "on/cable/direct", "C101:open:0", 0, 11),
    # loaded bulk behind a limiter that has warmed: ngspice 160.5 V, 154.6 V behind a cold one
    ("PB-4310-2", "bulk", "on/cable/direct", "", 158.5, 163),
    # a lamp fault line, high is well; a string that opens, its transistor shorted, its pull-up gone
    ("PB-6530-2", "lampfault.out", "on/cable/direct", "", 4.5, 5.2),
    ("PB-6530-2", "lampfault.out", "standby/cable/direct", "", 4.5, 5.2),
    ("PB-6530-2", "lampfault.out", "on/cable/direct", "LS601:open:0", 0, 0.4),
    ("PB-6530-2", "lampfault.out", "standby/cable/direct", "Q801:short:0", 0, 0.4),
    ("PB-6530-2", "lampfault.out", "on/cable/direct", "R801:open:0", 0, 0.1),
    # power good: only where all that it watches stands
    ("PB-4270-1", "good.out", "standby/cable/direct", "", 0, 0.4),
    ("PB-4270-1", "good.out", "on/cable/direct", "", 4.5, 5.2),
    ("PB-4270-1", "good.out", "on/cable/direct", "F101:open:0", 0, 0.4),
    # an adapter's input capacitor gone: 0.5 A mean in pulses of 2 A over the cable's 0.4 Ω is
    # 0.8 V peak to peak, of which an AC range shows some 0.1 V; fresh, tens of millivolts
    ("PB-2211-1", "bulk.ripple", "on/cable/direct", "", 0, 0.05),
    ("PB-2211-1", "bulk.ripple", "on/cable/direct", "C101:open:0", 0.06, 0.3),
)
ALONE = "standby/bare/direct"
ON, CABLE = "on/cable/direct", "standby/cable/direct"
LATER: tuple[Row, ...] = (
    # one of four strings open: the driver shuts down as it reaches the others' 96 V, and 500 kΩ
    # leave 100 µF charged for minutes
    ("PB-5012-3", "led.out", ON, "LS501:string:0", 80, 97),
    # one LED of thirty: 3 V less; half of them: as the strip says
    ("PB-5012-3", "led.out", ON, "LS501:short:0", 89, 93),
    ("PB-5012-3", "led.out", ON, "LS501:short:1", 50, 56),
    # over-voltage divider: upper open or high moves nothing while the strings are whole
    ("PB-5012-3", "led.out", ON, "R505:open:0", 94, 98),
    ("PB-5012-3", "led.out", ON, "R505:drifted:0", 94, 98),
    # lower open: its pin sees the whole output, the driver never starts: the feed less a diode
    ("PB-5012-3", "led.out", ON, "R506:open:0", 20, 26),
    # no over-voltage sense and no string: to what the switch stands
    ("PB-5012-3", "led.out", ON, "R505:open:0 LS501:open:0", 150, 210),
    # a controller that holds its drive back: its supply saws between its levels, nothing behind
    ("PB-5012-3", "standby.vcc", ALONE, "U201:no_drive:0", 8.5, 16.6),
    ("PB-5012-3", "standby.out", ALONE, "U201:no_drive:0", 0, 0.2),
    ("PB-5012-3", "main.vcc", ON, "U301:no_drive:0", 12.5, 15.5),
    ("PB-5012-3", "main.out", ON, "U301:no_drive:0", 0, 0.5),
    # the boost alone: the bulk falls to the peak of the mains, the half bridge carries on
    ("PB-5012-3", "bulk", ON, "U101:no_drive:0", 295, 326),
    ("PB-5012-3", "bulk", ON, "Q101:gate:0", 295, 326),
    ("PB-5012-3", "main.out", ON, "U101:no_drive:0", 11.4, 12.6),
    ("PB-5012-3", "bulk", ON, "C103:dried:2", 295, 326),
    # one third of the upper divider 25 % high: 8.3 % more; a third open: no boost
    ("PB-6530-2", "bulk", ON, "R110:drifted:0", 412, 432),
    ("PB-6530-2", "bulk", ON, "R109:open:0", 290, 326),
    # gates shorted, joints cracked: no drive, no path
    ("PB-5012-3", "main.out", ON, "Q301:gate:0", 0, 0.5),
    ("PB-5012-3", "standby.out", ALONE, "Q201:gate:0", 0, 0.2),
    ("PB-3206-1", "main.out", ON, "Q301:gate:0", 0, 0.5),
    ("PB-3206-1", "main.out", ON, "Q301:joint:0", 0, 0.5),
    ("PB-1905-2", "main.out", ALONE, "Q201:gate:0", 0, 0.5),
    ("PB-2408-1", "main.out", ALONE, "Q201:joint:0", 0, 0.5),
    ("PB-3920-4", "led.out", ON, "Q701:gate:0", 10, 12.5),
    ("PB-2211-1", "led.out", ON, "Q401:gate:0", 17.5, 19.2),
    ("PB-2211-1", "led.out", ON, "D401:joint:0", 0, 0.5),
    # a half of a centre-tapped rectifier lost: the same volts, less current
    ("PB-5012-3", "lamp.out", ON, "D401:joint:0", 21.5, 25),
    ("PB-4270-1", "address.out", ON, "D501:open:0", 54, 63),
    # coupler at 40 %: its series resistor still gives enough; at 10 %: 3.1 V + 289 Ω · 10 mA
    ("PB-5012-3", "standby.out", ALONE, "U202:weak:0", 4.9, 5.1),
    ("PB-5012-3", "standby.out", ALONE, "U202:weak:2", 5.8, 6.2),
    ("PB-3206-1", "standby.out", ALONE, "U202:weak:2", 5.8, 6.2),
    # weak drive: standby needs little, a main converter at half its power does not carry its set
    ("PB-5012-3", "standby.out", CABLE, "U201:weak_drive:0", 4.9, 5.1),
    # (expected as a low 12 V; but its set lets go of the lamps each time, and tries again)
    ("PB-3206-1", "tubes.out", ON, "U301:weak_drive:0", 0, 0.3),
    # supply capacitor of a fed controller bone dry: it starts and falls; a little dry: it holds
    ("PB-3206-1", "main.out", ON, "C301:dried:2", 0, 3),
    ("PB-3206-1", "main.out", ON, "C301:dried:0", 11.5, 12.5),
    ("PB-5012-3", "main.out", ON, "C301:dried:2", 0, 3),
    # an inverter's sense: without its rectifier it is blind and shuts down; one tube of eight too
    ("PB-1905-2", "tubes.out", ON, "D401:open:0", 0, 0.2),
    ("PB-3206-1", "tubes.out", ON, "LP501:open:0", 0, 0.2),
    ("PB-3206-1", "tubes.out", ON, "", 1.0, 1.4),
    ("PB-1905-2", "tubes.out", ON, "Q401:gate:0", 0, 0.2),
    # preloads and bleeders open: nothing that a meter sees
    ("PB-2408-1", "lamp.out", ON, "R301:open:0", 22, 26),
    ("PB-4310-2", "slave.out", "forced/bare/direct", "R45:open:0", 23, 32),
    ("PB-4310-2", "main.out", ON, "R33:open:0", 11.9, 12.2),
    # a leaky bulk of real size: 15 kΩ take 7 W, hardly a volt
    ("PB-3206-1", "bulk", CABLE, "C101:leaky:0", 310, 326),
    ("PB-3206-1", "bulk", CABLE, "C101:leaky:1", 315, 326),
    # ripple of a bulk under 98 W (ngspice, peak to peak: 26, 215, 263 V) as RMS of a triangle
    ("PB-3206-1", "bulk.ripple", ON, "", 5.5, 9.5),
    # (expected at 45 to 80 V, as under 98 W; but the set lets go of its lamps, and 20 W remain)
    ("PB-3206-1", "bulk.ripple", ON, "C101:dried:2", 5, 80),
    # boosted: P/(2πf·C·V), 100 to 150 W on 120 µF at 390 V: 7 to 10 V peak to peak
    ("PB-5012-3", "bulk.ripple", ON, "", 1.0, 4.0),
    ("PB-5012-3", "bulk.ripple", ON, "C101:dried:1", 3.0, 9.0),
    # nothing drawn, nothing to see
    ("PB-3206-1", "bulk.ripple", ALONE, "", 0, 0.4),
    # rails: sound ones under a tenth of a volt, dried ones tenths to volts
    ("PB-4310-2", "main.ripple", ON, "", 0, 0.1),
    ("PB-4310-2", "main.ripple", ON, "C27:dried:0", 0.2, 0.8),
    ("PB-4310-2", "slave.ripple", ON, "C31:dried:2", 2, 6),
    ("PB-2211-1", "standby.ripple", ON, "", 0, 0.1),
    ("PB-2211-1", "standby.ripple", ON, "C202:dried:2", 0.4, 1.5),
    ("PB-2211-1", "core.ripple", ON, "", 0, 0.05),
    ("PB-2211-1", "core.ripple", ON, "C301:dried:2", 0.02, 0.3),
    ("PB-3920-4", "core.ripple", ON, "C402:dried:2", 0.1, 0.5),
    # what is not plugged in gives neither volts nor ripple
    ("PB-3920-4", "main.ripple", ON, "F101:open:0", 0, 0.01),
    # drains: the sustain reservoir keeps its charge while nothing draws, 171 s of time constant
    ("PB-4270-1", "sustain.out", ON, "", 190, 200),
)
"""Written down before any of them was read, after the audit: faults, parts and readings that the
model has got since. Faults together stand in one line. 58 of 60 lay where they were expected; in
brackets the two where the expectation was wrong."""
RULES = (
    # role, mode, state, point, lowest and highest, as shares of the mains' peak or of the rail
    ("input.fuse", "open", ALONE, "after_fuse", 0.0, 0.005),
    ("input.fuse", "open", ALONE, "bulk", 0.0, 0.02),
    ("bridge", "open", ALONE, "bulk", 0.94, 1.0),  # half wave: the same crest, hardly a load
    ("bridge", "open_pair:0145", ALONE, "bulk", 0.0, 0.02),
    ("bridge", "open_pair:23", ALONE, "bulk", 0.94, 1.0),  # d1 with d4: the other half remains
    ("bulk", "short", ALONE, "bulk", 0.0, 0.02),
    ("bulk", "dried", ALONE, "bulk", 0.9, 1.0),  # no load to speak of: no ripple either
    ("first.switch", "open", ALONE, "first.out", 0.0, 0.05),
    ("first.start", "open", ALONE, "first.out", 0.0, 0.05),
    ("first.controller", "dead", ALONE, "first.out", 0.0, 0.05),
    ("first.rectifier", "open", ALONE, "first.out", 0.0, 0.1),
    ("first.reservoir", "short:0", ALONE, "first.out", 0.0, 0.1),
    ("first.coupler", "transistor_short", ALONE, "first.out", 0.0, 0.2),
    ("first.transformer", "open", ALONE, "first.out", 0.0, 0.05),
    ("connector", "joint", ALONE, "first.out", 0.95, 1.05),  # nothing hangs there anyway
)
"""What must be so on any board on the mains, written down before any was asked: `first` is the
converter that stands in standby."""
CONSTANT_POWER = (
    (100e-6, 304.7, 310.0, 26.0),
    (12e-6, 240.0, 243.0, 215.0),
    (1e-6, 207.0, 209.0, 263.0),
)
"""ngspice: 98 W on farads of bulk at 230 V, lowest and highest mean, ripple peak to peak."""


def settled(rows: Sequence[Row]) -> list[tuple[float, float]]:
    """Lowest and highest volts of each row's point once its board is at rest; rows of one board."""
    board = shipped_board(rows[0][0])
    plants = []
    for _, _, state, faults, _, _ in rows:
        found = [fault_from_key(board, key) for key in faults.split()]
        plants.append(plant_of(board, found, state_of(state)))
    windows = run(stack([*plants, plants[0]]), 7.0, step_seconds=TABLE_STEP_SECONDS).windows
    seen = [windows[row[1]][-4:, number] for number, row in enumerate(rows)]
    return [(float(window.min()), float(window.max())) for window in seen]


def on_any_board(board_id: str) -> Iterator[tuple[str, float, float, float]]:
    """Case, what the model reads, and between what it should, for every rule that the board has
    the parts for."""
    board = shipped_board(board_id)
    first = board.signals[0].rail
    stage = board.stage(first)
    assert stage is not None
    peak = board.mains.volts * math.sqrt(2.0)
    asleep = stage.volts * float(stage.params.get("standby_share", "1"))
    cases: list[tuple[str, str, float, float, float]] = []
    plants = []
    for role, mode, state, point, low, high in RULES:
        mode, _, severities = mode.partition(":")
        place = point.replace("first", first)
        scale = asleep if place.endswith(".out") else peak
        for ref in board.roles.get(role.replace("first", first), [])[:1]:
            for fault in faults_of(board.component(ref)):
                if fault.mode == mode and str(fault.severity) in (severities or "0123456"):
                    cases.append((fault.key, place, scale, low, high))
                    plants.append(plant_of(board, [fault], state_of(state)))
    record = run(stack(plants), 4.0, step_seconds=TABLE_STEP_SECONDS)
    for column, (key, place, scale, low, high) in enumerate(cases):
        seen = float(record.windows[place][-4:, column].mean()) / scale
        yield f"{board_id} {place} {key}", seen, low, high


class FirstPrinciples(unittest.TestCase):
    def test_what_must_be_so_on_any_board(self) -> None:
        """At least 97 of 100; what does not agree is named."""
        agree, wrong = 0, []
        for board_id in some_boards():
            if shipped_board(board_id).adapter_fed:
                continue
            for case, seen, low, high in on_any_board(board_id):
                if low <= seen <= high:
                    agree += 1
                else:
                    wrong.append(f"{case}: {seen:.3f}, not {low} to {high}")
        self.assertGreater(agree, some(70, 150))
        self.assertGreaterEqual(agree / (agree + len(wrong)), 0.97, "; ".join(wrong))

    def test_every_point_lies_where_it_was_expected_to(self) -> None:
        for board_id in some_boards():
            rows = [row for row in (*EXPECTED, *LATER) if row[0] == board_id]
            for row, (seen_low, seen_high) in zip(rows, settled(rows) if rows else (), strict=True):
                with self.subTest(row=row):
                    self.assertGreaterEqual(seen_low, row[4])
                    self.assertLessEqual(seen_high, row[5])

    def test_a_shorted_bridge_diode_lets_the_lamp_glow_at_three_tenths(self) -> None:
        """ngspice: 0.29 of its light, at half its power."""
        board = shipped_board("PB-1905-2")
        fault = fault_from_key(board, "BD101:short:0")
        hot = HotSide(plant_of(board, [fault], state_of("standby/bare/lamp60")).input)
        for _ in range(4000):
            hot.step(1e-3, 2.0)
        self.assertAlmostEqual(float(hot.lamp_glow), 0.29, delta=0.03)
        self.assertAlmostEqual(float(hot.mean), 274.0, delta=0.03 * 274)

    def test_the_mean_of_a_dried_bulk_under_constant_power(self) -> None:
        """Averaged and waveform steps against ngspice: means within 3 %, ripple within 15 %."""
        board = shipped_board("PB-3206-1")
        plant = plant_of(board, (), state_of("on/cable/direct")).input
        for farads, low, high, ripple in CONSTANT_POWER:
            averaged, wave = (
                kind(replace(plant, bulk_farads=farads)) for kind in (HotSide, WaveformHotSide)
            )
            seen: list[Value] = []
            for _ in range(3000):
                averaged.step(1e-3, 98.0)
            for number in range(10_000):
                wave.step(1e-4, 98.0)
                if number >= 8000:
                    seen.append(wave.bulk)
            for volts in (float(averaged.mean), sum(seen) / len(seen)):
                self.assertGreater(volts, 0.965 * low, farads)
                self.assertLess(volts, 1.03 * high, farads)
            # with 1 µF the foot hangs on where a load lets go; waveform steps draw down to nothing
            for hot in (averaged, wave) if farads > 2e-6 else (averaged,):
                self.assertAlmostEqual(float(hot.ripple_volts), ripple, delta=0.15 * ripple)

    def test_a_forced_start_pin_from_the_board_s_own_parts(self) -> None:
        """1 kΩ from 5 V into 470 Ω with an LED and 10 kΩ: 2.30 V; 100 Ω to ground under a pull-up
        through an LED: 0.70 V (ngspice)."""
        for board_id, volts in (("PB-4310-2", 2.30), ("PB-5012-3", 2.30), ("PB-3206-1", 0.70)):
            self.assertAlmostEqual(forced_volts(shipped_board(board_id), ()), volts, delta=0.02)
        board = shipped_board("PB-4310-2")
        open_led = forced_volts(board, [fault_from_key(board, "U5:led_open:0")])
        self.assertAlmostEqual(open_led, 5.0 * 10 / 11, delta=0.02)


if __name__ == "__main__":
    unittest.main()
