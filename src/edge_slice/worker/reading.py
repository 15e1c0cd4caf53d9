"""python -m edge_slice.worker.reading IMPORT: read the file of one import."""

from __future__ import annotations

import logging
import sys

from sqlalchemy.exc import OperationalError

from edge_slice.app.models.imports import run_import
from edge_slice.app.models.reader_process import DATABASE_AWAY


def main() -> int:
    logging.basicConfig(level=logging.WARNING, format="worker: %(message)s")
    try:
        run_import(int(sys.argv[1]))
    except OperationalError:
        return DATABASE_AWAY
    return 0


if __name__ == "__main__":
    sys.exit(main())
