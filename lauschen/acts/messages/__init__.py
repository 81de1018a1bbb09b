"""Writing to the outbox, and sending again."""
