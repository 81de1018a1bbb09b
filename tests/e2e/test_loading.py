"""Each room says when it is not read yet, and when it could not be read; what goes wrong is brought into view."""

import json
import urllib.request
from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, Route, expect

from tests.e2e.conftest import RunningDemo
from tests.e2e.test_views import console

ROOMS = {
    "desk": "/api/desk",
    "guests": "/api/guests?",
    "passphrases": "/api/passphrases?",
    "networks": "/api/networks",
    "rules": "/api/rules",
    "board": "/api/desk",
    "settings?part=channels": "/api/settings",
    "settings?part=hosts": "/api/hosts",
    "settings?part=outbox": "/api/messages",
    "settings?part=slips": "/api/slips",
    "settings?part=privacy": "/api/privacy",
    "settings?part=people": "/api/people",
    "settings?part=programs": "/api/programs",
    "settings?part=activity": "/api/activity",
    "you": "/api/own/sessions",
    "now": "/api/log",
}
"""Rooms, and what each of them is read from."""
SAYS = {
    "desk": "Today and yesterday",
    "guests": "Cloister attic",
    "passphrases": "Aiko Rosenau",
    "networks": "Access devices",
    "rules": "Day visit",
    "board": "until",
    "settings?part=channels": "Mail leaves by",
    "settings?part=hosts": "Ada Lindqvist",
    "settings?part=outbox": "Nothing was sent yet",
    "settings?part=slips": "Usual paper",
    "settings?part=privacy": "Privacy notice",
    "settings?part=people": "gatehouse",
    "settings?part=programs": "None yet",
    "settings?part=activity": "signed in",
    "you": "this one",
    "now": "signed in",
}
"""Something that stands there once it is read."""


NO_ANSWER = "Lauschen does not answer"


class Wire:
    """Between the browser and the server: lets calls through, holds them back, or cuts them."""

    def __init__(self, page: Page) -> None:
        self.path, self.is_cut = "", False
        self._held: list[Route] = []
        page.route("**/api/**", self._take)

    def _take(self, route: Route) -> None:
        if not self.path or self.path not in f"{route.request.url}?":
            route.fallback()
        elif self.is_cut:
            route.abort()
        else:
            self._held.append(route)

    def hold(self, path: str) -> None:
        self.path, self.is_cut = path, False

    def cut(self, path: str) -> None:
        self.path, self.is_cut = path, True

    def mend(self) -> None:
        self.path = ""
        for route in self._held:
            route.continue_()
        self._held.clear()


@pytest.fixture
def page(browser: Browser, demo: RunningDemo) -> Iterator[Page]:
    made = console(browser, demo, "day")
    yield made
    made.context.close()


def test_each_room_says_that_it_is_loading_and_claims_nothing_before(page: Page, demo: RunningDemo) -> None:
    wire = Wire(page)
    for room, path in ROOMS.items():
        wire.hold(path)
        page.goto(f"http://127.0.0.1:{demo.staff}/{room}")
        expect(page.get_by_role("status").filter(has_text="Loading…").first, room).to_be_visible()
        expect(page.locator(".empty"), room).to_have_count(0)
        assert not [text for text in page.locator("main").all_inner_texts() if " 0 " in f" {text} "], room
        wire.mend()
        expect(page.locator("main"), room).to_contain_text(SAYS[room])
        expect(page.get_by_text("Loading…"), room).to_have_count(0)


def test_each_room_says_that_it_could_not_be_read_and_tries_again(page: Page, demo: RunningDemo) -> None:
    wire = Wire(page)
    page.route("**/api/feed", lambda route: route.abort())  # what is heard would read the room again
    for room, path in ROOMS.items():
        wire.cut(path)
        page.goto(f"http://127.0.0.1:{demo.staff}/{room}")
        expect(page.get_by_role("alert").filter(has_text=NO_ANSWER).first, room).to_be_visible()
        expect(page.locator(".empty"), room).to_have_count(0)
        wire.mend()
        page.get_by_role("button", name="Try again").first.click()
        expect(page.locator("main"), room).to_contain_text(SAYS[room])
        expect(page.get_by_role("button", name="Try again"), room).to_have_count(0)


def test_what_was_read_stays_while_it_cannot_be_read_again(page: Page, demo: RunningDemo) -> None:
    page.get_by_role("link", name="Networks", exact=True).click()
    expect(page.locator("main")).to_contain_text(SAYS["networks"])
    wire = Wire(page)
    wire.cut("/api/networks")
    sign_in_elsewhere(demo)  # something is heard, and the room is read again
    expect(page.get_by_text("What you see is from")).to_be_visible()
    expect(page.locator("main")).to_contain_text(SAYS["networks"])
    wire.mend()
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_text("What you see is from")).to_have_count(0)


def sign_in_elsewhere(demo: RunningDemo) -> None:
    said = json.dumps({"name": demo.name, "password": demo.password}).encode()
    url, headers = f"http://127.0.0.1:{demo.staff}/api/session", {"Content-Type": "application/json"}
    with urllib.request.urlopen(urllib.request.Request(url, said, headers)) as answer:
        assert answer.status == 200


def test_an_error_in_a_long_form_is_brought_into_view_and_focused(page: Page, demo: RunningDemo) -> None:
    page.goto(f"http://127.0.0.1:{demo.staff}/networks?edit=dialect")
    form = page.get_by_role("form", name="Dialect")
    name = form.get_by_label("Name", exact=True)
    name.fill("Attic points")  # there is one of that name
    form.get_by_role("button", name="Add dialect").click()
    expect(name).to_be_in_viewport()
    expect(name).to_be_focused()


def test_an_error_about_a_field_that_is_not_there_is_said_by_the_note(page: Page, demo: RunningDemo) -> None:
    page.goto(f"http://127.0.0.1:{demo.staff}/networks?edit=role")
    said = {"code": "odd", "title": "That is odd", "detail": "The moon is full.", "field": "moon"}
    page.route("**/api/roles", lambda route: route.fulfill(status=422, json=said))
    form = page.get_by_role("form", name="A new role")
    form.get_by_label("Name", exact=True).fill("Moonlight")
    form.get_by_role("button", name="Add role").click()
    note = form.get_by_role("alert").filter(has_text="That is odd. The moon is full.")
    expect(note).to_be_in_viewport()


def test_the_list_for_spreadsheets_is_of_those_who_are_shown(page: Page, demo: RunningDemo) -> None:
    page.goto(f"http://127.0.0.1:{demo.staff}/guests?state=inside")
    link = page.get_by_role("link", name="As CSV")
    expect(link).to_have_attribute("href", "/api/guests.csv?sort=since&down=true&state=inside")
    page.get_by_label("Find a guest").fill("Room 7 & 8")
    expect(link).to_have_attribute(
        "href", "/api/guests.csv?sort=since&down=true&find=Room+7+%26+8&state=inside"
    )
