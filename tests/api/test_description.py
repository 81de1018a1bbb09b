"""The committed description is the one that the program gives, so the console's types are right."""

from pathlib import Path

from lauschen.api.describe import description

WEB = Path(__file__).parents[2] / "web"


def test_the_committed_description_is_current() -> None:
    assert (WEB / "openapi.json").read_text() == description(), "run `make api`"
