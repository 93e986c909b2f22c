"""All tests. No property test has a deadline by the clock: a slow machine is no fault.

Under `bin/test` they draw the same examples every time, so that what passes once passes again; a
single module (`bin/test tests.diagnosis.test_review`) draws new ones."""

import os

from hypothesis import settings

settings.register_profile("fresh", deadline=None)
settings.register_profile("repeatable", parent=settings.get_profile("fresh"), derandomize=True)
settings.load_profile("repeatable" if os.environ.get("LOOSE_RAIL_REPEATABLE") else "fresh")
