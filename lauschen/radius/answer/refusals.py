"""What a person who is refused may be shown by the access device: Reply-Message (RFC 2865 section 5.18).

In English: a request does not say which language its guest speaks.
"""

from lauschen.core.decide.reason import Reason
from lauschen.core.limits.tries import BARRED_S
from lauschen.radius.wire import attributes
from lauschen.radius.wire.numbers import Kind
from lauschen.sentences.catalogue import sentences

_WORDS = sentences("radius", "en")


def refusal(reason: Reason) -> bytes:
    """Return the attribute, or nothing when the guest cannot do anything about the reason."""
    text = _WORDS.find(reason)
    return attributes.text(Kind.REPLY_MESSAGE, text.format(minutes=f"{BARRED_S // 60:.0f}")) if text else b""
