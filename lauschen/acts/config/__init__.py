"""What administrators change of the house."""
