"""From what the console sends to the configuration; and whether a typed secret fits an unknown access device."""

from dataclasses import replace
from zoneinfo import ZoneInfo

from lauschen.api.hours import read_hours_in
from lauschen.api.kept_secrets import check_kept_at
from lauschen.api.networks import models, way_models
from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.dialect import Appended, Call, Dialect, HandshakeIn, Posted, VendorAttribute
from lauschen.core.config.network import GuestNetwork, Hint
from lauschen.core.config.role import Role
from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId, RoleId
from lauschen.core.ways.voucher import Voucher
from lauschen.core.ways.ways import Way, read_way
from lauschen.radius.listen.registry import UnknownAccessDevice
from lauschen.radius.wire.codec import BadPacket, parse
from lauschen.radius.wire.numbers import Code
from lauschen.radius.wire.signing import Secret


def read_network(network: int, wanted: models.NetworkIn, before: GuestNetwork | None) -> GuestNetwork:
    """With the ways in that it has; those that are wanted go their own way, where each is checked."""
    offered = before.ways if before is not None else (Voucher(),)
    return GuestNetwork(
        NetworkId(network),
        wanted.name,
        RoleId(wanted.door_role),
        _hint(wanted.ssid),
        _hint(wanted.nas_identifier),
        _hint(wanted.port_id),
        wanted.port_type,
        None if wanted.access_device is None else AccessDeviceId(wanted.access_device),
        None if wanted.counted_at is None else AccessDeviceId(wanted.counted_at),
        offered,
        pause=before.pause if before is not None else None,
        onward=(before.onward if before is not None else "")
        if wanted.onward is None
        else wanted.onward.strip(),
    )


def read_way_in(way: way_models.WayModel, zone: ZoneInfo) -> Way:
    """Its hours are those of the site's zone."""
    labels = {lang: text.strip() for lang, text in way.labels.items() if text.strip()}
    settings = {**way.model_dump(exclude={"way", "hours"}), "labels": labels}
    return replace(read_way(way.way, settings, zone), hours=read_hours_in(way.hours, zone))


def read_role(role: int, wanted: models.RoleIn, *, is_door: bool) -> Role:
    rules = tuple(line.strip() for line in wanted.filter_rules if line.strip())
    return Role(
        RoleId(role),
        wanted.name,
        wanted.vlan,
        wanted.filter_name or None,
        is_door,
        rules,
        wanted.down_bps,
        wanted.up_bps,
    )


def read_access_device(device: int, wanted: models.AccessDeviceIn) -> AccessDevice:
    """Without its secret, which goes its own way."""
    return AccessDevice(
        AccessDeviceId(device),
        wanted.name,
        wanted.address.strip(),
        b"",
        DialectId(wanted.dialect),
        wanted.coa_port,
        wanted.coa_address or None,
        None,
        wanted.hears_unsigned,
        wanted.tls_identity or None,
        frozenset(NetworkId(network) for network in wanted.serves),
    )


def read_dialect(dialect: int, wanted: models.DialectIn, before: Dialect | None) -> Dialect:
    """Secrets that were not sent stay as they are."""
    if before is not None and before.call_secret and wanted.call_secret is None:
        calls = before.call_in, before.call_out
        asked = wanted.call_in, wanted.call_out
        check_kept_at("call_secret", [one.url for one in calls if one], [one.url for one in asked if one])
    return Dialect(
        DialectId(dialect),
        wanted.name,
        wanted.arrives,
        Appended(wanted.appended.mac, wanted.appended.going),
        tuple(VendorAttribute(a.enterprise, a.number, a.kind, a.template, a.when) for a in wanted.attributes),
        wanted.login_move,
        wanted.end_move,
        wanted.pause_ms,
        Posted(
            wanted.posted.url,
            wanted.posted.name_field,
            wanted.posted.secret_field,
            tuple(wanted.posted.others),
        ),
        _call(wanted.call_in),
        _call(wanted.call_out),
        frozenset(wanted.honours),
        wanted.group_tag,
        tuple(wanted.identify),
        wanted.signs_changes,
        wanted.timeout_from_start,
        wanted.ack_confirms,
        wanted.user_name,
        wanted.counts,
        wanted.remembers_s,
        _kept(wanted.shared_password, before.shared_password if before else ""),
        wanted.keys_by,
        HandshakeIn(wanted.handshake.enterprise, wanted.handshake.nonce, wanted.handshake.frame),
        _kept(wanted.call_secret, before.call_secret if before else ""),
    )


def verdict_on(unknown: UnknownAccessDevice, secret: str) -> str:
    """`fits`, `differs`, or `unsigned` when the kept packet carries no signature to try."""
    try:
        packet = parse(unknown.unverified_octets)
    except BadPacket:
        return "unsigned"
    tried = Secret(secret.encode())
    if packet.code == Code.ACCOUNTING_REQUEST:
        return "fits" if tried.is_accounting(packet) else "differs"
    if not packet.signed_at:
        return "unsigned"
    return "fits" if tried.is_signed(packet) else "differs"


def _hint(hint: models.HintModel) -> Hint:
    return Hint(hint.match, hint.value.encode())


def _call(call: models.CallModel) -> Call:
    return Call(
        call.method, call.url, tuple(call.headers), call.body, tuple(call.good_status), call.good_text
    )


def _kept(sent: str | None, before: str) -> str:
    return before if sent is None else sent
