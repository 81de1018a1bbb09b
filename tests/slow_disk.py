"""A connection whose commits take as long as a test says, or fail."""

import sqlite3
import threading
import time
from pathlib import Path

from lauschen.store.db import open_writer


class SlowConnection(sqlite3.Connection):
    """COMMIT waits `delay_s`, as an fsync beside another program's would; `error` makes it fail instead."""

    delay_s = 0.0
    error: Exception | None = None
    committed_by: "list[int]"

    def execute(self, sql: str, *parameters: object) -> sqlite3.Cursor:  # type: ignore[override]
        if sql == "COMMIT":
            time.sleep(self.delay_s)
            if self.error is not None:
                error, self.error = self.error, None
                raise error
            self.committed_by.append(threading.get_ident())
        return super().execute(sql, *parameters)


def open_slowly(database: Path) -> SlowConnection:
    conn = open_writer(database, factory=SlowConnection)
    assert isinstance(conn, SlowConnection)
    conn.committed_by = []
    return conn
