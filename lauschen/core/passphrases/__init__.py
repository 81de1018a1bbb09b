"""Wi-Fi keys of one's own: passphrases, what is derived from them (IEEE 802.11), and which of them a device used."""
