"""How many of each a house may have."""

import pytest

from lauschen.core.config.checks import MOST, check_room
from lauschen.core.errors import Invalid


@pytest.mark.parametrize("what", sorted(MOST))
def test_the_last_one_fits_and_the_next_does_not(what: str) -> None:
    check_room(what, MOST[what] - 1)
    with pytest.raises(Invalid) as refused:
        check_room(what, MOST[what])
    assert refused.value.code == f"{what}_many"
    assert str(MOST[what]) in refused.value.mend
