"""A house after a busy summer: what is made hangs together, and the desk finds its way in it."""

from pathlib import Path

import pytest

from lauschen.core.ids import Mac, NetworkId
from lauschen.demo import site
from lauschen.demo.large import FIRST_MAC, Size, fill
from lauschen.serve.first_run import open_data
from lauschen.store import batches, credentials, log, overview, stays
from lauschen.store.guests import rows

NOW = 1_790_000_000.0
SMALL = Size(codes=60, batch=25, devices=20, inside=6, stays=100, entries=200)


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
        assert sorted((one.size, one.used) for one in found) == [(10, 0), (25, 0), (25, 20)]
        counts = overview.stream_counts(conn, NetworkId(1), NOW)
        assert sum(counts.inside.values()) == SMALL.inside
        for table, many in (("stay", SMALL.stays), ("decision", 100), ("event", 100)):
            assert conn.execute(f"SELECT count(*) FROM {table}").fetchone()[0] == many
        (code, *_) = [one.code for one in credentials.all_issued_of(conn, keys, found[-1].id)]
        assert len(code) == 10
    finally:
        conn.close()


@pytest.mark.parametrize(("number", "state"), [(1, "inside"), (20, "left")])
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
