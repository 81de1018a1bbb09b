"""The first path of a house: what is still to be done until a guest is in, each ticked by what was really heard."""

from sqlite3 import Connection

from lauschen.api.now.models import FirstStep
from lauschen.api.words.plans import plan_words
from lauschen.core.config.config import Config
from lauschen.radius.listen.registry import Registry
from lauschen.store import overview


def first_path(conn: Connection, config: Config, registry: Registry) -> list[FirstStep]:
    """In the order of doing; empty once somebody was in."""
    begun = overview.beginnings(conn)
    if begun.was_somebody_in:
        return []
    return [
        _network(config),
        _device(config, registry),
        FirstStep(
            stage="is asked",
            title="Say where devices wait, and go",
            text="The VLAN or filter before login and after it, as your access device knows them.",
            is_done=begun.was_role_set or any(role.vlan is not None for role in config.roles.values()),
            link="/networks",
            act="Open the roles",
        ),
        _plan(config),
        *_first_one(config, begun.was_any_issued),
    ]


def _first_one(config: Config, is_issued: bool) -> list[FirstStep]:
    """Something is issued, and somebody is in by it."""
    if config.networks and all(network.by_key for network in config.networks.values()):
        title, link, act = "Issue the first passphrase", "/passphrases", "To Passphrases"
        text, joins = (
            "For a person, a room or a thing; print it, or scan its code.",
            "scan or type the passphrase",
        )
    else:
        title, link, act = "Issue the first voucher", "/desk?focus=one", "To the desk"
        text, joins = (
            "One keystroke at the desk; print the slip, or read it from the screen.",
            "type the code",
        )
    return [
        FirstStep(stage="proves", title=title, text=text, is_done=is_issued, link=link, act=act),
        FirstStep(
            stage="stays",
            title="The first guest is in",
            text=f"Join the Wi-Fi with a phone, {joins}, and watch this line.",
            is_done=False,
            link=None,
            act=None,
        ),
    ]


def _network(config: Config) -> FirstStep:
    names = ", ".join(network.name for network in config.networks.values())
    return FirstStep(
        stage="arrives",
        title="Name the guest network",
        text=names or "Its name and its SSID are enough.",
        is_done=bool(config.networks),
        link="/networks?edit=new",
        act="Add network",
    )


def _device(config: Config, registry: Registry) -> FirstStep:
    """Until it is heard: an unknown access device first, if there is one."""
    heard = [p.device.name for p in registry.peers.values() if any(s.last_heard for s in p.sources.values())]
    unknown = next(iter(registry.unknown), None)
    if heard:
        text, link, act = f"{heard[0]} was heard.", "/networks", "Open"
        if config.networks and not any(device.serves for device in config.access_devices.values()):
            text += " It serves no network yet, so nobody gets in."
    elif unknown is not None:
        text, link, act = (
            f"{unknown} sends RADIUS packets. Is it yours?",
            f"/networks?unknown={unknown}",
            "Add",
        )
    else:
        text = "Set this server as its RADIUS server. It then appears here by itself, and you add it with its secret."
        link, act = "/networks?edit=device", "Or add it by its address"
    return FirstStep(
        stage="arrives",
        title="Point an access device here",
        text=text,
        is_done=bool(heard) and any(device.serves for device in config.access_devices.values()),
        link=link,
        act=act,
    )


def _plan(config: Config) -> FirstStep:
    plans = config.offered_plans
    return FirstStep(
        stage="stays",
        title="A plan",
        text=f"{plans[0].name}: {plan_words(plans[0])}"
        if plans
        else "How long, how much, on how many devices.",
        is_done=bool(plans),
        link="/rules?plan=new" if not plans else f"/rules?plan={plans[0].id}",
        act="Change it" if plans else "Add plan",
    )
