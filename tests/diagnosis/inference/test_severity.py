"""Any degree of a fault reads as the cold solver says, and two readings must agree on it."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import assume, given, settings, strategies as st

from loose_rail.boards.cold_network import cold_network, variant_of
from loose_rail.circuit.cold import ColdSolver
from loose_rail.diagnosis.inference.places import agreement_of_places
from loose_rail.diagnosis.inference.posterior import (
    agreement_of_degrees,
    log_likelihoods,
    posterior,
)
from loose_rail.diagnosis.inference.predicted import Make
from loose_rail.diagnosis.inference.severity import DEGREES, severities_of
from loose_rail.judgement.spread import FULL_SCALE, sigma
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.diagnosis.inference.test_isolation import read
from tests.shared import board, table

DEAD = "@unplugged"


def degree_rows(kind: str) -> list[int]:
    """Places among the rows with degrees of those that conduct between two pins, and nothing else
    is wrong: shorts or leaks."""
    known = severities_of(table())
    of_row = [table().rows[row].faults for row in known.rows]
    alone = [len(faults) == 1 and len(faults[0].pairs) == 1 for faults in of_row]
    return [int(k) for k in np.flatnonzero(getattr(known, kind) & np.array(alone))]


class AnyDegree(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.data())
    def test_what_a_degree_reads_is_what_the_solver_says(self, data: st.DataObject) -> None:
        """The solver is asked with that very resistance in the board; it was held against an
        independent simulator."""
        known = severities_of(table())
        kind = data.draw(st.sampled_from(["short", "leak"]))
        place = data.draw(st.sampled_from(degree_rows(kind)))
        degree = data.draw(st.integers(0, DEGREES - 1))
        fault = table().rows[known.rows[place]].faults[0]
        network = cold_network(board())
        given_ohms = replace(fault, ohms=float(known.ohms[place, degree]))
        solver = ColdSolver.of(network, [variant_of(board(), network, (given_ohms,))])
        shown = []
        for number, candidate in enumerate(table().candidates):
            probe = candidate.probe
            if probe.live or probe.lifted or probe.mode is not MeterMode.OHMS:
                continue
            ohms, matters, _ = known.readings(table().low[:, number], probe.mode)
            if matters[place]:
                shown.append((number, float(ohms[place, degree])))
        assume(shown)  # a bridge arm shows through junctions alone
        pairs = [
            (table().candidates[n].probe.plus, table().candidates[n].probe.minus) for n, _ in shown
        ]
        true = np.minimum(solver.read(pairs, MeterMode.OHMS)[0], FULL_SCALE[MeterMode.OHMS])
        own = [n for n, _ in shown if table().candidates[n].probe.part == fault.ref]
        for (number, told), exact in zip(shown, true.tolist(), strict=True):
            probe = table().candidates[number].probe
            scatter = float(sigma(board(), probe, exact))  # where junctions lie in the way, wide
            within = 0.05 if number in own else max(0.25, scatter)
            self.assertLess(abs(np.log((told + 0.1) / (exact + 0.1))), within, (fault.key, number))

    def test_of_two_shorts_the_one_that_is_read_there_counts(self) -> None:
        """A rectifier shorted at some ohms took its switch along: what the bulk reads goes with the
        ohms of the switch, as the solver says, and not with those of the rectifier."""
        known, here = severities_of(table()), table()
        checked = 0
        for place, row in enumerate(known.rows):
            if not known.least_ohms[place] < known.own_ohms[place]:
                continue
            faults = here.rows[row].faults
            least = float(known.least_ohms[place])
            for degree in (4, 12):
                ohms = float(known.ohms[place, degree])
                drawn = tuple(replace(f, ohms=ohms) if f.ohms == least else f for f in faults)
                network = cold_network(board())
                solver = ColdSolver.of(network, [variant_of(board(), network, drawn)])
                for number, candidate in enumerate(here.candidates):
                    probe = candidate.probe
                    if probe.part not in ("Q1", "Q2") or not probe.id.endswith(".ds"):
                        continue
                    low = here.low[:, number]
                    if not low[row] < known.own_ohms[place]:
                        continue
                    told = float(known.readings(low, probe.mode)[0][place, degree])
                    true = float(solver.read([(probe.plus, probe.minus)], probe.mode)[0, 0])
                    self.assertLess(abs(np.log((told + 0.1) / (true + 0.1))), 0.25, (row, ohms))
                    checked += 1
        self.assertGreater(checked, 4)

    @settings(max_examples=25, deadline=None)
    @given(st.data(), st.floats(2.0, 60.0))
    def test_a_chip_that_its_switch_took_along_reads_any_ohms(
        self, data: st.DataObject, ohms: float
    ) -> None:
        """What the solver reads at its pin with any ohms left in the chip is no surprise under the
        row that has it shorted with the switch."""
        known, here = severities_of(table()), table()
        places = [k for k, along in enumerate(known.along_ohms) if along > 0.0]
        place = data.draw(st.sampled_from(places))
        row = int(known.rows[place])
        along = float(known.along_ohms[place])
        drawn = tuple(
            replace(f, ohms=ohms) if f.ohms == along else f for f in here.rows[row].faults
        )
        chip = next(fault.ref for fault in drawn if fault.ohms == ohms)
        network = cold_network(board())
        solver = ColdSolver.of(network, [variant_of(board(), network, drawn)])
        for number, candidate in enumerate(here.candidates):
            probe = candidate.probe
            if probe.part != chip or probe.live or probe.lifted or probe.unit != "Ω":
                continue
            if row not in known.leaks_along(here.low[:, number]):
                continue
            true = float(solver.read([(probe.plus, probe.minus)], probe.mode)[0, 0])
            (item,) = read((candidate.key, f"{true:.3g}"))
            logs = log_likelihoods(table(), [item])[0]
            self.assertGreater(float(logs[row]), -4.0, (here.rows[row].key, candidate.key, true))

    def test_two_readings_of_one_leak_must_agree(self) -> None:
        """C9 leaks by 60 Ω: its own place and its controller's pin read the same. Where they read
        apart no degree of it fits both."""
        row = next(k for k, r in enumerate(table().rows) if r.key == "C9:leaky:0")
        same = read((f"C9.ohms{DEAD}", "60"), (f"U1.vcc{DEAD}", "60"))
        apart = read((f"C9.ohms{DEAD}", "60"), (f"U1.vcc{DEAD}", "15"))
        together = agreement_of_degrees(table(), same, Make.LISTED)[row]
        against = agreement_of_degrees(table(), apart, Make.LISTED)[row]
        self.assertGreater(together, 1.0)
        self.assertLess(against, -0.5)
        self.assertEqual(
            agreement_of_degrees(table(), same[:1], Make.LISTED).tolist().count(0.0),
            len(table().rows),
        )

    @settings(max_examples=30, deadline=None)
    @given(st.sampled_from(["C9", "C21", "C27", "C31"]), st.floats(0.03, 7.0))
    def test_the_ohms_of_a_short_name_no_part(self, ref: str, ohms: float) -> None:
        """Parts across the same nets are never told apart by how low they read: all rows with a
        short there explain any of its ohms alike."""
        (item,) = read((f"{ref}.ohms{DEAD}", f"{ohms:.2f}"))
        low = table().low[:, table().index(item.candidate)]
        rows = severities_of(table()).rows[degree_rows("short")]
        there = rows[low[rows] < 0.3]
        self.assertGreater(len(there), 0)
        logs = log_likelihoods(table(), [item])[0, there]
        self.assertLess(float(logs.max() - logs.min()), np.log(3.0))

    def test_weights_of_degrees_sum_to_one(self) -> None:
        weights = severities_of(table()).weights
        np.testing.assert_allclose(weights.sum(axis=1), 1.0)
        self.assertTrue((weights > 0).all())


class OtherMakes(unittest.TestCase):
    def test_good_points_a_little_off_everywhere_make_a_drift_less_sure(self) -> None:
        """The same resistor a third high: on a board that else reads as its list says it has
        drifted, on one where all else is off too it is another make's."""
        part = "R40"
        lifted = [
            c.key
            for c in table().candidates
            if c.probe.id.startswith("R") and c.probe.lifted and c.probe.part != part
        ][:5]
        key = f"{part}.ohms.out{DEAD}"
        odd = (key, f"{1.25 * self.sound(key):.4g}")
        listed = [(key, f"{self.sound(key):.4g}") for key in lifted]
        off = [(key, f"{1.25 * self.sound(key):.4g}") for key in lifted]
        drifted = np.array([r.suspect == f"{part}:drifted" for r in table().rows])
        times = [
            float(chances[drifted].sum() / chances[0])
            for chances in (
                posterior(table(), read(odd, *listed), ()),
                posterior(table(), read(odd, *off), ()),
            )
        ]
        self.assertGreater(times[0], 2.0 * times[1])

    def sound(self, key: str) -> float:
        return float(table().low[0, table().index(key)])

    def test_a_place_read_twice_is_no_second_witness(self) -> None:
        """C21 and its preload lie across the same two nets: what another value does to one reading
        it does to the other."""
        odd = f"{1.3 * self.sound(f'C21.ohms{DEAD}'):.4g}"
        twice = read((f"C21.ohms{DEAD}", odd), (f"C21.ohms{DEAD}", odd))
        sound = 0
        self.assertEqual(agreement_of_places(table(), twice[:1], Make.OTHER)[sound], 0.0)
        self.assertGreater(agreement_of_places(table(), twice, Make.OTHER)[sound], 0.3)
