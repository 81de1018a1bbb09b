"""The whole story in Chromium, through a phone's proxy; the phone's browser runs no script at all."""

import re

from playwright.sync_api import Browser, Page, expect

from tests.e2e.conftest import RunningDemo

FIRST_STOP = "http://score-of-the-day.example/"


def type_code(page: Page, code: str) -> None:
    page.get_by_label("Code from your slip").fill(code)
    page.get_by_role("button", name="Get online").click()


def test_from_the_door_to_held_and_back(demo: RunningDemo, phone: Page, desk: Page) -> None:
    day_visit, postcard = demo.codes[0], demo.codes[4]
    phone.goto(FIRST_STOP)
    expect(phone).to_have_url(re.compile(r"http://welcome\.hollerau\.example/visit/.+"))
    expect(phone.get_by_text("You are connected to Hollerau Garden")).to_be_visible()

    slip = postcard[:-1] + ("A" if postcard[-1] != "A" else "C")
    type_code(phone, slip)
    expect(phone.get_by_role("alert")).to_contain_text("typing mistake")
    expect(phone.get_by_label("Code from your slip")).to_have_value(slip)

    type_code(phone, f"{postcard[:5]}-{postcard[5:]}".lower())
    expect(phone.get_by_role("heading", name="You are online.")).to_be_visible()
    expect(phone.get_by_text("4.99 MB left").or_(phone.get_by_text("5 MB left"))).to_be_visible()
    phone.get_by_role("link", name="Continue to score-of-the-day.example").click()
    expect(phone.get_by_role("heading", name="Score of the day")).to_be_visible()

    desk.get_by_role("link", name="Guests").click()
    expect(desk.get_by_role("row", name=re.compile("inside as Visitor.*Postcard"))).to_be_visible()

    assert demo.download(0, 6_000_000) == 6_000_000
    demo.control_post("/phones/1/report")
    demo.control_post("/phones/1/until/doorstep")
    phone.goto(FIRST_STOP)
    expect(phone.get_by_role("heading", name="Your access has ended")).to_be_visible()
    expect(phone.get_by_text("Your data has run out")).to_be_visible()
    row = desk.get_by_role("row", name=re.compile("held.*Postcard"))
    expect(row).to_be_visible()
    row.click()
    dossier = desk.get_by_role("complementary")
    expect(dossier.get_by_text("the data is used up, so the stay ended")).to_be_visible()

    type_code(phone, day_visit)
    expect(phone.get_by_role("heading", name="You are online.")).to_be_visible()
    dossier.get_by_role("button", name="End stay").click()
    demo.control_post("/phones/1/until/doorstep")
    expect(dossier.get_by_text(re.compile("^at the door"))).to_be_visible()
    expect(dossier.get_by_text("gatehouse ended the stay")).to_be_visible()
    phone.goto(FIRST_STOP)
    expect(phone.get_by_text("The desk disconnected you")).to_be_visible()


def test_wrong_codes_stop_the_typing_and_the_desk_lets_try_again(
    demo: RunningDemo, phone: Page, desk: Page
) -> None:
    from lauschen.core.words.codes import make_code

    phone.goto(FIRST_STOP)
    for number in range(5):
        demo.control_post("/clock/advance/1")
        type_code(phone, make_code(number))
    expect(phone.get_by_role("alert")).to_contain_text("You can try again from")
    desk.get_by_role("link", name="Guests").click()
    desk.get_by_role("row", name=re.compile("at the door no typing")).click()
    desk.get_by_role("button", name="Let try again").click()
    expect(
        desk.get_by_role("complementary").get_by_text(re.compile("let this device try again"))
    ).to_be_visible()
    phone.reload()
    phone.goto(FIRST_STOP)
    type_code(phone, demo.codes[0])
    expect(phone.get_by_role("heading", name="You are online.")).to_be_visible()


def test_ten_codes_take_one_gesture_and_one_of_them_works(demo: RunningDemo, phone: Page, desk: Page) -> None:
    desk.keyboard.press("n")
    desk.get_by_role("button", name="Issue 10").click()
    codes = desk.locator("td.code")
    expect(codes).to_have_count(10)
    code = codes.first.inner_text()
    expect(desk.get_by_role("button", name="Print 10 slips")).to_be_visible()
    expect(desk.get_by_role("img", name="The first of the slips")).to_have_js_property("complete", True)
    phone.goto(f"http://slip.hollerau.example/{code.replace('-', '')}")
    expect(phone.get_by_label("Code from your slip")).to_have_value(code)
    phone.get_by_role("button", name="Get online").click()
    expect(phone.get_by_role("heading", name="You are online.")).to_be_visible()
    expect(desk.get_by_text("running on 1 device")).to_be_visible()
    desk.get_by_label(f"Pick {code}").check()
    desk.get_by_role("button", name="Withdraw").click()
    demo.control_post("/phones/1/until/doorstep")
    phone.goto(FIRST_STOP)
    expect(phone.get_by_text("Your access has been cancelled")).to_be_visible()


