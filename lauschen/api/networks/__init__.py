"""The room Networks."""
