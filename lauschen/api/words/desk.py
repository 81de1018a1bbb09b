"""What people issued, how they helped, and that they signed in."""

from lauschen.api.words.speaker import GONE, Speaker
from lauschen.core.ids import PlanId
from lauschen.core.words.amounts import duration_words
from lauschen.core.words.text import visible
from lauschen.store.log import EventRow


def _source(row: EventRow) -> str:
    return visible(str(row.facts.get("from", "somewhere")))


def _signed_in(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} signed in from {_source(row)}"


def _refused(speaker: Speaker, row: EventRow) -> str:
    whose = f"of {speaker.actor(row.actor)}" if row.actor is not None else "of nobody we know"
    if row.facts.get("code"):
        return f"The right password {whose} came from {_source(row)} with a wrong code of the second factor"
    return f"A wrong password {whose} came from {_source(row)}"


def _password(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} chose a new password"


def _first_password(speaker: Speaker, row: EventRow) -> str:
    whose = visible(str(row.facts.get("name", GONE)))
    return f"{speaker.actor(row.actor)} gave {whose} a first password, good for a day"


def _pass_issued(speaker: Speaker, row: EventRow) -> str:
    name = visible(str(row.facts.get("name") or "somebody"))
    return f"{speaker.actor(row.actor)} issued a guest pass for {name}"


def _account_issued(speaker: Speaker, row: EventRow) -> str:
    name = visible(str(row.facts.get("name") or "somebody"))
    return f"{speaker.actor(row.actor)} issued an account for {name}"


def _account_password(speaker: Speaker, row: EventRow) -> str:
    if row.mac is not None:
        return f"{speaker.who(row.mac, row.at)}: chose a new password at the page"
    return f"{speaker.actor(row.actor)} set a new password for an account"


def _issued(speaker: Speaker, row: EventRow) -> str:
    count = int(row.facts.get("count") or 0)
    vouchers = "one voucher" if count == 1 else f"{count:,} vouchers"
    return f"{speaker.actor(row.actor)} issued {vouchers} for {speaker.plan(PlanId(int(row.facts.get('plan') or 0)))}"


def _time_given(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} gave {duration_words(int(row.facts.get('seconds') or 0))} more"


def _list_issued(speaker: Speaker, row: EventRow) -> str:
    count = int(row.facts.get("count") or 0)
    passes = "a guest pass" if count == 1 else f"{count:,} guest passes"
    return f"{speaker.actor(row.actor)} issued {passes} by a list"


def _time_taken(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} took {duration_words(int(row.facts.get('seconds') or 0))} away"


def _restored(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} took back that a code was withdrawn"


def _withdrawn(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} withdrew a code"


def _forgotten(speaker: Speaker, row: EventRow) -> str:
    count = row.facts.get("count")
    whom = "a device that has left" if count == 1 else f"{count} devices that have left"
    return f"{speaker.actor(row.actor)} forgot {whom}: asked again on return"


def _ended(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} ended the stay of {speaker.device(row.mac, row.at)}"


def _barred(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} barred {speaker.device(row.mac, row.at)}"


def _let_try(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} lets {speaker.device(row.mac, row.at)} try again"


def _paused(speaker: Speaker, row: EventRow) -> str:
    return f"{_capital(speaker.actor(row.actor))} paused a code"


def _resumed(speaker: Speaker, row: EventRow) -> str:
    return f"{_capital(speaker.actor(row.actor))} let a code go on"


def _renewed(speaker: Speaker, row: EventRow) -> str:
    return f"{_capital(speaker.actor(row.actor))} drew a new code; the one before is good no more"


def _passphrase_issued(speaker: Speaker, row: EventRow) -> str:
    count, name = int(row.facts.get("count") or 0), row.facts.get("name")
    what = f"a passphrase for {visible(str(name))}" if name else f"{count:,} passphrases"
    return f"{_capital(speaker.actor(row.actor))} issued {what}"


def _holder(row: EventRow) -> str:
    return visible(str(row.facts.get("name", GONE)))


def _revealed(speaker: Speaker, row: EventRow) -> str:
    count = int(row.facts.get("count") or 1)
    if count > 1:
        return f"{_capital(speaker.actor(row.actor))} printed {count:,} passphrases"
    how = "printed" if row.facts.get("how") == "printed" else "had a look at"
    return f"{_capital(speaker.actor(row.actor))} {how} the passphrase of {_holder(row)}"


def _passphrase_taken(speaker: Speaker, row: EventRow) -> str:
    return f"{_capital(speaker.actor(row.actor))} chose a passphrase that somebody has, and was told so"


def _passphrase_renewed(speaker: Speaker, row: EventRow) -> str:
    overlap = int(row.facts.get("seconds") or 0)
    until = f"holds for {duration_words(overlap)} more" if overlap else "does not hold any more"
    return (
        f"{_capital(speaker.actor(row.actor))} gave {_holder(row)} a new passphrase; the one before {until}"
    )


def _renewal_undone(speaker: Speaker, row: EventRow) -> str:
    return f"{_capital(speaker.actor(row.actor))} took the new passphrase of {_holder(row)} back"


def _link_voided(speaker: Speaker, row: EventRow) -> str:
    return f"{_capital(speaker.actor(row.actor))} made the links to the page of {_holder(row)} void"


def _taken_off(speaker: Speaker, row: EventRow) -> str:
    device = speaker.device(row.mac, row.at)
    return f"{_capital(speaker.actor(row.actor))} took {device} off the passphrase of {_holder(row)}"


def _taken_on(speaker: Speaker, row: EventRow) -> str:
    device = speaker.device(row.mac, row.at)
    return (
        f"{_capital(speaker.actor(row.actor))} lets {device} join by the passphrase of {_holder(row)} again"
    )


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


WORDS = {
    "credential_paused": _paused,
    "credential_resumed": _resumed,
    "code_renewed": _renewed,
    "signed_in": _signed_in,
    "sign_in_refused": _refused,
    "password_changed": _password,
    "first_password": _first_password,
    "issued": _issued,
    "pass_issued": _pass_issued,
    "account_issued": _account_issued,
    "account_password_set": _account_password,
    "time_given": _time_given,
    "withdrawn": _withdrawn,
    "list_issued": _list_issued,
    "time_taken": _time_taken,
    "restored": _restored,
    "forgotten": _forgotten,
    "stay_ended_by_staff": _ended,
    "barred": _barred,
    "passphrase_issued": _passphrase_issued,
    "passphrase_revealed": _revealed,
    "passphrase_taken": _passphrase_taken,
    "passphrase_renewed": _passphrase_renewed,
    "passphrase_renewal_undone": _renewal_undone,
    "key_link_voided": _link_voided,
    "key_device_removed": _taken_off,
    "key_device_returned": _taken_on,
    "let_try_again": _let_try,
}