def test_logging_out_frees_the_code_for_another_phone(
    demo: RunningDemo, phone: Page, second_phone: Page
) -> None:
    code = demo.codes[0]
    phone.goto(FIRST_STOP)
    type_code(phone, code)
    expect(phone.get_by_role("heading", name="You are online.")).to_be_visible()
    second_phone.goto(FIRST_STOP)
    type_code(second_phone, code)
    expect(second_phone.get_by_role("alert")).to_contain_text("in use on its maximum number of devices")
    phone.get_by_role("button", name="Log out").click()
    expect(phone.get_by_text("You are logged out")).to_be_visible()
    type_code(second_phone, code)
    expect(second_phone.get_by_role("heading", name="You are online.")).to_be_visible()


def test_the_page_speaks_german_and_keeps_to_it(phone: Page) -> None:
    phone.goto(FIRST_STOP)
    phone.get_by_role("link", name="Deutsch").click()
    phone.get_by_label("Code von Ihrem Beleg").fill("K7TRQ")
    phone.get_by_role("button", name="Weiter").click()
    expect(phone.get_by_role("alert")).to_contain_text("Dieser Code ist zu kurz")


def test_silence_is_shown_on_now_and_sent_again(demo: RunningDemo, phone: Page, desk: Page) -> None:
    phone.goto(FIRST_STOP)
    type_code(phone, demo.codes[0])
    expect(phone.get_by_role("heading", name="You are online.")).to_be_visible()
    demo.control_post("/answer/nak")
    desk.get_by_role("link", name="1 Visitor").click()
    desk.get_by_role("row", name=re.compile("inside as Visitor")).click()
    desk.get_by_role("button", name="End stay").click()
    expect(
        desk.get_by_role("complementary").get_by_text("Not confirmed by Garden west (refused")
    ).to_be_visible()
    desk.get_by_role("link", name="Now", exact=True).click()
    expect(desk.get_by_text("was asked to end the stay of device")).to_be_visible()
    demo.control_post("/answer/normal")
    desk.get_by_role("button", name="Send again").click()
    demo.control_post("/phones/1/until/doorstep")
    expect(desk.get_by_text("was asked to end the stay of device")).to_have_count(0)


def test_every_room_by_keyboard_and_the_log(desk: Page) -> None:
    desk.keyboard.press("/")
    expect(desk.get_by_label("Find a guest")).to_be_focused()
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("row", name=re.compile("at the door")).first).to_be_visible()
    desk.keyboard.press("j")
    expect(desk.get_by_role("complementary")).to_be_visible()
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("complementary")).to_have_count(0)
    desk.keyboard.press("l")
    log = desk.get_by_role("region", name="Log")
    log.get_by_role("button", name=re.compile("at the door")).first.click()
    expect(
        log.get_by_text(
            re.compile("recognised as .*, because (the SSID is Hollerau|it is about wired)")
        ).first
    ).to_be_visible()
    desk.keyboard.press("Escape")
    desk.keyboard.press("?")
    expect(desk.get_by_text("next and previous guest")).to_be_visible()


def test_agreeing_to_the_house_rules_lets_a_guest_in_on_the_second_network(
    browser: Browser, demo: RunningDemo, desk: Page
) -> None:
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, locale="de-AT", java_script_enabled=False,
        proxy={"server": f"http://127.0.0.1:{demo.proxies[4]}"},
    )  # fmt: skip
    page = context.new_page()
    page.goto(FIRST_STOP)
    expect(page.get_by_role("heading", name="Hausordnung", exact=True)).to_be_hidden()  # one tap away
    page.get_by_label("Ihr Code").fill("<b>viola d'amore")
    page.get_by_role("button", name="Weiter", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("Dieser Code ist ungültig")
    expect(page.get_by_label("Ihr Code")).to_have_value("<b>viola d'amore")
    page.get_by_text("Der Hausordnung zustimmen").click()
    expect(page.get_by_label("Ihr Code")).to_be_hidden()
    expect(page.get_by_role("heading", name="Hausordnung", exact=True)).to_be_visible()
    expect(page.get_by_text("große Downloads für die Nacht")).to_be_visible()
    page.get_by_role("button", name="Zustimmen und weiter").click()
    expect(page.get_by_role("heading", name="Sie sind online.")).to_be_visible()
    desk.get_by_role("link", name="Guests").click()
    desk.get_by_role("row", name=re.compile("inside as Student")).click()
    dossier = desk.get_by_role("complementary")
    expect(dossier.get_by_role("heading", name="In by Intermission, click-through")).to_be_visible()
    expect(dossier.get_by_text(re.compile("^Logged in on the page")).first).to_be_visible()
    dossier.get_by_role("button", name="Give time").click()
    desk.get_by_role("listitem").filter(has_text="30 min").click()
    expect(dossier.get_by_text("gatehouse added 30 min")).to_be_visible()
    page.get_by_role("button", name="Abmelden").click()
    page.get_by_text("Der Hausordnung zustimmen").click()
    expect(page.get_by_role("button", name="Zustimmen und weiter")).to_be_visible()
    context.close()
