"""What plays the world outside: for the demo and for tests. Speaks the real protocols on loopback only."""
