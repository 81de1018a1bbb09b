"""The page of somebody who has a private passphrase: their devices, a new passphrase, and the one that holds."""

import io
import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from sqlite3 import Connection
from typing import ClassVar

import segno
from markupsafe import Markup
from starlette.requests import Request
from starlette.responses import HTMLResponse, RedirectResponse, Response

from lauschen.acts.passphrases.issuing import KeyMakers, Wish, make_key
from lauschen.acts.passphrases.links import PATH, holder_by_link
from lauschen.acts.passphrases.own import OVERLAPS_S, renew_own, shown_to, turn_device
from lauschen.core.actor import HOLDER
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.limits.left import CredentialState, credential_state
from lauschen.core.passphrases.passphrase import USUAL_BITS, Style, draw
from lauschen.core.words.mac import read_mac, short_mac, spell_mac
from lauschen.core.words.slip import wifi_by_key
from lauschen.core.words.text import visible
from lauschen.portal.page import Page, render
from lauschen.portal.words import choose_language, clock_words
from lauschen.road.road import Road
from lauschen.sentences.catalogue import Sentences
from lauschen.store import devices
from lauschen.store.passphrases import bound, holders, keys
from lauschen.store.passphrases.bound import BoundDevice
from lauschen.store.passphrases.holders import Holder

LONGEST_LINK = 64
DONE = ("take_off", "take_on", "renew")
_GOOD = (CredentialState.FRESH, CredentialState.RUNNING)


@dataclass(frozen=True, slots=True)
class OwnDevice:
    """One that joined by their passphrase."""

    mac: str
    name: str
    says: str
    is_off: bool


@dataclass(frozen=True, slots=True)
class OwnKey:
    """All that the page has."""

    template: ClassVar[str] = "parts/keys/own_key.html"
    wifi: str
    passphrase: str
    """Empty until it is asked for."""
    qr: Markup
    devices: tuple[OwnDevice, ...]
    overlaps: tuple[tuple[int, str], ...]
    is_good: bool
    before: str
    """Until when the one before holds; empty when it does not."""


