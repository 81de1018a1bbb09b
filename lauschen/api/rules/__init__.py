"""The room Rules and plans."""
