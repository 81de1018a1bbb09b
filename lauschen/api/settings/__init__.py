"""The room Settings: mail, text messages, and what was sent."""
