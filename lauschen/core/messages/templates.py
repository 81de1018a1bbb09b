"""What messages say: our own words, and how the house's words take their place."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from html import escape

from lauschen.core.errors import Invalid
from lauschen.core.messages.message import Channel, Kind
from lauschen.core.messages.template import Template
from lauschen.core.words.template import check_template, fill
from lauschen.core.words.text import visible

LONGEST_SUBJECT = 150
LONGEST_BODY = 4000
LONGEST_TEXT = 480
"""Three parts of a text message."""
QR = "qr"
"""The word that no template uses: what a QR code in a mail says."""

_ISSUED = {
    "wifi": "the Wi-Fi where it is good",
    "limits": "its limits, as on the slip",
    "page": "the short plain address of the page",
    "site": "the name of the house",
}
_ASKED = {
    "host": "who is asked",
    "name": "as whom the guest wrote themselves in",
    "mail": "the guest's mail address, if they said it",
    "phone": "the phone number",
    "company": "the company",
    "room": "the room",
    "visiting": "whom they visit",
    "reason": "the reason",
    "more": "what the house asks besides, each with its label",
    "network": "the guest network",
    "link": "the address of the page with yes and no",
    "site": "the name of the house",
}
_ABOUT_HOST = {
    "name": "the guest",
    "host": "who was asked or answered; empty for the desk",
    "device": "the device",
    "network": "the guest network",
    "site": "the name of the house",
}
WORDS: Mapping[Kind, Mapping[str, str]] = {
    Kind.PASS: {
        "words": "what the desk says to this guest, if anything",
        "name": "for whom it is",
        "code": "the code",
        **_ISSUED,
    },
    Kind.ACCOUNT: {
        "words": "what the desk says to this guest, if anything",
        "name": "for whom it is",
        "login": "the name to log in with",
        "password": "the password; its line is left out when it is not known any more",
        **_ISSUED,
    },
    Kind.PASSPHRASE: {
        "words": "what the desk says to this guest, if anything",
        "name": "for whom or what it is",
        "passphrase": "the passphrase",
        "link": "the address of their own page: devices, and a new passphrase; its line is left out without HTTPS",
        "wifi": "the Wi-Fi that it is for",
        "limits": "its limits, as on the slip",
        "site": "the name of the house",
    },
    Kind.CONFIRM: {
        "code": "six digits",
        "link": "the address of the page that confirms",
        "minutes": "how long the first stay is",
        "site": "the name of the house",
    },
    Kind.REGISTERED: {
        "name": "as whom, if they said",
        "network": "the guest network",
        "device": "the device",
        "site": "the name of the house",
    },
    Kind.ASKED: _ASKED,
    Kind.REMINDER: _ASKED,
    Kind.OWN_PAGE: {
        "host": "the host",
        "link": "the address of their page",
        "site": "the name of the house",
    },
    Kind.INVITED: {
        "name": "as whom they sign in",
        "duty": "what they are there for",
        "link": "where they choose a password",
        "site": "the name of the house",
    },
    Kind.NOT_VOUCHED: {
        "word": "what the host says to the guest, if anything",
        "site": "the name of the house",
    },
    Kind.HOST_ASKED: _ABOUT_HOST,
    Kind.HOST_SAID_YES: _ABOUT_HOST,
    Kind.HOST_SAID_NO: _ABOUT_HOST,
    Kind.HOST_SILENT: _ABOUT_HOST,
    Kind.TEST: {"site": "the name of the house"},
    Kind.PASSCODE: {
        "network": "the guest network",
        "code": "the passcode",
        "until": "until when it is good",
        "site": "the name of the house",
    },
}
"""The words in braces that a message of a kind may use."""
_LINKS = frozenset({"page", "link"})
_SECRETS = frozenset({"code", "login", "password", "passphrase"})
_NEEDED = {
    Kind.PASS: "code",
    Kind.ACCOUNT: "login",
    Kind.PASSPHRASE: "passphrase",
    Kind.PASSCODE: "code",
    Kind.TEST: "site",
    Kind.CONFIRM: "link",
    Kind.REGISTERED: "device",
    Kind.ASKED: "link",
    Kind.REMINDER: "link",
    Kind.OWN_PAGE: "link",
    Kind.INVITED: "link",
    Kind.NOT_VOUCHED: "site",
    Kind.HOST_ASKED: "device",
    Kind.HOST_SAID_YES: "device",
    Kind.HOST_SAID_NO: "device",
    Kind.HOST_SILENT: "device",
}
"""Without it a message of that kind is of no use."""
_WORD = re.compile(r"\{([a-z_]+)\}")


@dataclass(frozen=True, slots=True)
class Rendered:
    """A message as it is sent."""

    subject: str
    plain: str
    html: str
    """The same words; empty where only plain text travels."""


def check_message(kind: Kind, channel: Channel, template: Template) -> None:
    """Invalid when it is too long, or uses a word that such a message does not know."""
    known = WORDS[kind]
    longest = LONGEST_TEXT if channel is Channel.TEXT else LONGEST_BODY
    if channel is Channel.MAIL and not template.subject.strip():
        raise Invalid("subject_missing", field="subject", mend="Say what the mail is about.")
    if len(template.subject) > LONGEST_SUBJECT:
        raise Invalid("subject_long", field="subject", mend=f"At most {LONGEST_SUBJECT} signs.")
    if not template.body.strip() or len(template.body) > longest:
        raise Invalid("body_length", field="body", mend=f"1 to {longest} signs.")
    check_template(template.subject, "subject", known)
    check_template(template.body, "body", known)
    if f"{{{_NEEDED[kind]}}}" not in template.body:
        mend = f"It must say {{{_NEEDED[kind]}}}: that is what it is sent for."
        raise Invalid("code_missing", field="body", mend=mend)
    if _SECRETS & set(_WORD.findall(template.subject)):
        mend = (
            "A subject is shown on locked screens. Whether the code stands in it is set at the mail server."
        )
        raise Invalid("secret_in_subject", field="subject", mend=mend)


def render(
    template: Template, channel: Channel, words: Mapping[str, str], *, code_in_subject: bool = False
) -> Rendered:
    """Its words in their places: hidden signs as marks, one line where a line is one, escaped in HTML."""
    shown = {name: visible(value) for name, value in words.items()}
    body = "\n".join(_lines(template.body, shown))
    plain = re.sub(r"\n{3,}", "\n\n", fill(body, shown)).strip() + "\n"
    if channel is not Channel.MAIL:
        return Rendered("", plain.strip(), "")
    subject = " ".join(fill(template.subject, shown).split())
    if code_in_subject and shown.get("code"):
        subject = f"{subject}: {shown['code']}"
    return Rendered(subject, plain, _html(body, shown))


def _lines(body: str, words: Mapping[str, str]) -> list[str]:
    """Those of which something is left: a line that speaks only of words that are empty is dropped."""
    kept = []
    for line in body.split("\n"):
        named = _WORD.findall(line)
        if not named or any(words.get(word) for word in named):
            kept.append(line)
    return kept


def _html(body: str, words: Mapping[str, str]) -> str:
    paragraphs = re.split(r"\n{2,}", escape(body, quote=False).strip())
    marked = {name: _marked(name, value) for name, value in words.items()}
    return "".join(f"<p>{fill(part, marked)}</p>".replace("\n", "<br>") for part in paragraphs)


def _marked(name: str, value: str) -> str:
    text = escape(value)
    if name in _SECRETS and text:
        return f'<strong style="font:700 1.5em/1.4 monospace">{text}</strong>'
    if name in _LINKS and text:
        target = text if text.startswith(("http://", "https://")) else f"http://{text}"
        return f'<a href="{target}">{text}</a>'
    return text
