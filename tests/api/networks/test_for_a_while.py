"""Hours and pauses as staff set them: in words first, in force for the next guest, and said on the page."""

from datetime import datetime, timedelta
from typing import Any

import httpx
import pytest

from lauschen.api.hours import hours_words
from lauschen.core.limits.hours import Hours, Window
from tests.garden import Garden

DAYTIME = [{"begin": 480, "end": 1080}]
BOTH = "Mon 08:00 to 12:00 and 13:00 to 14:00; 24 Dec closed"
NEVER: list[list[dict[str, int]]] = [[]] * 7


def weekly(*windows: dict[str, int]) -> dict[str, Any]:
    return {"weekly": [list(windows)] * 7}


def closed_now(garden: Garden) -> dict[str, Any]:
    """Open for an hour, and that is two hours away."""
    then = datetime.fromtimestamp(garden.clock.now(), garden.road.config.zone) + timedelta(hours=2)
    begin = then.hour * 60
    return weekly({"begin": begin, "end": (begin + 60) % 1440 or 1440})


async def offer(staff: httpx.AsyncClient, **settings: Any) -> httpx.Response:
    return await staff.put("/api/networks/1/ways", json={"ways": [{"way": "voucher", **settings}]})


@pytest.mark.parametrize(
    ("rows", "dates", "said"),
    [
        ((((480, 1080),),) * 5 + ((),) * 2, {}, "Mon to Fri 08:00 to 18:00"),
        ((((0, 1440),),) * 7, {}, "daily all day"),
        (((),) * 4 + (((1200, 120),),) + ((),) * 2, {}, "Fri 20:00 to 02:00"),
        ((((480, 720), (780, 840)),) + ((),) * 6, {"2026-12-24": ()}, BOTH),
        (((),) * 7, {"2026-12-31": ((600, 660),)}, "on no weekday; 31 Dec 10:00 to 11:00"),
    ],
)  # fmt: skip
def test_hours_are_said_in_a_sentence(garden: Garden, rows: Any, dates: dict[str, Any], said: str) -> None:
    def windows(spans: Any) -> tuple[Window, ...]:
        return tuple(Window(*span) for span in spans)

    exceptions = tuple((datetime.fromisoformat(day).date(), windows(spans)) for day, spans in dates.items())
    assert hours_words(Hours(garden.road.config.zone, tuple(map(windows, rows)), exceptions)) == said


async def test_a_plan_with_hours_says_them_and_keeps_them(garden: Garden, staff: httpx.AsyncClient) -> None:
    plan = {"name": "Lessons", "hours": {"weekly": [DAYTIME] * 5 + [[], []], "dates": []}}
    words = await staff.post("/api/plans/words", json=plan)
    assert words.json()["sentence"] == "On one device; open Mon to Fri 08:00 to 18:00."
    saved = (await staff.post("/api/plans", json=plan)).json()
    assert saved["hours"] == plan["hours"]
    kept = garden.road.config.plans[saved["id"]].hours
    assert kept is not None
    assert kept.weekly[0] == (Window(480, 1080),)


@pytest.mark.parametrize(
    ("hours", "code"),
    [
        ({"weekly": NEVER}, "hours_never"),
        ({"weekly": NEVER[:6]}, "not_readable"),
        ({"weekly": NEVER, "dates": [{"day": "2026-12-24", "windows": DAYTIME}] * 2}, "hours_twice"),
        ({"weekly": NEVER, "dates": [{"day": "2026-13-24", "windows": DAYTIME}]}, "not_readable"),
        (weekly({"begin": 1440, "end": 5}), "not_readable"),
    ],
)
async def test_hours_that_cannot_be_are_refused(
    garden: Garden, staff: httpx.AsyncClient, hours: dict[str, Any], code: str
) -> None:
    refused = await staff.post("/api/plans", json={"name": "Never", "hours": hours})
    assert (refused.status_code, refused.json()["code"]) == (422, code)
    assert (await offer(staff, hours=hours)).json()["code"] == code


