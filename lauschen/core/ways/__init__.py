"""Ways in: one file for each kind, with its settings and what a guest offers by it."""
