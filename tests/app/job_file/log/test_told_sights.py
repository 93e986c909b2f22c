"""What a sight, a list of new parts and a board that was unplugged say, in a technician's words."""

import unittest

import numpy as np

from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.log.replacing import seen_of
from loose_rail.diagnosis.dossier import symptoms_in
from loose_rail.diagnosis.inference.doubt import GONE_SHARE
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.predictions import hums
from loose_rail.diagnosis.proof.standing import ProofStatus
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import value
from loose_rail.vocabulary.light import Light
from tests.app.job_file.log.test_told_evidence import case_of, shares
from tests.shared import table

DRAINED = {"state": "unplugged, drained"}
ON = {"state": "on, all connected"}


class Sights(unittest.TestCase):
    def test_a_sight_is_of_the_part_that_it_names(self) -> None:
        for at, text, part in (
            ("mains inlet", "blue disc next to the fuse burst, soot", "varistor (MOV)"),
            ("12 V reservoir", "bulged, next to the 5 V reservoir", "12 V reservoir"),
            ("primary side", "bulk capacitor bulged", "bulk capacitor"),
        ):
            case = case_of(DRAINED, {"seen": text, "at": at})
            found = [r.event.part for r in case.records if isinstance(r.event, ev.FindingNoted)]
            self.assertEqual(found, [part], (at, text))

    def test_of_a_list_of_new_parts_those_that_are_known_are_booked(self) -> None:
        short = {"read": "0.2 ohm", "at": "boost switch, D to S", "mode": "ohms"}
        what = "boost switch, the thingamajig, main fuse"
        log = [{"said": "Dead."}, DRAINED, short]
        result = "lamp in line goes dark, 12.1 V, the light still flickers"
        case = case_of(*log, {"did": "replaced", "what": what, "result": result})
        fitted = [r.event.part for r in case.records if isinstance(r.event, ev.PartFitted)]
        self.assertEqual(fitted, ["boost switch", "main fuse"])
        self.assertIn("boost switch replaced: cured it", case.notes.understood)
        for vain in (
            "dead as before",
            "dead as before, 12.1 V",
            "12.1 V for a moment, then dead again",
            "still no light, 12.0 V, fuse gone again",
        ):
            same = case_of(*log, {"did": "replaced", "what": what, "result": vain})
            self.assertNotIn("boost switch replaced: cured it", same.notes.understood, vain)

    def test_the_lamp_of_a_board_behind_one_is_no_lamp_of_the_set(self) -> None:
        """Dark: no short. Of a set that stands behind none, it's the set's own."""
        behind = {"state": "plugged in, lamp 100 W in line"}
        for state, at, of_limiter in (
            (behind, "lamp", True),
            (ON, "lamp in line", True),
            (ON, "lamp", False),
        ):
            case = case_of({"said": "Dead."}, state, {"seen": "stays dark", "at": at})
            families = {one.family for one in review_of(case).dossier.clues}
            self.assertEqual("lamp" in families, of_limiter, (state, at))
            self.assertEqual("lamp in line: dark" in case.notes.understood, of_limiter)

    def test_what_is_still_wrong_is_never_read_from_its_denial_or_another_lamp(self) -> None:
        for result, light in (
            ("12.1 V, the light still flickers", Light.FLICKERS),
            ("12.1 V, still no light", Light.DARK),
            ("runs, the left half is still dark", Light.DIM),
            ("runs, still no picture", Light.NO_PICTURE),
            ("two hours, 12.1 V, still no flicker", None),
            ("lamp in line still dark, 12.1 V", None),
            ("the lamp is still dark, picture right", None),
            ("12.1 V, still fine", None),
        ):
            self.assertIs(seen_of(result), light, result)

    def test_a_second_fault_is_looked_for_where_it_shows(self) -> None:
        """A dead set that runs again and flickers: what it was dead of is done with, what its bad
        light says counts, the rails that were told with it are read, and the plan goes on."""
        short = {"read": "0.2 ohm", "at": "boost switch, D to S", "mode": "ohms"}
        log = [{"said": "Flickered for weeks, then a bang, now dead."}, DRAINED, short]
        new = {"did": "replaced", "what": "boost switch, main fuse"}
        done = "lamp in line goes dark, 12.1 V, light even, picture right"
        found = {}
        for result in ("lamp in line goes dark, 12.1 V, the light still flickers", done):
            case = case_of(*log, {**new, "result": result})
            found[result] = answer(case, 3)
            now = review_of(case)
            again = result != done
            self.assertIs(now.proof.status is ProofStatus.FAILED, again, result)
            kinds = {one.symptom for one in symptoms_in(now.job, now.job.round)}
            self.assertEqual("bang" in kinds, not again, result)
            self.assertIn("picture_flickers", kinds)
            self.assertEqual(bool(now.job.proof_readings), again, result)
        parts = [one["title"] for one in found.pop(done)["suspects"]["parts"]]
        self.assertIn("boost switch", parts[0])
        (left,) = found.values()
        titles = [one["title"] for one in left["suspects"]["parts"]]
        self.assertFalse([title for title in titles if "boost switch" in title])
        self.assertIn("LED output capacitor", " ".join(titles[:2]))
        self.assertFalse(left["stop"] and left["stop"]["repair_now"])

    def test_a_rail_that_goes_to_its_volts_without_a_board_came_back(self) -> None:
        low = {"read": "1.2 V", "at": "panel supply on the main board"}
        chances = []
        for result in ("panel supply goes to 12.0 V", "panel supply goes to 1.4 V"):
            deed = {"did": "unplugged", "what": "panel cable", "result": result}
            found = answer(case_of({"said": "Sound, black picture."}, ON, low, deed), 4)
            chances.append(sum(p for title, p in shares(found).items() if "timing" in title))
        self.assertGreater(chances[0], 1.5 * chances[1])
        deed = {"did": "unplugged", "what": "panel cable", "result": "12 V rail goes to 5.1 V"}
        case = case_of(ON, {"read": "3 V", "at": "12V"}, deed)
        self.assertNotIn("it came back", " ".join(case.notes.understood))


