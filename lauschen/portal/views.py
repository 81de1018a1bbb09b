"""Which page a visit sees: from the facts about its device to what is shown."""

from lauschen.acts.arriving.posted import GOOD_FOR_S, one_time_secret
from lauschen.core.config.config import Config
from lauschen.core.config.network import STATUS, Pause
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.words.amounts import data_words, duration_words
from lauschen.core.words.going import shown_host
from lauschen.core.words.mac import is_private, spell_mac
from lauschen.core.words.template import fill, mac_words
from lauschen.core.words.text import visible
from lauschen.portal.facts import Facts, barred_fault
from lauschen.portal.own_devices import own_devices
from lauschen.portal.page import Onward, Page
from lauschen.portal.parts import LastStep, LogOut, NewPassword, OnceMore, Paragraphs
from lauschen.portal.ways.register import is_first_stay, registered_part
from lauschen.portal.ways.sponsor import show_waiting, vouched_part
from lauschen.portal.ways.ways import FORMS_OF, choices_of, closed_notes
from lauschen.sentences.catalogue import LANGUAGES
from lauschen.store.visits import Login

REFRESH_S = 1
REFRESH_SELDOM_S = 5
REFRESH_WAITING_S = 60
JUMP_S = 3
JUST_NOW_S = 30.0
"""So long after its login a guest is led on to the address that the house configured."""
LONG_WAIT_S = 5.0
STILL_GOOD_S = GOOD_FOR_S - 10.0
"""A one-time login that is older is not shown any more: the guest would press the button too late."""
_HELD = {
    Reason.DATA_USED_UP: "held_data",
    Reason.DATE_OVER: "held_date",
    Reason.NOT_CONFIRMED: "held_confirm",
    Reason.CODE_PAUSED: "held_paused",
}
_NOTES = {
    Reason.ENDED_BY_STAFF: "ended_by_staff",
    Reason.LOGGED_OUT: "logged_out",
    Reason.CODE_WITHDRAWN: "withdrawn_note",
    Reason.DEVICES_FULL: "full_note",
    Reason.DEVICES_USED: "devices_used_note",
    Reason.FORGOTTEN: "forgotten_note",
}


def visit_page(facts: Facts, lang: str, csrf: str) -> Page:
    """The page for where the device stands now."""
    standing, page = facts.standing, _frame(facts, lang, csrf)
    if standing.going is State.INSIDE and facts.visit.login is not None and facts.may_log_out:
        _last_step(page, facts, facts.visit.login)
    elif standing.going is not None:
        _moving(page, facts, "in" if standing.going is State.INSIDE else "out")
    else:
        match standing.state:
            case State.INSIDE if facts.over is None:
                _inside(page, facts)
            case State.INSIDE | State.HELD:
                _held(page, facts)
            case State.BARRED:
                _barred(page, facts)
            case State.AT_DOOR | State.LEFT:
                _at_door(page, facts)
    return page


def _paused(page: Page, facts: Facts, pause: Pause) -> None:
    """Nobody is let in, whatever is offered."""
    words = page.words
    page.heading, page.fault = words["paused_title"], None
    since = facts.clock(pause.since, page.lang)
    page.notes = [visible(pause.why)] if pause.why else []
    if pause.until is None:
        page.notes.append(words["paused_since"].format(since=since))
    else:
        until = facts.clock(pause.until, page.lang)
        page.notes.append(words["paused_until"].format(since=since, until=until))
    if facts.standing.admission is not None:
        page.notes.append(words["in_by_itself"])
    page.refresh_s = REFRESH_WAITING_S


def plain_page(config: Config, lang: str, name: str) -> Page:
    """A page that knows no device: `reconnect`, `other_device`, `other_host`, `slip`, `refused`, `busy`, `broken`."""
    page = Page(lang, config.site_name)
    page.heading = page.words[f"{name}_title"]
    page.notes = [
        page.words["slip_text"] if name == "slip" else page.words[name].format(page=config.page_url)
    ]
    return page


