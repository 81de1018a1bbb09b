"""From a decision to the attributes of its reply. What depends on role and dialect alone is prepared once."""

from collections.abc import Callable
from dataclasses import replace
from ipaddress import IPv4Address

from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.config import Config
from lauschen.core.config.dialect import Dialect, Honours, UserName, ValueKind, VendorAttribute, When
from lauschen.core.config.role import Role
from lauschen.core.decide.arrival import Arrival
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.picture import AdmissionFacts
from lauschen.core.decide.reason import Reason
from lauschen.core.ids import DialectId, RoleId
from lauschen.core.limits.left import DOOR_SESSION_S, INTERIM_S
from lauschen.core.limits.rate import lower, rate_words
from lauschen.core.passphrases.trial import AGAIN_S
from lauschen.core.words.template import can_fill, fill, mac_words
from lauschen.core.words.text import visible
from lauschen.core.words.tokens import TOKEN_CHARACTERS, TokenSigner
from lauschen.radius.wire import attributes
from lauschen.radius.wire.attributes import LONGEST_VENDOR_VALUE
from lauschen.radius.wire.numbers import Kind, TerminationAction

TOKEN_GRACE_S = 600
LONGEST_TEXT = 253
LONGEST_TIMEOUT = 0xFFFFFFFF
MOST_PREPARED = 2000
"""Roles by dialects, and each private group has its own."""

# Looked up once: a member of an enumeration costs a call, for each packet (rulings 1.3).
_CLASS, _CUI, _USER_NAME = int(Kind.CLASS), int(Kind.CHARGEABLE_USER_IDENTITY), int(Kind.USER_NAME)
_INTERIM, _SESSION, _IDLE = (
    int(Kind.ACCT_INTERIM_INTERVAL),
    int(Kind.SESSION_TIMEOUT),
    int(Kind.IDLE_TIMEOUT),
)
_ADMIT, _NOTHING, _KEY_TRIED = Answer.ADMIT, UserName.NOTHING, Reason.KEY_TRIED
_DOOR_INTERIM = attributes.integer(Kind.ACCT_INTERIM_INTERVAL, INTERIM_S)
_ASK_AGAIN = attributes.integer(Kind.TERMINATION_ACTION, TerminationAction.RADIUS_REQUEST)
_DOOR_TIMEOUT = attributes.integer(Kind.SESSION_TIMEOUT, DOOR_SESSION_S)
_STAY_ENDS = attributes.integer(Kind.TERMINATION_ACTION, TerminationAction.DEFAULT)


