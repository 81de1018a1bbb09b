"""The guest page at 320 pixels, with the longest names that a house and a guest's target can have."""

from dataclasses import replace

import pytest
from playwright.sync_api import Browser

from lauschen.portal.own_devices import OtherDevice, OwnDevices
from lauschen.portal.page import Onward, Page, render
from lauschen.portal.parts import LastStep, LogOut, NewPassword, OnceMore
from lauschen.portal.ways.click_through import RulesPart
from lauschen.portal.ways.code import CodePart
from lauschen.portal.ways.login import LoginPart
from lauschen.portal.words import catalogue
from lauschen.sentences.catalogue import LANGUAGES
from tests.e2e.test_views import overflow
from tests.place import Place

LONGEST_SSID = "W" * 32
LONGEST_HOST = "w" * 40 + ".example"


def whole_page(place: Place, lang: str, **more: object) -> str:
    """A page with every part that it can have, each as wide as it can get."""
    words = catalogue(lang)
    page = Page(
        lang,
        "W" * 40,
        heading=words["look_title"],
        notes=[words["other_device"], words["other_host"].format(page=f"http://{LONGEST_HOST}")],
        other_lang="de" if lang == "en" else "en",
        network=LONGEST_SSID,
        fault=f"{words['in_by_other']} {LONGEST_SSID}",
        until=words["inside_until"].format(until="Wed 30 September, 23:59"),
        left=[LONGEST_SSID],
        going=Onward(f"http://{LONGEST_HOST}/", LONGEST_HOST),
        parts=[
            CodePart("W" * 40, looks=True, takes_words=True, is_on_paper=True),
            RulesPart(("W" * 90, words["other_device"]), 1, lang, None),
            RulesPart(("W" * 90,), 1, lang, words["agree_again_at"].format(time="Wed 30 September, 23:59")),
            OnceMore(),
            LastStep("http://login.example/", []),
            LogOut(),
            LoginPart("W" * 60, looks=True),
            NewPassword("W" * 60, is_open=True),
            OwnDevices(
                words["devices_ever"].format(count=3, of=999),
                [
                    OtherDevice(
                        "0-1",
                        words["device_here"].format(device="W" * 9, network="W" * 32, since="12:00"),
                        True,
                    ),
                    OtherDevice(
                        "0-1", words["device_away"].format(device="W" * 9, since="Wed 30 September"), False
                    ),
                ],
                words["devices_how"],
            ),
        ],
        small=[words["private_address"]],
        facts=[(words["foot_device"], "02-00-00-AA-BB-01"), (words["foot_answer"], LONGEST_SSID)],
    )
    return render(replace(page, **more))  # type: ignore[arg-type]


@pytest.mark.parametrize("width", [320, 390])
@pytest.mark.parametrize("lang", LANGUAGES)
def test_no_name_makes_a_page_wider_than_the_screen(
    browser: Browser, place: Place, lang: str, width: int
) -> None:
    context = browser.new_context(viewport={"width": width, "height": 700}, java_script_enabled=True)
    page = context.new_page()
    for more in (
        {}, {"heading": "W" * 40}, {"fault": "W" * 300}, {"notes": [f"http://{'w' * 200}/"]},
    ):  # fmt: skip
        page.set_content(whole_page(place, lang, **more))
        assert overflow(page) <= 0, more
    assert len(whole_page(place, lang).encode()) < 30_000  # all parts at once, with the style
    page.set_content("<p>" + "w" * 90)  # the measure itself
    assert overflow(page) > 0
    context.close()
