"""What access devices report of stays, and what time alone brings about."""
