"""The board of an open job in the board book: what is typed, learned and photographed in the job
becomes the board's own."""

from __future__ import annotations

from collections.abc import Callable

from loose_rail.app.album import Album
from loose_rail.app.board_album import BoardAlbum
from loose_rail.app.board_desk import BoardDesk, binding_text
from loose_rail.app.learning import refusal_to_learn, sound_readings
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.app.wrong_label import words_for_job


class JobBoard:
    """`desk_of` opens a board of the book; the job heeds what was changed by its own signal."""

    def __init__(
        self, session: JobSession, album: Album, desk_of: Callable[[str], BoardDesk] | None
    ) -> None:
        self._session, self._album, self._desk_of = session, album, desk_of

    @property
    def has_book(self) -> bool:
        """Whether the job was opened with a board book beside it."""
        return self._desk_of is not None

    def desk(self) -> BoardDesk:
        """The board in the board book."""
        assert self._desk_of is not None
        return self._desk_of(self._session.board.id)

    def line(self, text: str) -> Outcome:
        """A line of the board's page: “learn” takes this board's readings as a sound one's,
        “forget” drops what was learned, others mend the board."""
        word = text.strip().lower()
        if word == "learn":
            outcome = self.learn()
        elif word == "forget":
            outcome = self.desk().forget()
        else:
            outcome = self.desk().enter(text)
        return self._heeded(outcome)

    def name_part(self, text: str, part: str) -> Outcome:
        """“=C952 1000u 25V”: what is printed beside a part."""
        return self.line(binding_text(text, part))

    def label_proposal(self) -> str:
        """That a label may be wrong, where the readings of this job say so; empty else."""
        review = self._session.review
        return words_for_job(review.table, self._session.state) if review else ""

    def learn(self) -> Outcome:
        """The readings of the board as it is now are those of a sound one."""
        readings = sound_readings(self._session)
        refusal = refusal_to_learn(self._session, readings)
        return Outcome.refused(refusal) if refusal else self.desk().learn(readings)

    def photo_to_book(self) -> Outcome:
        """The photograph in front of the album belongs to the board too, with its points."""
        album = self._album
        if not album.photos:
            return Outcome.refused("There is no photograph here yet.")
        one = album.photos[album.selected]
        points = [(p.x, p.y, p.words) for p in album.marks if p.photo == one.photo]
        taken = BoardAlbum(self.desk(), None).take_over(one.photo, one.caption, points)
        return self._heeded(taken)

    def _heeded(self, outcome: Outcome) -> Outcome:
        if outcome.taken:
            self._session.changed.emit(None)
        return outcome
