"""What is configured comes back as the decision reads it; what is taken is said with its field."""

import sqlite3
from importlib import resources
from pathlib import Path
from zoneinfo import ZoneInfo

import pytest

from lauschen.core.config.dialect import Move, UserName
from lauschen.core.errors import Invalid
from lauschen.core.ids import AccessDeviceId, DialectId, RoleId
from lauschen.core.ways.voucher import Voucher
from lauschen.store.config import access_devices, networks
from lauschen.store.config.dialects import load_dialects
from lauschen.store.db import migrate, open_writer
from tests.place import Place


def test_the_house_of_the_demo(place: Place) -> None:
    house = place.config
    assert house.zone.key == "Europe/Vienna"
    network = house.recognise(AccessDeviceId(1), b"Hollerau Garden")
    assert network is not None
    assert network.name == "Garden"
    assert house.access_devices[AccessDeviceId(1)].secret == b"hollerau-stand-in-secret"
    assert {r.vlan for r in house.roles.values()} == {310, 320, 340, 349, 350}
    assert house.dialects[DialectId(1)].login_move is Move.REAUTHORISE


def test_names_and_addresses_that_are_taken_name_their_field(place: Place) -> None:
    with pytest.raises(Invalid) as caught:
        networks.add_network(place.conn, "Garden", ssid=b"x", door_role=RoleId(1))
    assert caught.value.code == "network_name_taken"
    with pytest.raises(Invalid) as caught:
        access_devices.add_access_device(
            place.conn, place.keys, "New", address="127.77.0.11", secret=b"s" * 8, dialect=DialectId(1)
        )
    assert caught.value.field == "address"
    with pytest.raises(Invalid) as caught:
        networks.add_role(place.conn, "Far", vlan=5000, filter_name=None)
    assert caught.value.code == "role_out_of_range"


def test_a_broken_reference_is_a_bug_that_surfaces(place: Place) -> None:
    with pytest.raises(sqlite3.IntegrityError):
        networks.add_network(place.conn, "New", ssid=b"y", door_role=RoleId(99))


def test_migrating_twice_changes_nothing(place: Place) -> None:
    before = place.conn.execute("SELECT sql FROM sqlite_master").fetchall()
    migrate(place.conn)
    assert place.conn.execute("SELECT sql FROM sqlite_master").fetchall() == before


def test_a_dialect_that_said_a_pseudonym_says_it_still(place: Place) -> None:
    old = (
        "UPDATE dialect SET settings = json_remove(json_set(settings, '$.says_user', json(?)), '$.user_name')"
    )
    for said, user_name in (("true", UserName.PSEUDONYM), ("false", UserName.NOTHING)):
        place.conn.execute(old, (said,))
        take_step(place.conn, 12)
        dialect, *_ = load_dialects(place.conn, place.keys)
        assert dialect.user_name is user_name


def take_step(conn: sqlite3.Connection, number: int) -> None:
    """What one version changed, and nothing after it."""
    schema = sorted(
        resources.files("lauschen.store").joinpath("schema").iterdir(), key=lambda file: file.name
    )
    conn.executescript(schema[number - 1].read_text("utf-8"))


def at_step(number: int, folder: Path) -> sqlite3.Connection:
    """An empty database as an earlier version made it."""
    conn = open_writer(folder / "old.sqlite3")
    for step in range(1, number + 1):
        take_step(conn, step)
    return conn


def test_a_folder_of_an_earlier_version_is_brought_up_to_date(tmp_path: Path) -> None:
    conn = at_step(2, tmp_path)
    conn.executescript(
        "PRAGMA user_version = 2;"
        "INSERT INTO role (id, name, vlan, is_door, filter_rules) VALUES (7, 'Door', 310, 1, 'r');"
        "INSERT INTO dialect (id, name, settings) VALUES (3, 'd', '{}');"
        "INSERT INTO access_device (id, name, address, secret_sealed, dialect, coa_port, coa_address)"
        " VALUES (9, 'West', '10.0.0.1', x'01', 3, 3799, '10.0.0.2');"
        "INSERT INTO network (id, name, door_role, ssid_match, ssid, counted_at)"
        " VALUES (5, 'Garden', 7, 'exact', x'41', 9);"
        "INSERT INTO device_heard VALUES (9, '10.0.0.1', 1.0, 0, 1);"
    )
    migrate(conn)
    (network,), (role,) = networks.load_networks(conn, ZoneInfo("UTC")), networks.load_roles(conn)
    assert (network.id, network.ssid.value, network.counted_at) == (5, b"A", 9)
    assert (role.id, role.vlan, role.filter_rules) == (7, 310, ("r",))
    assert [h.access_device for h in access_devices.heard_from(conn)] == [9]
    assert network.ways == (Voucher(),)
    conn.execute("DELETE FROM way")
    conn.execute("DELETE FROM network")
    conn.execute("DELETE FROM access_device")
    again = "INSERT INTO access_device (name, address, secret_sealed, dialect, coa_port) VALUES ('E', 'e', x'', 3, 1)"
    assert conn.execute(f"{again} RETURNING id").fetchone() == (10,)
    conn.close()


