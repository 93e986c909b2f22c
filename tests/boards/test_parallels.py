"""Parallel parts: what the profile says stands in parallel reads so on the solver, and no more."""

import math
import unittest

import numpy as np

from loose_rail.boards.cold_network import cold_network, variant_of
from loose_rail.boards.faults import find_faults
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.parallels import LOW_OHMS, in_parallel
from loose_rail.boards.probes import probes_of
from loose_rail.boards.profile import Board
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import Variant
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.finding import direct_confirmations
from loose_rail.kernel.entry import read_entry
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.material import some_boards
from tests.shared import board, table

SHORTING = ("electrolytic", "ceramic", "diode", "zener", "mosfet_n", "film")
WITHIN_OHMS = LOW_OHMS + 1.0


def shorted_readings(own: Board, ref: str) -> dict[str, float]:
    """Ohms at the first probe of each part that can short, with this part shorted."""
    network = cold_network(own)
    variant = variant_of(own, network, find_faults(own, ref, "short")[:1])
    solver = ColdSolver.of(network, [Variant("healthy"), variant])
    found = {}
    for probe in probes_of(own):
        part = own.component(probe.part) if probe.part else None
        cold = not probe.live and not probe.lifted and probe.mode is MeterMode.OHMS
        if cold and part is not None and part.kind in SHORTING:
            found[part.ref] = float(solver.read([(probe.plus, probe.minus)], probe.mode)[1, 0])
    return found


class AgainstTheSolver(unittest.TestCase):
    def test_a_short_reads_as_a_short_at_every_part_in_parallel(self) -> None:
        """On every board, for its first five parts that can short."""
        checked = 0
        for board_id in some_boards():
            own = shipped_board(board_id)
            parts = [p for p in own.components if p.kind in SHORTING]
            for part in parts[:5]:
                if not find_faults(own, part.ref, "short"):
                    continue
                readings = shorted_readings(own, part.ref)
                for other in in_parallel(own, part.ref):
                    if other in readings and own.component(other).kind != "mosfet_n":
                        checked += 1
                        self.assertLess(
                            readings[other], WITHIN_OHMS, f"{board_id} {part.ref} {other}"
                        )
        self.assertGreater(checked, 12)

    def test_it_is_mutual_and_never_oneself(self) -> None:
        for board_id in shipped_ids():
            own = shipped_board(board_id)
            for part in own.components:
                beside = in_parallel(own, part.ref)
                self.assertNotIn(part.ref, beside)
                for other in beside:
                    if own.component(other).kind in SHORTING and part.kind in SHORTING:
                        self.assertIn(part.ref, in_parallel(own, other), f"{part.ref} {other}")


class Proof(unittest.TestCase):
    def confirmed(self, probe: str, text: str, part: str) -> bool:
        key = f"{probe}@unplugged"
        unit = table().candidates[table().index(key)].probe.unit
        seen = Evidence(1, key, read_entry(text, unit).observation)
        return bool(direct_confirmations(table(), part, [seen]))

    def test_low_in_place_is_no_proof_beside_a_parallel_part_and_lifted_is(self) -> None:
        self.assertIn("D14", in_parallel(board(), "C27"))
        self.assertFalse(self.confirmed("C27.ohms", "0.15", "C27"))
        self.assertTrue(self.confirmed("C27.ohms.out", "0.15", "C27"))

    def test_high_in_place_is_proof(self) -> None:
        """Nothing beside a part makes its ESR or its ohms read higher than they are."""
        self.assertTrue(self.confirmed("C21.esr", "1.7", "C21"))
        self.assertTrue(self.confirmed("R12.ohms", "OL", "R12"))

    def test_what_contradicts_the_fault_is_no_proof_of_it(self) -> None:
        """A can that reads far above a good one is not shorted, whatever else speaks for it."""
        shorted = np.array([float(row.key.startswith("C27:short")) for row in table().rows])
        key = "C27.ohms@unplugged"
        for text, proved in (("0.15", True), ("90k", False)):
            lifted = key.replace(".ohms", ".ohms.out")
            seen = Evidence(1, lifted, read_entry(text, "Ω").observation)
            found = direct_confirmations(table(), "C27", [seen], shorted / shorted.sum())
            self.assertEqual(bool(found), proved, text)

    def test_what_can_not_be_lifted_is_proved_in_place(self) -> None:
        self.assertNotIn("BD1", table().liftable)
        self.assertTrue(self.confirmed("BD1.d1", "0.0", "BD1"))

    def test_lifted_predictions_show_the_part_alone(self) -> None:
        """A sound part by itself reads sound whatever is shorted beside it."""
        row = next(k for k, r in enumerate(table().rows) if r.key == "D14:short:0")
        column = table().index("C27.ohms.out@unplugged")
        alone, sound = table().low[row, column], table().low[0, column]
        self.assertTrue(math.isclose(alone, sound, rel_tol=1e-6) or alone == sound)


if __name__ == "__main__":
    unittest.main()
