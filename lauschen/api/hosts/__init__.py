"""Who may vouch for guests, and who waits for them."""
