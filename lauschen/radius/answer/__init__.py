"""What we say: replies to requests, and the changes that we ask for (RFC 5176)."""
