"""What a visit sees: from the facts about its device to the parts of the page."""

from dataclasses import dataclass, field
from sqlite3 import Connection
from typing import Any

from lauschen.acts.arriving.posted import GOOD_FOR_S, one_time_secret
from lauschen.acts.page.visiting import APPENDED, may_only_look
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.house.house import House
from lauschen.core.limits.left import Left, left
from lauschen.core.words.amounts import data_words, duration_words
from lauschen.core.words.going import shown_host
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.template import fill, mac_words
from lauschen.core.words.text import visible
from lauschen.portal.words import LANGUAGES, catalogue, clock_words
from lauschen.store import devices, wanted
from lauschen.store.visits import Login, Visit

REFRESH_S = 1
REFRESH_SELDOM_S = 5
LONG_WAIT_S = 5.0
STILL_GOOD_S = GOOD_FOR_S - 10.0
"""A one-time login that is older is not shown any more: the guest would press the button too late."""


@dataclass(slots=True)
class View:
    """One page: the template's values, and whether it should come again by itself."""

    values: dict[str, Any]
    refresh_s: int | None = None
    posts_elsewhere: bool = False
    """Its form goes to an access device, which may redirect anywhere."""


@dataclass(slots=True)
class Typed:
    """What was just typed, and what is wrong with it."""

    text: str = ""
    fault: str | None = None


@dataclass(slots=True)
class Facts:
    """What the page may know: of the device, never of the credential beyond until when and how much."""

    house: House
    visit: Visit
    visit_id: str
    csrf: str
    standing: Standing
    remains: Left | None
    may_log_out: bool
    may_only_look: bool
    now: float
    wait_s: float
    """Until the access device can be told of a change; 0 when it has been."""
    token_key: bytes
    typed: Typed = field(default_factory=Typed)

    @property
    def here(self) -> str:
        """The address of this visit."""
        return f"{self.house.page_url}/visit/{self.visit_id}"


def load_facts(
    conn: Connection, house: House, visit: Visit, visit_id: str, csrf: str, now: float, token_key: bytes
) -> Facts | None:
    """None when the device is not known on that network any more."""
    standing = devices.find_standing(conn, visit.mac, visit.network)
    if standing is None or visit.network not in house.networks:
        return None
    admission = devices.open_admission_of(conn, visit.mac, visit.network)
    remains = None
    is_own = admission is not None and admission.id == visit.admission
    # An appended address proves nothing about who asks: such a visit sees only what it did itself (rulings 6.2).
    if admission is not None and (is_own or visit.proof != APPENDED):
        remains = left(house.plans[admission.credential.plan], admission.credential.use, now)
    return Facts(
        house,
        visit,
        visit_id,
        csrf,
        standing,
        remains,
        is_own,
        may_only_look(visit, standing),
        now,
        _wait(conn, standing, now),
        token_key,
    )


def _wait(conn: Connection, standing: Standing, now: float) -> float:
    wish = wanted.find_wanted(conn, standing.mac, standing.network) if standing.going is not None else None
    return max(0.0, wish.next_at - now) if wish is not None and not wish.tries else 0.0


def visit_view(facts: Facts, lang: str) -> View:
    """The page for where the device stands now."""
    standing, words = facts.standing, catalogue(lang)
    values = _frame(facts, lang)
    if standing.going is State.INSIDE and facts.visit.login is not None and facts.may_log_out:
        return _last_step(values, facts, facts.visit.login, words)
    if standing.going is not None:
        way = "in" if standing.going is State.INSIDE else "out"
        values.update(heading=words[f"moving_{way}_title"], notes=[words[f"moving_{way}"]])
        if facts.wait_s > LONG_WAIT_S:
            values["notes"] = [words["moving_wait"].format(time=duration_words(int(facts.wait_s)))]
            return View(values, REFRESH_SELDOM_S)
        return View(values, REFRESH_S)
    match standing.state:
        case State.INSIDE:
            _inside(values, facts, words, lang)
        case State.HELD:
            _held(values, facts, words, lang)
        case State.BARRED:
            _barred(values, facts, words, lang)
        case State.AT_DOOR | State.LEFT:
            _at_door(values, facts, words, lang)
    return View(values)


def _last_step(values: dict[str, Any], facts: Facts, login: Login, words: dict[str, str]) -> View:
    """The guest's browser tells the access device itself, by a button: no script is needed (rulings 6.2)."""
    device = facts.house.access_devices.get(facts.visit.access_device)
    if device is None or facts.now - login.handed_out_at > STILL_GOOD_S or login.used_at is not None:
        values.update(heading=words["last_step_title"], notes=[words["last_step_again"]], asks_again=True)
        return View(values)
    posted = facts.house.dialects[device.dialect].posted
    known = {**mac_words(facts.visit.mac), "going": facts.visit.going or "", "portal_url": facts.here}
    secret = one_time_secret(facts.token_key, login.visit_digest, login.mac, login.handed_out_at)
    fields = [(posted.name_field, login.name), (posted.secret_field, secret)]
    fields += [(name, fill(template, known)) for name, template in posted.others]
    values.update(
        heading=words["last_step_title"],
        notes=[words["last_step"]],
        last_step={"url": posted.url, "fields": fields},
    )
    return View(values, posts_elsewhere=True)


