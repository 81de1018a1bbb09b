"""The room Paths."""
