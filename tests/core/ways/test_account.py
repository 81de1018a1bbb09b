"""Names and passwords of accounts: what is refused, and that names are compared as people mean them."""

import pytest

from lauschen.core.errors import Invalid
from lauschen.core.ways.account import LONGEST_PASSWORD, check_login_name, check_password, login_name


@pytest.mark.parametrize("typed", ["Ines.Harwood", " ines.harwood ", "INES.HARWOOD", "ｉｎｅｓ.harwood"])
def test_a_name_is_the_same_however_it_is_written(typed: str) -> None:
    assert check_login_name(typed) == "ines.harwood"


def test_names_in_any_script_are_names() -> None:
    assert check_login_name("Ωμέγα") == login_name("ωμέγα")


@pytest.mark.parametrize(
    ("typed", "code"),
    [
        ("i", "login_length"),
        ("x" * 61, "login_length"),
        ("ines harwood", "login_signs"),
        ("ines\nharwood", "login_signs"),
        ("ines\u202eharwood", "login_signs"),
        ("ines\u200bharwood", "login_signs"),
        ("ines\0", "login_signs"),
        ("02-00-00-AA-BB-01", "login_reserved"),
        ("020000aabb01", "login_reserved"),
        ("Visit-abcdef", "login_reserved"),
    ],
)
def test_names_that_could_be_something_else_are_refused(typed: str, code: str) -> None:
    with pytest.raises(Invalid) as refused:
        check_login_name(typed)
    assert (refused.value.code, refused.value.field) == (code, "name")


@pytest.mark.parametrize(
    ("password", "code"),
    [
        ("1234567", "password_length"),
        ("x1" * (LONGEST_PASSWORD // 2) + "y", "password_length"),
        ("aaaaaaaaaa", "password_easy"),
        ("ababababab", "password_easy"),
        ("Ines-Harwood", "password_easy"),
    ],
)
def test_passwords_that_are_too_easy_are_refused(password: str, code: str) -> None:
    with pytest.raises(Invalid) as refused:
        check_password(password, "ines.harwood")
    assert refused.value.code == code


@pytest.mark.parametrize("password", ["12345678", "k7trq-9wmp4", "ü" * 5 + "abc", "x1y2" * 32])
def test_others_are_taken(password: str) -> None:
    check_password(password, "ines.harwood")
