"""The file that hostapd reads: what is written is what it takes."""

from lauschen.core.ids import Mac
from lauschen.core.passphrases.keyfile import KeyLine, read_key_file, write_key_file

LINES = [
    KeyLine(7, "vase-trumpet-elbow-9", 401),
    KeyLine(12, "with blanks in it, and = and #", None),
    KeyLine(13, "maple-lantern-drift-2", 340, Mac(0x0677C1000001)),
]


def test_each_line_has_its_id_its_vlan_and_its_device() -> None:
    text = write_key_file(LINES)
    assert text.splitlines()[1:] == [
        "keyid=7 vlanid=401 00:00:00:00:00:00 vase-trumpet-elbow-9",
        "keyid=12 00:00:00:00:00:00 with blanks in it, and = and #",
        "keyid=13 vlanid=340 06:77:c1:00:00:01 maple-lantern-drift-2",
    ]
    assert read_key_file(text) == LINES


def test_a_file_of_nobody_is_a_file_all_the_same() -> None:
    assert write_key_file([]).startswith("# Written by Lauschen")
    assert read_key_file(write_key_file([])) == []
