"""Access points that have a file of all passphrases: what stands in it, and who joined by it."""

from pathlib import Path
from sqlite3 import Connection

from lauschen.acts.arriving.admitting import admit
from lauschen.acts.arriving.facts import load_picture, put_offer
from lauschen.acts.arriving.placing import move
from lauschen.acts.staying.comings import leave
from lauschen.core.config.config import Config
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.judge import judge
from lauschen.core.decide.placing import find_role
from lauschen.core.decide.standing import Standing, State
from lauschen.core.decide.steps import decide
from lauschen.core.ids import AccessDeviceId, KeyId, Mac, NetworkId
from lauschen.core.passphrases.keyfile import KeyLine, write_key_file
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passphrase import Key
from lauschen.core.words.mac import spell_mac
from lauschen.road.tx import Tx
from lauschen.store import devices
from lauschen.store.config.settings import load_config
from lauschen.store.db import open_reader
from lauschen.store.keys import KeyRing, read_key_file
from lauschen.store.passphrases import bound, keys


def file_text(database: Path, key_file: Path, network: NetworkId, now: float) -> str:
    """In the worker: the whole file of a network as it should be now."""
    ring = read_key_file(key_file)
    conn = open_reader(database)
    try:
        return write_key_file(_lines(conn, ring, load_config(conn, ring), network, now))
    finally:
        conn.close()


def _lines(conn: Connection, ring: KeyRing, config: Config, network: NetworkId, now: float) -> list[KeyLine]:
    """Keys that hold, of what lets somebody in now; each with the VLAN of its group, or of the role it leads to."""
    found = config.networks.get(network)
    way = None if found is None else found.way(WayIn.PASSPHRASE)
    if found is None or way is None or way.is_off:
        return []
    if (found.pause is not None and found.pause.holds(now)) or not way.is_open(now):
        return []
    lines = []
    for key, text, grant in keys.holding(conn, ring, network, now):
        if judge(config.plan_of(grant), grant, now).reason is not None:
            continue
        role, _ = find_role(config, network, grant, [])
        if role is not None:
            lines.append(KeyLine(key, text, grant.vlan or config.roles[role].vlan))
    return lines


def joined_by_file(tx: Tx, mac: Mac, network: NetworkId, place: AccessDeviceId, key: KeyId | None) -> bool:
    """A device is associated there. False: it may not be, and is to be thrown off."""
    found = None if key is None else keys.get_key(tx.conn, tx.keys, key)
    if found is None or found.network != network or not found.holds(tx.now):
        return False
    known = bound.find_bound(tx.conn, mac, network)
    if known is not None and known.removed_at is not None and known.key == found.id:
        return False
    picture, is_known = load_picture(tx, mac, network)
    standing = picture.standing
    is_same = picture.admission is not None and picture.admission.grant.credential == found.credential
    if is_same and standing is not None and known is not None and _is_as_before(standing, place, tx.now):
        if known.key != found.id:
            bound.bind(tx.conn, mac, network, found.id, place, tx.now)
        return True
    if not is_known:
        devices.add_device(tx.conn, mac, tx.now)
    arrival = Arrival(Medium.CHANGED, mac, place, network=network, spelled=spell_mac(mac))
    offer = Key(found.credential, found.id)
    if not is_same:
        put_offer(tx, picture, arrival, network, offer)
    decision = decide(arrival, picture, tx.now)
    if decision.answer is not Answer.ADMIT:
        if standing is not None:
            move(tx, arrival, picture, decision)
        return False
    if not is_same:
        admit(tx, picture, mac, network, offer)
    move(tx, arrival, picture, decision)
    bound.bind(tx.conn, mac, network, found.id, place, tx.now)
    return True


def _is_as_before(standing: Standing, place: AccessDeviceId, now: float) -> bool:
    """It is inside there, and nothing of it is to be decided anew."""
    is_due = standing.reconsider_at is not None and standing.reconsider_at <= now
    is_here = standing.state is State.INSIDE and standing.access_device == place
    return is_here and standing.wanted is State.INSIDE and not is_due


def left_the_file(tx: Tx, network: NetworkId, place: AccessDeviceId, here: frozenset[Mac]) -> None:
    """Devices that were inside there, and are associated no more."""
    for mac in bound.inside_at(tx.conn, network, place):
        if mac in here:
            continue
        standing = tx.read_standing(mac, network)
        if standing is not None and standing.session_id is None:
            leave(tx, standing)  # one with a session leaves by its accounting
