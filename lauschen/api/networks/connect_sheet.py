"""The sheet for one access device and one network: all that must be typed into the device, ready to copy."""

import socket
from urllib.parse import urlsplit

from lauschen.api.networks.models import SheetOut, SheetPart, SheetRow
from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.checks import ignored
from lauschen.core.config.config import Config
from lauschen.core.config.dialect import Arrives, Dialect, Move
from lauschen.core.config.network import GuestNetwork
from lauschen.core.config.role import Role
from lauschen.core.errors import Unavailable
from lauschen.outgoing.reach import Resolve

ONCE = "shown once, when it is made; make a new one if it is lost"


async def connect_sheet(
    config: Config,
    device: AccessDevice,
    network: GuestNetwork,
    *,
    ports: dict[str, int],
    radius_host: str,
    look_up: Resolve,
) -> SheetOut:
    dialect = config.dialects[device.dialect]
    ours = our_address(radius_host, device)
    parts = [
        _radius(ours, ports, device),
        _recognised(network, dialect),
        _page(config, dialect),
        await _before_login(config, dialect, look_up),
        _roles(config, network, dialect),
    ]
    parts.append(_changes(ours, device, dialect))
    return SheetOut(device=device.name, network=network.name, parts=[p for p in parts if p.rows])


def _chosen(label: str, value: str, note: str) -> SheetRow:
    """What is chosen in the device, not typed."""
    return SheetRow(label=label, value=value, note=note, is_typed=False)


_EVERYWHERE = ("*", "0.0.0.0", "::", "")  # noqa: S104 - compared, not bound


