"""A told job as people tell it: values, states, parts, outcomes; all written down beforehand."""

import math
import unittest
from pathlib import Path

from loose_rail.app.job_file.log.against_its_print import kept_farads
from loose_rail.app.job_file.log.freed_rail import of_the_rail
from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.job_file.log.outcomes import measured, outcome
from loose_rail.app.job_file.log.points import place_of
from loose_rail.app.job_file.log.situation import Situation, brought
from loose_rail.boards.own.board import own_board
from loose_rail.boards.own.make_up import OwnBoard, OwnConnector
from loose_rail.boards.parts_named import parts_named
from loose_rail.boards.profile import Board
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.shared import the

HELPED = (
    "starts at the first press",
    "comes on at once",
    "back to normal",
    "rail is there",
    "works again",
    "5.02 V steady",
    "fixed",
    "no more ticks",
    "picture is back",
    "runs all evening",
    "no fault",
    "all works",
    "plays",
    "set plays",
    "it lives",
    "ok now",
    "did the trick",
    "rail up to 12 V",
    "the 5 V stands again",
    "ticks no more",
    "no longer clicks",
    "stops ticking",
    "plays, nothing found",
    "tapping does nothing any more, two hours on",
    "13.0 V and 24 V stand, set runs",
    "5.02 V steady",
    "comes on every time",
    "all rails stand",
    "5 V is back at 5.02",
    "no more ticking",
    "working since",
    "survives the whole evening",
    "stopped clicking, picture comes",
    "12.2 V steady, sound comes",
    "rock steady now",
    "stable at 24.1 V",
    "problem gone",
    "fault is gone",
    "repaired",
    "success",
    "came to life",
    "fires up",
    "boots every time",
    "back light comes on",
    "passes the soak",
)
DID_NOT = (
    "no change",
    "did not help",
    "didn't start",
    "still dead",
    "still ticks",
    "just the same",
    "never starts",
    "not fixed",
    "no better",
    "stays dark",
    "made no difference",
    "keeps ticking",
    "comes on, goes off after 2 s",
    "works for an hour then off",
    "picture for a minute, then gone",
    "blows the fuse again",
    "dark after ten minutes again",
    "still 3 V",
    "ticks again",
    "trips again after a second",
    "as bad as before",
    "made no odds",
    "made no difference at all",
    "not a bit better",
    "still clicking",
    "fuse blows at once",
    "fuse went at once",
    "no improvement",
    "still nothing",
    "the same symptom",
    "it dies again",
    "goes dark again",
    "starts and dies",
    "fails after a quarter of an hour",
    "still ticking away",
    "does the same",
    "identical",
    "no joy",
    "still red light only",
    "remains dead",
    "nothing changes",
    "still won't start",
    "hiccups as before",
)
NOT_PLAIN = (
    "hm",
    "starts now, but dark after a second",
    "see photo",
    "12 of them",
    "",
    "new one fitted",
    "same type",
    "will see",
    "lamp dark",
    "replaced with 105 degree",
    "not tested yet",
    "picture dim",
    "ran out of time",
    "owner came",
)
PAIRS = (
    ("helped", "did not help"),
    ("fixed", "not fixed"),
    ("starts", "does not start"),
    ("works", "does not work"),
    ("came back", "never came back"),
    ("is back", "isn't back"),
)
MEASURED = (
    ("good", "not good"),
    ("shorted", "not shorted"),
    ("open", "not open"),
    ("bad", "not bad"),
    ("leaky", "isn't leaky"),
    ("faulty", "not faulty"),
)


def listed(name: str) -> list[list[str]]:
    lines = Path(__file__).with_name(name).read_text(encoding="utf-8").splitlines()
    found = [line.split("|") for line in lines if line and not line.startswith("#")]
    assert len(found) >= 45, name
    return [[part.strip() for part in row] for row in found]


def board() -> Board:
    plugs = (
        OwnConnector("CN5", 1, ("PSON", "GND", "5VSB", "12V", "GND", "24V", "BLON")),
        OwnConnector("CN7", 1, ("PVDD", "GND")),
        OwnConnector("CN8", 1, ("LED+", "LED-")),
    )
    words = "standby flyback, PFC, LLC, LED driver 66 V"
    return own_board(OwnBoard("own", words, "LED 43 inch", plugs, 230.0, "high")).board


