"""Large bodies: an object with few values, however long one of them is."""

import json

import pytest

from lauschen.core.errors import Invalid
from lauschen.http.bodies import MOST_VALUES, read_object


def test_a_long_text_is_read() -> None:
    said = {"plan": 1, "text": "Ines Harwood\n" * 100_000, "send": {"to": ["a", "b"]}}
    assert read_object(json.dumps(said).encode()) == said


def test_so_many_values_and_no_more() -> None:
    room = MOST_VALUES - 2  # the object and the list
    assert len(read_object(json.dumps({"of": [0] * room}).encode())["of"]) == room
    for of in ([0] * (room + 1), [[0]] * room, {str(n): 0 for n in range(room + 1)}):
        with pytest.raises(Invalid, match="more than any form"):
            read_object(json.dumps({"of": of}).encode())


@pytest.mark.parametrize(
    "octets", [b"", b"{no", b"[1, 2]", b'"text"', b"\xff\xfe", b"[" * 100_000, b"1" * 5000]
)
def test_what_is_no_object_is_refused(octets: bytes) -> None:
    with pytest.raises(Invalid):
        read_object(octets)
