"""What each attribute number means: its name, how its octets are read, and the words of its values.

Sources: RFC 2865, 2866, 2868, 2869, 3162, 3576/5176, 3580, 4372, 4675, 4818, 4849, 6911, 6929, 7268. Nothing of
one vendor is in here: a house enters those in its dialects.
"""

from dataclasses import dataclass, field
from enum import StrEnum


class Form(StrEnum):
    """How the octets of a value are read (RFC 8044 names most of these)."""

    TEXT = "text"
    OCTETS = "octets"
    INTEGER = "integer"
    INTEGER64 = "integer64"
    ADDRESS = "address"
    ADDRESS6 = "address6"
    PREFIX6 = "prefix6"
    INTERFACE6 = "interface6"
    TIME = "time"
    TAGGED_INTEGER = "tagged_integer"
    TAGGED_TEXT = "tagged_text"
    SALTED = "salted"
    VENDOR = "vendor"
    JOINED = "joined"
    """A value longer than one attribute holds: its pieces are joined in order."""
    EXTENDED = "extended"
    """RFC 6929: kept whole."""


@dataclass(frozen=True, slots=True)
class Known:
    """One attribute of an RFC."""

    name: str
    form: Form
    values: dict[int, str] = field(default_factory=dict)
    is_secret: bool = False
    """Blanked before a packet is recorded (rulings 3.16)."""


_SERVICE = {
    1: "Login", 2: "Framed", 3: "Callback-Login", 4: "Callback-Framed", 5: "Outbound", 6: "Administrative",
    7: "NAS-Prompt", 8: "Authenticate-Only", 9: "Callback-NAS-Prompt", 10: "Call-Check",
    11: "Callback-Administrative", 17: "Authorize-Only",
}  # fmt: skip
_STATUS = {1: "Start", 2: "Stop", 3: "Interim-Update", 7: "Accounting-On", 8: "Accounting-Off"}
_AUTHENTIC = {1: "RADIUS", 2: "Local", 3: "Remote"}
_TERMINATION = {0: "Default", 1: "RADIUS-Request"}
_CAUSE = {
    1: "User-Request", 2: "Lost-Carrier", 3: "Lost-Service", 4: "Idle-Timeout", 5: "Session-Timeout",
    6: "Admin-Reset", 7: "Admin-Reboot", 8: "Port-Error", 9: "NAS-Error", 10: "NAS-Request", 11: "NAS-Reboot",
    12: "Port-Unneeded", 13: "Port-Preempted", 14: "Port-Suspended", 15: "Service-Unavailable", 16: "Callback",
    17: "User-Error", 18: "Host-Request", 19: "Supplicant-Restart", 20: "Reauthentication-Failure",
    21: "Port-Reinitialized", 22: "Port-Administratively-Disabled",
}  # fmt: skip
_PORT_TYPE = {
    0: "Async", 1: "Sync", 2: "ISDN-Sync", 3: "ISDN-Async-V.120", 4: "ISDN-Async-V.110", 5: "Virtual", 6: "PIAFS",
    7: "HDLC-Clear-Channel", 8: "X.25", 9: "X.75", 10: "G.3-Fax", 11: "SDSL", 12: "ADSL-CAP", 13: "ADSL-DMT",
    14: "IDSL", 15: "Ethernet", 16: "xDSL", 17: "Cable", 18: "Wireless-Other", 19: "Wireless-802.11",
}  # fmt: skip
_TUNNEL = {1: "PPTP", 2: "L2F", 3: "L2TP", 9: "GRE", 13: "VLAN"}
_MEDIUM = {1: "IPv4", 2: "IPv6", 6: "IEEE-802"}
ERROR_CAUSES = {
    201: "Residual-Session-Context-Removed", 202: "Invalid-EAP-Packet", 401: "Unsupported-Attribute",
    402: "Missing-Attribute", 403: "NAS-Identification-Mismatch", 404: "Invalid-Request",
    405: "Unsupported-Service", 406: "Unsupported-Extension", 407: "Invalid-Attribute-Value",
    501: "Administratively-Prohibited", 502: "Request-Not-Routable", 503: "Session-Context-Not-Found",
    504: "Session-Context-Not-Removable", 505: "Other-Proxy-Processing-Error", 506: "Resources-Unavailable",
    507: "Request-Initiated", 508: "Multiple-Session-Selection-Unsupported",
}  # fmt: skip
"""RFC 5176 section 3.5."""