def plain_view(house: House, lang: str, name: str) -> View:
    """A page that knows no device: `reconnect`, `other_device`, `other_host`, `slip`, `refused`, `busy`, `broken`."""
    words = catalogue(lang)
    text = words["slip_text"] if name == "slip" else words[name].format(page=house.page_url)
    return View(
        {
            **_empty(house, lang),
            "title": words["title"],
            "heading": words[f"{name}_title"],
            "notes": [text],
        }
    )


def barred_fault(lang: str, house: House, until: float, now: float) -> str:
    """The sentence that says until when typing is barred."""
    return catalogue(lang)["barred_by_tries"].format(
        until=clock_words(_next_minute(until), now, house.zone, lang)
    )


def _frame(facts: Facts, lang: str) -> dict[str, Any]:
    words = catalogue(lang)
    network = facts.house.networks[facts.visit.network]
    answer = facts.visit.last_answer
    return {
        **_empty(facts.house, lang),
        "title": words["title"],
        "other_lang": next(other for other in LANGUAGES if other != lang),
        "here": f"/visit/{facts.visit_id}",
        "csrf": facts.csrf,
        "network": visible(network.shown_as),
        "code": facts.typed.text,
        "fault": facts.typed.fault,
        "facts": [
            (words["foot_device"], spell_mac(facts.visit.mac)),
            (words["foot_time"], clock_words(facts.now, facts.now, facts.house.zone, lang)),
            (words["foot_answer"], _answer_words(answer, facts, words, lang)),
        ],
    }


def _answer_words(answer: str | None, facts: Facts, words: dict[str, str], lang: str) -> str:
    if answer is None:
        return words["answer_none"]
    text = words["answer_slip" if answer.startswith("slip:") else f"answer_{answer}"]
    at = facts.visit.last_answer_at or facts.now
    return f"{clock_words(at, facts.now, facts.house.zone, lang)} · {text}"


def _empty(house: House, lang: str) -> dict[str, Any]:
    return {
        "lang": lang,
        "words": catalogue(lang),
        "site": house.site_name,
        "other_lang": None,
        "here": "/",
        "network": None,
        "fault": None,
        "notes": [],
        "until": None,
        "left": [],
        "going": None,
        "going_host": None,
        "asks_code": False,
        "code_title": None,
        "code_button": None,
        "last_step": None,
        "asks_again": False,
        "code": "",
        "csrf": "",
        "may_log_out": False,
        "facts": [],
    }


def _inside(values: dict[str, Any], facts: Facts, words: dict[str, str], lang: str) -> None:
    values.update(heading=words["inside_title"], may_log_out=facts.may_log_out)
    remains = facts.remains
    if remains is not None:
        values["until"] = words["inside_no_end"]
        if remains.until is not None and remains.seconds is not None:
            until = clock_words(remains.until, facts.now, facts.house.zone, lang)
            values["until"] = words["inside_until"].format(until=until)
            values["left"].append(words["inside_left_time"].format(time=duration_words(remains.seconds)))
        if remains.octets is not None:
            data = data_words(remains.octets, "," if lang == "de" else ".")
            values["left"].append(words["inside_left_data"].format(data=data))
    if facts.visit.going:
        values["going"] = facts.visit.going
        values["going_host"] = visible(shown_host(facts.visit.going))
    if facts.may_only_look:
        # Whoever knows the code by which the device is online may log out here too.
        values.update(code_title=words["look_title"], code_button=words["look_button"])
        _ask_code(values, facts, lang)


def _held(values: dict[str, Any], facts: Facts, words: dict[str, str], lang: str) -> None:
    key = "held_data" if facts.standing.reason is Reason.DATA_USED_UP else "held_time"
    since = clock_words(facts.standing.since, facts.now, facts.house.zone, lang)
    values.update(
        heading=words["held_title"], notes=[words[key].format(since=since) + " " + words["held_then"]]
    )
    _ask_code(values, facts, lang)


def _barred(values: dict[str, Any], facts: Facts, words: dict[str, str], lang: str) -> None:
    if facts.standing.reason is Reason.BARRED_BY_STAFF:
        values.update(heading=words["barred_title_staff"], notes=[words["barred_by_staff"]], fault=None)
        return
    # By wrong codes of a person at an access device: who comes to the page types for this visit.
    _at_door(values, facts, words, lang)


def _ask_code(values: dict[str, Any], facts: Facts, lang: str) -> None:
    """The field, or until when this visit may not type."""
    until = facts.visit.barred_until
    if until is None or until <= facts.now:
        values["asks_code"] = True
        return
    values["fault"] = barred_fault(lang, facts.house, until, facts.now)


def _at_door(values: dict[str, Any], facts: Facts, words: dict[str, str], lang: str) -> None:
    notes = {
        Reason.ENDED_BY_STAFF: "ended_by_staff",
        Reason.LOGGED_OUT: "logged_out",
        Reason.CODE_WITHDRAWN: "withdrawn_note",
        Reason.DEVICES_FULL: "full_note",
    }
    note = notes.get(facts.standing.reason) if facts.standing.reason and not facts.typed.fault else None
    values.update(heading=words["greeting"], notes=[words[note]] if note else [])
    _ask_code(values, facts, lang)
    if not values["asks_code"]:
        values["heading"] = words["barred_title"]


def _next_minute(at: float) -> float:
    """Shown as a minute, a time must not be too early."""
    return -(-at // 60) * 60
