"""The link to a holder's own page: signed, good for as long as the passphrase is, and made void by another one."""

import hmac
from sqlite3 import Connection

from lauschen.acts.desk.within import check_theirs
from lauschen.core.errors import NotThere
from lauschen.core.house.house import House
from lauschen.core.ids import CredentialId
from lauschen.road.tx import Tx
from lauschen.store.keys import KeyRing
from lauschen.store.log import Facts
from lauschen.store.passphrases import holders
from lauschen.store.passphrases.holders import Holder

PATH = "/keys/"
_MARK_OCTETS = 16


def link_to(keys: KeyRing, house: House, holder: Holder) -> str:
    """The whole address."""
    return f"{house.page_url}{PATH}{holder.credential:x}-{_mark(keys, holder)}"


def holder_by_link(conn: Connection, keys: KeyRing, unverified_link: str) -> Holder:
    """Whose page it is; NotThere for a link that is none of ours, or was made void."""
    number, _, mark = unverified_link.partition("-")
    try:
        holder = holders.find(conn, CredentialId(int(number[:12] or "0", 16)))
    except ValueError as exc:
        raise NotThere("link") from exc
    if holder is None or not hmac.compare_digest(mark.encode(), _mark(keys, holder).encode()):
        raise NotThere("link")
    return holder


def make_void(tx: Tx, holder: Holder) -> None:
    """Links that were given out before lead nowhere any more."""
    check_theirs(tx, holder.credential)
    holders.count_link(tx.conn, holder.credential)
    facts: Facts = {"name": holder.name, "voucher": holder.credential}
    tx.log("key_link_voided", network=holder.network, facts=facts)


def _mark(keys: KeyRing, holder: Holder) -> str:
    message = f"key page {holder.credential} {holder.link_stamp}".encode()
    return hmac.digest(keys.token_key, message, "sha256")[:_MARK_OCTETS].hex()
