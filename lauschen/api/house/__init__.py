"""The room House: mail, text messages, and what was sent."""
