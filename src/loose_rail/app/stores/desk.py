"""The stores as they are worked with: every change is on the disk before it is said."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.app.stores.for_job import Plan, fitted_in, plan_for, record_taken, taking
from loose_rail.app.stores.orders import OrderSheet, order_sheets, orders_csv
from loose_rail.app.stores.price_list import read_price_list
from loose_rail.app.stores.stock import Stores
from loose_rail.app.stores.typed import entered
from loose_rail.kernel.errors import LooseRailError

Paper = Callable[[Sequence[OrderSheet], str], str]


class StoresDesk:
    """`keep` writes them, and raises LooseRailErrors; then nothing has changed. `trouble` says what
    was wrong with their file."""

    def __init__(self, stores: Stores, keep: Callable[[Stores], None], trouble: str = "") -> None:
        self.stores = stores
        self.paper: Paper | None = None
        """How the order list is laid out; None where nobody does."""
        self.trouble = trouble
        self._keep = keep
        self._before: list[Stores] = []
        self.session: JobSession | None = None
        """The open job, whose list is covered; None without one."""

    def follow(self, session: JobSession) -> Outcome | None:
        """The open job: what lay at hand for a part that is in its board is fitted. What could not
        be kept is told; None where nothing is to be said."""
        self.session = session
        changed = fitted_in(self.stores, session.state.ticket, frozenset(session.state.fitted))
        if changed is self.stores:
            return None
        try:
            self._keep(changed)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        self.stores = changed
        return None

    def enter(self, text: str) -> Outcome:
        """A typed line."""
        try:
            changed, words = entered(self.stores, text)
            self._take_over(changed)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(words)

    def plan(self) -> Plan | None:
        """The cheapest way to have what is open on the list of the open job."""
        return plan_for(self.session, self.stores) if self.session is not None else None

    def take(self) -> Outcome:
        """Take that."""
        if self.session is None:
            return Outcome.refused("Open a job first: its list of parts is covered from here.")
        try:
            found = taking(self.session, self.stores)
            if not found.outcome.taken:
                return found.outcome
            self._take_over(found.left)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        try:
            record_taken(self.session, found)
        except LooseRailError as error:
            back = self.undo()  # what the job did not take lies in its drawer still
            return Outcome.refused(f"{error.one_line()} {back.text}")
        return found.outcome

    def take_list(self, data: bytes, name: str, told: str = "") -> Outcome:
        """A price list or a list of drawers from CSV; `told` names columns and the supplier:
        `words=Description price=Unit supplier=North`."""
        pairs = [word.partition("=") for word in told.split()]
        columns = {key: value for key, equals, value in pairs if equals and key != "from"}
        supplier = next((value for key, _, value in pairs if key == "from"), "")
        try:
            lines, refused = read_price_list(data, name, columns, supplier)
            changed = self.stores
            for line in lines:
                changed = changed.with_line(line)
            self._take_over(changed)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        left = f"; left out: {'; '.join(refused[:3])}" if refused else ""
        words = f"{len(lines)} lines of {name}{left}."
        return Outcome.warned(words) if refused else Outcome(words)

    def undo(self) -> Outcome:
        """The last change of this sitting is taken back; what a job took is undone in the job."""
        if not self._before:
            return Outcome.refused("Nothing was changed here in this sitting.")
        was = self._before[-1]
        try:
            self._keep(was)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        self.stores = self._before.pop()
        return Outcome("The stores are as they were before the last change.")

    def orders(self) -> tuple[OrderSheet, ...]:
        """What is wanted, by supplier."""
        return order_sheets(self.stores)

    def orders_table(self) -> bytes:
        """The same as CSV."""
        return orders_csv(self.orders())

    def orders_page(self, day: str) -> str:
        """The same as a page to print, HTML."""
        return "" if self.paper is None else self.paper(self.orders(), day)

    def _take_over(self, changed: Stores) -> None:
        self._keep(changed)
        self._before.append(self.stores)
        self.stores = changed
