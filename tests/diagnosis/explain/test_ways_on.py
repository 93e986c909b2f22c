"""Ways on and their money, the legend as it is seen, settings and meters on their page."""

import tempfile
import unittest
from pathlib import Path

import msgspec
import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.app.deciding import costs_of, decide, prices_of
from loose_rail.app.legend import legend_of_board, rail_volts
from loose_rail.app.meters import MeterDesk, MeterPlugs
from loose_rail.app.session import JobSession
from loose_rail.app.settings import CHOICES, Settings
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.own.typed_pinout import typed_pinout
from loose_rail.bootstrap import Workplace
from loose_rail.diagnosis.explain.ways_on import (
    EVEN,
    GIVING_BACK,
    Kind,
    Way,
    hunch,
    ways_on,
)
from loose_rail.diagnosis.inference.finding import finding_of
from loose_rail.diagnosis.inference.posterior import posterior
from loose_rail.diagnosis.planning.stopping import ShopCosts, StopAdvice, stop_advice
from loose_rail.instruments.finder import FoundMeter
from loose_rail.judgement.economics import Prices, Worth, break_even, comeback_risk, expected
from loose_rail.kernel.errors import StoreError
from loose_rail.screens.meters.present import meters_state
from loose_rail.shop import Options
from loose_rail.storage.places import places_of
from loose_rail.storage.settings import SettingsFile
from tests.shared import demo_session, table

PRICE = st.floats(0.5, 300)


def chances(seed: int) -> np.ndarray:
    """Some posterior over the demo board's rows."""
    rng = np.random.default_rng(seed)
    weights = rng.exponential(size=len(table().rows)) ** 6
    return np.asarray(weights / weights.sum())


class WaysOn(unittest.TestCase):
    @settings(max_examples=40)
    @given(st.integers(0, 10_000), PRICE, PRICE, PRICE, st.floats(1, 120), st.floats(0, 500))
    def test_costs_and_chances_are_what_they_say(
        self, seed: int, part: float, kit: float, board: float, hour: float, worth: float
    ) -> None:
        p = chances(seed)
        prices = Prices(part=part, kit=kit, board=board, hour=hour, set_value=worth)
        finding = finding_of(table(), p, [])
        ways = {way.title: way for way in ways_on(table(), p, finding, prices)}
        for way in ways.values():
            self.assertTrue(0 <= way.worth.chance <= 1)
            self.assertTrue(way.ties_at is None or 0 <= way.ties_at <= 1)
        capacitors = {c.ref for c in table().board.components if c.kind == "electrolytic"}
        only = sum(
            q
            for q, row in zip(p, table().rows, strict=True)
            if row.faults and {f.ref for f in row.faults} <= capacitors
        )
        self.assertAlmostEqual(ways["Kit of capacitors"].worth.chance, 0.93 * only, places=9)
        dearer = msgspec.structs.replace(prices, board=board + 10)
        after = {way.title: way for way in ways_on(table(), p, finding, dearer)}
        used = "Exchange the power board, used"
        self.assertAlmostEqual(after[used].worth.cost - ways[used].worth.cost, 10)
        self.assertEqual(
            after["Kit of capacitors"].worth.cost, ways["Kit of capacitors"].worth.cost
        )

    @settings(max_examples=40)
    @given(st.integers(0, 10_000), st.floats(0.0, 1.0), st.floats(1, 120), st.floats(0, 500))
    def test_giving_back_leads_where_nothing_leaves_more_and_else_comes_last(
        self, seed: int, sound: float, hour: float, worth: float
    ) -> None:
        p = chances(seed) * (1.0 - sound)
        p[0] += sound
        prices = Prices(hour=hour, set_value=worth)
        ways = ways_on(table(), p, finding_of(table(), p, []), prices)
        back = [way for way in ways if way.kind in GIVING_BACK]
        self.assertEqual(len(back), 1)
        others = [way.value for way in ways if way.kind not in GIVING_BACK]
        self.assertEqual(others, sorted(others, reverse=True))
        first = not others or max(others) <= 0.0
        self.assertIs(ways[0 if first else -1], back[0])
        self.assertIs(back[0].kind, Kind.HAND_BACK if p[0] >= EVEN else Kind.GIVE_BACK)
        self.assertEqual(back[0].worth.cost, 0.0)

    def test_the_board_that_is_guilty_is_exchanged_and_no_other(self) -> None:
        rows = [row.key for row in table().rows]

        def sure(key: str) -> list[Way]:
            p = np.full(len(rows), 1e-6)
            p[rows.index(key)] = 1.0
            p /= p.sum()
            finding = finding_of(table(), p, [])
            return ways_on(table(), p, finding, Prices(set_value=150.0))

        best = sure("C21:dried:1")
        self.assertEqual(best[0].title, "Repair: C21")
        self.assertGreater(best[0].worth.chance, 0.95)
        self.assertEqual(hunch(best), next(w for w in best if w.boards == ("power board",)))
        main = sure("MB:drags:0")
        self.assertEqual(main[0].boards, ("main board",))
        self.assertGreater(main[0].worth.chance, 0.85)
        for way in main:
            self.assertNotIn(way.kind, (Kind.REPAIR, Kind.PAIR), way.title)
            if way.boards == ("power board",):
                self.assertLess(way.worth.chance, 0.01)
        guess = hunch(main)
        assert guess is not None
        self.assertEqual(guess.boards, ("power board",))

    def test_money_against_the_worked_examples(self) -> None:
        """Written down in the electrical reference, section 13, before this was built."""
        repair, swap = Worth(57.0, 0.75, 0.08), Worth(72.0, 0.92, 0.05)
        kit = Worth(23.0, 0.60, 0.10)
        alone = expected(swap, 120.0, 60.0)
        self.assertAlmostEqual(expected(repair, 120.0, 60.0), 29.4, places=1)
        self.assertAlmostEqual(alone, 35.6, places=1)
        self.assertAlmostEqual(break_even(repair, alone, 120.0, 60.0) or 0.0, 0.804, places=3)
        self.assertAlmostEqual(expected(kit, 120.0, 60.0, alone), 59.7, places=1)
        self.assertAlmostEqual(expected(repair, 120.0, 60.0, alone), 38.3, places=1)
        self.assertIsNone(break_even(swap, 120.0, 100.0, 60.0))
        best = comeback_risk(cause_found=True, soaked=True, aged_left=False, group_renewed=True)
        worst = comeback_risk(False, False, True, False)
        self.assertAlmostEqual(best, 0.02)
        self.assertAlmostEqual(worst, 0.32)


