"""What was issued, sent to whom it is for: its words, and where it may go."""

from dataclasses import dataclass

from lauschen.acts.messages.writing import write_message
from lauschen.acts.passphrases.links import link_to
from lauschen.core.errors import Invalid
from lauschen.core.ids import CredentialId, Mac, MessageId, NetworkId
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.core.messages.templates import QR
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.codes import shown_code
from lauschen.core.words.slip import page_words, slip_address, wifi_by_key
from lauschen.road.tx import Tx
from lauschen.sentences.slips import limits_of, slip_networks
from lauschen.store import batches, credentials
from lauschen.store.batches import Said
from lauschen.store.credentials import Issued
from lauschen.store.passphrases import holders, keys


@dataclass(frozen=True, slots=True)
class Address:
    """Where something is sent, and in which language."""

    channel: Channel
    to: str
    lang: str


def send_issued(
    tx: Tx,
    credential: CredentialId,
    address: Address,
    password: str = "",
    *,
    mac: Mac | None = None,
    network: NetworkId | None = None,
) -> MessageId:
    """By mail or text message. `password`: of an account, where it is known, which is when it is set.

    `mac`, `network`: of the guest who asked for it, whose budgets count.
    """
    issued = credentials.get_issued(tx.conn, tx.keys, credential)
    if issued.grant.use.withdrawn_at is not None:
        raise Invalid("withdrawn", field="to", mend="It was withdrawn, and lets nobody in.")
    kind, words = words_of(tx, issued, address.lang, password)
    name = words["name"]
    if mac is not None:
        words["name"] = ""  # whose address it is nobody knows: a stranger could write to them through us
    draft = Draft(address.channel, kind, address.lang, address.to, words, About(credential, mac, network))
    written = write_message(tx, draft)
    tx.log(
        "message_written",
        mac=mac,
        network=network,
        facts={"channel": address.channel, "about": kind, "name": name},
    )
    return written


def words_of(tx: Tx, issued: Issued, lang: str, password: str = "") -> tuple[Kind, dict[str, str]]:
    """What a message about it says."""
    config, grant = tx.config, issued.grant
    said = Said() if issued.batch is None else batches.get_batch(tx.conn, issued.batch).said
    words = {
        "name": issued.code if grant.way is WayIn.PASSPHRASE else said.label,
        "words": said.words,
        "wifi": slip_networks(config, grant.way, lang, grant.network),
        "limits": limits_of(config, config.plan_of(grant), grant, lang),
        "page": page_words(config),
        "site": config.site_name,
    }
    if grant.way is WayIn.PASSPHRASE:
        return Kind.PASSPHRASE, words | _passphrase(tx, issued.id)
    if grant.way is WayIn.ACCOUNT:
        return Kind.ACCOUNT, words | {"login": issued.code, "password": password}
    code = shown_code(issued.code, is_chosen=issued.is_chosen)
    qr = {} if issued.is_chosen else {QR: slip_address(config, issued.code)}
    return Kind.PASS, words | {"code": code} | qr


def _passphrase(tx: Tx, credential: CredentialId) -> dict[str, str]:
    """The text and the QR code that joins by it. Invalid when none holds."""
    key = keys.newest_key(tx.conn, tx.keys, credential, tx.now)
    if key is None:
        raise Invalid("passphrase_over", field="to", mend="Its passphrase does not hold any more.")
    holder = holders.find(tx.conn, credential)
    assert holder is not None
    network = tx.config.networks.get(key.network)
    if network is None:
        raise Invalid("passphrase_over", field="to", mend="Its network is not there any more.")
    joins = wifi_by_key(network, key.text)
    page = link_to(tx.keys, tx.config, holder, tx.now)
    # Without a link its line is left out.
    return {"passphrase": key.text, QR: joins} | ({} if page is None else {"link": page})
