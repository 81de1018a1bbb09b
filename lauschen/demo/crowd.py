"""Simulated guests: they join, meet the page, type codes rightly and wrongly, use the net, and leave.

All of it goes through real RADIUS and real HTTP. The same seed brings the same crowd.
"""

import asyncio
import random
import re
import ssl
from dataclasses import dataclass
from typing import Protocol

import httpx
import structlog

from lauschen.core.words.codes import CODE_COUNT, make_code
from lauschen.demo.site import FIRST_NAMES, LAST_NAMES
from lauschen.road.clock import Clock
from lauschen.standins.access_device.device import AccessPoint, Phone
from lauschen.standins.access_device.proxy import PhoneProxy

FIRST_STOP = "http://score-of-the-day.example/"
_FORM = re.compile(r'action="(/visit/[^"]+/(?:by/)?([\w-]+))"(.*?)</form>', re.DOTALL)
_TUTORS = re.compile(r'<option value="(\d+)"')
REASONS = ("lesson at four", "page-turner for tonight", "visiting a student", "tuning the grand piano")
_HIDDEN = re.compile(r'name="(\w+)" value="(\w*)"')
NO_TLS = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
"""Guests browse in plain HTTP: reading all authorities for each would hold the loop for a tenth of a second."""
logger = structlog.get_logger()


@dataclass(frozen=True, slots=True)
class Temper:
    """What kind of guest this is; the weights add up to a lively garden."""

    name: str
    weight: int


TEMPERS = (
    Temper("goes_in", 60),
    Temper("slips_then_in", 10),
    Temper("greedy", 6),
    Temper("lost_code", 14),
    Temper("never_opens", 7),
    Temper("guesses", 3),
)


class House(Protocol):
    """What the house hands out."""

    async def take_code(self, plan_name: str) -> str: ...
    async def take_pass(self, chance: random.Random) -> str: ...
    async def take_account(self, chance: random.Random) -> tuple[str, str]: ...
    def passcode(self) -> str: ...
    async def answer_as_host(self, chance: random.Random) -> None: ...


