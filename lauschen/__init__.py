"""Lauschen: the front door of a guest network."""

__version__ = "0.1.0"
