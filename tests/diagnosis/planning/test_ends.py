"""How a job ends: a sound supply, a part bad by itself, a load that was never read without."""

import unittest

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.app.job_file.log.deeds import hours_of
from loose_rail.boards.kinds.kind import Effect
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.soak import clean_share
from loose_rail.diagnosis.evidence.soft_evidence import finding_clue, located_clue, works_clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.explain.supply_words import supply_words
from loose_rail.diagnosis.inference.finding import Standing, finding_of
from loose_rail.diagnosis.inference.odd_parts import odd_parts
from loose_rail.diagnosis.inference.posterior import bad_probabilities, posterior
from loose_rail.diagnosis.inference.repeats import repeats
from loose_rail.diagnosis.inference.short_excluded import ran_on_mains, short_excluded
from loose_rail.diagnosis.inference.supply_good import in_use, rail_reservoirs
from loose_rail.diagnosis.planning.assessment import Assessment, Purpose
from loose_rail.diagnosis.planning.before_verdict import Closing
from loose_rail.diagnosis.planning.cans import can_of_a_mute_board
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.judgement.safety import SafetyFacts, state_refusals
from loose_rail.kernel.entry import read_entry
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.roles import Job, role
from tests.diagnosis.inference.test_isolation import read
from tests.shared import board, engine, table, the
from tests.whole_jobs.test_jobs_on_boards import engine as shipped_engine

FACTS = SafetyFacts(UNPLUGGED, 1.0, True)
DEAD = "@unplugged"


def followed(
    row: int, most: int, told: tuple[tuple[str, str], ...] = ()
) -> tuple[Assessment, list[Evidence]]:
    """The plan followed, after some readings, on a board that reads just as a row predicts, and
    what was read."""
    taken = list(told)
    while True:
        evidence = read(*taken)
        found = engine().assess(evidence, (), FACTS)
        if found.next_step is None or len(taken) >= most:
            return found, evidence
        column = found.next_step.offer.column
        low, high = float(table().low[row, column]), float(table().high[row, column])
        hertz = float(table().hertz[row, column])
        text = "OL" if np.isinf(low) else f"{max(low, 0.0):.4g}"
        text = f"{max(low, 0):.3g}..{max(high, 0.01):.3g}@{hertz:.2g}Hz" if hertz else text
        taken.append((found.next_step.offer.candidate.key, text))


def _unit(of: Engine, probe: str) -> str:
    return of.table.candidates[of.table.index(f"{probe}{DEAD}")].probe.unit


CABLE_ON = "standby/cable/direct"


class MuteBoard(unittest.TestCase):
    def test_the_standby_reservoir_is_read_before_a_board_that_asks_for_nothing(self) -> None:
        """Ripple on it keeps a processor from starting, and a meter reads the rail as right."""
        stage = stage_of(table().board.standby_point)
        cans = table().board.roles[role(stage, Job.RESERVOIR)]
        for key, asked in (("MB:never_asserts:0", True), ("MB:elsewhere:0", False)):
            chances = np.zeros(len(table().rows))
            chances[[one.key for one in table().rows].index(key)] = 1.0
            found = the(finding_of(table(), chances, ()))
            closing = Closing(engine().planner, chances, FACTS, {}, ())
            column = can_of_a_mute_board(closing, found)
            self.assertEqual(column is not None, asked, key)
            if column is not None:
                candidate = table().candidates[column]
                self.assertIn(candidate.key, {f"{ref}.esr{DEAD}" for ref in cans})
                read = Closing(engine().planner, chances, FACTS, {candidate.key: 1}, ())
                self.assertIsNone(can_of_a_mute_board(read, found))