class Crowd:
    """About twenty phones; each visit is a task of its own."""

    def __init__(
        self,
        seed: int,
        clock: Clock,
        phones: list[tuple[AccessPoint, Phone, PhoneProxy]],
        house: House,
    ) -> None:
        self._random = random.Random(seed)
        self._clock = clock
        self._phones = phones
        self._house = house

    async def run(self) -> None:
        """One arrival every few seconds; who left comes again later."""
        async with asyncio.TaskGroup() as group:
            for place in self._phones:
                group.create_task(self._come_and_go(*place, random.Random(self._random.random())))
                await self._clock.sleep(self._random.uniform(2.0, 5.0))

    async def _come_and_go(
        self, point: AccessPoint, phone: Phone, proxy: PhoneProxy, chance: random.Random
    ) -> None:
        while True:
            temper = chance.choices(TEMPERS, [t.weight for t in TEMPERS])[0].name
            try:
                await self._visit(point, phone, proxy, temper, chance)
            except (httpx.HTTPError, OSError) as exc:
                logger.info("crowd", temper=temper, error=str(exc))
            await self._clock.sleep(chance.uniform(15, 120))

    async def _visit(
        self, point: AccessPoint, phone: Phone, proxy: PhoneProxy, temper: str, chance: random.Random
    ) -> None:
        if not await point.join(phone):
            return
        await self._clock.sleep(chance.uniform(1, 6))
        transport = httpx.AsyncHTTPTransport(proxy=f"http://127.0.0.1:{proxy.port}", verify=NO_TLS)
        async with httpx.AsyncClient(transport=transport, follow_redirects=True, timeout=10) as browser:
            if temper == "never_opens":
                await self._clock.sleep(chance.uniform(60, 240))
            else:
                await self._at_page(browser, point, temper, chance)
                await self._use(browser, point, phone, temper, chance)
        await point.leave(phone)

    async def _at_page(
        self, browser: httpx.AsyncClient, point: AccessPoint, temper: str, chance: random.Random
    ) -> None:
        page = (await browser.get(FIRST_STOP)).text
        await self._clock.sleep(chance.uniform(2, 15))
        if temper == "lost_code":
            await self._clock.sleep(chance.uniform(30, 300))
        if temper == "guesses":
            for _ in range(6):
                page = await self._type(browser, page, _made_up(chance))
                await self._clock.sleep(chance.uniform(1, 4))
            return
        if "/by/click_through" in page:
            await self._come_for_a_course(browser, page, chance)
            return
        if point.is_wired:
            await self._come_to_practise(browser, page, chance)
            return
        code = await self._house.take_code("Postcard" if temper == "greedy" else "Day visit")
        if temper == "slips_then_in":
            page = await self._type(browser, page, code[:4] + chance.choice("ACDE") + code[5:])
            await self._clock.sleep(chance.uniform(2, 6))
        await self._type(browser, page, code)

    async def _come_for_a_course(self, browser: httpx.AsyncClient, page: str, chance: random.Random) -> None:
        """Students have a guest pass, tutors an account; whoever looks in agrees to the house rules."""
        what = chance.random()
        if what < 0.4:
            await self._type(browser, page, await self._house.take_pass(chance))
        elif what < 0.65:
            name, password = await self._house.take_account(chance)
            await self._send(browser, page, "login", {"name": name, "password": password})
        elif what < 0.85:
            await self._send(browser, page, "click_through", {})
        else:
            await self._ask_a_tutor(browser, page, chance)

    async def _ask_a_tutor(self, browser: httpx.AsyncClient, page: str, chance: random.Random) -> None:
        """Three of four tutors answer within a minute."""
        tutors = _TUTORS.findall(page)
        if not tutors:
            return
        name = f"{chance.choice(FIRST_NAMES)} {chance.choice(LAST_NAMES)}"
        typed = {"name": name, "host": chance.choice(tutors), "reason": chance.choice(REASONS)}
        await self._send(browser, page, "ask-host", typed)
        await self._clock.sleep(chance.uniform(8, 60))
        if chance.random() < 0.75:
            await self._house.answer_as_host(chance)

    async def _come_to_practise(self, browser: httpx.AsyncClient, page: str, chance: random.Random) -> None:
        """Tutors have an account; whoever booked the room reads the passcode on its door."""
        if chance.random() < 0.3:
            name, password = await self._house.take_account(chance)
            await self._send(browser, page, "login", {"name": name, "password": password})
        else:
            await self._type(browser, page, self._house.passcode())

    async def _type(self, browser: httpx.AsyncClient, page: str, code: str) -> str:
        return await self._send(browser, page, "code", {"code": code})

    async def _send(self, browser: httpx.AsyncClient, page: str, form: str, typed: dict[str, str]) -> str:
        """Sends a form of the page with what was typed into it."""
        found = next((one for one in _FORM.finditer(page) if one[2] == form), None)
        if found is None:
            return page  # already in, held by a bar, or the page has lost the device
        path, _, fields = found.groups()
        url = f"http://welcome.hollerau.example{path}"
        headers = {"Origin": "http://welcome.hollerau.example"}
        sent = {**dict(_HIDDEN.findall(fields)), **typed}
        return (await browser.post(url, data=sent, headers=headers)).text

    async def _use(
        self, browser: httpx.AsyncClient, point: AccessPoint, phone: Phone, temper: str, chance: random.Random
    ) -> None:
        for _ in range(chance.randint(3, 14)):
            await self._clock.sleep(chance.uniform(5, 25))
            size = (
                chance.randint(900_000, 2_500_000) if temper == "greedy" else chance.randint(20_000, 900_000)
            )
            await browser.get(f"http://big-files.example/bytes/{size}", follow_redirects=False)
            if chance.random() < 0.5:
                await point.report_now(phone)


def _made_up(chance: random.Random) -> str:
    """A code whose check holds but that nobody issued."""
    return make_code(chance.randrange(CODE_COUNT))
