"""What is told of a part, a board or a cable off the set: how it measured, and what that proves."""

import unittest

from benchmarks.heard import BOARDS

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.log.alone import way_by_itself
from loose_rail.app.job_file.log.teller import PREFIXES, Teller
from loose_rail.app.job_file.notes import Notes
from loose_rail.app.job_file.read import Case
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from tests.app.job_file.log.test_told_pairs import case_of, leader

L = BOARDS["L"]
ON, DEAD = {"state": "on, complete"}, {"state": "unplugged, drained"}


def teller() -> Teller:
    case = case_of(L, DEAD)
    return Teller(case.engine.table, Notes())


def chance(case: Case, part: str, mode: str) -> float:
    rows = zip(case.engine.table.rows, review_of(case).assessment.probabilities, strict=True)
    return float(
        sum(p for row, p in rows if any(f.key.startswith(f"{part}:{mode}") for f in row.faults))
    )


class Designators(unittest.TestCase):
    def test_an_x_capacitor_that_nobody_has_told_of_is_no_reservoir(self) -> None:
        """A prefix of two letters names its kind, or nothing: never the nearest can."""
        told = teller()
        for prefix in PREFIXES:
            for ref in told.parts(f"{prefix}901"):
                self.assertFalse(is_a(told.board.component(ref), Trait.ELECTROLYTIC), prefix)
        case = case_of(
            L,
            DEAD,
            {"read": "OL", "at": "mains fuse", "mode": "ohms"},
            {"read": "0.6 ohm", "at": "CX1", "mode": "ohms"},
            {"did": "lifted", "what": "CX1", "result": "0.6 ohm by itself, the pads read OL"},
        )
        self.assertIn("suppression", leader(case))
        self.assertEqual(case.notes.not_used, [])

    def test_both_halves_of_a_rectifier_are_told_apart_and_renewed_together(self) -> None:
        told = Teller(case_of(L, DEAD).engine.table, Notes())
        rail = next(p.ref for p in told.board.components if "other half" in p.ref).split(" V")[0]
        first = told.parts(f"{rail} V rectifier, first half")
        second = told.parts(f"second half of the {rail} V rectifier")
        self.assertEqual([f"{first[0]} other half"], second)
        new = {"did": "replaced", "what": f"{rail} V rectifier", "result": "steady, no ripple"}
        fitted = review_of(case_of(L, DEAD, new)).job.fits
        self.assertEqual({one.part for one in fitted}, {*first, *second})


class HowItMeasured(unittest.TestCase):
    def test_a_part_that_read_shorted_is_not_open_and_the_other_way_round(self) -> None:
        part = "12 V rectifier"
        for result, way, least, most in (
            ("OL both ways", "open", 0.0, 0.2),
            ("0.2 ohm both ways", "shorted", 0.8, 1.0),
        ):
            self.assertEqual(way_by_itself(teller(), part, result), way)
            case = case_of(L, DEAD, {"did": "lifted", "what": part, "result": result})
            self.assertGreater(chance(case, part, ""), 0.85, result)
            conducts = sum(chance(case, part, mode) for mode in ("short", "leaky"))
            self.assertTrue(least <= conducts <= most, (result, conducts))
        for vague in ("bad", "leaky", "the rail reads 2 k now", "ESR 14 ohm", "0.43 one way"):
            self.assertEqual(way_by_itself(teller(), part, vague), "bad", vague)

    def test_warmth_and_cold_at_one_part_are_as_good_as_a_new_one(self) -> None:
        part = "standby feedback optocoupler"
        cold = {"did": "cooled", "what": part, "result": "runs on"}
        warm = {"did": "heated", "what": part, "result": "restarts at once"}
        both = chance(case_of(L, ON, cold, warm), part, "")
        self.assertGreater(both, 0.75)
        self.assertLess(chance(case_of(L, ON, cold), part, ""), both)
        cured = {**warm, "result": "runs on"}  # it can't like both
        self.assertLess(chance(case_of(L, ON, cold, cured), part, ""), 0.5)