def privacy_page(config: Config, lang: str) -> Page:
    """What becomes of what guests say, in the house's words."""
    page = Page(lang, config.site_name)
    spoken = config.privacy.language(lang)
    page.heading = page.words["privacy_link"]
    text = config.privacy.texts[spoken] if spoken is not None else page.words["privacy_none"]
    page.parts = [
        Paragraphs([visible(" ".join(part.split())) for part in text.split("\n\n") if part.strip()])
    ]
    if spoken is not None:
        page.small = [page.words["privacy_version"].format(version=config.privacy.version)]
    return page


def _moving(page: Page, facts: Facts, way: str) -> None:
    page.heading, page.notes = page.words[f"moving_{way}_title"], [page.words[f"moving_{way}"]]
    page.refresh_s = REFRESH_S
    if facts.wait_s > LONG_WAIT_S:
        page.notes = [page.words["moving_wait"].format(time=duration_words(int(facts.wait_s)))]
        page.refresh_s = REFRESH_SELDOM_S


def _last_step(page: Page, facts: Facts, login: Login) -> None:
    page.heading = page.words["last_step_title"]
    device = facts.config.access_devices.get(facts.visit.access_device)
    if device is None or facts.now - login.handed_out_at > STILL_GOOD_S or login.used_at is not None:
        page.notes, page.parts = [page.words["last_step_again"]], [OnceMore()]
        return
    posted = facts.config.dialects[device.dialect].posted
    known = {**mac_words(facts.visit.mac), "going": facts.visit.going or "", "portal_url": facts.here}
    secret = one_time_secret(facts.keys.token_key, login.visit_digest, login.mac, login.handed_out_at)
    fields = [(posted.name_field, login.name), (posted.secret_field, secret)]
    fields += [(name, fill(template, known)) for name, template in posted.others]
    page.notes, page.parts = [page.words["last_step"]], [LastStep(posted.url, fields)]
    page.posts_elsewhere = True


def _frame(facts: Facts, lang: str, csrf: str) -> Page:
    page = Page(
        lang,
        facts.config.site_name,
        here=f"/visit/{facts.visit_id}",
        csrf=csrf,
        other_lang=next(other for other in LANGUAGES if other != lang),
        network=visible(facts.network.shown_as),
        fault=facts.typed.fault,
        has_privacy=bool(facts.config.privacy.texts),
    )
    page.facts = [
        (page.words["foot_device"], spell_mac(facts.visit.mac)),
        (page.words["foot_time"], facts.clock(facts.now, lang)),
        (page.words["foot_answer"], _answer_words(page, facts)),
    ]
    return page


def _answer_words(page: Page, facts: Facts) -> str:
    answer = facts.visit.last_answer
    if answer is None:
        return page.words["answer_none"]
    text = page.words["answer_typo" if answer.startswith("typo:") else f"answer_{answer}"]
    return f"{facts.clock(facts.visit.last_answer_at or facts.now, page.lang)} · {text}"


