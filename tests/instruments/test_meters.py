"""Meters as they are: profiles, a serial line, streams that break, holding, and logs in files."""

import json
import math
import threading
import time
import unittest
from collections.abc import Callable
from typing import Any

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.app.live_meter import LiveMeter, Phase
from loose_rail.app.meter_log import read_log, trace_of
from loose_rail.app.stream import StreamLoop
from loose_rail.app.trace import Trace, to_csv
from loose_rail.instruments.finder import identify, visa_address
from loose_rail.instruments.scpi_profile import profile_for, read_profile, shipped_profiles
from loose_rail.instruments.visa_meter import VisaMeter
from loose_rail.kernel.errors import MeterError, MeterTalkError, TraceError
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.fakes.meter import FakeMeter
from tests.fakes.serial_line import SerialLine

OWN = {
    "schema": "loose-rail/meter/1",
    "name": "milli",
    "match": "MILLI",
    "settings": {"dc_volts": {"select": ["SET V"], "scale": 0.001, "read": "GIVE"}},
    "open_words": ["OVER"],
    "write_ending": "\r\n",
}
PERIOD = 0.2


class SerialMeter(SerialLine):
    """Answers in millivolts, and remembers what it heard."""

    def __init__(self) -> None:
        self.heard: list[str] = []
        self.answers = {"*IDN?": "MAKER,MILLI 9,1,2", "GIVE": "4980.0 mV"}
        super().__init__(self._say)

    def _say(self, line: str) -> str | None:
        self.heard.append(line)
        return self.answers.get(line.strip())


class Profiles(unittest.TestCase):
    def test_a_serial_meter_is_spoken_to_by_its_own_profile(self) -> None:
        line = SerialMeter()
        profiles = [read_profile(json.dumps(OWN).encode(), "own.json"), *shipped_profiles()]
        meter = VisaMeter(visa_address(line.path), 2000, profiles)
        self.assertEqual((meter.name, meter.profile), ("MILLI 9", "milli"))
        self.assertAlmostEqual(meter.read("dc_volts"), 4.98)
        self.assertEqual(line.heard[-2:], ["SET V\r", "GIVE\r"])
        line.answers["GIVE"] = "OVERLOAD"
        self.assertEqual(meter.read("dc_volts"), math.inf)
        line.answers["GIVE"] = "???"
        with self.assertRaises(MeterTalkError):
            meter.read("dc_volts")
        with self.assertRaisesRegex(MeterTalkError, "no setting"):
            meter.read("esr")
        meter.close()
        self.assertIn("answer", identify("TCPIP::127.0.0.1::9::SOCKET", profiles).problem)

    def test_damaged_profiles_say_what_is_wrong(self) -> None:
        spoilt: tuple[tuple[dict[str, Any], str], ...] = (
            ({"settings": {"warp": {"select": []}}}, "warp"),
            ({"settings": {}}, "no setting"),
            ({"schema": "other"}, "schema"),
            ({"match": "("}, "pattern"),
            ({"colour": 1}, "colour"),
        )
        for change, words in spoilt:
            with self.assertRaisesRegex(MeterTalkError, words):
                read_profile(json.dumps({**OWN, **change}).encode(), "own.json")
        self.assertEqual(profile_for("ANY,THING", shipped_profiles()).name, "scpi-1999")

    def test_addresses_as_people_type_them(self) -> None:
        self.assertEqual(visa_address("bench-dmm"), "TCPIP::bench-dmm::5025::SOCKET")
        self.assertEqual(visa_address("10.0.0.7:3490"), "TCPIP::10.0.0.7::3490::SOCKET")
        self.assertEqual(visa_address("USB0::1::2::3::INSTR"), "USB0::1::2::3::INSTR")
        for bad in ("", "a b", "host:99999", "host:port"):
            with self.assertRaises(MeterError):
                visa_address(bad)


class Streams(unittest.TestCase):
    def test_rubbish_is_passed_over_and_silence_opens_it_anew(self) -> None:
        opened: list[FakeMeter] = []
        script: list[Any] = [1.0, MeterTalkError("?"), 2.0, MeterError("gone"), 3.0]
        samples: list[float] = []
        troubles: list[str] = []

        def opener() -> FakeMeter:
            opened.append(FakeMeter(script))
            return opened[-1]

        loop = StreamLoop(
            opener, lambda k, s, v: samples.append(v), troubles.append, lambda n: None
        )
        loop.ask("p", MeterMode.DC_VOLTS)
        thread = threading.Thread(target=loop.run)
        thread.start()
        end = time.monotonic() + 10
        while len(samples) < 4 and time.monotonic() < end:
            time.sleep(0.01)
        loop.stop()
        thread.join(5)
        self.assertEqual(samples[:4], [1.0, 2.0, 3.0, 1.0])
        self.assertEqual(len(opened), 2)
        self.assertEqual([bool(words) for words in troubles], [True, False, True, False])


def feed(meter: LiveMeter, values: Callable[[float], float], seconds: float, start: float):  # type: ignore[no-untyped-def]
    """Samples at five a second; returns what was held and when it ended."""
    at = start
    while at < start + seconds:
        held = meter.feed(at, values(at - start))
        at += PERIOD
        if held is not None:
            return held, at
    return None, at


