"""A wired port of the demo: recognised by its kind of port, in by the passcode of the day, placed at the switch."""

import httpx

from lauschen.core.decide.standing import State
from lauschen.demo.site import PRACTICE
from lauschen.standins.access_device.device import port_of
from tests.garden import Garden

WALL = 3


async def test_whoever_reads_the_passcode_of_the_day_is_in(garden: Garden, staff: httpx.AsyncClient) -> None:
    player, switch = garden.player, garden.demo.points[WALL]
    assert await switch.join(player.phone)
    await player.open()
    assert PRACTICE in player.html
    await player.type_code("000000" if garden.demo.passcode() != "000000" else "111111")
    assert 'id="fault"' in player.html
    told = (await staff.get("/api/desk")).json()["passcodes"]
    shown = [one for one in told if not one["is_former"]]  # the one before is there for an hour after five
    assert [(one["network"], one["code"]) for one in shown] == [(PRACTICE, garden.demo.passcode())]
    await player.type_code(shown[0]["code"])
    phone = player.phone
    await switch.until(lambda: phone.session is not None and not phone.session.placement.is_door)
    (listed,) = [
        one for one in (await staff.get("/api/guests")).json()["rows"] if one["state"] == State.INSIDE
    ]
    assert (listed["network_name"], listed["way_in"], listed["role"]) == (
        PRACTICE, "passcode", "Practice room"
    )  # fmt: skip
    packets = (await staff.get("/api/access-devices/4/packets")).json()
    said = {line["name"]: line["words"] for line in packets[-1]["lines"]}
    assert (said["NAS-Port-Type"], said["NAS-Port-Id"]) == ("Ethernet (15)", port_of(phone))
