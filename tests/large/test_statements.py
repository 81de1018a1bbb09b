"""Every statement that our code ran in the suite, explained on a large house, with statistics and without.

None reads a large table whole or sorts one. What may is named here, with the reason.
"""

import re
import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest

from lauschen.demo.large import SUMMER
from lauschen.serve.first_run import open_data
from lauschen.store.db import gather_statistics
from tests.statements import noted

LARGE = {*SUMMER.rows, "finder", "batch", "wrong_try", "wrong_key", "key_trial", "question"}
BOUNDED = re.compile(r"ORDER BY (\w\.)?id (DESC )?LIMIT|LIMIT 1$|EXISTS \(SELECT 1 FROM \w+\)")
"""Reads from one end of a table, and stops."""
SMALL_SORTS = (
    r"WHERE c\.id = \?",
    # What one device, one credential, one visit or one person has.
    r"(WHERE|AND) +(\w\.)?(mac|credential|visit|staff|allowance|w\.id) = \?",
    r"WHERE w\.credential = \?1",
    r"id IN \(SELECT id FROM stay WHERE mac = \?",
    r"count\(DISTINCT a\.mac\) FROM admission a WHERE a\.allowance = ",
    # Of the house itself.
    r"FROM (host|way|message_cost|staff_session) ",
    # Changes that an access device did not confirm, messages of a day that were given up, sources that guess.
    r"FROM place INDEXED BY place_not_confirmed WHERE last_answer IS NOT NULL",
    r"FROM message WHERE state = 'failed' AND answer_at > \?",
    r"FROM wrong_try INDEXED BY wrong_try_by_source",
    # Batches of one name; the last decisions of one device.
    r"label >= \?1 COLLATE NOCASE",
    r"^WITH RECURSIVE chain",
)
MAY_READ_ALL = (
    # Everybody who is in now, for a screen that shows them: a partial index holds those alone.
    r"FROM admission WHERE ended IS NULL",
    r"FROM admission a INDEXED BY admission_open",
    r"UPDATE admission SET ended = \?, end_reason = \?, seat_since = NULL WHERE network = \? AND ended IS NULL",
    r"FROM message m WHERE next_at IS NOT NULL AND tries > 0",
    # In the worker process: an export, a key file, and the house that a demo makes.
    r"FROM consent c  ORDER BY c.id",
    r"FROM passphrase_key k JOIN credential c",
    r"^UPDATE batch SET",
    # Once when the clock was set: what runs moves along.
    r"= \w+ \+ :by",
    # Once for each configuration, in slices: passphrases of a network that was renamed.
    r"FROM passphrase_key WHERE network = \? AND ssid <> \?",
)


@pytest.fixture(scope="module")
def house(year: tuple[Path, float]) -> Iterator[sqlite3.Connection]:
    conn, _ = open_data(year[0])
    yield conn
    conn.close()


def explain(conn: sqlite3.Connection, sql: str) -> list[str]:
    names = dict.fromkeys(re.findall(r":([a-z]\w*)", sql))
    numbered = [int(number) for number in re.findall(r"\?(\d+)", sql)]
    count = max(numbered) if numbered else sql.count("?")
    values: object = names if names else [None] * count
    return [row[3] for row in conn.execute(f"EXPLAIN QUERY PLAN {sql}", values)]  # type: ignore[arg-type]


def tables_of(sql: str) -> dict[str, str]:
    """Table names by the names that the statement has for them."""
    found = {}
    for table, alias in re.findall(r"\b(?:FROM|JOIN|UPDATE|INTO) (?:\()?(\w+)(?: +AS)?(?: (\w+))?", sql):
        found[table] = found[alias] = table
    return found


def faults(conn: sqlite3.Connection, sql: str) -> list[str]:
    if sql.startswith("INSERT") and "SELECT" not in sql:
        return []  # what refers to a new row is looked for only where a check was put off
    tables, found = tables_of(sql), []
    for line in explain(conn, sql):
        scanned = re.match(r"SCAN (\w+)", line)
        if scanned and tables.get(scanned[1], scanned[1]) in LARGE:
            is_bounded = BOUNDED.search(sql) or any(re.search(one, sql) for one in MAY_READ_ALL)
            found += [] if is_bounded else [line]
        elif "TEMP B-TREE" in line:
            is_small = any(re.search(one, sql) for one in (*SMALL_SORTS, *MAY_READ_ALL))
            found += [] if is_small else [line]
        elif line.startswith("BLOOM FILTER"):
            found.append(line)  # it is filled by reading the whole table
    return found


def ours() -> list[str]:
    wanted = ("SELECT", "UPDATE", "DELETE", "INSERT", "WITH")
    return [sql for sql in noted() if sql.lstrip().startswith(wanted) and "sqlite_" not in sql]


def test_the_suite_was_listened_to() -> None:
    assert len(ours()) > 400


@pytest.mark.parametrize("has_statistics", [True, False], ids=["with statistics", "without"])
def test_no_statement_reads_or_sorts_a_large_table(house: sqlite3.Connection, has_statistics: bool) -> None:
    if has_statistics:
        gather_statistics(house)
    else:
        house.execute("DELETE FROM sqlite_stat1")
        house.execute("ANALYZE sqlite_schema")
    found = {sql: lines for sql in ours() if (lines := faults(house, sql))}
    assert not found, "\n".join(f"{sql}: {lines}" for sql, lines in found.items())
