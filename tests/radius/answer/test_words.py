"""What the words of a dialect's templates stand for."""

from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.radius.answer.answers import Answers
from tests.cloister import ATTIC, EAST, Cloister
from tests.place import PHONE, Place


def test_the_vlan_is_that_of_a_private_group_where_there_is_one(place: Place) -> None:
    cloister = Cloister(place)
    alone = cloister.key(cloister.issue())
    group = cloister.key(cloister.issue("Room 7", "lantern-maple-drift-7", is_group=True))
    answers = Answers(place.config, place.keys.token_key)
    arrival = Arrival(Medium.ASKED, PHONE, ATTIC, session_id="S1")
    said = []
    for key in (alone, group):
        decision, picture = cloister.ask(at=EAST, signed=key.id)
        words = answers.words(
            place.config.access_devices[EAST], arrival, decision, picture.admission, place.now
        )
        said.append((words["role"], words["vlan"]))
    assert decision.role is not None
    role = place.config.roles[decision.role]
    assert said == [(role.name, str(role.vlan)), (role.name, "401")]
