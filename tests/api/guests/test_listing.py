"""The list of guests: filtered, sorted, paged and acted on by the server."""

import csv

import httpx
import pytest

from lauschen.api.guests import kept, listing, routes
from lauschen.core.decide.standing import State
from tests.garden import Garden

DAY_VISIT = 1


async def listed(staff: httpx.AsyncClient, **asked: object) -> dict[str, object]:
    answer = await staff.get("/api/guests", params={name: str(value) for name, value in asked.items()})
    assert answer.status_code == 200, answer.text
    found: dict[str, object] = answer.json()
    return found


async def codes(staff: httpx.AsyncClient, *labels: str) -> list[str]:
    found = []
    for label in labels:
        wish = {"plan": DAY_VISIT, "count": 1, "label": label}
        found.append((await staff.post("/api/batches", json=wish)).json()["issued"][0]["code"])
    return found


@pytest.fixture
async def three(garden: Garden, staff: httpx.AsyncClient) -> list[str]:
    """Zora and Ada are inside, somebody is at the door; their codes."""
    made = await codes(staff, "Zora", "Ada")
    for guest, code in zip(garden.guests, made, strict=False):
        await garden.let_in(guest, code)
        await garden.until_state(guest, State.INSIDE)
    await garden.point.join(garden.guests[2].phone)
    await garden.until_state(garden.guests[2], State.AT_DOOR)
    return made


async def test_states_are_counted_and_filtered(three: list[str], staff: httpx.AsyncClient) -> None:
    everybody = await listed(staff)
    assert (everybody["total"], everybody["pages"]) == (3, 1)
    counts = everybody["counts"]
    assert (counts["inside"], counts["at_door"], counts["held"]) == (2, 1, 0)  # type: ignore[index]
    inside = await listed(staff, state="inside")
    assert [one["name"] for one in inside["rows"]] == ["Ada", "Zora"]  # type: ignore[attr-defined]
    assert (await listed(staff, state="inside", network=2))["total"] == 0
    assert (await listed(staff, plan=DAY_VISIT))["total"] == 2
    assert (await listed(staff, plan=DAY_VISIT + 1))["total"] == 0


async def test_each_column_sorts_both_ways(three: list[str], staff: httpx.AsyncClient) -> None:
    by_name = [one["name"] for one in (await listed(staff, sort="who", down=False))["rows"]]  # type: ignore[attr-defined]
    assert by_name == ["Ada", "Zora", ""]
    turned = [one["name"] for one in (await listed(staff, sort="who", down=True))["rows"]]  # type: ignore[attr-defined]
    assert turned == ["", "Zora", "Ada"]
    for column in listing.SORTS:
        for down in (True, False):
            assert len((await listed(staff, sort=column, down=down))["rows"]) == 3  # type: ignore[arg-type]
    assert (await staff.get("/api/guests?sort=colour")).status_code == 422


async def test_somebody_is_found_by_name_code_device_and_place(
    garden: Garden, three: list[str], staff: httpx.AsyncClient
) -> None:
    mac = f"{garden.guests[0].phone.mac:012X}"
    for find, names in (
        ("zor", ["Zora"]),
        (three[0], ["Zora"]),
        (three[0].lower().replace("-", " "), ["Zora"]),
        (mac[-6:], ["Zora"]),
        (":".join(mac[n : n + 2] for n in range(0, 12, 2)), ["Zora"]),
        ("west", ["", "Ada", "Zora"]),
        ("nobody at all", []),
    ):
        rows = (await listed(staff, find=find))["rows"]
        assert sorted(one["name"] for one in rows) == names, find  # type: ignore[attr-defined]


async def test_pages_follow_each_other_and_slices_lose_nobody(
    three: list[str], staff: httpx.AsyncClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(kept, "SLICE", 1)
    monkeypatch.setattr(routes, "PAGE", 2)
    pages = [await listed(staff, page=number, sort="who", down=False) for number in (0, 1, 2)]
    assert [len(page["rows"]) for page in pages] == [2, 1, 0]  # type: ignore[arg-type]
    assert {page["total"] for page in pages} == {3}
    seen = [one["mac"] for page in pages for one in page["rows"]]  # type: ignore[attr-defined]
    assert len(set(seen)) == 3


async def test_all_of_a_state_are_acted_on_and_who_cannot_be_says_why(
    garden: Garden, three: list[str], staff: httpx.AsyncClient
) -> None:
    rows = (await listed(staff))["rows"]
    named = [{"mac": one["mac"], "network": one["network"]} for one in rows]  # type: ignore[attr-defined]
    done = (await staff.post("/api/guests/acts", json={"what": "end-stay", "guests": named})).json()
    assert len(done["done"]) == 2
    assert [one["count"] for one in done["refused"]] == [1]
    assert "not inside" in done["refused"][0]["text"]
    for guest in garden.guests[:2]:
        await garden.until_state(guest, State.AT_DOOR)
    everybody = {"what": "bar", "all_of": {"state": "at_door", "network": 1}}
    assert len((await staff.post("/api/guests/acts", json=everybody)).json()["done"]) == 3
    assert (await listed(staff, state="barred"))["total"] == 3
    again = {"what": "let-try-again", "all_of": {"state": "barred"}}
    assert len((await staff.post("/api/guests/acts", json=again)).json()["done"]) == 3


async def test_all_that_fit_as_csv(three: list[str], staff: httpx.AsyncClient) -> None:
    await codes(staff, "=1+1")
    text = (await staff.get("/api/guests.csv?state=inside&sort=who&down=false")).text
    assert [line[0] for line in csv.reader(text.splitlines())] == ["guest", "Ada", "Zora"]
    assert three[0] not in text
