"""RADIUS: codec and signing without sockets, and the servers and client around them."""
