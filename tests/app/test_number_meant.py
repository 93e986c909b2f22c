"""Which working a number of the screen opens, with which of its inputs: written before asking."""

import unittest

from loose_rail.app.number_meant import working_of
from loose_rail.judgement.workings.registry import CALCULATORS
from tests.shared import demo_session

SAID: tuple[tuple[str, str, str, float], ...] = (
    ("4.98 V · Standby rail 5 V at CN2 · direct, standby, cable on", "dummy", "volts", 4.98),
    ("325 V · bulk + to −", "bulk", "", 0.0),
    ("231 V · mains at the inlet", "bulk", "volts", 231.0),
    ("the bulk holds 312 V: dangerous", "discharge", "volts", 312.0),
    ("0.077 V · bulk ripple, AC", "ripple", "", 0.0),
    ("96 V · LED output", "led", "leds", 32.0),
    ("0.12 Ω · C21 ESR in place · drained", "ripple", "esr", 0.12),
    ("3.9 MΩ · boost feedback divider upper 2", "divider", "upper", 3.9e6),
    ("0.30 Ω · 12 V reservoir: ohms across · drained", "injected", "short", 0.3),
    ("470 kΩ · resistor that bleeds the bulk", "discharge", "ohms", 470e3),
    ("4.7 kΩ · start-up resistor 1", "series", "", 0.0),
    ("120 µF · bulk capacitor", "bulk", "farads", 120e-6),
    ("980 µF · 12 V reservoir", "ripple", "farads", 980e-6),
    ("60 W series lamp", "limiter", "lamp", 60.0),
    ("3.15 A · main fuse", "fuse", "", 0.0),
    ("0.8 A · Main rail 12 V", "dummy", "amps", 0.8),
    ("temperature 105 °C · as asked", "life", "", 0.0),
    ("12,000 h", "life", "", 0.0),
    ("48.5 J, 450 V", "discharge", "", 0.0),
    ("drain for 70 s", "discharge", "", 0.0),
    ("65 kHz · switching", "ripple", "hertz", 65e3),
)
NOTHING = ("no number here", "C21 dried out", "0.48 V · Q1: body diode, diode test", "93 %", "Q901")


class NumberMeant(unittest.TestCase):
    def test_every_unit_beside_its_words_opens_its_working(self) -> None:
        session = demo_session()
        keys = {one.key: {item.key for item in one.inputs} for one in CALCULATORS}
        wrong = []
        for words, calculator, key, value in SAID:
            found = working_of(session, words)
            if found is None or found[0] != calculator:
                wrong.append((words, found))
                continue
            self.assertTrue(set(found[1]) <= keys[calculator], words)
            if key and abs(found[1].get(key, -1.0) - value) > 1e-6 * value:
                wrong.append((words, found))
        self.assertEqual(wrong, [])
        for words in NOTHING:
            self.assertIsNone(working_of(session, words), words)


if __name__ == "__main__":
    unittest.main()
