"""Every kind of component in the registry: whole, known under one name, and told about."""

import unittest
from pathlib import Path

from loose_rail.boards.kinds import registry
from loose_rail.boards.kinds.kind import GENERAL_TEST, Effect, Trait
from loose_rail.boards.kinds.registry import KINDS
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.vocabulary.meter_mode import MeterMode

MODULES = {path.stem for path in Path(registry.__file__).parent.glob("*.py")}
WITHOUT_STEPS = {"common_mode_choke", "relay", "zener", "fusible_resistor"}
"""Kinds whose test by hand is the general one."""


class Registry(unittest.TestCase):
    def test_every_module_is_registered_under_its_own_name(self) -> None:
        self.assertEqual(set(KINDS) | {"__init__", "kind", "bodies", "registry"}, MODULES)

    def test_every_kind_is_whole(self) -> None:
        for name, kind in KINDS.items():
            with self.subTest(name):
                self.assertTrue(kind.words and kind.map_word and kind.faults)
                modes = [mode.mode for mode in kind.faults]
                self.assertEqual(len(set(modes)), len(modes))
                for mode in kind.faults:
                    self.assertGreater(mode.rate, 0.0, mode.mode)
                    self.assertTrue(mode.title, mode.mode)
                    self.assertAlmostEqual(sum(s.weight for s in mode.severities), 1.0)
                    if mode.effect is Effect.INTERMITTENT:
                        self.assertIn(mode.of, modes)
                        self.assertLess(mode.share, 1.0)
                    if mode.effect is Effect.BRIDGE:
                        self.assertTrue(all(s.ohms > 0 for s in mode.severities), mode.mode)
                names = [probe.name for probe in kind.probes]
                here = [p for p in kind.probes if not p.unplugged]
                self.assertEqual(bool(here), not kind.is_a(Trait.BODILESS))
                self.assertLessEqual(set(kind.lifted), set(names))
                self.assertTrue(all(probe.mode in MeterMode for probe in kind.probes))
                if name not in WITHOUT_STEPS:
                    self.assertIsNot(kind.test, GENERAL_TEST)
                self.assertTrue(all(len(step) > 15 for step in kind.test.steps))

    def test_probes_and_faults_name_pins_that_parts_of_the_kind_have(self) -> None:
        seen = set()
        for board_id in shipped_ids():
            for part in shipped_board(board_id).components:
                kind = KINDS[part.kind]
                seen.add(part.kind)
                wanted = {pin for p in kind.probes if p.red for pin in (p.red, p.black)}
                self.assertTrue(all(p.red or p.unplugged for p in kind.probes), part.kind)
                wanted |= {pin for mode in kind.faults for pin in mode.pins if pin}
                self.assertLessEqual(wanted, set(part.pins), f"{board_id} {part.ref}")
        self.assertGreater(len(seen), 20)


if __name__ == "__main__":
    unittest.main()
