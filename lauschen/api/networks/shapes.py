"""From the house and what was heard to the shapes of the room Networks."""

from dataclasses import asdict, replace
from sqlite3 import Connection

from lauschen.api.hours import hours_out
from lauschen.api.networks import models, way_models
from lauschen.api.networks.words import (
    DROPS,
    clock_words,
    dialect_words,
    ignores_words,
    pause_words,
    risk_words,
    role_ignored_words,
    role_use_words,
    secret_words,
    sent_words,
    signing_words,
    stages,
    trusted_words,
)
from lauschen.api.slices import in_slices
from lauschen.api.words.networks import hint_text, recognised_words
from lauschen.api.words.reasons import answer_words
from lauschen.core.config.config import Config
from lauschen.core.config.dialect import Dialect
from lauschen.core.config.network import GuestNetwork, Hint
from lauschen.core.config.role import Role
from lauschen.core.ways.account import Account
from lauschen.core.ways.always import Always, Trusted
from lauschen.core.ways.click_through import ClickThrough
from lauschen.core.ways.guest_pass import GuestPass
from lauschen.core.ways.passcode import Passcode
from lauschen.core.ways.passphrase import PrivatePassphrase
from lauschen.core.ways.self_registration import SelfRegistration
from lauschen.core.ways.sponsor import Sponsor
from lauschen.core.ways.voucher import Voucher
from lauschen.core.ways.ways import Way
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.template import WORDS
from lauschen.core.words.text import visible
from lauschen.radius.listen.reading import read_ssid
from lauschen.radius.listen.recording import Recorded
from lauschen.radius.listen.registry import Peer, Registry, UnknownAccessDevice
from lauschen.radius.wire.codec import BadPacket, Packet, parse
from lauschen.radius.wire.describing import lines, words_of
from lauschen.radius.wire.dictionary import ATTRIBUTES, CODES
from lauschen.radius.wire.numbers import Kind
from lauschen.store import overview
from lauschen.store.config import networks

_UNSEEN = ("repeated", "unknown_source")
"""Shown elsewhere, and what came before the device was taken in."""
"""Counted apart: repetitions are no fault."""


async def paths_out(conn: Connection, config: Config, registry: Registry) -> models.NetworksOut:
    """All of it, a few at a time."""
    ignores = {dialect.id: ignores_words(dialect, config) for dialect in config.dialects.values()}
    return models.NetworksOut(
        networks=await in_slices(list(config.networks.values()), lambda n: network_out(conn, n, config), 5),
        roles=await in_slices(list(config.roles.values()), lambda r: role_out(r, config)),
        devices=await in_slices(
            list(registry.peers.values()),
            lambda p: _access_device_out(p, config, registry, ignores[p.device.dialect]),
        ),
        dialects=[dialect_out(d) for d in config.dialects.values()],
        unknown_access_devices=[unknown_out(a, k, config) for a, k in reversed(registry.unknown.items())],
        words=WORDS,
        house_rules=house_rules_out(config),
        trusted=await in_slices(config.trusted, lambda one: trusted_out(one, config), 100),
        plans=[models.PlanName(id=plan.id, name=plan.name) for plan in config.offered_plans],
    )


def house_rules_out(config: Config) -> models.HouseRulesOut:
    return models.HouseRulesOut(version=config.house_rules.version, texts=dict(config.house_rules.texts))


def network_out(conn: Connection, network: GuestNetwork, config: Config) -> models.NetworkOut:
    heard_at = [d for d in overview.devices_of_network(conn, network.id) if d in config.access_devices]
    return models.NetworkOut(
        id=network.id,
        name=network.name,
        door_role=network.door_role,
        ssid=_hint(network.ssid),
        nas_identifier=_hint(network.nas_identifier),
        port_id=_hint(network.port_id),
        ways=[_way(way) for way in network.ways],
        port_type=network.port_type,
        access_device=network.access_device,
        counted_at=network.counted_at,
        onward=network.onward,
        served_by=[d.id for d in config.access_devices.values() if config.serves(d.id, network.id)],
        pause=_pause(network, config),
        inside=networks.who_is_inside(conn, network.id),
        recognised=recognised_words(network, config),
        stages=stages(network, config, heard_at),
        heard_at=[int(device) for device in heard_at],
    )


def role_out(role: Role, config: Config) -> models.RoleOut:
    return models.RoleOut(
        id=role.id,
        name=role.name,
        vlan=role.vlan,
        filter_name=role.filter_name,
        filter_rules=list(role.filter_rules),
        down_bps=role.down_bps,
        up_bps=role.up_bps,
        is_door=role.is_door,
        sentence=f"{sent_words(role)}; {role_use_words(role, config)}",
        ignored=role_ignored_words(role, config),
    )


def access_device_out(peer: Peer, config: Config, registry: Registry) -> models.AccessDeviceOut:
    ignores = ignores_words(config.dialects[peer.device.dialect], config)
    return _access_device_out(peer, config, registry, ignores)


