"""A board handed from shop to shop: its photographs, the points on them, and what failed on it."""

import tempfile
import unittest
from pathlib import Path

import msgspec

from loose_rail.app.board_album import BoardAlbum
from loose_rail.app.board_desk import BoardDesk
from loose_rail.app.known_before import lessons_elsewhere
from loose_rail.boards.own.file import SCHEMA, OwnBoardFile, decoded
from loose_rail.diagnosis.inference.shop_history import counts_of
from loose_rail.jobs.summary import Summary
from loose_rail.kernel.errors import LooseRailError
from loose_rail.practice.sample_photo import sample_photo
from loose_rail.storage.board_book import BoardBook
from loose_rail.storage.photos import PhotoFolder
from tests.fakes.clock import FakeClock
from tests.shared import the

OWN = OwnBoardFile(
    SCHEMA,
    "QX-1",
    kind="standby flyback, main flyback",
    connectors=["CN8/2: 12V, 12V, 5VSB, GND, PS-ON, BL-ON", "CN9: LED+, LED-"],
)


class AShop:
    """A book and a folder of photographs."""

    def __init__(self, folder: Path, ended: int = 0) -> None:
        self.photos = PhotoFolder(folder / "photos")
        self.book = BoardBook(folder / "boards", self.photos)
        self.ended = [
            Summary(
                job=k, events=1, ticket=f"{k}", part="C952", suspect="C952:dried", title="dried"
            )
            for k in range(ended)
        ]

    def desk(self) -> BoardDesk:
        return BoardDesk(self.book, "QX-1", FakeClock(), self.ended)

    def album(self) -> BoardAlbum:
        return BoardAlbum(self.desk(), self.photos)


class GivenBoards(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.first = AShop(self.folder / "first", ended=3)
        self.first.book.keep_own(OWN)
        album = self.first.album()
        self.assertTrue(album.record(album.keep_bytes(sample_photo(True), "parts side")).taken)
        for line, x in (("C952 = 12 V reservoir 1000u 25V", 0.2), ("cn8/3", 0.6), ("LED+", 0.9)):
            told = album.enter(line, x, 0.5)
            self.assertTrue(told.taken, told.text)
        self.given = self.folder / "QX-1.board.json"
        self.assertTrue(self.first.desk().give_file(self.given).taken)

    def test_points_say_what_is_known_there_and_follow_the_part(self) -> None:
        album = self.first.album()
        spots = album.photos[0].spots
        self.assertEqual([spot.at for spot in spots], ["C952", "CN8/3", "CN9/1"])
        self.first.book.learn("QX-1", {"C952.esr@unplugged": 0.03})
        self.assertTrue(album.pointed(0.205, 0.5))
        self.assertFalse(album.pointed(0.4, 0.5))
        self.assertTrue(album.pointed(0.2, 0.505))
        facts = album.facts()
        told = "\n".join(words for _, lines in facts.lines for words in lines)
        self.assertIn("12 V reservoir", facts.title)
        self.assertIn("0.030 Ω on 1 sound board", told.replace("30.0 mΩ", "0.030 Ω"))
        self.assertIn("job 2: dried", told)
        self.assertTrue(album.pointed(0.6, 0.5))
        self.assertEqual(album.facts().title, "CN8 pin 3, 5VSB")
        self.assertIn("standby 5.00 V", dict(album.facts().lines)[""][0])
        for refused in ("CN8/9", "flux capacitor", "drop CN8/4"):
            self.assertFalse(album.enter(refused, 0.1, 0.1).taken, refused)
        self.assertTrue(album.enter("CN8 pin 3 = 5VSB2", 0.1, 0.1).taken)  # a line about the board
        self.assertTrue(album.enter("drop LED+", 0.1, 0.1).taken)
        self.assertTrue(album.put_back().taken)
        self.assertEqual(len(album.photos[0].spots), 3)
        self.assertTrue(album.enter("drop photograph", 0.1, 0.1).taken)
        self.assertEqual(album.photos, ())
        self.assertTrue(album.put_back().taken)
        self.assertEqual([spot.at for spot in album.photos[0].spots], ["C952", "CN8/3", "CN9/1"])

    def test_another_shop_has_pictures_points_and_counts_and_no_shop_counts_twice(self) -> None:
        second = AShop(self.folder / "second", ended=1)
        for _ in range(2):
            told = second.desk().take_file(self.given)[1]
            self.assertTrue(told.taken, told.text)
        album = second.album()
        self.assertEqual(album.photos, self.first.album().photos)
        self.assertEqual(
            album.picture(album.photos[0].photo, False).read_bytes(),
            self.first.album().picture(album.photos[0].photo, False).read_bytes(),
        )
        self.assertEqual(the(second.book.own_file("QX-1")).pictures, {})
        facts = dict(second.desk().state().facts)
        self.assertEqual(facts["Failed at 1 other shop"], "C952 3×")
        board = second.book.board("QX-1")
        lessons = lessons_elsewhere(board, second.book.own_file("QX-1"))
        self.assertEqual([one.suspect for one in lessons], ["C952:dried"] * 3)
        self.assertEqual(lessons[0].role, "main.reservoir")
        self.assertEqual(counts_of(board, lessons), [])  # they are not this shop's
        back = self.folder / "back.json"
        self.assertTrue(second.desk().give_file(back).taken)
        told = self.first.desk().take_file(back)[1]
        self.assertTrue(told.taken, told.text)
        facts = dict(self.first.desk().state().facts)
        self.assertEqual(facts["Failed here before"], "C952 3×")
        self.assertEqual(facts["Failed at 1 other shop"], "C952 1×")
        self.assertEqual(len(self.first.album().photos), 1)

    def test_a_damaged_picture_is_told_and_nothing_of_the_board_is_taken(self) -> None:
        given = decoded(self.given.read_bytes(), "given")
        digest = given.photos[0].photo
        for pictures in ({digest: "no base64!"}, {digest: "aGVsbG8="}):
            second = AShop(self.folder / f"with {len(pictures[digest])}")
            path = self.folder / "damaged.json"
            path.write_bytes(msgspec.json.encode(msgspec.structs.replace(given, pictures=pictures)))
            told = second.desk().take_file(path)[1]
            self.assertFalse(told.taken)
            self.assertEqual(second.book.own_ids(), [])
        outside = msgspec.json.decode(self.given.read_bytes())
        outside["photos"][0]["spots"][0]["x"] = 1.5
        with self.assertRaises(LooseRailError) as raised:
            decoded(msgspec.json.encode(outside), "given")
        self.assertIn("outside its photograph", raised.exception.one_line())


if __name__ == "__main__":
    unittest.main()
