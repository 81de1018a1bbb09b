"""The link to a holder's own page: signed, good for a month over HTTPS alone, and made void by another one."""

import hmac
from sqlite3 import Connection

from lauschen.acts.desk.within import check_theirs
from lauschen.core.config.config import Config
from lauschen.core.errors import NotThere
from lauschen.core.ids import CredentialId
from lauschen.road.tx import Tx
from lauschen.store.keys import KeyRing
from lauschen.store.log import Facts
from lauschen.store.passphrases import holders
from lauschen.store.passphrases.holders import Holder

PATH = "/keys/"
LINK_S = 30 * 86_400
"""Mails stay in mailboxes for years."""
_MARK_OCTETS = 16
_LONGEST_NUMBER = 12


def is_offered(config: Config) -> bool:
    """False on plain HTTP, where anyone who intercepted the link could read the passphrase."""
    return config.page_url.startswith("https:")


def link_to(keys: KeyRing, config: Config, holder: Holder, now: float) -> str | None:
    """The whole address; None where the guest page is plain HTTP."""
    if not is_offered(config):
        return None
    until = int(now) + LINK_S
    return f"{config.page_url}{PATH}{holder.credential:x}-{until:x}-{_mark(keys, holder, until)}"


def holder_by_link(conn: Connection, keys: KeyRing, unverified_link: str, now: float) -> Holder:
    """Whose page it is; NotThere for a link that is none of ours, is too old, or was made void."""
    number, ends, mark = (*unverified_link.split("-"), "", "")[:3]
    try:
        credential, until = (int(one[:_LONGEST_NUMBER] or "0", 16) for one in (number, ends))
    except ValueError as exc:
        raise NotThere("link") from exc
    holder = holders.find(conn, CredentialId(credential))
    if (
        holder is None
        or until < now
        or not hmac.compare_digest(mark.encode(), _mark(keys, holder, until).encode())
    ):
        raise NotThere("link")
    return holder


def make_void(tx: Tx, holder: Holder) -> None:
    """Links that were given out before lead nowhere any more."""
    check_theirs(tx, holder.credential)
    holders.count_link(tx.conn, holder.credential)
    facts: Facts = {"name": holder.name, "voucher": holder.credential}
    tx.log("key_link_voided", network=holder.network, facts=facts)


def _mark(keys: KeyRing, holder: Holder, until: int) -> str:
    message = f"key page {holder.credential} {holder.link_stamp} {until}".encode()
    return hmac.digest(keys.token_key, message, "sha256")[:_MARK_OCTETS].hex()
