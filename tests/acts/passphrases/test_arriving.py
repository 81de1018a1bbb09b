"""Who is let in on a network of private passphrases, by handshake and by address alone."""

from dataclasses import replace

import pytest

from lauschen.acts.desk.helping import withdraw
from lauschen.acts.passphrases import changing
from lauschen.acts.passphrases.trying import ROOM_OCTETS, hidden_octets
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.ids import KeyId, Mac, NetworkId
from lauschen.core.limits.seats import Seats
from lauschen.core.limits.terms import Own, Terms
from lauschen.core.passphrases.trial import AGAIN_S
from lauschen.store import devices
from lauschen.store.passphrases import bound, holders, keys, wrong
from lauschen.store.passphrases.bound import MOST_SHOWN
from lauschen.store.passphrases.keys import NewKey
from tests.cloister import ATTIC, CLOISTER, EAST, HALL, RESIDENT, Cloister
from tests.place import OTHER, PHONE, Place


@pytest.fixture
def cloister(place: Place) -> Cloister:
    return Cloister(place)


def test_the_key_that_signed_lets_in_and_is_its_devices_from_now_on(cloister: Cloister) -> None:
    ines = cloister.issue()
    cloister.issue("Jonas Quist", "maple-lantern-drift-2")
    key = cloister.key(ines)
    decision, picture = cloister.ask(at=EAST, signed=key.id)
    assert (decision.answer, decision.role, picture.keys) == (Answer.ADMIT, RESIDENT, (key.text,))
    assert cloister.standing().state is State.INSIDE
    known = bound.find_bound(cloister.place.conn, PHONE, CLOISTER)
    assert known is not None
    assert (known.credential, known.key) == (ines, key.id)
    # From then on it is known by its address, also where nobody passes handshakes on.
    decision, picture = cloister.ask()
    assert (decision.answer, picture.keys) == (Answer.ADMIT, (key.text,))
    again, kept = cloister.ask()
    assert (again.answer, kept.keys) == (Answer.ADMIT, (key.text,))


def test_a_key_that_nobody_has_is_refused_counted_and_puts_nobody_out(cloister: Cloister) -> None:
    key = cloister.key(cloister.issue())
    cloister.ask(at=EAST, signed=key.id)
    for _ in range(3):
        decision, picture = cloister.ask(at=EAST, signed=None, session="S2")
        assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.KEY_UNKNOWN)
        assert picture.keys == ()
    assert cloister.standing().state is State.INSIDE
    (tried,) = wrong.wrong_since(cloister.place.conn, 0.0, 9)
    assert (tried.mac, tried.access_device, tried.tries, tried.holder) == (PHONE, EAST, 3, None)
    cloister.ask(at=EAST, signed=key.id)
    assert wrong.wrong_since(cloister.place.conn, 0.0, 9) == []


def test_one_that_nobody_looks_at_any_more_counts_as_well(cloister: Cloister) -> None:
    cloister.ask(at=EAST, signed=None)
    cloister.place.now += 1
    decision, _ = cloister.ask(at=EAST, signed=None, fault=Reason.TOO_SOON)
    assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.TOO_SOON)
    (tried,) = wrong.wrong_since(cloister.place.conn, 0.0, 9)
    assert (tried.tries, tried.last_at) == (2, cloister.place.now)


def test_the_key_of_another_network_is_nobodys_here(cloister: Cloister) -> None:
    key = cloister.key(cloister.issue(network=NetworkId(1)))
    decision, _ = cloister.ask(at=EAST, signed=key.id)
    assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.KEY_UNKNOWN)
    (tried,) = wrong.wrong_since(cloister.place.conn, 0.0, 9)
    assert tried.holder is None


