"""The room Now."""
