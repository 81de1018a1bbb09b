"""How many forms guests have sent: those who wrote themselves in, and those who asked for a host."""

from enum import StrEnum
from sqlite3 import Connection

from lauschen.core.ids import Mac, NetworkId


class SentForm(StrEnum):
    """Which form; the value is the table that keeps them."""

    REGISTRATION = "registration"
    VOUCHING = "vouching"


def count_of_device(conn: Connection, form: SentForm, mac: Mac, since: float) -> int:
    return _count(conn, form, "mac", mac, since)


def count_from(conn: Connection, form: SentForm, source: str, since: float) -> int:
    return _count(conn, form, "source", source, since)


def count_on(conn: Connection, form: SentForm, network: NetworkId, since: float) -> int:
    return _count(conn, form, "network", network, since)


def _count(conn: Connection, form: SentForm, column: str, value: int | str, since: float) -> int:
    sql = f"SELECT count(*) FROM {form} WHERE {column} = ? AND at > ?"
    return int(conn.execute(sql, (value, since)).fetchone()[0])
