"""What must change at access devices, and mass work that is under way."""