class Holding(unittest.TestCase):
    @settings(max_examples=40)
    @given(st.floats(0.3, 400), st.floats(0, 1.2), st.integers(0, 99))
    def test_a_still_rail_is_held_at_its_value_and_only_once(
        self, volts: float, late: float, seed: int
    ) -> None:
        rng = np.random.default_rng(seed)
        meter = LiveMeter()
        meter.ask("a", MeterMode.DC_VOLTS, True, volts)
        held, at = feed(
            meter, lambda s: 0.0 if s < late else volts * (1 + 5e-4 * rng.standard_normal()), 8, 0
        )
        assert held is not None
        self.assertIs(held.form, Form.VALUE)
        self.assertAlmostEqual(held.low / volts, 1, delta=0.005)
        again, at = feed(meter, lambda s: volts, 10, at)
        self.assertIsNone(again)
        meter.ask("b", MeterMode.DC_VOLTS, True, volts)
        still, at = feed(meter, lambda s: volts, 10, at)
        self.assertIsNone(still)
        self.assertIs(meter.phase, Phase.LIFT)
        _, at = feed(meter, lambda s: 0.0, 2, at)
        moved, _ = feed(meter, lambda s: volts, 6, at)
        self.assertIsNotNone(moved)

    def test_a_ticking_rail_is_watched_long_enough_and_open_needs_the_foot(self) -> None:
        meter = LiveMeter()
        meter.ask("a", MeterMode.DC_VOLTS, True, 5.0)
        held, at = feed(meter, lambda s: 4.6 if (s * 1.1) % 1 < 0.5 else 3.0, 12, 0.0)
        assert held is not None and held.hertz is not None
        self.assertIs(held.form, Form.TICKING)
        self.assertAlmostEqual(held.hertz, 1.1, delta=0.05)
        meter.ask("b", MeterMode.OHMS, False, None)
        nothing, at = feed(meter, lambda s: math.inf, 12, at)
        self.assertIsNone(nothing)
        by_foot = meter.hold_now()
        assert by_foot is not None
        self.assertIs(by_foot.form, Form.OPEN)
        self.assertIsNone(meter.hold_now())
        meter.ask("c", MeterMode.OHMS, False, 18e3)
        climbing, at = feed(meter, lambda s: 18e3 * (1 - math.exp(-(s + 0.1) / 0.3)), 12, at)
        assert climbing is not None
        self.assertAlmostEqual(climbing.low, 18e3, delta=400)


class Logs(unittest.TestCase):
    @settings(max_examples=60)
    @given(
        st.lists(
            st.floats(-1e4, 1e4, allow_nan=False) | st.just(math.inf), min_size=2, max_size=40
        ),
        st.floats(0.001, 5),
        st.text(st.characters(codec="ascii", exclude_categories=("C",)), max_size=20),  # type: ignore[arg-type]
    )
    def test_what_is_written_is_read_back(
        self, values: list[float], step: float, words: str
    ) -> None:
        trace = Trace()
        channel = trace.channel("Meter A, DC volts", "V")
        for number, value in enumerate(values):
            channel.add(number * step, value)
        trace.mark(0.0, words)
        log = read_log(to_csv(trace).encode(), "own.csv")
        self.assertEqual(log.time_column, 0)
        back = trace_of(log, 0, [1]).channels[0]
        self.assertEqual((back.name, back.unit), ("Meter A, DC volts", "V"))
        np.testing.assert_allclose(back.values, values, rtol=1e-8)
        np.testing.assert_allclose(back.seconds, np.arange(len(values)) * step, atol=1e-9)

    def test_logs_of_other_meters(self) -> None:
        german = "Zeit;Spannung [V];Temp\n10:00:00;5,01;20\n10:00:01;4,98;20\n10:00:02;OL;20\n"
        log = read_log(german.encode("latin-1"), "log.csv")
        self.assertEqual((log.time_column, log.value_columns), (0, (1, 2)))
        channel = trace_of(log, 0, [1]).channels[0]
        self.assertEqual((channel.name, channel.unit), ("Spannung", "V"))
        self.assertEqual(channel.seconds.tolist(), [0.0, 1.0, 2.0])
        self.assertEqual(channel.values.tolist(), [5.01, 4.98, math.inf])
        bare = read_log(b"0\t5.0\n0.5\t5.1\n1.0\t5.2\n", "bare.txt")
        self.assertEqual((bare.time_column, bare.value_columns), (0, (1,)))
        self.assertEqual(trace_of(bare, -1, [1]).channels[0].seconds.tolist(), [0, 1, 2])

    @settings(max_examples=80)
    @given(st.binary(max_size=300))
    def test_anything_else_is_refused_with_a_sentence(self, data: bytes) -> None:
        try:
            log = read_log(data, "some.csv")
            trace_of(log, log.time_column, log.value_columns)
        except TraceError as error:
            self.assertTrue(error.message)


if __name__ == "__main__":
    unittest.main()
