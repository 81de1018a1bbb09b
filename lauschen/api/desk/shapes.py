"""From what is stored to what the room Desk says."""

from typing import Literal

from lauschen.api.desk.models import (
    BatchOut,
    BoundsOut,
    CannotOut,
    DeskNetwork,
    IssuedOut,
    JobOut,
    PasscodeOut,
    PlanOut,
    SentOut,
)
from lauschen.api.shaping import Shaper
from lauschen.api.words.plans import plan_words
from lauschen.beside.jobs import LongJob
from lauschen.core.config.config import Config
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.judge import seats_of
from lauschen.core.ids import BatchId, CredentialId, StaffId
from lauschen.core.limits.left import credential_state, left, must_start_by
from lauschen.core.limits.plan import Plan
from lauschen.core.messages.message import Channel
from lauschen.core.people.limits import Limits
from lauschen.core.ways.kinds import AT_DESK
from lauschen.core.words.addresses import shown_phone
from lauschen.core.words.codes import shown_code
from lauschen.core.words.text import visible
from lauschen.sentences.slips import limits_of, slip_limits
from lauschen.store import credentials
from lauschen.store.batches import Batch
from lauschen.store.credentials import Issued
from lauschen.store.messages import outbox

HIDDEN = "·····-·····"
"""In place of a code that is not for whoever looks."""


def plan_out(plan: Plan) -> PlanOut:
    return PlanOut(
        id=plan.id, name=plan.name, devices=plan.devices, sentence=plan_words(plan), slip=slip_limits(plan)
    )


def job_out(job: LongJob) -> JobOut:
    return JobOut(
        id=job.id, done=job.done, of=job.of, state=job.state.value, error=job.error, batch=job.result
    )


def issued_out(
    shaper: Shaper,
    credential: CredentialId,
    grant: Grant,
    *,
    code: str,
    is_chosen: bool,
    devices_in: int,
    devices_away: int | None = None,
    issuer: StaffId | None = None,
) -> IssuedOut:
    plan = shaper.config.plan_of(grant)
    remains = left(plan, grant.use, shaper.now)
    is_begun = grant.use.first_used is not None
    return IssuedOut(
        id=credential,
        way=grant.way,
        code=shown_code(code, is_chosen=is_chosen) if shaper.reads(issuer) else HIDDEN,
        is_hidden=not shaper.reads(issuer),
        devices=seats_of(plan, grant),
        seats=grant.seats,
        valid_from=grant.use.valid_from,
        valid_until=grant.use.valid_until,
        slip=limits_of(shaper.config, plan, grant),
        plan=plan.name,
        state=credential_state(plan, grant.use, shaper.now),
        first_used=grant.use.first_used,
        until=remains.until if is_begun else None,
        must_start_by=must_start_by(plan, grant.use),
        seconds_left=remains.seconds if is_begun else None,
        octets_used=grant.use.octets,
        octets_left=remains.octets,
        devices_in=devices_in,
        devices_away=devices_away,
    )


def issued_list(shaper: Shaper, batch: BatchId, *, after: int, at_most: int) -> list[IssuedOut]:
    found = credentials.issued_of(shaper.conn, shaper.keys, batch, after=after, at_most=at_most)
    return [one_out(shaper, one) for one in found]


def one_out(shaper: Shaper, one: Issued) -> IssuedOut:
    return issued_out(
        shaper,
        one.id,
        one.grant,
        code=one.code,
        is_chosen=one.is_chosen,
        devices_in=one.devices_in,
        devices_away=one.devices_away,
        issuer=one.issuer,
    ).model_copy(update={"sent": sent_out(shaper, one.id)})


def sent_out(shaper: Shaper, credential: CredentialId) -> SentOut | None:
    """The newest message about it."""
    found = outbox.of_credential(shaper.conn, shaper.keys, credential, 1)
    if not found:
        return None
    message = found[0]
    is_text = message.channel is Channel.TEXT
    return SentOut(
        message=message.id,
        channel="text" if is_text else "mail",
        to=visible(shown_phone(message.to) if is_text else message.to),
        lang="de" if message.lang == "de" else "en",
        state=message.state,
        at=message.written_at,
        answer=None if message.answer is None else visible(message.answer),
    )


