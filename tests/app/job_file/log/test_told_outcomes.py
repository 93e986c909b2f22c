"""What came of a deed, made by a small grammar: whatever is put together, it is never turned round,
and what is said in plain words is heard."""

import unittest
from pathlib import Path

from hypothesis import given, strategies as st

from loose_rail.app.job_file.log.outcomes import outcome

LISTS = tuple(
    f"outcomes{one}.txt"
    for one in (
        *("", "_second", "_third", "_fourth", "_fifth", "_sixth", "_seventh", "_eighth"),
        *("_ninth", "_tenth", "_eleventh", "_twelfth", "_thirteenth", "_fourteenth"),
        "_fifteenth",
        "_sixteenth",
        "_seventeenth",
        "_eighteenth",
    )
)
HEARD = 0.93
OTHER_VOICES = {
    "outcomes_eleventh.txt": 0.86,
    "outcomes_twelfth.txt": 0.8,
    "outcomes_thirteenth.txt": 0.86,
}
"""People who are not native speakers, day books, job cards and posts: heard less often, and not
turned round."""
TROUBLES = ("tick", "ticking", "hum", "flicker", "buzz", "whistle", "noise", "fault", "blinking")
SHOWN = ("picture", "backlight", "5 V", "12.1 V rail", "standby light", "24 V", "sound")
DOES = (
    ("starts", "start"),
    ("runs", "run"),
    ("works", "work"),
    ("plays", "play"),
    ("wakes", "wake"),
    ("lights", "light"),
    ("holds", "hold"),
    ("stays on", "stay on"),
    ("comes on", "come on"),
)
FAILS = (
    ("trips", "trip"),
    ("ticks", "tick"),
    ("blinks", "blink"),
    ("collapses", "collapse"),
    ("smokes", "smoke"),
    ("hums", "hum"),
    ("goes off", "go off"),
    ("goes dark", "go dark"),
    ("shuts down", "shut down"),
    ("cuts out", "cut out"),
    ("restarts", "restart"),
)
SPANS = ("a minute", "ten minutes", "an hour", "two days", "a week")
YES = (
    "no more {trouble}",
    "the {trouble} is gone",
    "{trouble} has stopped",
    "the {trouble} has gone",
    "no {trouble} in {span}",
    "without any {trouble}",
    "not a single {trouble}",
    "{does} again",
    "{does} now",
    "{does} every time",
    "still {does}",
    "no longer {fails}",
    "never {fails}",
    "does not {fail} any more",
    "nothing makes it {fail}",
    "can't get it to {fail}",
    "{shown} is there",
    "{shown} is back",
    "the {shown} is there again",
)
NO = (
    "the {trouble} is still there",
    "{trouble} remains",
    "the {trouble} has not gone",
    "the {trouble} is back",
    "still the same {trouble}",
    "does not {do}",
    "doesn't {do} any more",
    "won't {do}",
    "never {does}",
    "no longer {does}",
    "still does not {do}",
    "nothing makes it {do}",
    "{fails}",
    "{fails} again",
    "still {fails}",
    "{fails} as before",
    "{fails} after {span}",
    "keeps on, {fails}",
    "{shown} is not there",
    "no {shown}",
    "still no {shown}",
    "the {shown} is gone",
    "no change",
    "just the same",
)
SIDE = ("", "series lamp flashes once and goes dark, ", "new fuse in, ", "cable on: ")


@st.composite
def said(draw: st.DrawFn, forms: tuple[str, ...]) -> str:
    does, fails = draw(st.sampled_from(DOES)), draw(st.sampled_from(FAILS))
    return draw(st.sampled_from(forms)).format(
        trouble=draw(st.sampled_from(TROUBLES)),
        shown=draw(st.sampled_from(SHOWN)),
        span=draw(st.sampled_from(SPANS)),
        does=does[0],
        do=does[1],
        fails=fails[0],
        fail=fails[1],
    )


class Grammar(unittest.TestCase):
    @given(st.sampled_from(SIDE), said(YES))
    def test_what_helped(self, side: str, good: str) -> None:
        self.assertIs(outcome(side + good), True, side + good)

    @given(st.sampled_from(SIDE), said(NO))
    def test_what_did_not(self, side: str, bad: str) -> None:
        self.assertIs(outcome(side + bad), False, side + bad)

    @given(said(YES), said(YES), said(NO), st.sampled_from((", ", "; ", " and ")))
    def test_how_it_ended_counts(self, good: str, too: str, bad: str, join: str) -> None:
        self.assertIs(outcome(good + join + too), True, good + join + too)
        self.assertIs(outcome(f"{good}, then {bad}"), False, f"{good}, then {bad}")
        self.assertIsNot(outcome(f"{bad}, then {good}"), False, f"{bad}, then {good}")
        for but in ("but", "though", "however"):
            self.assertIsNone(outcome(f"{good}, {but} {bad}"), f"{good}, {but} {bad}")

    @given(said(YES), said(NO), st.sampled_from(("perhaps", "maybe", "not sure,")))
    def test_what_is_hedged_says_nothing(self, good: str, bad: str, hedge: str) -> None:
        for text in (good, bad):
            self.assertIsNone(outcome(f"{hedge} {text}"), f"{hedge} {text}")


class Lists(unittest.TestCase):
    def test_no_list_turns_one_round_and_nearly_all_is_heard(self) -> None:
        meant = {"yes": True, "no": False, "none": None}
        for name in LISTS:
            lines = Path(__file__).with_name(name).read_text(encoding="utf-8").splitlines()
            rows = [line.split(" | ") for line in lines if line and not line.startswith("#")]
            self.assertGreater(len(rows), 90, name)
            right = 0
            for text, told in rows:
                heard, wanted = outcome(text), meant[told]
                self.assertFalse(heard is not None and wanted is (not heard), (text, heard))
                right += heard is wanted
            least = OTHER_VOICES.get(name, HEARD)
            self.assertGreaterEqual(right, least * len(rows), name)


if __name__ == "__main__":
    unittest.main()