def test_while_the_way_is_off_nobody_is_tried_on_any_key(cloister: Cloister) -> None:
    cloister.issue()
    network = cloister.place.config.networks[CLOISTER]
    off = tuple(replace(way, is_off=True) for way in network.ways)
    networks = {**cloister.place.config.networks, CLOISTER: replace(network, ways=off)}
    cloister.place.config = replace(cloister.place.config, networks=networks)
    decision, picture = cloister.ask()
    assert (decision.answer, picture.keys) == (Answer.REFUSE, ())
    assert devices.find_standing(cloister.place.conn, PHONE, CLOISTER) is None


def test_an_old_key_says_whose_it_was_and_since_when_it_does_not_hold(cloister: Cloister) -> None:
    ines = cloister.issue()
    key = cloister.key(ines)
    with cloister.place.tx() as tx:
        keys.end_key(tx.conn, key.id, tx.now + 60)
    assert cloister.ask(at=EAST, signed=key.id)[0].answer is Answer.ADMIT
    cloister.place.now += 60
    decision, _ = cloister.ask(at=EAST, signed=key.id)
    assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.KEY_ENDED)
    (tried,) = wrong.wrong_since(cloister.place.conn, 0.0, 9)
    assert (tried.holder, tried.ended_at) == ("Ines Harwood", cloister.place.now)


def test_one_that_was_withdrawn_lets_nobody_in(cloister: Cloister) -> None:
    ines = cloister.issue()
    key = cloister.key(ines)
    cloister.ask(at=EAST, signed=key.id)
    with cloister.place.tx() as tx:
        assert withdraw(tx, ines)
    assert cloister.standing().going is State.AT_DOOR
    decision, picture = cloister.ask(at=EAST, signed=key.id)
    assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.CODE_WITHDRAWN)
    assert picture.keys == ()
    assert cloister.standing().state is State.AT_DOOR
    # By its address alone there is nothing that it could have, either.
    decision, picture = cloister.ask()
    assert (decision.answer, picture.keys) == (Answer.REFUSE, ())


def test_keys_go_to_no_access_device_that_does_not_sign(cloister: Cloister) -> None:
    key = cloister.key(cloister.issue())
    for signed in (key.id, False):
        decision, picture = cloister.ask(at=EAST, signed=signed, is_signed=False)
        assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.KEY_UNSIGNED)
        assert picture.keys == ()


def test_a_device_has_as_many_seats_as_its_key_gives(cloister: Cloister) -> None:
    ines = cloister.issue(terms=Terms(devices=1))
    key = cloister.key(ines)
    assert cloister.ask(at=EAST, signed=key.id)[0].answer is Answer.ADMIT
    decision, _ = cloister.ask(OTHER, EAST, key.id, "S2")
    assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.DEVICES_FULL)
    ever = cloister.key(cloister.issue("Room 7", "lantern-maple-drift-7", terms=Terms(1, Seats.EVER)))
    cloister.ask(at=EAST, signed=ever.id)
    cloister.ask(at=EAST, signed=key.id)
    decision, _ = cloister.ask(OTHER, EAST, ever.id, "S2")
    assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.DEVICES_USED)


def test_a_private_group_has_a_vlan_of_its_own_from_the_pool(cloister: Cloister) -> None:
    first = cloister.issue(is_group=True)
    second = cloister.issue("Jonas Quist", "maple-lantern-drift-2", is_group=True)
    assert cloister.ask(at=EAST, signed=cloister.key(first).id)[0].vlan == 401
    assert cloister.ask(OTHER, EAST, cloister.key(second).id, "S2")[0].vlan == 402


