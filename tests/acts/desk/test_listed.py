"""A pasted list: however it is separated and quoted, every bad row is named, and nobody gets half of it."""

from pathlib import Path
from sqlite3 import Connection

import pytest

from lauschen.acts.desk import listed
from lauschen.acts.desk.listed import MOST_LINES, Listed, issue_listed, read_list
from lauschen.core.actor import person
from lauschen.core.errors import Invalid
from lauschen.core.ids import BatchId, PlanId, StaffId
from lauschen.core.limits.terms import Terms
from lauschen.core.messages.message import Channel
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store import batches
from lauschen.store.people.issued_once import Once
from tests.place import CountedChance, Place
from tests.still_clock import StillClock

ZONE = "Europe/Vienna"
STAFF = person(StaffId(1))


def read(text: str) -> listed.ListRead:
    return read_list(text, ZONE, ("AT", "DE"), "en")


@pytest.mark.parametrize("sign", [",", ";", "\t"])
@pytest.mark.parametrize("end", ["\n", "\r\n", "\r"])
@pytest.mark.parametrize("mark", ["", "\ufeff"])
def test_each_usual_way_of_writing_a_list_is_read(sign: str, end: str, mark: str) -> None:
    rows = [
        ["Name", "Send to", "Until", "Devices", "Note"],
        ["Ines Harwood", "ines@students.hollerau.example", "2099-12-06", "2", "pays later"],
        ["Jonas Field", "0664 1234567", "2099-12-06 18:00", "", ""],
        ["Ada Lindqvist"],
    ]
    found = read(mark + end.join(sign.join(row) for row in rows) + end)
    assert found.bad == []
    ines, jonas, ada = found.guests
    assert (ines.name, ines.devices, ines.note) == ("Ines Harwood", 2, "pays later")
    assert ines.address is not None
    assert (ines.address.channel, ines.address.to) == (Channel.MAIL, "ines@students.hollerau.example")
    assert jonas.address is not None
    assert jonas.address.to == "+436641234567"
    assert ines.until is not None
    assert jonas.until is not None
    assert round(ines.until - jonas.until) == 6 * 3600 - 60  # a day alone is good to its end
    assert ada == Listed("Ada Lindqvist", None, None, None, "")


def test_a_first_line_with_a_name_alone_does_not_mislead() -> None:
    assert [guest.devices for guest in read("Ada\nInes;;;2\n").guests] == [None, 2]


def test_quotes_may_hold_separators_quotes_and_lines() -> None:
    found = read('"Harwood, Ines",,,,"two\nlines, and ""quotes"""\nJonas\n')
    assert [guest.name for guest in found.guests] == ["Harwood, Ines", "Jonas"]
    assert found.guests[0].note == 'two\nlines, and "quotes"'


@pytest.mark.parametrize(
    ("row", "why"),
    [
        (",ines@students.hollerau.example", "A name of 1 to 80"),
        ("x" * 81, "A name of 1 to 80"),
        ("Ines,ines@", "That is no mail address"),
        ("Ines,12", "That is no phone number"),
        ("Ines,+1 202 555 0100", "Text messages go to AT, DE only"),
        ("Ines,,tomorrow", "A day and a time"),
        ("Ines,,,none", "none is no number of devices"),
        ("Ines,,,1000", "is no number of devices"),
        ("Ines,,,,a,b", "Too many cells"),
    ],
)
def test_a_bad_row_says_where_and_why_and_leaves_the_others(row: str, why: str) -> None:
    found = read(f'Ada,,,,"first\nsecond"\n{row}\nJonas\n')
    assert [guest.name for guest in found.guests] == ["Ada", "Jonas"]
    (bad,) = found.bad
    assert (bad.first, bad.last, found.bad_count) == (3, 3, 1)
    assert bad.why.startswith(why) or why in bad.why


def test_a_quote_that_does_not_close_is_named_where_it_opens() -> None:
    found = read('Ada\nJonas,,,,"open\nInes\n')
    assert [(bad.first, bad.last) for bad in found.bad] == [(2, 3)]


def test_fifty_thousand_are_read_and_one_more_is_not() -> None:
    lines = [f"Guest {number},guest{number}@students.hollerau.example" for number in range(2000)]
    assert len(read("\n".join(lines)).guests) == 2000
    plain = "\n".join(f"Guest {number}" for number in range(MOST_LINES))
    assert (len(read(plain).guests), read(plain).bad) == (MOST_LINES, [])
    over = read(plain + "\nOne more")
    assert (len(over.bad), "At most 50,000" in over.bad[0].why) == (1, True)


def test_bad_rows_beyond_two_hundred_are_counted() -> None:
    found = read("\n".join("Ines,,,none" for _ in range(300)))
    assert (len(found.bad), found.bad_count) == (200, 300)


