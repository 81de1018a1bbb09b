"""Runs the demo: a real Lauschen, three stand-in access points, five free phones and a crowd, on loopback only."""

import asyncio
import json
import random
import tempfile
from dataclasses import dataclass, field
from pathlib import Path

import typer

from lauschen.acts.desk.accounts import issue_account
from lauschen.acts.desk.issuing import issue_vouchers
from lauschen.acts.desk.passes import issue_pass
from lauschen.acts.hosts.answering import Answer, answer_by_link, may_give
from lauschen.core.actor import HOST, person
from lauschen.core.config.dialect import KeysBy
from lauschen.core.ids import StaffId
from lauschen.core.limits.terms import Terms
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.sponsor import Sponsor
from lauschen.demo import large, site
from lauschen.demo.crowd import Crowd
from lauschen.demo.letters import Letters
from lauschen.demo.residents import settle
from lauschen.http.server import HttpServer, listen
from lauschen.road.clock import MovableClock
from lauschen.serve.collector import keep_away
from lauschen.serve.service import Options, Service, until_signalled
from lauschen.standins.access_device.control import Control
from lauschen.standins.access_device.device import AccessPoint, Phone
from lauschen.standins.access_device.keyed import KeyedAccessPoint
from lauschen.standins.access_device.proxy import PhoneProxy
from lauschen.store import credentials
from lauschen.store.accounts import NewPassword
from lauschen.store.batches import Said
from lauschen.store.hosts import questions, vouchings
from lauschen.store.keys import KEY_NAME

STAFF_PORT, PORTAL_PORT, CONTROL_PORT, LETTERBOX_PORT = 7700, 7701, 7702, 7703
AUTH_PORT, ACCT_PORT = 7712, 7713
FIRST_PROXY_PORT = 7721
FREE_PHONES = 6
CROWD_PHONES = 20
CODES_AT_ONCE = 10
TUTORS = 4


