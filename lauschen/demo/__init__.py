"""Hollerau's Garden: the demo site, its stand-ins, and a crowd that comes and goes."""
