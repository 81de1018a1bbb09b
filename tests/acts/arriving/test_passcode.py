"""Passcodes at the page and by RADIUS: one for everybody, and an allowance for each device."""

from collections.abc import Callable

import pytest

from lauschen.acts.config.passcodes import end_overlap, new_passcode
from lauschen.acts.config.plans import put_rules
from lauschen.acts.config.ways import offer_ways
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import Mac, NetworkId, RoleId
from lauschen.core.limits.tries import TRIES
from lauschen.core.ways.passcode import Passcode, Schedule
from lauschen.road.tx import Tx
from tests.ensemble import DAY, ENSEMBLE, HALF_HOUR, INTERMISSION, Ensemble
from tests.place import GARDEN, OTHER, PHONE, Place

STUDENT = RoleId(4)


@pytest.fixture
def ensemble(place: Place) -> Ensemble:
    made = Ensemble(place)
    configure(made, lambda tx: offer_ways(tx, ENSEMBLE, [Passcode(INTERMISSION)]))
    configure(made, lambda tx: put_rules(tx, tx.config.rules, STUDENT))
    return made


def configure(ensemble: Ensemble, act: Callable[[Tx], object]) -> None:
    with ensemble.place.tx() as tx:
        act(tx)
        tx.reconfigure()
    ensemble.place.config = tx.config


def told(ensemble: Ensemble) -> list[str]:
    """What the desk would tell guests now."""
    place = ensemble.place
    return [one.text for one in place.config.passcodes(ENSEMBLE, place.keys.token_key, place.now)]


def test_everybody_gets_in_by_the_same_and_each_has_an_allowance_of_its_own(ensemble: Ensemble) -> None:
    (code,) = told(ensemble)
    for mac in (PHONE, OTHER):
        ensemble.ask(mac)
        assert ensemble.type_code(f" {code[:3]} {code[3:]}", mac) is Reason.ADMITTED
        assert ensemble.ask(mac, Medium.REAUTHORISED).answer is Answer.ADMIT
        ensemble.place.now += 60
    used = ensemble.place.conn.execute("SELECT count(*), count(DISTINCT mac) FROM allowance").fetchone()
    assert used == (2, 2)


def test_what_is_used_up_begins_anew_only_with_another_passcode(ensemble: Ensemble) -> None:
    ensemble.ask()
    (code,) = told(ensemble)
    assert ensemble.type_code(code) is Reason.ADMITTED
    ensemble.ask(medium=Medium.REAUTHORISED)
    ensemble.place.now += HALF_HOUR
    ensemble.ask()
    assert ensemble.type_code(code) is Reason.TIME_USED_UP
    configure(ensemble, lambda tx: new_passcode(tx, ENSEMBLE))
    newest, former = told(ensemble)
    assert former == code
    assert ensemble.type_code(former) is Reason.TIME_USED_UP
    assert ensemble.type_code(newest) is Reason.ADMITTED


def test_the_old_one_works_in_the_last_second_of_its_overlap_and_not_after(ensemble: Ensemble) -> None:
    place = ensemble.place
    (code,) = told(ensemble)
    configure(ensemble, lambda tx: new_passcode(tx, ENSEMBLE, "viola d'amore"))
    place.now += 3599
    ensemble.ask()
    assert ensemble.type_code(code) is Reason.ADMITTED
    place.now += 1
    ensemble.ask(OTHER)
    assert ensemble.type_code(code, OTHER) is Reason.CODE_UNKNOWN
    assert ensemble.type_code("Viola d'Amore", OTHER) is Reason.ADMITTED


def test_the_overlap_is_ended_by_hand_and_who_is_in_stays_in(ensemble: Ensemble) -> None:
    (code,) = told(ensemble)
    ensemble.ask()
    assert ensemble.type_code(code) is Reason.ADMITTED
    configure(ensemble, lambda tx: new_passcode(tx, ENSEMBLE))
    configure(ensemble, lambda tx: end_overlap(tx, ENSEMBLE))
    ensemble.ask(OTHER)
    assert ensemble.type_code(code, OTHER) is Reason.CODE_UNKNOWN
    assert ensemble.ask(medium=Medium.REAUTHORISED).answer is Answer.ADMIT


def test_guessing_is_barred_and_the_right_one_is_no_guess(ensemble: Ensemble) -> None:
    (code,) = told(ensemble)
    ensemble.ask()
    wrong = [f"{(int(code) + 1 + n) % 10**6:06}" for n in range(TRIES)]
    assert [ensemble.type_code(text) for text in wrong] == [Reason.CODE_UNKNOWN] * TRIES
    assert ensemble.type_code(code) is Reason.BARRED_BY_TRIES
    ensemble.ask(OTHER)
    assert ensemble.type_code(code, OTHER) is Reason.ADMITTED


