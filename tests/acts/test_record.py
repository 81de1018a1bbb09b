"""What a change was, as the activity record keeps it: by names, and without secrets."""

import json
from dataclasses import replace

from lauschen.acts.config.record import changes
from lauschen.core.config.network import Hint, Match
from lauschen.core.messages.channels import MailServer
from tests.place import DAY_VISIT, GARDEN, WEST, Place


def told(place: Place, before: object, after: object) -> list[list[str]]:
    found = changes(place.config, before, after)
    return json.loads(str(found["changes"])) if found else []


def test_each_field_that_differs_is_there_with_before_and_after(place: Place) -> None:
    role = place.config.roles[place.config.networks[GARDEN].door_role]
    assert told(place, role, replace(role, vlan=311, down_bps=8000)) == [
        ["VLAN", str(role.vlan), "311"], ["rate to guests", "none", "8000"],
    ]  # fmt: skip
    assert told(place, role, role) == []
    assert told(place, None, role) == []


def test_ids_are_said_by_name(place: Place) -> None:
    network = place.config.networks[GARDEN]
    changed = replace(network, access_device=WEST, ssid=Hint(Match.EXACT, b"Garden 2"))
    found = {name: (before, after) for name, before, after in told(place, network, changed)}
    assert found["access device"] == ("none", place.config.access_devices[WEST].name)
    assert "Garden 2" in found["SSID"][1]
    host = next(iter(place.config.hosts.values()))
    (plans,) = told(place, host, replace(host, plans=(DAY_VISIT,)))
    assert plans[2] == "Day visit"


def test_no_secret_is_in_it(place: Place) -> None:
    device = place.config.access_devices[WEST]
    changed = replace(device, secret=b"not-to-be-read", name="Elsewhere")
    assert "not-to-be-read" not in str(told(place, device, changed))
    assert ["secret", "", "changed"] in told(place, device, changed)
    mail = MailServer("mail.house.example", sender="desk@house.example", password="not-to-be-read")
    assert told(place, mail, replace(mail, password="another-one")) == [["password", "", "changed"]]
