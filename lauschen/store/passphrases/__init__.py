"""Private passphrases: for whom they are, their keys, the devices that joined with them, and wrong ones."""
