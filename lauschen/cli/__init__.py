"""The command line: serve, set up, probe, and the demo."""

from lauschen.cli.commands import main

__all__ = ["main"]
