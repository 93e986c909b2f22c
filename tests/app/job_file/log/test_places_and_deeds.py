"""Where people say they measured, what they saw and what came of what they did: 650 phrases."""

import json
import tempfile
import unittest
from pathlib import Path

from loose_rail.app.job_file.log.elsewhere import other_reading
from loose_rail.app.job_file.log.points import place_of
from loose_rail.app.job_file.read import Case, read_case
from loose_rail.boards.own.board import own_board
from loose_rail.boards.own.make_up import OwnBoard, OwnConnector
from loose_rail.boards.parts_named import parts_named
from loose_rail.boards.profile import Board
from loose_rail.bootstrap import engine_for
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import value
from loose_rail.vocabulary.meter_mode import MeterMode

HERE = Path(__file__).parent
MODES = {
    "dc": MeterMode.DC_VOLTS,
    "ac": MeterMode.AC_VOLTS,
    "ohms": MeterMode.OHMS,
    "diode": MeterMode.DIODE,
    "esr": MeterMode.ESR,
    "cap": MeterMode.CAPACITANCE,
}
RESONANT = "standby flyback 5 V, PFC, LLC 24 V and 12 V, LED driver"
LEGEND = "PS-ON 5VSB GND GND 12V 12V 24V 24V BL DIM"
BOARDS = {
    "L": (RESONANT, [("CN8", 1, LEGEND)], "high"),
    "C": (
        "standby flyback 5 V, main flyback 24 V and 12 V, CCFL inverter with four transformers",
        [("CN3", 1, "24V 24V GND GND 12V 12V GND 5V ON BL DIM")],
        "high",
    ),
    "A": (
        "fed by a 19 V adapter, step-down to 5 V and 3.3 V, LED driver",
        [("J4", 1, "5V 5V GND GND 3V3 BL DIM")],
        "none",
    ),
    "P": (
        "plasma supply with 5 V standby, PFC, VS sustain, VA address",
        [("P8", 1, "STBY GND RLY VS_ON 15V GND 5V"), ("P3", 1, "VS VS GND GND VA")],
        "high",
    ),
}


def rows(name: str) -> list[list[str]]:
    lines = (HERE / name).read_text(encoding="utf-8").splitlines()
    return [
        [part.strip() for part in f"{line} | | |".split("|")][:5]
        for line in lines
        if line and not line.startswith("#")
    ]


def every(name: str) -> list[list[str]]:
    return [row for path in sorted(HERE.glob(f"{name}*.txt")) for row in rows(path.name)]


def board(key: str) -> Board:
    words, plugs, wake = BOARDS[key]
    connectors = tuple(OwnConnector(n, r, tuple(pins.split())) for n, r, pins in plugs)
    own = OwnBoard("own", words, set_words="", connectors=connectors, mains_volts=230.0, wake=wake)
    return own_board(own).board


class Places(unittest.TestCase):
    def test_each_is_booked_where_it_was_taken_and_nowhere_else(self) -> None:
        boards = {key: board(key) for key in BOARDS}
        table = every("places")
        self.assertGreater(len(table), 600)
        for key, at, mode, note, want in table:
            here, setting = boards[key], MODES[mode]
            with self.subTest(board=key, at=at):
                self.assertEqual(_place(here, at, note, setting, want), want)


def _place(here: Board, at: str, note: str, setting: MeterMode, want: str) -> str:
    if other_reading(here, at, note, value(100.0, setting.unit), setting) is not None:
        return "other"
    place = place_of(here, lambda text: parts_named(here, text), at, note, setting)
    if want.startswith("part:") and place.probe is None:
        meant = any(want.removeprefix("part:") in part for part in place.parts)
        return want if meant else f"part:{place.parts}"
    if want.startswith("part:") and place.probe is not None:
        return want if want.removeprefix("part:") in place.probe.part else place.probe.id
    return place.probe.id if place.probe is not None else "none"


class Deeds(unittest.TestCase):
    def test_what_came_of_it_is_never_turned_round(self) -> None:
        table = every("deeds")
        self.assertGreater(len(table), 130)
        with tempfile.TemporaryDirectory() as folder:
            for deed, what, result, must, never in table:
                path = Path(folder) / "job.json"
                path.write_text(json.dumps(_job(deed, what, result)), encoding="utf-8")
                with self.subTest(deed=deed, what=what, result=result):
                    found = _follows(read_case(path, engine_for, None))
                    if must == "none":
                        self.assertFalse([one for one in found if not one.startswith("read:")])
                        continue
                    wanted = tuple(one.strip() for one in must.split(";"))
                    self.assertTrue(any(one.startswith(wanted) for one in found) or not must, found)
                    self.assertFalse(never and any(one.startswith(never) for one in found), found)


class Sights(unittest.TestCase):
    def test_each_is_what_it_shows_and_a_sound_part_is_no_finding(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for text, at, want, *_ in every("sights"):
                path = Path(folder) / "job.json"
                sight = [{"state": "unplugged, drained"}, {"seen": text, "at": at}]
                path.write_text(json.dumps(_job("", "", "") | {"log": sight}), encoding="utf-8")
                with self.subTest(text=text, at=at):
                    found = _shown(read_case(path, engine_for, None))
                    self.assertTrue(want in found if want != "none" else not found, found)


def _shown(case: Case) -> list[str]:
    found = ["works" for one in case.besides if one.clue.key.startswith("works")]
    found += ["nothing" for one in case.besides if one.clue.key.endswith(":nothing_seen")]
    for record in case.records:
        event = record.event
        if isinstance(event, ev.FindingNoted):
            nothing = event.seen == "nothing_seen"
            found.append("nothing" if nothing else f"{event.part}:{event.seen}")
        elif isinstance(event, ev.SymptomNoted):
            found.append(f"sym:{event.symptom}")
    return found


def _job(deed: str, what: str, result: str) -> dict[str, object]:
    plugs = [{"name": n, "rows": r, "pins": pins.split()} for n, r, pins in BOARDS["L"][1]]
    return {
        "schema": "loose-rail/case/2",
        "set": {"kind": "LED TV", "age_years": 6},
        "board": {"kind": RESONANT, "mains": 230, "wake": "high", "connectors": plugs},
        "log": [{"state": "standby, cable on"}, {"did": deed, "what": what, "result": result}],
    }


def _follows(case: Case) -> list[str]:
    found = [f"clue:{one.clue.key}" for one in case.besides]
    for record in case.records:
        event = record.event
        if isinstance(event, ev.PartFitted):
            found.append(f"fitted:{event.part}")
        elif isinstance(event, ev.ClueNoted):
            found.append(f"event:{event.clue}:{event.subject}:{event.answer}")
        elif isinstance(event, ev.HistoryNoted):
            found.append(f"history:{event.fact}")
        elif isinstance(event, ev.ReadingTaken):
            found.append(f"read:{event.probe}@{event.state}")
    return found


if __name__ == "__main__":
    unittest.main()
