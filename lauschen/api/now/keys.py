"""What Now says of passphrases: devices that try wrong ones, and access devices that ask for too many."""

from sqlite3 import Connection

from lauschen.api.now.models import Attention
from lauschen.api.words.speaker import Speaker
from lauschen.api.words.tried import tried_words
from lauschen.core.passphrases.strangers import NEW_DEVICES, NEW_DEVICES_S, SHOWN_KEYS
from lauschen.core.words.mac import spell_mac
from lauschen.store.passphrases import strangers, wrong
from lauschen.store.passphrases.strangers import Limit

WITHIN_S = 3600.0
MANY = 10
MOST = 3
MANY_WORDS = {
    Limit.NEW_DEVICES: f"asked about more than {NEW_DEVICES} new devices in ten minutes",
    Limit.SHOWN: f"was given {SHOWN_KEYS} passphrases to try within an hour",
    Limit.HANDSHAKES: "sends more wrong handshakes than can be looked for",
}
_NO_MORE = "For a while it is sent no more."
MEANWHILE = {
    Limit.NEW_DEVICES: _NO_MORE,
    Limit.SHOWN: _NO_MORE,
    Limit.HANDSHAKES: "New devices there may need several attempts; those that joined before come first.",
}


def keys_tried(conn: Connection, speaker: Speaker) -> list[Attention]:
    """Of the last hour, whoever tried often; each is one device, which harms nobody else."""
    found = [one for one in wrong.wrong_since(conn, speaker.now - WITHIN_S, 200) if one.tries >= MANY]
    return [
        Attention(
            kind="keys",
            grave=False,
            text=f"{spell_mac(one.mac)} {tried_words(speaker, one)}.",
            mend="Let them forget the Wi-Fi and type the passphrase anew.",
            link="/passphrases",
            network=one.network,
            mac=spell_mac(one.mac),
        )
        for one in found[:MOST]
    ]


def strangers_many(conn: Connection, speaker: Speaker) -> list[Attention]:
    """Access devices that asked by address for more than they get, a moment ago."""
    return [
        Attention(
            kind="strangers_many",
            grave=True,
            text=f"{speaker.place(one.access_device)} {MANY_WORDS[one.what]} on {speaker.network(one.network)}.",
            mend=f"{MEANWHILE[one.what]} If nobody is moving in, it may be lying: take the network off its list, and"
            " look at that device.",
            link=f"/networks?device={one.access_device}",
            network=one.network,
        )
        for one in strangers.reached_since(conn, speaker.now - NEW_DEVICES_S, MOST)
    ]
