"""The strip-down ledger: lines read, steps in order, everything accounted for."""

import unittest

from hypothesis import given, strategies as st

from loose_rail.jobs import events as ev
from loose_rail.jobs.disassembly import (
    CAUTIONS,
    GROUPS,
    MOST_COUNT,
    account_of,
    read_step,
    steps_of,
    totals_of,
)
from loose_rail.jobs.fold import fold, undo_target, voided_sequences
from loose_rail.kernel.errors import BadEntryError

OPENED = ev.JobOpened("1", "Set", "PB-4310-2", "dead", 0.0, "")
NOUNS = {
    "fastener": ["screw", "M4", "clips", "nuts", "M2.5"],
    "connector": ["cable", "ribbon", "plug"],
    "lead": ["hidden lead", "ground lead", "wire"],
    "foil": ["foil", "tape", "shield"],
    "trim": ["bezel", "bracket", "frame"],
    "button board": ["button board", "speaker"],
}
PLACES = st.text("abcdefghijklmnopqrstuvwxyz", min_size=1, max_size=9)


def records(*events: ev.AnyEvent) -> list[ev.Record]:
    log = [OPENED, *events]
    return [ev.Record(k, "2026-11-02T09:00:00", "b", one) for k, one in enumerate(log, start=1)]


class Lines(unittest.TestCase):
    CASES = (
        ("4 long M4 stand", (4, "long M4", "stand", "fastener")),
        ("12x screws round the edge", (12, "screws", "round the edge", "fastener")),
        ("four clips top", (4, "clips", "top", "fastener")),
        ("back cover", (1, "back cover", "", "trim")),
        ("two foil tapes over the tuner", (2, "foil tapes", "over the tuner", "foil")),
        ("hidden lead button board", (1, "hidden lead", "button board", "lead")),
        ("button board glued right", (1, "button board", "glued right", "button board")),
        ("gizmo under the fan", (1, "gizmo", "under the fan", "other")),
    )

    def test_lines_as_they_are_typed(self) -> None:
        for line, wanted in self.CASES:
            one = read_step(line)
            self.assertEqual((one.count, one.kind_words, one.place, one.group), wanted, line)

    def test_a_connector_keeps_latch_pin_and_colours(self) -> None:
        one = read_step("cable CN2 latch towards the edge, pin 1 left, red black black")
        self.assertEqual(one.latch, "latch towards the edge")
        self.assertEqual(one.key_pin, "pin 1 left")
        self.assertEqual(one.colours, "red black black")
        self.assertEqual(one.place, "CN2")
        self.assertEqual(read_step("ribbon CN7 flip latch").latch, "flip latch")
        self.assertEqual(read_step("3 red screws left").colours, "")

    def test_what_can_not_be_counted_is_refused_with_a_form_that_works(self) -> None:
        for line in ("", "   ", "0 screws", f"{MOST_COUNT + 1} screws"):
            with self.assertRaises(BadEntryError) as caught:
                read_step(line)
            self.assertTrue(caught.exception.hint)

    @given(
        st.integers(1, MOST_COUNT),
        st.sampled_from([(g, n) for g, names in NOUNS.items() for n in names]),
        st.sampled_from(["", "long", "short", "black"]),
        PLACES,
    )
    def test_count_kind_and_place_survive(
        self, count: int, thing: tuple[str, str], word: str, place: str
    ) -> None:
        group, noun = thing
        kind = f"{word} {noun}".strip()
        one = read_step(f"{count} {kind} q{place}")
        self.assertEqual((one.count, one.kind_words, one.group), (count, kind, group))
        self.assertEqual(one.place, f"q{place}")

    @given(st.text(max_size=60))
    def test_any_line_is_read_or_refused(self, line: str) -> None:
        try:
            one = read_step(line)
        except BadEntryError as error:
            self.assertTrue(error.hint)
            return
        self.assertTrue(1 <= one.count <= MOST_COUNT and one.kind_words)
        self.assertIn(one.group, {*dict(GROUPS), "other"})

    def test_cautions_are_for_groups_that_exist(self) -> None:
        self.assertLessEqual(set(CAUTIONS), set(dict(GROUPS)))


class Accounts(unittest.TestCase):
    @given(st.lists(st.tuples(st.integers(1, 9), st.sampled_from(NOUNS["fastener"])), max_size=12))
    def test_totals_and_order(self, came_off: list[tuple[int, str]]) -> None:
        log = records(*(ev.StripStep(n, kind, "", "fastener") for n, kind in came_off))
        steps = fold(log).steps
        self.assertEqual([(s.event.count, s.event.kind_words) for s in steps], came_off)
        self.assertEqual([s.number for s in steps], list(range(1, len(came_off) + 1)))
        self.assertEqual(sum(n for _, n in totals_of(steps)), sum(n for n, _ in came_off))

    @given(
        st.lists(st.tuples(st.integers(1, 9), st.integers(0, 9)), min_size=1, max_size=10),
        st.integers(0, 3),
    )
    def test_what_is_missing_is_what_did_not_go_back(
        self, steps: list[tuple[int, int]], left: int
    ) -> None:
        """Missing parts over all steps are the difference of what came off and what went back."""
        events: list[ev.AnyEvent] = [ev.StripStep(n, "screw", "", "fastener") for n, _ in steps]
        back = [min(count, fitted) for count, fitted in steps]
        events += [ev.PutBack(k, n) for k, n in enumerate(back, start=1)]
        events += [ev.LeftOver(1, "screw")] * left
        state = fold(records(*events))
        missing = sum(step.missing for step in state.steps)
        self.assertEqual(missing, sum(n for n, _ in steps) - sum(back))
        said = account_of(state.steps, state.left_over)
        self.assertEqual(len(said), sum(s.missing > 0 for s in state.steps) + left)
        belongs = [words for words in said if "belongs to step" in words]
        self.assertEqual(len(belongs), left if missing else 0)

    def test_undo_takes_a_step_away_and_the_rest_keeps_its_order(self) -> None:
        log = records(
            ev.StripStep(4, "M4", "stand", "fastener"), ev.StripStep(1, "back", "", "trim")
        )
        target = undo_target(log)
        assert target is not None
        log.append(ev.Record(len(log) + 1, "t", "b", ev.Voided(target.sequence)))
        steps = steps_of(log, voided_sequences(log))
        self.assertEqual([step.words for step in steps], ["4 M4 · stand"])
        self.assertIn("1 back", fold(log).redo_words)


if __name__ == "__main__":
    unittest.main()
