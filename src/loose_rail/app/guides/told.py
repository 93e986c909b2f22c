"""What was done and what came of it, in a line of words: forced, loaded, heated, soaked."""

from __future__ import annotations

from collections.abc import Mapping

from loose_rail.app.guides.guide import GuideState
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.app.telling import entry_of, expanded
from loose_rail.jobs import events as ev

EXAMPLES = (
    ("replaced", "5 V reservoir: no change", "a part was changed, and did it help"),
    ("removed", "12 V rectifier: measures shorted by itself", "a part or a leg of it is out"),
    ("lifted", "boost switch: the short is gone", "the same, one leg"),
    ("unplugged", "timing board: comes back", "a load or cable off"),
    ("forced", "BL-ON: light comes on", "any enable tied from outside"),
    ("loaded", "12 V with 10 ohms: holds 12.1 V", "a dummy load, tapping, flexing"),
    ("heated", "5 V reservoir: starts", "warm air on one part"),
    ("cooled", "standby controller: dies", "cold spray on one part"),
    ("injected", "1 V, 1 A at C27: Q1 gets warm", "where a short sits among several, no iron"),
    ("reset", "plug out for a minute: comes back", "a latched set"),
    ("soaked", "four hours: no fault", "it ran"),
    ("limiter", "resistor for the fuse: bright", "lamp or resistor in line"),
    ("state", "standby, main cable off", "how the board stands now"),
    ("read", "4.9 V at CN8 pin 7 (wanders)", "a reading that the card did not ask for"),
    ("seen", "bulging at 12 V reservoir", "something seen, and where"),
    ("said", "it ticks twice a second", "the customer's words"),
)


CAUTION = (
    "Nothing is forced, loaded or heated with a hand near the hot side; a jumper is fitted with "
    "the plug out."
)


def _as_told(entry: Mapping[str, str]) -> str:
    """An entry as a line again: “9 ohm esr at the domed one”."""
    at = entry.get("at", "")
    said = " ".join(words for key, words in entry.items() if words and key != "at")
    return f"{said} at {at}" if at else said


class ToldGuide:
    """One line of words becomes evidence, as it does in a job file; what is not understood is said
    and counts for nothing."""

    def __init__(self, session: JobSession) -> None:
        self._session = session

    def state(self) -> GuideState:
        """The forms of a line, each with an example, and what was told so far."""
        told = [
            record.event
            for record in self._session.records
            if isinstance(record.event, ev.EntryTold)
        ]
        last = "; ".join(_as_told(one.entry) for one in told[-3:])
        rows = [
            (str(number), f"{word} {example}", words)
            for number, (word, example, words) in enumerate(EXAMPLES, start=1)
        ]
        return GuideState(
            title="Tell what was done",
            intro=(
                "A deed, what it was done to, and after a colon what came of it.",
                *((f"Told last: {last}.",) if last else ()),
            ),
            caution=CAUTION,
            columns=("", "Line", "Says"),
            rows=tuple(rows),
            hint="Such as: replaced 5 V reservoir: no change",
        )

    def choose(self, number: int) -> Outcome:
        """An example, to be typed with one's own words."""
        if not 1 <= number <= len(EXAMPLES):
            return Outcome.refused("There is no line with that number.")
        word, example, _ = EXAMPLES[number - 1]
        return Outcome.refused(f"Type it in your own words: {word} {example}")

    def enter(self, text: str) -> Outcome:
        """Take a line where it is understood."""
        entry = entry_of(text)
        if entry is None:
            words = ", ".join(word for word, _, _ in EXAMPLES)
            return Outcome.refused(f"A line begins with one of: {words}.")
        engine = self._session.engine
        if engine is None:
            return Outcome.refused("The predictions are not there yet: wait until they are.")
        event = ev.EntryTold(entry)
        records = self._session.records
        trial = ev.Record(len(records) + 1, self._session.now(), "", event)
        made = expanded(engine.table, [*records, trial])
        if made.not_used:
            return Outcome.refused(f"Not understood, and counts for nothing: {made.not_used[0]}.")
        self._session.record(event)
        return Outcome(f"{'; '.join(made.understood) or 'Noted'}.")