def test_an_unknown_device_is_tried_on_the_keys_that_nobody_used_the_newest_first(
    cloister: Cloister,
) -> None:
    used = cloister.issue("Room 1", "one-lantern-maple-1")
    cloister.ask(OTHER, ATTIC, cloister.key(used).id, "S2")
    older = cloister.issue("Room 2", "two-lantern-maple-2")
    newer = cloister.issue("Room 3", "three-lantern-maple-3")
    cloister.issue("Room 4", "four-lantern-maple-4", terms=Terms(valid_from=cloister.place.now + 60))
    decision, picture = cloister.ask()
    expected = tuple(cloister.key(one).text for one in (newer, older, used))
    assert (decision.answer, decision.reason, picture.keys) == (Answer.DOOR, Reason.KEY_TRIED, expected)
    # All of them lead to one place, so it is there at once; but nobody is inside yet.
    assert (decision.role, cloister.standing().state) == (RESIDENT, State.AT_DOOR)
    assert bound.find_bound(cloister.place.conn, PHONE, CLOISTER) is None


def test_the_only_key_it_may_have_is_its_own_once_it_joined(cloister: Cloister) -> None:
    ines = cloister.issue(terms=Terms(own=Own(seconds=3600)))
    decision, _ = cloister.ask()
    assert decision.left is not None
    assert decision.left.seconds == 3600
    cloister.report()
    standing = cloister.standing()
    assert (standing.state, standing.going, standing.role) == (State.INSIDE, None, RESIDENT)
    assert cloister.place.wish() is None
    known = bound.find_bound(cloister.place.conn, PHONE, CLOISTER)
    assert known is not None
    assert known.credential == ines
    decision, picture = cloister.ask()
    assert (decision.answer, picture.keys) == (Answer.ADMIT, (cloister.key(ines).text,))


def test_which_of_several_it_has_shows_by_halves(cloister: Cloister) -> None:
    issued = [cloister.issue(f"Room {n}", f"lantern-maple-drift-{n}") for n in range(1, 6)]
    texts = {cloister.key(one).text: one for one in issued}
    its_own = cloister.key(issued[1]).text
    rounds = 0
    while bound.find_bound(cloister.place.conn, PHONE, CLOISTER) is None:
        decision, picture = cloister.ask(session=f"S{rounds}")
        assert decision.reason is Reason.KEY_TRIED
        assert decision.left is None or len(picture.keys) == 1
        if its_own in picture.keys:
            cloister.report(session=f"S{rounds}")
        cloister.place.now += AGAIN_S
        rounds += 1
        assert rounds < 8
    known = bound.find_bound(cloister.place.conn, PHONE, CLOISTER)
    assert known is not None
    assert known.credential == texts[its_own]
    assert wrong.wrong_since(cloister.place.conn, 0.0, 9) == []


def test_who_joined_with_none_of_all_keys_is_counted(cloister: Cloister) -> None:
    cloister.issue()
    for _ in range(3):
        cloister.ask()
    (tried,) = wrong.wrong_since(cloister.place.conn, 0.0, 9)
    assert (tried.mac, tried.access_device, tried.tries) == (PHONE, ATTIC, 2)
    cloister.report()
    assert wrong.wrong_since(cloister.place.conn, 0.0, 9) == []


def test_keys_that_lead_to_different_places_leave_it_in_the_hall_until_it_is_known(
    cloister: Cloister,
) -> None:
    cloister.issue("Room 1", "one-lantern-maple-1", is_group=True)
    cloister.issue("Room 2", "two-lantern-maple-2")
    decision, _ = cloister.ask()
    assert (decision.reason, decision.role, decision.vlan) == (Reason.KEY_TRIED, HALL, None)


def test_so_many_keys_are_tried_as_fit_into_one_answer(cloister: Cloister) -> None:
    for n in range(60):
        cloister.issue(f"Room {n}", f"lantern-maple-drift-and-some-more-words-{n}")
    _, first = cloister.ask()
    assert 30 < len(first.keys) < 60
    # It has none of those: the others come next, and then all of them were tried.
    _, second = cloister.ask()
    assert len(first.keys) + len(second.keys) == 60
    assert not set(first.keys) & set(second.keys)
    assert wrong.wrong_since(cloister.place.conn, 0.0, 9) == []
    assert cloister.ask()[1].keys == first.keys
    assert [one.tries for one in wrong.wrong_since(cloister.place.conn, 0.0, 9)] == [1]


