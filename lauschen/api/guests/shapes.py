"""From what is stored to what the room Guests says."""

from lauschen.api.desk.shapes import voucher_out
from lauschen.api.guests.models import GuestOut, StayOut
from lauschen.api.shaping import Shaper
from lauschen.api.words.reasons import CAUSES, REASONS, answer_words
from lauschen.core.limits.presence import presences
from lauschen.core.words.mac import is_private, short_mac, spell_mac
from lauschen.store import stays
from lauschen.store.overview import GuestRow

CAUSE_UNKNOWN = "no reason said"


def guest_out(shaper: Shaper, row: GuestRow) -> GuestOut:
    voucher = None
    if row.credential is not None and row.code_sealed is not None:
        code = shaper.keys.unseal(
            row.code_sealed, table="credential", column="code_sealed", row=row.credential.id
        ).decode()
        voucher = voucher_out(shaper, row.credential, code, row.devices_in)
    role = shaper.house.roles.get(row.role) if row.role is not None else None
    device = shaper.house.access_devices.get(row.access_device)
    network = shaper.house.networks.get(row.network)
    return GuestOut(
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


def stays_out(shaper: Shaper, row: GuestRow) -> list[StayOut]:
    """Each presence of the guest once, over however many stays it was reported."""
    names = {device.id: device.name for device in shaper.house.access_devices.values()}
    return [
        StayOut(
            where=", then ".join(names.get(device, "a device that is gone") for device in p.where),
            started=p.started,
            ended=p.ended,
            end=None if p.ended is None else CAUSES.get(p.end_cause or "", p.end_cause or CAUSE_UNKNOWN),
            seconds=int(sum(part.length for part in p.counted)),
            octets_in=sum(part.octets_in.total for part in p.counted),
            octets_out=sum(part.octets_out.total for part in p.counted),
        )
        for p in presences(stays.stays_of(shaper.conn, row.mac, 50))
    ]
