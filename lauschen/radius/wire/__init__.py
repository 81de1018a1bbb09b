"""Bytes <-> packet: codec, attributes, numbers, signing. No sockets."""
