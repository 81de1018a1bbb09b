"""What kept us from another side, in words."""

import os
import ssl


def os_words(error: OSError) -> str:
    """`connection refused`: in the system's words, which are the same whatever loop runs."""
    return os.strerror(error.errno).lower() if error.errno else " ".join(str(error).split())


def tls_fault(error: BaseException | None) -> str | None:
    """What is wrong with its certificate or its TLS, if that is what kept us away."""
    while error is not None:
        if isinstance(error, ssl.SSLCertVerificationError):
            return str(error.verify_message).rstrip(".")
        if isinstance(error, ssl.SSLError):
            return str(error.reason or error).replace("_", " ").lower()
        error = error.__cause__ or error.__context__
    return None


def os_fault(error: BaseException | None) -> str | None:
    """What the system said, where that is what a library's error came of."""
    while error is not None:
        if isinstance(error, OSError) and error.errno:
            return os_words(error)
        error = error.__cause__ or error.__context__
    return None
