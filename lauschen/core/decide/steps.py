"""The one decision. The live server, the page and every trial of a change call this and nothing else."""

from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.picture import CredentialFacts, Picture
from lauschen.core.decide.reason import LIMIT_REASONS, Reason
from lauschen.core.decide.trace import (
    BarsLine,
    CredentialLine,
    DeviceLine,
    DoorLine,
    LimitsLine,
    NetworkLine,
    NoRuleLine,
    RuleLine,
    SeatsLine,
    Step,
    TraceLine,
)
from lauschen.core.house.house import House
from lauschen.core.house.network import GuestNetwork
from lauschen.core.ids import PlanId
from lauschen.core.limits.left import Binds, Left, left
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.mac import is_private

LONGEST_SSID = 40
_REFUSED = (Medium.PAGE, Medium.PERSON, Medium.POSTED)
"""A person with a wrong credential is refused where it was offered; a device is placed at the door (rulings 3.5)."""


def decide(arrival: Arrival, picture: Picture, now: float) -> Decision:
    """What this arrival gets at `now` (UTC epoch seconds), and why."""
    trace: list[TraceLine] = []
    network = _recognise_network(arrival, picture.house, trace)
    if network is None or arrival.refusal is not None:
        return Decision(Answer.REFUSE, arrival.refusal or Reason.NO_NETWORK, trace=trace)
    _recognise_device(arrival, picture, trace)
    barred = _check_bars(picture, now, trace)
    if barred is not None:
        return _not_in(arrival, network, barred, trace)
    credential, fault = _check_credential(picture, trace)
    if credential is None:
        return _not_in(arrival, network, fault, trace)
    remains, fault_of_limits = _count_limits(credential, picture, now, trace)
    if fault_of_limits is not None:
        return _not_in(arrival, network, fault_of_limits, trace, remains)
    return _place_by_rule(network, picture, remains, trace)


_ASKING = (Medium.ASKED, Medium.PERSON)


def decide_again(arrival: Arrival, picture: Picture, now: float) -> Decision | None:
    """What `decide` would say again, without its trace; None when it must be asked.

    For a request that repeats another one while nothing that was looked at has changed: the facts are the same
    object, so only time and use can make a difference.
    """
    before, standing = picture.memo, picture.standing
    if before is None or standing is None or picture.is_wanted:
        return None
    if arrival.medium is not picture.memo_medium or arrival.medium not in _ASKING:
        return None
    if (
        standing.session_id != arrival.session_id
        or standing.access_device != arrival.access_device
        or standing.source != arrival.source
        or standing.spelled != arrival.spelled
        or standing.going is not None
        or (arrival.framed_ip is not None and standing.framed_ip != arrival.framed_ip)
        or picture.barred_since is not None
        or picture.typing_barred_until is not None
    ):
        return None
    admission = picture.admission
    if admission is None:
        # Other reasons are said once: what they ended is not there any more.
        is_lasting = before.reason is Reason.NEEDS_CODE or before.reason in LIMIT_REASONS
        return before if is_lasting and before.answer is Answer.DOOR and before.left is None else None
    if before.answer is not Answer.ADMIT or not admission.has_seat or standing.admission != admission.id:
        return None
    remains = left(picture.house.plans[admission.credential.plan], admission.credential.use, now)
    if remains.is_over or admission.credential.use.withdrawn_at is not None:
        return None
    if standing.ends != remains.until:
        return None
    return Decision(before.answer, before.reason, before.network, before.role, before.rule, remains)


def network_of(house: House, arrival: Arrival) -> GuestNetwork | None:
    """The network that is named, or recognised by what the request says."""
    if arrival.network is not None:
        return house.networks.get(arrival.network)
    return house.recognise(
        arrival.access_device, arrival.ssid, arrival.nas_identifier, arrival.port_id, arrival.port_type
    )


def _recognise_network(arrival: Arrival, house: House, trace: list[TraceLine]) -> GuestNetwork | None:
    network = network_of(house, arrival)
    if network is None:
        if arrival.network is not None:
            trace.append(NetworkLine(Step.NETWORK, "gone", arrival.network))
        elif arrival.ssid is None:
            trace.append(NetworkLine(Step.NETWORK, "no_ssid"))
        else:
            said = arrival.ssid.decode("utf-8", "replace")[:LONGEST_SSID]
            trace.append(NetworkLine(Step.NETWORK, "foreign_ssid", None, said))
    elif arrival.medium is Medium.PAGE:
        trace.append(NetworkLine(Step.NETWORK, "token", network.id))
    elif arrival.medium is Medium.CHANGED:
        trace.append(NetworkLine(Step.NETWORK, "there", network.id))
    else:
        trace.append(NetworkLine(Step.NETWORK, "ssid" if network.is_plain else "hints", network.id))
    return network