@pytest.fixture
async def road(place: Place) -> Road:
    return Road(place.conn, place.keys, place.config, StillClock(place.now), CountedChance(), fsync_s=0.0)


def guests(count: int, until: float | None = None) -> list[Listed]:
    return [Listed(f"Guest {number}", None, until, None, "") for number in range(count)]


async def issue(
    road: Road, found: list[Listed], plan: int = 1, once: Once | None = None
) -> tuple[int, list[int]]:
    told: list[int] = []
    made = await issue_listed(
        road, found, plan=PlanId(plan), terms=Terms(), words="Welcome", by=STAFF, made=told.append, once=once
    )
    return made, told


async def test_each_has_a_pass_of_their_own_and_the_record_one_line(road: Road, place: Place) -> None:
    made, told = await issue(road, guests(25))
    assert (made, told) == (25, [10, 20, 25])
    shown = batches.batches_since(place.conn, 0, 100)
    assert {batch.said.label for batch in shown} == {f"Guest {number}" for number in range(25)}
    assert {(batch.way, batch.said.words) for batch in shown} == {("guest_pass", "Welcome")}
    kinds = [row[0] for row in place.conn.execute("SELECT kind FROM event")]
    assert kinds.count("list_issued") == 1
    assert "pass_issued" not in kinds


async def test_one_that_cannot_be_takes_all_of_them_back(road: Road, place: Place) -> None:
    found = guests(25)
    found[17] = Listed("Too late", None, place.now - 1, None, "")
    with pytest.raises(Invalid):
        await issue(road, found)
    for table in ("batch", "credential", "finder"):
        assert place.conn.execute(f"SELECT count(*) FROM {table}").fetchone() == (0,), table


async def test_under_its_key_a_list_counts_once_all_of_it_is_given_out(
    road: Road, place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The process ends while the passes are given out: the key does not say that it was done."""
    given = 0

    def make_valid(conn: Connection, batch: BatchId) -> None:
        nonlocal given
        given += 1
        if given == 15:
            raise RuntimeError("the process ended")
        real(conn, batch)

    real = batches.make_valid
    monkeypatch.setattr(batches, "make_valid", make_valid)
    once = Once("guests of the week", "25 of them")
    with pytest.raises(RuntimeError):
        await issue(road, guests(25), once=once)
    monkeypatch.setattr(batches, "make_valid", real)
    with pytest.raises(Invalid, match="under_way"):
        await issue(road, guests(25), once=once)


async def test_a_crash_half_way_leaves_nothing_that_lets_anybody_in(
    road: Road, place: Place, monkeypatch: pytest.MonkeyPatch, data: Path
) -> None:
    def dead(tx: Tx, **_: object) -> None:
        raise RuntimeError("the process ended")

    monkeypatch.setattr(listed, "_forget", dead)
    found = guests(15)
    found[12] = Listed("Too late", None, place.now - 1, None, "")
    with pytest.raises((Invalid, RuntimeError)):
        await issue(road, found)
    assert place.conn.execute("SELECT count(*) FROM credential").fetchone() == (10,)
    assert batches.batches_since(place.conn, 0, 100) == []


def test_where_names_may_have_commas_the_heading_says_whether_they_part() -> None:
    def names(text: str) -> list[tuple[str, str]]:
        found = read_list(text, ZONE, (), "en", commas=False)
        assert not found.bad
        return [(one.name, one.note) for one in found.guests]

    assert names("Room 7, Lutes\nRoom 8\n") == [("Room 7, Lutes", ""), ("Room 8", "")]
    assert names('Name,send to,until,devices,note\n"Room 7, Lutes",,,,upstairs\n') == [
        ("Room 7, Lutes", "upstairs")
    ]
    assert names("Name;send to;until;devices;note\nRoom 7, Lutes;;;;upstairs\n") == [
        ("Room 7, Lutes", "upstairs")
    ]


def test_a_heading_says_which_column_is_which() -> None:
    found = read("name,note\nInes Harwood,pays later\nJonas Field,\n")
    assert [(one.name, one.address, one.note) for one in found.guests] == [
        ("Ines Harwood", None, "pays later"), ("Jonas Field", None, ""),
    ]  # fmt: skip
    found = read("Name;Devices;Note;Send to\nInes;2;late;ines@students.hollerau.example\n")
    (ines,) = found.guests
    assert ines.address is not None
    assert (ines.devices, ines.note, ines.address.to) == (2, "late", "ines@students.hollerau.example")


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("name,room\nInes,7\n", "The heading has 'room'."),
        ("name,note,note\nInes,a,b\n", "The heading has 'note'."),
        ("name,note\nInes,late,7\n", "Too many cells: name, note."),
    ],
)
def test_a_heading_that_fits_nothing_is_named(text: str, why: str) -> None:
    found = read(text)
    assert found.bad[0].why.startswith(why)
