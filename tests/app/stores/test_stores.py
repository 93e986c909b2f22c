"""The stores: typed lines, price lists, orders, their file; what comes in is read or told."""

import csv
import io
import tempfile
import unittest
from decimal import Decimal
from pathlib import Path

import msgspec
from hypothesis import given, strategies as st

from loose_rail.app.stores.desk import StoresDesk
from loose_rail.app.stores.orders import order_sheets, orders_csv
from loose_rail.app.stores.price_list import read_price_list
from loose_rail.app.stores.stock import Line, Ordered, Stores, SupplierTerms
from loose_rail.app.stores.typed import entered, read_line
from loose_rail.kernel.errors import BadEntryError, StoreReadOnlyError
from loose_rail.storage.stores import StoresFile, opened_stores

WORD = st.text("abcdeC0123456789", min_size=1, max_size=6).filter(lambda t: not t.isdecimal())
PRICE = st.integers(0, 99_999).map(lambda cents: Decimal(cents) / 100)


class Typed(unittest.TestCase):
    @given(
        st.integers(1, 9999),
        st.lists(WORD.map(lambda w: f"w{w}"), min_size=1, max_size=5),
        st.one_of(st.just(""), WORD),
        PRICE,
        st.one_of(st.just(""), WORD),
    )
    def test_a_line_says_what_was_typed(
        self, count: int, words: list[str], drawer: str, price: Decimal, supplier: str
    ) -> None:
        typed = f"{count}x {' '.join(words)}" + (f" @{drawer}" if drawer else "") + f" ={price}"
        found = read_line(f"from {supplier}: {typed}" if supplier else typed)
        self.assertEqual((found.count, found.words), (count, " ".join(words)))
        self.assertEqual((found.drawer, found.price, found.supplier), (drawer, price, supplier))

    @given(st.text(max_size=40))
    def test_any_line_is_taken_or_told(self, text: str) -> None:
        try:
            changed, words = entered(Stores(), text)
        except BadEntryError as error:
            self.assertTrue(error.one_line())
        else:
            self.assertTrue(words)
            self.assertEqual(
                msgspec.json.decode(msgspec.json.encode(changed), type=Stores), changed
            )

    def test_lines_suppliers_and_orders_by_their_words(self) -> None:
        stores = Stores()
        for line in (
            "12x 1000u 16V 105C low-esr @A3 =0,40",
            "1x 650V 4A n @D1 off PB-4310-2 Q1",
            "from North: kit PB-4310-2 c21 C22 c21 =9.80",
            "supplier North carriage 4.50 least 10",
            "1 count 8",
        ):
            stores, _ = entered(stores, line)
        first, donor, kit = stores.lines
        self.assertEqual((first.count, first.price, first.drawer), (8, Decimal("0.40"), "A3"))
        self.assertEqual(donor.origin, "PB-4310-2 Q1")
        self.assertEqual(
            (kit.places, kit.board, kit.supplier), (("C21", "C22"), "PB-4310-2", "North")
        )
        for wrong in ("-9", "9 count 1", "12x", "=3", "1x a =lots", "arrived North", ""):
            with self.assertRaises(BadEntryError, msg=wrong):
                entered(stores, wrong)
        self.assertEqual([one.number for one in stores.without_line(2).lines], [1, 3])


class Lists(unittest.TestCase):
    def test_a_price_list_by_its_headings_or_by_name(self) -> None:
        data = b"Article;Unit price;Note\n1000u 16V;0,45;x\n;1;\n470u 25V;dear;y\n"
        lines, refused = read_price_list(data, "list.csv", supplier="North")
        self.assertEqual(
            [(one.words, one.price, one.supplier) for one in lines],
            [("1000u 16V", Decimal("0.45"), "North")],
        )
        self.assertEqual(len(refused), 1)
        self.assertIn("row 4", refused[0])
        other = b"What,Each\nT3.15AH250V,0.20\n"
        with self.assertRaisesRegex(BadEntryError, "there are What, Each"):
            read_price_list(other, "other.csv")
        named, _ = read_price_list(other, "other.csv", {"words": "What"})
        self.assertEqual((named[0].words, named[0].price), ("T3.15AH250V", Decimal("0.20")))

    @given(st.binary(max_size=300))
    def test_any_file_is_read_or_told(self, data: bytes) -> None:
        try:
            read_price_list(data, "x.csv")
        except BadEntryError as error:
            self.assertTrue(error.one_line())

    def test_carriage_is_shared_over_the_jobs_and_formulas_are_quoted(self) -> None:
        orders = tuple(
            Ordered(words, "North", Decimal("2"), ticket, ("C21",))
            for words, ticket in (("=1+1", "0412"), ("470u", "0413"), ("10u", "0413"))
        )
        stores = Stores(orders=orders).with_supplier(
            SupplierTerms("North", Decimal("4.50"), Decimal("10"))
        )
        sheet = order_sheets(stores)[0]
        self.assertEqual((sheet.goods, sheet.lacking), (Decimal("6"), Decimal("4")))
        self.assertEqual((sheet.total, sheet.carriage_a_job), (Decimal("10.50"), Decimal("2.25")))
        table = list(csv.reader(io.StringIO(orders_csv([sheet]).decode())))
        self.assertEqual(table[1][:3], ["North", "'=1+1", "2"])
        moved, _ = entered(stores, "ordered North")
        self.assertEqual(order_sheets(moved), ())
        arrived, _ = entered(moved, "arrived North")
        self.assertEqual({one.state for one in arrived.orders}, {"arrived"})


class Files(unittest.TestCase):
    def test_it_is_kept_damaged_files_too_and_nothing_is_written_over_a_newer_one(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = StoresFile(Path(folder) / "stores.json")
            desk = opened_stores(file)
            self.assertEqual(desk.stores, Stores())
            desk.enter("3x 10u 50V @B1")
            self.assertEqual(
                opened_stores(file).stores.lines, (Line(1, "10u 50V", 3, drawer="B1"),)
            )
            self.assertIn("as they were", desk.undo().text)
            self.assertEqual(opened_stores(file).stores.lines, ())
            self.assertFalse(desk.undo().taken)
            file.path.write_bytes(b'{"schema": "loose-rail/stores/1", "lines": 7}')
            damaged = opened_stores(file)
            self.assertIn("damaged-1", damaged.trouble)
            self.assertTrue(file.path.with_suffix(".damaged-1.json").exists())
            newer = b'{"schema": "loose-rail/stores/9"}'
            file.path.write_bytes(newer)
            refused = opened_stores(file)
            self.assertIn("stores/9", refused.trouble)
            self.assertFalse(refused.enter("1x 10u 50V").taken)
            self.assertEqual(refused.stores, Stores())
            self.assertEqual(file.path.read_bytes(), newer)

    def test_what_can_t_be_kept_has_not_changed(self) -> None:
        def full(stores: Stores) -> None:
            raise StoreReadOnlyError("The disk is full.")

        desk = StoresDesk(Stores(), full)
        self.assertIn("disk is full", desk.enter("1x 10u 50V").text)
        self.assertEqual(desk.stores, Stores())
        self.assertFalse(desk.take().taken)


if __name__ == "__main__":
    unittest.main()
