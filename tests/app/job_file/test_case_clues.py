"""What a job file tells beside its readings, as people write it: each line becomes the clue that is
meant and moves the suspects the right way, or is left with a reason; never a third thing."""

import unittest
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.app.job_file.board_of import CaseBoard, board_of
from loose_rail.app.job_file.clues_of import Clues, clues_of
from loose_rail.app.job_file.notes import Notes
from loose_rail.boards.load import shipped_board
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.model.table import PredictionTable

DEMO, MONITOR = "PB-4310-2", "PB-2211-1"


@cache
def table(board_id: str = DEMO) -> PredictionTable:
    return engine_for(shipped_board(board_id)).table


def told(document: dict[str, Any], board_id: str = DEMO) -> tuple[Clues, Notes]:
    notes = Notes()
    case = CaseBoard(shipped_board(board_id), generic=False)
    return clues_of(case, table(board_id), document, notes), notes


def gain(clue: Clue, part: str, board_id: str = DEMO) -> float:
    """How much likelier the clue makes a part alone, as log-odds against all else."""
    rows = table(board_id).rows
    own = np.array([{f.ref for f in row.faults} == {part} for row in rows])
    likely = np.exp(clue.log)
    return float(np.log(likely[own].mean() / likely[~own].mean()))


ACTIONS = (
    ({"did": "replaced", "part": "C21", "helped": True}, "C21", True),
    (
        {"action": "fitted a new one", "part": "C21", "result": "no change, same as before"},
        "C21",
        False,
    ),
    ({"did": "swapped", "place": "5 V reservoir", "result": "works again"}, "C21", True),
    ({"did": "removed and measured", "part": "Q1", "result": "shorted"}, "Q1", True),
    ({"did": "lifted a leg", "part": "D9", "measured": "ok, fine"}, "D9", False),
    ({"did": "desoldered", "part": "C27", "outcome": "dried out"}, "C27", True),
    ({"did": "unplugged", "part": "MB", "result": "rail came back up"}, "MB", True),
    ({"what": "disconnected", "part": "MB", "result": "nothing, still ticking"}, "MB", False),
)

LEFT = (
    ({"did": "replaced", "part": "C21"}, "whether the new part helped"),
    ({"did": "removed", "part": "C21", "result": "hm"}, "good or bad"),
    ({"did": "unplugged", "part": "MB"}, "whether the rail came back"),
    ({"did": "polished", "part": "C21", "result": "better"}, "known actions are"),
    ({"did": "replaced", "part": "Q999", "helped": True}, "no part known here"),
    ({"did": "replaced", "helped": True}, "names no part"),
    ({"did": "lamp in line", "result": "purple"}, "how the lamp behaved"),
)

LAMPS = (
    ("full and steady, bright", "BD1", True),
    ("a brief flash, then dark", "BD1", False),
)


class Actions(unittest.TestCase):
    def test_what_was_done_moves_its_part_the_right_way(self) -> None:
        for entry, part, up in ACTIONS:
            clues, notes = told({"actions": [entry]})
            self.assertEqual((len(clues.clues), notes.not_used), (1, []), entry)
            moved = gain(clues.clues[0], part)
            self.assertTrue(moved > 0.3 if up else moved < -0.3, f"{entry}: {moved:.2f}")

    def test_what_is_not_understood_is_left_with_its_reason(self) -> None:
        for entry, reason in LEFT:
            clues, notes = told({"actions": [entry]})
            self.assertEqual(clues.clues, (), entry)
            self.assertIn(reason, notes.not_used[0].why, entry)

    def test_the_lamp_s_behaviour_in_words(self) -> None:
        for words, part, up in LAMPS:
            clues, notes = told({"actions": [{"did": "60 W lamp in line", "result": words}]})
            self.assertEqual(notes.not_used, [], words)
            moved = gain(clues.clues[0], part)
            self.assertTrue(moved > 0.3 if up else moved < 0.0, f"{words}: {moved:.2f}")
        for words in ("pulses once a second", "glows dimly"):
            clues, _ = told({"actions": [{"did": "bulb limiter", "pattern": words}]})
            self.assertEqual(len(clues.clues), 1, words)

    def test_an_adapter_needs_no_lamp_and_says_so(self) -> None:
        clues, notes = told({"actions": [{"did": "lamp", "result": "bright"}]}, MONITOR)
        self.assertEqual(clues.clues, ())
        self.assertIn("adapter", notes.not_used[0].why)

    def test_outlet_and_reset_become_facts_of_the_history(self) -> None:
        for entry, key in (
            ({"did": "other outlet", "result": "the first one was dead"}, "history:outlet_dead"),
            ({"did": "another cord", "result": "no difference"}, "history:outlet_tried"),
            ({"did": "half minute reset", "result": "yes, it starts"}, "history:reset_helped"),
            ({"did": "reset", "result": "still dead"}, "history:reset_tried"),
            ("outlet tried", "history:outlet_tried"),
        ):
            clues, notes = told({"actions": [entry]})
            self.assertEqual([c.key for c in clues.clues], [key], (entry, notes.not_used))