class Legends(unittest.TestCase):
    def test_every_board_has_its_legend_in_two_rows_of_the_same_length(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            for around in (False, True):
                rows = legend_of_board(board, around).rows
                self.assertTrue(rows, board_id)
                self.assertEqual(len({len(row) for row in rows}), 1)
                numbers = sorted(pin.number for row in rows for pin in row)
                self.assertEqual(numbers, list(range(1, len(numbers) + 1)))
                for place in range(len(rows[0])):
                    if len(rows) == 2 and not around:
                        self.assertEqual(rows[1][place].number - rows[0][place].number, 1)
                    elif len(rows) == 2:
                        both = rows[0][place].number + rows[1][place].number
                        self.assertEqual(both, len(numbers) + 1)

    def test_volts_asleep_and_awake_are_those_of_the_model(self) -> None:
        """The legend's words against the healthy board's simulated readings."""
        board = shipped_board("PB-4310-2")
        for rail in board.rails:
            asleep, awake = rail_volts(board, rail)
            point = next(p for p in board.live_points if p.rail == rail.id)
            for state, words in (("standby/cable/direct", asleep), ("on/cable/direct", awake)):
                column = table().index(f"live.{point.id}@{state}")
                volts = float(table().low[0, column])
                self.assertAlmostEqual(float(words.split()[0]), volts, delta=0.06 * rail.volts)

    @given(st.lists(st.sampled_from(("5VSB", "12V", "GND", "7: 24V", "3=PS-ON")), max_size=12))
    def test_labels_get_the_pins_they_name(self, labels: list[str]) -> None:
        pins = typed_pinout(f"CN3: {', '.join(labels)}").labels
        if labels and labels[-1] == "7: 24V":
            self.assertEqual(pins[7], "24V")
        self.assertTrue(all(1 <= pin <= 40 and ":" not in text for pin, text in pins.items()))


class Pages(unittest.TestCase):
    def test_settings_come_back_and_damaged_ones_are_kept_beside(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = SettingsFile(Path(folder) / "settings.json")
            self.assertEqual(file.read(), Settings())
            mine = Settings("TCPIP::a::5025::SOCKET", "", "Pause", False, True)
            file.write(mine)
            self.assertEqual(file.read(), mine)
            file.path.write_text('{"meter": 3')
            with self.assertRaises(StoreError) as caught:
                file.read()
            self.assertIn("kept as settings.damaged-1.json", caught.exception.hint)
            self.assertEqual(file.read(), Settings())
            self.assertEqual((Path(folder) / "settings.damaged-1.json").read_text(), '{"meter": 3')

    def test_a_damaged_profile_or_setting_is_told_and_the_shop_opens(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            data = Path(folder) / "shop.sqlite"
            places = places_of(data)
            places.meters.mkdir(parents=True)
            (places.meters / "mine.json").write_text("{}")
            places.settings.write_text("[]")
            place = Workplace(Options(False, data))
            self.addCleanup(place.close)
            self.assertIn("mine.json", place.problem)
            self.assertIn("settings.damaged-1.json", place.problem)
            self.assertEqual(place.profiles[-1].name, "scpi-1999")
            self.assertEqual(place.shelf().rows, ())

    def test_meters_are_found_chosen_swapped_and_let_go(self) -> None:
        kept = [Settings(second_meter="old")]
        answers = {
            "a": FoundMeter("a", "Bench one", "scpi-1999", ""),
            "b": FoundMeter("b", "", "", "No meter answers at b."),
            "old": FoundMeter("old", "Bench two", "scpi-1999", ""),
        }
        plugs = MeterPlugs(
            lambda: ["a", "b"],
            answers.__getitem__,
            str.strip,
            lambda: kept[-1],
            kept.append,
            ["scpi-1999"],
        )
        desk = MeterDesk(plugs)
        self.assertEqual(desk.choose(0, "meter").kind, "problem")
        notice = desk.keep(desk.search())
        self.assertIn("Bench one at a", notice.text)
        rows = meters_state(desk, False).rows
        self.assertEqual([row.address for row in rows], ["a", "b", "old"])
        self.assertEqual((rows[1].answers, rows[2].role), (False, "B, stays clipped"))
        desk.choose(0, "meter")
        self.assertEqual(kept[-1].meter, "a")
        desk.choose(0, "second_meter")
        self.assertEqual((kept[-1].meter, kept[-1].second_meter), ("", "a"))
        desk.choose(0, "second_meter")
        self.assertEqual(kept[-1].second_meter, "")
        for choice in CHOICES:  # turned through, each comes back to where it was
            before = kept[-1]
            seen = {choice.stands(kept[-1]) for _ in choice.values if desk.turn(choice).taken}
            self.assertEqual(len(seen), len(choice.values), choice.setting)
            self.assertEqual(kept[-1], before)
        self.assertIn("not installed", meters_state(desk, False).speech_words)

    def test_the_posterior_of_the_demo_job_is_what_the_routes_start_from(self) -> None:
        session = demo_session()
        again = posterior(
            table(), session.reviewed.dossier.evidence, [], session.reviewed.dossier.clues
        )
        self.assertAlmostEqual(
            abs(again - session.reviewed.assessment.probabilities).max(), 0, places=6
        )

    def test_prices_typed_once_count_for_routes_and_for_when_to_stop(self) -> None:
        session = demo_session()
        assert session.engine is not None and session.review is not None
        before = stop_advice_of(session)
        self.assertEqual(decide(session, "hour 400, part 90").kind, "info")
        costs = costs_of(session)
        self.assertEqual((costs.per_hour, costs.part), (400.0, 90.0))
        minutes = costs.rework_minutes + costs.trial_minutes
        self.assertAlmostEqual(costs.wrong_repair, 90.0 + 400.0 * minutes / 60.0)
        after = stop_advice_of(session)
        self.assertAlmostEqual(
            after.now / before.now, costs.wrong_repair / ShopCosts().wrong_repair, places=6
        )
        self.assertEqual(prices_of(session).hour, 400.0)
        for bad in ("hour", "hour many", "hour -3", "zebra 4", "part 1e9"):
            self.assertEqual(decide(session, bad).kind, "problem", bad)
        self.assertEqual(costs_of(session), costs)


def stop_advice_of(session: JobSession) -> StopAdvice:
    """Acting now against the offered reading, at the prices of the job."""
    assert session.engine is not None and session.review is not None
    offer = session.reviewed.step.offer if session.reviewed.step else None
    chances_now = session.reviewed.assessment.probabilities
    found = stop_advice(
        session.engine.planner,
        chances_now,
        offer,
        costs_of(session),
        session.reviewed.finding,
    )
    assert found is not None
    return found
