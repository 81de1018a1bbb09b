"""People of the console, and programs with a token."""
