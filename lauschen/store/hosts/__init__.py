"""Guests who ask for a host, who was asked, and the links that were sent."""
