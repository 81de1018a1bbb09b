"""The room Placement."""
