"""A stand-in access point: real RADIUS on one side, phones with HTTP proxies on the other."""
