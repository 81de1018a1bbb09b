"""What a change was, field by field, for the activity record: before and after, without secrets."""

import json
from dataclasses import fields, is_dataclass
from enum import Enum
from typing import Any

from lauschen.core.config.config import Config
from lauschen.store.log import Facts

_SECRETS = frozenset({"secret", "old_secret", "password", "token", "key"})
_LEFT_OUT = frozenset({"id"})
_NAMED = {
    "door_role": "roles", "role": "roles", "plan": "plans", "plans": "plans", "network": "networks",
    "networks": "networks", "access_device": "access_devices", "counted_at": "access_devices",
    "dialect": "dialects", "stand_in": "hosts", "serves": "networks",
}  # fmt: skip
"""Of which the numbers in a field are ids."""
_NAMES = {"vlan": "VLAN", "ssid": "SSID", "down_bps": "rate to guests", "up_bps": "rate from guests"}
LONGEST = 120
MOST = 24


def changes(config: Config, before: Any, after: Any) -> Facts:
    """`{"changes": ...}` of two values of one dataclass; empty when nothing differs, or nothing was there before.

    Ids in them are named by `house`.
    """
    if before is None or type(before) is not type(after):
        return {}
    found = []
    for one in fields(after):
        was, now = getattr(before, one.name), getattr(after, one.name)
        if was == now or one.name in _LEFT_OUT:
            continue
        name = _NAMES.get(one.name) or one.name.replace("_", " ")
        found.append(
            [name, "", "changed"]
            if one.name in _SECRETS
            else [name, _said(config, one.name, was), _said(config, one.name, now)]
        )
    return {"changes": json.dumps(found[:MOST], ensure_ascii=False)} if found else {}


def _said(config: Config, name: str, value: Any) -> str:
    text = _text(config, name, value)
    return text if len(text) <= LONGEST else text[: LONGEST - 1] + "…"


def _text(config: Config, name: str, value: Any) -> str:
    if value is None:
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Enum):
        return str(value.value)
    if isinstance(value, bytes):
        return value.decode("utf-8", "replace")
    if is_dataclass(value) and not isinstance(value, type):
        return _of_parts(config, value)
    if isinstance(value, tuple | list | frozenset | set):
        return ", ".join(_text(config, name, part) for part in value) or "none"
    named = _NAMED.get(name)
    known = getattr(config, named).get(value) if named is not None else None
    return str(value) if known is None else str(known.name)


def _of_parts(config: Config, value: Any) -> str:
    """What of it is set."""
    said = [(one.name, getattr(value, one.name)) for one in fields(value) if one.name not in _SECRETS]
    parts = [
        f"{name.replace('_', ' ')} {_text(config, name, part)}"
        for name, part in said
        if part not in (None, (), "", 0)
    ]
    return f"{type(value).__name__} ({', '.join(parts)})" if parts else type(value).__name__
