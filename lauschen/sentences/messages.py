"""The message templates that come with the product, which a house may replace by its own."""

from collections.abc import Mapping
from functools import cache

from lauschen.core.messages.message import Channel, Kind
from lauschen.core.messages.template import Template, TemplateKey
from lauschen.sentences.catalogue import LANGUAGES, sentences

_SENT: Mapping[Kind, tuple[Channel, ...]] = {
    Kind.PASS: (Channel.MAIL, Channel.TEXT),
    Kind.ACCOUNT: (Channel.MAIL, Channel.TEXT),
    Kind.PASSPHRASE: (Channel.MAIL, Channel.TEXT),
    Kind.CONFIRM: (Channel.MAIL, Channel.TEXT),
    Kind.REGISTERED: (Channel.SYSLOG,),
    Kind.TEST: (Channel.MAIL, Channel.TEXT),
    Kind.PASSCODE: (Channel.MAIL, Channel.TEXT),
    Kind.ASKED: (Channel.MAIL,),
    Kind.REMINDER: (Channel.MAIL,),
    Kind.OWN_PAGE: (Channel.MAIL,),
    Kind.INVITED: (Channel.MAIL,),
    Kind.NOT_VOUCHED: (Channel.MAIL, Channel.TEXT),
    Kind.HOST_ASKED: (Channel.SYSLOG,),
    Kind.HOST_SAID_YES: (Channel.SYSLOG,),
    Kind.HOST_SAID_NO: (Channel.SYSLOG,),
    Kind.HOST_SILENT: (Channel.SYSLOG,),
}
"""How each kind of message is sent."""


@cache
def own_templates() -> Mapping[TemplateKey, Template]:
    """Return the template of every message in every language.

    A line whose every word is empty is left out when it is filled in, so one template serves with and without it.
    """
    return {
        (kind, channel, lang): _template(kind, channel, lang)
        for kind, channels in _SENT.items()
        for channel in channels
        for lang in LANGUAGES
    }


def _template(kind: Kind, channel: Channel, lang: str) -> Template:
    words = sentences("messages", lang)
    return Template(words.find(f"{kind}.{channel}.subject"), words[f"{kind}.{channel}.body"])
