"""The set as it is seen and heard: every answer in its place on the picture, one key each, and a
rate that is tapped along with it."""

from __future__ import annotations

import string
from dataclasses import dataclass
from statistics import median

from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.evidence.history import history_words
from loose_rail.diagnosis.evidence.symptoms import symptom_words
from loose_rail.jobs import events as ev
from loose_rail.kernel.quantities import fixed

PLACES: tuple[tuple[str, str, tuple[tuple[str, str], ...]], ...] = (
    (
        "screen",
        "Picture and light",
        (
            ("backlight_none", "no light behind it"),
            ("picture_by_torch", "seen with a torch"),
            ("picture_none", "no picture"),
            ("picture_dim", "dark or uneven"),
            ("half_dark", "one side dark"),
            ("picture_flickers", "flickers"),
            ("picture_lines", "lines or bands"),
            ("backlight_flashes", "flashes, then out"),
            ("picture_black_lit", "black, but lit"),
            ("picture_wrong", "white or striped"),
            ("picture_menu", "menu or message"),
        ),
    ),
    (
        "indicator",
        "Indicator",
        (
            ("indicator_none", "dark"),
            ("indicator_steady", "lit, steady"),
            ("indicator_blinks", "blinks"),
            ("indicator_dim", "dim"),
            ("remote_dead", "remote does nothing"),
            ("remote_answers", "answers the remote"),
        ),
    ),
    (
        "sound",
        "Sound",
        (
            ("sound_fine", "sound plays"),
            ("sound_none", "no sound"),
            ("clicks_none", "no click at all"),
            ("clicks_once", "one click"),
            ("ticks", "ticks again and again"),
            ("hum", "hums or whines"),
        ),
    ),
    (
        "time",
        "In time",
        (
            ("dead_silent", "dead, nothing"),
            ("never_starts", "never switches on"),
            ("starts_slowly", "takes long to start"),
            ("needs_warmth", "starts when warm"),
            ("starts_then_stops", "starts, then stops"),
            ("restarts", "starts over and over"),
            ("hangs", "stops at the start picture"),
            ("comes_and_goes", "now and then"),
            ("comes_on_alone", "on by itself"),
            ("plug_moves", "when its plug is moved"),
            ("dies_warm", "stops when warm"),
        ),
    ),
    (
        "harm",
        "Harm",
        (
            ("bang", "a bang, a flash"),
            ("burnt_smell", "smells burnt"),
            ("breaker_trips", "takes the fuse out"),
        ),
    ),
    (
        "history",
        "Before that",
        (
            ("surge_mains", "storm, by the mains"),
            ("surge_signal", "by the aerial lead"),
            ("sudden", "all at once"),
            ("gradual", "worse over weeks"),
            ("old", "over eight years"),
            ("repaired_before", "repaired before"),
        ),
    ),
)
"""Places of the picture with their answers, in the words of somebody who stands before it."""
KEYS = f"{string.ascii_lowercase}{string.digits[1:]}0+-*#,.;"
FACTS = frozenset({"surge_mains", "surge_signal", "sudden", "gradual", "old", "repaired_before"})
"""Answers that are history; the rest are symptoms."""
TAPPED = ("ticks", "indicator_blinks", "restarts")
"""What may be tapped along with, the first one that counts."""
FEWEST_TAPS = 4
PAUSE_SECONDS = 3.0
"""A rate takes three intervals; a longer pause begins anew [E]."""


@dataclass(frozen=True, slots=True)
class PictureAnswer:
    """One answer: its key on the keyboard, its words, and whether it counts."""

    kind: str
    key: str
    words: str
    chosen: bool


@dataclass(frozen=True, slots=True)
class PicturePlace:
    """A place of the picture with its answers."""

    name: str
    title: str
    answers: tuple[PictureAnswer, ...]


@dataclass(frozen=True, slots=True)
class SetPictureState:
    """The whole picture; `rate_words` tells the rate that counts, empty where there is none."""

    places: tuple[PicturePlace, ...]
    rate_words: str


def picture_of(session: JobSession) -> SetPictureState:
    """The picture as it stands."""
    state = session.state
    counts = {one.symptom for one in state.symptoms} | {one.fact for one in state.history}
    keys = iter(KEYS)
    places = tuple(
        PicturePlace(
            name,
            title,
            tuple(
                PictureAnswer(kind, next(keys), words, kind in counts) for kind, words in answers
            ),
        )
        for name, title, answers in PLACES
    )
    rated = next((one for one in state.symptoms if one.hertz), None)
    words = (
        f"{symptom_words(rated.symptom)}: {fixed(rated.hertz or 0, 2)} a second" if rated else ""
    )
    return SetPictureState(places, words)


def turn_answer(session: JobSession, kind: str) -> Outcome:
    """An answer counts, or no longer."""
    state = session.state
    standing = [one for one in state.symptoms if one.symptom == kind]
    facts = [one for one in state.history if one.fact == kind]
    if standing or facts:
        session.take_back((standing or facts)[-1])
        return Outcome(f"No longer counts: {_words(kind)}.")
    if kind in FACTS:
        session.record(ev.HistoryNoted(kind, "seen in the picture"))
    else:
        session.record(ev.SymptomNoted(kind, "seen in the picture"))
    return Outcome(f"Counts: {_words(kind)}.")


def note_rate(session: JobSession, hertz: float) -> Outcome:
    """A rate was tapped: it belongs to what ticks, blinks or restarts, else to a tick."""
    counts = {one.symptom: one for one in session.state.symptoms}
    kind = next((one for one in TAPPED if one in counts), TAPPED[0])
    if kind in counts:
        session.take_back(counts[kind])
    session.record(ev.SymptomNoted(kind, "tapped along", round(hertz, 3)))
    return Outcome(f"Counts: {_words(kind)}, {fixed(hertz, 2)} a second.")


def _words(kind: str) -> str:
    return history_words(kind) if kind in FACTS else symptom_words(kind)


class TapCounter:
    """Taps along with a tick or a blink, in seconds of any clock that only goes on."""

    def __init__(self) -> None:
        self._taps: list[float] = []

    def tap(self, seconds: float) -> None:
        """One more; after a long pause the first of a new row."""
        if self._taps and seconds - self._taps[-1] > PAUSE_SECONDS:
            self._taps = []
        self._taps.append(seconds)

    @property
    def count(self) -> int:
        """Taps of this row."""
        return len(self._taps)

    @property
    def hertz(self) -> float | None:
        """Their rate by the middle interval, which one missed tap does not move; None for few."""
        if len(self._taps) < FEWEST_TAPS:
            return None
        steps = [after - before for before, after in zip(self._taps, self._taps[1:], strict=False)]
        return 1.0 / median(steps) if median(steps) > 0 else None

    def clear(self) -> None:
        """Begin anew."""
        self._taps = []
