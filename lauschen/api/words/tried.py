"""Devices that tried a passphrase that does not work."""

from lauschen.api.words.speaker import Speaker
from lauschen.core.words.text import visible
from lauschen.sentences.catalogue import sentences
from lauschen.store.passphrases.wrong import WrongKey


def tried_words(speaker: Speaker, one: WrongKey) -> str:
    """Return how often a device tried such a passphrase, and whose it was, if it was anybody's."""
    variant, time = _variant(one)
    facts = {
        "place": speaker.place(one.access_device),
        "name": visible(one.holder or ""),
        "time": "" if time is None else speaker.clock(time),
    }
    return sentences("log", speaker.lang).count(f"tried{variant}", one.tries, **facts)


def _variant(one: WrongKey) -> tuple[str, float | None]:
    """Which sentence it is, and the moment that it names."""
    if one.holder is None:
        return "", None
    if one.withdrawn_at is not None:
        return ".withdrawn", one.withdrawn_at
    if one.ended_at is None and one.paused_at is not None:
        return ".paused", one.paused_at
    return (".old", None) if one.ended_at is None else (".ended", one.ended_at)