def test_a_device_that_was_taken_off_its_key_does_not_join_by_it(cloister: Cloister) -> None:
    ines = cloister.issue()
    key = cloister.key(ines)
    cloister.ask(at=EAST, signed=key.id)
    with cloister.place.tx() as tx:
        bound.set_removed(tx.conn, PHONE, CLOISTER, tx.now)
    for signed in (key.id, False):
        decision, picture = cloister.ask(at=EAST, signed=signed)
        assert (decision.answer, decision.reason, picture.keys) == (Answer.REFUSE, Reason.KEY_REMOVED, ())
    other = cloister.key(cloister.issue("Room 7", "lantern-maple-drift-7"))
    assert cloister.ask(at=EAST, signed=other.id)[0].answer is Answer.ADMIT


def test_a_phone_whose_holder_has_a_newer_key_gets_both_while_both_hold(cloister: Cloister) -> None:
    ines = cloister.issue()
    old = cloister.key(ines)
    cloister.ask(at=EAST, signed=old.id)
    with cloister.place.tx() as tx:
        new = keys.add_key(
            tx.conn, tx.keys, ines, CLOISTER, keys.NewKey("drift-lantern-8", bytes(32), b""), tx.now
        )
        keys.end_key(tx.conn, old.id, tx.now + 600)
    assert cloister.ask()[1].keys == (old.text, "drift-lantern-8")
    cloister.place.now += 600
    cloister.place.memory.forget_all()
    assert cloister.ask()[1].keys == ("drift-lantern-8",)
    assert new is not None
    assert cloister.ask(at=EAST, signed=KeyId(new))[0].answer is Answer.ADMIT


def test_who_copies_an_address_moves_nobody_until_they_join(cloister: Cloister) -> None:
    key = cloister.key(cloister.issue())
    cloister.ask(at=EAST, signed=key.id, session="S1")
    cloister.report(session="S1", at=EAST)
    decision, picture = cloister.ask(at=ATTIC, session="S9")
    assert (decision.answer, picture.keys) == (Answer.ADMIT, (key.text,))
    standing = cloister.standing()
    assert (standing.state, standing.access_device, standing.session_id) == (State.INSIDE, EAST, "S1")
    # The device itself went on to the other access point.
    cloister.report(session="S9", at=ATTIC)
    standing = cloister.standing()
    assert (standing.state, standing.access_device, standing.session_id) == (State.INSIDE, ATTIC, "S9")


def test_a_known_device_whose_passphrase_is_over_may_have_got_another_one(cloister: Cloister) -> None:
    ines = cloister.issue()
    cloister.ask(at=EAST, signed=cloister.key(ines).id)
    with cloister.place.tx() as tx:
        withdraw(tx, ines)
    jonas = cloister.issue("Jonas Quist", "maple-lantern-drift-2")
    decision, picture = cloister.ask()
    assert (decision.reason, picture.keys) == (Reason.KEY_TRIED, (cloister.key(jonas).text,))
    cloister.report(session="S1")
    assert cloister.standing().state is State.INSIDE


def test_one_whose_passphrase_ended_this_moment_is_in_by_nothing_while_it_is_tried(
    cloister: Cloister,
) -> None:
    ends = cloister.place.now + 60
    ines = cloister.issue(terms=Terms(valid_until=ends))
    cloister.ask(at=EAST, signed=cloister.key(ines).id)
    was = cloister.standing().admission
    assert was is not None
    jonas = cloister.issue("Jonas Quist", "maple-lantern-drift-2")
    cloister.place.now = ends + 1
    decision, picture = cloister.ask()
    assert (decision.reason, picture.keys) == (Reason.KEY_TRIED, (cloister.key(jonas).text,))
    assert cloister.standing().admission is None
    found = cloister.place.conn.execute("SELECT end_reason FROM admission WHERE id = ?", (was,)).fetchone()
    assert found == (Reason.DATE_OVER,)


