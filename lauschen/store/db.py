"""Connections, the one transaction word, and migrations."""

import sqlite3
import struct
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from importlib import resources
from pathlib import Path
from sqlite3 import Connection

from lauschen.core.errors import Invalid

DATABASE_NAME = "lauschen.sqlite3"


def open_writer(path: Path) -> Connection:
    """The one connection that writes. May be handed to another thread for its COMMIT only (rulings 1.3)."""
    conn = sqlite3.connect(path, isolation_level=None, check_same_thread=False, cached_statements=512)
    for pragma in (
        # Hot writes touch single rows all over the tables, and each touched page goes into the log whole: small
        # pages halve the cost of a commit (docs/decisions/grouped-commits.md).
        "page_size=1024",
        "journal_mode=WAL",
        "synchronous=FULL",
        "foreign_keys=ON",
        "secure_delete=ON",
        # Waiting is the road's business: inside SQLite it would hold the event loop.
        "busy_timeout=0",
        # The idle loop checkpoints (rulings 1.5); a checkpoint inside COMMIT would hold up replies.
        "wal_autocheckpoint=0",
        "cache_size=-65536",
        "temp_store=MEMORY",
    ):
        conn.execute(f"PRAGMA {pragma}")
    return conn


def open_reader(path: Path) -> Connection:
    """A connection that cannot write; sees what is committed."""
    conn = sqlite3.connect(f"file:{path}?mode=ro", uri=True, isolation_level=None, cached_statements=256)
    conn.execute("PRAGMA query_only=ON")
    conn.execute("PRAGMA busy_timeout=5000")
    return conn


@contextmanager
def atomic(conn: Connection) -> Iterator[None]:
    """One transaction; inside another one, a savepoint."""
    nested = conn.in_transaction
    conn.execute("SAVEPOINT inner_act" if nested else "BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        # Some errors (disk full) have already destroyed the transaction.
        if conn.in_transaction:
            if nested:
                conn.execute("ROLLBACK TO inner_act")
                conn.execute("RELEASE inner_act")
            else:
                conn.execute("ROLLBACK")
        raise
    conn.execute("RELEASE inner_act" if nested else "COMMIT")


def migrate(conn: Connection) -> None:
    """Brings the schema up to date; each numbered step and its record in one transaction."""
    steps = sorted(
        (file for file in resources.files("lauschen.store").joinpath("schema").iterdir()),
        key=lambda file: file.name,
    )
    done = int(conn.execute("PRAGMA user_version").fetchone()[0])
    # A step may make a table anew, which others refer to.
    conn.execute("PRAGMA foreign_keys=OFF")
    for number, step in enumerate((s for s in steps if s.name.endswith(".sql")), start=1):
        if number > done:
            # executescript would commit what is open, so the transaction is part of the script.
            conn.executescript(
                f"BEGIN IMMEDIATE;\n{step.read_text('utf-8')}\nPRAGMA user_version={number};\nCOMMIT;"
            )
    conn.execute("PRAGMA foreign_keys=ON")
    if conn.execute("PRAGMA foreign_key_check").fetchone() is not None:
        raise sqlite3.IntegrityError("a migration left a row that refers to nothing")


def checkpoint(path: Path) -> None:
    """Moves what is in the write-ahead log into the database; runs in a thread of its own."""
    conn = sqlite3.connect(path, isolation_level=None)
    try:
        conn.execute("PRAGMA wal_checkpoint(PASSIVE)")
    finally:
        conn.close()


@dataclass(frozen=True, slots=True)
class LogState:
    """How far the write-ahead log has grown since it was begun anew."""

    octets: int
    waiting: int
    """Pages of it that are not in the database yet."""


def log_state(path: Path) -> LogState:
    """Read from the log's index, which is cheap (SQLite's WAL-mode file format, section 2: the WAL-index).

    The size of the file says nothing: it is written again from its beginning and never made shorter.
    """
    index = path.with_name(path.name + "-shm")
    try:
        with index.open("rb") as file:
            header = file.read(100)
    except FileNotFoundError:
        return LogState(0, 0)
    if len(header) < 100 or not header[12]:
        return LogState(0, 0)
    (page,), (last, done) = (
        struct.unpack_from("=H", header, 14),
        struct.unpack("=II", header[16:20] + header[96:]),
    )
    return LogState(last * (page + 24), last - done)


def changed_by_others(conn: Connection) -> int:
    """A number that changes when another connection committed (the command line added a device)."""
    return int(conn.execute("PRAGMA data_version").fetchone()[0])


def insert(conn: Connection, what: str, field: str, sql: str, values: tuple[object, ...]) -> int:
    """Runs an INSERT or UPDATE of one row of the configuration and returns its id.

    Invalid, naming the field, when another row has that value already or it is out of range.
    """
    try:
        return int(conn.execute(f"{sql} RETURNING id", values).fetchone()[0])
    except sqlite3.IntegrityError as exc:
        if exc.sqlite_errorname == "SQLITE_CONSTRAINT_UNIQUE":
            taken = str(exc).rpartition(".")[2] or field
            raise Invalid(f"{what}_{taken}_taken", field=taken, mend="Choose another one.") from exc
        if exc.sqlite_errorname == "SQLITE_CONSTRAINT_CHECK":
            raise Invalid(f"{what}_out_of_range", field=field, mend=str(exc)) from exc
        raise