def test_it_is_typed_in_the_digits_of_another_script(ensemble: Ensemble) -> None:
    (code,) = told(ensemble)
    arabic = code.translate({ord("0") + n: 0x660 + n for n in range(10)})
    ensemble.ask()
    assert ensemble.type_code(arabic) is Reason.ADMITTED


@pytest.mark.parametrize("by_chap", [False, True])
def test_a_person_gets_in_by_radius_and_each_device_has_its_own(ensemble: Ensemble, by_chap: bool) -> None:
    (code,) = told(ensemble)
    for mac in (PHONE, OTHER):
        assert ensemble.ask_person(code, code, by_chap=by_chap, mac=mac) is Reason.ADMITTED
    used = ensemble.place.conn.execute("SELECT count(DISTINCT mac) FROM allowance").fetchone()
    assert used == (2,)
    ensemble.place.now += 2 * DAY  # it was changed twice
    wrong = ensemble.ask_person(code, code, by_chap=by_chap, mac=Mac(0x020000AABB77))
    assert wrong is Reason.CODE_UNKNOWN


def test_a_restart_forgets_nothing(ensemble: Ensemble) -> None:
    configure(ensemble, lambda tx: new_passcode(tx, ENSEMBLE, "viola d'amore"))
    before = told(ensemble)
    configure(ensemble, lambda tx: tx.take_in())
    assert told(ensemble) == before
    raw = ensemble.place.conn.execute("SELECT sealed FROM passcode").fetchall()
    assert b"viola" not in b"".join(row[0] for row in raw)


def test_a_way_that_is_switched_off_lets_nobody_in_and_leaves_who_is_inside(ensemble: Ensemble) -> None:
    (code,) = told(ensemble)
    ensemble.ask()
    assert ensemble.type_code(code) is Reason.ADMITTED
    off = Passcode(INTERMISSION, is_off=True)
    configure(ensemble, lambda tx: offer_ways(tx, ENSEMBLE, [off]))
    assert ensemble.ask(medium=Medium.REAUTHORISED).answer is Answer.ADMIT
    ensemble.ask(OTHER)
    assert ensemble.type_code(code, OTHER) is Reason.NOT_OFFERED
    assert ensemble.place.config.why_idle(ENSEMBLE, off) == "off"
    configure(ensemble, lambda tx: offer_ways(tx, ENSEMBLE, [Passcode(INTERMISSION)]))
    assert ensemble.type_code(code, OTHER) is Reason.ADMITTED


def test_only_the_newest_two_texts_are_kept(ensemble: Ensemble) -> None:
    for n in range(5):
        configure(ensemble, lambda tx, n=n: new_passcode(tx, ENSEMBLE, f"text number {n}"))  # type: ignore[misc]
        ensemble.place.now += 1
    assert told(ensemble) == ["text number 4", "text number 3"]
    assert ensemble.place.conn.execute("SELECT count(*) FROM passcode").fetchone() == (2,)


def test_what_no_passcode_can_be(ensemble: Ensemble) -> None:
    for text in ("abc", " . . . . ", "x" * 41):
        with pytest.raises(Invalid):
            configure(ensemble, lambda tx, text=text: new_passcode(tx, ENSEMBLE, text))  # type: ignore[misc]
    for way in (
        Passcode(INTERMISSION, length=3),
        Passcode(INTERMISSION, length=13),
        Passcode(INTERMISSION, schedule=Schedule.HOURLY, every_hours=5),
    ):
        with pytest.raises(Invalid):
            configure(ensemble, lambda tx, way=way: offer_ways(tx, ENSEMBLE, [way]))  # type: ignore[misc]
    for network in (GARDEN, NetworkId(99)):
        with pytest.raises(NotThere):
            configure(ensemble, lambda tx, network=network: new_passcode(tx, network))  # type: ignore[misc]


def test_a_fixed_one_lets_nobody_in_before_it_was_written(ensemble: Ensemble) -> None:
    fixed = Passcode(INTERMISSION, schedule=Schedule.NEVER)
    configure(ensemble, lambda tx: offer_ways(tx, ENSEMBLE, [fixed]))
    house = ensemble.place.config
    assert (told(ensemble), house.why_idle(ENSEMBLE, fixed)) == ([], "no_passcode")
    with pytest.raises(Invalid):
        configure(ensemble, lambda tx: new_passcode(tx, ENSEMBLE))
    configure(ensemble, lambda tx: new_passcode(tx, ENSEMBLE, "viola d'amore"))
    assert ensemble.place.config.why_idle(ENSEMBLE, fixed) is None
    assert told(ensemble) == ["viola d'amore"]
    ensemble.place.now += 90 * DAY
    assert told(ensemble) == ["viola d'amore"]
