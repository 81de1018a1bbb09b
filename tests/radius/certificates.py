"""An authority of the tests' own, and certificates that it signs."""

import datetime
import hashlib
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec

NOW = datetime.datetime.now(datetime.UTC)


def _name(text: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(x509.NameOID.COMMON_NAME, text)])


class Authority:
    """Signs for as many names as a test needs."""

    def __init__(self, folder: Path, name: str = "Hollerau authority") -> None:
        self.folder = folder
        self._key = ec.generate_private_key(ec.SECP256R1())
        self._name = _name(name)
        self.file = folder / f"{name.replace(' ', '-')}.pem"
        certificate = self._build(self._name, self._key.public_key(), None, is_authority=True)
        self.file.write_bytes(certificate.public_bytes(serialization.Encoding.PEM))

    def issue(self, name: str) -> tuple[Path, Path, str]:
        """Certificate, key, and the SHA-256 fingerprint in hex."""
        key = ec.generate_private_key(ec.SECP256R1())
        certificate = self._build(_name(name), key.public_key(), name, is_authority=False)
        cert_file, key_file = self.folder / f"{name}.pem", self.folder / f"{name}.key"
        cert_file.write_bytes(certificate.public_bytes(serialization.Encoding.PEM))
        key_file.write_bytes(
            key.private_bytes(
                serialization.Encoding.PEM,
                serialization.PrivateFormat.PKCS8,
                serialization.NoEncryption(),
            )
        )
        fingerprint = hashlib.sha256(certificate.public_bytes(serialization.Encoding.DER)).hexdigest()
        return cert_file, key_file, fingerprint

    def _build(
        self, subject: x509.Name, key: ec.EllipticCurvePublicKey, san: str | None, *, is_authority: bool
    ) -> x509.Certificate:
        builder = (
            x509.CertificateBuilder()
            .subject_name(subject)
            .issuer_name(self._name)
            .public_key(key)
            .serial_number(x509.random_serial_number())
            .not_valid_before(NOW - datetime.timedelta(days=1))
            .not_valid_after(NOW + datetime.timedelta(days=30))
            .add_extension(x509.BasicConstraints(ca=is_authority, path_length=None), critical=True)
        )
        if san is not None:
            builder = builder.add_extension(x509.SubjectAlternativeName([x509.DNSName(san)]), critical=False)
        return builder.sign(self._key, hashes.SHA256())
