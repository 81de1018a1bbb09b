"""What Now says of passphrases: devices that go on trying one that does not hold."""

from sqlite3 import Connection

from lauschen.api.now.models import Attention
from lauschen.api.words.speaker import Speaker
from lauschen.api.words.staying import tried_words
from lauschen.core.words.mac import spell_mac
from lauschen.store.passphrases import wrong

WITHIN_S = 3600.0
MANY = 10
MOST = 3


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
        )
        for one in found[:MOST]
    ]
