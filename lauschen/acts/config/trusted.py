"""What is let in always: taken up, changed, let go. Each reaches whoever is here within seconds."""

from dataclasses import replace

from lauschen.acts.config.changes import check_guest_role
from lauschen.acts.config.record import changes
from lauschen.acts.desk.reaching import let_go
from lauschen.core.config.checks import check_room
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import TrustedId
from lauschen.core.ways.always import Trusted
from lauschen.road.tx import Tx
from lauschen.store import credentials, devices
from lauschen.store.config import trusted as stored

LONGEST_NAME = 60
LONGEST_PORT = 253


def save_trusted(tx: Tx, wanted: Trusted) -> TrustedId:
    """A new one when its id is 0; of a known one the name and the role are changed."""
    wanted = replace(wanted, name=wanted.name.strip())
    _check(tx, wanted)
    if wanted.id == 0:
        check_room("trusted", len(tx.config.trusted))
        added = stored.add_trusted(tx.conn, wanted)
        if wanted.mac is not None:
            stored.reconsider_soon(tx.conn, [wanted.mac], tx.now)
        tx.log("trusted_added", mac=wanted.mac, facts={"name": wanted.name})
        return added
    if wanted.id not in {one.id for one in tx.config.trusted}:
        raise NotThere("trusted")
    stored.save_trusted(tx.conn, wanted.id, wanted.name, wanted.role)
    stored.reconsider_by(tx.conn, wanted.id, tx.now)
    before = next(one for one in tx.config.trusted if one.id == wanted.id)
    tx.log("trusted_changed", facts={"name": wanted.name, **changes(tx.config, before, wanted)})
    return wanted.id


def remove_trusted(tx: Tx, one: TrustedId) -> None:
    """Whoever is in by it goes to the door."""
    found = next((known for known in tx.config.trusted if known.id == one), None)
    if found is None:
        raise NotThere("trusted")
    for credential in stored.credentials_by(tx.conn, one):
        credentials.withdraw(tx.conn, credential, tx.now)
        let_go(tx, credential, devices.where_admitted(tx.conn, credential), Reason.CODE_WITHDRAWN)
    stored.remove_trusted(tx.conn, one)
    tx.log("trusted_removed", facts={"name": found.name})


def _check(tx: Tx, wanted: Trusted) -> None:
    if not wanted.name or len(wanted.name) > LONGEST_NAME:
        raise Invalid("trusted_name", field="name", mend=f"A name of up to {LONGEST_NAME} letters.")
    if wanted.role is not None:
        check_guest_role(tx, wanted.role, field="role")
    if wanted.mac is not None:
        if wanted.mac in (0, (1 << 48) - 1) or wanted.mac >> 40 & 1:
            raise Invalid(
                "trusted_mac", field="mac", mend="The address of one device: this one is a group's."
            )
        return
    if wanted.access_device not in tx.config.access_devices:
        raise Invalid("access_device", field="access_device", mend="Choose one that is there.")
    if wanted.port is not None and not 1 <= len(wanted.port) <= LONGEST_PORT:
        raise Invalid("trusted_port", field="port", mend="As the access device writes NAS-Port-Id.")
