"""An example of each request, for the description: all are of the demo site, and a test sends them."""

from typing import Any

from fastapi import FastAPI

_PLAN = {"name": "Weekend", "seconds": 172_800, "octets": 10_000_000_000, "devices": 2, "use_within_days": 30}
_VOUCHER = {"way": "voucher"}
_LAKE = {
    "name": "Lake",
    "door_role": 1,
    "ssid": {"match": "exact", "value": "Hollerau Lake"},
    "ways": [_VOUCHER],
}
_DIALECT = {"name": "Told to go", "login_move": "disconnect", "end_move": "disconnect"}
_POINT = {"name": "Boat house", "address": "127.77.0.90", "dialect": 1, "serves": [1]}
_SECRET = "a secret of 22 signs or more"  # noqa: S105
_ROLE = {"name": "Ensemble office", "vlan": 330, "down_bps": 20_000_000}
_TRUSTED = {"name": "Score printer", "role": 2, "mac": "02-00-00-AA-BB-10"}
_HOST = {"name": "Vera Amberg", "mail": "vera@hollerau.example", "department": "Strings", "networks": [2]}
_MAIL = {
    "host": "mail.hollerau.example",
    "user": "wifi",
    "password": "of the mail server",
    "sender": "wifi@hollerau.example",
    "sender_name": "Hollerau Wi-Fi",
}
_TEXT = {
    "call": {
        "method": "POST",
        "url": "https://texts.hollerau.example/send",
        "headers": [["Authorization", "Bearer {secret}"]],
        "body": '{{"to": "{to}", "text": "{text}"}}',
    },
    "secret": "of the gateway",
    "countries": ["DE"],
    "price": 0.08,
}
_WORDS = {"subject": "Your Wi-Fi at {site}", "body": "Good day {name}, your code is {code}."}
_SYSLOG = {"name": "Cellar", "host": "127.0.0.1", "transport": "udp", "port": 5514, "hears": ["registered"]}
_WEBHOOK = {
    "name": "Bookings",
    "url": "https://bookings.hollerau.example/hear",
    "hears": ["registered", "passcode"],
}
_DESK = {"duty": "desk", "limits": {"networks": [1], "longest_minutes": 10_080, "most_at_once": 50}}
_TO = {"channel": "mail", "to": "ines@students.hollerau.example", "lang": "en"}
_PASSCODE = {"way": "passcode", "plan": 1, "schedule": "daily", "at_minute": 360, "length": 6}

