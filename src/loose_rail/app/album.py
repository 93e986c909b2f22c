"""The photographs of a job: added, hung on a step, a part or a reading, pointed at, compared.

Reading and keeping files is slow and is called on a worker thread (`keep_files`, `keep_bytes`,
`picture`); what is recorded of them is recorded on the main thread (`record`).
"""

from __future__ import annotations

from collections.abc import Callable

from loose_rail.app.kept_pictures import Kept, KeptPictures
from loose_rail.app.outcome import Outcome
from loose_rail.app.ports import Photos
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.evidence.soft_evidence import finding_key
from loose_rail.jobs import events as ev
from loose_rail.kernel.errors import StoreError

STAGE_WORDS = {stage: stage.replace("_", " ").capitalize() for stage in ev.STAGES}
RECORDING = "recording"
"""What a plot of readings in time is about."""


class Album(KeptPictures):
    """Photographs of one job. `subject` is what the next photograph hangs on."""

    def __init__(
        self,
        session: JobSession,
        folder: Photos | None,
        looking_at: Callable[[], str] = str,
    ) -> None:
        super().__init__(folder)
        self._session = session
        self._looking_at = looking_at
        self.selected = 0
        self.compared = -1
        self.subject = ""

    @property
    def ticket(self) -> str:
        """Of the job that the photographs belong to."""
        return self._session.state.ticket

    def secure(self) -> str:
        """Of a job that nobody has open any more: what can't be saved now is set aside; says so."""
        if not self._session.unsaved:
            return ""
        try:
            return f"Not saved yet, kept in {self._session.set_aside()}."
        except StoreError as error:
            return error.one_line()

    # ---- on the main thread ----------------------------------------------------------------

    def record(self, kept: Kept) -> Outcome:
        """The photographs belong to the job from now on."""
        found, refused = kept
        known = {one.photo for one in self._session.state.photos}
        about = self.hangs_on
        fresh = [(photo, name) for photo, name in found if photo not in known]
        for photo, name in fresh:
            self._session.record(ev.PhotoAdded(photo, about, name))
        if fresh:
            self.selected = len(self._session.state.photos) - 1
        said = []
        if fresh:
            said.append(f"{photographs(len(fresh))} kept, {subject_words(about)}.")
        if len(fresh) < len(found):
            said.append("Already there.")
        told = " ".join([*said, *refused])
        return Outcome.refused(told) if refused else Outcome(told)

    def record_plot(self, kept: Kept, words: str) -> Outcome:
        """A plot of the recording belongs to the job, and is printed on its sheet."""
        found, refused = kept
        if not found:
            return Outcome.refused(" ".join(refused))
        photo = found[0][0]
        if photo in {one.photo for one in self._session.state.photos}:
            return Outcome("That is on the sheet already.")
        self._session.record(ev.PhotoAdded(photo, RECORDING, words))
        return Outcome(f"On the sheet: {words}")

    def subject_now(self) -> str:
        """What a photograph taken now shows, by the stage of the work."""
        state = self._session.state
        if state.stage == "strip_down" and state.steps:
            return f"step:{state.steps[-1].number}"
        if state.stage == "look_over" and self._looking_at():
            return f"part:{self._looking_at()}"
        if state.stage in ("cold_checks", "live_checks") and state.live_readings:
            return f"reading:{state.live_readings[-1].number}"
        if state.stage in ("rework", "power_up") and state.verdict is not None:
            return f"part:{state.part_in_hand or state.verdict.part}"
        return f"stage:{state.stage}"

    def moment(self, one: ev.PhotoAdded) -> str:
        fitted_at = self._session.state.fitted_at
        when = next((r.at for r in self._session.records if r.event == one), "")
        return "after" if fitted_at and when > fitted_at else "before"

    @property
    def photos(self) -> tuple[ev.PhotoAdded, ...]:
        """Every photograph, in order."""
        return self._session.state.photos

    @property
    def marks(self) -> tuple[ev.PhotoPointed, ...]:
        """Every marked point."""
        return self._session.state.photo_points

    @property
    def hangs_on(self) -> str:
        """What the next photograph hangs on."""
        return self.subject or self.subject_now()

    def select(self, number: int) -> None:
        """Bring a photograph to the front."""
        if 0 <= number < len(self._session.state.photos):
            self.selected = number

    def compare(self) -> Outcome:
        """Beside it the last one of the same subject from the other side of the repair, else the
        one before it; again to see one alone."""
        photos = self._session.state.photos
        if self.compared >= 0:
            self.compared = -1
            return Outcome("")
        if len(photos) < 2:
            return Outcome.refused("There is no second photograph to compare with.")
        chosen = photos[self.selected]
        others = [k for k in range(len(photos)) if k != self.selected]
        same = [k for k in others if photos[k].about == chosen.about]
        across = [k for k in same if self.moment(photos[k]) != self.moment(chosen)]
        self.compared = (across or same or others)[-1]
        return Outcome(f"Beside it: photograph {self.compared + 1}.")

    def attach(self, text: str) -> Outcome:
        """Hang the photograph in front on something else: step 3, C205, reading 4."""
        photos = self._session.state.photos
        if not photos:
            return Outcome.refused("There is no photograph to hang on anything.")
        about = self._about_of(text)
        if not about:
            return Outcome.refused(
                f"“{text}” is no step, reading or part here: try step 3, reading 4 or a part."
            )
        one = photos[self.selected]
        self._session.record(ev.PhotoAdded(one.photo, about, one.caption))
        return Outcome(f"Photograph {self.selected + 1}: {subject_words(about)}.")

    def caption(self, text: str) -> Outcome:
        """Name the photograph in front."""
        photos = self._session.state.photos
        if not photos:
            return Outcome.refused("There is no photograph to name.")
        one = photos[self.selected]
        self._session.record(ev.PhotoAdded(one.photo, one.about, text.strip()))
        return Outcome("Named.")

    def mark(self, x: float, y: float, words: str) -> Outcome:
        """Mark a point on the photograph in front."""
        photos = self._session.state.photos
        if not photos or not words.strip():
            return Outcome.refused("Type what is at the point, then mark it.")
        photo = photos[self.selected].photo
        self._session.record(ev.PhotoPointed(photo, round(x, 4), round(y, 4), words.strip()))
        seen = self._seen(words)
        if seen is None:
            return Outcome(f"Marked: {words.strip()}.")
        self._session.record(ev.FindingNoted(*seen))
        return Outcome(f"Marked: {words.strip()}. Counts as a finding on {seen[0]}.")

    def _seen(self, words: str) -> tuple[str, str] | None:
        """Part and finding where the words of a point name both, such as C21 domed."""
        ref, _, rest = words.strip().partition(" ")
        parts = {part.ref.upper(): part.ref for part in self._session.board.components}
        if ref.upper() not in parts or not rest.strip():
            return None
        key = finding_key(rest)
        return (parts[ref.upper()], key) if key else None

    def _about_of(self, text: str) -> str:
        state, words = self._session.state, text.strip().split()
        if len(words) == 2 and words[1].isdecimal():
            number = int(words[1])
            if words[0].lower() == "step" and 1 <= number <= len(state.steps):
                return f"step:{number}"
            if words[0].lower() == "reading" and 1 <= number <= len(state.readings):
                return f"reading:{number}"
        ref = text.strip().upper()
        if any(one.ref.upper() == ref for one in self._session.board.components):
            return f"part:{ref}"
        return ""


def photographs(count: int) -> str:
    return f"{count} photograph{'' if count == 1 else 's'}"


def subject_words(about: str) -> str:
    """What a photograph shows, in words."""
    kind, _, what = about.partition(":")
    if kind == "stage":
        return f"at {STAGE_WORDS.get(what, what).lower()}"
    if about == RECORDING:
        return "readings in time"
    return what if kind == "part" else f"{kind} {what}"