class OtherHalf(unittest.TestCase):
    def test_a_rail_that_is_pulled_is_read_without_its_load_next(self) -> None:
        """Ticking or sagging with the cable on: the same rail with the cable off, and not again
        once that was read. A dead rail has parts of its own to be read first."""
        for text in ("0.3..2.1@2Hz", "3.1"):
            pulled = ("live.5vs@" + CABLE_ON, text)
            step = the(engine().assess(read(pulled), (), FACTS).next_step)
            self.assertIs(step.purpose, Purpose.PAIR, text)
            self.assertEqual(step.offer.candidate.probe.id, "live.5vs")
            self.assertFalse(step.offer.candidate.state.main_cable)
            both = read(pulled, (step.offer.candidate.key, text))
            after = engine().assess(both, (), FACTS).next_step
            self.assertIsNot(after and after.purpose, Purpose.PAIR, text)
        dead = engine().assess(read(("live.5vs@" + CABLE_ON, "0.00")), (), FACTS).next_step
        self.assertIsNot(the(dead).purpose, Purpose.PAIR)

    def test_what_looks_bad_is_measured_before_anything_else(self) -> None:
        """A can that is bulging, of a set that starts only when warm: its own ESR."""
        clues = [finding_clue(table(), "C21", "domed")]
        found = engine().assess((), [Symptom("needs_warmth")], FACTS, clues=clues)
        step = the(found.next_step).offer.candidate
        self.assertEqual((step.probe.part, step.state), ("C21", UNPLUGGED))

    def test_only_a_rail_that_stood_at_full_mains_clears_the_primary(self) -> None:
        for state, volts, cleared in (
            (CABLE_ON, "5.02", True),
            (CABLE_ON, "0.00", False),
            ("standby/cable/lamp60", "5.02", False),
        ):
            evidence = read((f"live.5vs@{state}", volts))
            self.assertIs(ran_on_mains(table(), evidence), cleared, (state, volts))
        died = (f"live.5vs@{CABLE_ON}", "5.02"), (f"live.5vs@{CABLE_ON}", "0.00")
        blown = died[0], ("F1.ohms@unplugged", "OL")
        sagging = died[0], ("live.12v@on/cable/direct", "9.0"), died[0]
        for readings, cleared in ((died, False), (blown, False), (sagging, True)):
            self.assertIs(ran_on_mains(table(), read(*readings)), cleared, readings)
        key = "live.12v@on/cable/direct"
        pulses, dragged = (
            (key, "0..11.8@0.3Hz"),
            (key, "2.0"),
        )  # a bulk that is shorted makes neither
        self.assertTrue(ran_on_mains(table(), read(pulses)))
        self.assertFalse(ran_on_mains(table(), read(dragged)))
        self.assertFalse(ran_on_mains(table(), read(pulses, (key, "0.00"))))
        stood = read((f"live.5vs@{CABLE_ON}", "5.02"))
        chances = posterior(table(), stood, ())
        self.assertTrue(short_excluded(table(), chances, stood))
        self.assertFalse(short_excluded(table(), chances, stood, ("glows",)))


class SoundSupply(unittest.TestCase):
    def test_a_sound_board_ends_as_sound_after_every_rail_and_reservoir(self) -> None:
        found, evidence = followed(0, 60)
        supply = the(found.supply)
        self.assertIsNone(found.next_step)
        self.assertGreaterEqual(supply.probability, 0.8)
        numbers = [table().index(item.candidate) for item in evidence]
        read_rails = {table().candidates[n].probe.rail for n in numbers if in_use(table(), n)}
        self.assertGreaterEqual(read_rails, {rail.id for rail in board().rails})
        esr = {table().candidates[n].probe.id for n in numbers}
        self.assertGreaterEqual(esr, {f"{ref}.esr" for ref in rail_reservoirs(board())})
        words = supply_words(board(), supply)
        self.assertIn("Not proved", words)
        self.assertEqual((supply.odd, supply.unread), ((), ()))

    def test_a_steady_fault_of_the_supply_never_ends_as_a_sound_one(self) -> None:
        """Every fifth single fault that a live point shows, followed to the end of the plan."""
        rows = [
            k
            for k, row in enumerate(table().rows)
            if len(row.faults) == 1 and table().on_this_board[k] and row.share == 1.0
            if row.faults[0].effect in (Effect.BRIDGE, Effect.OPEN) and row.prior > 2e-3
        ]
        for row in rows[::9]:
            found, _ = followed(row, 40)
            self.assertIsNone(found.supply, table().rows[row].key)


