"""What time asks of a house: keeping times, and a clock that was set."""
