"""What was used of a batch and what is withdrawn is counted as it happens, and never by walking it."""

from lauschen.acts.desk.helping import give_time, withdraw
from lauschen.acts.desk.undoing import restore
from lauschen.core.ids import BatchId
from lauschen.store import batches
from tests.place import OTHER, PHONE, Place


def counted(place: Place) -> tuple[int, int]:
    """By the batch itself and, to compare, by looking at each of its codes."""
    batch = batches.get_batch(place.conn, BatchId(1))
    looked_at = place.conn.execute(
        "SELECT count(w.first_used), count(c.withdrawn_at) FROM credential c"
        " LEFT JOIN allowance w ON w.credential = c.id WHERE c.batch = 1"
    ).fetchone()
    assert (batch.used, batch.withdrawn) == looked_at
    return looked_at[0], looked_at[1]


def test_each_counts_once_and_is_taken_back(place: Place) -> None:
    codes = place.issue(3)
    assert counted(place) == (0, 0)
    with place.tx() as tx:
        give_time(tx, place.voucher(codes[2]), 3600)  # an allowance, of which nothing is used yet
    place.let_in(codes[0])
    assert counted(place) == (1, 0)
    place.log_out()
    place.let_in(codes[0])
    place.let_in(codes[1], OTHER, "S2", "visit-2")
    assert counted(place) == (2, 0)
    for _ in range(2):
        with place.tx() as tx:
            withdraw(tx, place.voucher(codes[1]))
    assert counted(place) == (2, 1)
    with place.tx() as tx:
        restore(tx, place.voucher(codes[1]))
    assert counted(place) == (2, 0)
    assert place.standing(PHONE).mac == PHONE


def test_a_batch_of_any_size_is_read_by_its_own_row(place: Place) -> None:
    place.issue(3)
    plan = place.conn.execute(f"EXPLAIN QUERY PLAN {batches._BATCH} b.id = 1").fetchall()
    assert not [row[3] for row in plan if row[3].startswith("SCAN")]