class Outcomes(unittest.TestCase):
    def test_three_outcomes_and_never_two(self) -> None:
        for words, wanted in ((HELPED, True), (DID_NOT, False), (NOT_PLAIN, None)):
            for text in words:
                self.assertIs(outcome(text), wanted, text)

    def test_every_outcome_of_the_list(self) -> None:
        meant = {"yes": True, "no": False, "none": None}
        for text, said in listed("outcomes.txt"):
            self.assertIs(outcome(text), meant[said], text)

    def test_a_phrase_and_its_negation_never_score_alike(self) -> None:
        for plain, negated in PAIRS:
            self.assertIs(outcome(plain), True, plain)
            self.assertIs(outcome(negated), False, negated)
        for plain, negated in MEASURED:
            self.assertIsNotNone(measured(plain), plain)
            self.assertIs(measured(negated), not measured(plain), negated)


class Values(unittest.TestCase):
    def test_what_a_display_showed(self) -> None:
        for text, mode, note, form, low, high, hertz in (
            ("5.02 V", "", "steady", Form.VALUE, 5.02, 5.02, None),
            ("0 to 3 V", "", "jumps about twice a second", Form.TICKING, 0.0, 3.0, 2.0),
            ("0 to 0.3 V", "", "ticks every two seconds", Form.TICKING, 0.0, 0.3, 0.5),
            ("11.3 V", "", "wanders between 11 and 11.8", Form.RANGE, 11.0, 11.8, None),
            ("180 V, then sags to 95", "", "", Form.FALLING, 95.0, 180.0, None),
            ("up to 60 V, then 0", "", "within a second", Form.FALLING, 0.0, 60.0, None),
            ("beeps", "beep", "", Form.SHORT, 0.0, 0.0, None),
            ("1k2", "ohms", "", Form.VALUE, 1200.0, 1200.0, None),
            ("410 k", "ohms", "climbs, then still", Form.VALUE, 410e3, 410e3, None),
            ("0.52", "diode", "", Form.VALUE, 0.52, 0.52, None),
            ("2.6 ohm", "esr", "", Form.VALUE, 2.6, 2.6, None),
            ("22 uF", "capacitance", "", Form.VALUE, 22e-6, 22e-6, None),
            ("-322 V", "dc volts", "leads were swapped", Form.VALUE, -322.0, -322.0, None),
            ("no beep", "beep", "", Form.ABOVE, 50.0, math.inf, None),
            ("does not beep", "beep", "", Form.ABOVE, 50.0, math.inf, None),
            ("0 V", "", "for the first two seconds, then 12", Form.RISING, 0.0, 12.0, None),
            ("540", "diode", "", Form.VALUE, 0.54, 0.54, None),
            ("0.54", "diode", "", Form.VALUE, 0.54, 0.54, None),
            ("220 milliohm", "ohms", "", Form.VALUE, 0.22, 0.22, None),
            ("820", "capacitance", "", Form.VALUE, 820e-6, 820e-6, None),
            ("pulses up to 3 V", "", "once a second", Form.TICKING, 0.0, 3.0, 1.0),
            ("blips to 9 V and back to 0", "", "", Form.TICKING, 0.0, 9.0, None),
            ("nothing", "dc volts", "", Form.VALUE, 0.0, 0.0, None),
            ("zero", "dc volts", "", Form.VALUE, 0.0, 0.0, None),
            ("12 V dropping to 3 V", "", "", Form.FALLING, 3.0, 12.0, None),
        ):
            found = the(human_value(text, mode, note)).observation
            self.assertEqual(found.form, form, text)
            self.assertAlmostEqual(found.low, low, msg=text)
            self.assertAlmostEqual(found.high, high, msg=text)
            self.assertEqual(found.hertz, hertz, text)

    def test_a_slip_by_its_own_note_is_none_and_words_are_no_reading(self) -> None:
        self.assertTrue(the(human_value("0 V", "", "wrong pin")).slip)
        self.assertTrue(the(human_value("0 V", "", "counted from the wrong end")).slip)
        self.assertFalse(the(human_value("0 V", "", "steady")).slip)
        self.assertIsNone(human_value("nothing moves", "", ""))


