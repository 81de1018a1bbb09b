"""What must be awaited before the road: hashes, directories, other servers, handshakes."""