class Sights(unittest.TestCase):
    def test_a_choke_has_no_top_that_bulges_and_a_film_is_held_against_its_print(self) -> None:
        domed = {"seen": "tops pushed up on two of the tall cans", "at": "beside the output coils"}
        case = case_of(L, DEAD, domed)
        words = " ".join(case.notes.understood)
        self.assertNotIn("choke: bulging", words)
        crust = case_of(L, DEAD, {"seen": "brown crust between its pins", "at": "CN8"})
        self.assertNotIn("reservoir", " ".join(one.clue.key for one in crust.besides))
        self.assertGreater(chance(case, "12 V reservoir", "dried"), 0.3)
        lost = {
            "read": "21 nF, printed 39 nF",
            "at": "resonant capacitor of the half bridge",
            "mode": "capacitance",
        }
        self.assertIn("resonant capacitor", leader(case_of(L, DEAD, lost)))
        kept = {**lost, "read": "38 nF, printed 39 nF"}
        self.assertNotIn("resonant capacitor", leader(case_of(L, DEAD, kept)))

    def test_even_light_clears_the_lamps_and_light_for_a_second_does_not(self) -> None:
        whole = case_of(L, ON, {"seen": "even light over the whole screen", "at": "screen"})
        short = case_of(L, ON, {"seen": "even light for a second, then dark", "at": "screen"})
        self.assertIn("the lamps are whole", " ".join(whole.notes.understood))
        self.assertNotIn("the lamps are whole", " ".join(short.notes.understood))


class Exchanged(unittest.TestCase):
    def test_a_board_that_was_exchanged_and_cured_it_needs_no_reading(self) -> None:
        rails = [{"read": "12.1", "at": "12 V", "mode": "dc volts"}]
        swap = {"did": "replaced", "what": "timing board", "result": "picture"}
        white = {"seen": "even white light, no picture", "at": "screen"}
        found = review_of(case_of(L, ON, *rails, white, swap)).assessment
        assert found.finding is not None
        self.assertEqual(found.finding.part, "TC")
        self.assertTrue(found.finding.exchanged)
        self.assertIsNone(found.next_step)
        told = answer(case_of(L, ON, *rails, white, swap), 3)
        self.assertIn("runs with a good one", told["finding"]["words"])
        self.assertFalse(told["stop"]["repair_now"])
        vain = {**swap, "result": "no change"}
        still = review_of(case_of(L, ON, *rails, white, vain)).assessment
        self.assertFalse(still.finding is not None and still.finding.exchanged)

    def test_a_cable_that_loses_its_volts_while_it_is_bent(self) -> None:
        here = {"read": "5.12 V", "at": "5VSB", "mode": "dc volts"}
        there = {
            "read": "jumps between 5.1 and 0.4 V while the cable is bent",
            "at": "main board's side of the cable, 5VSB",
            "mode": "dc volts",
        }
        worn = {"seen": "pinched, two strands left", "at": "cable to the main board"}
        before = case_of(L, ON, here)
        case = case_of(L, ON, here, there, worn)
        plug = next(iter(case.engine.table.board.roles["MB.connector"]))
        self.assertGreater(chance(case, plug, ""), 10.0 * chance(before, plug, ""))


class Traps(unittest.TestCase):
    def test_after_a_bright_lamp_the_primary_is_read_and_no_supply_is_good(self) -> None:
        lamp = {"did": "limiter", "what": "60 W lamp in series", "result": "stays bright"}
        loose = {"said": "Goes off when the plug is moved, works again when it is tapped."}
        found = review_of(case_of(L, loose, {"state": "standby"}, lamp, DEAD)).assessment
        self.assertIsNone(found.supply)
        assert found.next_step is not None
        probe = found.next_step.offer.candidate.probe
        self.assertTrue(probe.mode.needs_dead_board)


if __name__ == "__main__":
    unittest.main()
