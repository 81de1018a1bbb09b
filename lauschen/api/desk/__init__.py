"""The room Desk."""
