"""A part that a board does not have stands for none that it has; sights that were deeds; what is
said that is no sign."""

import unittest

from benchmarks.heard import BOARDS

from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.read import Case
from loose_rail.diagnosis.evidence.customer_words import proposals
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.jobs import events as ev
from tests.app.job_file.log.test_told_pairs import case_of

L = BOARDS["L"]
ON = {"state": "on, everything plugged"}


def clues(case: Case) -> list[str]:
    """The words of every clue that was made of it."""
    return [one.clue.words for one in case.besides]


def understood(case: Case) -> str:
    return " | ".join(case.notes.understood)


def lost(case: Case) -> bool:
    return bool(case.notes.not_used)


def held(case: Case) -> dict[str, float]:
    """What each part holds."""
    found: dict[str, float] = {}
    for one in review_of(case).assessment.suspects:
        found[one.part] = found.get(one.part, 0.0) + one.probability
    return found


class NotTheNearest(unittest.TestCase):
    def test_a_ceramic_on_a_rail_is_not_its_reservoir(self) -> None:
        for what in (
            "ceramic capacitor on the 12 V rail",
            "ceramic on the 5 V rail",
            "film capacitor across the 12 V rail",
            "ceramic capacitor beside the 12 V reservoir",
            "100n capacitor on 12 V",
        ):
            case = case_of(L, {"did": "replaced", "what": what, "result": "no change"})
            self.assertNotIn("reservoir replaced", understood(case), what)
            self.assertNotIn("clamp", understood(case), what)
            self.assertFalse(lost(case), what)
        whole = "input ceramic of the 5 V step-down"  # not on 5 V: it is where that is made from
        same = case_of(BOARDS["A"], {"did": "removed", "what": whole, "result": "shorted"})
        self.assertIn("input capacitor", max(held(same).items(), key=lambda one: one[1])[0])
        can = case_of(L, {"did": "replaced", "what": "12 V reservoir", "result": "no change"})
        self.assertIn("12 V reservoir replaced", understood(can))

    def test_a_name_that_nobody_knows_may_be_any_of_its_kind(self) -> None:
        """One switch out of two that measured bad: both are suspected alike, and none is proved."""
        plain = held(case_of(L))
        for result, up in (("shorted", True), ("not shorted", False)):
            case = case_of(L, {"did": "removed", "what": "Q77", "result": result})
            self.assertIn("Q77, one of", understood(case))
            self.assertFalse(any(isinstance(r.event, ev.ClueNoted) for r in case.records))
            now = held(case)
            moved = {part: now[part] / plain[part] for part in plain if "switch" in part}
            several = [
                one for one in moved.values() if (one > 2.0) is up and (one < 0.95) is not up
            ]
            self.assertGreaterEqual(len(several), 2, moved)
            finding = review_of(case).assessment.finding
            self.assertIsNot(finding and finding.standing, Standing.CONFIRMED)

    def test_a_new_part_that_nobody_can_place_clears_none(self) -> None:
        """One of several was renewed, what came of it is not plain: none is known to be new."""
        case = case_of(L, {"did": "replaced", "what": "C999", "result": "hmm, odd"})
        self.assertFalse(any(isinstance(r.event, ev.PartFitted) for r in case.records))
        self.assertEqual(held(case), held(case_of(L)))
        named = case_of(L, {"did": "replaced", "what": "12 V reservoir", "result": "hmm, odd"})
        self.assertTrue(any(isinstance(r.event, ev.PartFitted) for r in named.records))

    def test_a_converters_input_is_not_its_output(self) -> None:
        case = case_of(L, ON, {"read": "24.1 V", "at": "LED driver input"})
        points = [r.event.probe for r in case.records if isinstance(r.event, ev.ReadingTaken)]
        self.assertEqual(len(points), 1)
        self.assertNotIn("led", points[0])
        out = case_of(L, ON, {"read": "24.1 V", "at": "LED driver output"})
        others = [r.event.probe for r in out.records if isinstance(r.event, ev.ReadingTaken)]
        self.assertNotEqual(points, others)

    def test_what_gets_hot_lies_on_the_rail_that_is_fed(self) -> None:
        for volts in ("12 V", "24 V"):
            what = f"1 A into the {volts} rail"
            deed = {"did": "injected", "what": what, "result": "drops to 1 V, rectifier gets hot"}
            self.assertIn(
                f"{volts} rectifier is where the current goes", understood(case_of(L, deed))
            )

    def test_what_stands_in_for_the_fuse_is_a_lamp_in_line(self) -> None:
        for deed, what, result, said in (
            ("limiter", "100 ohm resistor in place of the fuse", "stays cold, 5 V comes", "dark"),
            ("limiter", "10 ohm 10 W resistor across the fuse holder", "smokes at once", "bright"),
            ("replaced", "fuse by a 100 ohm resistor", "gets hot", "bright"),
            ("replaced", "fuse by a 100 ohm resistor", "does not get hot", "dark"),
            ("loaded", "60 W bulb in place of the fuse", "glows dim", "glows"),
        ):
            case = case_of(L, {"did": deed, "what": what, "result": result})
            noted = [r.event for r in case.records if isinstance(r.event, ev.ClueNoted)]
            told = [(e.clue, str(e.answer)) for e in noted]
            self.assertEqual(told, [("lamp", said)], (what, result))
        both = {"did": "limiter", "what": "new bridge, 100 ohm resistor in line", "result": "cold"}
        fitted = [r.event for r in case_of(L, both).records if isinstance(r.event, ev.PartFitted)]
        self.assertEqual(len(fitted), 1)
        fuse = case_of(L, {"did": "replaced", "what": "fuse", "result": "blows again"})
        self.assertIn("fuse replaced: changed nothing", understood(fuse))

    def test_a_sight_that_was_a_deed(self) -> None:
        for text, at, said in (
            ("runs by itself when uncabled", "board", "unplugged: the rail came back"),
            ("all rails come up with the main cable off", "board", "the rail came back"),
            ("spare strip held to the plug lights", "CN2", "replaced: cured it"),
            ("a spare strip held to the plug stays dark", "CN2", "replaced: changed nothing"),
        ):
            case = case_of(L, {"seen": text, "at": at})
            events = [r.event for r in case.records if isinstance(r.event, ev.ClueNoted)]
            words = [*clues(case), *(f"{e.clue} {e.answer}" for e in events)]
            self.assertTrue(
                any(said in one for one in words) or "main cable off" in understood(case)
            )
        for text in ("does not run uncabled", "runs with the main cable on"):
            self.assertEqual(clues(case_of(L, {"seen": text, "at": "board"})), [], text)


