"""The room Passphrases: a house plan of who and what has a key of its own."""
