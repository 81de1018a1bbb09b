"""The engine: queue and group commit, clock, memory, live feed, faults, and the worker process."""
