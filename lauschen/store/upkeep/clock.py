"""Steps of the wall clock that were adopted, and what they move: moments that durations run from or to."""

from dataclasses import dataclass
from sqlite3 import Connection

# Every moment that a duration runs from or to, with the condition under which it still runs. What has ended stays
# as it was written. So do dates and hours of the calendar, which follow the new clock: by when a code must be used,
# until when it is good, pauses, opening hours, changing passcodes. `:now` is the clock before the step, `:by` the
# step in seconds.
DUE_S = 60.0
"""So long ago it was due, that nothing waits for a grace."""
_MOVED = (
    ("allowance", ("first_used", "data_out_at"), "first_used IS NOT NULL"),
    ("credential", ("confirm_by",), "confirm_by IS NOT NULL"),
    ("device", ("typing_barred_until",), "typing_barred_until IS NOT NULL"),
    ("admission", ("begun", "seat_since"), "ended IS NULL"),
    ("placement", ("begun",), "ended IS NULL"),
    ("stay", ("started", "last_event"), "ended IS NULL"),
    ("standing", ("since", "last_heard", "page_opened", "code_tried", "decision_at", "reason_at", "reconsider_at"),
     "state <> 'left' OR admission IS NOT NULL OR since > :now - 3600"),
    ("wanted", ("since", "until"), "state <> 'left'"),
    ("place", ("until", "seen_at", "next_at", "last_answer_at", "over_at", "under_way"), "1"),
    ("visit", ("opened_at", "expires", "last_answer_at", "posted_at", "posted_used", "barred_until"), "1"),
    ("message", ("written_at", "next_at", "answer_at"), "state = 'waiting'"),
    ("registration", ("at",), "at > :now - 86400"),
    ("wrong_try", ("at",), "1"),
    ("wrong_key", ("first_at", "last_at"), "1"),
    ("key_trial", ("asked_at", "joined_at"), "1"),
    ("passphrase_key", ("ends_at",), "ends_at > :now"),
    ("passcode_told", ("since",), "1"),
    ("address", ("seen",), "seen > :now - 3600"),
    ("device_heard", ("last_heard",), "1"),
    ("vouching", ("at", "ask_at", "until"), "answered_at IS NULL"),
    ("question", ("at", "remind_at", "reminded_at"), "1"),
    ("host_link", ("until",), "until > :now"),
    ("staff", ("password_until", "token_until", "invited_until"),
     "password_until > :now OR token_until > :now OR invited_until > :now"),
    ("staff_session", ("begun", "expires"), "1"),
    ("issued_once", ("at",), "1"),
    ("intent", ("at",), "1"),
    ("intent_progress", ("due_at",), "1"),
)  # fmt: skip


def adopt_step(conn: Connection, now: float, by: float) -> None:
    """Writes a step down, and moves what runs along with it: as much is left afterwards as was before.

    `now`: our clock before the step. Everybody inside is looked at again at once, as the hours and dates that bound
    their stay did not move.
    """
    conn.execute("INSERT INTO clock_step (at, by) VALUES (?, ?)", (now, by))
    for table, columns, runs in _MOVED:
        moved = ", ".join(f"{column} = {column} + :by" for column in columns)
        conn.execute(f"UPDATE {table} SET {moved} WHERE {runs}", {"by": by, "now": now})
    conn.execute(
        "UPDATE standing INDEXED BY standing_to_reconsider SET reconsider_at = ? WHERE reconsider_at IS NOT NULL",
        (now + by - DUE_S,),
    )


def oldest_kept(conn: Connection, now: float, keep_s: float) -> float:
    """Return the moment before which something is older than it is kept.

    What was written by a clock that stood elsewhere until a step less than `keep_s` ago cannot be told from what is
    old, so it is kept as long as anything from before that step.
    """
    oldest = now - keep_s
    era_end = now
    for at, by in conn.execute("SELECT at, by FROM clock_step ORDER BY id DESC"):
        began = at + by
        keep_s -= max(0.0, era_end - began)
        if keep_s <= 0:
            break
        oldest, era_end = min(oldest, at - keep_s), at
    return oldest


@dataclass(frozen=True, slots=True)
class Mark:
    """Our clock at a second since a boot."""

    boot: str
    since_boot: float
    at: float


def put_mark(conn: Connection, mark: Mark) -> None:
    conn.execute(
        "INSERT OR REPLACE INTO clock_mark (one, boot, since_boot, at) VALUES (1, ?, ?, ?)",
        (mark.boot, mark.since_boot, mark.at),
    )


def find_mark(conn: Connection) -> Mark | None:
    row = conn.execute("SELECT boot, since_boot, at FROM clock_mark").fetchone()
    return None if row is None else Mark(*row)
