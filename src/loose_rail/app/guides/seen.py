"""What is seen and heard on the bench: lights and their counts, sounds, torch, the lamp."""

from __future__ import annotations

from loose_rail.app.guides.guide import GuideState
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.app.set_picture import picture_of
from loose_rail.diagnosis.evidence.customer_words import proposal_words, proposals
from loose_rail.jobs import events as ev
from loose_rail.vocabulary.lamp_pattern import LampPattern


class SeenGuide:
    """What can be seen and heard, in its place on the picture; again takes it back."""

    def __init__(self, session: JobSession) -> None:
        self._session = session

    def state(self) -> GuideState:
        """The picture as it stands, and the lamp's question while one is in line."""
        intro = [
            "A torch held flat to the panel shows a picture that is there without its light.",
            "Count: blinks of the indicator before its pause, relay clicks, ticks in ten seconds.",
            "An indicator tube or strip at the driver's output lights where the driver works.",
        ]
        state = self._session.state.board_state
        if state.plugged and state.lamp_watts:
            words = ", ".join(f"lamp {key.replace('_', ' ')}" for key in LampPattern)
            intro.append(f"Lamp in line, type what it does: {words}.")
        return GuideState(
            title="Seen and heard",
            intro=tuple(intro),
            caution="Inverter and lamp leads: nothing but an insulated tube near them, no meter.",
            columns=("",),
            rows=(),
            hint="Words: blinks 4 times, ticks twice a second, hot C21, lamp glows. Tab goes to "
            "the picture, where each key turns its answer.",
            picture=picture_of(self._session),
        )

    def choose(self, number: int) -> Outcome:
        """Digits belong to the picture."""
        return Outcome.refused("Tab goes to the picture: there each key turns its answer.")

    def enter(self, text: str) -> Outcome:
        """Words as at the counter, a hot or cold part, or what the lamp in line does."""
        words = text.strip().lower()
        if words.startswith("lamp "):
            return self._lamp(words.removeprefix("lamp "))
        first, _, ref = words.partition(" ")
        parts = {part.ref.lower(): part.ref for part in self._session.board.components}
        if first in ("hot", "cold") and ref in parts:
            seen = "hot" if first == "hot" else "stays_cold"
            self._session.record(ev.FindingNoted(parts[ref], seen))
            return Outcome(f"{parts[ref]}: {first}. Counts.")
        known = {one.symptom for one in self._session.state.symptoms}
        found = [p for p in proposals(text) if not p.is_history and p.kind not in known]
        for one in found:
            self._session.record(ev.SymptomNoted(one.kind, one.phrase, one.hertz))
        if not found:
            return Outcome.refused("Nothing new in these words; Tab goes to the picture.")
        return Outcome(f"Counts: {'; '.join(proposal_words(one) for one in found)}.")

    def _lamp(self, words: str) -> Outcome:
        state = self._session.state.board_state
        key = words.strip().replace(" ", "_")
        if not (state.plugged and state.lamp_watts):
            return Outcome.refused("No lamp is in line as the board is recorded now.")
        if key not in list(LampPattern):
            known = ", ".join(one.replace("_", " ") for one in LampPattern)
            return Outcome.refused(f"The lamp is one of: {known}.")
        pattern = LampPattern(key)
        self._session.record(ev.ClueNoted("lamp", state.key, pattern))
        said = f"Lamp: {pattern.label}. Counts."
        if pattern is LampPattern.BRIGHT:
            return Outcome.warned(f"{said} Pull the plug.")
        return Outcome(said)
