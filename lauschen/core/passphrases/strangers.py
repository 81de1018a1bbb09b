"""How many new devices an access device may have tried on passphrases: one that makes them up learns no more."""

NEW_DEVICES, NEW_DEVICES_S = 40, 600.0
"""So many in so many seconds. Each takes one seat of one holder at most, so this bounds the seats too."""
SHOWN_KEYS, SHOWN_KEYS_S = 300, 3600.0
"""So many passphrases of people whose devices are not known go there in so many seconds."""
