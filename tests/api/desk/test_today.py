"""What the desk asks besides issuing: lengths of codes and their chance, names, the sentence, what cannot work."""

import csv
import io

import httpx
import pytest

from lauschen.core.config.dialect import Arrives
from lauschen.core.decide.standing import State
from tests.garden import Garden

DAY_VISIT, COURSE_WEEK = 1, 4


async def test_the_chance_counts_live_codes_of_that_length_alone(staff: httpx.AsyncClient) -> None:
    for length in (8, 10):
        wish = {"plan": DAY_VISIT, "count": 90, "length": length}
        made = (await staff.post("/api/batches", json=wish)).json()
        assert len(made["issued"][0]["code"].replace("-", "")) == length
    said = (await staff.post("/api/batches/words", json={"count": 10, "length": 8})).json()
    assert "one of 100 live codes of 8 signs" in said["text"]
    short = (await staff.post("/api/batches/words", json={"count": 1000, "length": 6})).json()
    assert (short["is_safe"], short["shortest"]) == (False, 9)
    assert "9 signs are the fewest" in short["text"]


async def test_where_guests_arrive_without_our_address_the_chance_is_said_by_itself(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    """The page cannot tell there which device somebody has, so slow answers alone bound the guesses."""
    wish = {"count": 10, "length": 8}
    whole = (await staff.post("/api/batches/words", json=wish)).json()
    assert "cannot tell devices apart" not in whole["text"]
    await garden.speak(garden.point.habits, arrives=Arrives.APPENDED)
    said = (await staff.post("/api/batches/words", json=wish)).json()
    assert "access devices, where the page cannot tell devices apart, with a chance of 1 in " in said["text"]
    assert said["shortest"] > whole["shortest"]


@pytest.mark.parametrize("length", [6, 8, 13, 14])
async def test_a_code_of_another_length_lets_somebody_in(
    garden: Garden, staff: httpx.AsyncClient, length: int
) -> None:
    wish = {"plan": DAY_VISIT, "count": 1, "length": length}
    code = (await staff.post("/api/batches", json=wish)).json()["issued"][0]["code"]
    await garden.let_in(garden.guests[0], code)
    await garden.until_state(garden.guests[0], State.INSIDE)


async def test_a_returning_guest_is_offered_what_they_had(staff: httpx.AsyncClient) -> None:
    for plan, label in ((COURSE_WEEK, "Ines Harwood"), (DAY_VISIT, "Ines Harwood"), (DAY_VISIT, "Jonas")):
        await staff.post("/api/passes", json={"plan": plan, "label": label})
    found = (await staff.get("/api/desk/known?name=iNES")).json()
    assert [(one["label"], one["plan_name"], one["way"]) for one in found] == [
        ("Ines Harwood", "Day visit", "guest_pass")
    ]
    assert (await staff.get("/api/desk/known?name=%25")).status_code == 422
    assert (await staff.get("/api/desk/known?name=%25%25")).json() == []


async def test_the_sentence_says_what_it_comes_to_and_what_stands_against_it(
    staff: httpx.AsyncClient,
) -> None:
    wish = {"plan": DAY_VISIT, "seconds": 7200, "devices": 3, "seats": "ever", "network": 1}
    said = (await staff.post("/api/desk/words", json={**wish, "until": "2099-12-06T18:00"})).json()
    assert said["sentence"] == (
        "Up to 2 GB in all on 3 devices in all, and never another, for 2 h from first use; to be used within 90 days;"
        " good until Sun 6 Dec, 18:00; on Garden alone."
    )
    assert said["field"] is None
    past = (await staff.post("/api/desk/words", json={**wish, "until": "2001-01-01T00:00"})).json()
    assert (past["field"], past["mend"]) == ("until", "That moment is over already.")


async def test_what_cannot_work_is_said_before(staff: httpx.AsyncClient) -> None:
    assert (await staff.get("/api/desk")).json()["cannot"] == []
    await staff.post("/api/networks/1/pause", json={"until": None, "why": "", "ends_stays": False})
    (one,) = (await staff.get("/api/desk")).json()["cannot"]
    assert (one["about"], one["id"], one["text"]) == (
        "network", 1, "Garden is paused: nobody gets in there.",
    )  # fmt: skip


async def test_what_ends_soon_is_who_is_in_and_ends_by_the_clock(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    codes = []
    for seconds in (3600, 4 * 3600):
        wish = {"plan": DAY_VISIT, "count": 1, "seconds": seconds}
        codes.append((await staff.post("/api/batches", json=wish)).json()["issued"][0]["code"])
    for guest, code in zip(garden.guests, codes, strict=False):
        await garden.let_in(guest, code)
        await garden.until_state(guest, State.INSIDE)
    ending = (await staff.get("/api/desk/ending")).json()
    assert [one["code"] for one in ending] == codes[:1]


async def test_a_selection_is_acted_on_each_by_itself(staff: httpx.AsyncClient) -> None:
    made = (await staff.post("/api/batches", json={"plan": DAY_VISIT, "count": 3})).json()["issued"]
    ids = [one["id"] for one in made]
    await staff.post(f"/api/issued/{ids[0]}/withdraw")
    done = (
        await staff.post("/api/issued/acts", json={"what": "pause", "issued": [*ids, ids[1], 999_999]})
    ).json()
    assert [one["id"] for one in done["done"]] == ids[1:]
    assert {one["issued"] for one in done["refused"]} == {ids[0], 999_999}
    renewed = (await staff.post("/api/issued/acts", json={"what": "new-code", "issued": ids[1:]})).json()
    assert len({one["code"] for one in made} & {one["code"] for one in renewed["done"]}) == 0
    nothing = await staff.post("/api/issued/acts", json={"what": "send-again", "issued": ids[1:2]})
    assert "never sent" in nothing.json()["refused"][0]["text"]
    without = await staff.post("/api/issued/acts", json={"what": "give-time", "issued": ids[1:2]})
    assert without.json()["refused"][0]["text"] == "Say how long."


async def test_what_was_so_before_is_not_done_so_that_nobody_undoes_what_another_did(
    staff: httpx.AsyncClient,
) -> None:
    made = (await staff.post("/api/batches", json={"plan": DAY_VISIT, "count": 2})).json()["issued"]
    ids = [one["id"] for one in made]
    texts = {
        "pause": "It was paused before.", "resume": "It is not paused.",
        "withdraw": "It was withdrawn before.", "restore": "It is not withdrawn.",
    }  # fmt: skip
    for what, text in texts.items():
        first = (await staff.post("/api/issued/acts", json={"what": what, "issued": ids[:1]})).json()
        again = (await staff.post("/api/issued/acts", json={"what": what, "issued": ids})).json()
        assert ([one["id"] for one in first["done"]], first["refused"]) == (ids[:1], [])
        assert [one["id"] for one in again["done"]] == ids[1:]
        assert [one["text"] for one in again["refused"]] == [text]


async def test_what_shorten_took_is_given_back(garden: Garden, staff: httpx.AsyncClient) -> None:
    (made,) = (await staff.post("/api/batches", json={"plan": DAY_VISIT, "count": 1})).json()["issued"]
    act = {"issued": [made["id"]], "seconds": 31 * 86_400}
    less = (await staff.post("/api/issued/acts", json={"what": "shorten", **act})).json()
    assert [list(one["seconds"].values()) for one in less["taken"]] == [[8 * 3600]]
    assert less["done"][0]["state"] == "used_up"
    twice = (await staff.post("/api/issued/acts", json={"what": "shorten", **act})).json()
    assert twice["refused"][0]["text"] == "Its time is over already."
    back = {"what": "give-back", "issued": [made["id"]]}
    assert (await staff.post("/api/issued/acts", json=back)).json()["done"] == []
    given = (await staff.post("/api/issued/acts", json={**back, "taken": less["taken"]})).json()
    assert [one["state"] for one in given["done"]] == ["fresh"]


async def test_the_days_csv_has_takings_and_defused_texts(garden: Garden, staff: httpx.AsyncClient) -> None:
    wish = {"plan": DAY_VISIT, "count": 1, "label": "=1+1", "price": 350, "note": "@cash"}
    code = (await staff.post("/api/batches", json=wish)).json()["issued"][0]["code"]
    await garden.let_in(garden.guests[0], code)
    head, line = list(csv.reader(io.StringIO((await staff.get("/api/desk.csv")).text)))[:2]
    assert head[:2] == ["for", "code"]
    assert (line[0], line[8:11], line[-1]) == ("'=1+1", ["3.50", "1", "3.50"], "'@cash")
