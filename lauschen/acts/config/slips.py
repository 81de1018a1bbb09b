"""How slips are printed."""

from lauschen.acts.config.record import changes
from lauschen.core.config.slip_settings import LONGEST_WORDS, SlipSettings
from lauschen.core.errors import Invalid
from lauschen.road.tx import Tx
from lauschen.store.config import slip_settings

LANGS = ("en", "de")


def save_slip_settings(tx: Tx, settings: SlipSettings) -> None:
    """From the next slip on."""
    for lang, words in settings.words.items():
        if lang not in LANGS or len(words) > LONGEST_WORDS:
            raise Invalid(
                "slip_words", field="words", mend=f"Up to {LONGEST_WORDS} letters, in English and German."
            )
    before = slip_settings.load(tx.conn)
    slip_settings.save(tx.conn, settings)
    tx.log("slips_saved", facts=changes(tx.config, before, settings))


def set_logo(tx: Tx, picture: bytes | None) -> None:
    """None: none any more."""
    slip_settings.set_logo(tx.conn, picture)
    if picture is None:
        tx.log("logo_removed")
    else:
        tx.log("logo_saved")