@dataclass
class Demo:
    """Everything that the demo started."""

    data: Path
    clock: MovableClock
    service: Service
    letters: Letters
    points: list[AccessPoint] = field(default_factory=list)
    cloister: list[KeyedAccessPoint] = field(default_factory=list)
    """Access points of the network of private passphrases."""
    phones: list[Phone] = field(default_factory=list)
    """Those that anybody may be: four for the Garden, one for the Ensemble, one plugged into a wall port."""
    joins: list[AccessPoint] = field(default_factory=list)
    """The access point of each of them."""
    proxies: list[PhoneProxy] = field(default_factory=list)
    crowd_phones: list[tuple[AccessPoint, Phone, PhoneProxy]] = field(default_factory=list)
    control_port: int = 0
    _control: HttpServer | None = None
    _codes: dict[str, list[str]] = field(default_factory=dict)
    _accounts: list[tuple[str, str]] = field(default_factory=list)

    async def close(self) -> None:
        for proxy in self.proxies:
            await proxy.close()
        for point in (*self.points, *self.cloister):
            await point.close()
        control = [] if self._control is None else [self._control.stop()]
        await asyncio.gather(self.service.close(), self.letters.close(), *control)

    async def start_control(self, port: int) -> None:
        (sock,) = listen(["127.0.0.1"], port)
        self.control_port = int(sock.getsockname()[1])
        self._control = HttpServer(
            Control(list(zip(self.joins, self.phones, strict=True)), self.clock).app(), [sock]
        )
        await self._control.begin()

    async def add_phone(self, point: AccessPoint, number: int, port: int) -> tuple[Phone, PhoneProxy]:
        mac = f"06-77-{0xA0 + number // 8:02X}-{(number * 37) % 256:02X}-{(number * 101 + 65) % 256:02X}-{number:02X}"
        phone = point.add_phone(mac, f"127.77.1.{number}")
        portal = ("127.0.0.1", self.service.ports["portal"])
        hosts = {site.PAGE_HOST: portal, site.SLIP_HOST: portal}
        proxy = PhoneProxy(point, phone, self.clock, hosts, {site.PAGE_HOST})
        await proxy.start(port)
        self.proxies.append(proxy)
        return phone, proxy

    async def take_code(self, plan_name: str) -> str:
        """A voucher from the desk's pile; a new pile is issued when it is empty."""
        pile = self._codes.setdefault(plan_name, [])
        if not pile:
            pile.extend(await self.issue(plan_name, CODES_AT_ONCE))
        return pile.pop(0)

    async def take_pass(self, chance: random.Random) -> str:
        """A guest pass for a student of the courses."""
        name = f"{chance.choice(site.FIRST_NAMES)} {chance.choice(site.LAST_NAMES)}"
        plan = next(p for p in self.service.road.config.plans.values() if p.name == "Course week")
        batch = await self.service.road.act(
            lambda tx: issue_pass(tx, said=Said(name), plan=plan.id), by=person(StaffId(1))
        )
        (issued,) = credentials.all_issued_of(self.service.reader, self.service.road.keys, batch)
        return issued.code

    def passcode(self) -> str:
        """Today's, as it hangs in the practice rooms."""
        config, keys = self.service.road.config, self.service.road.keys
        network = next(one.id for one in config.networks.values() if one.name == site.PRACTICE)
        return config.passcodes(network, keys.token_key, self.clock.now())[0].text

    async def answer_as_host(self, chance: random.Random) -> None:
        """One of those who wait is answered, as its host would by the link in the mail."""
        reader, keys = self.service.reader, self.service.road.keys
        for one in vouchings.waiting(reader, keys, 1):
            for question in questions.questions_of(reader, keys, one.id)[:1]:
                answer = Answer(None, "Please come to the desk.")
                if chance.random() < 0.85:
                    config = self.service.road.config
                    way = config.networks[one.network].way(WayIn.SPONSOR)
                    assert isinstance(way, Sponsor)
                    answer = Answer(chance.choice(may_give(config, way, question.person)).key)
                link = question.link
                await self.service.road.act(
                    lambda tx, link=link, answer=answer: answer_by_link(tx, link, answer),  # type: ignore[misc]
                    by=HOST,
                )

    async def take_account(self, chance: random.Random) -> tuple[str, str]:
        """Name and password of an account: of a tutor who has one, or a new one."""
        if len(self._accounts) >= TUTORS:
            return chance.choice(self._accounts)
        first, last = chance.choice(site.FIRST_NAMES), chance.choice(site.LAST_NAMES)
        name = f"{first}.{last}.{len(self._accounts) + 1}".lower()
        password = f"{last.lower()}-{chance.randrange(1000, 9999)}"
        hashed = await self.service.accounts.passwords.hash(password)
        plan = next(p for p in self.service.road.config.plans.values() if p.name == "Course week")
        await self.service.road.act(
            lambda tx: issue_account(
                tx,
                said=Said(f"{first} {last}"),
                name=name,
                password=NewPassword("", hashed=hashed),
                plan=plan.id,
                terms=Terms(devices=5),
            ),
            by=person(StaffId(1)),
        )
        self._accounts.append((name, password))
        return name, password

    async def issue(self, plan_name: str, count: int) -> list[str]:
        plan = next(p for p in self.service.road.config.plans.values() if p.name == plan_name)

        batch = await issue_vouchers(
            self.service.road,
            self.service.worker,
            self.service.options.data / KEY_NAME,
            plan=plan.id,
            size=count,
            said=Said("Gatehouse" if count > 1 else ""),
            by=person(StaffId(1)),
        )
        found = credentials.all_issued_of(self.service.reader, self.service.road.keys, batch)
        return [voucher.code for voucher in found]


async def start_demo(
    data: Path,
    clock: MovableClock,
    *,
    use_free_ports: bool,
    crowd_phones: int,
    past: large.Size | None = None,
) -> Demo:
    """Makes the site in `data`, with as much of a past, and starts everything but the crowd."""

    def port(usual: int) -> int:
        return 0 if use_free_ports else usual

    points = [
        AccessPoint(
            name=point.name,
            address=point.address,
            ssid=point.ssid,
            bssid=point.bssid,
            secret=site.SECRET,
            clock=clock,
        )
        for point in site.POINTS
    ]
    cloister = [
        KeyedAccessPoint(
            keys_by=keys_by,
            where=site.HANDSHAKES,
            name=point.name,
            address=point.address,
            ssid=point.ssid,
            bssid=point.bssid,
            secret=site.SECRET,
            clock=clock,
        )
        for point, keys_by in zip(site.CLOISTER_POINTS, (KeysBy.HANDSHAKE, KeysBy.MAC), strict=True)
    ]
    letters = Letters()
    outside = await letters.open(port(LETTERBOX_PORT))
    site.make_site(data, {point.name: point.radio.coa_port for point in (*points, *cloister)}, outside)
    if past is not None:
        large.fill(data, clock.now(), past)
    options = Options(
        data,
        ("127.0.0.1", port(STAFF_PORT)),
        ("127.0.0.1", port(PORTAL_PORT)),
        "127.0.0.1",
        port(AUTH_PORT),
        port(ACCT_PORT),
        warms_up=past is not None or not use_free_ports,
        reach=letters.reach,
    )
    service = Service(options, clock)
    await service.start()
    demo = Demo(data, clock, service, letters, points, cloister)
    for point in (*points, *cloister):
        point.start(auth=("127.0.0.1", service.ports["auth"]), acct=("127.0.0.1", service.ports["acct"]))
    garden, _, ensemble, practice = points
    for number, point in enumerate([garden] * 4 + [ensemble, practice], 1):
        phone, _ = await demo.add_phone(point, number, port(FIRST_PROXY_PORT + number - 1))
        demo.phones.append(phone)
        demo.joins.append(point)
    for number in range(FREE_PHONES + 1, FREE_PHONES + 1 + crowd_phones):
        point = points[number % len(points)]
        phone, proxy = await demo.add_phone(point, number, 0)
        demo.crowd_phones.append((point, phone, proxy))
    await demo.start_control(port(CONTROL_PORT))
    return demo


