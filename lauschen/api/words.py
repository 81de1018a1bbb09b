"""Staff sentences: what was heard and decided, worded on reading from codes and numbers."""

import json
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from lauschen.core.house.house import House, Plan, Rule
from lauschen.core.ids import AccessDeviceId, PlanId
from lauschen.core.words.amounts import data_words, duration_words
from lauschen.core.words.mac import short_mac
from lauschen.core.words.text import visible
from lauschen.store.log import DecisionRow, HeardRow, LogRow

REASONS = {
    "admitted": "let in",
    "needs_code": "asked for a code",
    "code_unknown": "this code was never issued",
    "code_expired": "the code was not used in time",
    "code_withdrawn": "the voucher was withdrawn",
    "time_used_up": "the time is used up",
    "data_used_up": "the data is used up",
    "devices_full": "the voucher is in use on as many devices as its plan allows",
    "barred_by_staff": "by a person",
    "barred_by_tries": "after too many wrong codes",
    "ended_by_staff": "stay ended by staff",
    "logged_out": "logged out",
    "no_network": "no guest network has this SSID",
    "no_rule": "no rule matches",
    "contradictory": "the request contradicts itself",
    "eap": "the device tries 802.1X, which this network does not use",
    "no_way_in": "it came without a password, so it proves neither a device nor a person; let the access device send"
    " the MAC as name and password, or Service-Type Call-Check",
    "mac_password": "it asked as a device, but with another password than its MAC; if the access device sends one"
    " password for all, put that into its dialect",
    "not_a_code": "what was typed is no voucher code: those have ten signs",
    "chap_name": "by CHAP the user name must be the code itself, and it was none; let the access device use PAP, or"
    " tell the guest to type the code in both fields",
    "chap_password": "by CHAP user name and password must both be the code, and the password was another one",
    "in_by_other": "the device is in by another code, and this visit did not type that",
    "foreign_state": "nobody asked for this re-authorisation",
    "other_code": "another code was used in its place",
    "secret_foreign": "the one-time login is not of this device's visit",
    "secret_old": "the one-time login came too late",
    "secret_used": "the one-time login was used already",
}
_DONE = {"device_taken_in": "took in", "device_changed": "changed", "device_removed": "removed"}
_TOLD = {
    "reauthorise": "ask again about",
    "disconnect": "send away",
    "attributes": "place anew",
    "called": "change",
}
_STANDS = {
    "time_used_up": "held",
    "data_used_up": "held",
    "barred_by_staff": "barred",
    "barred_by_tries": "barred",
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
    "reported_twice": "another access device reports the same traffic",
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


@dataclass(frozen=True, slots=True)
class Worder:
    """Words for one house at one instant."""

    house: House
    staff: dict[int, str]
    now: float

    def line(self, row: LogRow) -> str:
        """One log row as a sentence without its time."""
        return self._decision(row) if isinstance(row, DecisionRow) else self._heard(row)

    def trace(self, row: DecisionRow) -> list[tuple[str, str]]:
        """Each step of a decision: its name and what it concluded."""
        return [self._step(*line) for line in json.loads(row.trace)]

    def place(self, row: LogRow) -> str:
        device = self.house.access_devices.get(row.access_device) if row.access_device is not None else None
        return device.name if device else "an access device that is gone"

    def clock(self, at: float) -> str:
        """`18:00`, with the day when it is another one."""
        zone = self.house.zone
        then, today = datetime.fromtimestamp(at, zone), datetime.fromtimestamp(self.now, zone).date()
        if then.date() == today:
            return f"{then:%H:%M}"
        if then.date() == today + timedelta(days=1):
            return f"tomorrow {then:%H:%M}"
        return f"{then:%a} {then.day} {then:%b}, {then:%H:%M}"

    def _decision(self, row: DecisionRow) -> str:
        who = f"Device {short_mac(row.mac)}" if row.mac else "A device without an address"
        if row.medium in ("person", "posted"):
            who = f"Somebody with device {short_mac(row.mac)}" if row.mac else "Somebody"
        reason = REASONS.get(row.reason, row.reason)
        if row.medium == "page":
            tail = "right code" if row.answer == "admit" else reason
            return f"{who} at the page: {tail}"
        where = f"{who} at {self.place(row)}"
        role = self.house.roles.get(row.role) if row.role is not None else None
        match row.answer:
            case "admit":
                until = f" until {self.clock(row.until)}" if row.until is not None else ""
                rule = self._rule(row.rule)
                named = f", rule {rule.position}" if rule else ""
                return f"{where}: placed as {role.name if role else 'a role that is gone'}{until}{named}"
            case "door":
                return f"{where}: {_STANDS.get(row.reason, 'at the door')}, {reason}"
        return f"{where}: refused, {reason}"

    def _heard(self, row: HeardRow) -> str:
        who = f"Device {short_mac(row.mac)}" if row.mac is not None else "Somebody"
        staff = self.staff.get(row.staff, "somebody") if row.staff is not None else "somebody"
        facts = row.facts
        match row.kind:
            case "stay_began":
                return f"{who} at {self.place(row)}: its stay began"
            case "returned_unasked":
                where = self.place(row)
                wait = duration_words(int(facts.get("seconds") or 0))
                return f"{who} is back at {where}, which did not ask again; it is moved in {wait}"
            case "stay_ended":
                cause = CAUSES.get(str(facts.get("cause")), str(facts.get("cause")))
                return (
                    f"{who} left {self.place(row)}: {cause}, {data_words(int(facts.get('octets') or 0))} used"
                )
            case "page_opened":
                return f"{who} opened the page"
            case "code_slip":
                return f"{who} at the page: a slip of the finger, not counted as a wrong code"
            case "logged_out":
                return f"{who} logged out"
            case "limit_reached":
                return (
                    f"{who}: {REASONS.get(str(facts.get('reason')), 'a limit was reached')}, the stay is over"
                )
            case "signed_in":
                return f"{staff} signed in from {visible(str(facts.get('from')))}"
            case "sign_in_refused":
                whose = f"of {staff}" if row.staff is not None else "of nobody we know"
                return f"A wrong password {whose} came from {visible(str(facts.get('from')))}"
            case "password_changed":
                return f"{staff} chose a new password"
            case "issued":
                plan = self.house.plans.get(PlanId(int(facts.get("plan") or 0)))
                count = facts.get("count")
                vouchers = "one voucher" if count == 1 else f"{count} vouchers"
                return f"{staff} issued {vouchers} for {plan.name if plan else 'a plan that is gone'}"
            case "time_given":
                return f"{staff} gave {duration_words(int(facts.get('seconds') or 0))} more"
            case "withdrawn":
                return f"{staff} withdrew a voucher"
            case "stay_ended_by_staff":
                return f"{staff} ended the stay of device {_short(row)}"
            case "barred":
                return f"{staff} barred device {_short(row)}"
            case "let_try_again":
                return f"{staff} lets device {_short(row)} try again"
            case "device_answered":
                told = _TOLD.get(str(facts.get("how")), "move")
                answer = answer_words(str(facts.get("answer")))
                return f"{self.place(row)}, told to {told} device {_short(row)}, {answer}"
            case "device_on" | "device_off":
                verb = "started" if row.kind == "device_on" else "stops"
                return f"{self.place(row)} {verb}; {facts.get('closed')} stays closed"
            case "device_taken_in" | "device_changed" | "device_removed":
                return f"{staff} {_DONE[row.kind]} the access device {facts.get('name', 'that is gone')}"
            case "secret_changed":
                return f"{staff} gave {self.place(row)} a new secret; the old one is heard too"
            case "old_secret_forgotten":
                return f"{staff} let the old secret of {self.place(row)} go"
            case "network_saved" | "role_saved" | "dialect_saved":
                return (
                    f"{staff} saved the {row.kind.removesuffix('_saved')} {facts.get('name', 'that is gone')}"
                )
            case "network_removed" | "role_removed" | "dialect_removed":
                return f"{staff} removed the {row.kind.removesuffix('_removed')} {facts.get('name')}"
            case "given_up":
                tried = "letting in" if facts.get("what") == "in" else "sending away"
                return f"{self.place(row)} never confirmed {tried} device {_short(row)}; that is over by now anyway"
            case "reported_twice":
                return (
                    f"{self.place(row)} goes on reporting device {_short(row)}, which another access device"
                    " reports too; the newer report counts"
                )
            case "two_places":
                other = self.house.access_devices.get(AccessDeviceId(int(facts.get("other") or 0)))
                where = other.name if other is not None else "an access device that is gone"
                return f"Device {_short(row)} is at {self.place(row)} and at {where} at once"
            case "two_addresses":
                return f"Device {_short(row)} has {facts.get('one')} and {facts.get('other')} in turn"
            case "impossible_count":
                said = "reported more octets than any link carries of device"
                return f"{self.place(row)} {said} {_short(row)}; not counted"
            case "accounting_without_device":
                return f"{self.place(row)} reported a stay without saying of which device"
        return row.kind

    def _step(self, step: str, finding: str, *n: Any) -> tuple[str, str]:
        words = getattr(self, f"_step_{step}")(finding, *n)
        return step, words

    def _step_network(self, finding: str, *n: Any) -> str:
        network = self.house.networks.get(n[0]) if n else None
        name = network.name if network else "a network that is gone"
        match finding:
            case "ssid":
                ssid = network.shown_as if network else ""
                return f"recognised as {name}, because the SSID is {ssid}"
            case "hints":
                return f"recognised as {name}, by what the request says of where it comes from"
            case "token":
                return f"{name}, by the visit at the page"
            case "there":
                return f"{name}, where it is"
            case "foreign_ssid":
                return f"no guest network has the SSID {visible(n[0])}"
            case "no_ssid":
                return "the request names no SSID"
        return "the network was removed"

    def _step_device(self, finding: str, private: int, medium: str) -> str:
        known = "heard before" if finding == "known" else "never heard before"
        how = {
            "asked": "the access device asked about it",
            "reauthorised": "the access device asked again because we told it to",
            "page": "its guest typed a code at the page",
            "person": "the access device passed on a name and a password",
            "posted": "the access device passed on the one-time login of a visit",
            "changed": "new attributes were sent to the access device",
        }[medium]
        return f"{known}, {'private' if private else 'built-in'} MAC address; {how}"

    def _step_bars(self, finding: str, at: float | None = None) -> str:
        if finding == "staff" and at is not None:
            return f"barred by staff since {self.clock(at)}"
        if finding == "tries" and at is not None:
            return f"too many wrong codes: typing is barred until {self.clock(at)}"
        return "nobody and nothing bars it"

    def _step_credential(self, finding: str, *n: Any) -> str:
        return {
            "code_unknown": "the code was never issued",
            "needs_code": "it has no voucher yet",
            "time_used_up": "it is held: the time of its last voucher is used up",
            "data_used_up": "it is held: the data of its last voucher is used up",
            "withdrawn": "its voucher was withdrawn",
            "offered": "the typed code is a voucher of ours",
            "admitted": "it was let in by a voucher before",
        }.get(finding, finding)

    def _step_limits(self, finding: str | None, plan_id: int, *n: Any) -> str:
        plan = self.house.plans.get(PlanId(plan_id))
        name = plan.name if plan else "a plan that is gone"
        if finding == "devices":
            return f"{name}: in use on {n[0]} of {n[1]} devices at once"
        seconds, until, octets, state = n
        if state == "over":
            over = {"time": "the time", "data": "the data", "validity": "the time to begin"}.get(
                finding or "", "it"
            )
            return f"{name}: {over} is used up"
        parts = []
        if seconds is not None and until is not None:
            parts.append(f"{duration_words(seconds)} left, until {self.clock(until)}")
        if octets is not None:
            parts.append(f"{data_words(octets)} left")
        return f"{name}: {' and '.join(parts) or 'no limit'}"

    def _step_placement(self, finding: str, *n: Any) -> str:
        if finding == "door":
            role = self.house.roles.get(n[0])
            return f"{role.name if role else 'the role before login'}, where the page asks"
        if finding == "no_rule":
            return f"none of {n[0]} rules matches"
        rule = self._rule(n[0])
        role = self.house.roles.get(n[2])
        passed = f"; rules passed over: {n[3]}" if n[3] else ""
        when = rule_words(self.house, rule) if rule else "a rule that is gone"
        return f"rule {n[1]}, {when}, places it as {role.name if role else 'a role that is gone'}{passed}"

    def _rule(self, rule_id: int | None) -> Rule | None:
        return next((rule for rule in self.house.rules if rule.id == rule_id), None)


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


def rule_words(house: House, rule: Rule) -> str:
    network = house.networks.get(rule.network) if rule.network is not None else None
    parts = [f"network {network.name}" if network else "any network"]
    parts.append(f"way in {rule.way_in}" if rule.way_in else "any way in")
    return " and ".join(parts)


def plan_words(plan: Plan) -> str:
    """A plan in a sentence, as the desk reads it."""
    parts = []
    if plan.octets is not None:
        parts.append(f"up to {data_words(plan.octets)} in all")
    parts.append("on one device" if plan.devices == 1 else f"on {plan.devices} devices")
    if plan.seconds is not None:
        parts.append(f"for {duration_words(plan.seconds)} from first use")
    text = " ".join(parts[:-1]) + (", " if len(parts) > 1 else "") + parts[-1]
    tail = f"; to be used within {plan.use_within_days} days" if plan.use_within_days else ""
    return text[0].upper() + text[1:] + tail + "."


def _short(row: HeardRow) -> str:
    return short_mac(row.mac) if row.mac is not None else "that is gone"
