"""An access point on this very host: its file of passphrases, and its control interface."""
