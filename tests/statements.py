"""Every statement that our code runs while the suite runs: explained afterwards on a large house (tests/large).

`LAUSCHEN_STATEMENTS` names a folder; each process writes there what it saw.
"""

import atexit
import json
import os
import sqlite3
import sys
from pathlib import Path
from typing import Any

VARIABLE = "LAUSCHEN_STATEMENTS"
_OURS = f"{os.sep}lauschen{os.sep}"
_ours: set[str] = set()


class Noting(sqlite3.Connection):
    """A connection that notes the statements of our code, as they are written: what tests ask is theirs."""

    def execute(self, sql: str, *values: Any) -> sqlite3.Cursor:
        if sql not in _ours:
            _note(sql)
        return super().execute(sql, *values)

    def executemany(self, sql: str, *values: Any) -> sqlite3.Cursor:
        if sql not in _ours:
            _note(sql)
        return super().executemany(sql, *values)


def _note(sql: str) -> None:
    if _OURS in sys._getframe(2).f_code.co_filename.replace(f"{os.sep}tests{os.sep}", ""):
        _ours.add(sql)


def begin() -> None:
    """From now on connections note; at the end of the process it is written."""
    folder = os.environ.get(VARIABLE)
    if not folder:
        return
    connect = sqlite3.connect

    def noting(*args: Any, **options: Any) -> sqlite3.Connection:
        if options.get("factory", sqlite3.Connection) is sqlite3.Connection:
            options["factory"] = Noting
        return connect(*args, **options)

    sqlite3.connect = noting  # type: ignore[assignment]
    atexit.register(lambda: _write(Path(folder)))


def _write(folder: Path) -> None:
    if _ours:
        folder.mkdir(parents=True, exist_ok=True)
        (folder / f"{os.getpid()}.json").write_text(json.dumps(sorted(_ours)))


def noted() -> list[str]:
    """What all processes wrote."""
    found: set[str] = set()
    for file in Path(os.environ[VARIABLE]).glob("*.json"):
        found |= set(json.loads(file.read_text()))
    return sorted(found)
