"""Eyes before the meter: what light and picture of a repaired set do decides with the readings."""

import unittest

from loose_rail.diagnosis.proof.plan import SWITCHED_ON
from loose_rail.diagnosis.proof.standing import ProofStatus
from loose_rail.jobs import events as ev
from loose_rail.judgement.proof import SWITCHED_ON as RANK
from loose_rail.screens.job.present import JobPresenter
from loose_rail.vocabulary.board_state import UNPLUGGED
from loose_rail.vocabulary.light import Light, light_of
from tests.app.test_gates import logged
from tests.shared import the


class LightOfTheSet(unittest.TestCase):
    def in_the_set(self) -> JobPresenter:
        """The demo's set, repaired and followed until it is switched on."""
        presenter = logged(
            "PB-4310-2",
            ev.StateConfirmed(UNPLUGGED.key),
            ev.BulkMeasured(0.4),
            ev.VerdictAccepted("C21", "C21 dried out", 0.95, "confirmed", []),
            ev.PartFitted("C21"),
            ev.StageEntered("power_up"),
        )
        self.follow(presenter, "light")
        return presenter

    def follow(self, presenter: JobPresenter, until: str) -> None:
        """What a sound board reads, as far as a phase of the card."""
        table = the(presenter.session.engine).table
        for _ in range(40):
            phase = presenter.power_up().card.phase
            if phase == until:
                return
            if phase in ("state", "acknowledge"):
                presenter.confirm_state()
            elif phase == "lamp":
                presenter.submit("2")
            elif phase == "bulk":
                presenter.submit("0.4")
            else:
                column = table.index(the(presenter.session.reviewed.task).candidate.key)
                presenter.submit(f"{table.low[0, column]:.5g}")
        self.fail(f"never asked for {until}")

    def test_it_is_asked_once_switched_on_and_each_answer_counts(self) -> None:
        for light in Light:
            presenter = self.in_the_set()
            session = presenter.session
            self.assertEqual(session.state.board_state, SWITCHED_ON)
            self.assertFalse(presenter.submit("8").taken)
            outcome = presenter.submit(light.label)
            self.assertEqual(outcome.kind == "warning", light.is_bad, outcome)
            proof = session.reviewed.proof
            self.assertEqual(proof.status is ProofStatus.FAILED, light.is_bad, light)
            if light.is_bad:
                self.assertIn("Switched on, the set", proof.failures[0])
                self.assertTrue(presenter.power_up().card.alarm)
                if light.symptom:
                    self.assertIn(light.symptom, {s.symptom for s in session.state.symptoms})
                presenter.undo()
                self.assertEqual(presenter.power_up().card.phase, "light")
                continue
            self.follow(presenter, "nothing")
            level = session.reviewed.proof.level
            self.assertEqual(level.rank, RANK)
            self.assertEqual("light and picture" in level.leaves_open, light is Light.UNSEEN)

    def test_numbers_words_and_nonsense(self) -> None:
        self.assertEqual([light_of(str(k)) for k in range(1, 8)], list(Light))
        self.assertEqual(light_of("  Flickers  or pulses "), Light.FLICKERS)
        for text in ("", "0", "8", "bright", "1.5"):
            self.assertIsNone(light_of(text), text)


if __name__ == "__main__":
    unittest.main()
