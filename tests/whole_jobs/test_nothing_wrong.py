"""A set that does its work: it is watched instead of read, everywhere in the same words, and goes
back with nothing replaced."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from loose_rail.app.deciding import given_back
from loose_rail.app.job_file.answer import answer
from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.read import Case
from loose_rail.app.ways import choose_way, ways_of
from loose_rail.cli.diagnose import words_of
from loose_rail.diagnosis.evidence.runs import seen_running, told_by_eye
from loose_rail.diagnosis.explain.supply_words import AT_WORK, at_work_words
from loose_rail.diagnosis.explain.ways_on import Kind
from loose_rail.reports.content import content_of
from loose_rail.reports.html import render_html
from loose_rail.screens.guides.view import GuideView
from loose_rail.screens.hand_back.present import hand_back_state
from loose_rail.screens.job.view import JobView
from loose_rail.screens.shared.card.present import card_for
from loose_rail.screens.verdict.present import money_words, verdict_state
from tests.app.job_file.log.test_told_pairs import case_of
from tests.screens.helper import demo_job, press

LIT = "picture and sound, as they should be"
SMALL = ("one flyback 12 V, LED boost", [("CN1", 1, "12V 12V GND GND PON BL")], "high")


def tell(job: JobView, line: str) -> None:
    job.front.show_guide("told")
    guide = job.page_of(GuideView)
    guide.entry.setText(line)
    guide.entry.setFocus()
    press(Qt.Key.Key_Return)
    QApplication.processEvents()
    assert guide.entry.text() == "", line


class InTheWindow(unittest.TestCase):
    def test_it_is_watched_and_handed_back_and_every_page_says_the_same(self) -> None:
        job = demo_job(self, "look_over")
        session = job.presenter.session
        for line in ("state on, complete", f"seen {LIT} at the set"):
            tell(job, line)
        before = session.reviewed.assessment
        self.assertFalse(before.at_work, "what ticked all week is not well for one picture")
        self.assertIsNotNone(before.next_step)
        for line in ("soaked two days: did not drop out once", "read 5.02 at CN2-2"):
            tell(job, line)
        found = session.reviewed.assessment
        self.assertTrue(found.at_work)
        self.assertIsNone(found.next_step)
        words = at_work_words(float(found.probabilities[0]))
        card, verdict = card_for(session), verdict_state(session)
        self.assertEqual((card.title, card.why), (AT_WORK, words))
        self.assertEqual((verdict.headline, verdict.standing), (AT_WORK, words))
        ways = ways_of(session)
        self.assertIs(ways[0].kind, Kind.HAND_BACK, [way.title for way in ways])
        self.assertIn("No way leaves more", money_words(session))
        job.go("live_checks")
        for _ in ("to the verdict", "to hand back"):  # Enter goes on, and never round in a ring
            job.go_on()
        self.assertEqual(session.state.stage, "hand_back")
        self.assertTrue(given_back(session))
        points = hand_back_state(session, "").open_points
        self.assertIn("Given back with nothing replaced, as decided.", points)
        self.assertNotIn("No part was fitted.", points)
        sheet = content_of(session)
        self.assertIn("Soaked two days: did not drop out once.", sheet.proof_words)
        self.assertNotIn("since the repair", render_html(sheet))
        while given_back(session):
            job.tell(job.presenter.undo())
        self.assertIsNone(session.state.way)
        self.assertFalse(given_back(session))

    def test_a_faulty_set_that_is_given_back_is_called_unrepaired(self) -> None:
        session = demo_job(self, "verdict").presenter.session
        ways = ways_of(session)
        self.assertIs(ways[-1].kind, Kind.GIVE_BACK)
        choose_way(session, len(ways))
        self.assertIn(
            "Given back unrepaired, as decided.", hand_back_state(session, "").open_points
        )


class Told(unittest.TestCase):
    def told(self, *log: dict[str, str]) -> Case:
        return case_of(SMALL, *log)

    def test_the_file_command_says_it_too(self) -> None:
        case = self.told(
            {"said": "switches itself off now and then, says the owner"},
            {"state": "on, complete"},
            {"read": "12.1", "at": "CN1-1"},
            {"seen": LIT, "at": "the set"},
            {"did": "soaked", "what": "two days", "result": "did not drop out once"},
        )
        found = answer(case, 3)
        assessment = review_of(case).assessment
        self.assertTrue(assessment.at_work)
        words = at_work_words(float(assessment.probabilities[0]))
        self.assertEqual(found["at_work"], words)
        said = " ".join(words_of(found).split())
        self.assertIn(f"{AT_WORK}. {words}", said)
        self.assertNotIn("no part is sure enough", said)

    def test_a_set_that_fails_its_soak_is_read(self) -> None:
        case = self.told(
            {"said": "switches itself off now and then"},
            {"state": "on, complete"},
            {"seen": LIT, "at": "the set"},
            {"did": "soaked", "what": "two days", "result": "went off twice"},
        )
        found = review_of(case).assessment
        self.assertFalse(found.at_work)
        self.assertIsNotNone(found.next_step)

    def test_eyes_stand_for_readings_of_the_light_where_nobody_complains_of_it(self) -> None:
        lit = ({"state": "on, complete"}, {"seen": LIT, "at": "the set"})
        for complaint, by_eye in (
            ("switches itself off now and then", True),
            ("the picture goes dark now and then, sound stays, a torch shows the picture", False),
            ("backlight comes on for a second and goes out, now and then", False),
        ):
            case = self.told({"said": complaint}, *lit)
            review = review_of(case)
            running = seen_running(review.dossier.clues)
            self.assertTrue(running.lit)
            probes = told_by_eye(case.case_board.board, running)
            self.assertEqual(bool(probes), by_eye, complaint)
            offered = {one.candidate.probe.id for one in review.assessment.others}
            self.assertEqual(bool(offered & set(probes)), False, complaint)
        dark = review_of(self.told({"said": "no light, sound is there"}, lit[0]))
        self.assertEqual(told_by_eye(dark.table.board, seen_running(dark.dossier.clues)), ())


if __name__ == "__main__":
    unittest.main()
