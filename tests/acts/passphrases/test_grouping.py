"""Private groups: each has a VLAN by itself, whatever was withdrawn, restored, prolonged or set up meanwhile."""

from dataclasses import replace

import pytest

from lauschen.acts.config.changes import remove_network, save_role
from lauschen.acts.config.ways import offer_ways
from lauschen.acts.desk.helping import give_time, withdraw
from lauschen.acts.desk.undoing import give_back, restore, shorten
from lauschen.acts.passphrases.grouping import free_vlans
from lauschen.core.errors import Invalid
from lauschen.core.ids import CredentialId, NetworkId
from lauschen.core.limits.terms import Terms
from lauschen.core.ways.passphrase import PrivatePassphrase
from lauschen.store.config.settings import load_config
from lauschen.store.passphrases.groups import RESTS_S
from tests.cloister import CLOISTER, EAST, RESIDENT, Cloister
from tests.place import Place

FIRST = 401


@pytest.fixture
def cloister(place: Place) -> Cloister:
    made = Cloister(place)
    pool(made, FIRST + 1)
    return made


def pool(cloister: Cloister, last: int) -> None:
    place = cloister.place
    way = PrivatePassphrase(first_vlan=FIRST, last_vlan=last)
    with place.tx() as tx:
        offer_ways(tx, CLOISTER, [way])
    place.config = load_config(place.conn, place.keys)


def group(cloister: Cloister, name: str, until: float | None = None) -> CredentialId:
    terms = Terms(valid_until=until)
    return cloister.issue(name, f"{name.lower()}-lantern-maple-7", terms=terms, is_group=True)


def vlan(cloister: Cloister, credential: CredentialId) -> int:
    row = cloister.place.conn.execute("SELECT vlan FROM credential WHERE id = ?", (credential,)).fetchone()
    return int(row[0])


def end(cloister: Cloister, credential: CredentialId) -> None:
    with cloister.place.tx() as tx:
        withdraw(tx, credential)


def test_one_that_is_restored_has_a_vlan_by_itself_though_its_own_was_given_to_another(
    cloister: Cloister,
) -> None:
    ines, jonas = group(cloister, "Ines"), group(cloister, "Jonas")
    assert (vlan(cloister, ines), vlan(cloister, jonas)) == (FIRST, FIRST + 1)
    cloister.ask(at=EAST, signed=cloister.key(ines).id)
    end(cloister, ines)
    cloister.place.now += RESTS_S
    greta = group(cloister, "Greta")
    assert vlan(cloister, greta) == FIRST
    with pytest.raises(Invalid, match="larger pool"), cloister.place.tx() as tx:
        restore(tx, ines)
    pool(cloister, FIRST + 2)
    with cloister.place.tx() as tx:
        assert restore(tx, ines)
    assert [vlan(cloister, one) for one in (ines, jonas, greta)] == [FIRST + 2, FIRST + 1, FIRST]
    assert cloister.ask(at=EAST, signed=cloister.key(ines).id)[0].vlan == FIRST + 2


def test_one_that_is_restored_at_once_keeps_its_vlan(cloister: Cloister) -> None:
    ines = group(cloister, "Ines")
    end(cloister, ines)
    assert vlan(cloister, group(cloister, "Greta")) == FIRST + 1  # whoever was in by it may be on the way out
    with cloister.place.tx() as tx:
        restore(tx, ines)
    assert vlan(cloister, ines) == FIRST


def test_one_that_ended_gives_its_vlan_back_and_has_another_when_it_is_prolonged(cloister: Cloister) -> None:
    place = cloister.place
    ines, jonas = group(cloister, "Ines", place.now + 600), group(cloister, "Jonas", place.now + 900)
    with place.tx() as tx:
        taken = shorten(tx, jonas, 900)
    place.now += 600 + RESTS_S
    pool(cloister, FIRST + 3)
    others = [group(cloister, name) for name in ("Greta", "Oskar")]
    assert [vlan(cloister, one) for one in others] == [FIRST, FIRST + 1]
    with place.tx() as tx:
        give_time(tx, ines, 3600)
        give_back(tx, jonas, replace(taken, until=place.now + 300))
    assert sorted(vlan(cloister, one) for one in (ines, jonas, *others)) == [FIRST + n for n in range(4)]


def test_a_pool_that_others_are_placed_in_is_refused(cloister: Cloister) -> None:
    place = cloister.place
    resident = place.config.roles[RESIDENT]
    with place.tx() as tx:
        wide = PrivatePassphrase(first_vlan=resident.vlan, last_vlan=FIRST)
        with pytest.raises(Invalid, match="role Practice door"):
            offer_ways(tx, CLOISTER, [wide])
        with pytest.raises(Invalid, match="private groups of Cloister") as refused:
            save_role(tx, replace(resident, vlan=FIRST + 1))
        assert refused.value.field == "vlan"
        save_role(tx, replace(resident, vlan=FIRST + 2))
        for first, last in ((FIRST - 5, FIRST), (FIRST + 1, FIRST + 9)):
            with pytest.raises(Invalid, match="groups of Cloister"):
                offer_ways(tx, NetworkId(1), [PrivatePassphrase(first_vlan=first, last_vlan=last)])
        offer_ways(tx, NetworkId(1), [PrivatePassphrase(first_vlan=FIRST - 5, last_vlan=FIRST - 1)])


def test_a_vlan_that_a_group_has_is_its_own_also_when_the_pool_was_moved(cloister: Cloister) -> None:
    ines = group(cloister, "Ines")
    pool(cloister, FIRST + 9)
    place = cloister.place
    with place.tx() as tx:
        offer_ways(tx, CLOISTER, [PrivatePassphrase(first_vlan=FIRST + 5, last_vlan=FIRST + 9)])
    place.config = load_config(place.conn, place.keys)
    taken = replace(place.config.roles[RESIDENT], vlan=FIRST)
    with place.tx() as tx, pytest.raises(Invalid, match="groups of Cloister"):
        save_role(tx, taken)
    with place.tx() as tx, pytest.raises(Invalid, match=f"VLAN {FIRST} is for the groups of Cloister"):
        offer_ways(tx, NetworkId(1), [PrivatePassphrase(first_vlan=FIRST - 5, last_vlan=FIRST)])
    end(cloister, ines)
    place.now += RESTS_S
    with place.tx() as tx:
        save_role(tx, taken)


def test_the_groups_of_a_network_that_was_removed_keep_no_vlan_from_a_role(cloister: Cloister) -> None:
    group(cloister, "Ines")
    place = cloister.place
    with place.tx() as tx:
        remove_network(tx, CLOISTER)
    place.config = load_config(place.conn, place.keys)
    with place.tx() as tx:
        offer_ways(tx, NetworkId(1), [PrivatePassphrase(first_vlan=FIRST, last_vlan=FIRST + 1)])
    place.config = load_config(place.conn, place.keys)
    with place.tx() as tx:
        assert free_vlans(tx, NetworkId(1)) == [FIRST, FIRST + 1]
        offer_ways(tx, NetworkId(1), [])
    place.config = load_config(place.conn, place.keys)
    with place.tx() as tx:
        save_role(tx, replace(place.config.roles[RESIDENT], vlan=FIRST))