def _access_device_out(
    peer: Peer, config: Config, registry: Registry, ignores: list[str]
) -> models.AccessDeviceOut:
    device = peer.device
    dialect = config.dialects[device.dialect]
    heard = {a: s for a, s in peer.sources.items() if s.last_heard}
    addresses = {device.address, *heard}
    drops = [
        _drop(reason, count)
        for (address, reason), count in sorted(registry.drops.items())
        if address in addresses and reason not in _UNSEEN
    ]
    trip = peer.change_trip_s
    return models.AccessDeviceOut(
        id=device.id,
        name=device.name,
        address=device.address,
        dialect=device.dialect,
        coa_port=device.coa_port,
        coa_address=device.coa_address,
        hears_unsigned=peer.hears_unsigned,
        tls_identity=device.tls_identity,
        serves=sorted(device.serves),
        dialect_name=dialect.name,
        last_heard=max((s.last_heard for s in heard.values()), default=None),
        sources=[
            models.SourceOut(
                address=address,
                last_heard=s.last_heard,
                requests=s.requests,
                reports=s.reports,
                uses_old_secret=s.uses_old_secret,
                was_signed=s.was_signed,
            )
            for address, s in sorted(heard.items())
        ],
        requests=sum(s.requests for s in heard.values()),
        reports=sum(s.reports for s in heard.values()),
        repeated=sum(registry.drops[address, "repeated"] for address in addresses),
        drops=drops,
        has_old_secret=peer.old_secret is not None,
        secret_words=secret_words(peer),
        signing_words=signing_words(peer),
        risk=risk_words(peer),
        clock_words=clock_words([s.clock_error_s for s in heard.values() if s.clock_error_s is not None]),
        change_trip_ms=None if trip is None else round(trip * 1000),
        changes={answer_words(answer): count for answer, count in peer.changes.items()},
        ignores=ignores,
    )


def dialect_out(dialect: Dialect) -> models.DialectOut:
    values = asdict(dialect)
    for hidden in ("shared_password", "call_secret"):
        del values[hidden]
    values["honours"] = sorted(dialect.honours)
    return models.DialectOut(
        **values,
        sentence=dialect_words(dialect),
        has_shared_password=bool(dialect.shared_password),
        has_call_secret=bool(dialect.call_secret),
    )


def unknown_out(address: str, unknown: UnknownAccessDevice, config: Config) -> models.UnknownAccessDeviceOut:
    """What an unknown address claims to be; none of it is believed."""
    try:
        packet = parse(unknown.unverified_octets)
    except BadPacket:
        packet = None
    ssid = None if packet is None else read_ssid(packet)
    claimed = None if packet is None else packet.text(Kind.NAS_IDENTIFIER)
    nas = None if packet is None else packet.first(Kind.NAS_IP_ADDRESS)
    nas_address = None if nas is None else words_of(ATTRIBUTES[Kind.NAS_IP_ADDRESS], nas)
    known = next(
        (d.name for d in config.access_devices.values() if d.name == claimed or d.address == nas_address),
        None,
    )
    return models.UnknownAccessDeviceOut(
        address=address,
        first=unknown.first,
        last=unknown.last,
        packets=unknown.packets,
        kind=_kind(packet),
        ssid=None if ssid is None else visible(ssid.decode("utf-8", "replace")),
        nas_identifier=None if claimed is None else visible(claimed),
        nas_address=nas_address,
        says_it_is=known,
    )


def packet_out(recorded: Recorded) -> models.PacketOut:
    outcome = "answered"
    if recorded.outcome != "answered":
        outcome = f"dropped: {DROPS.get(recorded.outcome, (recorded.outcome, ''))[0]}"
    return models.PacketOut(
        at=recorded.at,
        kind=_kind(recorded.packet),
        size=recorded.size,
        outcome=outcome,
        lines=_lines(recorded.packet),
        reply_kind=None if recorded.reply is None else _kind(recorded.reply),
        reply=_lines(recorded.reply),
    )


def _kind(packet: Packet | None) -> str:
    return "no RADIUS packet" if packet is None else CODES.get(packet.code, f"code {packet.code}")


def _lines(packet: Packet | None) -> list[models.PacketLine]:
    if packet is None:
        return []
    return [
        models.PacketLine(number=one.number, name=one.name, words=one.words, octets=one.octets)
        for one in lines(packet)
    ]


def _way(way: Way) -> way_models.WayModel:
    settings = {**asdict(replace(way, hours=None)), "hours": hours_out(way.hours)}
    match way:
        case Voucher():
            return way_models.VoucherWay(way="voucher", **settings)
        case GuestPass():
            return way_models.GuestPassWay(way="guest_pass", **settings)
        case Always():
            return way_models.AlwaysWay(way="always", **settings)
        case Account():
            return way_models.AccountWay(way="account", **settings)
        case Passcode():
            return way_models.PasscodeWay(way="passcode", **settings)
        case ClickThrough():
            return way_models.ClickThroughWay(way="click_through", **settings)
        case SelfRegistration():
            return way_models.SelfRegistrationWay(way="self_registration", **settings)
        case Sponsor():
            return way_models.SponsorWay(way="sponsor", **settings)
        case PrivatePassphrase():
            return way_models.PassphraseWay(way="passphrase", **settings)


def _pause(network: GuestNetwork, config: Config) -> models.PauseOut | None:
    pause = network.pause
    if pause is None:
        return None
    return models.PauseOut(**asdict(pause), sentence=pause_words(pause, config))


def trusted_out(one: Trusted, config: Config) -> way_models.TrustedOut:
    role = config.roles.get(one.role) if one.role is not None else None
    return way_models.TrustedOut(
        id=one.id,
        name=visible(one.name),
        role=one.role,
        mac=None if one.mac is None else spell_mac(one.mac),
        access_device=one.access_device,
        port=one.port,
        what=trusted_words(one, config),
        role_name=role.name if role is not None else None,
    )


def _hint(hint: Hint) -> models.HintModel:
    return models.HintModel(match=hint.match, value=hint_text(hint))


def _drop(reason: str, count: int) -> models.Drop:
    text, mend = DROPS.get(reason, (reason, ""))
    return models.Drop(reason=reason, count=count, text=text, mend=mend)