class Places(unittest.TestCase):
    def test_points_of_the_dead_board(self) -> None:
        """The mains side is no fuse, an arm of the bridge is the one between its ends."""
        for at, mode, probe in (
            (
                "across the mains inlet behind the fuse",
                MeterMode.OHMS,
                "X2 suppression capacitor.ohms",
            ),
            ("between L and N", MeterMode.OHMS, "X2 suppression capacitor.ohms"),
            ("main fuse", MeterMode.OHMS, "main fuse.ohms"),
            ("bridge, ac1 to plus", MeterMode.DIODE, "bridge rectifier.d1"),
            ("bridge, ac2 to plus", MeterMode.DIODE, "bridge rectifier.d2"),
            ("bridge, minus to ac1", MeterMode.DIODE, "bridge rectifier.d3"),
            ("bridge, minus to ~2", MeterMode.DIODE, "bridge rectifier.d4"),
            ("big can", MeterMode.OHMS, "bulk capacitor.ohms"),
        ):
            found = place_of(board(), lambda text: parts_named(board(), text), at, "", mode)
            self.assertEqual(the(found.probe).id, probe, at)

    def test_a_rail_tells_of_the_part_that_was_taken_out(self) -> None:
        for result, good in (
            ("5 V line to ground still 12 ohm", True),
            ("rail now 900 ohm", False),
            ("the 12 V rail reads 4.1 k", False),
            ("output still at 0.3 ohm", True),
            ("12 ohm backward by itself", None),
            ("5.02 V steady", None),
            ("the rail is at 12.1 V now", None),
            ("the rail is at 390.5 V", None),
            ("5 V line at 900 mV", None),
            ("5 V line now 22 kohm", False),
        ):
            self.assertIs(of_the_rail(result), good, result)

    def test_a_can_is_judged_by_its_print(self) -> None:
        for farads, words, good in (
            (9e-6, "bulk capacitor printed 100 uF 450 V", False),
            (95e-6, "bulk capacitor printed 100", True),
            (75e-6, "bulk capacitor printed 100", None),
            (9e-6, "bulk capacitor", None),
        ):
            seen = Observation(Form.VALUE, farads, farads, "F")
            self.assertIs(kept_farads(seen, words), good, words)


class States(unittest.TestCase):
    def test_phrases_give_the_state_they_mean(self) -> None:
        for text, key in (
            ("board alone on the bench", "standby/bare/direct"),
            ("plugged in, nothing connected", "standby/bare/direct"),
            ("standby, main cable on", "standby/cable/direct"),
            ("on, main cable pulled", "standby/bare/direct"),
            ("PS-ON jumped to 5VSB", "forced/bare/direct"),
            ("lamp on the main board lit", "standby/cable/direct"),
            ("standby through the lamp, cable off", "standby/bare/lamp60"),
            ("switched on, all plugged", "on/cable/direct"),
            ("unplugged, drained", "unplugged"),
            ("standby, set off, cable on", "standby/cable/direct"),
            ("on, CN7 off", "on/cable/direct/no-TC"),
        ):
            state = the(brought(board(), Situation(), text)).known
            self.assertEqual(the(state).key, key, text)

    def test_a_phrase_holds_until_the_next_and_keeps_what_it_does_not_say(self) -> None:
        first = the(brought(board(), Situation(), "standby, cable on"))
        second = the(brought(board(), first, "main cable off"))
        self.assertEqual(the(second.known).key, "standby/bare/direct")
        self.assertIsNone(brought(board(), first, "the weather is fine"))


class Parts(unittest.TestCase):
    def test_parts_by_their_job(self) -> None:
        for text, name in (
            ("5 V reservoir 1000 uF 10 V", "5 V reservoir"),
            ("standby switch, drain to source", "standby switch"),
            ("boost MOSFET", "boost switch"),
            ("main fuse", "main fuse"),
            ("source resistor of the standby switch", "source sense resistor"),
            ("12 V rectifier", "12 V rectifier"),
            ("upper half-bridge FET", "upper half-bridge switch"),
            ("LED of the standby feedback coupler", "standby feedback optocoupler"),
            ("varistor", "varistor (MOV)"),
            ("boost controller", "boost controller"),
        ):
            self.assertEqual(parts_named(board(), text)[:1], [name], text)

    def test_what_this_board_does_not_have_is_not_booked_on_the_nearest(self) -> None:
        for text in (
            "36 V reservoir",
            "inverter transformer",
            "the thing in the corner",
            "sustain switch",
        ):
            self.assertEqual(parts_named(board(), text), [], text)


if __name__ == "__main__":
    unittest.main()
