"""Puts the pieces together: the service, its first run, and what it looks after while it runs."""