class Answers:
    """Made anew for each version of the configuration."""

    def __init__(self, config: Config, token_key: bytes) -> None:
        self._config = config
        self._signer = TokenSigner(token_key)
        self._page = f"{config.page_url}/?t=".encode()
        self._prepared: dict[tuple[RoleId, DialectId, int | None], _Prepared] = {}

    def accept(
        self,
        device: AccessDevice,
        arrival: Arrival,
        decision: Decision,
        admission: AdmissionFacts | None,
        interim_s: int,
        now: float,
        holder: Callable[[], str],
    ) -> bytes:
        """The attributes of an Access-Accept, inside or at the door. `holder` is asked where the name is said."""
        assert decision.role is not None
        prepared = self._prepare(decision.role, device.dialect, decision.vlan)
        if decision.reason is _KEY_TRIED:
            return self._on_trial(prepared, device, arrival, decision, now)
        if decision.answer is not _ADMIT or admission is None:
            if prepared.page is not None:
                return prepared.page + self._token(device, arrival, decision, now)
            return prepared.door + self._vendors(prepared.door_vendors, device, arrival, decision, None, now)
        # Rulings 3.16: a pseudonym; some access devices echo the one, others the other.
        token = admission.token.encode()
        header = len(token) + 2
        who = b"%c%c%b%c%c%b" % (_CLASS, header, token, _CUI, header, token)
        if prepared.user_name is not _NOTHING:
            name = token if prepared.user_name is UserName.PSEUDONYM else _shown(holder()) or token
            who += b"%c%c%b" % (_USER_NAME, len(name) + 2, name)
        seconds = decision.left.seconds if decision.left is not None else None
        inside = self._inside(prepared, admission, interim_s, seconds) + who
        if not prepared.inside_vendors:
            return inside
        return inside + self._vendors(prepared.inside_vendors, device, arrival, decision, admission, now)

    def change(
        self,
        device: AccessDevice,
        arrival: Arrival,
        decision: Decision,
        admission: AdmissionFacts | None,
        began: float | None,
        now: float,
    ) -> bytes:
        """The attributes that put a device, by a CoA-Request, where it would be if it asked now."""
        assert decision.role is not None
        dialect = self._config.dialects[device.dialect]
        prepared = self._prepare(decision.role, dialect.id, decision.vlan)
        if decision.answer is not _ADMIT or admission is None:
            return prepared.door + self._vendors(prepared.door_vendors, device, arrival, decision, None, now)
        seconds = decision.left.seconds if decision.left is not None else None
        if seconds is not None and dialect.timeout_from_start and began is not None:
            seconds += int(now - began)  # rulings 2.6: some count from the session's start
        inside = self._inside(prepared, admission, INTERIM_S, seconds)
        return inside + self._vendors(prepared.inside_vendors, device, arrival, decision, admission, now)

    def portal_url(self, device: AccessDevice, arrival: Arrival, decision: Decision, now: float) -> str:
        """The signed address of the guest page, for this device at this access device."""
        return (self._page + self._token(device, arrival, decision, now)).decode()

    def _token(self, device: AccessDevice, arrival: Arrival, decision: Decision, now: float) -> bytes:
        assert decision.network is not None
        expires = int(now) + DOOR_SESSION_S + TOKEN_GRACE_S
        return self._signer.sign(arrival.mac, device.id, decision.network, expires)

    def _inside(
        self, prepared: "_Prepared", admission: AdmissionFacts, interim_s: int, seconds: int | None
    ) -> bytes:
        inside = prepared.inside + attributes.integer(_INTERIM, interim_s)
        if seconds is not None and prepared.keeps_time:
            inside += attributes.integer(_SESSION, min(seconds, LONGEST_TIMEOUT))
        if prepared.keeps_idle:
            plan = self._config.plan_of(admission.grant)
            if plan.idle_seconds is not None:
                inside += attributes.integer(_IDLE, plan.idle_seconds)
        return inside

    def _on_trial(
        self, prepared: "_Prepared", device: AccessDevice, arrival: Arrival, decision: Decision, now: float
    ) -> bytes:
        """It joins by one of the keys that go along: as long as that is good, or until it is asked about again."""
        seconds = AGAIN_S if decision.left is None else decision.left.seconds
        body = prepared.placed + _DOOR_INTERIM
        if prepared.keeps_time and seconds is not None:
            # It must join anew: an answer in the middle of its stay would not say whether it has one of other keys.
            body += _STAY_ENDS + attributes.integer(_SESSION, min(seconds, LONGEST_TIMEOUT))
        return body + self._vendors(prepared.inside_vendors, device, arrival, decision, None, now)

    def _prepare(self, role: RoleId, dialect: DialectId, vlan: int | None) -> "_Prepared":
        prepared = self._prepared.get((role, dialect, vlan))
        if prepared is None:
            if len(self._prepared) >= MOST_PREPARED:
                self._prepared = {}
            placed = self._config.roles[role]
            if vlan is not None:
                placed = replace(placed, vlan=vlan)
            made = _Prepared(placed, self._config.dialects[dialect], self._page)
            prepared = self._prepared[role, dialect, vlan] = made
        return prepared

    def _vendors(
        self,
        wanted: list[VendorAttribute],
        device: AccessDevice,
        arrival: Arrival,
        decision: Decision,
        admission: AdmissionFacts | None,
        now: float,
    ) -> bytes:
        if not wanted:
            return b""
        words = self.words(device, arrival, decision, admission, now)
        return b"".join(
            vendor_value(one, fill(one.template, words)) for one in wanted if can_fill(one.template, words)
        )

    def words(
        self,
        device: AccessDevice,
        arrival: Arrival,
        decision: Decision,
        admission: AdmissionFacts | None,
        now: float,
    ) -> dict[str, str]:
        """What the words of a template stand for here (core/words/template.py has the list)."""
        role = self._config.roles[decision.role] if decision.role is not None else None
        network = self._config.networks[decision.network] if decision.network is not None else None
        vlan = decision.vlan if decision.vlan is not None or role is None else role.vlan
        left = decision.left if admission is not None else None
        plan = self._config.plan_of(admission.grant) if admission is not None else None
        down, up = (role.down_bps, role.up_bps) if role is not None else (None, None)
        if plan is not None:
            down, up = lower(down, plan.down_bps), lower(up, plan.up_bps)
        return {
            **mac_words(arrival.mac),
            **rate_words(down, up),
            "portal_url": self.portal_url(device, arrival, decision, now),
            "session_id": arrival.session_id or "",
            "address": arrival.framed_ip or "",
            "network": network.name if network is not None else "",
            "role": role.name if role is not None else "",
            "vlan": str(vlan) if vlan is not None else "",
            "filter": role.filter_name or "" if role is not None else "",
            "seconds": str(left.seconds) if left is not None and left.seconds is not None else "0",
            "octets_left": str(left.octets) if left is not None and left.octets is not None else "0",
            "pseudonym": admission.token if admission is not None else "",
        }


