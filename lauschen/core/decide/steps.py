"""The one decision. The live server, the page and every trial of a change call this and nothing else."""

from functools import lru_cache
from typing import Literal

from lauschen.core.config.config import Config
from lauschen.core.config.network import GuestNetwork, Pause
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.judge import Verdict, judge, seats_of
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.placing import let_try, place_by_rule
from lauschen.core.decide.reason import LIMIT_REASONS, Reason
from lauschen.core.decide.standing import State
from lauschen.core.decide.trace import (
    BarsLine,
    CredentialLine,
    DeviceLine,
    DoorLine,
    LimitsLine,
    NetworkLine,
    PauseLine,
    SeatsLine,
    Step,
    TraceLine,
)
from lauschen.core.ids import PlanId
from lauschen.core.limits.left import Left
from lauschen.core.ways.lead import AtDoor
from lauschen.core.words.mac import is_private

LONGEST_SSID = 40
# Lines that come out alike for most packets are made once.
_SEATS: dict[Reason | None, Literal["devices", "ever"]] = {
    Reason.DEVICES_FULL: "devices", Reason.DEVICES_USED: "ever",
}  # fmt: skip
_STATES = {Reason.NOT_YET: "early", Reason.PLAN_CLOSED: "closed"}
AWAY_S = 300.0
"""Whoever is back sooner was not away."""
_NO_BARS = BarsLine(Step.BARS, "none")
_network_line = lru_cache(maxsize=256)(NetworkLine)
_device_line = lru_cache(maxsize=64)(DeviceLine)
_missing_line = lru_cache(maxsize=64)(CredentialLine)
_door_line = lru_cache(maxsize=256)(DoorLine)
_REFUSED = (Medium.PAGE, Medium.PERSON, Medium.POSTED)
"""A person with a wrong credential is refused where it was offered; a device is placed at the door (rulings 3.5).

Where devices have keys of their own it is refused, too: without one it cannot be at any door.
"""


def decide(arrival: Arrival, picture: Picture, now: float) -> Decision:
    """What this arrival gets at `now` (UTC epoch seconds), and why."""
    trace: list[TraceLine] = []
    network = _recognise_network(arrival, picture.config, trace)
    if network is None or arrival.refusal is not None:
        return Decision(Answer.REFUSE, arrival.refusal or Reason.NO_NETWORK, trace=trace)
    if not is_served(arrival, picture.config, network):
        trace.append(_network_line(Step.NETWORK, "not_served", network.id))
        return Decision(Answer.REFUSE, Reason.NOT_SERVED, trace=trace)
    _recognise_device(arrival, picture, trace)
    barred = _check_bars(arrival, picture, now, trace)
    if barred is not None:
        return _not_in(arrival, network, barred, trace)
    pause = network.pause
    if pause is not None and pause.holds(now):
        stays = _stays_in(arrival, picture, pause)
        trace.append(PauseLine(Step.BARS, "stays" if stays else "paused", pause.since, pause.until))
        if not stays:
            return _not_in(arrival, network, Reason.PAUSED, trace, good_until=pause.until)
    grant, fault = _check_grant(arrival, picture, network, now, trace)
    if grant is None and fault is Reason.KEY_TRIED:
        return let_try(network, picture, now, trace)
    if grant is None:
        return _not_in(arrival, network, fault, trace)
    verdict = _judge(grant, picture, now, trace)
    if verdict.reason is not None:
        return _not_in(arrival, network, verdict.reason, trace, verdict)
    return place_by_rule(network, grant, picture, verdict, trace)


def network_of(config: Config, arrival: Arrival) -> GuestNetwork | None:
    """The network that is named, or recognised by what the request says."""
    if arrival.network is not None:
        return config.networks.get(arrival.network)
    return config.recognise(
        arrival.access_device, arrival.ssid, arrival.nas_identifier, arrival.port_id, arrival.port_type
    )


def is_served(arrival: Arrival, config: Config, network: GuestNetwork) -> bool:
    """Return whether its access device may ask for the network. What changes for a device that is there already is
    not asked for by anybody.
    """
    return arrival.medium is Medium.CHANGED or config.serves(arrival.access_device, network.id)


def _recognise_network(arrival: Arrival, config: Config, trace: list[TraceLine]) -> GuestNetwork | None:
    network = network_of(config, arrival)
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
        trace.append(_network_line(Step.NETWORK, "ssid" if network.is_plain else "hints", network.id))
    return network


def _recognise_device(arrival: Arrival, picture: Picture, trace: list[TraceLine]) -> None:
    trace.append(
        _device_line(
            Step.DEVICE,
            "new" if picture.standing is None else "known",
            int(is_private(arrival.mac)),
            arrival.medium,
        )
    )


def _check_bars(arrival: Arrival, picture: Picture, now: float, trace: list[TraceLine]) -> Reason | None:
    if picture.barred_since is not None:
        trace.append(BarsLine(Step.BARS, "staff", picture.barred_since))
        return Reason.BARRED_BY_STAFF
    # A bar by tries stops the typing of codes only, never somebody who is in (rulings 6.4); who is held stays so.
    until = picture.typing_barred_until
    is_waiting = picture.admission is None and not _is_held(picture)
    types = arrival.offer is not None and arrival.offer.is_typed
    if until is not None and until > now and (types or (is_waiting and arrival.offer is None)):
        trace.append(BarsLine(Step.BARS, "tries", until))
        return Reason.BARRED_BY_TRIES
    trace.append(_NO_BARS)
    return None