async def test_a_way_in_that_is_closed_is_not_shown_but_when_it_opens(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    hours = closed_now(garden)
    answer = await offer(staff, hours=hours, labels={"en": "A <b>ticket</b>", "de": " "}, remember_minutes=60)
    assert answer.status_code == 200, answer.text
    (way,) = answer.json()["ways"]
    assert (way["labels"], way["remember_minutes"]) == ({"en": "A <b>ticket</b>"}, 60)
    asked = next(stage["lines"] for stage in answer.json()["stages"] if stage["name"] == "Is asked")
    assert asked[0].startswith("for a voucher code; open daily ")
    assert asked[0].endswith("; remembered for 1 h")
    guest = garden.guests[0]
    await garden.point.join(guest.phone)
    await guest.open()
    assert guest.heading == "Wi-Fi access is not available right now"
    assert "A &lt;b&gt;ticket&lt;/b&gt;: from " in guest.html
    assert 'name="code"' not in guest.html


async def test_an_hour_that_ends_while_the_page_is_open_refuses_the_code_and_says_why(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest, code = garden.guests[0], await issue(staff)
    await garden.point.join(guest.phone)
    await guest.open()
    await offer(staff, hours=closed_now(garden))
    await guest.type_code(code)
    assert "codes are not accepted at this time of day" in guest.html


async def test_a_pause_says_why_since_and_until_when_and_those_inside_come_back(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    guest, other, code = garden.guests[0], garden.guests[1], await issue(staff)
    await garden.let_in(guest, code)
    until = datetime.fromtimestamp(garden.clock.now() + 7200, garden.road.config.zone)
    wanted = {"until": f"{until:%Y-%m-%dT%H:%M}", "why": "Quiet, <please>.", "ends_stays": True}
    answer = await staff.post("/api/networks/1/pause", json=wanted)
    assert answer.status_code == 200, answer.text
    assert "those inside go to the door" in answer.json()["pause"]["sentence"]
    await garden.point.join(other.phone)
    await other.open()
    assert other.heading == "Wi-Fi access is paused"
    assert "Quiet, &lt;please&gt;." in other.html
    day = (
        "" if until.date() == datetime.fromtimestamp(garden.clock.now(), until.tzinfo).date() else "tomorrow "
    )
    assert f"until {day}{until:%H:%M}" in other.html
    assert 'name="code"' not in other.html
    (said,) = [one for one in (await staff.get("/api/now")).json()["attention"] if one["kind"] == "pause"]
    assert "Garden: Paused since" in said["text"]
    garden.clock.advance(15)
    await garden.until_filter(guest, "doorstep")
    await guest.open(guest.url)
    assert "This device will then be online again by itself" in guest.html
    await staff.post("/api/networks/1/end-pause")
    garden.clock.advance(15)
    await garden.until_filter(guest, "visitor")


async def test_a_network_keeps_its_pause_when_something_else_of_it_is_changed(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await staff.post("/api/networks/1/pause", json={"why": "Later."})
    await offer(staff)
    network = (await staff.get("/api/networks")).json()["networks"][0]
    await staff.put("/api/networks/1", json={key: network[key] for key in ("name", "door_role", "ssid")})
    pause = garden.road.config.networks[network["id"]].pause
    assert pause is not None
    assert pause.why == "Later."


@pytest.mark.parametrize("until", ["2020-01-01T00:00", "tomorrow", "2026-02-30T00:00"])
async def test_a_moment_that_is_none_pauses_nothing(
    garden: Garden, staff: httpx.AsyncClient, until: str
) -> None:
    refused = await staff.post("/api/networks/1/pause", json={"until": until})
    assert (refused.status_code, refused.json()["field"]) == (422, "until")


async def issue(staff: httpx.AsyncClient) -> str:
    batch = (await staff.post("/api/batches", json={"plan": 1, "count": 1})).json()
    code: str = batch["issued"][0]["code"]
    return code