async def run_demo(
    *, crowd: bool, seed: int, use_free_ports: bool, say: Path | None, has_past: bool = False
) -> None:
    """Until Ctrl-C; nothing is left behind."""
    with tempfile.TemporaryDirectory(prefix="lauschen-demo-") as folder:
        clock = MovableClock()
        demo = await start_demo(
            Path(folder),
            clock,
            use_free_ports=use_free_ports,
            crowd_phones=CROWD_PHONES if crowd else 0,
            past=large.SUMMER if has_past else None,
        )
        people = asyncio.create_task(Crowd(seed, clock, demo.crowd_phones, demo).run())
        try:
            for point, phone in zip(demo.joins, demo.phones, strict=True):
                await point.join(phone)
            residents = await settle(demo.service, demo.cloister)
            keep_away()
            codes = await demo.issue("Day visit", 4) + await demo.issue("Postcard", 1)
            if say is not None:
                await asyncio.to_thread(say.write_text, json.dumps(_facts(demo, codes)))
            typer.echo(_how_to(demo, codes, len(residents)))
            await until_signalled()
        finally:
            people.cancel()
            await asyncio.gather(people, return_exceptions=True)
            await demo.close()


def _facts(demo: Demo, codes: list[str]) -> dict[str, object]:
    return {
        "staff": demo.service.ports["staff"],
        "portal": demo.service.ports["portal"],
        "auth": demo.service.ports["auth"],
        "control": demo.control_port,
        "proxies": [proxy.port for proxy in demo.proxies[:FREE_PHONES]],
        "name": site.STAFF_NAME,
        "password": site.STAFF_PASSWORD,
        "codes": codes,
        "letterbox": demo.letters.port,
    }


def _how_to(demo: Demo, codes: list[str], residents: int) -> str:
    proxies = [proxy.port for proxy in demo.proxies[:FREE_PHONES]]
    pretty = [f"{code[:5]}-{code[5:]}" for code in codes]
    browser = (
        f"chromium --proxy-server=http://127.0.0.1:{proxies[0]} --user-data-dir=$(mktemp -d)"
        " --no-first-run http://score-of-the-day.example/"
    )
    return "\n".join(
        [
            "",
            f"  Console    http://127.0.0.1:{demo.service.ports['staff']}/",
            f"             sign in as {site.STAFF_NAME} with {site.STAFF_PASSWORD}",
            "",
            f"  Be a guest: four phones have joined {site.SSID}; their proxies are on ports "
            f"{', '.join(map(str, proxies[:4]))}. A fifth, on {proxies[4]}, has joined {site.ENSEMBLE_SSID};",
            f"  a sixth, on {proxies[5]}, is plugged into a practice room: passcode {demo.passcode()}.",
            f"    {browser}    (as root: --no-sandbox too)",
            f"    curl -x http://127.0.0.1:{proxies[1]} -L http://score-of-the-day.example/",
            f"  {residents} devices have joined {site.CLOISTER_SSID}, each by a passphrase:",
            "  the room Passphrases has them.",
            f"  Codes for Day visit: {'  '.join(pretty[:4])}",
            f"  A code for Postcard (5 MB in all): {pretty[4]}",
            f"    curl -x http://127.0.0.1:{proxies[0]} -o /dev/null http://big-files.example/bytes/6000000",
            "",
            f"  Mails and text messages arrive at http://127.0.0.1:{demo.letters.port}/",
            "",
            f"  Stand-in control, for the curious: curl http://127.0.0.1:{demo.control_port}/state",
            f"    curl -X POST http://127.0.0.1:{demo.control_port}/phones/1/report     (count what it used, now)",
            f"    curl -X POST http://127.0.0.1:{demo.control_port}/clock/advance/3600  (an hour later)",
            f"    curl -X POST http://127.0.0.1:{demo.control_port}/answer/silence      (nak, normal)",
            "",
            "  Ctrl-C ends all of it and leaves nothing behind.",
            "",
        ]
    )