class BadByItself(unittest.TestCase):
    def test_a_reservoir_far_out_of_its_limits_leads_though_nothing_else_is_wrong(self) -> None:
        odd = (f"C31.esr{DEAD}", "0.5")
        well = [
            (f"live.{point}@on/cable/direct", volts)
            for point, volts in (("24v", "23.4"), ("12v", "12.1"), ("24v.ripple", "0.02"))
        ]
        once = engine().assess(read(*well, odd), (), FACTS)
        self.assertIs(the(once.next_step).purpose, Purpose.ODD)
        self.assertEqual(the(once.next_step).offer.candidate.key, odd[0])
        ended, evidence = followed(0, 60, (*well, odd, odd))
        finding = the(ended.finding)
        self.assertEqual((finding.part, finding.standing), ("C31", Standing.CONFIRMED))
        (part,) = odd_parts(table(), evidence)
        self.assertEqual((part.part, part.times), ("C31", 2))

    def test_what_was_found_bad_beside_it_stays_in_the_answer(self) -> None:
        """A switch shorted by itself, read twice, leads; the fuse that reads OL and the clamp diode
        that does are renewed with it, whichever of them came first."""
        of = shipped_engine("PB-5012-3")
        told = (
            ("F101.ohms", "OL"),
            ("Q201.sd.out", "0.004"),
            ("Q201.sd.out", "0.003"),
            ("R203.ohms", "22"),
            ("R207.ohms", "100k"),
            ("D202.fwd", "OL"),
            ("D203.rev", "0.9k"),
        )
        evidence = [
            Evidence(k, f"{probe}{DEAD}", read_entry(text, _unit(of, probe)).observation)
            for k, (probe, text) in enumerate(told, start=1)
        ]
        finding = the(of.assess(evidence, (), FACTS).finding)
        self.assertEqual((finding.part, finding.by_itself), ("Q201", True))
        beside = dict(finding.companions)
        self.assertGreater(beside["F101"], 0.9)
        self.assertGreater(beside["D202"], 0.5)
        shares = list(beside.values())
        self.assertEqual(shares, sorted(shares, reverse=True))

    def test_what_conducts_itself_and_reads_open_in_place_is_open(self) -> None:
        """A junction, a resistor: what lies beside them only conducts more, so that OL is theirs,
        and leads. A fuse is never the cause; the ohms of a capacitor are those beside it."""
        volts = (("24v", "23.4"), ("12v", "12.1"))
        well = [(f"live.{point}@on/cable/direct", text) for point, text in volts]
        for probe, odd in (("BD1.d4", True), ("F1.ohms", False), ("C3.ohms", False)):
            told = (f"{probe}{DEAD}", "OL")
            parts = [one.part for one in odd_parts(table(), read(told))]
            self.assertEqual(parts, [probe.partition(".")[0]] if odd else [], probe)
        arm = (f"BD1.d4{DEAD}", "OL")
        twice = the(engine().assess(read(*well, arm, arm), (), FACTS).finding)
        self.assertEqual(twice.part, "BD1")
        self.assertGreater(twice.probability, 0.8)

    def test_less_esr_than_fresh_is_no_worn_part(self) -> None:
        """A short beside a reservoir shunts its reading: nothing is wrong with it."""
        key = f"C3.esr{DEAD}"
        sound = float(table().low[0, table().index(key)])
        for ohms, parts in ((0.04 * sound, 0), (40.0 * sound, 1)):
            found = odd_parts(table(), read((key, f"{ohms:.3g}")))
            self.assertEqual(len(found), parts, ohms)

    @settings(max_examples=40, deadline=None)
    @given(st.integers(1, 6), st.floats(0.5, 30.0))
    def test_saying_it_again_adds_no_witness(self, times: int, volts: float) -> None:
        """However often a reading is repeated, the ranking stays as after two."""
        key = "live.12v@on/cable/direct"
        two = posterior(table(), read(*[(key, f"{volts:.2f}")] * 2), ())
        many = posterior(table(), read(*[(key, f"{volts:.2f}")] * (times + 2)), ())
        np.testing.assert_allclose(many, two)
        self.assertEqual(sum(n > 0 for n in repeats(read(*[(key, f"{volts:.2f}")] * 4))), 1)


class WithoutTheLoad(unittest.TestCase):
    def test_a_main_board_that_drags_the_main_rail_is_read_without_it(self) -> None:
        """The standby rail by itself says nothing of the 12 V."""
        row = next(k for k, r in enumerate(table().rows) if r.key == "MB:drags_main:0")
        found, evidence = followed(row, 40)
        self.assertEqual(the(found.finding).part, "MB")
        rails = {rail.id for rail in board().rails} - {board().standby_rail}
        apart = [
            c
            for c in (table().candidates[table().index(item.candidate)] for item in evidence)
            if c.probe.rail in rails and c.probe.live and c.state.power is Power.FORCED
        ]
        self.assertTrue(apart)


class OtherWays(unittest.TestCase):
    @given(st.floats(0.05, 200.0), st.floats(0.05, 200.0))
    def test_a_longer_clean_soak_says_more(self, one: float, other: float) -> None:
        goes = table().comes_and_goes
        short, long = sorted((one, other))
        first, second = (works_clue(table(), "soaked", True, h).log[goes] for h in (short, long))
        self.assertTrue((second <= first + 1e-12).all())
        self.assertAlmostEqual(float(np.exp(first.max())), max(clean_share(short), 0.01))

    def test_hours_in_words(self) -> None:
        for words, hours in (
            ("four hours", 4.0),
            ("4 h", 4.0),
            ("4h", 4.0),
            ("half an hour", 0.5),
            ("20 minutes", 1 / 3),
            ("two days", 48.0),
            ("over night", 10.0),
            ("1,5 hours", 1.5),
            ("half a day", 12.0),
            ("a few hours", 3.0),
            ("for twelve hours", 12.0),
            ("set closed", None),
        ):
            found = hours_of(words)
            self.assertEqual(found if found is None else round(found, 6), hours and round(hours, 6))

    def test_current_finds_the_shorted_one_of_several(self) -> None:
        low = read((f"C27.ohms{DEAD}", "0.4"))
        before = bad_probabilities(table(), posterior(table(), low, ()))
        clue = located_clue(table(), "C27", "C27 gets warm")
        after = bad_probabilities(table(), posterior(table(), low, (), [clue]))
        self.assertGreater(after["C27"], 0.8)
        self.assertGreater(after["C27"], before["C27"] + 0.2)

    def test_without_a_lamp_none_is_asked_for_and_full_mains_still_waits(self) -> None:
        bench = SafetyFacts(UNPLUGGED, 1.0, False, has_lamp=False)
        codes = {
            r.code for r in state_refusals(board(), BoardState(Power.STANDBY, True, 60), bench)
        }
        self.assertIn("no_lamp", codes)
        direct = {
            r.code for r in state_refusals(board(), BoardState(Power.STANDBY, True, 0), bench)
        }
        self.assertIn("no_limiter", direct)
        step = the(engine().assess((), (), bench).next_step)
        self.assertFalse(step.offer.candidate.state.plugged)
