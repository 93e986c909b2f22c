"""Store and simulated meter under hammering: random work against a model, lines of rubbish."""

import math
import sqlite3
import tempfile
import unittest
from contextlib import closing
from pathlib import Path

from hypothesis import HealthCheck, given, settings, strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from loose_rail.boards.faults import fault_from_key
from loose_rail.boards.load import shipped_board
from loose_rail.boards.probes import probes_of
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.jobs.summary import find_texts, summary_of
from loose_rail.kernel.errors import StoreError, StoreLockedError
from loose_rail.practice.bench import SimulatedBench
from loose_rail.practice.meter_server import OVERLOAD, ScpiMeter, VirtualClock
from loose_rail.storage.store import SqliteStore
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.shared import the

WORDS = st.text(max_size=40)
EVENTS = st.one_of(
    st.builds(ev.NoteWritten, st.sampled_from(ev.STAGES), WORDS),
    st.builds(ev.StageEntered, st.sampled_from(ev.STAGES)),
    st.builds(ev.BulkMeasured, st.floats(-400, 400)),
    st.builds(ev.ProbeSkipped, WORDS),
    st.builds(ev.LampSeen, st.sampled_from(["dark", "bright"])),
)
SPOILERS = (
    "DELETE FROM summaries",
    "UPDATE summaries SET payload = '{}' WHERE job % 2",
    "UPDATE summaries SET texts = '[]'",
    "UPDATE summaries SET version = version + 1",
    "UPDATE summaries SET events = events + 1",
)
OPENED = ev.JobOpened("0001", "A made-up set", "PB-4310-2", "Dead.", 10.0, "EUR")


