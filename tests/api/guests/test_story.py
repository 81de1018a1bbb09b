"""One guest's story: the time line with what was issued and sent, the other devices, and why they cannot get on."""

from typing import Any

import httpx
import pytest

from lauschen.api.words.why import AS_BELOW, MENDED_IN, NEVER_OPENED, NOTHING_ENTERED, why_not, why_words
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.sentences.catalogue import LANGUAGES
from tests.garden import Garden, Guest

DAY_VISIT = 1


async def told(garden: Garden, staff: httpx.AsyncClient, guest: Guest) -> Any:
    answer = await staff.get(garden.path(guest))
    assert answer.status_code == 200, answer.text
    return answer.json()


async def a_code(staff: httpx.AsyncClient, **wish: object) -> str:
    batch = (
        await staff.post("/api/batches", json={"plan": DAY_VISIT, "count": 1, "label": "", **wish})
    ).json()
    return str(batch["issued"][0]["code"])


async def test_why_follows_a_guest_from_the_door_to_the_inside(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    code = await a_code(staff)
    guest = garden.guests[0]

    async def cause() -> str | None:
        why = (await told(garden, staff, guest))["why"]
        return why and str(why["cause"])

    await garden.point.join(guest.phone)
    assert await cause() == why_words(NEVER_OPENED).cause
    await guest.open()
    assert await cause() == why_words(NOTHING_ENTERED).cause
    await guest.type_code("WRONG-CODE99")
    assert await cause() == why_words(Reason.CODE_UNKNOWN).cause
    await guest.type_code(code)
    await garden.until_state(guest, State.INSIDE)
    assert await cause() is None
    await staff.post(f"{garden.path(guest)}/end-stay")
    await garden.until_state(guest, State.AT_DOOR)
    assert await cause() == why_words(Reason.ENDED_BY_STAFF).cause
    await staff.post(f"{garden.path(guest)}/bar")
    await garden.until_state(guest, State.BARRED)
    assert await cause() == why_words(Reason.BARRED_BY_STAFF).cause


async def test_a_second_device_is_told_of_the_first_and_where_to_mend_it(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    code = await a_code(staff, devices=1)
    first, second = garden.guests[:2]
    await garden.let_in(first, code)
    await garden.point.join(second.phone)
    await second.open()
    await second.type_code(code)
    assert (await told(garden, staff, second))["why"]["cause"] == why_words(Reason.DEVICES_FULL).cause
    assert (await told(garden, staff, first))["others"] == []


async def test_devices_in_by_one_code_are_found_from_one_another(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    code = await a_code(staff, devices=2)
    first, second = garden.guests[:2]
    await garden.let_in(first, code)
    await garden.let_in(second, code)
    (other,) = (await told(garden, staff, first))["others"]
    assert (other["mac"].replace("-", "").lower(), other["network"], other["state"]) == (
        f"{second.phone.mac:012x}",
        1,
        "inside",
    )
    await staff.post(f"{garden.path(second)}/end-stay")
    await garden.until_state(second, State.AT_DOOR)
    (other,) = (await told(garden, staff, first))["others"]
    assert other["state"] == "at_door"


async def test_the_time_line_begins_with_what_was_issued(garden: Garden, staff: httpx.AsyncClient) -> None:
    code = await a_code(staff, label="Zora")
    guest = garden.guests[0]
    garden.clock.advance(60)
    await garden.let_in(guest, code)
    log = (await told(garden, staff, guest))["log"]
    assert log[-1]["text"] == "gatehouse issued it: Day visit"
    assert [line["at"] for line in log] == sorted((line["at"] for line in log), reverse=True)


@pytest.mark.parametrize("lang", LANGUAGES)
@pytest.mark.parametrize("reason", [*MENDED_IN, NEVER_OPENED, NOTHING_ENTERED, AS_BELOW])
def test_a_cause_is_a_sentence_and_says_what_to_do(reason: str, lang: str) -> None:
    why = why_words(reason, lang)
    assert why.cause.endswith(".")
    assert why.mend.endswith(".")
    assert why.mend.count("*") % 2 == 0
    assert why.link in (None, "/desk", "/networks", "/rules", "/passphrases")


def test_what_has_no_words_is_not_taken_for_a_device_that_only_waits() -> None:
    assert why_not(Reason.CONTRADICTORY, has_opened=True) == why_words(AS_BELOW)
    assert why_not(Reason.NEEDS_CODE, has_opened=True) == why_words(NOTHING_ENTERED)
    assert why_not(None, has_opened=False) == why_words(NEVER_OPENED)
