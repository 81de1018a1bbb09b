"""What somebody may see: the predicate and the condition of SQL say the same of every row."""

import itertools
import sqlite3

import pytest

from lauschen.core.ids import NetworkId, StaffId
from lauschen.core.people.sight import EVERYTHING, Sight

ONE, TWO, THREE = NetworkId(1), NetworkId(2), NetworkId(3)
ME, OTHER = StaffId(7), StaffId(8)
ROWS = list(itertools.product((None, ONE, TWO, THREE), (None, ME, OTHER)))


@pytest.mark.parametrize(
    "sight", [EVERYTHING, Sight((), ME), Sight((ONE,), ME), Sight((ONE, THREE), ME), Sight((TWO,))]
)
def test_predicate_and_condition_agree(sight: Sight) -> None:
    conn = sqlite3.connect(":memory:")
    conn.execute("CREATE TABLE r (network INTEGER, issuer INTEGER)")
    conn.executemany("INSERT INTO r VALUES (?, ?)", ROWS)
    found = conn.execute(f"SELECT network, issuer FROM r WHERE {sight.where('network', 'issuer')}").fetchall()
    assert set(found) == {row for row in ROWS if sight.sees(*row)}
    alone = conn.execute(f"SELECT network FROM r WHERE {sight.where('network')}").fetchall()
    assert {row for (row,) in alone} == {network for network, _ in ROWS if sight.sees(network)}
    conn.close()


def test_what_has_no_network_is_for_people_without_a_limit_and_for_its_issuer() -> None:
    assert EVERYTHING.sees(None)
    assert Sight((), ME).sees(None, OTHER)
    limited = Sight((ONE,), ME)
    assert [limited.sees(None), limited.sees(None, OTHER), limited.sees(None, ME)] == [False, False, True]
    assert [limited.sees(ONE, OTHER), limited.sees(TWO, OTHER), limited.sees(TWO, ME)] == [True, False, True]
    assert not Sight((ONE,)).sees(TWO, None)