def test_a_folder_of_a_newer_version_is_refused_with_a_sentence(place: Place) -> None:
    place.conn.execute("PRAGMA user_version = 999")
    with pytest.raises(Invalid, match="A newer version of Lauschen has written this folder") as refused:
        migrate(place.conn)
    assert refused.value.code == "newer_folder"
    assert place.conn.execute("PRAGMA user_version").fetchone() == (999,)


def test_a_step_that_leaves_a_row_without_its_other_changes_nothing(tmp_path: Path) -> None:
    conn = at_step(2, tmp_path)
    conn.executescript(
        "PRAGMA user_version = 2; PRAGMA foreign_keys = OFF;"
        "INSERT INTO network (id, name, door_role, ssid_match, ssid, counted_at)"
        " VALUES (5, 'Garden', 77, 'exact', x'41', 9);"
    )
    before = rows_by_table(conn)
    with pytest.raises(sqlite3.IntegrityError, match="refers to nothing"):
        migrate(conn)
    assert (rows_by_table(conn), conn.execute("PRAGMA user_version").fetchone()) == (before, (2,))
    assert not conn.in_transaction
    conn.close()


def rows_by_table(conn: sqlite3.Connection) -> dict[str, list[dict[str, object]]]:
    all_of_them = "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'"
    tables = [name for (name,) in conn.execute(all_of_them)]
    found = {}
    for table in tables:
        columns = [column for _, column, *_ in conn.execute(f"PRAGMA table_info({table})")]
        found[table] = [
            dict(zip(columns, row, strict=True)) for row in conn.execute(f"SELECT * FROM {table}")
        ]
    return found


def test_of_a_running_house_nothing_is_lost_when_ids_become_unrepeatable(tmp_path: Path) -> None:
    """Two rows in each table of the step before, every column filled; each is the same one afterwards."""
    conn = at_step(3, tmp_path)
    conn.execute("PRAGMA foreign_keys = OFF")
    for table in rows_by_table(conn):
        columns = conn.execute(f"PRAGMA table_info({table})").fetchall()
        for n in (1, 2):
            values = {"INTEGER": n, "REAL": n + 0.5, "TEXT": f"{table} {n}", "BLOB": bytes([n])}
            marks = ", ".join("?" * len(columns))
            row = [values[kind] for _, _, kind, *_ in columns]
            conn.execute(f"INSERT OR IGNORE INTO {table} VALUES ({marks})", row)
    before = rows_by_table(conn)
    assert {table for table, rows in before.items() if len(rows) < 2} == {"house"}  # there is one only
    take_step(conn, 4)
    after = rows_by_table(conn)
    assert after.pop("wrong_try") == []  # they count for somebody else from now on
    del before["wrong_try"]
    for table, rows in before.items():
        assert [{name: row[name] for name in rows[0]} for row in after[table]] == rows, table
    conn.execute("PRAGMA foreign_keys = OFF")
    for table in ("admission", "stay", "placement"):
        conn.execute(f"DELETE FROM {table}")
        row = {name: value for name, value in before[table][0].items() if name != "id"}
        names, marks = ", ".join(row), ", ".join("?" * len(row))
        insert = f"INSERT INTO {table} ({names}) VALUES ({marks}) RETURNING id"
        assert conn.execute(insert, list(row.values())).fetchone() == (3,)
    conn.close()


def test_the_connection_is_as_the_rulings_say(place: Place) -> None:
    values = {
        name: place.conn.execute(f"PRAGMA {name}").fetchone()[0]
        for name in ("journal_mode", "synchronous", "foreign_keys", "secure_delete")
    }
    assert values == {"journal_mode": "wal", "synchronous": 2, "foreign_keys": 1, "secure_delete": 1}
