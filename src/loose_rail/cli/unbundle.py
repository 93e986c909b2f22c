"""`loose-rail unbundle FILE`: a job of another shop, taken in."""

from __future__ import annotations

import argparse
import sys

from loose_rail.app.clock import SystemClock
from loose_rail.bootstrap import shop_files
from loose_rail.storage.give_job import take_job
from loose_rail.storage.photos import PhotoFolder
from loose_rail.storage.places import default_store, places_of


def unbundle(options: argparse.Namespace) -> int:
    """Take a bundle into the shop. Raises BundleError, BoardFileError, PhotoError, StoreError."""
    store, book = shop_files(options.data)
    try:
        photos = PhotoFolder(places_of(options.data or default_store()).photos)
        _, words = take_job(store, book, photos, options.file, SystemClock().now())
    finally:
        store.close()
    sys.stdout.write(f"{words}.\n")
    return 0