def _inside(page: Page, facts: Facts) -> None:
    words, remains = page.words, facts.remains
    page.heading = words["inside_title"]
    if remains is not None:
        page.until = words["inside_no_end"]
        if remains.until is not None and remains.seconds is not None:
            page.until = words["inside_until"].format(until=facts.clock(remains.until, page.lang))
            page.left.append(words["inside_left_time"].format(time=duration_words(remains.seconds)))
        if remains.octets is not None:
            data = data_words(remains.octets, "," if page.lang == "de" else ".")
            page.left.append(words["inside_left_data"].format(data=data))
    if is_first_stay(facts):
        page.notes.append(words["confirm_elsewhere"])
    if facts.desk_words:
        page.notes.append(words["desk_word"].format(word=visible(facts.desk_words)))
    onward = facts.network.onward or facts.visit.going
    if onward and onward != STATUS:
        page.going = Onward(onward, visible(shown_host(onward)))
    is_fixed = facts.network.onward not in ("", STATUS)
    if is_fixed and facts.may_log_out and facts.now - (facts.visit.last_answer_at or 0.0) < JUST_NOW_S:
        page.jumps_to = facts.network.onward
    if facts.may_only_look:
        # Whoever knows the code by which the device is online may log out here too.
        _ask(page, facts)
    if facts.may_log_out:
        given = registered_part(facts, page.lang), vouched_part(facts, page.lang)
        page.parts += [part for part in given if part is not None]
        page.parts.append(LogOut())
        if is_private(facts.visit.mac):
            page.small.append(words["private_address"])
    if facts.shared is not None:
        page.parts.append(own_devices(facts.shared, facts.config, facts.visit, facts.now, page.lang))
    if facts.account is not None and not facts.is_typing_barred:
        page.parts.append(
            NewPassword(facts.account, facts.typed.form == "password" and facts.typed.fault is not None)
        )
    if facts.typed.form == "password" and facts.typed.fault is None:
        page.notes.append(words["password_changed"])


def _held(page: Page, facts: Facts) -> None:
    if show_waiting(page, facts):
        return
    reason = facts.over or facts.standing.reason
    key = _HELD.get(reason, "held_time") if reason else "held_time"
    since = facts.clock(facts.now if facts.over else facts.standing.since, page.lang)
    page.heading, page.notes = page.words["held_title"], [page.words[key].format(since=since)]
    given = registered_part(facts, page.lang)
    page.tops += [given] if given is not None else []
    _ask(page, facts)
    if any("code" in FORMS_OF.get(way.way, ()) for way in facts.network.ways):
        page.notes[0] += " " + page.words["held_then"]


def _barred(page: Page, facts: Facts) -> None:
    if facts.standing.reason is Reason.BARRED_BY_STAFF:
        page.heading, page.notes = page.words["barred_title_staff"], [page.words["barred_by_staff"]]
        page.fault = None
        return
    # By wrong codes of a person at an access device: who comes to the page types for this visit.
    _at_door(page, facts)


def _ask(page: Page, facts: Facts) -> None:
    """The ways in, or until when this visit may not type."""
    if facts.is_typing_barred and facts.visit.barred_until is not None:
        page.fault = barred_fault(facts, page.lang, facts.visit.barred_until)
    page.choices = choices_of(facts, page.lang)
    page.notes += closed_notes(facts, page.lang)


def _plan_closed(page: Page, facts: Facts) -> None:
    """What let the device in goes on when its plan opens; another code may be good now."""
    page.heading = page.words["closed_title"]
    opens = facts.plan_opens
    page.notes = [
        page.words["plan_never"]
        if opens is None
        else page.words["plan_opens"].format(time=facts.clock(opens, page.lang))
    ]
    page.refresh_s = REFRESH_WAITING_S
    _ask(page, facts)


def _at_door(page: Page, facts: Facts) -> None:
    if facts.network.pause is not None and facts.network.pause.holds(facts.now):
        _paused(page, facts, facts.network.pause)
        return
    if facts.standing.reason is Reason.PLAN_CLOSED and facts.standing.admission is not None:
        _plan_closed(page, facts)
        return
    if show_waiting(page, facts):
        return
    page.tops += [
        part for part in (registered_part(facts, page.lang), vouched_part(facts, page.lang)) if part
    ]
    note = _NOTES.get(facts.standing.reason) if facts.standing.reason and not facts.typed.fault else None
    page.notes += [page.words[note]] if note else []
    _ask(page, facts)
    if not page.choices:
        page.heading = page.words["barred_title" if facts.is_typing_barred else "no_way_title"]
        if not facts.is_typing_barred and not page.notes:
            page.notes.append(page.words["no_way"])
        return
    only = page.choices[0].form if len(page.choices) == 1 else "many"
    page.heading = page.words["given_title" if page.tops else f"greeting_{only}"]
    page.is_common = facts.typed.is_nothing and page.fault is None and not page.tops
