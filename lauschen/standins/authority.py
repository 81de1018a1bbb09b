"""A certificate authority of nobody, for stand-ins that speak TLS."""

import ssl
import tempfile
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from ipaddress import ip_address
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID


@dataclass(frozen=True, slots=True)
class StandInTls:
    """What a stand-in serves with, and what its clients must trust."""

    context: ssl.SSLContext
    authority: str
    """PEM."""


def make_tls(names: tuple[str, ...], *, days: int = 30) -> StandInTls:
    """A certificate for host names and addresses, by an authority made for it alone. `days` below 0: it is over."""
    root_key, key = ec.generate_private_key(ec.SECP256R1()), ec.generate_private_key(ec.SECP256R1())
    root_name = _name("Stand-in authority")
    usage = x509.KeyUsage(
        digital_signature=False,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        key_cert_sign=True,
        crl_sign=True,
        encipher_only=False,
        decipher_only=False,
    )
    root = (
        _builder(root_name, root_name, root_key.public_key(), days=max(days, 30))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(usage, critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(root_key.public_key()), critical=False)
        .sign(root_key, hashes.SHA256())
    )
    issuer = x509.AuthorityKeyIdentifier.from_issuer_public_key(root_key.public_key())
    certificate = (
        _builder(_name(names[0]), root_name, key.public_key(), days=days)
        .add_extension(x509.SubjectAlternativeName([_general(name) for name in names]), critical=False)
        .add_extension(issuer, critical=False)
        .sign(root_key, hashes.SHA256())
    )
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.minimum_version = ssl.TLSVersion.TLSv1_2
    pem = serialization.Encoding.PEM
    private = key.private_bytes(pem, serialization.PrivateFormat.PKCS8, serialization.NoEncryption())
    with tempfile.NamedTemporaryFile() as file:  # only its owner can read it, and it is gone at once
        file.write(private + certificate.public_bytes(pem))
        file.flush()
        context.load_cert_chain(Path(file.name))
    return StandInTls(context, root.public_bytes(pem).decode())


def _builder(
    name: x509.Name, issuer: x509.Name, key: ec.EllipticCurvePublicKey, *, days: int
) -> x509.CertificateBuilder:
    now = datetime.now(UTC)
    return (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(issuer)
        .public_key(key)
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=60))
        .not_valid_after(now + timedelta(days=days))
    )


def _name(text: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, text)])


def _general(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ip_address(name))
    except ValueError:
        return x509.DNSName(name)
