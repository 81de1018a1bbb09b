"""The certificate of the console and the guest page: read from files, and read again when they change."""

import ssl
from dataclasses import dataclass
from pathlib import Path

from cryptography import x509

_Stamp = tuple[tuple[int, int], tuple[int, int]]


@dataclass(frozen=True, slots=True)
class CertificateFacts:
    """What a certificate says of itself."""

    names: tuple[str, ...]
    """Host names, one of them perhaps with a star, and addresses."""
    ends: float
    """UTC epoch seconds."""

    def fits(self, host: str) -> bool:
        """RFC 9525 section 6.3: a star stands for the whole of the leftmost label, and for nothing else."""
        wanted = host.lower().rstrip(".")
        _, _, rest = wanted.partition(".")
        return any(name in (wanted, f"*.{rest}" if rest else wanted) for name in self.names)


class Certificate:
    """Files in PEM: the certificate with those above it, and its key. One context for all connections."""

    def __init__(self, file: Path, key: Path) -> None:
        """OSError, ssl.SSLError or ValueError when they cannot be used."""
        self.file, self.key = file, key
        self.context = _new_context()
        self.fault: str | None = None
        """Why the files as they are now cannot be used; those before them are in use."""
        self._stamp: _Stamp | None = None
        self.facts = self._load()

    def look(self) -> None:
        """Takes in files that were changed; connections that are open stay as they are."""
        try:
            if self._stamp_now() != self._stamp:
                self.facts = self._load()
            self.fault = None
        except (OSError, ssl.SSLError, ValueError) as exc:
            self.fault = str(exc) or type(exc).__name__

    def _load(self) -> CertificateFacts:
        stamp = self._stamp_now()
        facts = _read(self.file.read_bytes())
        _new_context().load_cert_chain(self.file, self.key)  # what does not go together leaves ours as it is
        self.context.load_cert_chain(self.file, self.key)
        self._stamp = stamp
        return facts

    def _stamp_now(self) -> _Stamp:
        one, other = self.file.stat(), self.key.stat()
        return (one.st_mtime_ns, one.st_size), (other.st_mtime_ns, other.st_size)


def _new_context() -> ssl.SSLContext:
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.minimum_version = ssl.TLSVersion.TLSv1_2
    context.set_alpn_protocols(["http/1.1"])
    return context


def _read(pem: bytes) -> CertificateFacts:
    own = x509.load_pem_x509_certificates(pem)[0]
    names: list[str] = []
    try:
        found = own.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except x509.ExtensionNotFound:
        found = x509.SubjectAlternativeName([])
    names += [name.lower() for name in found.get_values_for_type(x509.DNSName)]
    names += [str(address) for address in found.get_values_for_type(x509.IPAddress)]
    return CertificateFacts(tuple(names), own.not_valid_after_utc.timestamp())
