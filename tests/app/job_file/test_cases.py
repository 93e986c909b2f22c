"""`loose-rail diagnose`: job files as people write them, through the real command."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from hypothesis import HealthCheck, given, settings, strategies as st

from loose_rail.__main__ import main
from loose_rail.app.job_file.board_of import CaseBoard, board_of
from loose_rail.app.job_file.entries import mode_in, observation_of, state_in
from loose_rail.app.job_file.notes import Notes
from loose_rail.app.job_file.points import parts_of, probe_of
from loose_rail.app.job_file.read import KNOWN
from loose_rail.app.job_file.words import volts_in
from loose_rail.app.known_before import lessons
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.probes import probes_of
from loose_rail.bootstrap import shop_files
from loose_rail.diagnosis.model.candidates import candidates_of, live_states
from loose_rail.jobs import events as ev
from loose_rail.kernel.entry import read_entry
from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.observation import Form
from loose_rail.storage.places import places_of
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.shared import board, engine

HERE = Path(__file__).resolve()


def run(document: Any, *arguments: str) -> tuple[int, str, str]:
    """The command on a document that is written to a file first."""
    out, err = io.StringIO(), io.StringIO()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "job.json"
        text = document if isinstance(document, str) else json.dumps(document)
        path.write_text(text, encoding="utf-8", errors="surrogatepass")
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(["diagnose", str(path), *arguments])
    return code, out.getvalue(), err.getvalue()


def asked(document: Any, steps: int = 3) -> dict[str, Any]:
    code, out, err = run(document, "--json", "--steps", str(steps))
    if code != 0:
        raise AssertionError(err)
    found: dict[str, Any] = json.loads(out)
    return found


RAILS = ("5VSB", "13V", "24V")

DRIED = {
    "schema": "loose-rail/case/1",
    "board": "BR43K-PSU",
    "complaint": "Dead, light off, ticks about once a second.",
    "readings": [
        {"point": "5VS", "state": "standby through the lamp", "range": [0, 0.75], "hertz": 1},
        {"point": "CN2-2", "state": "cable off, lamp", "value": "3.1..4.5@1Hz"},
        {"point": "C21", "mode": "ESR", "state": "unplugged", "value": 1.7, "unit": "ohm"},
    ],
}


class WholeFiles(unittest.TestCase):
    def test_a_dried_reservoir_is_proved_at_every_level(self) -> None:
        found = asked(DRIED)
        self.assertEqual(found["suspects"]["boards"][0]["board"], "power board")
        self.assertEqual(found["suspects"]["sections"][0]["section"], "Standby rail")
        first = found["suspects"]["parts"][0]
        self.assertEqual(first["suspect"], "C21:dried")
        self.assertGreater(first["part_bad"], 0.95)
        self.assertEqual(first["for"][0]["strength"], "strongly for")
        self.assertIn("ESR", first["for"][0]["words"])
        self.assertEqual(found["finding"]["standing"], "confirmed")
        self.assertEqual(found["finding"]["confirmed_by"], [3])
        self.assertEqual(len(found["understood"]["readings"]), 3)
        self.assertEqual(found["not_used"], [])
        for level in ("boards", "sections", "parts"):
            shares = [one["probability"] for one in found["suspects"][level]]
            self.assertEqual(shares, sorted(shares, reverse=True))
            self.assertLessEqual(sum(shares), 1.001)

    def test_the_page_says_what_the_json_says(self) -> None:
        code, page, _ = run(DRIED, "--steps", "2", "--more")
        self.assertEqual(code, 0)
        for words in ("C21 dried out", "confirmed by a reading", "Next: ", "caution: ", "Unproved"):
            self.assertIn(words, page)
        self.assertEqual(page.count("Next: "), 2)
        code, page, _ = run(DRIED, "--steps", "2")
        self.assertEqual(code, 0)
        self.assertLessEqual(len(page.splitlines()), 30)
        for words in ("confirmed by a reading", "Next: ", "Unproved"):
            self.assertIn(words, page)

    def test_words_alone_rank_and_the_first_steps_are_safe(self) -> None:
        """Only a complaint and two findings: it ranks, and asks nothing dangerous first."""
        found = asked(
            {
                "complaint": "There was a bang in the storm and now it is completely dead.",
                "findings": ["fuse blackened", {"place": "bridge", "seen": "cracked"}],
            },
            5,
        )
        self.assertIn("bridge", found["suspects"]["parts"][0]["title"])
        self.assertTrue(any("No board is named" in one for one in found["warnings"]))
        self.assertTrue(any("short on the primary" in one for one in found["warnings"]))
        self.assertTrue(any("Nothing has been measured" in one for one in found["unproved"]))
        for step in found["next"]:
            self.assertRegex(step["state"], "unplugged|lamp60", step["title"])
            self.assertTrue(step["why"] and step["if_good"] and step["if_bad"])

    def test_a_topology_with_printed_labels_moves_the_model_to_its_volts(self) -> None:
        given = {
            "board": {
                "topology": "standby flyback, PFC, LLC, LED",
                "rails": ["5VSB", "13V", "24V"],
            },
            "readings": [
                {"point": "13V", "state": "on", "value": 13.0, "unit": "V"},
                {"point": "5VSB", "state": "standby", "value": "5.02V"},
                {"point": "24V", "state": "on", "value": 24.1, "unit": "V"},
            ],
            "complaint": "sound is fine but no backlight",
        }
        found = asked(given)
        self.assertEqual(found["board"]["known_by"], "topology")
        self.assertEqual(found["not_used"], [])
        told = " ".join(reason["words"] for p in found["suspects"]["parts"] for reason in p["for"])
        self.assertNotRegex(told, r"\b[A-Z]{1,2}\d{3}\b")
        top = {p["title"] for p in found["suspects"]["parts"][:3]}
        self.assertTrue(any("LED" in title for title in top), top)
        off = asked({**given, "board": {"topology": "standby flyback, PFC, LLC, LED"}})
        self.assertNotEqual(found["suspects"], off["suspects"])

    def test_every_topology_is_found_by_its_own_name_and_answers(self) -> None:
        for board_id in ("PB-1905-2", "PB-2211-1", "PB-4310-2"):
            topology = shipped_board(board_id).topology
            found = asked({"board": {"topology": topology}, "complaint": "no picture"}, 1)
            self.assertEqual(found["board"]["topology"], topology)
            self.assertEqual(len(found["next"]), 1)

    def test_nothing_is_dropped_in_silence(self) -> None:
        odd = {
            "board": "PB-4310-2",
            "colour": "black",
            "complaint": ["hums a bit", 7],
            "symptoms": [{"kind": "ticks", "hertz": -3}, "purple", "no_light"],
            "history": {"age_years": "ancient", "hours": 40000, "moon": "full", "surge": True},
            "findings": [{"part": "C99", "seen": "domed"}, {"part": "C21", "seen": "strange"}],
            "readings": [
                {"point": "C21", "mode": "ohms", "state": "standby", "value": 3},
                {"point": "C21", "mode": "esr", "value": "4.7V"},
                {"point": "nowhere", "value": 4},
                {"value": 3},
                "12 V is fine",
                {"point": "C21", "mode": "esr"},
            ],
            "actions": [
                {"did": "replaced", "part": "C21"},
                {"did": "painted", "part": "C21", "result": "ok"},
                {"did": "replaced", "part": "C98", "helped": "no"},
            ],
            "skipped": ["live.start", "live.none"],
            "costs": {"per_hour": -4, "part": 3},
            "closed_jobs": [{"board": 3}],
        }
        found = asked(odd)
        gone = " | ".join(one["what"] for one in found["not_used"])
        for words in (
            *(
                '"colour"',
                "7",
                "-3",
                "purple",
                "ancient",
                "moon",
                "C99",
                "strange",
                "4.7V",
                "nowhere",
            ),
            *('"value": 3', "12 V is fine", "painted", "C98", "live.none", "-4", '"board": 3'),
        ):
            self.assertIn(words, gone)
        for one in found["not_used"]:
            self.assertTrue(one["why"], one)
        self.assertTrue(any("Never ohms on a plugged-in board" in w for w in found["warnings"]))
        self.assertIn("no_light", found["understood"]["symptoms"])

    def test_known_elsewhere_means_known_here(self) -> None:
        """Own closed jobs tilt the ranking and are told with their denominator."""
        closed = {"board": "PB-4310-2", "topology": "t", "suspect": "Q1:short", "role": "x"}
        plain = asked({"board": "PB-4310-2", "complaint": "dead, no light"}, 0)
        found = asked(
            {"board": "PB-4310-2", "complaint": "dead, no light", "closed_jobs": [closed] * 12}, 0
        )
        own = [p for p in found["suspects"]["parts"] if p["suspect"] == "Q1:short"]
        before = [p for p in plain["suspects"]["parts"] if p["suspect"] == "Q1:short"]
        self.assertTrue(own)
        self.assertGreater(own[0]["probability"], before[0]["probability"] if before else 0.0)
        self.assertIn("in 12 of 12 jobs", found["known_on_this_board"][0]["words"])

    def test_a_part_measured_good_out_of_the_board_is_cleared(self) -> None:
        bad = {"board": "PB-4310-2", "findings": [{"part": "Q1", "seen": "cracked"}]}
        cleared = {**bad, "actions": [{"did": "removed", "part": "Q1", "result": "measured good"}]}
        before = {p["part"] for p in asked(bad, 0)["suspects"]["parts"][:3]}
        after = {p["part"] for p in asked(cleared, 0)["suspects"]["parts"][:6]}
        self.assertTrue(any(name.startswith("Q1") for name in before))
        self.assertFalse(any(name.startswith("Q1") for name in after))

    def test_a_contradiction_is_named_with_its_likely_slip(self) -> None:
        readings = [
            *DRIED["readings"],
            {"point": "C21", "mode": "esr", "state": "unplugged", "value": 1.8},
            {"point": "R20", "mode": "ohms", "state": "unplugged", "value": 3300},
        ]
        found = asked({**DRIED, "readings": readings})
        again = {one["reading"]: one["likely"] for one in found["read_again"]}
        self.assertIn(5, again)
        self.assertIn("decimal", again[5])
        self.assertEqual(found["suspects"]["parts"][0]["suspect"], "C21:dried")


class BadFiles(unittest.TestCase):
    def refused(self, document: Any, *words: str) -> None:
        code, out, err = run(document)
        self.assertEqual((code, out), (2, ""))
        self.assertEqual(err.count("\n"), 1)
        for one in words:
            self.assertIn(one, err)

    def test_files_that_are_none(self) -> None:
        self.refused("{", "LR601", "line 1", "no JSON")
        self.refused("[1, 2]", "begins with {")
        self.refused("\udcff", "no JSON")
        self.refused({"board": "missing.json"}, "LR201", "missing.json")
        self.refused("[" * 100_000, "no JSON")
        code, _, err = run(DRIED, "--steps", "99")
        self.assertEqual(code, 2)
        self.assertIn("0 to 20", err)

    @settings(max_examples=40, suppress_health_check=[HealthCheck.too_slow])
    @given(
        st.dictionaries(
            st.sampled_from(KNOWN),
            st.recursive(
                st.none()
                | st.booleans()
                | st.floats()
                | st.integers(-5, 10**9)
                | st.text(max_size=12)
                | st.sampled_from(["C21", "5VS", "standby", "ticks", "domed", "4k7", "OL"]),
                lambda inner: (
                    st.lists(inner, max_size=3)
                    | st.dictionaries(
                        st.sampled_from(
                            [
                                "point",
                                "mode",
                                "state",
                                "value",
                                "unit",
                                "part",
                                "seen",
                                "did",
                                "hertz",
                            ]
                        ),
                        inner,
                        max_size=4,
                    )
                ),
                max_leaves=8,
            ),
        )
    )
    def test_no_document_is_a_traceback(self, document: dict[str, Any]) -> None:
        """Whatever the fields hold, it is answered or refused in one line."""
        document["board"] = "PB-4310-2"
        document.pop("schema", None)
        with mock.patch("loose_rail.cli.diagnose._engine", lambda _: engine()):
            code, out, err = run(document, "--json", "--steps", "1")
        self.assertEqual(code, 0, err)
        self.assertAlmostEqual(
            sum(one["probability"] for one in json.loads(out)["suspects"]["boards"]), 1.0, places=2
        )


class Learned(unittest.TestCase):
    def test_what_closed_jobs_teach_is_shown_and_forgotten(self) -> None:
        """A handed-back job counts, until it is told to be forgotten; the job itself stays."""
        with tempfile.TemporaryDirectory() as folder:
            data = Path(folder) / "shop.sqlite"
            store, _ = shop_files(data)
            events = [
                ev.JobOpened("0007", "Set", "PB-4310-2", "dead", 0.0, ""),
                ev.VerdictAccepted("C21", "C21 dried", 0.99, "confirmed", [], "C21:dried"),
                ev.HandedBack("in the set"),
            ]
            records = [ev.Record(k, "2026-11-02T09:00:00", "b", e) for k, e in enumerate(events, 1)]  # type: ignore[arg-type]
            store.append(1, records)
            store.close()

            def told(*arguments: str) -> str:
                out, err = io.StringIO(), io.StringIO()
                with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
                    main(["--data", str(data), "learned", *arguments])
                return out.getvalue() + err.getvalue()

            self.assertIn("C21:dried: in 1 of 1 jobs", told())
            boards = places_of(data).boards
            boards.mkdir(parents=True, exist_ok=True)
            (boards / "PB-4310-2.json").write_text("{")
            store, book = shop_files(data)
            lesson = lessons(store.jobs(), book.board)[0][1]
            self.assertEqual((lesson.suspect, lesson.topology), ("C21:dried", ""))
            store.close()
            (boards / "PB-4310-2.json").unlink()
            counts = json.loads(told("--json"))[0]["counts"]
            self.assertEqual((counts[0]["count"], counts[0]["of"]), (1, 1))
            self.assertIn("There are 0007", told("--forget", "0008"))
            self.assertIn("Forgotten", told("--forget", "0007"))
            self.assertIn("No closed job", told())
            store, _ = shop_files(data)
            self.assertEqual(len(store.load(1)), 4)
            store.close()


class Words(unittest.TestCase):
    def test_states_as_they_are_said(self) -> None:
        for words, key in (
            ("unplugged, drained", "unplugged"),
            ("cold", "unplugged"),
            ("standby", "standby/cable/direct"),
            ("plugged in, main cable off", "standby/bare/direct"),
            ("standby without the main board, through a series lamp", "standby/bare/lamp60"),
            ("PS-ON jumpered, cable off, lamp", "forced/bare/lamp60"),
            ("switched on", "on/cable/direct"),
            ("forced/bare/direct", "forced/bare/direct"),
        ):
            state = state_in(words, board())
            self.assertEqual(state.key if state else None, key, words)
        hybrid = shipped_board("PB-3920-4")
        for words in ("on, timing board unplugged", "switched on without the timing board"):
            state = state_in(words, hybrid)
            self.assertEqual(state.key if state else None, "on/cable/direct/no-TC", words)
        self.assertIsNone(state_in("tuesday", board()))

    def test_every_state_reads_back_from_its_own_words(self) -> None:
        for board_id in shipped_ids():
            own = shipped_board(board_id)
            for state in live_states(own):
                self.assertEqual(state_in(state.key, own), state)
                if not state.without:
                    self.assertEqual(state_in(state.label, own), state, state.label)

    def test_points_as_they_are_called(self) -> None:
        case = CaseBoard(board(), generic=False)
        for words, mode, live, probe in (
            ("5V standby", None, True, "live.5vs"),
            ("CN2 pin 5", MeterMode.DC_VOLTS, True, "live.12v"),
            ("START", None, True, "live.start"),
            ("PS_ON", None, True, "live.start"),
            ("bulk", MeterMode.DC_VOLTS, True, "live.bulk"),
            ("bulk cap", MeterMode.OHMS, False, "C3.ohms"),
            ("+24 V", MeterMode.DC_VOLTS, True, "live.24v"),
            ("12V rail to ground", MeterMode.OHMS, False, "C27.ohms"),
            ("fuse", MeterMode.OHMS, False, "F1.ohms"),
            ("main fuse", MeterMode.CONTINUITY, False, "F1.ohms"),
            ("C21 lifted", MeterMode.ESR, False, "C21.esr.out"),
            ("Q1 drain to source", MeterMode.OHMS, False, "Q1.ds"),
        ):
            found = probe_of(case, words, mode, live)
            self.assertEqual(found.id if found else None, probe, words)

    def test_on_a_topology_designators_of_the_example_mean_nothing(self) -> None:
        case = CaseBoard(board(), generic=True)
        self.assertEqual(parts_of(case, "C21"), [])
        self.assertIsNone(probe_of(case, "C21", MeterMode.ESR, False))
        reservoir = probe_of(case, "5 V reservoir", MeterMode.ESR, False)
        self.assertEqual(reservoir.part if reservoir else "", "C21")

    def test_every_live_point_of_every_board_is_found_by_its_title(self) -> None:
        for board_id in shipped_ids():
            case = CaseBoard(shipped_board(board_id), generic=False)
            for probe in probes_of(case.board):
                if probe.live:
                    found = probe_of(case, probe.title, None, True)
                    self.assertEqual(found.id if found else "", probe.id, probe.title)

    def test_values_as_they_are_written(self) -> None:
        for entry, mode, form, low in (
            ({"value": 1.7, "unit": "ohm"}, MeterMode.ESR, Form.VALUE, 1.7),
            ({"value": "4.7", "unit": "kohm"}, MeterMode.OHMS, Form.VALUE, 4700.0),
            ({"value": "470 uF"}, MeterMode.CAPACITANCE, Form.VALUE, 470e-6),
            ({"value": "12.1 volts"}, MeterMode.DC_VOLTS, Form.VALUE, 12.1),
            ({"value": "OL"}, MeterMode.OHMS, Form.OPEN, float("inf")),
            ({"behaviour": "open circuit"}, MeterMode.OHMS, Form.OPEN, float("inf")),
            ({"value": "shorted"}, MeterMode.OHMS, Form.SHORT, 0.0),
            ({"value": [0.6, 3.9], "hertz": 1.1}, MeterMode.DC_VOLTS, Form.TICKING, 0.6),
            ({"low": 3, "high": 5, "behaviour": "pulsing"}, MeterMode.DC_VOLTS, Form.TICKING, 3.0),
            ({"low": 3, "high": 5, "behaviour": "noisy"}, MeterMode.DC_VOLTS, Form.RANGE, 3.0),
            ({"value": "short"}, MeterMode.DIODE, Form.VALUE, 0.0),
        ):
            seen = observation_of(entry, mode, Notes())
            self.assertIs(seen.form, form, entry)
            self.assertAlmostEqual(seen.low, low, places=9)
        notes = Notes()
        self.assertEqual(observation_of({"value": -5.02}, MeterMode.DC_VOLTS, notes).low, -5.02)
        self.assertIn("swapped", notes.warnings[0])
        with self.assertRaises(BadEntryError):
            observation_of({"value": True}, MeterMode.OHMS, Notes())

    @given(st.floats(1e-3, 1e7), st.sampled_from(["", "k", "M", "m"]))
    def test_numbers_and_text_mean_the_same(self, number: float, prefix: str) -> None:
        text = f"{number:.6g}"
        if "e" in text:
            return
        as_text = observation_of({"value": f"{text}{prefix}Ω"}, MeterMode.OHMS, Notes())
        as_parts = observation_of(
            {"value": float(text), "unit": f"{prefix}ohm"}, MeterMode.OHMS, Notes()
        )
        self.assertAlmostEqual(as_text.low / as_parts.low, 1.0, places=6)
        self.assertEqual(as_text, read_entry(f"{text}{prefix}Ω", "Ω").observation)

    def test_settings_and_volts_in_words(self) -> None:
        self.assertIs(mode_in("Diode test"), MeterMode.DIODE)
        self.assertIs(mode_in("ESR at 100 kHz"), MeterMode.ESR)
        self.assertIs(mode_in("VAC"), MeterMode.AC_VOLTS)
        self.assertIsNone(mode_in("colour"))
        for label, volts in (("+12V", 12.0), ("3V3", 3.3), ("5VSB 5.1 V", 5.1), ("12V_A", None)):
            self.assertEqual(volts_in(label), volts, label)

    def test_a_legend_is_a_board(self) -> None:
        """Labels with volts, standby and on, and a wake sense that is not known."""
        notes = Notes()
        legend = [
            {"connector": "CN1", "pins": [{"pin": 1, "label": "PWR", "on": 3.3}]},
            {"connector": "CN1", "pins": [{"pin": 2, "label": "STB", "standby": 5.2}]},
            {"connector": "CN1", "pins": [{"pin": 3, "label": "VM", "on": 16.0}]},
        ]
        case = board_of({"topology": "plasma", "legend": legend}, HERE.parent, notes)
        self.assertTrue(case.generic)
        volts = {rail.id: rail.volts for rail in case.board.rails}
        self.assertEqual(volts["standby"], 5.2)
        self.assertEqual(volts["main"], 16.0)
        self.assertEqual(case.board.wake.sense, "unknown")
        self.assertFalse(any("forced" in c.state.key for c in candidates_of(case.board)))
        self.assertTrue(any("never jumper" in warning for warning in notes.warnings))


if __name__ == "__main__":
    unittest.main()
