"""Why: reasons of decisions, causes of ends, answers of access devices."""

REASONS = {
    "admitted": "let in",
    "needs_code": "sent to the page",
    "not_offered": "this network does not offer that way in",
    "rules_changed": "the house rules changed meanwhile",
    "details_missing": "name or mail address was not said",
    "code_unknown": "this code was never issued",
    "login_wrong": "name and password do not go together",
    "chap_account": "the access device asked for an account by CHAP, and its password is not kept for that; issue it"
    " for CHAP, or let the access device use PAP",
    "code_expired": "the code was not used in time",
    "not_here": "it is good on another network alone",
    "not_yet": "it is not good yet",
    "not_confirmed": "its address was not confirmed in time",
    "date_over": "the moment until which it was good is over",
    "plan_closed": "its plan is closed at this hour",
    "way_closed": "this way in is closed at this hour",
    "paused": "the network is paused",
    "forgotten": "it logged in longer ago than that is remembered",
    "code_paused": "it is paused",
    "code_withdrawn": "it was withdrawn",
    "time_used_up": "the time is used up",
    "data_used_up": "the data is used up",
    "devices_full": "what was typed is in use on as many devices as it is for",
    "devices_used": "what was typed was used on as many devices as it is for, in all",
    "barred_by_staff": "by a person",
    "barred_by_tries": "after too many wrong codes",
    "ended_by_staff": "stay ended by staff",
    "logged_out": "logged out",
    "no_network": "no guest network has this SSID",
    "not_served": "its access device is not listed for this network",
    "no_rule": "no rule matches",
    "contradictory": "the request contradicts itself",
    "eap": "the device tries 802.1X, which this network does not use",
    "no_way_in": "it came without a password, so it proves neither a device nor a person; let the access device send"
    " the MAC as name and password, or Service-Type Call-Check",
    "mac_password": "it asked as a device, but with another password than its MAC; if the access device sends one"
    " password for all, put that into its dialect",
    "not_a_code": "what was typed is no code: those have ten signs",
    "chap_name": "by CHAP the user name must be the code itself, and it was none; let the access device use PAP, or"
    " tell the guest to type the code in both fields",
    "chap_password": "by CHAP user name and password must both be the code, and the password was another one",
    "in_by_other": "the device is in by another code, and this visit did not type that",
    "key_unknown": "its private passphrase is none that was ever issued here",
    "key_ended": "its private passphrase was replaced by another one",
    "key_removed": "this device was taken off the private passphrase that it has",
    "key_tried": "its access point was given keys to try",
    "key_none": "there is no private passphrase that it could have",
    "handshake_broken": "what its access device passed on is no second message of a handshake; compare the attribute"
    " numbers in its dialect",
    "key_unsigned": "its access device does not sign requests, and no passphrase goes where anybody could read it;"
    " let it send Message-Authenticator",
    "key_no_handshake": "its access device passes handshakes on, and this request had none",
    "too_many_new": "its access device asked about too many new devices, so no passphrases go there for a while",
    "too_soon": "it tried wrong passphrases again and again, and is not looked at for a moment",
    "foreign_state": "nobody asked for this re-authorisation",
    "other_code": "another code was used in its place",
    "secret_foreign": "the one-time login is not of this device's visit",
    "secret_old": "the one-time login came too late",
    "secret_used": "the one-time login was used already",
}
CAUSES = {
    "user_request": "the device left",
    "lost_carrier": "the link was lost",
    "lost_service": "the service was lost",
    "idle_timeout": "idle too long",
    "session_timeout": "the time given was over",
    "admin_reset": "ended by Lauschen",
    "admin_reboot": "the access device was restarted",
    "nas_request": "ended by the access device",
    "nas_reboot": "the access device restarted",
    "device_restarted": "the access device restarted",
    "lost": "nothing was heard of it for three intervals",
    "gone": "its access device did not know it any more",
    "roamed": "it went on to another access point",
    "began_anew": "a new stay began in its place",
    "not_said": "no reason said",
}
NAK_WORDS = {
    401: "it does not know an attribute of the request",
    402: "an attribute is missing",
    403: "it says that it is another device",
    404: "the request is not valid",
    405: "it does not support this request",
    501: "this is forbidden by its settings",
    503: "it does not know such a session",
    504: "the session cannot be changed",
    506: "it has no resources left",
}


def answer_words(answer: str) -> str:
    """What an access device answered to a change that we asked for."""
    if answer == "accepted":
        return "agreed"
    if answer == "silent":
        return "did not answer"
    if answer == "failed":
        return "was not told: something of ours failed"
    if answer.startswith("http:"):
        return f"refused: {answer[5:]}"
    cause = int(answer.partition(":")[2] or 0)
    return f"refused: {NAK_WORDS.get(cause, 'without saying why')} (Error-Cause {cause})"
