"""From a decision to the attributes of its reply. What depends on role and dialect alone is prepared once."""

from lauschen.core.decision import Answer, Decision
from lauschen.core.house import AccessDevice, Dialect, House, Role
from lauschen.core.ids import DialectId, RoleId
from lauschen.core.limits import DOOR_SESSION_S, INTERIM_S
from lauschen.core.picture import AdmissionFacts, Arrival
from lauschen.core.tokens import PortalToken, sign_token
from lauschen.radius import attributes
from lauschen.radius.numbers import Kind, TerminationAction

TOKEN_GRACE_S = 600
LONGEST_TIMEOUT = 0xFFFFFFFF

_DOOR_ENDS = attributes.integer(Kind.SESSION_TIMEOUT, DOOR_SESSION_S) + attributes.integer(
    Kind.TERMINATION_ACTION, TerminationAction.RADIUS_REQUEST
)
_STAY_ENDS = attributes.integer(Kind.TERMINATION_ACTION, TerminationAction.DEFAULT)


class Answers:
    """Made anew for each version of the configuration."""

    def __init__(self, house: House, token_key: bytes) -> None:
        self._house = house
        self._token_key = token_key
        self._prepared: dict[tuple[RoleId, DialectId], bytes] = {}

    def accept(
        self,
        device: AccessDevice,
        arrival: Arrival,
        decision: Decision,
        admission: AdmissionFacts | None,
        interim_s: int,
        now: float,
    ) -> bytes:
        """The attributes of an Access-Accept, whether inside or at the door."""
        assert decision.role is not None
        dialect = self._house.dialects[device.dialect]
        prepared = self._prepared.get((decision.role, dialect.id))
        if prepared is None:
            prepared = self._prepare(self._house.roles[decision.role])
            self._prepared[decision.role, dialect.id] = prepared
        if decision.answer is Answer.ADMIT and admission is not None:
            return prepared + self._inside(decision, admission, interim_s)
        return prepared + self._door(device, dialect, arrival, decision, now)

    def portal_url(self, device: AccessDevice, arrival: Arrival, decision: Decision, now: float) -> str:
        """The signed address of the guest page, for this device at this access device."""
        assert decision.network is not None
        token = PortalToken(
            arrival.mac, device.id, decision.network, int(now) + DOOR_SESSION_S + TOKEN_GRACE_S
        )
        return f"{self._house.page_url}/?t={sign_token(token, self._token_key)}"

    def _door(
        self, device: AccessDevice, dialect: Dialect, arrival: Arrival, decision: Decision, now: float
    ) -> bytes:
        parts = [_DOOR_ENDS, attributes.integer(Kind.ACCT_INTERIM_INTERVAL, INTERIM_S)]
        if dialect.redirect_vendor is not None and dialect.redirect_attribute is not None:
            url = self.portal_url(device, arrival, decision, now)
            text = dialect.redirect_template.replace("{portal_url}", url)
            parts.append(
                attributes.vendor(dialect.redirect_vendor, dialect.redirect_attribute, text.encode())
            )
        return b"".join(parts)

    def _inside(self, decision: Decision, admission: AdmissionFacts, interim_s: int) -> bytes:
        plan = self._house.plans[admission.credential.plan]
        parts = [_STAY_ENDS, attributes.integer(Kind.ACCT_INTERIM_INTERVAL, interim_s)]
        if decision.left is not None and decision.left.seconds is not None:
            parts.append(
                attributes.integer(Kind.SESSION_TIMEOUT, min(decision.left.seconds, LONGEST_TIMEOUT))
            )
        if plan.idle_seconds is not None:
            parts.append(attributes.integer(Kind.IDLE_TIMEOUT, plan.idle_seconds))
        # Rulings 3.16: a pseudonym; hostapd echoes the latter, others the former.
        parts.append(attributes.text(Kind.CLASS, admission.token))
        parts.append(attributes.text(Kind.CHARGEABLE_USER_IDENTITY, admission.token))
        return b"".join(parts)

    @staticmethod
    def _prepare(role: Role) -> bytes:
        parts = []
        if role.vlan is not None:
            parts.append(attributes.vlan(str(role.vlan)))
        if role.filter_name is not None:
            parts.append(attributes.text(Kind.FILTER_ID, role.filter_name))
        return b"".join(parts)
