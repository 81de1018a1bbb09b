"""From what is stored to what the room Passphrases says."""

from lauschen.api.passphrases import models
from lauschen.api.shaping import Shaper
from lauschen.api.words.tried import tried_words
from lauschen.core.config.config import Config
from lauschen.core.config.dialect import KeysBy
from lauschen.core.config.network import GuestNetwork
from lauschen.core.decide.judge import seats_of
from lauschen.core.decide.standing import State
from lauschen.core.ids import AccessDeviceId, KeyId
from lauschen.core.limits.left import CredentialState, credential_state, left
from lauschen.core.limits.seats import Seats
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passphrase import PrivatePassphrase
from lauschen.core.words.mac import is_private, short_mac, spell_mac
from lauschen.core.words.text import visible
from lauschen.store import devices
from lauschen.store.passphrases import bound, keys
from lauschen.store.passphrases.holders import HolderLine
from lauschen.store.passphrases.wrong import WrongKey

_ASKS = {
    KeysBy.MAC: "asks by address, and tries the passphrases that a device may have",
    KeysBy.HANDSHAKE: "passes the handshake on, which says at once whose passphrase it is",
    KeysBy.FILE: "does not ask: it has a file of all passphrases",
}


def holder_out(shaper: Shaper, line: HolderLine) -> models.HolderOut:
    plan = shaper.config.plan_of(line.grant)
    seats = seats_of(plan, line.grant)
    remains = left(plan, line.grant.use, shaper.now)
    is_begun = line.grant.use.first_used is not None
    role = None if line.grant.role is None else shaper.config.roles.get(line.grant.role)
    is_full = seats is not None and line.seats_taken >= seats
    return models.HolderOut(
        id=line.holder.credential,
        kind=line.holder.kind,
        name=visible(line.holder.name),
        network=line.holder.network,
        plan=visible(plan.name),
        state=credential_state(plan, line.grant.use, shaper.now),
        sentence=_sentence(shaper, line, seats),
        until=remains.until if is_begun else line.grant.use.valid_until,
        devices=line.devices,
        devices_in=line.devices_in,
        seats=seats,
        is_shared=is_full,
        never_used=line.joined_at is None,
        made_at=line.made_at,
        old_until=line.old_until if line.old_until is not None and line.old_until > shaper.now else None,
        group=line.grant.vlan,
        role=None if role is None else visible(role.name),
        note=visible(line.note),
        may_reveal=shaper.reads(line.issuer),
    )


def _sentence(shaper: Shaper, line: HolderLine, seats: int | None) -> str:
    """What somebody must know first."""
    clock = shaper.speaker().clock
    state = credential_state(shaper.config.plan_of(line.grant), line.grant.use, shaper.now)
    if state is CredentialState.WITHDRAWN:
        return "Withdrawn: it lets nobody in."
    if state is CredentialState.PAUSED:
        return "Paused: nobody is in by it until it is resumed."
    if state in (CredentialState.EXPIRED, CredentialState.USED_UP):
        return "It is over: it lets nobody in any more."
    parts = []
    if line.joined_at is None:
        parts.append("No device has joined with it yet")
    else:
        parts.append(_on_devices(line, seats))
    if line.old_until is not None and line.old_until > shaper.now:
        parts.append(f"the one before holds until {clock(line.old_until)}")
    if line.grant.use.valid_until is not None:
        parts.append(f"good until {clock(line.grant.use.valid_until)}")
    return "; ".join(parts) + "."


def _on_devices(line: HolderLine, seats: int | None) -> str:
    if seats is None:
        return "On one device" if line.devices == 1 else f"On {line.devices} devices"
    if line.seats_taken >= seats:
        is_ever = line.grant.seats is Seats.EVER
        return f"On {seats} of {seats} devices: no other can join {'by it' if is_ever else 'meanwhile'}"
    if line.devices > seats:
        return f"On {line.devices} devices, of which {seats} can be in at once"
    return f"On {line.devices} of {seats} devices"


def full_out(shaper: Shaper, line: HolderLine) -> models.HolderFull:
    """With its devices and its passphrases, without their texts."""
    credential = line.holder.credential
    known = keys.times_of(shaper.conn, credential)
    return models.HolderFull(
        holder=holder_out(shaper, line),
        devices=[
            _device(shaper, line, one, known[0].id) for one in bound.devices_of(shaper.conn, credential)
        ],
        keys=[
            models.KeyOut(key=one.id, made_at=one.made_at, ends_at=one.ends_at, joined_at=one.joined_at)
            for one in known
        ],
    )


def _device(shaper: Shaper, line: HolderLine, one: bound.BoundDevice, newest: KeyId) -> models.KeyDeviceOut:
    standing = devices.find_standing(shaper.conn, one.mac, line.holder.network)
    return models.KeyDeviceOut(
        mac=spell_mac(one.mac),
        name=short_mac(one.mac),
        is_private=is_private(one.mac),
        is_in=standing is not None and standing.state is State.INSIDE,
        is_going=standing is not None and standing.going not in (None, State.INSIDE),
        has_old_key=one.key != newest,
        bound_at=one.bound_at,
        removed_at=one.removed_at,
    )


def wrong_out(shaper: Shaper, one: WrongKey) -> models.WrongOut:
    speaker = shaper.speaker()
    network = shaper.config.networks.get(one.network)
    return models.WrongOut(
        mac=spell_mac(one.mac),
        device=short_mac(one.mac),
        network="" if network is None else visible(network.name),
        place=speaker.place(one.access_device),
        tries=one.tries,
        last_at=one.last_at,
        sentence=tried_words(speaker, one),
    )


def network_out(
    config: Config, network: GuestNetwork, asked: list[AccessDeviceId], files: list[str]
) -> models.KeyNetwork:
    way = network.way(WayIn.PASSPHRASE)
    assert isinstance(way, PrivatePassphrase)
    asks = []
    for device in asked:
        dialect = config.dialect_of(device)
        if dialect is not None:
            asks.append(f"{visible(config.access_devices[device].name)} {_ASKS[dialect.keys_by]}.")
    return models.KeyNetwork(
        id=network.id,
        name=visible(network.name),
        ssid=visible(network.shown_as),
        groups=len(way.groups),
        asks=asks + files,
    )


def of_keys(config: Config) -> list[GuestNetwork]:
    """Networks whose devices have private passphrases."""
    return [network for network in config.networks.values() if network.by_key]
