"""Texts of the house: the rules that guests agree to, the privacy notice, the consent to be written to."""

from collections.abc import Mapping

from lauschen.core.config.site_text import SiteText, TextKind
from lauschen.core.errors import Invalid
from lauschen.road.tx import Tx
from lauschen.store.config import texts as stored

LONGEST: Mapping[TextKind, int] = {TextKind.RULES: 20_000, TextKind.PRIVACY: 20_000, TextKind.CONSENT: 400}


def write_text(tx: Tx, kind: TextKind, texts: Mapping[str, str]) -> int:
    """A new version, unless nothing was changed; what was agreed to before stays readable."""
    kept = {lang: text.strip() for lang, text in texts.items() if text.strip()}
    if any(len(text) > LONGEST[kind] for text in kept.values()):
        raise Invalid("house_text_long", field="texts", mend=f"At most {LONGEST[kind]} letters each.")
    before = text_of(tx, kind)
    if dict(before.texts) == kept:
        return before.version
    version = stored.save_text(tx.conn, kind, kept, tx.now)
    if kind is TextKind.RULES:
        tx.log("house_rules_written", facts={"version": version})
    else:
        tx.log("house_text_written", facts={"version": version, "name": kind})
    return version


def text_of(tx: Tx, kind: TextKind) -> SiteText:
    """As in force."""
    config = tx.config
    return {
        TextKind.RULES: config.house_rules,
        TextKind.PRIVACY: config.privacy,
        TextKind.CONSENT: config.consent,
    }[kind]
