"""A guest agrees to be written to."""

from collections.abc import Mapping

from lauschen.core.ids import CredentialId
from lauschen.core.ways.offers.fields import MAIL, NAME, PHONE
from lauschen.road.tx import Tx
from lauschen.store.messages import consents
from lauschen.store.visits import Visit


def note_consent(
    tx: Tx,
    visit: Visit,
    answers: Mapping[str, str],
    *,
    ticked: int | None,
    lang: str,
    credential: CredentialId | None = None,
) -> None:
    """`ticked`: the version of the words that stood at the box. Of words that are not in force nothing is noted."""
    text = tx.config.consent
    said = {key: answers[key] for key in (NAME, MAIL, PHONE) if answers.get(key)}
    if ticked is None or ticked != text.version or not text.texts or not {MAIL, PHONE} & said.keys():
        return
    spoken = text.language(lang) or lang
    consents.add_consent(
        tx.conn, tx.keys, version=text.version, lang=spoken, mac=visit.mac, network=visit.network, said=said,
        credential=credential, now=tx.now,
    )  # fmt: skip
    tx.log("consented", mac=visit.mac, network=visit.network, facts={"version": text.version})
