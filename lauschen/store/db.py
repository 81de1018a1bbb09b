"""Connections, the one transaction word, and migrations."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from importlib import resources
from pathlib import Path
from sqlite3 import Connection

from lauschen.core.errors import Invalid

DATABASE_NAME = "lauschen.sqlite3"


def open_writer(path: Path, factory: type[Connection] = Connection) -> Connection:
    """The one connection that writes. May be handed to another thread while the loop keeps off it (rulings 1.3)."""
    conn = sqlite3.connect(
        path, isolation_level=None, check_same_thread=False, cached_statements=512, factory=factory
    )
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
    """Brings the schema up to date: each numbered step in its own transaction, all of them in one for a new file.

    Invalid for a folder of a newer version, which we could not read. IntegrityError, and the folder as it was before
    the step, where that leaves a row that refers to nothing.
    """
    files = resources.files("lauschen.store").joinpath("schema").iterdir()
    steps = sorted((file for file in files if file.name.endswith(".sql")), key=lambda file: file.name)
    done = int(conn.execute("PRAGMA user_version").fetchone()[0])
    if done > len(steps):
        mend = (
            f"A newer version of Lauschen has written this folder (step {done}; this one knows {len(steps)})."
            " Start that version, or restore a backup from before it."
        )
        raise Invalid("newer_folder", field="data", mend=mend)
    scripts = [
        f"{step.read_text('utf-8')}\nPRAGMA user_version={number};\n"
        for number, step in enumerate(steps, start=1)
        if number > done
    ]
    # A step may make a table anew, which others refer to.
    conn.execute("PRAGMA foreign_keys=OFF")
    try:
        for script in scripts if done else ["".join(scripts)]:
            _take_step(conn, script)
    finally:
        conn.execute("PRAGMA foreign_keys=ON")


def _take_step(conn: Connection, script: str) -> None:
    try:
        # executescript would commit what is open, so the beginning is part of the script.
        conn.executescript(f"BEGIN IMMEDIATE;\n{script}")
        if conn.execute("PRAGMA foreign_key_check").fetchone() is not None:
            raise sqlite3.IntegrityError("a migration left a row that refers to nothing")
    except BaseException:
        if conn.in_transaction:
            conn.execute("ROLLBACK")
        raise
    conn.execute("COMMIT")


ANALYSED_ROWS = 400
SMALL_TABLE = 1000


def gather_statistics(conn: Connection) -> None:
    """Tell SQLite how its tables look: at a start, as it takes some tenths of a second in a large house.

    It looks at some rows of each index. What it finds of a small table is forgotten: the table may grow while we run,
    and a plan that is good for ten rows reads a million.
    """
    conn.execute(f"PRAGMA analysis_limit={ANALYSED_ROWS}")
    conn.execute("ANALYZE")
    conn.execute("DELETE FROM sqlite_stat1 WHERE CAST(stat AS INTEGER) < ?", (SMALL_TABLE,))
    conn.execute("ANALYZE sqlite_schema")


def walk(
    conn: Connection, table: str, began: str, is_old: str, before: float, after: int, at_most: int
) -> tuple[int, int]:
    """Deletes, among the next `at_most` rows after an id, those that are old; how many, and the id to go on from.

    Ids rise with time, so the walk ends (with 0) at the first row that began after `before`: rows that were never
    ended are walked over, and hold nobody up. An index by end would be written with each stay instead.
    """
    rows = conn.execute(
        f"SELECT id, {began} < ?1, {is_old} FROM {table} WHERE id > ?2 ORDER BY id LIMIT ?3",
        (before, after, at_most),
    ).fetchall()
    old = [(id,) for id, _, goes in rows if goes]
    conn.executemany(f"DELETE FROM {table} WHERE id = ?", old)
    is_end = len(rows) < at_most or not rows[-1][1]
    return len(old), 0 if is_end else int(rows[-1][0])


def checkpoint(path: Path) -> None:
    """Moves what is in the write-ahead log into the database; runs in a thread of its own."""
    conn = sqlite3.connect(path, isolation_level=None)
    try:
        copy_log(conn)
    finally:
        conn.close()


def copy_log(conn: Connection) -> bool:
    """True when all of the log is in the database now: the next commit begins it anew.

    Nothing else may look into the log's files: closing one of them in this process would take SQLite's locks away.
    """
    busy, pages, copied = conn.execute("PRAGMA wal_checkpoint(PASSIVE)").fetchone()
    return not busy and pages == copied


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
