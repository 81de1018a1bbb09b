"""Who works at the console."""
