"""Stores by keyboard: goods a line each, the list of the open job covered for the least money,
taken, on order, written as a table; the parts then stand on the Parts page."""

import tempfile
import unittest
from pathlib import Path

from PyQt6.QtCore import Qt

from loose_rail.app.parts import repair_list
from loose_rail.jobs import events as ev
from loose_rail.screens.stores.view import StoresView
from loose_rail.storage.places import places_of
from loose_rail.storage.stores import StoresFile
from tests.screens.helper import close_window, focus, open_window, press, settle, write
from tests.shared import the

GOODS = (
    "12x 1000u 16V 105C low-esr 10x20 p5 @A3 =0.40",
    "4x 470u 25V 105C low-esr 10x16 p5 @A4 =0.35",
    "from North: 650V 4A N rds=1.8 qg=18n insulated to-220f =1.90",
    "from South: 650V 4A N rds=1.8 qg=18n insulated to-220f =1.20",
    "from South: kit PB-4310-2 C21 C22 C27 C31 =6.80",
    "supplier North carriage 4.50 least 10",
    "supplier South carriage 3.90",
)


class StoresPage(unittest.TestCase):
    def test_a_list_of_parts_covered_taken_and_ordered(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        data = Path(folder.name) / "shop.sqlite"
        window = open_window(data)
        self.addCleanup(close_window, window)
        window.show_area("stores")
        page = window.area("stores")
        assert isinstance(page, StoresView)
        self.assertTrue(page._empty.isVisible())
        press(Qt.Key.Key_F5)
        self.assertIn("Open a job first", page._notice.text())
        window.open_job(1)
        job = the(window.job)
        session = job.presenter.session
        settle(lambda: session.review is not None, 90)
        session.record(ev.VerdictAccepted("C21", "C21 dried out", 0.9, "confirmed", [], ""))
        for ref in ("C22", "C27", "Q1", "U1"):
            session.record(ev.PartListed(ref, "with it"))
        window.show_area("stores")
        self.assertIs(focus(), page.line)
        for line in GOODS:
            write(line)
            self.assertEqual(page.line.text(), "", page._notice.text())
        write("3x")
        self.assertIn("ratings are missing", page._notice.text())
        page.line.clear()
        write("/470")
        self.assertEqual(page.table.rowCount(), 1)
        write("/")
        page.line.clear()
        self.assertEqual(page.table.rowCount(), 5)
        plan = the(the(page._desk).plan())
        numbers = [one.line.number if one.line else 0 for one in plan.sources]
        self.assertEqual(numbers, [1, 2, 1, 4, 0])  # South is cheaper with its carriage
        self.assertEqual((str(plan.cover.total), plan.cover.missing), ("6.25", ("U1",)))
        press(Qt.Key.Key_F5)
        self.assertIn("nobody has U1", page._notice.text())
        chosen = {row.part.ref: row.chosen for row in repair_list(session)}
        self.assertIn("1000u 16V", chosen["C27"])
        self.assertEqual(chosen["U1"], "")
        kept = StoresFile(places_of(data).stores).read()
        self.assertEqual([one.count for one in kept.lines[:2]], [10, 3])
        ordered = [(o.supplier, o.places) for o in kept.orders if o.state == "wanted"]
        self.assertEqual(ordered, [("South", ("Q1",))])
        aside = [o.places for o in kept.orders if o.state == "reserved"]
        self.assertEqual(aside, [("C21",), ("C27",), ("C22",)])
        table = Path(folder.name) / "orders.csv"
        page.write_orders(table)
        self.assertIn("South,650V 4A N", table.read_text())
        paper, web = Path(folder.name) / "orders.pdf", Path(folder.name) / "orders.html"
        page.write_orders(paper)
        self.assertTrue(paper.read_bytes().startswith(b"%PDF"))
        page.write_orders(web)
        for words in ("South", "650V 4A N", "5.10", "Q1"):
            self.assertIn(words, web.read_text())
        write(f"returned {session.state.ticket} C22")
        self.assertIn("returned to drawer A4", page._notice.text())
        page.undo()
        listed = Path(folder.name) / "list.csv"
        listed.write_text("article;price\nT3.15AH250V;0,20\n;\n")
        page.take_file(listed)
        self.assertIn("1 lines of list.csv", page._notice.text())
        press(Qt.Key.Key_F9)
        self.assertEqual(page.table.rowCount(), 5)
        job.go("parts")
        self.assertIn("drawer A3", " ".join(session.state.offers[0].notes))


if __name__ == "__main__":
    unittest.main()
