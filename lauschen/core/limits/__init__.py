"""Limits: plans, what was used and what is left, counters, and how often may be guessed."""
