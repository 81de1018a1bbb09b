"""How long rows of each table are kept (rulings 8.9), and how older ones are forgotten: a slice at a time."""

from dataclasses import dataclass
from enum import Enum, auto
from sqlite3 import Connection

from lauschen.store import log
from lauschen.store.db import walk

DAY_S = 86_400.0
LOG_S = 30 * DAY_S
ACTS_S = 730 * DAY_S
"""What people, programs and the command line did; to a guest's device, as long as its stays."""
STAYS_S = 180 * DAY_S
"""Stays, admissions, placements and addresses."""
ISSUED_S = 180 * DAY_S
"""Codes, accounts, passphrases and what was used of them, from the moment at which they were over."""
LEFT_S = 90 * DAY_S
"""Where devices stood that have left, and devices of which nothing else is kept."""
STRANGERS_S = 7 * DAY_S
"""Devices that nothing ever let in, with all that was heard of them."""
UNFINISHED_S = DAY_S
"""A batch that never became valid."""


class Way(Enum):
    """How the rows that are too old are found."""

    BY_TIME = auto()
    """There is an index by their moment."""
    OLDEST_IDS = auto()
    """Ids rise with time, so the first ones are the oldest."""
    WALK = auto()
    """From id to id (`db.walk`): those that still run are walked over, and hold nobody up."""


@dataclass(frozen=True, slots=True)
class Kept:
    """One table."""

    table: str
    at: str
    """The column with the moment that its age counts from."""
    keep_s: float
    way: Way
    key: str = "id"
    only: str = "1"
    """A further condition under which a row may go."""


# A placement names its admission, which names its device: from the end of the chain.
KEPT = (
    Kept("decision", "at", LOG_S, Way.OLDEST_IDS),
    Kept("visit", "expires", 2 * DAY_S, Way.BY_TIME, "id_hash",
         "NOT EXISTS (SELECT 1 FROM admission a WHERE a.id = visit.admission AND a.ended IS NULL)"),
    Kept("message", "written_at", 30 * DAY_S, Way.OLDEST_IDS, only="next_at IS NULL"),
    Kept("key_trial", "asked_at", DAY_S, Way.BY_TIME, "mac, network"),
    # Somebody who tries wrong passphrases can make up an address for each try.
    Kept("wrong_key", "last_at", 7 * DAY_S, Way.BY_TIME, "network, mac, access_device"),
    Kept("not_served", "last_at", 7 * DAY_S, Way.BY_TIME, "access_device, network"),
    Kept("key_asked", "at", DAY_S, Way.BY_TIME, "access_device, network, mac"),
    Kept("key_shown", "at", DAY_S, Way.BY_TIME, "access_device, network, key"),
    Kept("key_limit", "at", DAY_S, Way.BY_TIME, "access_device, network, what"),
    Kept("registration", "at", STAYS_S, Way.OLDEST_IDS),
    Kept("vouching", "at", STAYS_S, Way.OLDEST_IDS),
    Kept("host_link", "until", 0.0, Way.BY_TIME, "whose"),
    Kept("consent", "at", STAYS_S, Way.OLDEST_IDS),
    Kept("wrong_try", "at", 3600.0, Way.OLDEST_IDS),
    Kept("attempt", "at", DAY_S, Way.OLDEST_IDS),
    Kept("address", "seen", STAYS_S, Way.BY_TIME, "mac, text, source"),
    Kept("stay", "started", STAYS_S, Way.WALK, only="ended < ?1"),
    Kept("placement", "begun", STAYS_S, Way.WALK, only="ended < ?1"),
    Kept("admission", "begun", STAYS_S, Way.WALK,
         only="ended < ?1 AND NOT EXISTS (SELECT 1 FROM placement p WHERE p.admission = admission.id)"),
    # How long a request to issue is known again.
    Kept("issued_once", "at", 2 * DAY_S, Way.BY_TIME, "staff, key_hash"),
    Kept("staff_session", "expires", 0.0, Way.BY_TIME, "token_hash"),
)  # fmt: skip


def forget(conn: Connection, kept: Kept, before: float, after: int, at_most: int) -> tuple[int, int]:
    """Deletes rows that are older than `before`, `at_most` of them; how many, and the id that a walk goes on from."""
    last = log.last_log_id(conn) if kept.table == "decision" else None
    if kept.way is Way.WALK:
        return walk(conn, kept.table, kept.at, kept.only, before, after, at_most)
    if kept.way is Way.OLDEST_IDS:
        found = f"SELECT {kept.key} FROM (SELECT * FROM {kept.table} ORDER BY id LIMIT :most) AS {kept.table}"
        found += f" WHERE {kept.at} < :before AND {kept.only}"
    else:
        found = f"SELECT {kept.key} FROM {kept.table} WHERE {kept.at} < :before AND {kept.only} LIMIT :most"
    sql = f"DELETE FROM {kept.table} WHERE ({kept.key}) IN ({found})"
    gone = conn.execute(sql, {"before": before, "most": at_most}).rowcount
    if gone and last is not None:
        log.mark_last(conn, last)
    return gone, 0
