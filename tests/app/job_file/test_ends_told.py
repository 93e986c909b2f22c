"""How told jobs end: a short found without an iron, what can't be, a supply that is good."""

import unittest
from typing import Any

from loose_rail.boards.parallels import across
from loose_rail.cli.diagnose import MOST_LINES, page_of
from loose_rail.diagnosis.explain.supply_words import GOOD_SUPPLY
from tests.app.job_file.test_answers import answered
from tests.shared import board, table

DEAD = {"state": "unplugged, drained"}
SHORTED = [
    {"said": "no light, it ticks"},
    DEAD,
    {"read": "0.4 ohm", "at": "C27", "mode": "ohms"},
]
WELL = [
    {"state": "standby, cable off, lamp in line"},
    {"read": "5.0 V", "at": "CN2-2"},
    {"state": "on"},
    {"read": "5.0 V", "at": "CN2-2"},
    {"read": "12.1 V", "at": "CN2-5"},
    {"read": "23.4 V", "at": "CN2-8"},
    DEAD,
    *(
        {"read": f"{ohms} ohm", "at": ref, "mode": "esr"}
        for ref, ohms in (("C21", 0.047), ("C22", 0.08), ("C27", 0.036), ("C31", 0.049))
    ),
]


def told(*log: dict[str, str]) -> dict[str, Any]:
    return answered({"schema": "loose-rail/case/2", "board": board().id, "log": list(log)})


def bad(found: dict[str, Any], ref: str) -> float:
    """How likely a part is bad by an answer, 0 where it is not listed."""
    return max(
        (one["part_bad"] for one in found["suspects"]["parts"] if ref in one["title"].split()),
        default=0.0,
    )


class SideBySide(unittest.TestCase):
    def test_the_warm_one_of_several_has_the_short(self) -> None:
        before = told(*SHORTED)
        for part in ("C27", "D14"):
            self.assertIn(part, across(board(), *board().component("C27").pins.values()))
            how = {"did": "injected", "what": "1 V, 1 A at C27", "result": f"{part} gets warm"}
            after = told(*SHORTED, how)
            odds = [bad(one, part) / (1.0 - bad(one, part)) for one in (before, after)]
            self.assertGreater(odds[1], 4.0 * odds[0], part)

    def test_millivolts_along_the_track_say_the_same(self) -> None:
        how = {"did": "injected", "what": "1 A at CN2-5", "result": "millivolts lowest at D14"}
        self.assertGreater(bad(told(*SHORTED, how), "D14"), 0.7)

    def test_nothing_warm_and_no_part_named_count_for_nothing(self) -> None:
        plain = told(*SHORTED)["suspects"]
        for result in (
            "nothing gets warm",
            "something gets warm",
            "C27 does not get warm",
            "C27 isn't hot",
            "neither C27 nor D14 gets warm",
            "D14 stays cold, not warm",
        ):
            how = {"did": "injected", "what": "1 V, 1 A at C27", "result": result}
            self.assertEqual(told(*SHORTED, how)["suspects"], plain, result)
        asked = told(*SHORTED, {"did": "injected", "what": "1 A at C27", "result": "gets hot"})
        self.assertIn("which part", asked["not_used"][0]["why"])

    def test_two_readings_across_the_same_nets_that_can_not_both_be(self) -> None:
        first, other = self.same_nets()
        log = [DEAD, {"read": "0.4 ohm", "at": first, "mode": "ohms"}]
        log.append({"read": "4.7 k", "at": other, "mode": "ohms"})
        found = told(*log)
        (pair,) = found["contradictions"]
        self.assertEqual(pair["readings"], [1, 2])
        self.assertIn("both can't be", pair["words"])
        self.assertIn("one of the two readings is wrong", found["next"][0]["why"])
        self.assertTrue({first, other} & set(found["next"][0]["title"].replace(",", " ").split()))

    def same_nets(self) -> tuple[str, str]:
        """Two parts whose ohms are read across the same two nets."""
        seen: dict[frozenset[str], str] = {}
        for candidate in table().candidates:
            probe = candidate.probe
            if probe.id.endswith(".ohms") and not probe.lifted:
                nets = frozenset((probe.plus, probe.minus))
                if nets in seen:
                    return seen[nets], probe.part
                seen[nets] = probe.part
        raise AssertionError("no two parts lie side by side")


class GoodSupply(unittest.TestCase):
    def followed(self) -> dict[str, Any]:
        """The answer at the end of the file command's own plan, on a board that reads as a sound
        one does."""
        readings: list[dict[str, Any]] = []
        while True:
            found = answered({"board": board().id, "readings": readings}, 1)
            if not found["next"]:
                return found
            self.assertLess(len(readings), 70)
            step = found["next"][0]
            sound = float(table().low[0, table().index(f"{step['probe']}@{step['state']}")])
            said = {"point": step["probe"], "state": step["state"], "mode": step["setting"]}
            live = step["probe"].startswith("live.")
            plain = {key: value for key, value in said.items() if not live or key != "mode"}
            readings.append({**plain, "value": "OL" if sound == float("inf") else sound})

    def test_a_supply_that_reads_right_is_said_to_be_good_at_this_level(self) -> None:
        found = self.followed()
        self.assertGreaterEqual(found["supply_good"]["probability"], 0.8)
        self.assertIn("Not proved", found["supply_good"]["words"])
        page = page_of(found)
        self.assertIn(GOOD_SUPPLY, page)
        self.assertLessEqual(len(page.splitlines()), MOST_LINES)
        self.assertFalse(found["stop"] and found["stop"]["repair_now"])

    def test_one_wrong_rail_is_no_good_supply(self) -> None:
        wrong = [{**e, "read": "9.0 V"} if e.get("at") == "CN2-5" else e for e in WELL]
        self.assertIsNone(told(*wrong)["supply_good"])

    def test_the_mains_cord_is_no_board_of_the_set(self) -> None:
        found = told(
            {"state": "plugged in"},
            {"read": "0 V", "at": "CN2-2"},
            {"read": "231 V", "at": "wall outlet", "mode": "ac volts"},
            {"read": "0 V", "at": "inlet of the set", "mode": "ac volts"},
            {"did": "unplugged", "what": "cord, another one instead", "result": "works"},
        )
        first = found["suspects"]["boards"][0]
        self.assertEqual(first["board"], "other")