class StoreMachine(RuleBasedStateMachine):
    """A store beside a dictionary; both must hold the same after anything."""

    @initialize()
    def open(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.path = Path(self.folder.name) / "shop.sqlite"
        self.store = SqliteStore(self.path, 20)
        self.model: dict[int, list[ev.Record]] = {}

    def record(self, job: int, event: ev.AnyEvent) -> ev.Record:
        number = len(self.model.get(job, ())) + 1
        return ev.Record(number, f"2026-11-05T10:00:{number % 60:02d}.000+00:00", "bench 1", event)

    @rule()
    def new_job(self) -> None:
        number = self.store.new_job_number()
        assert number not in self.model
        first = self.record(number, OPENED)
        self.store.append(number, [first])
        self.model[number] = [first]

    @rule(events=st.lists(EVENTS, min_size=1, max_size=5))
    def append(self, events: list[ev.AnyEvent]) -> None:
        if not self.model:
            return
        job = max(self.model)
        records = []
        for event in events:
            record = self.record(job, event)
            self.model[job].append(record)
            records.append(record)
        self.store.append(job, records)

    @rule(event=EVENTS)
    def append_with_its_summary(self, event: ev.AnyEvent) -> None:
        """As the window writes: the summary goes into the transaction of its event."""
        if not self.model:
            return
        job = max(self.model)
        self.model[job].append(self.record(job, event))
        records = self.model[job]
        self.store.append(job, records[-1:], summary_of(job, records), find_texts(records))

    @rule(spoil=st.sampled_from(SPOILERS))
    def spoil_the_summaries(self, spoil: str) -> None:
        """They are never the truth: whatever becomes of them, the events say it again."""
        with closing(sqlite3.connect(self.path, isolation_level=None)) as other:
            other.execute(spoil)

    @rule(event=EVENTS)
    def append_twice_the_same_number(self, event: ev.AnyEvent) -> None:
        if not self.model:
            return
        job = min(self.model)
        taken = ev.Record(len(self.model[job]), "2026-11-05T11:00:00", "bench 2", event)
        fresh = self.record(job, event)
        try:
            self.store.append(job, [fresh, taken])
        except StoreError as error:
            assert "another window" in error.message
        else:
            raise AssertionError("two events with one number were accepted")

    @rule(event=EVENTS)
    def while_another_program_holds_it(self, event: ev.AnyEvent) -> None:
        if not self.model:
            return
        job = max(self.model)
        with closing(sqlite3.connect(self.path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            try:
                self.store.append(job, [self.record(job, event)])
            except StoreLockedError:
                pass
            else:
                raise AssertionError("written into a locked file")
            assert self.store.load(job) == self.model[job]  # reading goes on
            other.execute("ROLLBACK")

    @rule()
    def reopen(self) -> None:
        self.store.close()
        self.store = SqliteStore(self.path, 20)

    @invariant()
    def both_hold_the_same(self) -> None:
        if not hasattr(self, "model"):
            return
        told = {one.job: one for one in self.store.jobs()}
        assert told == {job: summary_of(job, records) for job, records in self.model.items()}
        texts = {job: find_texts(records) for job, records in self.model.items()}
        assert self.store.texts(set(self.model)) == texts
        for job, records in self.model.items():
            loaded = self.store.load(job)
            assert loaded == records
            assert fold(loaded) == fold(records)

    def teardown(self) -> None:
        if hasattr(self, "store"):
            self.store.close()
            self.folder.cleanup()


StoreMachine.TestCase.settings = settings(
    max_examples=15,
    stateful_step_count=20,
    suppress_health_check=[HealthCheck.too_slow],
)
StoreAgainstAModel = StoreMachine.TestCase

COMMANDS = st.sampled_from(
    [
        *("*IDN?", "*RST", "*CLS", "SYST:ERR?", "READ?", "FETC?", "MEAS:RES?", "CONF:DIOD"),
        *("CONF:RES", "CONF:VOLT:DC", "CONF:VOLT:AC", "CONF:CAP", "CONF:ESR", "CONF:CONT"),
        *("BENCH:STATE unplugged", "BENCH:STATE standby/cable/lamp60", "BENCH:STATE moon"),
        *("BENCH:PROBE 5VS,GND,standby.out", "BENCH:PROBE 5VA,GND,", "BENCH:PROBE X,Y,"),
        *("BENCH:PROBE HV,HGND,bulk", "BENCH:PROBE L_F,N_IN,lifted:F1", "BENCH:PROBE ,,nowhere"),
        *("BENCH:FIT C21", "BENCH:FIT nothing", "BENCH:DANCE", "", "\x00\x01", "conf:res"),
    ]
)


def meter(board_id: str = "PB-4310-2", *faults: str) -> ScpiMeter:
    board = shipped_board(board_id)
    clock = VirtualClock()
    found = [fault_from_key(board, key) for key in faults]
    return ScpiMeter(SimulatedBench(board, found, clock), clock.sleep)


class Scpi(unittest.TestCase):
    shared = meter("PB-4310-2", "C21:dried:1")

    @given(st.lists(st.one_of(COMMANDS, st.text(max_size=20)), max_size=12))
    @settings(max_examples=60)
    def test_any_lines_get_an_answer_in_form_or_an_entry_in_the_error_queue(
        self, lines: list[str]
    ) -> None:
        self.shared.handle("*RST")
        for line in lines:
            before = len(self.shared.errors)
            answer = self.shared.handle(line)
            if answer is None:
                continue
            self.assertTrue(answer.isascii() and "\n" not in answer)
            if line.upper().strip() in ("READ?", "FETC?", "MEAS:RES?"):
                self.assertTrue(math.isfinite(float(answer)))
            self.assertGreaterEqual(len(self.shared.errors), before - 1)
        while not the(self.shared.handle("SYST:ERR?")).startswith("0,"):
            pass

    def test_every_probe_of_three_boards_reads_in_its_state(self) -> None:
        configure = {
            MeterMode.OHMS: "CONF:RES",
            MeterMode.DIODE: "CONF:DIOD",
            MeterMode.ESR: "CONF:ESR",
            MeterMode.CAPACITANCE: "CONF:CAP",
            MeterMode.DC_VOLTS: "CONF:VOLT:DC",
            MeterMode.AC_VOLTS: "CONF:VOLT:AC",
        }
        for board_id in ("PB-2211-1", "PB-4310-2", "PB-2408-1"):
            board = shipped_board(board_id)
            one = meter(board_id)
            for probe in probes_of(board)[::5]:
                state = live_states(board)[0].key if probe.live else "unplugged"
                one.handle(f"BENCH:STATE {state}")
                where = f"lifted:{probe.part}" if probe.lifted else probe.observable
                one.handle(f"BENCH:PROBE {probe.plus},{probe.minus},{where}")
                one.handle(configure[probe.mode])
                answer = one.handle("READ?")
                self.assertTrue(math.isfinite(float(answer)), f"{probe.id} {answer}")  # type: ignore[arg-type]
                self.assertEqual(one.errors, [], probe.id)

    def test_dead_board_settings_overload_on_a_powered_board(self) -> None:
        one = meter()
        one.handle("BENCH:STATE standby/cable/lamp60")
        one.handle("BENCH:PROBE 5VS,GND,standby.out")
        for command in ("CONF:RES", "CONF:DIOD", "CONF:ESR", "CONF:CAP"):
            one.handle(command)
            self.assertEqual(one.handle("READ?"), OVERLOAD)
        one.handle("CONF:VOLT:DC")
        self.assertAlmostEqual(float(one.handle("READ?")), 5.0, delta=0.1)  # type: ignore[arg-type]

    def test_a_fitted_part_is_a_sound_one(self) -> None:
        one = meter("PB-4310-2", "C21:dried:1")
        one.handle("BENCH:PROBE 5VA,GND,")
        one.handle("CONF:ESR")
        before = float(one.handle("READ?"))  # type: ignore[arg-type]
        one.handle("BENCH:FIT C21")
        self.assertLess(float(one.handle("READ?")), 0.1 * before)  # type: ignore[arg-type]


if __name__ == "__main__":
    unittest.main()
