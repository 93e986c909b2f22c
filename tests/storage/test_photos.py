"""Photographs: kept by content, upright, with nothing beside the pixels; bad files are refused."""

import io
import tempfile
import unittest
from pathlib import Path

from hypothesis import given, settings, strategies as st
from PIL import Image

from loose_rail.app.album import Album
from loose_rail.jobs import events as ev
from loose_rail.kernel.errors import PhotoError
from loose_rail.practice.sample_photo import sample_photo
from loose_rail.screens.photos.present import album_state
from loose_rail.storage.photos import PhotoFolder
from tests.shared import demo_session

ORIENTATION, GPS, MAKE, LATITUDE = 0x0112, 0x8825, 0x010F, 2
TURNS = {1: (0, 0), 3: (39, 29), 6: (29, 0), 8: (0, 39)}
"""Where the top-left mark of a 40 × 30 picture lies once it is upright (Exif 2.3, orientation)."""


def camera_file(orientation: int) -> bytes:
    """A JPEG as a camera writes it: a red mark at the sensor's top left, rotation, place, owner."""
    image = Image.new("RGB", (40, 30), "white")
    image.paste((220, 0, 0), (0, 0, 8, 8))
    exif = image.getexif()
    exif[ORIENTATION] = orientation
    exif[MAKE] = "someone's camera"
    exif.get_ifd(GPS)[LATITUDE] = (51.0, 30.0, 0.0)
    made = io.BytesIO()
    image.save(made, "JPEG", quality=95, exif=exif)
    return made.getvalue()


class Photos(unittest.TestCase):
    def setUp(self) -> None:
        self.kept = tempfile.TemporaryDirectory()
        self.folder = PhotoFolder(Path(self.kept.name) / "photos")

    def tearDown(self) -> None:
        self.kept.cleanup()

    def test_turned_upright_and_bare(self) -> None:
        for orientation, (x, y) in TURNS.items():
            path = self.folder.path(self.folder.add(camera_file(orientation)))
            with Image.open(path) as image:
                red = image.convert("RGB").getpixel((x, y))
                self.assertEqual(image.size, (40, 30) if orientation < 5 else (30, 40))
                self.assertFalse(dict(image.getexif()))
                self.assertFalse(image.info.get("exif"))
            assert isinstance(red, tuple)
            self.assertTrue(red[0] > 150 and red[1] < 100, (orientation, red))
            self.assertNotIn(b"someone's camera", path.read_bytes())

    def test_one_file_for_equal_content_and_a_changed_one_is_told(self) -> None:
        first, again = self.folder.add(sample_photo(True)), self.folder.add(sample_photo(True))
        other = self.folder.add(sample_photo(False))
        self.assertEqual(first, again)
        self.assertNotEqual(first, other)
        self.assertEqual(len(list(self.folder.folder.glob("*.jpg"))), 2)
        with Image.open(self.folder.thumbnail(first)) as small:
            self.assertLessEqual(max(small.size), 240)
        path = self.folder.path(first)
        path.write_bytes(path.read_bytes() + b"x")
        with self.assertRaises(PhotoError):
            self.folder.path(first)
        path.unlink()
        with self.assertRaises(PhotoError):
            self.folder.path(first)

    @settings(max_examples=60)
    @given(st.data())
    def test_damaged_and_foreign_files_are_refused_with_a_sentence(
        self, data: st.DataObject
    ) -> None:
        """Cut or corrupted anywhere, or no picture at all: a PhotoError or a whole picture."""
        whole = camera_file(1)
        if data.draw(st.booleans()):
            junk = data.draw(st.binary(max_size=200))
        else:
            junk = whole[: data.draw(st.integers(0, len(whole) - 3))]
        try:
            digest = self.folder.add(junk, "IMG_1.jpg")
        except PhotoError as error:
            self.assertIn("IMG_1.jpg", error.message)
            self.assertTrue(error.hint)
        else:
            with Image.open(self.folder.path(digest)) as image:
                image.load()

    def test_heic_is_refused_with_what_to_do(self) -> None:
        for brand in (b"heic", b"mif1", b"heix"):
            with self.assertRaisesRegex(PhotoError, "HEIC") as caught:
                self.folder.add(b"\x00\x00\x00\x18ftyp" + brand + b"\x00" * 40, "IMG_2.HEIC")
            self.assertIn("JPEG", caught.exception.hint)

    def test_a_photograph_hangs_on_what_is_being_worked_at(self) -> None:
        session = demo_session()
        album = Album(session, self.folder)
        session.record(ev.StageEntered("strip_down"))
        session.record(ev.StripStep(4, "long M4", "stand", "fastener"))
        here = Path(self.kept.name)
        (here / "step.jpg").write_bytes(sample_photo(True))
        (here / "phone.heic").write_bytes(b"\x00\x00\x00\x18ftypheic" + b"\x00" * 30)
        notice = album.record(album.keep_files([here / "step.jpg", here / "phone.heic"]))
        self.assertEqual(notice.kind, "problem")
        self.assertIn("HEIC", notice.text)
        self.assertEqual([one.about for one in session.state.photos], ["step:1"])
        self.assertEqual(album.attach("c21").kind, "info")
        self.assertEqual(album_state(album).items[0].about, "C21")
        self.assertEqual(album.attach("step 9").kind, "problem")
        album.mark(0.5, 0.25, "domed")
        self.assertEqual(album_state(album).points[0].words, "domed")
        album.mark(0.6, 0.3, "c27 crust at the pins")
        self.assertEqual(session.state.findings[-1], ev.FindingNoted("C27", "crusted"))
        session.undo()
        session.undo()
        self.assertIn("point domed", session.undo())
        self.assertFalse(album_state(album).points)
        session.redo()
        session.record(ev.PartFitted("C21"))
        (here / "after.jpg").write_bytes(sample_photo(False))
        album.subject = "part:C21"
        album.record(album.keep_files([here / "after.jpg"]))
        self.assertEqual([one.moment for one in album_state(album).items], ["before", "after"])
        album.compare()
        self.assertEqual((album_state(album).selected, album_state(album).compared), (1, 0))