def _recognise_device(arrival: Arrival, picture: Picture, trace: list[TraceLine]) -> None:
    trace.append(
        DeviceLine(
            Step.DEVICE,
            "new" if picture.standing is None else "known",
            int(is_private(arrival.mac)),
            arrival.medium,
        )
    )


def _check_bars(picture: Picture, now: float, trace: list[TraceLine]) -> Reason | None:
    if picture.barred_since is not None:
        trace.append(BarsLine(Step.BARS, "staff", picture.barred_since))
        return Reason.BARRED_BY_STAFF
    # A bar by tries stops the typing of codes only, never somebody who is in (rulings 6.4); who is held stays so.
    until = picture.typing_barred_until
    is_waiting = picture.admission is None and not _is_held(picture)
    if until is not None and until > now and (picture.offers_code or is_waiting):
        trace.append(BarsLine(Step.BARS, "tries", until))
        return Reason.BARRED_BY_TRIES
    trace.append(BarsLine(Step.BARS, "none"))
    return None


def _check_credential(picture: Picture, trace: list[TraceLine]) -> tuple[CredentialFacts | None, Reason]:
    if picture.offers_code:
        credential, missing = picture.offered, Reason.CODE_UNKNOWN
    else:
        credential = picture.admission.credential if picture.admission else None
        missing = Reason.NEEDS_CODE
        if picture.standing is not None and picture.standing.reason is not None and _is_held(picture):
            missing = picture.standing.reason  # held until another code lets it in, also if it was away
    if credential is None:
        trace.append(CredentialLine(Step.CREDENTIAL, missing))
        return None, missing
    if picture.offers_code and picture.only_same:
        is_in_by_it = picture.admission is not None and picture.admission.credential.id == credential.id
        if not is_in_by_it:
            trace.append(CredentialLine(Step.CREDENTIAL, "in_by_other"))
            return None, Reason.IN_BY_OTHER
    if credential.use.withdrawn_at is not None:
        trace.append(CredentialLine(Step.CREDENTIAL, "withdrawn", credential.id, credential.use.withdrawn_at))
        return None, Reason.CODE_WITHDRAWN
    trace.append(
        CredentialLine(Step.CREDENTIAL, "offered" if picture.offers_code else "admitted", credential.id)
    )
    return credential, Reason.ADMITTED


def _is_held(picture: Picture) -> bool:
    return picture.standing is not None and picture.standing.reason in LIMIT_REASONS


def _count_limits(
    credential: CredentialFacts, picture: Picture, now: float, trace: list[TraceLine]
) -> tuple[Left, Reason | None]:
    plan = picture.house.plans[credential.plan]
    remains = left(plan, credential.use, now)
    if remains.is_over:
        trace.append(_limits_line(plan.id, remains, "over"))
        if remains.binds is Binds.VALIDITY:
            return remains, Reason.CODE_EXPIRED
        return remains, Reason.DATA_USED_UP if remains.binds is Binds.DATA else Reason.TIME_USED_UP
    if picture.seats_taken >= plan.devices:
        trace.append(SeatsLine(Step.LIMITS, "devices", plan.id, picture.seats_taken, plan.devices))
        return remains, Reason.DEVICES_FULL
    trace.append(_limits_line(plan.id, remains, "left"))
    return remains, None


def _limits_line(plan: PlanId, remains: Left, state: str) -> LimitsLine:
    return LimitsLine(Step.LIMITS, remains.binds, plan, remains.seconds, remains.until, remains.octets, state)


def _place_by_rule(
    network: GuestNetwork, picture: Picture, remains: Left, trace: list[TraceLine]
) -> Decision:
    rule, passed = picture.house.place(network.id, WayIn.VOUCHER)
    if rule is None:
        trace.append(NoRuleLine(Step.PLACEMENT, "no_rule", passed))
        return Decision(Answer.DOOR, Reason.NO_RULE, network.id, network.door_role, trace=trace)
    trace.append(RuleLine(Step.PLACEMENT, "rule", rule.id, rule.position, rule.role, passed))
    return Decision(
        Answer.ADMIT,
        Reason.ADMITTED,
        network.id,
        rule.role,
        rule.id,
        remains,
        trace=trace,
    )


def _not_in(
    arrival: Arrival,
    network: GuestNetwork,
    reason: Reason,
    trace: list[TraceLine],
    remains: Left | None = None,
) -> Decision:
    if arrival.medium in _REFUSED:
        return Decision(Answer.REFUSE, reason, network.id, left=remains, trace=trace)
    trace.append(DoorLine(Step.PLACEMENT, "door", network.door_role))
    return Decision(Answer.DOOR, reason, network.id, network.door_role, left=remains, trace=trace)
