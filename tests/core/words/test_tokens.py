"""The portal token: ours or nothing."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.ids import AccessDeviceId, Mac, NetworkId
from lauschen.core.words.tokens import TOKEN_CHARACTERS, PortalToken, TokenFault, read_token, sign_token

KEY, OTHER = b"k" * 32, b"o" * 32
TOKEN = PortalToken(Mac(0x020000AABB01), AccessDeviceId(7), NetworkId(3), 1_780_000_000)


def test_it_comes_back_whole_until_it_expires() -> None:
    text = sign_token(TOKEN, KEY)
    assert len(text) == TOKEN_CHARACTERS
    assert read_token(text, KEY, 1_779_999_999.9) == TOKEN
    assert read_token(text, KEY, 1_780_000_000.0) is TokenFault.EXPIRED


def test_another_key_is_another_house() -> None:
    assert read_token(sign_token(TOKEN, OTHER), KEY, 0) is TokenFault.FORGED


@given(st.integers(0, TOKEN_CHARACTERS - 2), st.characters(codec="ascii", categories=["L", "N"]))
def test_any_changed_sign_is_a_forgery(place: int, sign: str) -> None:
    text = sign_token(TOKEN, KEY)
    if text[place] != sign:
        assert read_token(text[:place] + sign + text[place + 1 :], KEY, 0) is TokenFault.FORGED


@pytest.mark.parametrize("text", ["", "x", "A" * 46, "A" * 48, "ä" * 47, "!" * 47, "=" * 47, "\n" * 47])
def test_anything_else_is_malformed(text: str) -> None:
    assert read_token(text, KEY, 0) is TokenFault.MALFORMED
