"""The guest page at 320 pixels, with the longest names that a house and a guest's target can have."""

import pytest
from playwright.sync_api import Browser

from lauschen.portal.app import Portal
from lauschen.portal.views import View, _empty
from lauschen.portal.words import LANGUAGES, catalogue
from tests.e2e.test_views import overflow
from tests.place import Place

LONGEST_SSID = "W" * 32
LONGEST_HOST = "w" * 40 + ".example"


def whole_page(place: Place, lang: str, **more: object) -> str:
    """A page with every part that it can have, each as wide as it can get."""
    words = catalogue(lang)
    values = _empty(place.house, lang) | {
        "title": "x",
        "site": "W" * 40,
        "other_lang": "de" if lang == "en" else "en",
        "heading": words["look_title"],
        "network": LONGEST_SSID,
        "fault": f"{words['in_by_other']} {LONGEST_SSID}",
        "notes": [words["other_device"], words["other_host"].format(page=f"http://{LONGEST_HOST}")],
        "until": words["inside_until"].format(until="Wed 30 September, 23:59"),
        "left": [LONGEST_SSID],
        "going": f"http://{LONGEST_HOST}/",
        "going_host": LONGEST_HOST,
        "asks_code": True,
        "code_title": words["look_title"],
        "code_button": words["look_button"],
        "code": "W" * 40,
        "asks_again": True,
        "last_step": {"url": "http://login.example/", "fields": []},
        "may_log_out": True,
        "facts": [(words["foot_device"], "02-00-00-AA-BB-01"), (words["foot_answer"], LONGEST_SSID)],
        **more,
    }
    return bytes(Portal._page(View(values)).body).decode()


@pytest.mark.parametrize("width", [320, 390])
@pytest.mark.parametrize("lang", LANGUAGES)
def test_no_name_makes_a_page_wider_than_the_screen(
    browser: Browser, place: Place, lang: str, width: int
) -> None:
    context = browser.new_context(viewport={"width": width, "height": 700}, java_script_enabled=True)
    page = context.new_page()
    for more in ({}, {"heading": "W" * 40}, {"fault": "W" * 300}, {"notes": [f"http://{'w' * 200}/"]}):
        page.set_content(whole_page(place, lang, **more))
        assert overflow(page) <= 0, more
    page.set_content("<p>" + "w" * 90)  # the measure itself
    assert overflow(page) > 0
    context.close()