class NoSign(unittest.TestCase):
    def test_what_clears_the_way_is_understood_and_counts_for_nothing(self) -> None:
        for text in (
            "This set has no indicator.",
            "The outlet works, I tried another lamp.",
            "The fan noise is normal, it creaks when warming up.",
            "It hums quietly as always.",
        ):
            case = case_of(L, {"said": text})
            self.assertFalse(lost(case), text)
            self.assertEqual(held(case), held(case_of(L)), text)
        for text in (
            "The outlet does not work.",
            "No outlet works in that room.",
            "The mains switch works.",
            "It crackles while warming up.",
        ):
            self.assertNotIn("no sign", understood(case_of(L, {"said": text})), text)
        for text in ("Sound with no light.", "It has no light any more.", "It has no picture."):
            self.assertNotIn("no indicator", understood(case_of(L, {"said": text})), text)
            self.assertNotIn("outlet is good", understood(case_of(L, {"said": text})), text)

    def test_clicks_are_counted_and_what_cycles_is_no_chance_contact(self) -> None:
        for text, kind, others in (
            ("It clicks several times.", "ticks", {"needs_warmth", "clicks_once"}),
            ("Several clicks, then nothing.", "ticks", {"clicks_once"}),
            ("you hear many clicks", "ticks", {"clicks_once"}),
            ("clicks four times and gives up", "ticks", {"clicks_once"}),
            ("one click, then nothing", "clicks_once", {"ticks"}),
            ("no clicks at all", "clicks_none", {"ticks", "clicks_once"}),
            ("It goes off and on by itself.", "restarts", {"comes_and_goes"}),
            ("switches itself off and on again", "restarts", {"comes_and_goes"}),
            ("works on and off, some days fine", "comes_and_goes", {"restarts"}),
            ("it does not stay on", "starts_then_stops", {"never_starts"}),
            ("starts only after warming up", "needs_warmth", {"dies_warm"}),
        ):
            found = {one.kind for one in proposals(text)}
            self.assertIn(kind, found, text)
            self.assertFalse(others & found, (text, found))


if __name__ == "__main__":
    unittest.main()