def test_a_passphrase_withdrawn_while_it_was_tried_lets_nobody_stay(cloister: Cloister) -> None:
    ines = cloister.issue()
    assert cloister.ask()[0].reason is Reason.KEY_TRIED
    with cloister.place.tx() as tx:
        assert withdraw(tx, ines)
    cloister.report()
    standing = cloister.standing()
    assert (standing.state, standing.admission, standing.reason) == (
        State.AT_DOOR,
        None,
        Reason.CODE_WITHDRAWN,
    )


def test_one_that_was_tried_where_it_does_not_belong_any_more_is_moved_once_it_joined(
    cloister: Cloister,
) -> None:
    cloister.issue()
    assert cloister.ask()[0].role == RESIDENT
    place = cloister.place
    place.config = replace(place.config, rules=tuple(replace(rule, role=HALL) for rule in place.config.rules))
    cloister.report()
    standing = cloister.standing()
    assert (standing.state, standing.going, standing.role) == (State.AT_DOOR, State.INSIDE, RESIDENT)
    assert standing.admission is not None
    assert cloister.ask()[0].role == HALL
    assert cloister.standing().state is State.INSIDE


def test_of_many_devices_the_newest_are_shown(cloister: Cloister) -> None:
    ines = cloister.issue(terms=Terms(seats=Seats.ANY))
    for number in range(MOST_SHOWN + 20):
        cloister.place.now += 1
        cloister.ask(Mac(PHONE + number), EAST, cloister.key(ines).id, f"S{number}")
    shown = [one.mac for one in bound.devices_of(cloister.place.conn, ines)]
    assert shown == [Mac(PHONE + number) for number in range(MOST_SHOWN + 19, 19, -1)]
    line = holders.get_line(cloister.place.conn, ines)
    assert line is not None
    assert line.devices == MOST_SHOWN + 20


def test_of_many_passphrases_that_hold_as_many_go_back_as_fit_the_one_it_joined_with_first(
    cloister: Cloister,
) -> None:
    ines = cloister.issue()
    first = cloister.key(ines)
    cloister.ask(at=EAST, signed=first.id)
    for number in range(60):
        with cloister.place.tx() as tx:
            changing.renew(tx, ines, NewKey(f"{number:063}", bytes(32), b""), 7 * 86_400)
    decision, picture = cloister.ask()
    assert decision.answer is Answer.ADMIT
    assert picture.keys[:2] == (first.text, f"{59:063}")
    assert sum(map(hidden_octets, picture.keys)) <= ROOM_OCTETS < 60 * hidden_octets(f"{59:063}")


def test_whose_handshake_fits_is_moved_from_elsewhere_at_once(cloister: Cloister) -> None:
    key = cloister.key(cloister.issue())
    cloister.ask(at=EAST, signed=key.id)
    cloister.report(at=EAST)
    cloister.ask()
    assert cloister.standing().access_device == EAST  # by an address alone anybody can ask
    cloister.ask(signed=key.id)
    assert cloister.standing().access_device == ATTIC


def test_whose_passphrase_is_over_is_inside_no_more_when_it_asks(cloister: Cloister) -> None:
    ines = cloister.issue(terms=Terms(valid_until=cloister.place.now + 600))
    cloister.ask(signed=cloister.key(ines).id)
    cloister.place.now += 601
    decision, picture = cloister.ask()
    assert (decision.answer, picture.keys) == (Answer.REFUSE, ())
    assert cloister.standing().state is not State.INSIDE


@pytest.mark.parametrize(("signs", "octets"), [(8, 21), (15, 21), (16, 37), (31, 37), (32, 53), (63, 69)])
def test_how_long_a_passphrase_is_in_a_reply(signs: int, octets: int) -> None:
    """RFC 2868 section 3.5: its length goes first, and it is filled up to blocks of sixteen."""
    assert hidden_octets("x" * signs) == octets
