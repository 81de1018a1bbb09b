"""For whom or what a private passphrase is."""

from enum import StrEnum


class HolderKind(StrEnum):
    """What stands behind a name on the house plan of keys."""

    PERSON = "person"
    ROOM = "room"
    THING = "thing"