EXAMPLES: dict[str, Any] = {
    "POST /session": {"name": "gatehouse", "password": "what was set at the first start"},
    "POST /invitations": {"token": "from the link in the mail", "new": "a password of one's own"},
    "POST /password": {"old": "the one until now", "new": "a better one, and longer"},
    "POST /batches": {"plan": 1, "count": 40, "label": "Spring course", "price": 300},
    "POST /batches/job": {"plan": 1, "count": 20_000, "label": "Festival", "length": 12},
    "POST /passes": {
        "plan": 1,
        "label": "Ines Harwood",
        "until": "2100-08-04T12:00",
        "words": "Breakfast from seven.",
        "send": _TO,
    },
    "POST /accounts": {"plan": 1, "label": "Ines Harwood", "name": "ines.harwood", "send": _TO},
    "POST /passphrases": {
        "plan": 5,
        "kind": "person",
        "label": "Ines Harwood",
        "has_group": True,
        "send": _TO,
    },
    "POST /passphrases/many": {
        "plan": 5,
        "kind": "room",
        "text": "Room 7, Lutes\nRoom 8; ; 2100-08-04\n",
        "style": "letters",
    },
    "POST /passphrases/draw": {"style": "words", "bits": 60, "lang": "de"},
    "POST /passphrases/{holder}/renew": {"overlap_minutes": 1440},
    "POST /passphrases/{holder}/renew/undo": {"key": 99, "before": [{"key": 1, "ends_at": None}]},
    "POST /issued/{issued}/password": {"password": None},
    "POST /issued/{issued}/give-time": {"seconds": 7200},
    "POST /issued/{issued}/send": _TO,
    "POST /issued/acts": {"what": "pause", "issued": [1]},
    "POST /passes/lines/check": {"text": "Ines Harwood; ines@students.hollerau.example\nJonas Winterhall\n"},
    "POST /passes/lines": {"plan": 1, "text": "Ines Harwood\nJonas Winterhall\n", "note": "Chamber music"},
    "POST /desk/words": {"plan": 1, "label": "Ines Harwood", "seconds": 86_400},
    "POST /batches/words": {"count": 500, "length": 8},
    "POST /slips/preview": {"plan": 1, "label": "Ines Harwood", "way": "guest_pass", "paper": "roll"},
    "PUT /slips": {"paper": "a4", "lang": "de", "words": {"de": "Frühstück ab sieben."}, "has_wifi_qr": True},
    "POST /guests/acts": {"what": "let-try-again", "all_of": {"state": "barred"}},
    "POST /guests/{mac}/{network}/give-time": {"seconds": 1800},
    "POST /networks": _LAKE,
    "PUT /networks/{network}": {**_LAKE, "name": "Lake and boat house"},
    "PUT /networks/{network}/ways": {"ways": [_VOUCHER, _PASSCODE]},
    "POST /networks/{network}/pause": {"why": "Rehearsal: no Wi-Fi until the break.", "ends_stays": False},
    "POST /passcodes/words": _PASSCODE,
    "POST /networks/{network}/passcode": {"text": None},
    "PUT /house-rules": {"texts": {"en": "Be kind to the others on this Wi-Fi."}},
    "POST /roles": {**_ROLE, "is_door": False},
    "PUT /roles/{role}": {**_ROLE, "filter_name": "office"},
    "POST /dialects": _DIALECT,
    "PUT /dialects/{dialect}": {**_DIALECT, "name": "Told to go, in a moment", "pause_ms": 500},
    "POST /access-devices": {**_POINT, "secret": _SECRET},
    "PUT /access-devices/{device}": {**_POINT, "name": "Garden west", "address": "127.77.0.11"},
    "POST /access-devices/{device}/secret": {"secret": None},
    "POST /unknown-access-devices/{address}/try-secret": {"secret": _SECRET},
    "POST /unknown-access-devices/{address}/add": {
        **_POINT,
        "name": "Boat house, upstairs",
        "address": "127.77.0.99",
        "secret": _SECRET,
    },
    "POST /plans/words": _PLAN,
    "POST /plans": _PLAN,
    "PUT /plans/{plan}": {**_PLAN, "name": "Day visit", "seconds": 28_800},
    "PUT /rules": {"rules": [{"network": 1, "way_in": "voucher", "role": 2}], "last_role": None},
    "POST /trusted": _TRUSTED,
    "PUT /trusted/{trusted}": {**_TRUSTED, "name": "Score printer, cellar"},
    "POST /trusted/lines": {"text": "Metronome; 02-00-00-AA-BB-11; Visitor\n"},
    "POST /hosts": _HOST,
    "PUT /hosts/{host}": {**_HOST, "at_once": 5},
    "POST /hosts/lines": {"text": "name;mail\nOskar Amberg;oskar@hollerau.example\n"},
    "POST /vouchings/{vouching}/answer": {"length": "plan 1", "word": "Welcome."},
    "POST /vouchings/{vouching}/ask": {"host": 1},
    "PUT /mail": _MAIL,
    "POST /mail/test": {"server": _MAIL, "to": "vera@hollerau.example"},
    "PUT /text": _TEXT,
    "POST /text/test": {"gateway": _TEXT, "to": "+49 30 23125 000"},
    "PUT /templates/{kind}/{channel}/{lang}": _WORDS,
    "POST /templates/{kind}/{channel}/{lang}/preview": _WORDS,
    "POST /syslog": _SYSLOG,
    "PUT /syslog/{receiver}": {**_SYSLOG, "facility": 16},
    "POST /webhooks": {**_WEBHOOK, "secret": _SECRET},
    "PUT /webhooks/{receiver}": _WEBHOOK,
    "PUT /privacy/{kind}": {"texts": {"en": "What you write here is deleted after 180 days."}},
    "POST /people": {**_DESK, "name": "evening desk", "mail": "desk@hollerau.example", "lang": "en"},
    "PUT /people/{person}": _DESK,
    "POST /people/{person}/invite": {"mail": "desk@hollerau.example", "lang": "de"},
    "PUT /own/second": {
        "password": "one's own",
        "secret": "JBSWY3DPEHPK3PXPJBSWY3DPEHPK3PXP",
        "code": "123456",
    },
    "POST /own/second/off": {"password": "one's own"},
    "POST /programs": {**_DESK, "name": "Bookings", "days": 365},
    "PUT /programs/{program}": {"duty": "desk", "limits": {"plans": [1, 2]}},
    "POST /programs/{program}/token": {"days": 90},
}
"""By method and path below /api, in an order in which one can follow another."""


def describe(app: FastAPI) -> dict[str, Any]:
    """The description (OpenAPI 3.1) with these examples in it."""
    if not app.openapi_schema:
        found = FastAPI.openapi(app)
        for path, methods in found["paths"].items():
            for method, operation in methods.items():
                example = EXAMPLES.get(f"{method.upper()} {path.removeprefix('/api')}")
                if example is not None:
                    operation["requestBody"]["content"]["application/json"]["example"] = example
    return FastAPI.openapi(app)
