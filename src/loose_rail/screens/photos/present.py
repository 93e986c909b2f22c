"""The album as it is drawn."""

from __future__ import annotations

from loose_rail.app.album import Album, photographs, subject_words
from loose_rail.screens.photos.state import AlbumState, PhotoItem, PhotoPoint


def album_state(album: Album) -> AlbumState:
    """The album as it stands."""
    photos = album.photos
    items = tuple(
        PhotoItem(
            photo=one.photo,
            number=str(number),
            about=subject_words(one.about),
            caption=one.caption,
            moment=album.moment(one),
        )
        for number, one in enumerate(photos, start=1)
    )
    selected = min(album.selected, len(photos) - 1) if photos else 0
    compared = album.compared if album.compared < len(photos) else -1
    return AlbumState(
        items=items,
        selected=selected,
        compared=compared,
        points=_points(album, selected),
        compared_points=_points(album, compared),
        subject=subject_words(album.hangs_on),
        words=photographs(len(photos)) if photos else "No photographs yet.",
    )


def _points(album: Album, number: int) -> tuple[PhotoPoint, ...]:
    if not 0 <= number < len(album.photos):
        return ()
    whose = album.photos[number].photo
    return tuple(PhotoPoint(p.x, p.y, p.words) for p in album.marks if p.photo == whose)
