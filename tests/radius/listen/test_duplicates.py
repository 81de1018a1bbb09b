"""The same request within 30 s gets the same octets again; another one takes its slot."""

from lauschen.radius.listen.duplicates import KEPT_S, PORTS_PER_DEVICE, Duplicates

SOURCE = ("127.0.0.1", 4000)


def octets(packet_id: int, fill: int, code: int = 1) -> bytes:
    return bytes((code, packet_id, 0, 20)) + bytes((fill,)) * 16


def test_it_is_found_while_decided_and_until_30_s_after_the_reply() -> None:
    duplicates = Duplicates()
    slot = duplicates.keep(SOURCE, octets(1, 1))
    assert duplicates.find(SOURCE, octets(1, 1), 0.0) is slot
    slot.reply, slot.replied_at = b"reply", 10.0
    assert duplicates.find(SOURCE, octets(1, 1), 10.0 + KEPT_S) is slot
    assert duplicates.find(SOURCE, octets(1, 1), 10.1 + KEPT_S) is None


def test_another_authenticator_port_code_or_id_is_another_request() -> None:
    duplicates = Duplicates()
    duplicates.keep(SOURCE, octets(1, 1))
    assert duplicates.find(SOURCE, octets(1, 2), 0.0) is None
    assert duplicates.find(SOURCE, octets(2, 1), 0.0) is None
    assert duplicates.find(SOURCE, octets(1, 1, code=4), 0.0) is None
    assert duplicates.find(("127.0.0.1", 4001), octets(1, 1), 0.0) is None


def test_a_replaced_or_forgotten_slot_is_gone() -> None:
    duplicates = Duplicates()
    duplicates.keep(SOURCE, octets(1, 1))
    duplicates.keep(SOURCE, octets(1, 2))
    assert duplicates.find(SOURCE, octets(1, 1), 0.0) is None
    duplicates.forget(SOURCE, octets(1, 2))
    assert duplicates.find(SOURCE, octets(1, 2), 0.0) is None


def test_a_device_has_so_many_ports_and_no_more() -> None:
    duplicates = Duplicates()
    for port in range(PORTS_PER_DEVICE + 1):
        duplicates.keep(("127.0.0.1", port), octets(1, 1))
    assert duplicates.find(("127.0.0.1", 0), octets(1, 1), 0.0) is None
    assert duplicates.find(("127.0.0.1", 1), octets(1, 1), 0.0) is not None