class WhatPhysicsLeaves(unittest.TestCase):
    def test_half_a_bridge_or_no_bulk_hums_and_nothing_behind_them(self) -> None:
        rows = [table().rows[k] for k in np.flatnonzero(hums(table()))]
        self.assertEqual({fault.ref for row in rows for fault in row.faults}, {"BD1", "C3"})
        arms = {f"BD1:open:{arm}" for arm in range(4)} & {row.key for row in rows}
        self.assertGreaterEqual(len(arms), 3)
        self.assertIn("C3:open:0", {row.key for row in rows})

    def test_a_rail_that_nobody_asks_for_and_that_stands_is_of_no_missing_supply(self) -> None:
        of, looked = table(), 0
        rails = {rail.id: rail.volts for rail in of.board.rails if rail.volts}
        for number, candidate in enumerate(of.candidates):
            volts = rails.get(candidate.probe.rail, 0.0)
            column = column_of(of, number)
            live = candidate.probe.live and candidate.probe.unit == "V" and column.steady[0]
            if not live or not 0.0 <= of.low[0, number] < GONE_SHARE * volts:
                continue
            likely, high = column.likelihood(value(volts, "V")), np.nan_to_num(column.high)
            steady = np.array([row.share >= 1.0 and bool(row.faults) for row in of.rows])
            can = np.flatnonzero(steady & (high > 0.9 * volts))
            never = np.flatnonzero(steady & (high < GONE_SHARE * volts))
            if len(can) and len(never):
                looked += 1
                self.assertGreater(likely[can].max(), 20 * likely[never].max(), candidate.key)
        self.assertGreater(looked, 0)


if __name__ == "__main__":
    unittest.main()
