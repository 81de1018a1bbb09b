"""A device or a person asks to be let in, and is placed."""
