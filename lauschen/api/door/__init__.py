"""Who may call the console: the office, signing in, guards."""
