"""Why an answer is what it is."""

from enum import StrEnum


class Reason(StrEnum):
    """Why an answer is what it is; worded for staff in `words`, for guests by the portal."""

    ADMITTED = "admitted"
    NEEDS_CODE = "needs_code"
    NOT_OFFERED = "not_offered"
    """The network does not offer this way in."""
    RULES_CHANGED = "rules_changed"
    """The house rules that were agreed to are not those in force."""
    DETAILS_MISSING = "details_missing"
    """A guest was asked for a name or a mail address, and said none."""
    CODE_UNKNOWN = "code_unknown"
    LOGIN_WRONG = "login_wrong"
    """Name and password do not go together."""
    CHAP_ACCOUNT = "chap_account"
    """The password of an account was asked for by CHAP, and it is not kept for that."""
    CODE_EXPIRED = "code_expired"
    CODE_WITHDRAWN = "code_withdrawn"
    CODE_PAUSED = "code_paused"
    """Staff or a host paused what it is in by."""
    NOT_HERE = "not_here"
    """What is offered is good on another network alone."""
    NOT_YET = "not_yet"
    """It is good from a later moment on."""
    DATE_OVER = "date_over"
    """The moment until which it was good is over."""
    NOT_CONFIRMED = "not_confirmed"
    """The first stay is over, and the address was not confirmed."""
    PLAN_CLOSED = "plan_closed"
    """Its plan may not be used at this hour."""
    WAY_CLOSED = "way_closed"
    """This way in lets nobody in at this hour."""
    PAUSED = "paused"
    """The network lets nobody in for a while."""
    FORGOTTEN = "forgotten"
    """It was let in for longer ago than that way in is remembered."""
    TIME_USED_UP = "time_used_up"
    DATA_USED_UP = "data_used_up"
    DEVICES_FULL = "devices_full"
    DEVICES_USED = "devices_used"
    """As many devices as it is for were in by it already, whether they are now or not."""
    BARRED_BY_STAFF = "barred_by_staff"
    BARRED_BY_TRIES = "barred_by_tries"
    ENDED_BY_STAFF = "ended_by_staff"
    LOGGED_OUT = "logged_out"
    IN_BY_OTHER = "in_by_other"
    """Another visit let the device in; whoever did not, may only look (rulings 8.3)."""
    OTHER_CODE = "other_code"
    """The end of an admission in whose place another code was used."""
    NO_NETWORK = "no_network"
    NOT_SERVED = "not_served"
    """The access device is not listed for the network that it asks for."""
    NO_RULE = "no_rule"
    CONTRADICTORY = "contradictory"
    EAP = "eap"
    NO_WAY_IN = "no_way_in"
    """A request with neither a password nor anything else that could be proved."""
    MAC_PASSWORD = "mac_password"  # noqa: S105 - a reason, not a secret
    """It asks as a device, with another password than its MAC or the dialect's."""
    NOT_A_CODE = "not_a_code"
    CHAP_NAME = "chap_name"
    CHAP_PASSWORD = "chap_password"  # noqa: S105
    KEY_UNKNOWN = "key_unknown"
    """No private passphrase here signed its handshake."""
    KEY_ENDED = "key_ended"
    """The private passphrase that it has was replaced, and does not hold any more."""
    KEY_REMOVED = "key_removed"
    """This device was taken off the private passphrase that it has."""
    KEY_TRIED = "key_tried"
    """Its access point was given keys to try; which one it has shows when it joins."""
    KEY_NONE = "key_none"
    """There is no key that it could have: each is in use on as many devices as it is for."""
    HANDSHAKE_BROKEN = "handshake_broken"
    """What its access device passed on is no handshake."""
    KEY_UNSIGNED = "key_unsigned"
    """The access device does not sign its requests, so no key may go there."""
    KEY_NO_HANDSHAKE = "key_no_handshake"
    """Its access device passes handshakes on, and sent none: by address no key goes there."""
    TOO_MANY_NEW = "too_many_new"
    """Its access device asked about more new devices than are tried on keys there."""
    TOO_SOON = "too_soon"
    """It tried wrong keys again and again: it is not looked at for a moment."""
    FOREIGN_STATE = "foreign_state"
    SECRET_FOREIGN = "secret_foreign"  # noqa: S105 - a reason, not a secret
    SECRET_OLD = "secret_old"  # noqa: S105
    SECRET_USED = "secret_used"  # noqa: S105


FOR_A_WHILE = (Reason.PLAN_CLOSED, Reason.PAUSED)
"""Those that keep a device out while what it was admitted by goes on: afterwards it is in again."""
WRONG_TRIES = (Reason.CODE_UNKNOWN, Reason.LOGIN_WRONG)
"""Those that count as guesses, all together (rulings 8.2)."""
LIMIT_REASONS = (
    Reason.TIME_USED_UP,
    Reason.DATA_USED_UP,
    Reason.DATE_OVER,
    Reason.NOT_CONFIRMED,
    Reason.CODE_PAUSED,
)
"""Those that make a device *held*: a limit ended its stay."""
