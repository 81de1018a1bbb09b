"""A mail as octets: plain text first, the same words in HTML, and a QR code. Made in the worker process."""

import io
from dataclasses import dataclass
from datetime import UTC, datetime
from email.headerregistry import Address
from email.message import EmailMessage
from email.policy import SMTP
from email.utils import format_datetime

import segno

from lauschen.core.errors import Invalid
from lauschen.core.messages.templates import Rendered
from lauschen.core.words.text import visible

_PAGE = (
    '<!doctype html><html lang="{lang}"><head><meta charset="utf-8">'
    '<meta name="viewport" content="width=device-width"></head>'
    '<body style="margin:0;padding:1em;background:#faf7f2;color:#17121a;font:1rem/1.5 sans-serif">'
    '<div style="max-width:34em">{html}{qr}</div></body></html>'
)
_QR = '<p><img src="cid:{cid}" width="168" height="168" alt="{alt}"></p>'
_QR_WORDS = {"en": "QR code of the page with your code", "de": "QR-Code der Seite mit Ihrem Code"}


@dataclass(frozen=True, slots=True)
class Letter:
    """What a mail is made of."""

    sender: str
    sender_name: str
    to: str
    mark: str
    written_at: float
    lang: str
    rendered: Rendered
    qr: str = ""
    """What a QR code in it says; empty: there is none."""


def header_text(text: str) -> str:
    """Return text that is the same to everybody who reads the header: no control, and no encoded word.

    What is said in a header is decoded when it is written (RFC 2047), so an encoded line break would begin another
    header. rulings 9.13
    """
    return visible(text).replace("=?", "= ?")


def compose(letter: Letter) -> bytes:
    """The same octets in each try: its Message-ID and Date are those of the message, not of the try.

    Invalid for an address that would be decoded where it is written.
    """
    for address in (letter.sender, letter.to):
        if address != header_text(address):
            raise Invalid("mail_form", field="mail", mend="That is no mail address.")
    mail = EmailMessage(policy=SMTP)
    name, _, domain = letter.sender.rpartition("@")
    mail["From"] = Address(header_text(letter.sender_name), name, domain)
    mail["To"] = letter.to
    mail["Subject"] = header_text(letter.rendered.subject)
    mail["Date"] = format_datetime(datetime.fromtimestamp(letter.written_at, UTC))
    mail["Message-ID"] = f"<{letter.mark}@{domain}>"
    mail["Content-Language"] = letter.lang
    # RFC 3834 section 5: nobody's holiday answers to it.
    mail["Auto-Submitted"] = "auto-generated"
    mail.set_content(letter.rendered.plain)
    cid = f"{letter.mark}.qr@{domain}"
    qr = _QR.format(cid=cid, alt=_QR_WORDS.get(letter.lang, _QR_WORDS["en"])) if letter.qr else ""
    mail.add_alternative(_PAGE.format(lang=letter.lang, html=letter.rendered.html, qr=qr), subtype="html")
    if letter.qr:
        picture = io.BytesIO()
        segno.make(letter.qr, error="m", micro=False).save(picture, kind="png", scale=6, border=2)
        html = mail.get_payload()[1]  # type: ignore[index]
        html.add_related(picture.getvalue(), "image", "png", cid=f"<{cid}>")  # type: ignore[union-attr]
    return mail.as_bytes()
