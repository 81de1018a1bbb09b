"""Counts that walk a whole table: for the worker process."""

from pathlib import Path

from lauschen.store.db import open_reader
from lauschen.store.today import live_codes


def count_live_codes(database: Path) -> int:
    """Drawn codes that may still let somebody in."""
    conn = open_reader(database)
    try:
        return live_codes(conn)
    finally:
        conn.close()
