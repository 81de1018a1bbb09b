"""What is configured, and what of it cannot be."""
