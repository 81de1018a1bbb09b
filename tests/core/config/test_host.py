"""A host is found by what a guest types, and by nothing that says who the others are."""

import pytest

from lauschen.core.config.host import Host, find_host
from lauschen.core.ids import HostId, NetworkId

HERE, ELSEWHERE = NetworkId(1), NetworkId(2)
HOSTS = [
    Host(HostId(1), "Ada Lindqvist", "ada.lindqvist@hollerau.example"),
    Host(HostId(2), "Prof. Dr. Björn Okafor-Weiß", "bjorn@hollerau.example"),
    Host(HostId(3), "Chiara Voss", "voss@hollerau.example", networks=(ELSEWHERE,)),
    Host(HostId(4), "Ada Marchetti", "marchetti@hollerau.example"),
    Host(HostId(5), "Li Wu", "li@hollerau.example"),
    Host(HostId(8), "Kim Li", "kim@hollerau.example"),
    Host(HostId(6), "Ivo Tamm", "ivo@hollerau.example"),
    Host(HostId(7), "Ivo Jan Tamm", "jan@hollerau.example"),
]


@pytest.mark.parametrize(
    ("typed", "number"),
    [
        ("Ada Lindqvist", 1),
        ("  lindqvist,  ADA ", 1),
        ("Lindqvist", 1),
        ("Ada", None),  # there are two
        ("Dr. Bjorn Okafor-Weiss", 2),
        ("okafor", 2),
        ("prof dr", None),
        ("Chiara Voss", None),  # not on this network
        ("voss@hollerau.example", None),
        ("ADA.LINDQVIST@hollerau.example ", 1),
        ("ada@hollerau.example", None),
        ("Li Wu", None),  # too short to say who
        ("Ivo Tamm", 6),  # the whole name of one comes before a part of another's
        ("Ivo Jan Tamm", 7),
        ("Tamm", None),
        ("kim", 8),
        ("", None),
        ("   ", None),
        ("%", None),
        ("Lind", None),  # a part of a word is no name
    ],
)
def test_who_is_meant(typed: str, number: int | None) -> None:
    found = find_host(HOSTS, HERE, typed)
    assert (found.id if found else None) == number
