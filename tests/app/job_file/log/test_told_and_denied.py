"""What is told and its opposite, side by side: each moves what it speaks of the other way, and none
is booked on a neighbour."""

import unittest

from benchmarks.heard import BOARDS, board as heard_board, follows, place_heard, shown

from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.read import Case
from loose_rail.diagnosis.evidence.soft_evidence import finding_key, findings
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.both_ends import DROPS_VOLTS, NO_DROP
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.app.job_file.log.test_told_pairs import case_of

L, A = BOARDS["L"], BOARDS["A"]
ON, DEAD = {"state": "on, everything plugged"}, {"state": "unplugged, drained"}
STANDBY = {"state": "standby, cable on"}


def chance(case: Case, *words: str) -> float:
    """What the suspects hold together whose titles have one of these words."""
    suspects = review_of(case).assessment.suspects
    return sum(s.probability for s in suspects if any(word in s.title for word in words))


def ends(case: Case) -> list[str]:
    """What was found of contacts by both ends of a cable."""
    events = (record.event for record in case.records)
    return [e.seen for e in events if isinstance(e, ev.FindingNoted)]


class BothWays(unittest.TestCase):
    def raises(self, words: str, yes: Case, no: Case, times: float = 1.5) -> None:
        """One says it, the other denies it."""
        self.assertGreater(chance(yes, words), times * chance(no, words), words)

    def test_a_start_that_is_given_and_arrives_or_does_not(self) -> None:
        given = {"read": "3.3 V", "at": "PS-ON at the main board's end"}
        for here, lost in (("0.2 V", True), ("3.3 V", False)):
            case = case_of(L, ON, given, {"read": here, "at": "CN8-1"})
            self.assertEqual(DROPS_VOLTS in ends(case), lost, here)

    def test_volts_at_both_ends_of_a_cable(self) -> None:
        for far in (2.0, 6.0, 9.5, 11.4, 11.9, 12.05):
            case = case_of(
                L,
                ON,
                {"read": "12.1", "at": "CN8-5"},
                {"read": f"{far} V", "at": "12 V at the main board's end of the cable"},
            )
            self.assertEqual(ends(case), [NO_DROP if far > 11.616 else DROPS_VOLTS], far)

    def test_a_knock_that_is_answered_and_one_that_is_not(self) -> None:
        def tapped(result: str) -> Case:
            return case_of(L, ON, {"did": "tapped", "what": "12 V rectifier", "result": result})

        for answer in (
            "picture comes back",
            "goes off",
            "does not go off any more",
            "12 V is back",
        ):
            for none in ("nothing", "no change", "does not react", "stays the same", "as before"):
                self.raises("12 V rectifier cracked joint", tapped(answer), tapped(none))

    def test_the_supply_of_a_controller_that_no_model_reads(self) -> None:
        def read(volts: str) -> Case:
            return case_of(L, ON, {"read": volts, "at": "VCC of the PFC controller"})

        fed, starved = read("15.2 V"), read("0.3 V")
        keys = [[one.clue.key for one in case.besides] for case in (fed, starved, read("8 V"))]
        self.assertEqual(keys, [["fed:pfc"], ["fed:pfc"], []], "8 V is neither")
        good, bad = (case.besides[0].clue.log for case in (fed, starved))
        roles = fed.case_board.board.roles
        way = {ref for job in ("vcc", "feed", "controller") for ref in roles.get(f"pfc.{job}", ())}
        blamed = [row for row, one in zip(fed.engine.table.rows, bad > good, strict=True) if one]
        self.assertTrue(blamed)
        for row in blamed:
            self.assertTrue({fault.ref for fault in row.faults} & way, row.key)

    def test_every_board_unplugged(self) -> None:
        def off(result: str) -> Case:
            low = {"read": "2.1 V, pulsing", "at": "CN8-2"}
            deed = {"did": "unplugged", "what": "everything", "result": result}
            return case_of(L, STANDBY, low, deed)

        self.raises("loads", off("5.1 V, steady"), off("no change, 2.1 V pulsing"), 3.0)

    def test_a_start_that_is_tied_and_brings_nothing(self) -> None:
        case = case_of(L, STANDBY, {"did": "forced", "what": "PS-ON to 5VSB", "result": "nothing"})
        read = {one.candidate: one.observation.centre for one in review_of(case).dossier.evidence}
        self.assertGreaterEqual(len(read), 2, "the rails that are asked for")
        self.assertEqual(set(read.values()), {0.0})
        again = case_of(
            L, STANDBY, {"did": "forced", "what": "PS-ON to 5VSB", "result": "nothing but a click"}
        )
        self.assertEqual(tuple(review_of(again).dossier.evidence), ())


class WhereItIs(unittest.TestCase):
    def test_of_several_things_a_part_shows_what_it_can(self) -> None:
        for words in ("wire broken", "glass black", "bulging", "burnt", "leaks", "element gone"):
            for kind in ("fuse", "electrolytic", "connector", "n_mosfet"):
                key, plain = finding_key(words, {kind}), finding_key(words)
                self.assertTrue(key in findings() and plain in findings(), words)
                if findings()[plain].kinds & {kind}:
                    self.assertTrue(findings()[key].kinds & {kind}, (words, kind))
        self.assertEqual(finding_key("wire broken", {"fuse"}), "broken_wire")
        for denied in ("nothing burnt", "none bulging", "no leak", "not black", "never hot"):
            self.assertNotIn(finding_key(denied), ("burnt", "domed", "crusted", "blackened", "hot"))

    def test_cans_beside_a_rail_are_its_own(self) -> None:
        for rail in ("12 V", "5 V"):
            seen = {"seen": "two cans puffed up", "at": f"beside the {rail} rectifier"}
            self.assertEqual(shown(case_of(L, DEAD, seen)), [f"{rail} reservoir:domed"])

    def test_strips_on_a_tester_light_all_or_not_all(self) -> None:
        for result, good in (
            ("all light", True),
            ("two light, the third not", False),
            ("first lights, second does not", False),
            ("one is dark", False),
            ("evenly lit", True),
        ):
            case = case_of(L, DEAD, {"seen": result, "at": "the strips on a tester"})
            told = " ".join(case.notes.understood)
            self.assertEqual("not all of it lights" in told, not good, result)

    def test_the_input_of_a_board_on_an_adapter_by_its_many_names(self) -> None:
        for at in (
            *("jack", "the jack's pin on the board", "inside, at the jack's middle pin"),
            *("19 V at the jack", "board's DC socket", "centre pin of the power jack"),
        ):
            found = place_heard(heard_board("A"), at, "", MeterMode.DC_VOLTS, "")
            self.assertEqual(found, "live.adapter", at)

    def test_a_part_out_of_the_board_is_good_where_the_short_stays(self) -> None:
        for deed in ("removed", "lifted"):
            for result, outcome in (("still shorted on the board", "good"), ("short gone", "bad")):
                log = {"did": deed, "what": "12 V rectifier", "result": result}
                found = follows(case_of(L, DEAD, log))
                self.assertTrue([one for one in found if one.endswith(f":{outcome}")], found)
                other = "bad" if outcome == "good" else "good"
                self.assertFalse([one for one in found if one.endswith(f":{other}")], found)

    def test_a_fall_that_is_told_is_a_fall_at_its_pin(self) -> None:
        case = case_of(L, ON, {"read": "12 falls to 7 when the light comes", "at": "CN8-5"})
        self.assertEqual(
            [one.observation.form for one in review_of(case).dossier.evidence], [Form.FALLING]
        )


if __name__ == "__main__":
    unittest.main()
