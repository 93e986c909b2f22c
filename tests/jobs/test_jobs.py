"""Jobs as events: the fold, undo and redo, the codec, the session's refusals, unsaved work."""

import unittest
from typing import Any

from hypothesis import given, settings, strategies as st

from loose_rail.diagnosis.inference.short_excluded import proof_keys
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import extended, fold
from loose_rail.jobs.observations import observation_of, reading_event
from loose_rail.kernel.entry import read_entry
from loose_rail.kernel.errors import JobError, StoreLockedError, UnsafeStepError
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power, state_of
from tests.fakes.store import MemoryStore
from tests.shared import demo_records, demo_session, table

LAMP = BoardState(Power.STANDBY, False, 60)

TYPED = st.sampled_from(
    ["4.98", "0.6..3.9@1.1", "0.6..3.9", "OL", "short", "1k2", ">400k", ">400k rising", "rising"]
)
EVENTS = st.one_of(
    st.builds(ev.NoteWritten, st.sampled_from(ev.STAGES), st.text(max_size=20)),
    st.builds(ev.BulkMeasured, st.floats(-400, 400)),
    st.builds(ev.ProbeSkipped, st.just("C21.esr")),
    st.builds(ev.StageEntered, st.sampled_from(ev.STAGES)),
    st.builds(ev.StateConfirmed, st.sampled_from(["unplugged", LAMP.key])),
    st.builds(ev.LampSeen, st.just("dark")),
    st.builds(ev.DetailNoted, st.sampled_from(["number_label", "customer"]), st.text(max_size=9)),
    st.builds(ev.PhotoAdded, st.sampled_from("abc"), st.just("step:1"), st.text(max_size=9)),
    st.builds(ev.PhotoPointed, st.just("a"), st.floats(0, 1), st.floats(0, 1), st.just("C21")),
    st.builds(
        ev.ClueNoted,
        st.sampled_from(["removed", "unplugged"]),
        st.sampled_from(["C21", "MB"]),
        st.sampled_from(["good", "helped"]),
    ),
    st.builds(ev.WakeFound, st.sampled_from(["high", "low"]), st.floats(0, 5), st.floats(0, 5)),
    st.builds(ev.SoakStarted, st.just(4.0), st.just(30.0)),
    st.builds(ev.SoakLooked, st.booleans(), st.just("it flickers")),
    st.builds(ev.SoakEnded),
    st.builds(ev.ItemTicked, st.sampled_from(["screws", "sound"]), st.booleans()),
    TYPED.map(
        lambda text: (
            reading_event("C21.ohms", UNPLUGGED, read_entry(text, "Ω").observation, "m", text)
            if "@" not in text
            else reading_event("live.5vs", LAMP, read_entry(text, "V").observation, "m", text)
        )
    ),
)


def log(events: list[ev.AnyEvent]) -> list[ev.Record]:
    start = demo_records()
    return start + [
        ev.Record(len(start) + k, f"2026-11-03T00:00:{k % 60:02d}", "bench 1", event)
        for k, event in enumerate(events, start=1)
    ]


class Codec(unittest.TestCase):
    @given(EVENTS)
    def test_events_read_back_as_written(self, event: ev.AnyEvent) -> None:
        self.assertEqual(ev.decode_event(ev.encode_event(event)), event)

    @given(TYPED)
    def test_observations_survive_the_log(self, text: str) -> None:
        unit = "V" if "@" in text else "Ω"
        seen = read_entry(text, unit).observation
        event = reading_event("x", UNPLUGGED, seen, "m", text)
        back = observation_of(ev.decode_event(ev.encode_event(event)))  # type: ignore[arg-type]
        self.assertEqual(back.text(), seen.text())

    def test_damage_and_newer_versions_are_refused_in_words(self) -> None:
        for text, version in (("{", 1), ('{"kind":"nonsense"}', 1), ('{"kind":"note_written"}', 1)):
            with self.assertRaises(JobError):
                ev.decode_event(text, version)
        with self.assertRaises(JobError) as caught:
            ev.decode_event("{}", 99)
        self.assertIn("99", caught.exception.message)
        with self.assertRaises(JobError):
            ev.decode_event('{"kind":"bulk_measured","volts":1,"surprise":2}')


