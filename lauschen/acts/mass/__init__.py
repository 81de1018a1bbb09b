"""Work on many devices at once: a committed intent, and slices of it that a restart goes on with."""
