"""Numbers on the wire, from the RFCs named at each."""

from enum import IntEnum


class Code(IntEnum):
    """Packet codes: RFC 2865 section 4, RFC 2866 section 4, RFC 5176 section 2.3, RFC 5997 section 3."""

    ACCESS_REQUEST = 1
    ACCESS_ACCEPT = 2
    ACCESS_REJECT = 3
    ACCOUNTING_REQUEST = 4
    ACCOUNTING_RESPONSE = 5
    ACCESS_CHALLENGE = 11
    STATUS_SERVER = 12
    DISCONNECT_REQUEST = 40
    DISCONNECT_ACK = 41
    DISCONNECT_NAK = 42
    COA_REQUEST = 43
    COA_ACK = 44
    COA_NAK = 45


class Kind(IntEnum):
    """Attribute numbers: RFC 2865, 2866, 2868, 2869, 3162, 4372, 5176."""

    USER_NAME = 1
    USER_PASSWORD = 2
    CHAP_PASSWORD = 3
    NAS_IP_ADDRESS = 4
    NAS_PORT = 5
    SERVICE_TYPE = 6
    FRAMED_IP_ADDRESS = 8
    FILTER_ID = 11
    REPLY_MESSAGE = 18
    STATE = 24
    CLASS = 25
    VENDOR_SPECIFIC = 26
    SESSION_TIMEOUT = 27
    IDLE_TIMEOUT = 28
    TERMINATION_ACTION = 29
    CALLED_STATION_ID = 30
    CALLING_STATION_ID = 31
    NAS_IDENTIFIER = 32
    PROXY_STATE = 33
    ACCT_STATUS_TYPE = 40
    ACCT_DELAY_TIME = 41
    ACCT_INPUT_OCTETS = 42
    ACCT_OUTPUT_OCTETS = 43
    ACCT_SESSION_ID = 44
    ACCT_SESSION_TIME = 46
    ACCT_TERMINATE_CAUSE = 49
    ACCT_MULTI_SESSION_ID = 50
    ACCT_INPUT_GIGAWORDS = 52
    ACCT_OUTPUT_GIGAWORDS = 53
    EVENT_TIMESTAMP = 55
    CHAP_CHALLENGE = 60
    NAS_PORT_TYPE = 61
    TUNNEL_TYPE = 64
    TUNNEL_MEDIUM_TYPE = 65
    TUNNEL_PASSWORD = 69
    EAP_MESSAGE = 79
    MESSAGE_AUTHENTICATOR = 80
    TUNNEL_PRIVATE_GROUP_ID = 81
    ACCT_INTERIM_INTERVAL = 85
    NAS_PORT_ID = 87
    CHARGEABLE_USER_IDENTITY = 89
    NAS_FILTER_RULE = 92
    NAS_IPV6_ADDRESS = 95
    ERROR_CAUSE = 101


class ServiceType(IntEnum):
    """RFC 2865 section 5.6, RFC 5176 section 3."""

    CALL_CHECK = 10
    AUTHORIZE_ONLY = 17


class TerminationAction(IntEnum):
    """RFC 2865 section 5.29."""

    DEFAULT = 0
    RADIUS_REQUEST = 1


class StatusType(IntEnum):
    """Acct-Status-Type, RFC 2866 section 5.1."""

    START = 1
    STOP = 2
    INTERIM_UPDATE = 3
    ON = 7
    OFF = 8


class ErrorCause(IntEnum):
    """RFC 5176 section 3.5 (those that are told apart)."""

    MISSING_ATTRIBUTE = 402
    NAS_IDENTIFICATION_MISMATCH = 403
    UNSUPPORTED_SERVICE = 405
    SESSION_CONTEXT_NOT_FOUND = 503
    REQUEST_INITIATED = 507


TERMINATE_CAUSES = {
    1: "user_request",
    2: "lost_carrier",
    3: "lost_service",
    4: "idle_timeout",
    5: "session_timeout",
    6: "admin_reset",
    7: "admin_reboot",
    10: "nas_request",
    11: "nas_reboot",
}
"""Acct-Terminate-Cause, RFC 2866 section 5.10 (those that are worded)."""
