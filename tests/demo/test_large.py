"""A house after a busy summer: what is made hangs together, and the desk finds its way in it."""

from pathlib import Path

import httpx
import pytest

from lauschen.core.ids import Mac, NetworkId
from lauschen.demo import site
from lauschen.demo.large import FIRST_MAC, Size, fill
from lauschen.road.clock import MovableClock
from lauschen.serve.first_run import open_data
from lauschen.serve.service import Options, Service
from lauschen.store import batches, credentials, log, overview, stays
from lauschen.store.guests import rows

NOW = 1_790_000_000.0
SMALL = Size(codes=200, batch=90, devices=100, inside=30, stays=500, entries=1000, messages=100, holders=10)


@pytest.fixture
def summer(tmp_path: Path) -> Path:
    site.make_site(tmp_path, {})
    fill(tmp_path, NOW, SMALL)
    return tmp_path


def test_everything_hangs_together(summer: Path) -> None:
    conn, keys = open_data(summer)
    try:
        assert conn.execute("PRAGMA foreign_key_check").fetchall() == []
        found = batches.batches_since(conn, 0.0, 10)
        assert sorted((one.size, one.used) for one in found) == [(10, 0), (20, 0), (90, 10), (90, 90)]
        counts = overview.stream_counts(conn, NetworkId(1), NOW)
        assert sum(counts.inside.values()) == SMALL.inside
        for table, many in SMALL.rows.items():
            assert (table, conn.execute(f"SELECT count(*) FROM {table}").fetchone()[0]) == (table, many)
        (code, *_) = [one.code for one in credentials.all_issued_of(conn, keys, found[-1].id)]
        assert len(code) == 10
    finally:
        conn.close()


NOT_IN_A_YEAR = {
    "device": {"barred_since", "barred_by", "typing_barred_until"},
    "credential": {
        "withdrawn_at", "valid_from", "valid_until", "devices", "role", "trusted", "confirm_by", "paused_at",
        "seconds", "octets", "down_bps", "up_bps",
    },
    "allowance": {"mac"},
    "visit": {"admission", "posted_name", "posted_at", "posted_used", "barred_until"},
    "message": {"receiver"},
    "registration": {"confirm_code", "confirm_link"},
    "vouching": {"ask_at", "until", "answered_by", "staff", "credential"},
    "passphrase_key": {"ends_at"},
    "key_device": {"removed_at"},
}  # fmt: skip
"""Columns that few rows have: what somebody did by hand, and what is under way."""


def test_every_column_is_set_that_a_year_of_use_sets(summer: Path) -> None:
    """Statements cost what they cost in a house, not in empty columns."""
    conn, _ = open_data(summer)
    try:
        for table in SMALL.rows:
            for column in [row[1] for row in conn.execute(f"PRAGMA table_info({table})")]:
                is_set = bool(conn.execute(f"SELECT count({column}) FROM {table}").fetchone()[0])
                assert is_set is not (column in NOT_IN_A_YEAR.get(table, ())), f"{table}.{column}"
    finally:
        conn.close()


async def test_the_dossier_of_each_device_opens(summer: Path) -> None:
    """Each has something else of a year around it."""
    options = Options(summer, ("127.0.0.1", 0), ("127.0.0.1", 0), "127.0.0.1", 0, 0)
    service = Service(options, MovableClock(NOW))
    await service.start()
    try:
        base = f"http://127.0.0.1:{service.ports['staff']}"
        async with httpx.AsyncClient(base_url=base) as web:
            await web.post("/api/session", json={"name": site.STAFF_NAME, "password": site.STAFF_PASSWORD})
            for number in range(1, SMALL.devices + 1):
                answer = await web.get(f"/api/guests/{FIRST_MAC + number:012x}/1")
                assert (number, answer.status_code) == (number, 200)
    finally:
        await service.close()


@pytest.mark.parametrize(("number", "state"), [(1, "inside"), (100, "left")])
def test_a_device_has_a_code_a_log_in_order_and_stays(summer: Path, number: int, state: str) -> None:
    conn, keys = open_data(summer)
    try:
        mac = Mac(FIRST_MAC + number)
        row = rows.guest(conn, keys, mac, NetworkId(1), 0)
        assert row is not None
        assert (row.line.state, row.line.grant is not None and row.line.grant.credential) == (state, number)
        assert row.code_sealed is not None
        assert credentials.get_issued(conn, keys, row.line.grant.credential) is not None  # type: ignore[union-attr]
        heard = log.log_of_device(conn, mac, 80)
        assert len(heard) == 10
        assert [one.at for one in heard] == sorted((one.at for one in heard), reverse=True)
        assert max(one.at for one in heard) <= NOW
        assert len(stays.stays_of(conn, mac, 50)) == 5
    finally:
        conn.close()
