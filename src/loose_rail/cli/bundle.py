"""`loose-rail bundle TICKET FILE`: one job as one file, for another shop."""

from __future__ import annotations

import argparse
import sys

from loose_rail.bootstrap import shop_files
from loose_rail.kernel.errors import UsageError
from loose_rail.storage.give_job import give_job
from loose_rail.storage.photos import PhotoFolder
from loose_rail.storage.places import default_store, places_of


def bundle(options: argparse.Namespace) -> int:
    """Write a job as a bundle. Raises UsageError, BundleError, StoreError and PhotoError."""
    if options.file.exists():
        raise UsageError(f"{options.file} is there already.", "Name another file.")
    store, book = shop_files(options.data)
    try:
        number = next((one.job for one in store.jobs() if one.ticket == options.ticket), None)
        if number is None:
            raise UsageError(f"There is no job with ticket “{options.ticket}”.", "See the shelf.")
        photos = PhotoFolder(places_of(options.data or default_store()).photos)
        words = give_job(store, book, photos, number, options.file, with_name=options.name)
    finally:
        store.close()
    sys.stdout.write(f"{options.file}: {words}.\n")
    return 0
