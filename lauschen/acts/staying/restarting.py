"""Close the stays of an access device that restarted or shut down (rulings 4.7), a slice at a time."""

from lauschen.acts.mass.intents import MassKind, begin
from lauschen.acts.staying.comings import gone
from lauschen.acts.staying.endings import end
from lauschen.core.ids import AccessDeviceId, Mac, StayId
from lauschen.core.words.mac import spell_mac
from lauschen.road.tx import Tx
from lauschen.store import stays
from lauschen.store.log import Facts
from lauschen.store.moving import intents
from lauschen.store.moving.intents import Intent, Target
from lauschen.store.stays import RESTARTED, Place


def close_all(tx: Tx, access_device: AccessDeviceId, event: str, at: float, named: Facts) -> None:
    """Close what Accounting-On or -Off names and what began before `at`; the reply leaves with the intent.

    `named`: `bssid`, `nas_identifier` and `nas_address` as the packet says them, empty where it does not.
    """
    tx.settle()
    found = [place for place in stays.open_places_at(tx.conn, access_device, at) if _names(named, place)]
    facts: Facts = {"event": event, "at": at, "last": max((place.id for place in found), default=0), **named}
    begin(tx, RESTART, access_device, [[place.id, place.mac] for place in found], facts)
    tx.memory.note_restarting(intents.restarting(tx.conn))


def catch_up(tx: Tx, mac: Mac, access_device: AccessDeviceId) -> None:
    """A device is heard where stays are being closed: its own are closed first, as if all were closed at once."""
    tx.settle()
    for facts in intents.facts_of(tx.conn, RESTART.name, access_device):
        for place in stays.open_places_of(tx.conn, mac, access_device):
            if (
                place.id <= int(facts["last"] or 0)
                and place.started < float(facts["at"] or 0)
                and _names(facts, place)
            ):
                _close(tx, place.id, facts)


def _names(said: Facts, place: Place) -> bool:
    """On and Off close only what they name: a BSSID, else a NAS-Identifier, else an address."""
    if said["bssid"] and place.bssid:
        return said["bssid"] == place.bssid
    if said["nas_identifier"]:
        return said["nas_identifier"] == place.nas_identifier
    return not place.nas_address or said["nas_address"] == place.nas_address


def _close(tx: Tx, which: StayId, facts: Facts) -> None:
    stay = stays.get_stay(tx.conn, which)
    if stay is not None and stay.ended is None:
        end(tx, stay, max(float(facts["at"] or 0), stay.last_event), RESTARTED)
        gone(tx, stay)


def _close_target(tx: Tx, intent: Intent, target: Target) -> None:
    tx.settle()
    _close(tx, StayId(target[0]), intent.facts)


def _finish(tx: Tx, intent: Intent) -> None:
    closed: Facts = {"closed": intent.size}
    tx.log(f"device_{intent.facts['event']}", access_device=AccessDeviceId(intent.key), facts=closed)
    if len(intents.facts_of(tx.conn, RESTART.name, intent.key)) == 1:
        tx.memory.note_restarting(tx.memory.restarting - {AccessDeviceId(intent.key)})


RESTART = MassKind(intents.RESTARTED, _close_target, lambda target: spell_mac(Mac(target[1])), _finish)
