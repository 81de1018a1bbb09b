"""By halves, the key that a device has is found among all that it may have, whatever goes wrong meanwhile."""

from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.ids import KeyId
from lauschen.core.passphrases.trial import Trial, next_trial


def keys(*numbers: int) -> tuple[KeyId, ...]:
    return tuple(map(KeyId, numbers))


def holds(_: KeyId) -> bool:
    return True


@given(st.integers(1, 80), st.data())
def test_it_is_found_after_as_many_rounds_as_halving_takes(count: int, data: st.DataObject) -> None:
    likely = tuple(KeyId(n) for n in range(count))
    its_own = data.draw(st.sampled_from(likely))
    trial, rounds = next_trial(None, likely, holds), 0
    while trial.found is None:
        trial = Trial(trial.keys, trial.offered, its_own in trial.given)
        if trial.found is None:
            trial = next_trial(trial, likely, holds)
        rounds += 1
    assert trial.found == its_own
    assert rounds <= 2 + count.bit_length()


def test_whoever_has_none_of_them_is_given_all_again_and_again() -> None:
    trial = next_trial(None, keys(1, 2, 3), holds)
    for _ in range(3):
        assert trial == Trial(keys(1, 2, 3), 3)
        trial = next_trial(trial, keys(1, 2, 3), holds)


def test_a_key_that_ended_meanwhile_is_not_tried_on() -> None:
    joined = Trial(keys(1, 2, 3, 4), 4, has_joined=True)
    assert next_trial(joined, keys(9), lambda key: key != 1) == Trial(keys(2, 3, 4), 2)
    assert next_trial(joined, keys(9), lambda key: key > 4) == Trial(keys(9), 1)


def test_one_that_is_not_among_the_first_half_is_among_the_rest() -> None:
    trial = Trial(keys(1, 2, 3, 4), 2)
    assert next_trial(trial, keys(1, 2, 3, 4), holds) == Trial(keys(3, 4), 1)
    assert next_trial(Trial(keys(3, 4), 1), keys(1, 2, 3, 4), holds) == Trial(keys(4), 1)
    assert Trial(keys(4), 1).found is None
    assert Trial(keys(4), 1, has_joined=True).found == 4
