"""Requests that we make to the world: where they may go, and calls to controllers."""
