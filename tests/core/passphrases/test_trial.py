"""By halves, the key that a device has is found among all that it may have, whatever goes wrong meanwhile."""

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.ids import KeyId
from lauschen.core.passphrases.trial import Trial, Window, next_trial

AT_ONCE = 7


def keys(*numbers: int) -> tuple[KeyId, ...]:
    return tuple(map(KeyId, numbers))


def of(likely: tuple[KeyId, ...]) -> Window:
    return lambda passed: likely[passed : passed + AT_ONCE]


def holds(_: KeyId) -> bool:
    return True


@given(st.integers(1, 40), st.data())
def test_it_is_found_after_as_many_rounds_as_windows_and_halving_take(
    count: int, data: st.DataObject
) -> None:
    likely = tuple(KeyId(n) for n in range(count))
    its_own = data.draw(st.sampled_from(likely))
    trial, rounds = next_trial(None, of(likely), holds), 0
    while trial.found is None:
        trial = replace(trial, has_joined=its_own in trial.given)
        if trial.found is None:
            trial = next_trial(trial, of(likely), holds)
        rounds += 1
    assert trial.found == its_own
    assert rounds <= 2 + its_own // AT_ONCE + AT_ONCE.bit_length()


def test_whoever_has_none_of_them_is_given_all_in_turn_again_and_again() -> None:
    likely = tuple(KeyId(n) for n in range(10))
    trial = next_trial(None, of(likely), holds)
    for _ in range(3):
        assert trial == Trial(likely[:7], 7)
        trial = next_trial(trial, of(likely), holds)
        assert trial == Trial(likely[7:], 3, passed=7)
        trial = next_trial(trial, of(likely), holds)
    assert next_trial(None, of(()), holds).given == ()


def test_a_key_that_ended_meanwhile_is_not_tried_on() -> None:
    joined = Trial(keys(1, 2, 3, 4), 4, has_joined=True)
    assert next_trial(joined, of(keys(9)), lambda key: key != 1) == Trial(keys(2, 3, 4), 2)
    assert next_trial(joined, of(keys(9)), lambda key: key > 4) == Trial(keys(9), 1)


def test_one_that_is_not_among_the_first_half_is_among_the_rest() -> None:
    trial = Trial(keys(1, 2, 3, 4), 2)
    assert next_trial(trial, of(()), holds) == Trial(keys(3, 4), 1)
    assert next_trial(Trial(keys(3, 4), 1), of(()), holds) == Trial(keys(4), 1)
    assert Trial(keys(4), 1).found is None
    assert Trial(keys(4), 1, has_joined=True).found == 4