class Fold(unittest.TestCase):
    def test_what_the_lamp_did_before_a_repair_says_nothing_of_the_board_after_it(self) -> None:
        before: list[ev.AnyEvent] = [ev.LampSeen("bright"), ev.PartFitted("C21")]
        state = fold(log(before))
        self.assertEqual((state.lamp_seen, state.lamp_last, state.lamps), ("", "", ()))
        self.assertEqual(fold(log(before[:1])).lamps[-1], "bright")

    @settings(max_examples=60)
    @given(st.lists(EVENTS, max_size=12))
    def test_folding_in_two_parts_is_folding_at_once(self, events: list[ev.AnyEvent]) -> None:
        records = log(events)
        start = len(demo_records())
        state = fold(records[:start])
        for end in range(start + 1, len(records) + 1):
            state = extended(state, records[:end])
            self.assertEqual(state, fold(records[:end]))
        for target in (start, start + len(events) // 2 + 1):
            taken = [*records, ev.Record(len(records) + 1, "x", "b", ev.Voided(target))]
            self.assertEqual(extended(state, taken), fold(taken))
        numbers = [reading.number for reading in fold(records).readings]
        self.assertEqual(numbers, list(range(1, len(numbers) + 1)))

    @settings(max_examples=60)
    @given(st.lists(EVENTS, max_size=8), EVENTS)
    def test_an_event_taken_back_leaves_no_trace_but_its_line(
        self, events: list[ev.AnyEvent], last: ev.AnyEvent
    ) -> None:
        if isinstance(last, (ev.StageEntered, ev.StateConfirmed)):
            return
        records = log([*events, last])
        records.append(
            ev.Record(len(records) + 1, "later", "bench 1", ev.Voided(records[-1].sequence))
        )
        before, after = fold(log(events)), fold(records)
        for name in ("notes", "skipped", "bulk_volts", "lamp_seen", "stage", "board_state"):
            self.assertEqual(getattr(after, name), getattr(before, name), name)
        self.assertEqual(after.live_readings, before.live_readings)
        added = int(isinstance(last, ev.ReadingTaken))
        self.assertEqual(len(after.readings), len(before.readings) + added)

    def test_pulling_the_plug_makes_the_bulk_unknown(self) -> None:
        state = fold(log([ev.StateConfirmed(LAMP.key), ev.StateConfirmed("unplugged")]))
        self.assertIsNone(state.bulk_volts)
        self.assertEqual(fold(demo_records()).bulk_volts, 1.4)

    def test_a_log_without_its_opening_is_refused(self) -> None:
        for records in ([], demo_records()[1:]):
            with self.assertRaises(JobError):
                fold(records)


class Sessions(unittest.TestCase):
    def take(self, session: Any, text: str) -> None:
        offer = session.reviewed.step.offer
        if offer.candidate.state != session.state.board_state:
            session.confirm_state(UNPLUGGED)  # a jumper is never moved with the plug in
            session.confirm_state(offer.candidate.state)
        if offer.candidate.probe.mode.needs_dead_board and not session.drained:
            session.measure_bulk(1.2)
        seen = read_entry(text, offer.candidate.probe.unit).observation
        session.take_reading(offer.candidate, seen, "typed", text)

    @settings(max_examples=15)
    @given(st.lists(st.sampled_from(["take", "undo", "redo", "skip"]), max_size=10))
    def test_undo_and_redo_are_inverse_whatever_came_before(self, moves: list[str]) -> None:
        session = demo_session()
        for move in moves:
            if move == "take" and session.reviewed.step is not None:
                unit = session.reviewed.step.offer.candidate.probe.unit
                self.take(session, "5" if unit == "V" else "OL")
            elif move == "skip" and session.reviewed.step is not None:
                session.skip(session.reviewed.step.offer.candidate.probe)
            elif move == "undo" and not session.state.undo_words.startswith("bulk reading"):
                session.undo()
            elif move == "redo":
                session.redo()
        shares = [s.probability for s in session.reviewed.assessment.suspects]
        readings = session.state.live_readings
        if session.undo():
            self.assertTrue(session.redo())
        self.assertEqual([s.probability for s in session.reviewed.assessment.suspects], shares)
        self.assertEqual(session.state.live_readings, readings)
        again = demo_session(MemoryStore(list(session.records)))
        self.assertEqual(again.state, session.state)

    def test_unsafe_commands_are_refused_and_leave_nothing_behind(self) -> None:
        session = demo_session()
        count = len(session.records)
        direct = state_of("standby/cable/direct")
        with self.assertRaises(UnsafeStepError):
            session.confirm_state(direct)
        live = table().candidates[table().index(f"live.5vs@{LAMP.key}")]
        with self.assertRaises(UnsafeStepError):
            session.take_reading(live, read_entry("5", "V").observation, "typed")
        session.confirm_state(LAMP)
        cold = table().candidates[table().index("C21.esr@unplugged")]
        with self.assertRaises(UnsafeStepError):
            session.take_reading(cold, read_entry("0.1", "Ω").observation, "typed")
        with self.assertRaises(UnsafeStepError):
            session.measure_bulk(3.0)
        self.assertEqual(len(session.records), count + 1)

    def test_mains_without_a_lamp_opens_up_when_bulk_and_bridge_are_no_short(self) -> None:
        session = demo_session()
        session.measure_bulk(1.0)
        for key in proof_keys(session.board):
            self.assertFalse(session.facts.primary_short_excluded, key)
            one = table().candidates[table().index(key)]
            typed = ">400k rising" if one.probe.unit == "Ω" else "0.48"
            session.take_reading(one, read_entry(typed, one.probe.unit).observation, "typed")
        self.assertTrue(session.facts.primary_short_excluded)
        session.undo()
        self.assertFalse(session.facts.primary_short_excluded)

    def test_a_failed_save_keeps_the_work_and_is_tried_again(self) -> None:
        store = MemoryStore(demo_records())
        session = demo_session(store)
        before = len(store.logs[1])
        store.error = StoreLockedError("held", "wait")
        session.record(ev.NoteWritten("cold_checks", "first"))
        session.record(ev.NoteWritten("cold_checks", "second"))
        self.assertIn("held", session.save_problem)
        self.assertEqual(len(store.logs[1]), before)
        self.assertEqual(len(session.state.notes), 5)
        store.error = None
        session.retry_save()
        self.assertEqual(session.save_problem, "")
        self.assertEqual([r.sequence for r in store.logs[1]], list(range(1, before + 3)))

    def test_confirmed_states_are_not_undone(self) -> None:
        session = demo_session()
        session.record(ev.NoteWritten("cold_checks", "x"))
        session.confirm_state(LAMP)
        self.assertEqual(session.undo(), "note")
        self.assertEqual(session.state.board_state, LAMP)
