"""From what is stored to what the API says."""

from dataclasses import dataclass
from sqlite3 import Connection

from lauschen.api import models
from lauschen.api.desk.sheet import slip_limits
from lauschen.api.words import CAUSES, REASONS, Worder, answer_words, plan_words
from lauschen.core.decide.picture import CredentialFacts
from lauschen.core.house.house import GuestNetwork, House, Plan
from lauschen.core.ids import BatchId
from lauschen.core.limits.left import credential_state, left, must_start_by
from lauschen.core.limits.presence import presences
from lauschen.core.words.codes import group_code
from lauschen.core.words.mac import is_private, short_mac, spell_mac
from lauschen.core.words.text import visible
from lauschen.store import credentials, staff, stays
from lauschen.store.credentials import Batch
from lauschen.store.keys import KeyRing
from lauschen.store.log import DecisionRow, LogRow
from lauschen.store.overview import GuestRow, StreamCounts

CAUSE_UNKNOWN = "no reason said"


@dataclass(slots=True)
class Shaper:
    """One answer's worth of shaping: a house, a connection and an instant."""

    house: House
    keys: KeyRing
    conn: Connection
    now: float

    def worder(self) -> Worder:
        return Worder(self.house, staff.staff_names(self.conn), self.now)

    def plan(self, plan: Plan) -> models.PlanOut:
        return models.PlanOut(id=plan.id, name=plan.name, sentence=plan_words(plan), slip=slip_limits(plan))

    def voucher(self, facts: CredentialFacts, code: str, devices_in: int) -> models.VoucherOut:
        plan = self.house.plans[facts.plan]
        remains = left(plan, facts.use, self.now)
        is_begun = facts.use.first_used is not None
        return models.VoucherOut(
            id=facts.id,
            code=group_code(code),
            plan=plan.name,
            state=credential_state(plan, facts.use, self.now),
            first_used=facts.use.first_used,
            until=remains.until if is_begun else None,
            must_start_by=must_start_by(plan, facts.use),
            seconds_left=remains.seconds if is_begun else None,
            octets_used=facts.use.octets,
            octets_left=remains.octets,
            devices_in=devices_in,
        )

    def vouchers(self, batch: BatchId, *, after: int, at_most: int) -> list[models.VoucherOut]:
        found = credentials.vouchers_of(self.conn, self.keys, batch, after=after, at_most=at_most)
        return [self.voucher(v.facts, v.code, v.devices_in) for v in found]

    def batch(self, batch: Batch, vouchers: list[models.VoucherOut] | None = None) -> models.BatchOut:
        if vouchers is None:
            vouchers = self.vouchers(batch.id, after=0, at_most=1) if batch.size == 1 else []
        return models.BatchOut(
            id=batch.id,
            label=visible(batch.label),
            plan=self.house.plans[batch.plan].name,
            size=batch.size,
            used=batch.used,
            withdrawn=batch.withdrawn,
            issued_at=batch.issued_at,
            issued_by=batch.issued_by,
            vouchers=vouchers,
        )

    def guest(self, row: GuestRow) -> models.GuestOut:
        voucher = None
        if row.credential is not None and row.code_sealed is not None:
            code = self.keys.unseal(
                row.code_sealed, table="credential", column="code_sealed", row=row.credential.id
            ).decode()
            voucher = self.voucher(row.credential, code, row.devices_in)
        role = self.house.roles.get(row.role) if row.role is not None else None
        device = self.house.access_devices.get(row.access_device)
        network = self.house.networks.get(row.network)
        return models.GuestOut(
            mac=spell_mac(row.mac),
            short=short_mac(row.mac),
            private=is_private(row.mac),
            network=row.network,
            network_name=network.name if network else "",
            state=row.state,
            going=row.going,
            reason=REASONS.get(row.reason, row.reason) if row.reason else None,
            since=row.since,
            role=role.name if role else None,
            voucher=voucher,
            where=device.name if device else "",
            address=row.framed_ip,
            until=voucher.until if voucher and row.state == "inside" else None,
            octets_used=voucher.octets_used if voucher else 0,
            octets_left=voucher.octets_left if voucher else None,
            last_heard=row.last_heard,
            not_confirmed=answer_words(row.wanted_answer) if row.wanted_answer else None,
            typing_barred_until=row.typing_barred_until,
        )

    def log_line(self, row: LogRow, worder: Worder) -> models.LogLine:
        return models.LogLine(
            id=row.id,
            at=row.at,
            text=worder.line(row),
            repeats=row.repeats if isinstance(row, DecisionRow) else 0,
            mac=spell_mac(row.mac) if row.mac else None,
            network=row.network,
            steps=worder.trace(row) if isinstance(row, DecisionRow) else [],
        )

    def stays(self, row: GuestRow) -> list[models.StayOut]:
        """Each presence of the guest once, over however many stays it was reported."""
        names = {device.id: device.name for device in self.house.access_devices.values()}
        return [
            models.StayOut(
                where=", then ".join(names.get(device, "a device that is gone") for device in p.where),
                started=p.started,
                ended=p.ended,
                end=None if p.ended is None else CAUSES.get(p.end_cause or "", p.end_cause or CAUSE_UNKNOWN),
                seconds=int(sum(part.length for part in p.counted)),
                octets_in=sum(part.octets_in.total for part in p.counted),
                octets_out=sum(part.octets_out.total for part in p.counted),
            )
            for p in presences(stays.stays_of(self.conn, row.mac, 50))
        ]

    def stream(self, network: GuestNetwork, counts: StreamCounts) -> models.Stream:
        roles = self.house.roles
        inside = [
            models.RoleCount(role=roles[role].name if role in roles else "a role that is gone", count=count)
            for role, count in sorted(counts.inside.items(), key=lambda item: -item[1])
        ]
        ways = {
            str(rule.way_in)
            for rule in self.house.rules
            if rule.network in (None, network.id) and rule.way_in
        }
        return models.Stream(
            id=network.id,
            name=network.name,
            ssid=visible(network.shown_as),
            ways_in=sorted(ways),
            at_door=counts.at_door,
            page_opened=counts.page_opened,
            code_tried=counts.code_tried,
            inside=inside,
            held=counts.held,
            barred=counts.barred,
            left_last_hour=counts.left_last_hour,
        )
