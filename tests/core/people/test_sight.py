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
    "sight",
    [
        EVERYTHING,
        Sight((), ME),
        Sight((ONE,), ME),
        Sight((ONE, THREE), ME),
        Sight((TWO,)),
        Sight((), ME, own_only=True),
        Sight((ONE,), ME, own_only=True),
        Sight((), None, own_only=True),
    ],
)
def test_predicate_and_condition_agree(sight: Sight) -> None:
    conn = sqlite3.connect(":memory:")
    conn.execute("CREATE TABLE r (network INTEGER, issuer INTEGER)")
    conn.executemany("INSERT INTO r VALUES (?, ?)", ROWS)
    condition = sight.where_issued("network", "issuer")
    found = conn.execute(f"SELECT network, issuer FROM r WHERE {condition}").fetchall()
    assert set(found) == {row for row in ROWS if sight.sees_issued(*row)}
    hidden = conn.execute(f"SELECT count(*) FROM r WHERE NOT {condition}").fetchone()
    assert hidden == (len(ROWS) - len(found),)  # never NULL, which hides what it is a part of
    conn.close()


def test_what_has_no_network_is_for_people_without_a_limit_and_for_its_issuer() -> None:
    assert EVERYTHING.sees(None)
    assert Sight((), ME).sees_issued(None, OTHER)
    limited = Sight((ONE,), ME)
    assert not limited.sees(None)
    assert [limited.sees_issued(None, one) for one in (None, OTHER, ME)] == [False, False, True]
    assert [limited.sees_issued(TWO, one) for one in (None, OTHER, ME)] == [False, False, True]
    assert limited.sees_issued(ONE, OTHER)
    assert not Sight((ONE,)).sees_issued(TWO, None)


def test_own_only_leaves_what_they_issued_and_devices_that_nothing_let_in() -> None:
    own = Sight((), ME, own_only=True)
    assert not own.is_whole
    assert [own.sees_issued(ONE, one) for one in (None, OTHER, ME)] == [False, False, True]
    assert own.sees_guest(ONE, None, has_credential=False)
    assert [own.sees_guest(ONE, one, has_credential=True) for one in (None, OTHER, ME)] == [
        False,
        False,
        True,
    ]
    assert not Sight((TWO,), ME, own_only=True).sees_guest(ONE, ME, has_credential=True)
    assert own.key != Sight((), OTHER, own_only=True).key != EVERYTHING.key
    assert Sight((), ME).key == Sight((), OTHER).key == EVERYTHING.key
