"""What a sound board read: the last steady value of each point of this round, and of no other."""

import unittest

from loose_rail.app.learning import FEWEST_READINGS, refusal_to_learn, sound_readings
from loose_rail.app.session import JobSession
from loose_rail.jobs import events as ev
from loose_rail.jobs.observations import reading_event
from loose_rail.kernel.observation import Observation, open_circuit, ticking, value
from loose_rail.vocabulary.board_state import UNPLUGGED, state_of
from tests.shared import demo_session

LAMP = state_of("standby/bare/lamp60")


def read(session: JobSession, probe: str, seen: Observation) -> None:
    state = LAMP if probe.startswith("live.") else UNPLUGGED
    session.record(reading_event(probe, state, seen, "typed", ""))


class Learning(unittest.TestCase):
    def test_the_last_steady_value_of_this_round_counts(self) -> None:
        session = demo_session()
        read(session, "C27.esr", value(0.05, "Ω"))
        read(session, "C21.esr", value(1.7, "Ω"))
        session.record(ev.PartFitted("C21"))
        self.assertEqual(sound_readings(session), {})
        for ohms in (0.06, 0.04):
            read(session, "C21.esr", value(ohms, "Ω"))
        read(session, "RV1.ohms", open_circuit("Ω"))
        read(session, "live.5vs", ticking(0.1, 3.0, unit="V", hertz=1.0))
        self.assertEqual(sound_readings(session), {"C21.esr@unplugged": 0.04})
        self.assertIn(f"at least {FEWEST_READINGS}", refusal_to_learn(session, {"a": 1.0}))
        self.assertEqual(refusal_to_learn(session, dict.fromkeys("abc", 1.0)), "")

    def test_a_board_that_lights_the_lamp_teaches_nothing(self) -> None:
        for pattern, taught in (("bright", 0), ("glows", 0), ("flash_dark", 1)):
            session = demo_session()
            session.record(ev.PartFitted("C21"))
            read(session, "C21.esr", value(0.04, "Ω"))
            session.record(ev.StateConfirmed(LAMP.key))
            session.record(ev.LampSeen(pattern))
            self.assertEqual(len(sound_readings(session)), taught, pattern)


if __name__ == "__main__":
    unittest.main()
