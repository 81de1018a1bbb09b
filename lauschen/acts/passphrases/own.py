"""What holders do themselves, on their own page."""

from lauschen.acts.passphrases.changing import renew, take_off, take_on_again
from lauschen.acts.passphrases.links import holder_by_link
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import Mac
from lauschen.road.tx import Tx
from lauschen.store.passphrases import keys
from lauschen.store.passphrases.holders import Holder
from lauschen.store.passphrases.keys import NewKey

DAY_S = 86_400.0
MOST_IN_A_DAY = 5
OVERLAPS_S = (0, 3600, 86_400, 7 * 86_400)
"""How long the passphrase before may hold."""


def check_may_renew(tx_now: float, made: list[float]) -> None:
    """Invalid when somebody made many of late; their page is for the day a phone is lost, not for a game."""
    if sum(tx_now - at < DAY_S for at in made) >= MOST_IN_A_DAY:
        raise Invalid("key_many", field="act", mend=f"{MOST_IN_A_DAY} new ones in a day are enough.")


def renew_own(tx: Tx, link: str, new: NewKey, overlap_s: int) -> None:
    """NotThere: no such link."""
    holder = holder_by_link(tx.conn, tx.keys, link, tx.now)
    if overlap_s not in OVERLAPS_S:
        raise Invalid("overlap", field="overlap", mend="One of those that are offered.")
    check_may_renew(tx.now, [key.made_at for key in keys.times_of(tx.conn, holder.credential)])
    renew(tx, holder.credential, new, overlap_s)


def turn_device(tx: Tx, link: str, mac: Mac, act: str) -> None:
    """`take_off`, or `take_on` again."""
    holder = holder_by_link(tx.conn, tx.keys, link, tx.now)
    if act == "take_off":
        take_off(tx, holder.credential, mac)
    elif act == "take_on":
        take_on_again(tx, holder.credential, mac)
    else:
        raise NotThere("act")


def shown_to(tx: Tx, link: str) -> tuple[Holder, str]:
    """Whose page it is, and the passphrase that holds; the record says that it was looked at."""
    holder = holder_by_link(tx.conn, tx.keys, link, tx.now)
    key = keys.newest_key(tx.conn, tx.keys, holder.credential, tx.now)
    if key is None:
        raise NotThere("passphrase")
    tx.log(
        "passphrase_revealed",
        network=holder.network,
        facts={"name": holder.name, "voucher": holder.credential, "how": "shown"},
    )
    return holder, key.text
