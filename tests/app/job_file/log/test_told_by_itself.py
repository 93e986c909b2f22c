"""Boards that are read by themselves, lamps in line, the short hand of notes, soaks and warmth:
what is told of each comes to what it says, and never to its opposite."""

import unittest
from pathlib import Path

from hypothesis import given, settings, strategies as st

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.lamp_in_line import lamp_pattern
from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.job_file.read import Case
from loose_rail.boards.by_itself import by_itself
from loose_rail.boards.faults import find_faults
from loose_rail.boards.load import shipped_board
from loose_rail.boards.probes import boards_behind, probes_of
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.kernel.short_hand import spelled_out
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.app.job_file.log.test_told_pairs import PLASMA, case_of, leader

AMPLIFIER = (
    "PFC, LLC 24 V and 12 V, standby 5 V, LED driver 100 V, sound amplifier on its own plug",
    [("CN1", 1, "5VSB PSON GND GND 12V 12V BLON DIM"), ("CN5", 1, "24V 24V GND GND")],
    "high",
)
PANEL = (
    "PFC, LLC 12 V, standby 5 V, panel switch on the power board, LED driver 120 V",
    [("CN1", 1, "5VSB PSON PNLON BLON GND GND 12V 12V"), ("CN2", 1, "VPNL VPNL GND GND")],
    "high",
)
ON = {"state": "on, complete"}
DEAD = {"state": "unplugged, drained"}
TIMING = (
    ON,
    {"read": "12.1 V", "at": "CN1-7"},
    {"read": "3.3 V", "at": "CN1-3"},
    {"read": "1.1 V", "at": "CN2-1"},
    {"did": "unplugged", "what": "timing board at CN2", "result": "12.0 V at CN2-1"},
)


def ohms(text: str, at: str, note: str = "") -> dict[str, str]:
    return {"read": text, "at": at, "mode": "ohms", "note": note}


def on_boards(case: Case, name: str) -> float:
    every = answer(case, 1)["suspects"]["boards"]
    return float(sum(one["probability"] for one in every if one["board"] == name))


class ByThemselves(unittest.TestCase):
    def test_a_board_that_leads_is_read_at_its_own_pin_and_a_short_there_ends_it(self) -> None:
        step = review_of(case_of(PANEL, *TIMING)).assessment.next_step
        assert step is not None
        probe = step.offer.candidate.probe
        self.assertTrue(probe.unplugged)
        self.assertEqual((probe.part, probe.mode), ("TC", MeterMode.OHMS))
        at = "panel supply pin of the timing board to ground"
        for short in ("0.7 ohm", "beeps"):
            found = review_of(case_of(PANEL, *TIMING, DEAD, ohms(short, at, "by itself")))
            finding = found.assessment.finding
            assert finding is not None
            self.assertEqual((finding.part, finding.standing), ("TC", Standing.CONFIRMED), short)
        sound = case_of(PANEL, *TIMING, DEAD, ohms("2.2 k", at, "by itself"))
        self.assertLess(
            on_boards(sound, "timing board"), on_boards(case_of(PANEL, *TIMING), "timing board")
        )

    def test_one_of_two_twins_that_is_good_clears_neither(self) -> None:
        for side, told in (("left", "9 k"), ("right", "40 k")):
            good = case_of(PLASMA, DEAD, ohms(told, f"VA of the {side} address board", "by itself"))
            self.assertEqual(review_of(good).dossier.evidence, ())
            bad = case_of(PLASMA, DEAD, ohms("3 ohm", f"VA of the {side} address board"))
            self.assertEqual(len(review_of(bad).dossier.evidence), 1)

    def test_a_rail_read_with_its_boards_on_is_theirs_too(self) -> None:
        short = ohms("0.9 ohm", "CN5-1 to ground", "plug on")
        free = ohms("2.2 k", "CN5-1 to ground", "plug off")
        on, off = case_of(AMPLIFIER, DEAD, short), case_of(AMPLIFIER, DEAD, short, free)
        bare = case_of(AMPLIFIER, DEAD, ohms("0.9 ohm", "CN5-1 to ground", "plug off"))
        self.assertGreater(on_boards(on, "other"), 5 * on_boards(bare, "other"))
        self.assertGreater(on_boards(off, "other"), 0.5)
        self.assertIn("amplifier", leader(off))

    def test_every_shipped_board_reads_its_loads_as_they_are(self) -> None:
        board = shipped_board("PB-6530-2")
        pins = [p for p in probes_of(board) if p.unplugged and not p.mode.of_lamps]
        self.assertEqual({p.part for p in pins}, {"MB", "TC"})
        for pin in pins:
            modes = {".main_supply": "drags_main", ".second_supply": "drags_second"}
            mode = next((m for end, m in modes.items() if pin.id.endswith(end)), "drags")
            rows = [(), *((fault,) for fault in find_faults(board, pin.part, mode))]
            sound, *bad = by_itself(board, pin, rows)
            self.assertTrue(all(one < 5.0 < 50.0 < sound for one in bad), pin.id)
        reservoirs = {boards_behind(board, p) for p in probes_of(board) if p.in_place}
        self.assertIn(frozenset({"MB"}), reservoirs)


class Words(unittest.TestCase):
    def test_how_a_lamp_in_line_ended(self) -> None:
        lines = Path(__file__).with_name("lamps.txt").read_text(encoding="utf-8").splitlines()
        rows = [line.split("|") for line in lines if line and not line.startswith("#")]
        self.assertGreater(len(rows), 35)
        for words, wanted in rows:
            self.assertEqual(lamp_pattern(words) or "none", wanted.strip(), words)

    @settings(max_examples=60, deadline=None)
    @given(st.integers(1, 999), st.sampled_from(("", " V", " ohm")))
    def test_a_decimal_may_begin_with_its_point(self, number: int, unit: str) -> None:
        bare, whole = (f"{zero}.{number:03d}{unit}" for zero in ("", "0"))
        mode = "ohms" if unit == " ohm" else "diode"
        self.assertEqual(human_value(spelled_out(bare), mode, ""), human_value(whole, mode, ""))
        kept = f"It is off. {number} volts, 1.5 V"
        self.assertEqual(spelled_out(kept), kept)

    def test_a_soak_and_warmth_are_never_turned_round(self) -> None:
        quiet, warm = (
            {"did": "soaked", "what": "four hours"},
            {"did": "heated", "what": "12 V rectifier"},
        )
        for result, clean in (
            ("nothing", True),
            ("nothing in all that time", True),
            ("ran without a fault", True),
            ("ran an hour, then the same fault", False),
            ("failed in the soak", False),
        ):
            case = case_of(PANEL, ON, {**quiet, "result": result})
            works = [one for one in case.besides if one.clue.family == "works"]
            self.assertEqual(bool(works), clean, result)
        for result, came in (
            ("off in a minute", "brought the fault"),
            ("goes off", "brought the fault"),
            ("no change", "changed nothing"),
            ("ticks on as before", "changed nothing"),
        ):
            told = " ".join(case_of(PANEL, ON, {**warm, "result": result}).notes.understood)
            self.assertEqual("brought the fault" in told, came == "brought the fault", result)


if __name__ == "__main__":
    unittest.main()
