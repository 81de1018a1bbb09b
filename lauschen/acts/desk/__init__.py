"""What staff issue, and how they help."""
