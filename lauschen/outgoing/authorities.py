"""The certificate authorities that may vouch for a server."""

import ssl
from functools import lru_cache

from lauschen.core.errors import Invalid


@lru_cache(maxsize=8)
def context_for(authority: str) -> ssl.SSLContext:
    """Reading the system's authorities takes some 80 ms, without the interpreter's lock."""
    try:
        context = ssl.create_default_context(cadata=authority or None)
    except ssl.SSLError as exc:
        raise Invalid("authority", field="authority", mend="Certificates in PEM form are needed.") from exc
    context.minimum_version = ssl.TLSVersion.TLSv1_2
    return context
