"""The room Guests."""
