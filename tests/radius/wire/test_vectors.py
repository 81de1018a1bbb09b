"""RFC 2865 sections 7.1 and 7.2, byte for byte, at codec level (the server drops them: they are unsigned)."""

from lauschen.radius.wire import attributes
from lauschen.radius.wire.codec import Packet, encode, encode_attributes, parse
from lauschen.radius.wire.numbers import Code, Kind
from lauschen.radius.wire.signing import Secret, chap_matches

SECRET = Secret(b"xyzzy5461")
PAP_REQUEST = bytes.fromhex(
    "01000038 0f403f94739780 57bd83d5cb98f4227a 01066e656d6f"
    "02120dbe708d93d413ce3196e43f782a0aee 0406c0a80110 050600000003"
)
PAP_ACCEPT = bytes.fromhex("02000026 86fe220e7624ba2a1005f6bf9b55e0b2 060600000001 0f0600000000 0e06c0a80103")
CHAP_REQUEST = bytes.fromhex(
    "01010047 2aee86f08d0d55969ca5978e0d3367a2 0108666c6f707379"
    "031316e97557c316185895f293ff6344077275 0406c0a80110 050600000014 060600000002 070600000001"
)
CHAP_ACCEPT = bytes.fromhex(
    "02010038 15efbc7dab26cfa3dc34d9c03c8601a4 060600000002 070600000001"
    "0806fffffffe 0a0600000002 0d0600000001 0c06000005dc"
)


def test_pap_request_is_read_and_written() -> None:
    request = parse(PAP_REQUEST)
    assert request.text(Kind.USER_NAME) == "nemo"
    assert SECRET.reveal(request.first(Kind.USER_PASSWORD) or b"", request.authenticator) == b"arctangent"
    rebuilt = Packet(
        Code.ACCESS_REQUEST,
        0,
        request.authenticator,
        [
            (Kind.USER_NAME, b"nemo"),
            (Kind.USER_PASSWORD, SECRET.hide(b"arctangent", request.authenticator)),
            (Kind.NAS_IP_ADDRESS, bytes((192, 168, 1, 16))),
            (Kind.NAS_PORT, (3).to_bytes(4, "big")),
        ],
    )
    assert encode(rebuilt) == PAP_REQUEST


def test_pap_accept_is_written() -> None:
    body = attributes.integer(6, 1) + attributes.integer(15, 0) + attributes.address(14, "192.168.1.3")
    assert SECRET.reply(Code.ACCESS_ACCEPT, parse(PAP_REQUEST), body, signed=False) == PAP_ACCEPT
    assert SECRET.is_reply_to(parse(PAP_ACCEPT), parse(PAP_REQUEST).authenticator)


def test_chap_request_is_read_and_written() -> None:
    request = parse(CHAP_REQUEST)
    assert request.text(Kind.USER_NAME) == "flopsy"
    response = request.first(Kind.CHAP_PASSWORD) or b""
    assert chap_matches(response, request.authenticator, b"arctangent")
    assert not chap_matches(response, request.authenticator, b"arctangents")
    assert encode(request) == CHAP_REQUEST


def test_chap_accept_is_written() -> None:
    body = encode_attributes(
        [
            (6, bytes((0, 0, 0, 2))),
            (7, bytes((0, 0, 0, 1))),
            (8, b"\xff\xff\xff\xfe"),
            (10, bytes((0, 0, 0, 2))),
            (13, bytes((0, 0, 0, 1))),
            (12, (1500).to_bytes(4, "big")),
        ]
    )
    assert SECRET.reply(Code.ACCESS_ACCEPT, parse(CHAP_REQUEST), body, signed=False) == CHAP_ACCEPT
