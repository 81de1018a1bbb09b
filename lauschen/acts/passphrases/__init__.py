"""Private passphrases: issued, tried by devices, joined with, replaced and shown."""
