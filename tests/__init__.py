"""All tests. Under `bin/test` the property tests draw the same examples every time, so that what
passes once passes again; a single module (`bin/test tests.core.test_jobs`) draws new ones."""

import os

from hypothesis import settings

settings.register_profile("repeatable", derandomize=True)
if os.environ.get("LOOSE_RAIL_REPEATABLE"):
    settings.load_profile("repeatable")
