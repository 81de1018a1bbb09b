"""What is done to a passphrase after it was issued: shown, replaced, and devices taken off it."""

from collections.abc import Iterable
from dataclasses import dataclass

from lauschen.acts.desk.within import check_theirs, sight_of
from lauschen.acts.moving.moves import end_stay
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import CredentialId, KeyId, Mac, NetworkId
from lauschen.road.tx import Tx
from lauschen.store import allowances, devices
from lauschen.store.batches import Batch
from lauschen.store.log import Facts
from lauschen.store.passphrases import bound, holders, keys
from lauschen.store.passphrases.holders import Holder
from lauschen.store.passphrases.keys import NewKey

LONGEST_OVERLAP_S = 31 * 86_400.0


@dataclass(frozen=True, slots=True)
class Renewed:
    """A key in place of others: what its undo needs."""

    key: KeyId
    before: dict[KeyId, float | None]
    """When those before it were to end."""


def reveal(tx: Tx, credential: CredentialId, how: str) -> str:
    """The passphrase, for whoever acts; the record says that they saw it, and how."""
    holder = _there(tx, credential)
    key = keys.newest_key(tx.conn, tx.keys, credential, tx.now)
    if key is None:
        raise NotThere("passphrase")
    tx.log(
        "passphrase_revealed",
        network=holder.network,
        facts={**_facts(holder), "how": how},
    )
    return key.text


def note_printed(tx: Tx, batch: Batch) -> None:
    """Record that somebody printed a whole batch. NotThere when they may not see it any more."""
    if not sight_of(tx).sees_issued(batch.network, batch.issuer):
        raise NotThere("batch")
    facts: Facts = {"name": batch.said.label, "count": batch.size, "how": "printed"}
    tx.log("passphrase_revealed", facts=facts)


def renew(tx: Tx, credential: CredentialId, new: NewKey, overlap_s: float) -> Renewed:
    """Another passphrase; those before hold for as long as the overlap, and whoever is in by them goes out then."""
    if not 0 <= overlap_s <= LONGEST_OVERLAP_S:
        raise Invalid("overlap", field="overlap", mend="Nothing to 31 days.")
    holder = _there(tx, credential)
    if allowances.allowances_of(tx.conn, credential)[0].use.withdrawn_at is not None:
        raise Invalid("withdrawn", field="passphrase", mend="It was withdrawn, and lets nobody in.")
    before = {key.id: key.ends_at for key in keys.holding_of(tx.conn, tx.keys, credential, tx.now)}
    keys.end_keys(tx.conn, credential, tx.now + overlap_s)
    made = keys.add_key(tx.conn, tx.keys, credential, holder.network, new, tx.now)
    if made is None:
        mend = "Somebody has this passphrase, or had it: choose another one."
        raise Invalid("passphrase_taken", field="passphrase", mend=mend)
    if overlap_s == 0:
        _put_out(tx, bound.macs_by_key(tx.conn, list(before)))
    tx.log(
        "passphrase_renewed",
        network=holder.network,
        facts={**_facts(holder), "seconds": int(overlap_s)},
    )
    return Renewed(made, before)


def take_renewal_back(tx: Tx, credential: CredentialId, renewed: Renewed) -> None:
    """The passphrases before hold again as they did. Invalid once a device joined with the new one."""
    holder = _there(tx, credential)
    made = keys.get_key(tx.conn, tx.keys, renewed.key)
    if made is None or made.credential != credential:
        raise NotThere("passphrase")
    if bound.macs_by_key(tx.conn, [renewed.key]):
        mend = "A device has joined with the new passphrase already. Replace it by another one."
        raise Invalid("passphrase_used", field="passphrase", mend=mend)
    of_theirs = {key.id for key in keys.times_of(tx.conn, credential)}
    keys.remove_key(tx.conn, renewed.key)
    for key, ends_at in renewed.before.items():
        if key in of_theirs:
            keys.end_key(tx.conn, key, ends_at)
    tx.log("passphrase_renewal_undone", network=holder.network, facts=_facts(holder))


def _put_out(tx: Tx, found: Iterable[tuple[Mac, NetworkId]]) -> None:
    """Ends the stays of those that are in."""
    for mac, network in found:
        standing = devices.find_standing(tx.conn, mac, network)
        if standing is not None and standing.admission is not None:
            end_stay(tx, standing, Reason.KEY_ENDED)


def take_off(tx: Tx, credential: CredentialId, mac: Mac) -> bool:
    """One device may not join by this passphrase any more, under the address that it has. False: it was so before."""
    holder, is_off = _joined_by(tx, credential, mac)
    if is_off:
        return False
    bound.set_removed(tx.conn, mac, holder.network, tx.now)
    standing = devices.find_standing(tx.conn, mac, holder.network)
    if standing is not None and standing.admission is not None:
        end_stay(tx, standing, Reason.KEY_REMOVED)
    tx.log("key_device_removed", mac=mac, network=holder.network, facts=_facts(holder))
    return True


def take_on_again(tx: Tx, credential: CredentialId, mac: Mac) -> bool:
    """It may again. False where it may anyway."""
    holder, is_off = _joined_by(tx, credential, mac)
    if not is_off:
        return False
    bound.set_removed(tx.conn, mac, holder.network, None)
    tx.log("key_device_returned", mac=mac, network=holder.network, facts=_facts(holder))
    return True


def put_out_by_old_key(tx: Tx, mac: Mac, network: NetworkId) -> None:
    """End the stay of a device whose old key has expired."""
    _put_out(tx, [(mac, network)])


def _joined_by(tx: Tx, credential: CredentialId, mac: Mac) -> tuple[Holder, bool]:
    """Whose passphrase a device joined by last, and whether it was taken off that."""
    holder = _there(tx, credential)
    known = bound.find_bound(tx.conn, mac, holder.network)
    if known is None or known.credential != credential:
        raise NotThere("device")
    return holder, known.removed_at is not None


def _there(tx: Tx, credential: CredentialId) -> Holder:
    check_theirs(tx, credential)
    holder = holders.find(tx.conn, credential)
    if holder is None:
        raise NotThere("passphrase")
    return holder


def _facts(holder: Holder) -> Facts:
    return {"name": holder.name, "voucher": holder.credential}
