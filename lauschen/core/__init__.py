"""Decides. No I/O, no clock of its own, no framework, no SQL: time and chance come in as arguments."""
