"""The one way through the house: queue, group commit, decide and apply, `wanted` and its sender."""
