"""What access devices report, and what time alone brought about."""

from lauschen.api.words.reasons import CAUSES, REASONS
from lauschen.api.words.speaker import Speaker
from lauschen.core.ids import AccessDeviceId
from lauschen.core.words.amounts import data_words, duration_words
from lauschen.core.words.text import visible
from lauschen.store.log import EventRow
from lauschen.store.passphrases.wrong import WrongKey


def _began(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.who(row.mac, row.at)} at {speaker.place(row.access_device)}: its stay began"


def _returned(speaker: Speaker, row: EventRow) -> str:
    wait = duration_words(int(row.facts.get("seconds") or 0))
    where = speaker.place(row.access_device)
    return (
        f"{speaker.who(row.mac, row.at)} is back at {where}, which did not ask again; it is moved in {wait}"
    )


def _ended(speaker: Speaker, row: EventRow) -> str:
    cause = CAUSES.get(str(row.facts.get("cause")), str(row.facts.get("cause")))
    used = data_words(int(row.facts.get("octets") or 0))
    return f"{speaker.who(row.mac, row.at)} left {speaker.place(row.access_device)}: {cause}, {used} used"


def _limit(speaker: Speaker, row: EventRow) -> str:
    why = REASONS.get(str(row.facts.get("reason")), "a limit was reached")
    return f"{speaker.who(row.mac, row.at)}: {why}, the stay is over"


def _on(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.place(row.access_device)} started; {row.facts.get('closed')} stays closed"


def _off(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.place(row.access_device)} stops; {row.facts.get('closed')} stays closed"


def _two_places(speaker: Speaker, row: EventRow) -> str:
    said = row.facts.get("other")
    other = "elsewhere" if said is None else f"at {speaker.place(AccessDeviceId(int(said)))}"
    return f"{speaker.who(row.mac, row.at)} is at {speaker.place(row.access_device)} and {other} at once"


def _two_addresses(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.who(row.mac, row.at)} has {row.facts.get('one')} and {row.facts.get('other')} in turn"


def _impossible(speaker: Speaker, row: EventRow) -> str:
    said = f"reported more octets than any link carries of {speaker.device(row.mac, row.at)}"
    return f"{speaker.place(row.access_device)} {said}; not counted"


def _nobody(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.place(row.access_device)} reported a stay without saying of which device"


def tried_words(speaker: Speaker, one: WrongKey) -> str:
    """How often a device tried a passphrase that does not hold, and whose it was if it was anybody's."""
    times = "once" if one.tries == 1 else f"{one.tries:,} times"
    where = speaker.place(one.access_device)
    if one.holder is None:
        return f"tried {times} at {where} with a passphrase that nobody has"
    whose = visible(one.holder)
    if one.withdrawn_at is not None:
        return f"tried {times} at {where} with the passphrase of {whose}, withdrawn {speaker.clock(one.withdrawn_at)}"
    if one.ended_at is None and one.paused_at is not None:
        return f"tried {times} at {where} with the passphrase of {whose}, paused since {speaker.clock(one.paused_at)}"
    since = "" if one.ended_at is None else f", which does not hold since {speaker.clock(one.ended_at)}"
    return f"tried {times} at {where} with an old passphrase of {whose}{since}"


WORDS = {
    "stay_began": _began,
    "returned_unasked": _returned,
    "stay_ended": _ended,
    "limit_reached": _limit,
    "device_on": _on,
    "device_off": _off,
    "two_places": _two_places,
    "two_addresses": _two_addresses,
    "impossible_count": _impossible,
    "accounting_without_device": _nobody,
}
