"""What the room Guests reads: one device with all about it, lines of lists, and which of them changed."""