class WordsOfTheFile(unittest.TestCase):
    def test_histories_in_every_shape(self) -> None:
        for history, keys in (
            ({"age_years": 11}, {"history:old"}),
            ({"years": "eleven"}, {"history:old"}),
            ({"years": "umpteen"}, set()),
            ({"arrived": "gradual"}, {"history:gradual"}),
            ({"surge": True, "wet": False, "dropped": None}, {"history:surge"}),
            ({"hours": 31_000}, {"history:old"}),
            ({"hours": 900}, set()),
            (["dropped", {"hot": True}], {"history:dropped", "history:hot"}),
            ("repaired before", {"history:repaired_before"}),
        ):
            clues, _ = told({"history": history})
            self.assertEqual({c.key for c in clues.clues}, keys, history)

    def test_symptoms_by_key_and_by_word_with_a_rate_or_without(self) -> None:
        clues, notes = told(
            {
                "symptoms": [
                    {"kind": "ticks", "hertz": 1.2},
                    "no_light",
                    {"words": "it hums", "rate": "often"},
                    "old",
                    "glows in the moonlight",
                ]
            }
        )
        self.assertEqual({s.kind: s.hertz for s in clues.symptoms}["ticks"], 1.2)
        self.assertLessEqual({"ticks", "no_light", "hum"}, {s.kind for s in clues.symptoms})
        self.assertIn("history:old", {c.key for c in clues.clues})
        reasons = " ".join(one.why for one in notes.not_used)
        self.assertIn("a rate is a number", reasons)
        self.assertIn("no such symptom", reasons)

    def test_findings_by_designator_job_or_letter(self) -> None:
        for entry, part in (
            ("C21 domed", "C21"),
            ({"part": "BD1", "seen": "cracked"}, "BD1"),
            ({"where": "bulk capacitor", "finding": ["bulged", "leaking"]}, "C3"),
            ("F1: blackened", "F1"),
        ):
            clues, notes = told({"findings": [entry]})
            self.assertEqual(len(clues.clues), 1, (entry, notes.not_used))
            self.assertGreater(gain(clues.clues[0], part), 0.5, entry)
        nothing, _ = told({"findings": ["nothing seen"]})
        self.assertEqual(len(nothing.clues), 1)
        _, notes = told({"findings": [{"part": "C21", "seen": "handsome"}, "Zebra burnt"]})
        self.assertEqual(len(notes.not_used), 2)

    def test_a_letter_on_an_unknown_board_means_each_part_of_its_kind(self) -> None:
        notes = Notes()
        given = {"topology": "standby flyback, main flyback", "rails": ["5VSB", "12V"]}
        case = board_of(given, Path("."), notes)
        self.assertTrue(case.generic)
        own = engine_for(case.board).table
        clues = clues_of(case, own, {"findings": ["Q99 burnt"]}, notes).clues
        self.assertIn("one of", clues[0].words)
        switches = [p.ref for p in case.board.components if p.kind == "mosfet_n"]
        for ref in switches:
            rows = np.array([row.part == ref for row in own.rows])
            self.assertGreater(np.exp(clues[0].log)[rows].mean(), np.exp(clues[0].log)[0], ref)

    def test_what_can_not_be_reached_is_left_out_of_the_plan(self) -> None:
        clues, notes = told({"skipped": ["C21.esr", {"part": "Q1"}, "bridge", "the moon"]})
        self.assertIn("C21.esr", clues.skipped)
        self.assertTrue(any(probe.startswith("Q1.") for probe in clues.skipped))
        self.assertTrue(any(probe.startswith("BD1.") for probe in clues.skipped))
        self.assertEqual([one.what for one in notes.not_used], ["the moon"])

    def test_complaints_as_text_list_and_objects(self) -> None:
        for complaint in (
            "It ticks and never lights",
            ["It ticks", {"text": "never lights"}],
        ):
            clues, _ = told({"complaint": complaint})
            self.assertIn("ticks", {s.kind for s in clues.symptoms}, complaint)
        _, notes = told({"complaint": [3, {"no": "text"}], "findings": 7, "symptoms": 2.5})
        self.assertEqual(len(notes.not_used), 4)


ANYTHING = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=12),
    lambda inner: (
        st.lists(inner, max_size=3)
        | st.dictionaries(
            st.sampled_from(["did", "part", "result", "seen", "kind", "hertz", "text", "age", "x"]),
            inner,
            max_size=3,
        )
    ),
    max_leaves=6,
)
FIELDS = ("complaint", "symptoms", "history", "findings", "actions", "skipped")


class AnythingAtAll(unittest.TestCase):
    @settings(max_examples=120)
    @given(st.dictionaries(st.sampled_from(FIELDS), ANYTHING, max_size=4))
    def test_no_shape_is_a_traceback_and_every_clue_is_a_likelihood(
        self, document: dict[str, Any]
    ) -> None:
        clues, notes = told(document)
        for clue in clues.clues:
            self.assertEqual(clue.log.shape, (len(table().rows),))
            self.assertTrue(np.isfinite(clue.log).all(), clue.key)
            self.assertTrue(clue.words and clue.reason)
        self.assertTrue(all(one.why for one in notes.not_used))