def _stays_in(arrival: Arrival, picture: Picture, pause: Pause) -> bool:
    """Whether it is inside, and the pause leaves those alone."""
    standing = picture.standing
    is_inside = standing is not None and State.INSIDE in (standing.state, standing.wanted)
    return is_inside and not pause.ends_stays and arrival.offer is None and picture.admission is not None


def _is_forgotten(picture: Picture, network: GuestNetwork, now: float) -> bool:
    """Whether a device that was away for longer than a moment is not remembered any more."""
    standing, admission = picture.standing, picture.admission
    if standing is None or admission is None or State.INSIDE in (standing.state, standing.wanted):
        return False
    if standing.state is State.LEFT and now - standing.since < AWAY_S:
        return False  # it went on to another access point, or lost its link
    way = network.way(admission.grant.way)
    at = AtDoor(network.id, standing.mac, now, picture.config.house_rules.version)
    return way is not None and way.is_forgotten(admission.begun, admission.rules, at)


def _check_grant(
    arrival: Arrival, picture: Picture, network: GuestNetwork, now: float, trace: list[TraceLine]
) -> tuple[Grant | None, Reason]:
    """What is to let it in: what is offered now or, without an offer, what it was admitted by."""
    has_offer = arrival.offer is not None
    admitted = picture.admission.grant if picture.admission else None
    if not has_offer and _is_forgotten(picture, network, now):
        trace.append(_missing_line(Step.CREDENTIAL, Reason.FORGOTTEN))
        return None, Reason.FORGOTTEN
    grant = picture.offered if has_offer else admitted
    if grant is None:
        missing = _missing(picture, network, has_offer)
        if missing is not Reason.KEY_TRIED:
            trace.append(_missing_line(Step.CREDENTIAL, missing))
        return None, missing
    if has_offer and picture.only_same and not _is_same(arrival, grant, admitted):
        trace.append(CredentialLine(Step.CREDENTIAL, "in_by_other"))
        return None, Reason.IN_BY_OTHER
    withdrawn = grant.use.withdrawn_at
    if withdrawn is not None:
        line = CredentialLine(Step.CREDENTIAL, "withdrawn", grant.credential, withdrawn, grant.way)
        trace.append(line)
        return None, Reason.CODE_WITHDRAWN
    paused = grant.use.paused_at
    if paused is not None:
        trace.append(CredentialLine(Step.CREDENTIAL, "paused", grant.credential, paused, grant.way))
        return None, Reason.CODE_PAUSED
    if grant.network not in (None, network.id):
        line = CredentialLine(Step.CREDENTIAL, "not_here", grant.credential, None, grant.way)
        trace.append(line)
        return None, Reason.NOT_HERE
    finding = "offered" if has_offer else "admitted"
    trace.append(CredentialLine(Step.CREDENTIAL, finding, grant.credential, None, grant.way))
    return grant, Reason.ADMITTED


def _is_same(arrival: Arrival, grant: Grant, admitted: Grant | None) -> bool:
    """Whether what is offered is what let the device in, and says who offers it (rulings 8.3)."""
    says_who = arrival.offer is not None and arrival.offer.says_who
    return says_who and admitted is not None and admitted.credential == grant.credential


def _missing(picture: Picture, network: GuestNetwork, has_offer: bool) -> Reason:
    if has_offer:
        return picture.offer_fault or Reason.NOT_OFFERED
    if picture.candidates:
        return Reason.KEY_TRIED
    if picture.standing is not None and picture.standing.reason is not None and _is_held(picture):
        return picture.standing.reason  # held until something else lets it in, also if it was away
    return Reason.KEY_NONE if network.by_key else Reason.NEEDS_CODE


def _is_held(picture: Picture) -> bool:
    return picture.standing is not None and picture.standing.reason in LIMIT_REASONS


def _judge(grant: Grant, picture: Picture, now: float, trace: list[TraceLine]) -> Verdict:
    plan = picture.config.plan_of(grant)
    verdict = judge(plan, grant, now, picture.seats_taken)
    if verdict.reason in _SEATS:
        seats = seats_of(plan, grant) or 0
        trace.append(SeatsLine(Step.LIMITS, _SEATS[verdict.reason], plan.id, picture.seats_taken, seats))
    else:
        state = "left" if verdict.reason is None else _STATES.get(verdict.reason, "over")
        line = _limits_line(plan.id, verdict.left, state)
        trace.append(line if verdict.begins is None else line._replace(until=verdict.begins))
    return verdict


def _limits_line(plan: PlanId, remains: Left, state: str) -> LimitsLine:
    return LimitsLine(Step.LIMITS, remains.binds, plan, remains.seconds, remains.until, remains.octets, state)


def _not_in(
    arrival: Arrival,
    network: GuestNetwork,
    reason: Reason,
    trace: list[TraceLine],
    verdict: Verdict | None = None,
    good_until: float | None = None,
) -> Decision:
    left, ended = (verdict.left, verdict.ended) if verdict is not None else (None, None)
    answer, role = Answer.REFUSE, None
    if arrival.medium not in _REFUSED and not network.by_key:
        answer, role = Answer.DOOR, network.door_role
        trace.append(_door_line(Step.PLACEMENT, "door", network.door_role))
    if verdict is not None:
        good_until = verdict.good_until
    return Decision(
        answer, reason, network.id, role, left=left, ended=ended, good_until=good_until, trace=trace
    )