_T, _O, _I, _A = Form.TEXT, Form.OCTETS, Form.INTEGER, Form.ADDRESS
_TI, _TT = Form.TAGGED_INTEGER, Form.TAGGED_TEXT

ATTRIBUTES: dict[int, Known] = {
    1: Known("User-Name", _T),
    2: Known("User-Password", _O, is_secret=True),
    3: Known("CHAP-Password", _O, is_secret=True),
    4: Known("NAS-IP-Address", _A),
    5: Known("NAS-Port", _I),
    6: Known("Service-Type", _I, _SERVICE),
    7: Known("Framed-Protocol", _I, {1: "PPP", 2: "SLIP", 3: "ARAP"}),
    8: Known("Framed-IP-Address", _A),
    9: Known("Framed-IP-Netmask", _A),
    10: Known("Framed-Routing", _I, {0: "None", 1: "Send", 2: "Listen", 3: "Send and listen"}),
    11: Known("Filter-Id", _T),
    12: Known("Framed-MTU", _I),
    13: Known("Framed-Compression", _I, {0: "None", 1: "VJ TCP/IP header", 2: "IPX header", 3: "Stac-LZS"}),
    14: Known("Login-IP-Host", _A),
    15: Known("Login-Service", _I, {0: "Telnet", 1: "Rlogin", 2: "TCP Clear", 4: "LAT"}),
    16: Known("Login-TCP-Port", _I),
    18: Known("Reply-Message", _T),
    19: Known("Callback-Number", _T),
    20: Known("Callback-Id", _T),
    22: Known("Framed-Route", _T),
    23: Known("Framed-IPX-Network", _I),
    24: Known("State", _O, is_secret=True),
    25: Known("Class", _O),
    26: Known("Vendor-Specific", Form.VENDOR),
    27: Known("Session-Timeout", _I),
    28: Known("Idle-Timeout", _I),
    29: Known("Termination-Action", _I, _TERMINATION),
    30: Known("Called-Station-Id", _T),
    31: Known("Calling-Station-Id", _T),
    32: Known("NAS-Identifier", _T),
    33: Known("Proxy-State", _O),
    34: Known("Login-LAT-Service", _T),
    35: Known("Login-LAT-Node", _T),
    36: Known("Login-LAT-Group", _O),
    37: Known("Framed-AppleTalk-Link", _I),
    38: Known("Framed-AppleTalk-Network", _I),
    39: Known("Framed-AppleTalk-Zone", _T),
    40: Known("Acct-Status-Type", _I, _STATUS),
    41: Known("Acct-Delay-Time", _I),
    42: Known("Acct-Input-Octets", _I),
    43: Known("Acct-Output-Octets", _I),
    44: Known("Acct-Session-Id", _T),
    45: Known("Acct-Authentic", _I, _AUTHENTIC),
    46: Known("Acct-Session-Time", _I),
    47: Known("Acct-Input-Packets", _I),
    48: Known("Acct-Output-Packets", _I),
    49: Known("Acct-Terminate-Cause", _I, _CAUSE),
    50: Known("Acct-Multi-Session-Id", _T),
    51: Known("Acct-Link-Count", _I),
    52: Known("Acct-Input-Gigawords", _I),
    53: Known("Acct-Output-Gigawords", _I),
    55: Known("Event-Timestamp", Form.TIME),
    56: Known("Egress-VLANID", _I),
    57: Known("Ingress-Filters", _I, {1: "Enabled", 2: "Disabled"}),
    58: Known("Egress-VLAN-Name", _T),
    59: Known("User-Priority-Table", _O),
    60: Known("CHAP-Challenge", _O, is_secret=True),
    61: Known("NAS-Port-Type", _I, _PORT_TYPE),
    62: Known("Port-Limit", _I),
    63: Known("Login-LAT-Port", _T),
    64: Known("Tunnel-Type", _TI, _TUNNEL),
    65: Known("Tunnel-Medium-Type", _TI, _MEDIUM),
    66: Known("Tunnel-Client-Endpoint", _TT),
    67: Known("Tunnel-Server-Endpoint", _TT),
    68: Known("Acct-Tunnel-Connection", _T),
    69: Known("Tunnel-Password", Form.SALTED, is_secret=True),
    70: Known("ARAP-Password", _O, is_secret=True),
    71: Known("ARAP-Features", _O),
    72: Known("ARAP-Zone-Access", _I),
    73: Known("ARAP-Security", _I),
    74: Known("ARAP-Security-Data", _O),
    75: Known("Password-Retry", _I),
    76: Known("Prompt", _I, {0: "No echo", 1: "Echo"}),
    77: Known("Connect-Info", _T),
    78: Known("Configuration-Token", _T),
    79: Known("EAP-Message", Form.JOINED, is_secret=True),
    80: Known("Message-Authenticator", _O),
    81: Known("Tunnel-Private-Group-ID", _TT),
    82: Known("Tunnel-Assignment-ID", _TT),
    83: Known("Tunnel-Preference", _TI),
    84: Known("ARAP-Challenge-Response", _O, is_secret=True),
    85: Known("Acct-Interim-Interval", _I),
    86: Known("Acct-Tunnel-Packets-Lost", _I),
    87: Known("NAS-Port-Id", _T),
    88: Known("Framed-Pool", _T),
    89: Known("Chargeable-User-Identity", _T),
    90: Known("Tunnel-Client-Auth-ID", _TT),
    91: Known("Tunnel-Server-Auth-ID", _TT),
    92: Known("NAS-Filter-Rule", Form.JOINED),
    95: Known("NAS-IPv6-Address", Form.ADDRESS6),
    96: Known("Framed-Interface-Id", Form.INTERFACE6),
    97: Known("Framed-IPv6-Prefix", Form.PREFIX6),
    98: Known("Login-IPv6-Host", Form.ADDRESS6),
    99: Known("Framed-IPv6-Route", _T),
    100: Known("Framed-IPv6-Pool", _T),
    101: Known("Error-Cause", _I, ERROR_CAUSES),
    123: Known("Delegated-IPv6-Prefix", Form.PREFIX6),
    168: Known("Framed-IPv6-Address", Form.ADDRESS6),
    169: Known("DNS-Server-IPv6-Address", Form.ADDRESS6),
    170: Known("Route-IPv6-Information", Form.PREFIX6),
    171: Known("Delegated-IPv6-Prefix-Pool", _T),
    172: Known("Stateful-IPv6-Address-Pool", _T),
    177: Known("Mobility-Domain-Id", _I),
    178: Known("Preauth-Timeout", _I),
    179: Known("Network-Id-Name", _T),
    181: Known("WLAN-HESSID", _T),
    182: Known("WLAN-Venue-Info", _I),
    183: Known("WLAN-Venue-Language", _T),
    184: Known("WLAN-Venue-Name", _T),
    185: Known("WLAN-Reason-Code", _I),
    186: Known("WLAN-Pairwise-Cipher", _I),
    187: Known("WLAN-Group-Cipher", _I),
    188: Known("WLAN-AKM-Suite", _I),
    189: Known("WLAN-Group-Mgmt-Cipher", _I),
    190: Known("WLAN-RF-Band", _I),
    **{number: Known(f"Extended-Attribute-{number - 240}", Form.EXTENDED) for number in range(241, 247)},
}
NUMBERS = {known.name.lower(): number for number, known in ATTRIBUTES.items()}
"""By name in lower case."""
SECRET_KINDS = frozenset(number for number, known in ATTRIBUTES.items() if known.is_secret)

CODES = {
    1: "Access-Request", 2: "Access-Accept", 3: "Access-Reject", 4: "Accounting-Request", 5: "Accounting-Response",
    11: "Access-Challenge", 12: "Status-Server", 40: "Disconnect-Request", 41: "Disconnect-ACK",
    42: "Disconnect-NAK", 43: "CoA-Request", 44: "CoA-ACK", 45: "CoA-NAK",
}  # fmt: skip
SECRET_VENDOR_KINDS = {311: frozenset({1, 2, 3, 4, 5, 6, 11, 12, 16, 17, 25, 26, 27})}
"""Enterprise number -> numbers of what proves or protects a password (RFC 2548 sections 2.1 to 2.4)."""