@dataclass(frozen=True, slots=True)
class OwnKeyPage:
    """Opened by a link, over HTTPS only. Anyone who has the link can act for the holder."""

    road: Road
    reader: Connection
    makers: KeyMakers

    async def answer(self, request: Request) -> Response:
        """GET and HEAD show the page; POST is one of its buttons."""
        link, asked = request.path_params["link"][:LONGEST_LINK], request.query_params.get("lang")
        lang = choose_language(request.headers.get("accept-language", ""), asked)
        if request.url.scheme != "https":
            return HTMLResponse(render(self._instead(lang, "key_plain")), 403)
        try:
            holder = holder_by_link(self.reader, self.road.keys, link, self.road.clock.now())
        except NotThere:
            return HTMLResponse(render(self._instead(lang, "key_gone")), 404)
        if request.method != "POST":
            did = request.query_params.get("did", "")
            return HTMLResponse(render(self.show(holder, link, lang, did if did in DONE else "")))
        form = {name: value for name, value in (await request.form()).items() if isinstance(value, str)}
        act = form.get("act", "")
        try:
            if act == "show":
                _, text = await self.road.act(lambda tx: shown_to(tx, link), by=HOLDER)
                return HTMLResponse(render(self.show(holder, link, lang, text=text)))
            await self._press(holder, link, act, form, lang)
        except NotThere:
            return HTMLResponse(render(self.show(holder, link, lang, fault="key_fault_gone")))
        except Invalid as exc:
            fault = f"key_fault_{exc.code}"
            known = fault if Page(lang, "").words.find(fault) else "key_fault"
            return HTMLResponse(render(self.show(holder, link, lang, fault=known)))
        return RedirectResponse(f"{PATH}{link}?lang={lang}&did={act}", 303)

    async def _press(self, holder: Holder, link: str, act: str, form: Mapping[str, str], lang: str) -> None:
        if act != "renew":
            mac = read_mac(form.get("mac", ""))
            if mac is None:
                raise NotThere("device")
            await self.road.act(lambda tx: turn_device(tx, link, mac, act), by=HOLDER)
            return
        overlap = form.get("overlap", "")
        seconds = int(overlap) if overlap.isascii() and overlap.isdecimal() and len(overlap) < 8 else -1
        drawn = draw(Style.WORDS, USUAL_BITS, secrets.randbelow, lang).text
        new = await make_key(self.makers, self.road.config, holder.network, Wish(holder.name), drawn)
        await self.road.act(lambda tx: renew_own(tx, link, new, seconds), by=HOLDER)

    def show(
        self, holder: Holder, link: str, lang: str, did: str = "", *, text: str = "", fault: str | None = None
    ) -> Page:
        """What they have. `text`: the passphrase, once it was asked for."""
        config, now = self.road.config, self.road.clock.now()
        page = Page(lang, config.site_name)
        words = page.words
        page.fault = None if fault is None else words[fault]
        page.here, page.other_lang = f"{PATH}{link}", "de" if lang == "en" else "en"
        network = config.networks.get(holder.network)
        line = holders.get_line(self.reader, holder.credential)
        if network is None or line is None:
            return self._instead(lang, "key_gone")
        page.heading = words["key_title"].format(name=visible(holder.name))
        state = credential_state(config.plan_of(line.grant), line.grant.use, now)
        if did:
            page.notes.append(words[f"key_did_{did}"])
        if state not in _GOOD:
            page.notes.append(words["key_paused" if state is CredentialState.PAUSED else "key_over"])
        qr = Markup("")
        if text:
            svg = io.BytesIO()
            made = segno.make(wifi_by_key(network, text), error="m", micro=False)
            made.save(svg, kind="svg", border=2, xmldecl=False, omitsize=True)
            qr = Markup(svg.getvalue().decode())  # noqa: S704 - drawn by us, and holds no text of anybody
        overlaps = tuple((seconds, words[f"key_overlap_{seconds}"]) for seconds in OVERLAPS_S)
        before = ""
        if line.old_until is not None and line.old_until > now:
            before = words["key_before"].format(time=clock_words(line.old_until, now, config.zone, lang))
        page.parts = [
            OwnKey(
                wifi=visible(network.shown_as),
                passphrase=text,
                qr=qr,
                devices=self._devices(holder, words, lang),
                overlaps=overlaps,
                is_good=state in _GOOD,
                before=before,
            )
        ]
        page.small = [words["key_keep"]]
        return page

    def _devices(self, holder: Holder, words: Sentences, lang: str) -> tuple[OwnDevice, ...]:
        found = bound.devices_of(self.reader, holder.credential)
        newest = keys.newest_key(self.reader, self.road.keys, holder.credential, self.road.clock.now())
        return tuple(
            self._device(one, holder, words, lang, None if newest is None else newest.id) for one in found
        )

    def _device(
        self, one: BoundDevice, holder: Holder, words: Sentences, lang: str, newest: int | None
    ) -> OwnDevice:
        standing = devices.find_standing(self.reader, one.mac, holder.network)
        is_in = standing is not None and standing.state is State.INSIDE
        says = words["key_device_off" if one.removed_at else "key_device_in" if is_in else "key_device_away"]
        since = clock_words(one.bound_at, self.road.clock.now(), self.road.config.zone, lang)
        says = says.format(since=since)
        if newest is not None and one.key != newest and not one.removed_at:
            says = f"{says} {words['key_device_old']}"
        return OwnDevice(spell_mac(one.mac), short_mac(one.mac), says, one.removed_at is not None)

    def _instead(self, lang: str, why: str) -> Page:
        page = Page(lang, self.road.config.site_name)
        page.heading, page.notes = page.words[f"{why}_title"], [page.words[why]]
        return page
