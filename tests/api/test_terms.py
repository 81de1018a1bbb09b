"""What is issued on other terms than its plan's: said on the slip, kept, refused when nobody could use it."""

import httpx
import pytest
from reportlab.pdfbase.pdfmetrics import stringWidth

from lauschen.api.desk.sheet import LIMITS_W, limit_lines
from tests.garden import Garden

DAY_VISIT, COURSE_WEEK = 1, 4
PARTY = {"since": "2099-12-05T10:00", "until": "2099-12-06T18:00", "devices": 3, "seats": "ever"}
KINDS = [
    ("/api/batches", {"plan": DAY_VISIT, "count": 2}),
    ("/api/passes", {"plan": COURSE_WEEK, "label": "Ines Harwood"}),
    ("/api/accounts", {"plan": COURSE_WEEK, "label": "Ines Harwood", "name": "ines.harwood"}),
]


@pytest.mark.parametrize(("path", "wish"), KINDS, ids=[path for path, _ in KINDS])
async def test_each_of_them_says_its_own_terms(
    staff: httpx.AsyncClient, path: str, wish: dict[str, object]
) -> None:
    made = (await staff.post(path, json={**wish, **PARTY})).json()
    batch = made.get("batch", made)
    for issued in batch["issued"]:
        assert "from Sat 5 Dec, 10:00 · until Sun 6 Dec, 18:00 · 3 devices in all" in issued["slip"]
        assert issued["valid_until"] - issued["valid_from"] == 32 * 3600
        assert (issued["devices"], issued["seats"], issued["state"]) == (3, "ever", "fresh")
    kept = (await staff.get(f"/api/batches/{batch['id']}")).json()
    assert kept["issued"] == batch["issued"]


@pytest.mark.parametrize(("path", "wish"), KINDS, ids=[path for path, _ in KINDS])
async def test_what_cannot_be_is_refused_at_its_field_and_nothing_is_issued(
    staff: httpx.AsyncClient, path: str, wish: dict[str, object]
) -> None:
    for wrong, field in (
        ({"since": "tomorrow"}, "since"),
        ({"until": "2001-01-01T00:00"}, "until"),
        ({"since": PARTY["until"], "until": PARTY["since"]}, "until"),
        ({"devices": 0}, "devices"),
        ({"seats": "some"}, "seats"),
    ):
        answer = await staff.post(path, json={**wish, **wrong})
        assert (answer.status_code, answer.json()["field"]) == (422, field), wrong
    assert (await staff.get("/api/desk")).json()["batches"] == []


async def test_a_code_of_a_party_says_so_to_its_guests(garden: Garden, staff: httpx.AsyncClient) -> None:
    for seats, words in (("ever", "It is for 3 in all."), ("any", "as many more as you like")):
        guest = garden.guests[0 if seats == "ever" else 1]
        wish = {"plan": DAY_VISIT, "count": 1, "devices": 3 if seats == "ever" else None, "seats": seats}
        batch = (await staff.post("/api/batches", json=wish)).json()
        await garden.let_in(guest, batch["issued"][0]["code"])
        await guest.open(guest.url)
        assert words in guest.html


def test_the_longest_limits_stand_beside_the_qr_code_of_the_slip() -> None:
    limits = "365 d from first use · from Wed 30 Sep, 10:00 · until Wed 30 Sep, 18:00 · 999 devices in all · 999.9 GB"
    lines = limit_lines(limits)
    assert len(lines) <= 3
    assert " ".join(lines) == limits
    assert all(stringWidth(line, "Helvetica", 8) <= LIMITS_W for line in lines)
