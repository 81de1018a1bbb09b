"""From what is stored to what is said of hosts, and of guests who wait for them."""

from lauschen.acts.hosts.answering import may_give
from lauschen.api.hosts import models
from lauschen.api.networks.way_words import FIELDS
from lauschen.api.shaping import Shaper
from lauschen.core.config.config import Config
from lauschen.core.config.host import Host
from lauschen.core.ids import HostId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.fields import NAME
from lauschen.core.ways.sponsor import Naming, Sponsor
from lauschen.core.ways.vouching import Length, Role, VouchingState
from lauschen.core.words.amounts import duration_words
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.text import visible
from lauschen.store.hosts import questions
from lauschen.store.hosts.vouchings import Vouching


def host_out(host: Host, config: Config) -> models.HostOut:
    return models.HostOut(
        id=host.id, name=visible(host.name), mail=host.mail, department=visible(host.department),
        lang="de" if host.lang == "de" else "en", networks=list(host.networks), plans=list(host.plans),
        longest_minutes=host.longest_minutes, at_once=host.at_once, sentence=may_words(host, config),
    )  # fmt: skip


def may_words(host: Host, config: Config) -> str:
    """What somebody may give, in a sentence."""
    where = [visible(config.networks[one].name) for one in host.networks if one in config.networks]
    plans = [visible(config.plans[one].name) for one in host.plans if one in config.plans]
    what = " or ".join(plans) if plans else "what the way in gives"
    longest = f", at most {duration_words(host.longest_minutes * 60)}" if host.longest_minutes else ""
    count = "one guest" if host.at_once == 1 else f"{host.at_once} guests"
    guests = f", to {count} at once" if host.at_once else ""
    return f"{'On ' + ' and '.join(where) if where else 'Everywhere'}: {what}{longest}{guests}"


def vouching_out(shaper: Shaper, vouching: Vouching) -> models.VouchingOut:
    config = shaper.config
    network = config.networks.get(vouching.network)
    way = network.way(WayIn.SPONSOR) if network is not None else None
    found = way if isinstance(way, Sponsor) else None
    asked = questions.questions_of(shaper.conn, shaper.keys, vouching.id)
    return models.VouchingOut(
        id=vouching.id,
        network=vouching.network,
        network_name=network.name if network is not None else "a network that is gone",
        mac=spell_mac(vouching.mac),
        name=visible(vouching.answers.get(NAME, "")),
        said=_said(vouching, found),
        named=_named(vouching, found, config),
        at=vouching.at,
        until=vouching.until,
        state=vouching.state,
        asked=[
            models.AskedOut(
                name=visible(one.person.name), role=one.role, at=one.at, reminded_at=one.reminded_at,
                fault=one.fault,
            )
            for one in asked
        ],
        lengths=[] if found is None else [_length(one, config) for one in may_give(config, found, None)],
    )  # fmt: skip


def asked_words(shaper: Shaper, vouching: Vouching) -> list[str]:
    """Each who was asked, and how it ended, in sentences."""
    clock = shaper.speaker().clock
    lines = []
    asked = questions.questions_of(shaper.conn, shaper.keys, vouching.id)
    for one in asked:
        as_whom = {Role.NAMED: "", Role.STAND_IN: " as stand-in", Role.BY_DESK: " by the desk's choice"}[
            one.role
        ]
        reminded = f", reminded at {clock(one.reminded_at)}" if one.reminded_at is not None else ""
        fault = f", but could not be written to: {visible(one.fault)}" if one.fault else ""
        lines.append(f"{visible(one.person.name)} was asked at {clock(one.at)}{as_whom}{reminded}{fault}.")
    if not asked:
        named = _named(vouching, None, shaper.config)
        lines.append(f"Nobody was asked: there is no host called {named}, or there are several.")
    at = clock(vouching.answered_at or vouching.at)
    by = next((visible(one.person.name) for one in asked if one.id == vouching.answered_by), "The desk")
    match vouching.state:
        case VouchingState.YES | VouchingState.NO:
            word = f", saying: {visible(vouching.word)}" if vouching.word else "."
            lines.append(f"{by} said {vouching.state} at {at}{word}")
        case VouchingState.OVER:
            lines.append(f"Nobody had answered by {at}.")
        case VouchingState.WAITING:
            lines.append("Nobody has answered yet.")
        case VouchingState.TAKEN_BACK:
            lines.append(f"The guest waits no more since {at}.")
    return lines


def _said(vouching: Vouching, way: Sponsor | None) -> list[list[str]]:
    labels = {one.key: one.labels for one in way.fields} if way is not None else {}
    return [
        [visible(labels.get(key, {}).get("en") or FIELDS.get(key, key)), visible(text)]
        for key, text in vouching.answers.items()
        if key != NAME
    ]


def _named(vouching: Vouching, way: Sponsor | None, config: Config) -> str:
    if way is not None and way.naming is Naming.LIST and vouching.named.isdecimal():
        host = config.hosts.get(HostId(int(vouching.named)))
        return visible(host.name) if host is not None else ""
    return visible(vouching.named)


def _length(length: Length, config: Config) -> models.LengthOut:
    plan = config.plans[length.plan]
    seconds = length.seconds if length.seconds is not None else plan.seconds
    time = duration_words(seconds) if seconds is not None else "without end"
    whole = "all of " if length.seconds is None else "of "
    return models.LengthOut(key=length.key, words=f"{time}, {whole}{visible(plan.name)}")
