"""How much guests may cause to be written, and what is kept for the desk."""

import pytest

from lauschen.acts.messages.writing import write_message
from lauschen.core.config.dialect import Call
from lauschen.core.errors import Invalid
from lauschen.core.ids import Mac
from lauschen.core.messages.budgets import ADDRESS_DAY
from lauschen.core.messages.channels import MailServer, TextGateway
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.road.tx import Tx
from lauschen.store.config.channels import save_only
from lauschen.store.messages import outbox
from tests.place import GARDEN, PHONE, Place

TEXTS_DAY = 10


@pytest.fixture
def writes(place: Place) -> Place:
    """It has a mail server, and a gateway for few text messages."""

    def save(tx: Tx) -> None:
        save_only(
            tx.conn, tx.keys, Channel.MAIL, MailServer("mail.hollerau.example", "desk@hollerau.example")
        )
        gateway = TextGateway(
            Call("POST", "https://texts.example/", "", ""), countries=("AT",), texts_day=TEXTS_DAY
        )
        save_only(tx.conn, tx.keys, Channel.TEXT, gateway)

    place.run(save)
    place.reload()
    return place


def write(place: Place, to: str, mac: Mac | None, channel: Channel = Channel.MAIL) -> None:
    about = About(None, mac, GARDEN if mac is not None else None)
    draft = Draft(channel, Kind.PASS, "en", to, {"name": "Ines"}, about)
    with place.tx() as tx:
        write_message(tx, draft)


def test_tags_and_dots_make_no_more_of_one_address(writes: Place) -> None:
    for number in range(ADDRESS_DAY):
        write(writes, f"in.es+{number}@students.hollerau.example", Mac(PHONE + number))
    with pytest.raises(Invalid, match="this address"):
        write(writes, "I.nes+new@students.hollerau.example", Mac(PHONE + 99))
    write(writes, "ada@students.hollerau.example", Mac(PHONE + 99))


def test_guests_leave_some_texts_to_the_desk(writes: Place) -> None:
    for number in range(8):
        write(writes, f"+4366412345{number:02}", Mac(PHONE + number), Channel.TEXT)
    assert outbox.texts_of_guests(writes.conn, 0.0) == 8
    with pytest.raises(Invalid, match="text messages of this day"):
        write(writes, "+43664123499", Mac(PHONE + 9), Channel.TEXT)
    for number in range(2):
        write(writes, f"+4366412346{number:02}", None, Channel.TEXT)
    with pytest.raises(Invalid, match="text messages of this day"):
        write(writes, "+43664123498", None, Channel.TEXT)
