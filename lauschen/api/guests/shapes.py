"""From what is stored to what the room Guests says."""

from collections.abc import Mapping
from typing import Any

from lauschen.api.desk.shapes import issued_out
from lauschen.api.guests.models import Answer, GuestOut, ListedGuest, StayOut
from lauschen.api.hosts.shapes import asked_words
from lauschen.api.networks.way_words import FIELDS
from lauschen.api.shaping import Shaper
from lauschen.api.words.reasons import answer_words, cause_words, reason_words
from lauschen.core.config.config import Config
from lauschen.core.decide.standing import State
from lauschen.core.limits.left import Left, left
from lauschen.core.limits.presence import presences
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.self_registration import SelfRegistration
from lauschen.core.ways.sponsor import Sponsor
from lauschen.core.ways.vouching import VouchingState
from lauschen.core.words.mac import is_private, short_mac, spell_mac
from lauschen.core.words.text import visible
from lauschen.store import admissions, credentials, stays
from lauschen.store.guests.lines import GuestLine
from lauschen.store.guests.rows import GuestRow
from lauschen.store.hosts import vouchings
from lauschen.store.hosts.vouchings import Vouching
from lauschen.store.messages import consents, registrations

LANGUAGES = {"en": "English", "de": "German"}
MOST_AGREEMENTS = 3
"""Of the house rules, that are shown."""


def listed_out(config: Config, line: GuestLine, remains: Left | None) -> ListedGuest:
    """`remains`: of what it is in by, or was last."""
    return ListedGuest(**_listed(config, line, remains))


def guest_out(shaper: Shaper, row: GuestRow) -> GuestOut:
    grant, issued, remains = row.line.grant, None, None
    if grant is not None:
        remains = left(shaper.config.plan_of(grant), grant.use, shaper.now)
    if grant is not None and grant.credential is not None and row.code_sealed is not None:
        issued = issued_out(
            shaper,
            grant.credential,
            grant,
            code=credentials.unseal_code(shaper.keys, row.code_sealed, grant.credential),
            is_chosen=row.is_chosen,
            devices_in=row.devices_in,
            issuer=row.line.issuer,
        )
    return GuestOut(
        **_listed(shaper.config, row.line, remains),
        is_remembered=row.is_remembered,
        issued=issued,
        last_heard=row.last_heard,
    )


def _listed(config: Config, line: GuestLine, remains: Left | None) -> dict[str, Any]:
    grant = line.grant
    role = config.roles.get(line.role) if line.role is not None else None
    device = config.access_devices.get(line.access_device)
    network = config.networks.get(line.network)
    return {
        "mac": spell_mac(line.mac),
        "short": short_mac(line.mac),
        "private": is_private(line.mac),
        "network": line.network,
        "network_name": network.name if network else "",
        "state": line.state,
        "going": line.going,
        "reason": reason_words(line.reason) if line.reason else None,
        "since": line.since,
        "role": role.name if role else None,
        "name": visible(line.name or config.name_of(line.mac)),
        "label": visible(line.label),
        "where": device.name if device else "",
        "address": line.framed_ip,
        "way_in": grant.way if grant is not None else None,
        "plan": config.plans[grant.plan].name if grant is not None else None,
        "until": remains.until if remains is not None and line.state is State.INSIDE else None,
        "octets_used": grant.use.octets if grant is not None else 0,
        "octets_left": remains.octets if remains is not None else None,
        "bits_per_s": 8 * line.octets_per_s,
        "octets_today": line.octets_today,
        "not_confirmed": answer_words(line.wanted_answer) if line.wanted_answer else None,
        "typing_barred_until": line.typing_barred_until,
    }


def wrote_out(shaper: Shaper, line: GuestLine) -> list[Answer]:
    """What was written by whom the device is in by."""
    asked = _asked(shaper, line)
    if asked is not None:
        sponsor = _sponsor(shaper, asked)
        asks = {one.key: one.labels for one in sponsor.fields} if sponsor is not None else {}
        return [_answer(key, asks, text) for key, text in asked.answers.items()]
    credential = line.credential
    found = None if credential is None else registrations.of_credential(shaper.conn, shaper.keys, credential)
    if found is None:
        return []
    network = shaper.config.networks.get(found.network)
    way = network.way(WayIn.SELF_REGISTRATION) if network is not None else None
    labels = {one.key: one.labels for one in way.fields} if isinstance(way, SelfRegistration) else {}
    return [_answer(key, labels, text) for key, text in found.answers.items()]


def hosts_out(shaper: Shaper, line: GuestLine) -> list[str]:
    """Who was asked to vouch for whom this device brought, and what they answered."""
    asked = _asked(shaper, line)
    return [] if asked is None else asked_words(shaper, asked)


def consents_out(shaper: Shaper, line: GuestLine) -> list[str]:
    """What somebody with this device agreed to: the house rules, and to be written to."""
    clock = shaper.speaker().clock
    rules = [
        f"Agreed at {clock(at)} to version {version} of the house rules, in {LANGUAGES.get(lang, lang)}."
        for at, version, lang in admissions.agreements(shaper.conn, line.mac, line.network, MOST_AGREEMENTS)
    ]
    return rules + [
        f"Agreed at {clock(one.at)} to be written to at {visible(one.said.get('mail') or one.said.get('phone', ''))}:"
        f" version {one.version} of the words, in {LANGUAGES.get(one.lang, one.lang)}"
        f"{'' if one.is_confirmed else '; nobody has confirmed the address'}."
        for one in consents.consents(shaper.conn, shaper.keys, line.mac)
    ]


def _asked(shaper: Shaper, line: GuestLine) -> Vouching | None:
    """By what it is in, or by what it wants to be; None where no host has to do with it."""
    credential = line.credential
    found = vouchings.of_device(shaper.conn, shaper.keys, line.mac)
    here = [one for one in found if one.network == line.network and one.state is not VouchingState.TAKEN_BACK]
    if credential is not None:
        return next((one for one in here if one.credential == credential), None)
    return next(iter(here), None)


def _sponsor(shaper: Shaper, asked: Vouching) -> Sponsor | None:
    network = shaper.config.networks.get(asked.network)
    way = network.way(WayIn.SPONSOR) if network is not None else None
    return way if isinstance(way, Sponsor) else None


def _answer(key: str, labels: Mapping[str, Mapping[str, str]], text: str) -> Answer:
    return Answer(field=field_name(key, labels.get(key, {})), text=visible(text))


def field_name(key: str, labels: Mapping[str, str]) -> str:
    """As the house calls it, else as we do."""
    own = labels.get("en") or next(iter(labels.values()), "")
    return visible(own) if own else FIELDS.get(key, key)


def stays_out(shaper: Shaper, line: GuestLine) -> list[StayOut]:
    """Each presence of the guest once, over however many stays it was reported."""
    names = {device.id: device.name for device in shaper.config.access_devices.values()}
    return [
        StayOut(
            where=", then ".join(names.get(device, "a device that is gone") for device in p.where),
            started=p.started,
            ended=p.ended,
            end=None if p.ended is None else cause_words(p.end_cause or "not_said"),
            seconds=int(sum(part.length for part in p.counted)),
            octets_in=sum(part.octets_in.total for part in p.counted),
            octets_out=sum(part.octets_out.total for part in p.counted),
        )
        for p in presences(stays.stays_of(shaper.conn, line.mac, 50))
    ]