def our_address(radius_host: str, device: AccessDevice) -> str:
    """The address under which this device sees us: the one that the system would send from to it."""
    if radius_host not in _EVERYWHERE:
        return radius_host
    address = device.address.split("/")[0]
    with socket.socket(socket.AF_INET6 if ":" in address else socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect((address, 9))  # nothing is sent by this
            return str(probe.getsockname()[0])
        except OSError:
            return "the address of this server"


def _radius(ours: str, ports: dict[str, int], device: AccessDevice) -> SheetPart:
    rows = [
        SheetRow(label="Authentication server", value=f"{ours}", note="UDP"),
        SheetRow(label="Authentication port", value=str(ports["auth"])),
        SheetRow(label="Accounting server", value=f"{ours}", note="UDP"),
        SheetRow(label="Accounting port", value=str(ports["acct"])),
        SheetRow(label="Shared secret", value="", note=ONCE),
        SheetRow(
            label="Interim updates", value="600 s", note="or as the answer says (Acct-Interim-Interval)"
        ),
        SheetRow(
            label="Sign requests",
            value="on",
            is_typed=False,
            note="Message-Authenticator in each Access-Request",
        ),
    ]
    if device.tls_identity and "tls" in ports:
        rows.append(SheetRow(label="RADIUS over TLS", value=f"{ours}:{ports['tls']}", note="secret: radsec"))
    return SheetPart(title="RADIUS servers", rows=rows)


def _recognised(network: GuestNetwork, dialect: Dialect) -> SheetPart:
    rows = []
    if network.is_plain:
        rows.append(SheetRow(label="SSID", value=network.shown_as, note="exactly so, open, no passphrase"))
    asks = "the MAC address as name and password, or Service-Type Call-Check"
    if dialect.shared_password:
        asks = "the MAC address as name, the dialect's shared password as password"
    rows.append(_chosen("MAC authentication", "on", asks))
    rows.append(_chosen("Called-Station-Id", "BSSID:SSID", "how most devices send it"))
    return SheetPart(title="The guest network", rows=rows)


def _page(config: Config, dialect: Dialect) -> SheetPart:
    whole = config.page_url + "/"
    rows = []
    if dialect.arrives is Arrives.HANDED_OUT:
        rows.append(
            SheetRow(
                label="Page",
                value="from the answer",
                is_typed=False,
                note="nothing to type: RADIUS hands it out",
            )
        )
    if dialect.arrives is Arrives.APPENDED:
        whole = f"{config.page_url}/arrive/{dialect.id}"
        fields = dialect.appended
        rows.append(SheetRow(label="Append the MAC as", value=fields.mac))
        if fields.going:
            rows.append(SheetRow(label="Append where the guest was going as", value=fields.going))
    if dialect.arrives is not Arrives.HANDED_OUT:
        parts = urlsplit(whole)
        port = parts.port or (443 if parts.scheme == "https" else 80)
        rows = [
            SheetRow(label="Page address", value=whole),
            SheetRow(label="in parts: scheme", value=parts.scheme),
            SheetRow(label="in parts: host", value=parts.hostname or ""),
            SheetRow(label="in parts: port", value=str(port)),
            SheetRow(label="in parts: path", value=parts.path),
            *rows,
        ]
    if config.page_url.startswith("https:"):
        captive = f"{config.page_url}/captive"
        note = "for your DHCP server: option 114, in DHCPv6 103 (RFC 8910); phones open the page by themselves then"
        rows.append(SheetRow(label="Captive Portal API", value=captive, note=note))
    return SheetPart(title="The guest page", rows=rows)


async def _before_login(config: Config, dialect: Dialect, look_up: Resolve) -> SheetPart:
    """As they now are: a device that wants addresses must be told again when these change."""
    rows = []
    hosts = [urlsplit(config.page_url).hostname or ""]
    if dialect.arrives is Arrives.PLAIN:
        hosts.append(config.slip_host)
    for host in hosts:
        try:
            note = "now " + ", ".join(sorted(set(await look_up(host, 80))))
        except Unavailable:
            note = "no address at the moment: its name must be known to the resolver"
        rows.append(SheetRow(label="Host", value=host, note=note))
    rows.append(
        SheetRow(
            label="Name service",
            value="UDP and TCP 53",
            is_typed=False,
            note="to the resolver that guests use",
        )
    )
    rows.append(_chosen("Address", "UDP 67", "DHCP"))
    if dialect.arrives is not Arrives.PLAIN:
        keep = "not open: a scanned slip is redirected like any page, and its code is filled in"
        rows.append(_chosen("The slips' host", config.slip_host, keep))
    return SheetPart(title="Open before login", rows=rows)


def _roles(config: Config, network: GuestNetwork, dialect: Dialect) -> SheetPart:
    ids = [network.door_role, *(r.role for r in config.rules if r.network in (None, network.id))]
    rows = []
    for role in (config.roles[role_id] for role_id in dict.fromkeys(ids)):
        lost = ignored(role, dialect)
        if role.vlan is not None and "vlan" not in lost:
            rows.append(SheetRow(label=f"VLAN for {role.name}", value=str(role.vlan)))
        if role.filter_name is not None and "filter_name" not in lost:
            rows.append(SheetRow(label=f"Filter for {role.name}", value=role.filter_name, note=_reach(role)))
        for setting in lost:
            rows.append(
                SheetRow(
                    label=f"{role.name}: {setting.replace('_', ' ')}",
                    value="ignored",
                    is_typed=False,
                    note="this dialect does not honour it",
                )
            )
    return SheetPart(title="Must exist there", rows=rows)


def _reach(role: Role) -> str:
    if role.is_door:
        return "before login: the hosts above, name service and DHCP only"
    return "the internet, and nothing of the house"


def _changes(ours: str, device: AccessDevice, dialect: Dialect) -> SheetPart:
    ways = {dialect.login_move, dialect.end_move}
    kinds = []
    if ways & {Move.ATTRIBUTES, Move.REAUTHORISE}:
        kinds.append("CoA")
    if Move.DISCONNECT in ways:
        kinds.append("Disconnect")
    if not kinds:
        return SheetPart(title="Changes", rows=[])
    rows = [
        _chosen("Hear " + " and ".join(kinds), "on", "RFC 5176"),
        SheetRow(label="from", value=ours, note="any source port"),
        SheetRow(label="at port", value=str(device.coa_port), note="UDP"),
        _chosen("with secret", "the same", "as for authentication"),
    ]
    return SheetPart(title="Changes come from", rows=rows)
