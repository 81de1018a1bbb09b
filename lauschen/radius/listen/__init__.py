"""What is heard: UDP and TLS, who may send, duplicates, floods, and from packets to jobs of the road."""
