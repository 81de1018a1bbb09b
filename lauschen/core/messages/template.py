"""What one message says: a subject and a body with words in braces."""

from dataclasses import dataclass

from lauschen.core.messages.message import Channel, Kind

TemplateKey = tuple[Kind, Channel, str]
"""What about, how it travels, and the language."""


@dataclass(frozen=True, slots=True)
class Template:
    """`subject` is empty where there is none, as in text messages."""

    subject: str
    body: str
