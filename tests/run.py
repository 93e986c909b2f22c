"""Runs every test with one shared cache of predictions, and closes with a plain count."""

from __future__ import annotations

import os
import sys
import tempfile
import unittest
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("LOOSE_RAIL_REPEATABLE", "1")
sys.path.insert(0, str(Path(__file__).parent.parent))


def main() -> int:
    """Discover and run; exit code 0 where all passed and at least one test ran."""
    with tempfile.TemporaryDirectory(prefix="loose-rail-tests-") as folder:
        os.environ["XDG_CACHE_HOME"] = f"{folder}/cache"
        os.environ["XDG_DATA_HOME"] = f"{folder}/data"
        top = Path(__file__).parent
        suite = unittest.defaultTestLoader.discover(str(top), top_level_dir=str(top.parent))
        result = unittest.TextTestRunner(verbosity=1).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    passed = result.testsRun - failed - len(result.skipped)
    print(f"{passed} passed, {failed} failed, {len(result.skipped)} skipped")
    return 0 if result.wasSuccessful() and result.testsRun else 1


if __name__ == "__main__":
    sys.exit(main())