def networks_out(config: Config, limits: Limits) -> list[DeskNetwork]:
    """Those that somebody within `limits` may issue for."""
    return [
        DeskNetwork(
            id=network.id,
            name=network.name,
            ssid=visible(network.shown_as),
            ways=[way for way in AT_DESK if network.way(way) is not None],
        )
        for network in config.networks.values()
        if not limits.networks or network.id in limits.networks
    ]


def price_words(price: int | None) -> str:
    """`3.50`; empty without one."""
    return "" if price is None else f"{price / 100:,.2f}"


def takings_words(price: int | None, used: int) -> str:
    """What the used ones come to."""
    return price_words(price * used) if price and used else ""


def cannot_out(shaper: Shaper) -> list[CannotOut]:
    """What of the desk cannot work now, before somebody tries it."""
    config, now, clock = shaper.config, shaper.now, shaper.speaker().clock
    found = []
    for channel, count, since, answer in outbox.failing(shaper.conn):
        if channel in (Channel.MAIL, Channel.TEXT):
            what = "Mails" if channel == Channel.MAIL else "Text messages"
            text = f"{what} have not got through since {clock(since)} ({count} wait): {visible(answer or '')}"
            found.append(CannotOut(about="mail" if channel == Channel.MAIL else "text", id=None, text=text))
    for plan in config.offered_plans:
        is_open, opens = plan.hours.span(now) if plan.hours is not None else (True, None)
        if not is_open:
            until = f" until {clock(opens)}" if opens is not None else ""
            text = f"{visible(plan.name)} is closed{until}: nobody gets in by it before."
            found.append(CannotOut(about="plan", id=plan.id, text=text))
    for network in config.networks.values():
        if network.pause is not None and network.pause.holds(now):
            until = f" until {clock(network.pause.until)}" if network.pause.until is not None else ""
            text = f"{visible(network.name)} is paused{until}: nobody gets in there."
            found.append(CannotOut(about="network", id=network.id, text=text))
    return found


def bounds_out(limits: Limits) -> BoundsOut:
    return BoundsOut(
        longest_seconds=limits.longest_s,
        most_at_once=limits.most_at_once,
        most_devices=limits.most_devices,
        needs_network=bool(limits.networks),
    )


def sends(config: Config) -> list[Literal["mail", "text"]]:
    """How something can be sent."""
    channels = config.channels
    found: list[Literal["mail", "text"]] = ["mail"] if channels.mail is not None else []
    return [*found, "text"] if channels.text is not None else found


def batch_out(shaper: Shaper, batch: Batch, issued: list[IssuedOut] | None = None) -> BatchOut:
    if issued is None:
        issued = issued_list(shaper, batch.id, after=0, at_most=1) if batch.size == 1 else []
    return BatchOut(
        id=batch.id,
        label=visible(batch.said.label),
        plan=shaper.config.plans[batch.plan].name,
        size=batch.size,
        used=batch.used,
        withdrawn=batch.withdrawn,
        words=visible(batch.said.words),
        note=visible(batch.said.note),
        price=batch.said.price,
        takings=takings_words(batch.said.price, batch.used),
        issued_at=batch.issued_at,
        issued_by=batch.issued_by,
        issued=issued,
        is_hidden=not shaper.reads(batch.issuer),
        way=batch.way,
    )


def passcodes_out(shaper: Shaper) -> list[PasscodeOut]:
    """Those that are good now, of the networks whose passcode is for the eyes of whoever looks."""
    return [
        PasscodeOut(network=network.name, code=visible(one.text), until=one.until, is_former=n > 0)
        for network in shaper.config.networks.values()
        if shaper.reads_passcode_of(network.id)
        for n, one in enumerate(shaper.config.passcodes(network.id, shaper.keys.token_key, shaper.now))
    ]