class _Prepared:
    """All of an answer that depends on role and dialect alone."""

    __slots__ = (
        "door", "door_vendors", "inside", "inside_vendors", "keeps_idle", "keeps_time", "page", "placed", "user_name",
    )  # fmt: skip

    def __init__(self, role: Role, dialect: Dialect, page: bytes) -> None:
        self.placed = placed = prepare_role(role, dialect)
        self.keeps_time = Honours.SESSION_TIMEOUT in dialect.honours
        self.keeps_idle = Honours.IDLE_TIMEOUT in dialect.honours
        self.user_name = dialect.user_name
        self.door = placed + (_ASK_AGAIN + _DOOR_TIMEOUT if self.keeps_time else b"") + _DOOR_INTERIM
        self.inside = placed + _STAY_ENDS
        self.door_vendors = [one for one in dialect.attributes if one.when is not When.INSIDE]
        self.inside_vendors = [one for one in dialect.attributes if one.when is not When.DOOR]
        self.page: bytes | None = None
        """The answer at the door but for the token, when the page's address is its one vendor attribute."""
        if [one.template for one in self.door_vendors] == ["{portal_url}"]:
            whole = vendor_value(self.door_vendors[0], page.decode() + "x" * TOKEN_CHARACTERS)
            if self.door_vendors[0].kind is ValueKind.TEXT and whole.endswith(b"x" * TOKEN_CHARACTERS):
                self.page = self.door + whole[:-TOKEN_CHARACTERS]


def _shown(name: str) -> bytes:
    """A name as one attribute holds it, cut between signs."""
    return visible(name).encode()[:LONGEST_TEXT].decode(errors="ignore").encode()


def prepare_role(role: Role, dialect: Dialect) -> bytes:
    """What places a device: VLAN, and a filter by name or as rules, never both (rulings 3.11)."""
    placed = b""
    if role.vlan is not None and Honours.VLAN in dialect.honours:
        placed += attributes.vlan(str(role.vlan), dialect.group_tag)
    if role.filter_rules and Honours.FILTER_RULES in dialect.honours:
        # RFC 4849 section 2: rules separated by NUL, cut at 253 octets anywhere.
        placed += attributes.split(Kind.NAS_FILTER_RULE, b"\0".join(r.encode() for r in role.filter_rules))
    elif role.filter_name is not None and Honours.FILTER_NAME in dialect.honours:
        placed += attributes.text(Kind.FILTER_ID, role.filter_name)
    return placed


def vendor_value(one: VendorAttribute, value: str) -> bytes:
    """A filled template as the attribute's octets; what does not fit its kind is left out, as nothing else can be."""
    try:
        match one.kind:
            case ValueKind.INTEGER:
                octets = int(value).to_bytes(4, "big")
            case ValueKind.ADDRESS:
                octets = IPv4Address(value).packed
            case ValueKind.BYTES:
                octets = bytes.fromhex(value)
            case ValueKind.TEXT:
                octets = value.encode()[:LONGEST_VENDOR_VALUE]
    except (ValueError, OverflowError):
        return b""
    return attributes.vendor(one.enterprise, one.number, octets)
